"""The game in time, without a window: running and jumping, doors, transitions, boards, timers."""

import json
import unittest

from mossy_bridge.exchange.game.table import game_table
from mossy_bridge.standin.motion import Body, Ground, Will
from mossy_bridge.standin.playing import Playing
from mossy_bridge.standin.session import Session
from tests.support.build import board, deed, fact, flow, play_level, screen, way

FLOOR = {"width": 40, "height": 20, "solids": [[0, 16, 40, 4], [10, 14, 4, 2], [20, 8, 2, 8]]}
WALKER = {
    "width": 0.8,
    "height": 1.6,
    "speed": 6.0,
    "jump_height": 3.0,
    "gravity": 30.0,
    "tick": 0.0166667,
    "view": "side",
}
FRAME = 1 / 60


def begun(flow_, events=None):
    """The game of a flow, just begun."""
    session = Session(json.loads(json.dumps(game_table(flow_))), (events if events is not None else []).append)
    session.begin()
    return Playing(session)


def run(playing, seconds):
    for _ in range(round(seconds / FRAME)):
        playing.advance(FRAME)


def door(door_id, area, to, **more):
    return {"id": door_id, "area": area, "to": {"level": to}, **more}


class Motion(unittest.TestCase):
    def ground(self, **more):
        return Ground({**FLOOR, "picture": ""}, {**WALKER, **more}, y_down=True)

    def moved(self, ground, body, will, seconds):
        for _ in range(round(seconds / FRAME)):
            body = ground.moved(body, will, FRAME)
        return body

    def test_runs_at_its_speed_and_stops_at_walls_and_edges(self):
        ground = self.ground()
        body = self.moved(ground, Body(3, 4, stands=True), Will(1), 0.5)
        self.assertAlmostEqual(body.x, 6, delta=0.1)
        body = self.moved(ground, body, Will(1), 3)
        self.assertTrue(9 < body.x <= 9.6, body)
        self.assertAlmostEqual(self.moved(ground, Body(2, 4), Will(-1), 2).x, 0.4, delta=0.15)

    def test_falls_and_stands(self):
        body = self.moved(self.ground(), Body(5, 12), Will(), 2)
        self.assertEqual((body.height, body.stands), (4, True))
        self.assertEqual(self.moved(self.ground(), Body(12, 12), Will(), 2).height, 6)

    def test_jumps_as_high_as_set_and_no_higher(self):
        ground, body, highest = self.ground(), Body(5, 4, stands=True), 4.0
        for frame in range(60):
            body = ground.moved(body, Will(jumps=frame == 0), FRAME)
            highest = max(highest, body.height)
        self.assertAlmostEqual(highest - 4, 3.0, delta=0.3)
        self.assertEqual((body.height, body.stands), (4, True))

    def test_a_jump_gets_over_a_low_wall_and_not_over_a_high_one(self):
        ground, body = self.ground(), Body(8, 4, stands=True)
        for _ in range(120):
            body = ground.moved(body, Will(1, jumps=True), FRAME)
        self.assertTrue(14 < body.x < 20, body)

    def test_one_that_was_put_into_a_wall_gets_out(self):
        body = self.moved(self.ground(), Body(20.5, 5), Will(-1), 1)
        self.assertTrue(self.ground().body_box(body).right < 20, body)

    def test_seen_from_above_it_walks_all_ways(self):
        body = self.moved(self.ground(view="top"), Body(5, 10), Will(0, 1), 0.5)
        self.assertAlmostEqual(body.height, 13, delta=0.1)


