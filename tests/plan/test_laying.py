"""Laying out a plan: moving, stretching, lining up, doors there and back, the clipboard."""

import unittest

from msgspec.structs import replace

from mossy_bridge.checks.runner import inspected
from mossy_bridge.exchange import clipboard_json as clipboard
from mossy_bridge.exchange.reading import CannotRead
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.plan import doors, laying
from mossy_bridge.plan.bodies import body_at, overlap
from mossy_bridge.plan.laying import Part
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.build import deed, flow, play_level, way

PLAN = {"width": 40, "height": 12, "solids": [[0, 10, 40, 2], [0, 0, 40, 1]]}
DOOR, POINT, CHEST, STONE = Part("exits", "x"), Part("spawns", "p"), Part("deeds", "d"), Part("solids", "0")


def one_level(transitions=(), **fields):
    spawns = [{"id": "p", "x": 5, "y": 10}]
    x = way("x", "won", area=[36, 7, 2, 3], trigger={"kind": "touch"})
    return flow(play_level("a", x, plan=PLAN, spawns=spawns, deeds=[deed("d", x=20, y=10)], **fields),
                transitions=list(transitions))  # fmt: skip


class Laying(unittest.TestCase):
    def test_moving_several_at_once(self):
        f = laying.moved(one_level(), "a", [DOOR, POINT, CHEST, STONE], 1.5, -1)
        level = f.level("a")
        self.assertEqual(level.exits[0].area, (37.5, 6, 2, 3))
        self.assertEqual((level.spawns[0].x, level.spawns[0].y), (6.5, 9))
        self.assertEqual((level.deeds[0].x, level.deeds[0].y), (21.5, 9))
        self.assertEqual(level.plan.solids[0], (1.5, 9, 40, 2))

    def test_stretching_never_gives_a_negative_size(self):
        f = laying.stretched(one_level(), "a", DOOR, (30, 7, -2, 3))
        self.assertEqual(f.level("a").exits[0].area, (30, 7, 0, 3))
        self.assertEqual(laying.stretched(f, "a", STONE, (0, 9, 9, 3)).level("a").plan.solids[0], (0, 9, 9, 3))

    def test_lining_up(self):
        for edge, wanted in (("left", 4.6), ("right", 36), ("centre", 20.3)):
            with self.subTest(edge=edge):
                f = laying.aligned(one_level(), "a", [DOOR, POINT], edge)
                self.assertAlmostEqual(f.level("a").exits[0].area[0], wanted)
        f = laying.aligned(one_level(), "a", [DOOR, POINT], "bottom")
        self.assertEqual((f.level("a").exits[0].area[1], f.level("a").spawns[0].y), (7, 10))
        with self.assertRaises(edits.CannotEdit):
            laying.aligned(one_level(), "a", [DOOR], "left")

    def test_removing_parts_of_every_kind(self):
        f = laying.removed(one_level(), "a", [DOOR, POINT, CHEST, Part("solids", "1")])
        level = f.level("a")
        self.assertEqual((level.exits, level.spawns, level.deeds), ((), (), ()))
        self.assertEqual(level.plan.solids, ((0, 10, 40, 2),))

    def test_a_level_without_a_plan_gets_one(self):
        f, part = laying.with_solid(flow(play_level("a")), "a", (1, 2, 3, 4))
        f = laying.with_plan(f, "a", width=20, height=9)
        self.assertEqual((f.level("a").plan.width, f.level("a").plan.solids), (20, ((1, 2, 3, 4),)))
        self.assertEqual(laying.bounds_of(f, f.level("a"), part), (1, 2, 3, 4))


