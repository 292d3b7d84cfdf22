"""The rules of play, sentence by sentence, on flows small enough to work out by hand."""

import unittest

from mossy_bridge.play.replay import play
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move, Origin
from tests.support.build import board, deed, fact, flow, moves_after, play_level, screen, state_after, value_of, way


class Beginning(unittest.TestCase):
    def test_starts_with_initial_values_and_an_arrival_not_asking_opens(self):
        facts = [fact("key", initial=True), fact("oil:5", initial=2), fact("tide=ebb,flood", initial="flood")]
        f = flow(play_level("a", opens="never", on_arrival=["add 1 oil"]), facts=facts)
        state = Rules(f).begin()
        self.assertEqual(state.facts, (True, 3, "flood"))
        self.assertEqual((state.place, state.seen, state.done, state.arrived), ("a", {"a"}, set(), True))
        self.assertEqual((state.respawn, state.origin), ("p", None))

    def test_a_start_that_is_no_place_to_be(self):
        cases = {
            "missing": flow(play_level("a"), start={"level": "b"}),
            "none": flow(play_level("a"), start={}),
            "does not ship": flow(play_level("a", ships=False)),
            "lacks the spawn": flow(play_level("a"), start={"level": "a", "spawn": "q"}),
            "play level without spawns": flow({"id": "a"}),
        }
        for name, f in cases.items():
            with self.subTest(name):
                self.assertIsNone(Rules(f).begin())

    def test_a_screen_needs_no_spawn(self):
        self.assertEqual(Rules(flow(screen("a"))).begin().respawn, "")


class Arriving(unittest.TestCase):
    def test_zone_is_the_spawns_else_the_first(self):
        zones = [{"id": "low"}, {"id": "high"}]
        for zone, expected in (("high", "high"), ("", "low"), ("gone", "low")):
            with self.subTest(zone):
                f = flow(play_level("a", zones=zones, spawns=[{"id": "p", "zone": zone}]))
                self.assertEqual(Rules(f).begin().zone, expected)

    def test_visit_facts_and_deeds_begin_afresh_before_on_arrival(self):
        f = flow(
            play_level("a", way("x", "b"), deeds=[deed("d", "add 2 n", repeats="visit"), deed("r", "gain g")]),
            play_level("b", way("x", "a"), on_arrival=["add 1 n"]),
            facts=[fact("n:9", lifetime="visit"), fact("g")],
        )
        state = state_after(f, "deed a.d", "deed a.r", "exit a.x")
        self.assertEqual((value_of(f, state, "n"), value_of(f, state, "g")), (1, True))
        self.assertEqual(state.spent, {("a", "r")})
        self.assertIn("deed a.d", moves_after(f, "deed a.d", "exit a.x", "exit b.x"))

    def test_a_checkpoint_moves_the_respawn_point_and_a_restart_keeps_it(self):
        f = flow(
            play_level(
                "a",
                way("again", {"kind": "again"}),
                spawns=[{"id": "p"}, {"id": "q"}],
                deeds=[deed("mark", checkpoint="q"), deed("bad", checkpoint="gone")],
            )
        )
        self.assertEqual(state_after(f, "deed a.bad").respawn, "p")
        state = state_after(f, "deed a.mark", "exit a.again")
        self.assertEqual((state.respawn, state.arrived), ("q", True))