class Levels(unittest.TestCase):
    def test_a_door_that_is_touched_and_its_transition(self):
        steps = [{"do": "fade_out", "at": 0.0, "lasts": 0.4}, {"do": "show_message", "at": 0.2, "lasts": 0.6, "text": "On!"},
                 {"do": "load", "at": 0.4, "lasts": 0.4}, {"do": "fade_in", "at": 0.8, "lasts": 0.4}]  # fmt: skip
        spawn = {"id": "p", "x": 2, "y": 16}
        f = flow(play_level("a", door("gate", [5, 12, 2, 4], "b", transition="slow"), plan=FLOOR, spawns=[spawn]),
                 play_level("b", plan=FLOOR, spawns=[spawn]), transitions=[{"id": "slow", "steps": steps}])  # fmt: skip
        playing = begun(f)
        playing.press("right")
        run(playing, 0.3)
        self.assertEqual((playing.session.level["id"], playing.crossing), ("a", None))
        run(playing, 0.4)
        self.assertIsNotNone(playing.crossing)
        run(playing, 0.25)
        self.assertGreater(playing.crossing.dark, 0.4)
        self.assertEqual(playing.crossing.messages, ["On!"])
        self.assertEqual(playing.session.level["id"], "a")
        run(playing, 0.5)
        self.assertEqual(playing.session.level["id"], "b")
        run(playing, 1.0)
        self.assertIsNone(playing.crossing)

    def test_arriving_in_a_door_that_is_not_armed_one_has_to_leave_it_first(self):
        area, spawn = [2, 12, 4, 4], {"id": "p", "x": 3, "y": 16}
        trigger = {"kind": "touch", "armed_on_arrival": False}
        f = flow(play_level("a", door("gate", area, "b", trigger=trigger), plan=FLOOR, spawns=[spawn]), play_level("b"))
        playing = begun(f)
        run(playing, 0.5)
        self.assertEqual(playing.session.level["id"], "a")
        playing.press("right")
        run(playing, 0.8)
        playing.release("right")
        self.assertEqual(playing.session.level["id"], "a")
        playing.press("left")
        run(playing, 0.6)
        self.assertEqual(playing.session.level["id"], "b")

    def test_what_is_pressed_or_done_is_offered_where_it_is(self):
        spawn = {"id": "p", "x": 2, "y": 16}
        f = flow(play_level("a", door("hatch", [5, 12, 2, 4], "b", trigger={"kind": "press"}, name="Hatch"), plan=FLOOR,
                            spawns=[spawn], deeds=[deed("dig", "gain key", x=8, y=16)]), play_level("b"), facts=("key",))  # fmt: skip
        playing = begun(f)
        self.assertEqual(playing.options(), [])
        playing.press("right")
        run(playing, 0.65)
        playing.release("right")
        self.assertEqual([option.words for option in playing.options()], ["Hatch"])
        playing.press("right")
        run(playing, 0.3)
        playing.release("right")
        self.assertIn("dig", [option.words for option in playing.options()])
        playing.press(str([option.words for option in playing.options()].index("dig") + 1))
        self.assertEqual(playing.session.state.facts, (1,))

    def test_paths_are_walked_to_what_lies_in_another_zone(self):
        events = []
        f = flow(play_level("a", way("up", "b", zone="high", trigger={"kind": "press"}), zones=[{"id": "low"}, {"id": "high"}],
                            paths=[{"from": "low", "to": "high"}]), play_level("b"))  # fmt: skip
        playing = begun(f, events)
        playing.press("enter")
        self.assertEqual(playing.session.level["id"], "b")
        self.assertEqual([one["event"] for one in events], ["begin", "arrive", "path", "exit", "arrive"])

    def test_a_timer_fires_once_it_could_have_been_for_so_long(self):
        f = flow(play_level("a", way("late", "b", trigger={"kind": "timer", "seconds": 2})), play_level("b"))
        playing = begun(f)
        run(playing, 1.8)
        self.assertEqual(playing.session.level["id"], "a")
        run(playing, 0.4)
        self.assertEqual(playing.session.level["id"], "b")

    def test_a_transition_waits_for_a_key(self):
        steps = [{"do": "load", "at": 0, "lasts": 0.2}, {"do": "confirm", "at": 0.4, "lasts": 1}]
        f = flow(
            screen("a", way("on", "b", transition="t")), play_level("b"), transitions=[{"id": "t", "steps": steps}]
        )
        playing = begun(f)
        playing.press("enter")
        run(playing, 5)
        self.assertTrue(playing.crossing.waits)
        playing.press("jump")
        run(playing, 1.2)
        self.assertIsNone(playing.crossing)
        self.assertEqual(playing.session.level["id"], "b")

    def test_a_circle_that_fires_by_itself_goes_on_and_harms_nothing(self):
        auto = {"kind": "auto"}
        playing = begun(
            flow(play_level("a", way("x", "b", trigger=auto)), play_level("b", way("y", "a", trigger=auto)))
        )
        run(playing, 1)
        playing.press("escape")
        self.assertIn(playing.session.level["id"], ("a", "b"))


class Boards(unittest.TestCase):
    def board(self, cursor):
        tiles = [{"id": "t1", "level": "a", "right": "t2"}, {"id": "t2", "level": "b", "col": 1, "right": "t3"},
                 {"id": "t3", "level": "a", "col": 2}]  # fmt: skip
        f = flow(
            board("map", *tiles, exits=[way("leave", "a")], cursor=cursor),
            play_level("a"),
            play_level("b", opens="has key"),
            facts=("key",),
        )
        return begun(f)

    def test_the_cursor_follows_links(self):
        for cursor, there in (("open", 0), ("any", 2), ("free", 2)):
            with self.subTest(cursor):
                playing = self.board(cursor)
                for _ in range(2):
                    playing.press("right")
                self.assertEqual(playing.at_tile, there)

    def test_a_tile_that_is_locked_is_not_entered(self):
        playing = self.board("any")
        playing.press("right")
        playing.press("enter")
        self.assertEqual(playing.session.level["id"], "map", "not even where the board could be left")
        playing.press("right")
        playing.press("enter")
        self.assertEqual(playing.session.level["id"], "a")

    def test_with_a_free_cursor_the_nearest_in_the_direction(self):
        tiles = [{"id": "t1", "level": "a"}, {"id": "t2", "level": "a", "col": 3}, {"id": "t3", "level": "a", "row": 2}]
        playing = begun(flow(board("map", *tiles), play_level("a")))
        playing.press("down")
        self.assertEqual(playing.at_tile, 2)
        playing.press("up")
        playing.press("right")
        self.assertEqual(playing.at_tile, 1)


class Endings(unittest.TestCase):
    def test_after_an_ending_any_key_begins_anew(self):
        playing = begun(
            flow(screen("title", way("on", "a")), play_level("a", way("win", "won")), facts=[fact("oil:3")])
        )
        playing.press("enter")
        playing.press("enter")
        self.assertIsNotNone(playing.session.ended)
        self.assertEqual(playing.options(), [])
        run(playing, 0.2)
        playing.press("jump")
        self.assertEqual(playing.session.level["id"], "title")


if __name__ == "__main__":
    unittest.main()