class Doors(unittest.TestCase):
    def two(self, **fields):
        return flow(play_level("a", way("w", "won"), plan=PLAN, name="Quay"), play_level("b", plan=PLAN), **fields)

    def test_there_and_back_is_sound_at_once(self):
        up = {"width": 40, "height": 12, "solids": [[0, 0, 40, 2]]}
        for fields in (
            {},
            {"walker": {"view": "top"}},
            {"walker": {"width": 24, "height": 40, "jump_height": 60}},
        ):
            with self.subTest(fields=fields):
                f = self.two(**fields)
                if fields.get("walker", {}).get("width"):
                    big = {"width": 800, "height": 240, "solids": [[0, 200, 800, 40]]}
                    f = flow(play_level("a", plan=big), play_level("b", plan=big),
                             limits={"return_distance": 200}, **fields)  # fmt: skip
                f, out, home = doors.there_and_back(f, "a", "b")
                there, back = f.level("a").exit(out), f.level("b").exit(home)
                self.assertEqual((there.to.level, back.to.level), ("b", "a"))
                for level, door in (("a", there), ("b", back)):
                    for spawn in f.level(level).spawns:
                        self.assertFalse(overlap(door.area, body_at(spawn, f.walker, True)))
                wrong = {"spawn-in-exit", "spawn-in-solid", "spawn-outside", "return-far-away", "doors-ping-pong",
                         "trigger-jumped-over", "trigger-outside", "trigger-slips-through", "spawn-in-air"}  # fmt: skip
                found = [
                    x for x in inspected(survey_flow(f), f) if x.check in wrong and "p" not in str(x.at).split(".")
                ]
                self.assertEqual([x.message for x in found], [])
        f, out, _ = doors.there_and_back(flow(play_level("a", plan=up), play_level("b", plan=up), units={"y": "up"}),
                                         "a", "b")  # fmt: skip
        self.assertEqual(f.level("a").exit(out).area, (38, 2, 2, 3))
        self.assertEqual((f.level("a").spawns[-1].y, f.level("a").spawns[-1].faces), (2, "left"))

    def test_a_new_door_stands_on_the_ground(self):
        for plan, units, wanted in (
            ({"width": 20, "height": 12, "solids": [[0, 10, 20, 2], [15, 7, 5, 3]]}, "down", (18, 4, 2, 3)),
            ({"width": 20, "height": 12, "solids": [[0, 0, 20, 2]]}, "up", (18, 2, 2, 3)),
            ({"width": 20, "height": 12}, "down", (18, 9, 2, 3)),
        ):
            with self.subTest(plan=plan):
                f = flow(play_level("a", plan=plan), units={"y": units})
                self.assertEqual(doors.free_door(f, f.level("a")), wanted)
        f = flow(play_level("a"))
        self.assertIsNone(doors.free_door(f, f.level("a")))

    def test_a_place_to_stand(self):
        f = one_level()
        for x, y, wanted in ((20, 10.5, (20, 10)), (37, 10, (35.6, 10)), (-5, 3, (0.4, 10)), (20, 3, (20, 10))):
            with self.subTest(x=x, y=y):
                self.assertEqual(doors.standing_place(f, f.level("a"), x, y), wanted)
        top = flow(play_level("a", plan={"width": 9, "height": 9, "solids": [[0, 0, 9, 5]]}), walker={"view": "top"})
        self.assertEqual(doors.standing_place(top, top.level("a"), 4, 3)[0], 4)
        full = flow(play_level("a", plan={"width": 9, "height": 9, "solids": [[0, 0, 9, 9]]}))
        self.assertIsNone(doors.standing_place(full, full.level("a"), 4, 3))
        for width, wanted in ((5e-324, None), (1e-320, None), (1e-9, (4, 10))):
            with self.subTest(width=width):
                thin = replace(f, walker=replace(f.walker, width=width))
                self.assertEqual(doors.standing_place(thin, thin.level("a"), 4, 3), wanted)

    def test_the_way_back_is_sound(self):
        f = flow(play_level("a", way("x", "b", area=[36, 7, 2, 3], trigger={"kind": "touch"}), plan=PLAN),
                 play_level("b", plan=PLAN))  # fmt: skip
        f = doors.way_back(f, "a", "x", "b")
        back = f.level("b").exits[-1]
        landing = f.level("a").spawn(back.to.spawn)
        self.assertEqual((back.to.level, back.name, back.area), ("a", "Back to a", (0, 7, 2, 3)))
        self.assertFalse(overlap(body_at(landing, f.walker, True), (36, 7, 2, 3)))

    def test_a_second_door_stands_beside_the_first(self):
        f, first, _ = doors.there_and_back(self.two(), "a", "b")
        f, second, _ = doors.there_and_back(f, "a", "b")
        areas = [f.level("a").exit(name).area for name in (first, second)]
        self.assertFalse(overlap(*areas))
        self.assertEqual({area[1] + area[3] for area in areas}, {10})

    def test_levels_without_plans_are_joined_by_choice(self):
        f, out, home = doors.there_and_back(flow(play_level("a"), play_level("b")), "a", "b")
        self.assertEqual(f.level("a").exit(out).trigger.kind, "choose")
        self.assertEqual(f.level("b").exit(home).to.spawn, f.level("a").spawns[-1].id)
        with self.assertRaises(edits.CannotEdit):
            doors.there_and_back(f, "a", "a")


class Clipboard(unittest.TestCase):
    def test_things_go_to_another_level_and_flow(self):
        f = one_level(zones=[{"id": "low"}], transitions=[{"id": "fade"}])
        f = edits.set_exit(f, "a", "x", transition="fade", zone="low")
        text = clipboard.things_text(f, f.level("a"), [DOOR, POINT, CHEST, STONE])
        there = flow(play_level("q", way("x", "won")))
        there, made = clipboard.pasted(there, "q", clipboard.parts_of(text), by=1)
        self.assertEqual([part.group for part in made], ["spawns", "deeds", "exits", "solids"])
        level = there.level("q")
        new = level.exit(dict(made)["exits"])
        self.assertEqual((new.id, new.area, new.transition, new.zone), ("x_2", (37, 8, 2, 3), "fade", ""))
        self.assertEqual([spawn.id for spawn in level.spawns], ["p", "p_2"])
        self.assertEqual(there.transition("fade").id, "fade")
        self.assertEqual(level.plan.solids, ((1, 11, 40, 2),))

    def test_levels_round_trip(self):
        f = one_level()
        parts = clipboard.parts_of(clipboard.levels_text(f, ["a"]))
        self.assertEqual(parts.levels, f.levels)

    def test_other_text_is_no_part_and_damaged_parts_are_refused(self):
        self.assertIsNone(clipboard.parts_of("hello"))
        self.assertIsNone(clipboard.parts_of('{"a": 1}'))
        for text in ('{"mossy_bridge_parts": 1, "nonsense": []}', '{"mossy_bridge_parts": 1, "exits": [{"id": 3}]}'):
            with self.subTest(text=text), self.assertRaises(CannotRead):
                clipboard.parts_of(text)