class Exits(unittest.TestCase):
    def test_open_asks_when_opens_and_the_levels_own_opens(self):
        f = flow(
            play_level(
                "a",
                way("when", "b", trigger={"when": "has key"}),
                way("opens", "b", opens="has key"),
                way("level", "locked"),
                way("unknown", "b", opens="lacks nobody"),
                way("unshipped", "c"),
                way("nowhere", "gone"),
                way("no_spawn", "b", spawn="gone"),
                way("unconnected"),
                deeds=[deed("grab", "gain key")],
            ),
            play_level("b"),
            play_level("c", ships=False),
            play_level("locked", opens="has key"),
            facts=["key"],
        )
        self.assertEqual(moves_after(f), ["deed a.grab"])
        self.assertEqual(moves_after(f, "deed a.grab"), ["exit a.when", "exit a.opens", "exit a.level"])

    def test_by_is_asked_of_touch_and_press_only(self):
        kinds = ("touch", "press", "choose", "timer", "fail")
        exits = [way(kind, "b", trigger={"kind": kind, "by": ["crab"]}) for kind in kinds]
        f = flow(play_level("a", *exits), play_level("b"), actors=["player", "crab"])
        self.assertEqual(moves_after(f), ["exit a.choose", "exit a.timer", "exit a.fail"])

    def test_judged_before_effects_and_fired_in_order(self):
        f = flow(
            play_level("a", way("x", "b", effects=["take 2 n", "add 1 n", "gain key", "add 1 nobody"], completes=True)),
            play_level("b", opens="at least 1 n"),
            facts=[fact("n:9", initial=1), "key"],
        )
        state = state_after(f, "exit a.x")
        self.assertEqual(state.facts, (1, True))
        self.assertEqual((state.done, state.origin), ({"a"}, Origin("a", "p")))

    def test_zones_bind_touch_press_and_deeds(self):
        f = flow(
            play_level(
                "a",
                way("touch", "b", trigger={"kind": "touch"}, zone="high"),
                way("anywhere", "b", zone="high"),
                way("unknown", "b", trigger={"kind": "press"}, zone="gone"),
                zones=[{"id": "low"}, {"id": "high"}],
                paths=[{"from": "low", "to": "high"}, {"from": "low", "to": "gone"}],
                deeds=[deed("up", zone="high"), deed("lost", zone="gone"), deed("all")],
            ),
            play_level("b"),
        )
        self.assertEqual(moves_after(f), ["path a.low.high", "deed a.all", "exit a.anywhere"])
        self.assertEqual(
            moves_after(f, "path a.low.high"), ["deed a.up", "deed a.all", "exit a.touch", "exit a.anywhere"]
        )

    def test_paths_one_way_both_ways_and_under_a_condition(self):
        zones = [{"id": "low"}, {"id": "high"}]
        for both, when, expected in (
            (False, "always", []),
            (True, "always", ["path a.high.low"]),
            (True, "has key", []),
        ):
            with self.subTest(both=both, when=when):
                path = {"from": "low", "to": "high", "both_ways": both, "when": when}
                f = flow(
                    play_level("a", zones=zones, paths=[path], spawns=[{"id": "p", "zone": "high"}]), facts=["key"]
                )
                self.assertEqual(moves_after(f), expected)

    def test_a_fresh_exit_begins_a_new_run(self):
        facts = [fact("r"), fact("v", lifetime="visit"), fact("kept", lifetime="profile")]
        for progress, seen in (("run", {"b"}), ("profile", {"a", "b"})):
            with self.subTest(progress):
                f = flow(
                    play_level(
                        "a",
                        way("x", "b", fresh=True, completes=True, effects=["gain r"]),
                        deeds=[deed("d", "gain v", "gain kept")],
                    ),
                    play_level("b"),
                    facts=facts,
                    progress=progress,
                )
                state = state_after(f, "deed a.d", "exit a.x")
                self.assertEqual(state.facts, (False, False, True))
                self.assertEqual((state.seen, state.spent, state.origin), (seen, frozenset(), None))
                self.assertEqual(state.done, set() if progress == "run" else {"a"})

    def test_an_ending_stops_the_flow(self):
        f = flow(play_level("a", way("x", "won")))
        self.assertEqual(state_after(f, "exit a.x"), Ended("won"))
        self.assertEqual(list(play(Rules(f), ["exit a.x", "exit a.x"]))[-1].problem, "the flow has ended")


