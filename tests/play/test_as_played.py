"""What play reads of levels: two that surely play alike do, and the words of a flow make no difference."""

import random
import unittest

from msgspec.structs import replace

from mossy_bridge.model.edits.levels import set_exit, set_level
from mossy_bridge.model.flow import Plan
from mossy_bridge.play.as_played import surely_play_alike
from mossy_bridge.play.rules import Rules
from tests.support.build import flow, play_level, way
from tests.support.random_flows import random_flow

STATES = 200


def states(rules):
    """Some of the states that are reached, with their moves."""
    start = rules.begin()
    found, waiting = {}, [start] if start else []
    while waiting and len(found) < STATES:
        state = waiting.pop()
        if state not in found and hasattr(state, "place"):
            found[state] = list(rules.moves(state))
            waiting += [after for _, after in found[state]]
    return found


def changed(flow_, draw):
    """The flow with something of one level or the whole changed."""
    level = draw.choice(flow_.levels)
    other = draw.choice(flow_.levels)
    edits = [
        lambda: set_level(flow_, level.id, name="Another", notes="wet", minutes=3),
        lambda: set_level(flow_, level.id, plan=Plan(width=20, height=9)),
        lambda: set_level(flow_, level.id, opens=other.opens),
        lambda: set_level(flow_, level.id, ships=not level.ships),
        lambda: set_level(flow_, level.id, deeds=other.deeds),
        lambda: set_level(flow_, level.id, spawns=tuple(replace(spawn, x=spawn.x + 3) for spawn in level.spawns)),
        lambda: replace(flow_, saving=draw.choice(("deeds", "arrival", "never"))),
        lambda: replace(flow_, levels=flow_.levels[::-1]),
    ]
    if level.exits:
        exit_ = draw.choice(level.exits)
        edits += [
            lambda: set_exit(flow_, level.id, exit_.id, name="Gate", area=(1, 1, 2, 2)),
            lambda: set_exit(flow_, level.id, exit_.id, opens=other.opens),
            lambda: set_exit(flow_, level.id, exit_.id, trigger=replace(exit_.trigger, by=())),
        ]
    return draw.choice(edits)()


class AsPlayed(unittest.TestCase):
    def test_those_said_to_play_alike_have_the_same_moves_in_the_same_states(self):
        alike = 0
        for seed in range(400):
            flow_ = random_flow(seed)
            if flow_.levels:
                after = changed(flow_, random.Random(seed))
                if surely_play_alike(flow_, after):
                    alike += 1
                    self.assertEqual(states(Rules(flow_, resuming=True)), states(Rules(after, resuming=True)), seed)
        self.assertGreater(alike, 60)
        self.assertLess(alike, 340)

    def test_a_door_that_is_moved_matters_only_if_an_arrival_can_set_it_off(self):
        for armed in (False, True):
            door = way("x", "b", trigger={"kind": "touch", "armed_on_arrival": armed}, area=[1, 1, 2, 2])
            f = flow(play_level("a", door), play_level("b"))
            self.assertEqual(surely_play_alike(f, set_exit(f, "a", "x", area=(5, 5, 2, 2))), not armed)

    def test_levels_in_another_order_may_play_otherwise(self):
        f = flow(play_level("a"), play_level("b"))
        self.assertFalse(surely_play_alike(f, replace(f, levels=f.levels[::-1])))


if __name__ == "__main__":
    unittest.main()
