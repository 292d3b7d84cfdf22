"""The live walk: jumps and walls, doors walked into and pressed, and the same keys leading the same way."""

import unittest

from msgspec.structs import replace

from mossy_bridge.model.flow import Walker
from mossy_bridge.plan.boxes import Box
from mossy_bridge.plan.walker import Body, Keys, moved
from mossy_bridge.play.live import placed, played, step
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended
from tests.support.build import deed, flow, play_level, way

ROOM = Box(0, 40, 0, 20)
FLOOR = Box(0, 40, 0, 2)
RIGHT, LEFT, JUMP, ACT, STILL = Keys(right=True), Keys(left=True), Keys(jump=True), Keys(act=True), Keys()


def walked(body, keys, ticks, stones=(FLOOR,), walker=None):
    """The body after some ticks, and all its heights."""
    heights = []
    for _ in range(ticks):
        body = moved(body, keys, walker or Walker(), ROOM, stones)
        heights.append(body.height)
    return body, heights


class Walking(unittest.TestCase):
    def test_a_second_of_walking_is_the_walkers_speed(self):
        body, heights = walked(Body(5, 2, stands=True), RIGHT, 60)
        self.assertAlmostEqual(body.x, 5 + 6, delta=0.01)
        self.assertEqual(set(heights), {2})

    def test_a_jump_reaches_its_height_and_comes_down(self):
        body, _ = walked(Body(5, 2, stands=True), JUMP, 1)
        body, heights = walked(body, STILL, 80)
        self.assertGreaterEqual(max(heights) - 2, 3.0)  # a ledge of just that height can be jumped onto
        self.assertLess(max(heights) - 2, 3.005)
        self.assertEqual((body.height, body.stands), (2, True))

    def test_solids_stop_at_sides_from_below_and_above(self):
        wall, ceiling = Box(10, 12, 0, 20), Box(4, 6, 4.2, 5)
        body, _ = walked(Body(8, 2, stands=True), RIGHT, 120, (FLOOR, wall))
        self.assertAlmostEqual(body.x, 10 - 0.4)
        body, heights = walked(
            walked(Body(5, 2, stands=True), JUMP, 1, (FLOOR, ceiling))[0], STILL, 60, (FLOOR, ceiling)
        )
        self.assertAlmostEqual(max(heights), 4.2 - 1.6)
        body, _ = walked(Body(5, 9), STILL, 120, (FLOOR, ceiling))
        self.assertEqual(body.height, 5)
        body, _ = walked(Body(1, 2, stands=True), LEFT, 120)
        self.assertAlmostEqual(body.x, 0.4)

    def test_from_above_one_goes_where_one_steers(self):
        walker = Walker(view="top")
        body, _ = walked(Body(5, 5), Keys(up=True, right=True), 60, (), walker)
        self.assertAlmostEqual(body.x, 11, delta=0.01)
        self.assertAlmostEqual(body.height, 11, delta=0.01)
        body, _ = walked(Body(5, 5), Keys(down=True), 120, (), walker)
        self.assertEqual(body.height, 0)


def door(name, x, to, **fields):
    kind = fields.pop("kind", "touch")
    return way(name, to, area=[x, 7, 2, 3], trigger={"kind": kind}, **fields)


def level(name, *exits, **fields):
    """A level 40 wide with a floor, entered at its left."""
    plan = fields.pop("plan", {"width": 40, "height": 12, "solids": [[0, 10, 40, 2]]})
    made = play_level(name, *exits, plan=plan, **fields)
    return {**made, "spawns": [{"id": "p", "x": 4, "y": 10}]}


def line(**fields):
    return flow(
        level("a", door("east", 20, "b", transition="fade"), deeds=[deed("fill", "gain oil", x=10, y=9)]),
        level("b", door("hatch", 12, "c", kind="press", opens="has oil"), door("back", 0, "a")),
        level("c", door("lamp", 8, "won"), **fields),
        facts=("oil",), transitions=[{"id": "fade", "steps": [{"do": "load", "lasts": 0.5}]}],
    )  # fmt: skip


INPUT = ((70, RIGHT), (1, ACT), (105, RIGHT), (30, STILL), (95, RIGHT), (1, ACT), (60, RIGHT))
"""To the oil and take it, into the east gate, the transition, to the hatch and press it, into the lamp's door."""


class Levels(unittest.TestCase):
    def begin(self, flow_=None):
        rules = Rules(flow_ or line(), resuming=True)
        return placed(rules, rules.begin())

    def test_recorded_keys_lead_through_three_levels_each_time_alike(self):
        end = played(self.begin(), INPUT)
        self.assertEqual(
            [str(move) for move in end.moves], ["deed a.fill", "exit a.east", "exit b.hatch", "exit c.lamp"]
        )
        self.assertEqual(end.state, Ended("won"))
        again = played(self.begin(), INPUT)
        self.assertEqual((again.moves, again.body), (end.moves, end.body))

    def test_a_transition_takes_its_time_and_lands_at_the_spawn_point(self):
        live = self.begin()
        while not live.moves:
            live = step(live, RIGHT)
        self.assertEqual((live.state.place, live.crossing.id), ("b", "east"))
        ticks = 0
        while live.waits:
            live, ticks = step(live, RIGHT), ticks + 1
        self.assertAlmostEqual(ticks / 60, 0.5, delta=0.02)
        self.assertEqual(live.body.x, 4)

    def test_a_closed_door_is_walked_past_and_a_far_deed_not_done(self):
        live = played(self.begin(), ((1, ACT), (175, RIGHT), (30, STILL), (95, RIGHT), (1, ACT)))
        self.assertEqual([str(move) for move in live.moves], ["exit a.east"])
        self.assertEqual(live.state.place, "b")

    def test_a_door_one_arrives_in_is_set_off_only_by_walking_in_again(self):
        f = flow(level("a", door("here", 3, "b", kind="touch")), level("b"))
        exits = f.levels[0].exits
        unarmed = replace(exits[0], trigger=replace(exits[0].trigger, armed_on_arrival=False))
        f = replace(f, levels=(replace(f.levels[0], exits=(unarmed,)), f.levels[1]))
        live = played(self.begin(f), ((10, STILL),))
        self.assertEqual(live.moves, ())
        self.assertEqual(played(live, ((60, RIGHT), (60, LEFT))).state.place, "b")

    def test_who_falls_out_of_the_plan_is_put_back(self):
        f = line(plan={"width": 40, "height": 12, "solids": [[3, 10, 9, 2]]})
        rules = Rules(f, resuming=True)
        live = played(placed(rules, rules.begin()._replace(place="c")), ((40, LEFT), (60, STILL)))
        self.assertEqual((live.fell, live.body.x, live.body.stands), (1, 4, True))


if __name__ == "__main__":
    unittest.main()