class Destinations(unittest.TestCase):
    def order(self):
        return flow(
            play_level("a", way("next", {"kind": "next"}), way("previous", {"kind": "previous"})),
            screen("s", way("next", {"kind": "next"})),
            play_level("hidden", ships=False),
            play_level("b", way("next", {"kind": "next", "otherwise": {"level": "s"}})),
        )

    def test_next_skips_screens_and_what_does_not_ship(self):
        f = self.order()
        self.assertEqual(moves_after(f), ["exit a.next"])
        self.assertEqual(state_after(f, "exit a.next").place, "b")

    def test_next_on_a_screen_counts_from_the_origin(self):
        f = self.order()
        state = state_after(f, "exit a.next", "exit b.next")
        self.assertEqual((state.place, state.origin.level), ("s", "b"))
        self.assertEqual(moves_after(f, "exit a.next", "exit b.next"), [])

    def test_a_locked_next_level_is_not_skipped(self):
        f = flow(play_level("a", way("x", {"kind": "next"})), play_level("b", opens="never"), play_level("c"))
        self.assertEqual(moves_after(f), [])

    def test_again_only_in_play_levels(self):
        f = flow(screen("s", way("x", {"kind": "again", "otherwise": {"level": "s"}})))
        self.assertEqual(moves_after(f), [])

    def test_back_restarts_the_origin_at_its_respawn_without_asking_opens(self):
        f = flow(
            play_level(
                "a", way("x", "s"), spawns=[{"id": "p"}, {"id": "q"}], deeds=[deed("c", checkpoint="q")], opens="never"
            ),
            screen("s", way("back", {"kind": "back"})),
        )
        state = state_after(f, "deed a.c", "exit a.x", "exit s.back")
        self.assertEqual((state.place, state.respawn), ("a", "q"))

    def test_otherwise_goes_to_any_depth(self):
        to = {"kind": "back", "otherwise": {"kind": "next", "otherwise": {"level": "b"}}}
        f = flow(screen("s", way("x", to)), play_level("b"))
        self.assertEqual(state_after(f, "exit s.x").place, "b")


class Sprung(unittest.TestCase):
    def door(self, **trigger):
        return {
            "id": "door",
            "area": [0, 0, 4, 4],
            "trigger": {"kind": "touch", **trigger},
            "to": {"level": "b"},
        }

    def test_an_auto_exit_fires_before_anything_else(self):
        f = flow(
            play_level(
                "a", way("w", "b"), way("auto", "b", trigger={"kind": "auto", "when": "has key"}),
                deeds=[deed("d", "gain key")],
            ),
            play_level("b"),
            facts=["key"],
        )  # fmt: skip
        self.assertEqual(moves_after(f), ["deed a.d", "exit a.w"])
        self.assertEqual(moves_after(f, "deed a.d"), ["exit a.auto"])

    def test_touch_is_sprung_by_a_body_in_its_area_right_after_an_arrival(self):
        inside, outside = [{"id": "p", "x": 2, "y": 3}], [{"id": "p", "x": 9, "y": 3}]
        for name, spawns, trigger, forced in (
            ("inside", inside, {}, True),
            ("outside", outside, {}, False),
            ("not armed", inside, {"armed_on_arrival": False}, False),
            ("not the player", inside, {"by": []}, False),
        ):
            with self.subTest(name):
                f = flow(play_level("a", self.door(**trigger), deeds=[deed("d")], spawns=spawns), play_level("b"))
                self.assertEqual(moves_after(f)[0] == "exit a.door", forced)

    def test_only_an_overlap_above_zero_counts_and_y_may_grow_up(self):
        # The walker is 0.8 wide and 1.6 high; the area is 4 by 4 from the corner 0, 0.
        for y, x, foot, forced in (("down", 4.4, 3, False), ("down", 4.3, 3, True), ("down", 2, 5.6, False),
                                   ("down", 2, 5.5, True), ("up", 2, 3.9, True), ("up", 2, 4, False)):  # fmt: skip
            with self.subTest(y=y, x=x, foot=foot):
                a = play_level("a", self.door(), deeds=[deed("d")], spawns=[{"id": "p", "x": x, "y": foot}])
                f = flow(a, play_level("b"), units={"y": y})
                self.assertEqual(moves_after(f)[0] == "exit a.door", forced)

    def test_opening_later_it_waits_for_the_player(self):
        a = play_level(
            "a",
            {**self.door(), "opens": "has key"},
            deeds=[deed("d", "gain key")],
            spawns=[{"id": "p", "x": 2, "y": 3}],
        )
        f = flow(a, play_level("b"), facts=["key"])
        self.assertEqual(moves_after(f, "deed a.d"), ["exit a.door"])
        self.assertIsNone(Rules(f).sprung(state_after(f, "deed a.d")))

    def test_what_comes_to_resume_is_never_sprung(self):
        auto = way("x", {"kind": "resume", "otherwise": {"level": "b"}}, trigger={"kind": "auto"})
        f = flow(screen("s", auto, way("go", "b")), play_level("b"))
        for resuming in (False, True):
            self.assertEqual(moves_after(f, resuming=resuming), ["exit s.go"])

    def test_going_round_by_itself_stops_a_walk(self):
        auto = {"kind": "auto"}
        f = flow(play_level("a", way("x", "b", trigger=auto)), play_level("b", way("x", "a", trigger=auto)))
        taken = list(play(Rules(f), ["exit a.x", "exit b.x"] * 3))
        self.assertEqual([t.problem for t in taken if t.after is None], ["the flow loops by itself here"])
        self.assertEqual(len(taken), 4)


