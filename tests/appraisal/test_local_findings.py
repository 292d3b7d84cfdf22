"""After an edit local checks look at the changed levels only, and find what they would find anew."""

import unittest
from random import Random

from msgspec.structs import replace

from mossy_bridge.appraisal.appraise import appraise
from mossy_bridge.checks.local_findings import LocalFindings
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits import order as ordering
from mossy_bridge.model.flow import Walker
from mossy_bridge.reach.survey.budget import Budget
from tests.support.faulty_flows import faulty_flow


def told(appraisal):
    return [
        (one.check, one.severity, one.at, one.message, one.repair and one.repair.label) for one in appraisal.findings
    ]


def edited(flow, pick):
    """One edit that local checks may find something of."""
    level = pick.choice(flow.levels)
    kind = pick.randrange(6)
    if kind == 0 and level.exits:
        area = tuple(float(pick.randrange(40)) for _ in range(4))
        return edits.set_exit(flow, level.id, pick.choice(level.exits).id, area=area)
    if kind == 1 and level.spawns:
        place = {"x": float(pick.randrange(60)), "y": float(pick.randrange(20))}
        return edits.change_thing(flow, level.id, "spawns", pick.choice(level.spawns).id, lambda s: replace(s, **place))
    if kind == 2:
        return ordering.move_levels(flow, [level.id], pick.choice(flow.levels).id)
    if kind == 3 and len(flow.levels) > 2:
        return edits.remove_levels(flow, [level.id])
    if kind == 4:
        return replace(flow, walker=Walker(view=pick.choice(["side", "top"]), speed=pick.choice([3.0, 9.0, 300.0])))
    return edits.set_level(flow, level.id, name=f"Level {pick.randrange(99)}")


class Local(unittest.TestCase):
    def test_as_if_found_anew(self):
        for seed in range(25):
            pick, flow = Random(seed), faulty_flow(seed)
            kept = appraise(flow, budget=Budget(30.0))
            for _ in range(6):
                flow = edited(flow, pick)
                kept = appraise(flow, budget=Budget(30.0), before=kept)
                with self.subTest(seed=seed):
                    self.assertEqual(told(kept), told(appraise(flow, budget=Budget(30.0))))

    def test_only_changed_levels_are_looked_at(self):
        flow = faulty_flow(1)
        first = LocalFindings(flow)
        looked = []

        def look(levels):
            looked.append([level.id for level in levels])
            return ()

        first.of("some", look)
        after = edits.set_level(flow, "l1", name="Quay")
        LocalFindings(after, first).of("some", look)
        LocalFindings(replace(after, walker=Walker(speed=1.0)), first).of("some", look)
        everyone = [level.id for level in flow.levels]
        self.assertEqual(looked, [everyone, ["l1"], everyone])


if __name__ == "__main__":
    unittest.main()
