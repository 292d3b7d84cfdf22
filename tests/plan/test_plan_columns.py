"""Which levels are picked out of many: against their plans looked at one by one."""

import unittest
from random import Random
from unittest import mock

from msgspec.structs import replace

from mossy_bridge.model.flow import Exit, Level, Plan, Spawn, Trigger, Walker, Zone
from mossy_bridge.plan import plan_columns
from mossy_bridge.plan.bodies import body_at, overlap
from mossy_bridge.plan.boxes import Stones, box
from mossy_bridge.plan.free_space import plainly_joined
from mossy_bridge.plan.jumping import Jumps
from mossy_bridge.plan.plan_columns import MOST, PlanColumns

LEVELS = 1500


def rect(pick):
    return (pick.randrange(-1, 13), pick.randrange(-1, 9), pick.randrange(0, 6), pick.randrange(0, 4))


def random_level(number, pick):
    """Drawn on quarters of a unit, so that much just touches; some without a plan, some with zones."""
    solids = tuple(rect(pick) for _ in range(pick.randrange(4)))
    ground = pick.choice([((0, 8, 12, 2),), ((0, 0, 12, 2),), ()])
    kinds = ("touch", "press", "choose")
    return Level(
        id=f"l{number}",
        zones=(Zone(id="low"), Zone(id="high")) if pick.random() < 0.1 else (),
        plan=Plan(width=12, height=10, solids=ground + solids) if pick.random() < 0.95 else None,
        spawns=tuple(
            Spawn(id=f"s{i}", x=pick.randrange(-2, 52) / 4, y=pick.choice([2, 8, pick.randrange(40) / 4]))
            for i in range(pick.randrange(4))
        ),
        exits=tuple(Exit(id=f"e{i}", area=rect(pick), trigger=Trigger(kind=pick.choice(kinds)))
                    for i in range(pick.randrange(3))),
    )  # fmt: skip


class Looked:
    """One level's plan looked at by itself."""

    def __init__(self, level, walker, y_down):
        self.plan, self.walker, self.y_down = level.plan, walker, y_down
        self.spawns = level.spawns
        self.stones = Stones(level.plan, y_down) if level.plan else None
        self.bodies = [box(body_at(one, walker, y_down), y_down) for one in level.spawns] if level.plan else []
        exits = [one for one in level.exits if one.trigger.kind in ("touch", "press") and one.area[2] and one.area[3]]
        self.areas = [one.area for one in exits] if level.plan else []
        self.touched = [one.area for one in exits if one.trigger.kind == "touch"] if level.plan else []

    def is_joined(self, bodies, goal):
        joined = any(plainly_joined(self.stones, body, goal) for body in bodies)
        in_reach = self.walker.view == "top" or Jumps(self.plan, self.walker, self.y_down).may_reach(bodies, goal)
        return joined and in_reach

    def area_boxes(self):
        return [box(area, self.y_down) for area in self.areas]


QUESTIONS = {
    "spawn_in_solid": lambda one: any(map(one.stones.share, one.bodies)),
    "spawn_outside": lambda one: not all(0 <= spawn.x <= 12 and 0 <= spawn.y <= 10 for spawn in one.spawns),
    "spawn_in_air": lambda one: not all(map(one.stones.below, one.bodies)),
    "area_outside": lambda one: not all(overlap(area, (0, 0, 12, 10)) for area in one.areas),
    "area_in_solid": lambda one: any(map(one.stones.share, one.area_boxes())),
    "touch_passed_by": lambda one: any(
        one.stones.ground_beside(box(area, one.y_down), one.walker) is not None for area in one.touched
    ),
    "area_hard_to_reach": lambda one: not all(one.is_joined(one.bodies, area) for area in one.area_boxes()),
}