class Deeds(unittest.TestCase):
    def test_repeats(self):
        f = flow(
            play_level(
                "a",
                way("x", "a"),
                deeds=[deed("run"), deed("visit", repeats="visit"), deed("ever", repeats="always")],
            )
        )
        done = ["deed a.run", "deed a.visit", "deed a.ever"]
        self.assertEqual(moves_after(f, *done), ["deed a.ever", "exit a.x"])
        self.assertEqual(moves_after(f, *done, "exit a.x"), ["deed a.visit", "deed a.ever", "exit a.x"])

    def test_counts_stop_at_low_and_high(self):
        f = flow(
            play_level(
                "a", deeds=[deed("up", "add 9 n", repeats="always"), deed("down", "take 9 n", repeats="always")]
            ),
            facts=[fact("n:5", low=1, initial=2)],
        )
        self.assertEqual(state_after(f, "deed a.up").facts, (5,))
        self.assertEqual(state_after(f, "deed a.up", "deed a.down").facts, (1,))

    def test_every_effect(self):
        cases = {
            "gain key": (True, 2, "ebb"), "lose key": (False, 2, "ebb"), "add 2 n": (False, 4, "ebb"),
            "take 1 n": (False, 1, "ebb"), "set n to 3": (False, 3, "ebb"), "raise n to 1": (False, 2, "ebb"),
            "raise n to 4": (False, 4, "ebb"), "lower n to 1": (False, 1, "ebb"), "lower n to 4": (False, 2, "ebb"),
            "turn tide to flood": (False, 2, "flood"), "clear n": (False, 2, "ebb"),
            "turn tide to spring": (False, 2, "ebb"),
            "gain n": (False, 2, "ebb"),
        }  # fmt: skip
        for effect, expected in cases.items():
            with self.subTest(effect):
                f = flow(
                    play_level("a", deeds=[deed("d", effect)]), facts=["key", fact("n:5", initial=2), "tide=ebb,flood"]
                )
                self.assertEqual(state_after(f, "deed a.d").facts, expected)


