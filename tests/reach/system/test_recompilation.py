"""What is compiled after an edit is what would be compiled without having known the flow before it."""

import random
import unittest

from msgspec.structs import replace

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.system.program_graph import ProgramGraph
from mossy_bridge.reach.system.recompilation import touched
from tests.support.build import deed, flow, play_level, screen, way
from tests.support.random_flows import random_flow


def never():
    return False


def compiled(flow_, before=None):
    program = ProgramGraph(Rules(flow_, before=before.rules if before else None), before=before)
    program.compile_all(never)
    return program


def edits(flow_, pick):
    """The flow after one of the edits that are made all the time."""
    at = pick.randrange(len(flow_.levels))
    level, other = flow_.levels[at], pick.choice(flow_.levels)
    kinds = [
        replace(level, opens=other.opens),
        replace(level, on_arrival=other.on_arrival),
        replace(level, ships=not level.ships),
    ]
    if level.exits:
        exit_ = level.exits[0]
        kinds += [
            replace(level, exits=(replace(exit_, **fields), *level.exits[1:]))
            for fields in ({"opens": "has f0"}, {"completes": not exit_.completes}, {"fresh": not exit_.fresh})
        ]
        kinds += [
            replace(level, exits=level.exits[1:]),
            replace(level, exits=(*level.exits, replace(exit_, id="more"))),
        ]
    if level.deeds:
        kinds += [replace(level, deeds=level.deeds[1:])]
        kinds += [replace(level, deeds=(replace(level.deeds[0], repeats="visit"), *level.deeds[1:]))]
    if level.spawns:
        kinds += [replace(level, spawns=level.spawns[1:])]
    changed = pick.choice(kinds)
    return replace(flow_, levels=(*flow_.levels[:at], changed, *flow_.levels[at + 1 :]))