class AgainstLevelByLevel(unittest.TestCase):
    def setUp(self):
        pick = Random(5)
        self.levels = tuple(random_level(number, pick) for number in range(LEVELS))
        self.settings = [(Walker(view=view), y_down) for view in ("side", "top") for y_down in (True, False)]

    def test_all_with_a_fault_are_named_and_many_without_are_not(self):
        for walker, y_down in self.settings:
            columns = PlanColumns(self.levels, walker, y_down)
            for question, is_so in QUESTIONS.items():
                with self.subTest(question, view=walker.view, y_down=y_down):
                    named = [level.id for level in getattr(columns, question)()]
                    looked = {level.id: Looked(level, walker, y_down) for level in self.levels if level.plan}
                    faulty = {name for name, one in looked.items() if is_so(one)}
                    self.assertGreater(len(faulty), 5)
                    self.assertLessEqual(faulty, set(named))
                    self.assertEqual(named, [level.id for level in self.levels if level.id in set(named)])
                    self.assertLess(len(named), LEVELS * 0.9)

    def test_those_named_for_what_lies_in_one_another_have_it(self):
        walker, y_down = self.settings[0]
        columns = PlanColumns(self.levels, walker, y_down)
        for question in ("spawn_in_solid", "spawn_in_air", "area_outside", "area_in_solid"):
            named = getattr(columns, question)()
            self.assertTrue(all(QUESTIONS[question](Looked(level, walker, y_down)) for level in named), question)

    def test_spawn_points_joined_with_another(self):
        for walker, y_down in self.settings:
            joined = PlanColumns(self.levels, walker, y_down).spawns_joined()
            self.assertGreater(len(joined), 100)
            for level in self.levels:
                one = Looked(level, walker, y_down)
                for at, spawn in enumerate(level.spawns):
                    if (level.id, spawn.id) in joined:
                        others = one.bodies[:at] + one.bodies[at + 1 :]
                        self.assertTrue(one.is_joined(others, one.bodies[at]), (level, spawn.id))


class OneLevel(unittest.TestCase):
    def level(self, *solids, spawns=((2, 8), (9, 8)), area=(10, 6, 2, 2)):
        placed = tuple(Spawn(id=f"s{number}", x=x, y=y) for number, (x, y) in enumerate(spawns))
        exits = (Exit(id="gate", area=area, trigger=Trigger(kind="touch")),)
        return Level(id="quay", plan=Plan(width=12, height=10, solids=solids), spawns=placed, exits=exits)

    def named(self, level):
        columns = PlanColumns((level,), Walker(), y_down=True)
        return {question for question in QUESTIONS if getattr(columns, question)()}

    def test_a_sound_one_is_not_named(self):
        self.assertEqual(self.named(self.level((0, 8, 12, 2))), set())

    def test_each_fault_is(self):
        cases = [
            (self.level((0, 8, 12, 2), (1, 7, 2, 1)), {"spawn_in_solid"}),
            (self.level((0, 8, 6, 2)), {"spawn_in_air"}),
            (self.level((0, 8, 12, 2), spawns=((2, 8), (9, 8), (13, 8))), {"spawn_outside", "spawn_in_air"}),
            (self.level((0, 8, 12, 2), area=(20, 6, 2, 2)), {"area_outside", "area_hard_to_reach"}),
            (self.level((0, 8, 12, 2), (11, 6, 1, 2)), {"area_in_solid", "area_hard_to_reach"}),
            (self.level((0, 8, 12, 2), area=(4, 6, 2, 2)), {"touch_passed_by"}),
            (self.level((0, 8, 12, 2), (9.6, 0, 0.2, 8)), {"area_hard_to_reach"}),
        ]
        for level, expected in cases:
            self.assertEqual(self.named(level), expected)

    def test_one_with_zones_is_always_hard_to_reach(self):
        level = replace(self.level((0, 8, 12, 2)), zones=(Zone(id="low"),))
        self.assertEqual(self.named(level), {"area_hard_to_reach"})
        self.assertEqual(PlanColumns((level,), Walker(), y_down=True).spawns_joined(), set())

    def test_a_crowded_one_is_always_named(self):
        crumbs = tuple((x / 32, 9, 1 / 64, 1) for x in range(MOST))
        self.assertEqual(self.named(self.level((0, 8, 12, 2), *crumbs)), set(QUESTIONS))
        crowd = tuple((x / 16, 8) for x in range(32, 50))
        self.assertEqual(self.named(self.level((0, 8, 12, 2), spawns=crowd)), set(QUESTIONS))

    def test_of_very_many_only_the_plainest_are_looked_at_in_columns(self):
        level = self.level((0, 8, 12, 2), *(((x, 9, 1, 1)) for x in range(12)))
        self.assertEqual(self.named(level), set())
        with mock.patch.object(plan_columns, "MOST_OF_ALL", 40):
            self.assertEqual(self.named(level), set(QUESTIONS))
            self.assertEqual(self.named(self.level((0, 8, 12, 2))), set())

    def test_without_plans_there_is_nothing_to_look_at(self):
        columns = PlanColumns((Level(id="title", kind="screen"), Level(id="void")), Walker(), y_down=True)
        self.assertEqual([getattr(columns, question)() for question in QUESTIONS], [[]] * len(QUESTIONS))
        self.assertEqual(columns.spawns_joined(), set())