class Boards(unittest.TestCase):
    def reach(self, cursor, **fields):
        tiles = [
            {"id": "t0", "level": "a", "right": "t1"},
            {"id": "t1", "level": "locked", "right": "t2", "left": "gone"},
            {"id": "t2", "level": "b"},
        ]
        f = flow(board("m", *tiles, cursor=cursor, **fields), play_level("a"), play_level("b"),
                 play_level("locked", opens="never"))  # fmt: skip
        return moves_after(f)

    def test_how_far_the_cursor_gets(self):
        self.assertEqual(self.reach("free"), ["tile m.t0", "tile m.t2"])
        self.assertEqual(self.reach("open"), ["tile m.t0"])
        self.assertEqual(self.reach("any"), ["tile m.t0", "tile m.t2"])

    def test_it_may_begin_on_a_locked_tile(self):
        self.assertEqual(self.reach("open", first_tile="t1"), ["tile m.t2"])
        self.assertEqual(self.reach("any", first_tile="t2"), ["tile m.t2"])

    def test_choosing_is_an_arrival_and_no_exit(self):
        f = flow(play_level("a", way("x", "m")), board("m", {"id": "t", "level": "b"}), play_level("b"))
        state = state_after(f, "exit a.x", "tile m.t")
        self.assertEqual((state.place, state.origin, state.done), ("b", Origin("a", "p"), set()))


class SavedGames(unittest.TestCase):
    def game(self, saving, progress="run"):
        return flow(
            screen("title", way("new", "a", fresh=True),
                   way("resume", {"kind": "resume", "otherwise": {"level": "a"}})),
            play_level(
                "a", way("quit", "title"), way("on", "b"),
                deeds=[deed("r", "gain r", saves=True), deed("p", "gain kept"), deed("late", "gain r2")],
            ),
            play_level("b", way("quit", "title"), on_arrival=["add 1 n"]),
            facts=["r", "r2", fact("kept", lifetime="profile"), "n:9"], saving=saving, progress=progress,
        )  # fmt: skip

    def test_saved_at_arrival_before_the_arrivals_effects(self):
        f = self.game("arrival")
        begin = ("exit title.new", "deed a.r", "exit a.on", "exit b.quit")
        state = state_after(f, *begin, "exit title.resume", resuming=True)
        self.assertEqual((state.place, value_of(f, state, "n"), value_of(f, state, "r")), ("b", 1, True))

    def test_saved_by_a_deed_and_profile_facts_stay(self):
        f = self.game("deed")
        moves = (
            "exit title.new",
            "deed a.r",
            "deed a.p",
            "deed a.late",
            "exit a.on",
            "exit b.quit",
            "exit title.resume",
        )
        state = state_after(f, *moves, resuming=True)
        self.assertEqual((state.place, state.facts), ("a", (True, False, True, 0)))
        self.assertEqual((state.spent, state.seen), ({("a", "r")}, {"a"}))

    def test_seen_is_kept_in_the_profile(self):
        f = self.game("deed", progress="profile")
        moves = ("exit title.new", "deed a.r", "exit a.on", "exit b.quit", "exit title.resume")
        self.assertEqual(state_after(f, *moves, resuming=True).seen, {"title", "a", "b"})

    def test_without_a_saved_game_otherwise_is_used_but_not_in_the_survey(self):
        f = self.game("never")
        self.assertEqual(moves_after(f, resuming=True), ["exit title.new", "exit title.resume"])
        self.assertEqual(moves_after(f), ["exit title.new"])


class Moves(unittest.TestCase):
    def test_text(self):
        for text in ("exit a.b", "deed a.b", "tile a.b", "path a.low.high"):
            from mossy_bridge.play.state import parse_move

            self.assertEqual(str(parse_move(text)), text)
        for text in ("exit a", "path a.b", "jump a.b", "", "exit a.b.c"):
            self.assertIsNone(parse_move(text))
        self.assertEqual(str(Move("path", "a", "low", "high")), "path a.low.high")


if __name__ == "__main__":
    unittest.main()