class Reusing(unittest.TestCase):
    def same(self, one, other, what=""):
        self.assertEqual(one.locations, other.locations, what)
        self.assertEqual(one.first_transition, other.first_transition, what)
        self.assertEqual(one.transitions, other.transitions, what)
        self.assertEqual(one.start, other.start, what)
        self.same_columns(one, other, what)

    def same_columns(self, one, other, what):
        mine, theirs = one.columns, other.columns
        for name in ("location", "target", "kind", "thing", "forced", "plain"):
            self.assertEqual(getattr(mine, name).tolist(), getattr(theirs, name).tolist(), (name, what))
        self.assertEqual([mine.guards[at] for at in mine.guard], [row.guard for row in other.transitions], what)
        self.assertEqual([mine.updates[at] for at in mine.update], [row.update for row in other.transitions], what)

    def test_places_that_are_gone(self):
        """Where one respawned, or the zone one was in, no longer exists; nor what one came from."""
        again, back = way("again", {"kind": "again"}), way("back", {"kind": "back"})
        spawns = [{"id": "p"}, {"id": "q"}, {"id": "r", "zone": "loft"}]
        zones, paths = [{"id": "hall"}, {"id": "loft"}, {"id": "attic"}], [{"from": "loft", "to": "attic"}]
        before = flow(
            screen("menu", way("one", "a", "p"), way("two", "a", "q"), way("three", "a", "r")),
            play_level("a", again, way("out", "over"), zones=zones, paths=paths, spawns=spawns),
            screen("over", back, way("on", "won")),
        )
        level = before.level("a")
        for changed in (
            replace(level, spawns=level.spawns[::2]),
            replace(level, spawns=level.spawns[:2], zones=level.zones[:1]),
            replace(level, zones=level.zones[:2]),
            replace(level, paths=()),
            replace(level, zones=()),
        ):
            after = replace(before, levels=(before.levels[0], changed, before.levels[2]))
            self.same(compiled(after, compiled(before)), compiled(after))
            self.same(compiled(before, compiled(after)), compiled(before))

    def test_levels_that_an_edit_has_made_reachable_are_known_to_the_next_edit(self):
        one = flow(
            play_level("a", way("on", "b")), play_level("b", way("out", "won")), play_level("c", way("on", "won"))
        )
        two = replace(one, levels=(one.levels[0], replace(one.level("b"), exits=one.level("c").exits), one.levels[2]))
        onward = replace(one.level("b").exits[0], to=replace(one.level("a").exits[0].to, level="c"))
        three = replace(two, levels=(two.levels[0], replace(two.level("b"), exits=(onward,)), two.levels[2]))
        four = replace(three, levels=(replace(three.levels[0], opens="never"), *three.levels[1:]))
        program = compiled(one)
        for flow_ in (two, three, four):
            program = compiled(flow_, program)
        self.same(program, compiled(four))

    def test_random_edits(self):
        pick = random.Random(3)
        used_again = 0
        for seed in range(400):
            flow_ = random_flow(seed)
            program = compiled(flow_)
            for _ in range(3):
                flow_ = edits(flow_, pick)
                changed, restarts = compiled(flow_, program), compiled(flow_)
                self.same(changed, restarts, seed)
                vector = pick.getrandbits(restarts.layout.width * 64 - restarts.layout.spare)
                for location in range(len(restarts.locations)):
                    self.assertEqual(
                        list(changed.moves(location, vector)), list(restarts.moves(location, vector)), seed
                    )
                used_again += sum(
                    transition is old for transition, old in zip(changed.transitions, program.transitions, strict=False)
                )
                program = changed
        self.assertGreater(used_again, 2_000)

    def test_only_what_an_edit_can_touch_is_compiled_again(self):
        levels = [play_level(f"l{i}", way("on", f"l{i + 1}"), way("off", f"l{i - 1}")) for i in range(1, 9)]
        one = flow(play_level("l0", way("on", "l1")), *levels, play_level("l9", way("out", "won")), facts=("f",))
        program = compiled(one)

        def after(place, **fields):
            changed = replace(one, levels=tuple(replace(lv, **fields) if lv.id == place else lv for lv in one.levels))
            rules = Rules(changed, before=program.rules)
            same_bits = ProgramGraph(rules).cone == program.cone
            return touched(rules, program.rules) if same_bits else None

        self.assertEqual(after("l4", name="Bell Sands"), {"l4"})
        self.assertEqual(after("l4", exits=one.level("l4").exits[:1]), {"l4"})
        self.assertEqual(after("l4", opens="never"), {"l3", "l4", "l5"})
        self.assertIsNone(after("l4", ships=False), "the sequence is another")
        self.assertIsNone(after("l4", opens="has f"), "one more fact is kept")

    def test_guards_that_nothing_has_any_more_are_not_kept_for_ever(self):
        pick = random.Random(5)
        facts = [f"f{i}" for i in range(6)]
        asking = [play_level(f"l{i}", way("on", f"l{i + 1}", opens=f"has f{i}")) for i in range(6)]
        program = compiled(flow(*asking, play_level("l6", way("out", "won")), facts=facts))
        for _ in range(60):
            one = program.rules.flow
            asked = " and ".join(f"has {name}" for name in pick.sample(facts, 3))
            first = replace(one.levels[0], exits=(replace(one.levels[0].exits[0], opens=asked),))
            program = compiled(replace(one, levels=(first, *one.levels[1:])), program)
        self.assertLessEqual(len(program.columns.guards), len(program.transitions) + 1)

    def test_a_deed_done_once_a_visit_is_forgotten_at_every_arrival(self):
        bell = deed("bell", "add 1 n", repeats="run")
        n = {"id": "n", "kind": "count", "high": 3}
        one = flow(screen("title", way("go", "a")), play_level("a", way("x", "b", opens="at least 2 n"), deeds=[bell]),
                   play_level("b", way("y", "a"), way("z", "won")), facts=(n,))  # fmt: skip
        a = one.level("a")
        changed = replace(a, deeds=(replace(a.deeds[0], repeats="visit"),))
        two = replace(one, levels=tuple(changed if level.id == "a" else level for level in one.levels))
        self.same(compiled(two, compiled(one)), compiled(two))


if __name__ == "__main__":
    unittest.main()
