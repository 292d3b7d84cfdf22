"""Edits of laying out on thousands of random flows: what must hold after any of them."""

import os
import unittest
from random import Random

from msgspec.structs import replace

from mossy_bridge.exchange.clipboard_json import levels_text, parts_of, things_text
from mossy_bridge.exchange.reading import flow_from_bytes
from mossy_bridge.exchange.writing import flow_bytes
from mossy_bridge.model.codes import FilesInUse, InUse, next_code, next_file, next_text
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits import patterns as pattern_edits
from mossy_bridge.model.edits.duplicate import duplicate, put_in
from mossy_bridge.model.edits.order import move_levels
from mossy_bridge.model.edits.remove import remove_and_reconnect
from mossy_bridge.model.patterns import resolved
from mossy_bridge.plan.laying import Part, moved
from mossy_bridge.play.destinations import Destinations, Landing
from mossy_bridge.play.edit_impact import consequences
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import State
from tests.support.random_flows import random_flow

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120")) // 2


class RandomEdits(unittest.TestCase):
    def flows(self, count=EXAMPLES):
        for seed in range(count):
            with self.subTest(seed=seed):
                yield random_flow(seed), Random(seed)

    def reads_back(self, flow):
        self.assertTrue(flow_from_bytes(flow_bytes(flow)) == flow)

    def names(self, flow):
        return [level.id for level in flow.levels]

    def test_copies_stand_behind_and_change_nothing_else(self):
        for flow, pick in self.flows():
            chosen = pick.sample(self.names(flow), pick.randint(1, len(flow.levels)))
            after, made = duplicate(flow, chosen)
            self.assertEqual(len(made), len(chosen))
            self.assertEqual([name for name in self.names(after) if name not in made], self.names(flow))
            for level in flow.levels:
                self.assertTrue(after.level(level.id) is level or after.level(level.id) == level)
            last = max(self.names(after).index(name) for name in chosen)
            self.assertEqual(self.names(after)[last + 1 : last + 1 + len(made)], list(made))
            self.reads_back(after)

    def test_moving_keeps_every_level_and_the_order_of_the_others(self):
        for flow, pick in self.flows():
            names = self.names(flow)
            chosen = pick.sample(names, pick.randint(1, len(names)))
            before = pick.choice([*names, ""])
            after = self.names(move_levels(flow, chosen, before))
            self.assertEqual(sorted(after), sorted(names))
            for group in (set(chosen), set(names) - set(chosen)):
                self.assertEqual([n for n in after if n in group], [n for n in names if n in group])

    def test_patterns_change_nothing_until_they_are_changed(self):
        for flow, pick in self.flows():
            name = pick.choice(self.names(flow))
            whole = resolved(flow)
            patterned, pattern = pattern_edits.make_pattern(flow, name, "Model")
            self.assertEqual(_bare(resolved(patterned).level(name)), _bare(whole.level(name)))
            self.reads_back(patterned)
            again = pattern_edits.remove_pattern(patterned, pattern)
            self.assertEqual(_bare(again.level(name)), _bare(whole.level(name)))

    def test_basing_on_a_pattern_keeps_what_a_level_sets(self):
        for flow, pick in self.flows(EXAMPLES // 2):
            one, other = pick.sample(self.names(flow), 2)
            patterned, pattern = pattern_edits.make_pattern(flow, one, "Model")
            based = pattern_edits.base_on(patterned, [other], pattern)
            level = edits.whole(based, other)
            own = {exit_.id: exit_ for exit_ in flow.level(other).exits}
            self.assertTrue(all(level.exit(name) == exit_ for name, exit_ in own.items()))
            self.reads_back(based)

    def test_what_is_left_out_by_reconnecting_is_led_into_by_nobody(self):
        for flow, pick in self.flows():
            name = pick.choice(self.names(flow))
            after = remove_and_reconnect(flow, [name])
            self.assertNotIn(name, self.names(after))
            ways = [e.to for e in flow.level(name).exits if e.to and e.to.kind == "level" and e.trigger.kind != "fail"]
            further = {to.level for to in ways} - {name, "nowhere"}
            for level in after.levels:
                led = [to.level for e in level.exits for to in e.destinations if to.kind == "level"]
                if further - {level.id}:
                    self.assertNotIn(name, led)
                before = [to for e in flow.level(level.id).exits for to in e.destinations if to.level == level.id]
                itself = [to for e in level.exits for to in e.destinations if to.level == level.id]
                self.assertLessEqual(len(itself), len(before))

    def test_levels_and_things_go_through_the_clipboard(self):
        for flow, pick in self.flows(EXAMPLES // 2):
            chosen = pick.sample(self.names(flow), 2)
            parts = parts_of(levels_text(flow, chosen))
            self.assertEqual(list(parts.levels), [level for level in flow.levels if level.id in chosen])
            self.reads_back(put_in(flow, parts.levels, self.names(flow)[0])[0])
            level = flow.level(chosen[0])
            named = [Part("exits", exit_.id) for exit_ in level.exits] + [Part("deeds", d.id) for d in level.deeds]
            things = parts_of(things_text(flow, level, named))
            self.assertEqual((things.exits, things.deeds), (level.exits, level.deeds))
            there = moved(flow, level.id, named, 3, -2)
            self.assertEqual(moved(there, level.id, named, -3, 2).level(level.id).exits, level.exits)


def _bare(level):
    return replace(level, pattern="", set_here=frozenset())


class RandomConsequences(unittest.TestCase):
    def test_what_is_told_of_next_and_previous_is_what_happens(self):
        for seed in range(EXAMPLES):
            flow, pick = random_flow(seed), Random(seed)
            names = [level.id for level in flow.levels]
            if pick.random() < 0.5:
                after = move_levels(flow, [pick.choice(names)], pick.choice(names))
            else:
                after = edits.set_level(flow, pick.choice(names), ships=pick.random() < 0.5, kind="play")
            told = {one.at for one in consequences(flow, after) if one.what in ("nowhere", "elsewhere")}
            for level in flow.levels:
                for exit_ in level.exits:
                    place = f"{level.id}.{exit_.id}"
                    if level.kind == "play" and exit_.to and exit_.to.kind in ("level", "next", "previous"):
                        was, now = _leads(flow, level, exit_), _leads(after, level, exit_)
                        if None not in (was, now):
                            with self.subTest(seed=seed, place=place):
                                self.assertEqual(place in told, was != now)


def _leads(flow, level, exit_):
    """The level an exit leads to; "" for nowhere; None where it depends on what was played before."""
    if any(to.kind not in ("level", "next", "previous") for to in exit_.destinations):
        return None
    facts = tuple(fact.first for fact in flow.facts)
    nothing = frozenset()
    state = State(level.id, "", facts, nothing, nothing, nothing, "", None, False)
    found = Destinations(Rules(flow).flow, resuming=False).target(exit_.to, state)
    return found.level if isinstance(found, Landing) else ""


class RandomNames(unittest.TestCase):
    def test_codes_names_and_files_are_always_free(self):
        pick = Random(7)
        for _ in range(2000):
            code = pick.choice(["", "1", "1-2", "A", "09", "2-3b", "x-9z", "W-1"])
            taken = [
                pick.choice(["1-3", "1-2b", "2", "10", "2-4", "2-3c", "A2", "W-2"]) for _ in range(pick.randint(0, 6))
            ]
            new = next_code(code, InUse(taken))
            self.assertEqual(bool(new), bool(code))
            self.assertNotIn(new.casefold(), {text.casefold() for text in taken if text})
            text = pick.choice(["", "Quay", "Level 1", "Level 09", "Gate 2b", "9"])
            names = [pick.choice(["Quay 2", "Level 2", "Level 3", "level 4", "Gate 3", "10"]) for _ in range(4)]
            name = next_text(text, code, new, InUse(names))
            self.assertEqual(bool(name), bool(text))
            self.assertNotIn(name.casefold() or None, {other.casefold() for other in names})
            files = FilesInUse(f"maps/{other}.map" for other in names)
            file = next_file(f"maps/{text}.map" if text else "", code, new, files)
            self.assertNotIn(file or None, [f"maps/{other}.map" for other in names])


if __name__ == "__main__":
    unittest.main()
