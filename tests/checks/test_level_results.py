"""After an edit checks look only at the levels it touches, and find what they would find anew."""

import unittest
from random import Random

from msgspec.structs import replace

from mossy_bridge.appraisal.appraise import appraise
from mossy_bridge.checks.level_links import LevelLinks
from mossy_bridge.checks.level_results import LevelResults
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits import order as ordering
from mossy_bridge.model.flow import Destination, Walker
from mossy_bridge.reach.survey.budget import Budget
from tests.support import build
from tests.support.build import play_level, screen, way
from tests.support.faulty_flows import faulty_flow


def told(appraisal):
    return [
        (one.check, one.severity, one.at, one.message, one.repair and one.repair.label) for one in appraisal.findings
    ]


def led(flow, pick):
    """Somewhere that an exit may lead."""
    kind = pick.choice(["level", "level", "level", "next", "previous", "back", "end"])
    if kind == "end":
        return Destination(kind="end", ending=pick.choice(["lit", "lost"]))
    if kind != "level":
        return Destination(kind=kind)
    target = pick.choice(flow.levels)
    spawns = ["", "nowhere", *(spawn.id for spawn in target.spawns)]
    return Destination(kind="level", level=pick.choice([target.id, "gone"]), spawn=pick.choice(spawns))


def edited(flow, pick):
    """One edit that checks may find something of."""
    level = pick.choice(flow.levels)
    other = pick.choice(flow.levels).id
    condition = pick.choice(["always", "never", f"seen {other}", "done gone", "has key", "has rope", "at least 2 oil"])
    kind = pick.randrange(15)
    if kind < 4 and level.exits:
        exit_ = pick.choice(level.exits)
        area = tuple(float(pick.randrange(40)) for _ in range(4))
        values = ({"area": area}, {"to": led(flow, pick)}, {"opens": condition}, {"completes": not exit_.completes})
        return edits.set_exit(flow, level.id, exit_.id, **values[kind])
    if kind == 4 and level.spawns:
        place = {"x": float(pick.randrange(60)), "y": float(pick.randrange(20))}
        return edits.change_thing(flow, level.id, "spawns", pick.choice(level.spawns).id, lambda s: replace(s, **place))
    if kind == 5:
        return ordering.move_levels(flow, [level.id], other)
    if kind == 6 and len(flow.levels) > 2:
        return edits.remove_levels(flow, [level.id])
    if kind == 7:
        return replace(flow, walker=Walker(view=pick.choice(["side", "top"]), speed=pick.choice([3.0, 9.0, 300.0])))
    if kind == 8:
        twin = replace(level, id=f"{level.id}_{pick.randrange(10**6)}", name=f"{level.name} {pick.randrange(9)}")
        return edits.insert_level(flow, twin, other)
    if kind == 9 and level.spawns:
        return edits.remove_thing(flow, level.id, "spawns", pick.choice(level.spawns).id)
    values = (
        {"name": f"Level {pick.randrange(99)}"}, {"ships": not level.ships}, {"opens": condition},
        {"code": pick.choice(["1-1", "1-3", "2-2b", ""])}, {"on_arrival": (f"gain {pick.choice(['rope', 'claper'])}",)},
    )  # fmt: skip
    return edits.set_level(flow, level.id, **pick.choice(values))


class Results(unittest.TestCase):
    def test_as_if_found_anew(self):
        for seed in range(25):
            pick, flow = Random(seed), faulty_flow(seed)
            kept = appraise(flow, budget=Budget(30.0))
            for _ in range(6):
                flow = edited(flow, pick)
                kept = appraise(flow, budget=Budget(30.0), before=kept)
                with self.subTest(seed=seed):
                    self.assertEqual(told(kept), told(appraise(flow, budget=Budget(30.0))))

    def test_links_are_as_if_begun_anew(self):
        for seed in range(10):
            pick, flow = Random(seed), faulty_flow(seed)
            links = LevelLinks(flow)
            for _ in range(20):
                flow = edited(flow, pick)
                links, anew = LevelLinks(flow, links), LevelLinks(flow)
                for name in (*(level.id for level in flow.levels), "gone"):
                    self.assertEqual(set(links.naming(name)), set(anew.naming(name)))
                    self.assertEqual(links.beside([name]), anew.beside([name]))

    def looked_at(self, scope, after, before, again=False):
        """The levels looked at in a flow, of which the first time ``l2`` had something to say."""
        looked = []

        def look(levels):
            looked.extend(level.id for level in levels)
            return [("l2", "odd")] if "l2" in looked else []

        first = LevelResults(before)
        first.of("some", look, scope, again)
        looked.clear()
        kept = LevelResults(after, first)
        self.assertEqual(kept.of("some", look, scope, again), {"l2": ["odd"]})
        self.assertIs(kept.of("some", look, scope, again), kept.of("some", look, scope, again))
        return looked

    def test_only_what_an_edit_touches_is_looked_at(self):
        line = [play_level(f"l{number}", way("on", f"l{number + 1}")) for number in range(6)]
        flow = build.flow(*line, play_level("l6", way("on", "won")), screen("menu", way("on", "l0")))
        everyone = [level.id for level in flow.levels]
        renamed = edits.set_level(flow, "l4", name="Quay")
        walker = replace(flow, walker=Walker(speed=1.0))
        longer, _ = edits.add_level(flow, "Quay", after="l4")
        for scope, again, after, looked in (
            ("level", False, renamed, ["l4"]),
            ("level", False, walker, everyone),
            ("level", False, replace(flow, title="Marsh"), []),
            ("beside", False, replace(flow, title="Marsh"), everyone),
            ("beside", False, renamed, ["l3", "l4", "l5"]),
            ("beside", True, renamed, ["l2", "l3", "l4", "l5", "menu"]),
            ("beside", False, longer, ["l4", longer.levels[5].id, "l5"]),
            ("beside", False, edits.remove_levels(flow, ["l5"]), ["l4", "l6"]),
            ("beside", False, ordering.move_levels(flow, ["l5"], "l1"), [*everyone[:1], "l5", *everyone[1:5], "l6", "menu"]),
        ):  # fmt: skip
            with self.subTest(scope=scope, again=again, looked=looked):
                self.assertEqual(self.looked_at(scope, after, flow, again), looked)


if __name__ == "__main__":
    unittest.main()
