"""What failing takes back, on small flows worked out by hand."""

import unittest

from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import NOTHING_REWINDS, RewindPoint
from tests.support.build import deed, fact, flow, moves_after, play_level, screen, state_after, value_of, way

AGAIN, BACK = {"kind": "again"}, {"kind": "back"}
COIN = fact("coins:9", rewinds=True)
KEY = fact("key", rewinds=True)


def value_after(f, name, *moves, resuming=False):
    """What a fact is after some moves."""
    return value_of(f, state_after(f, *moves, resuming=resuming), name)


class TakenBack(unittest.TestCase):
    def test_a_coin_goes_back_and_lies_there_again(self):
        f = flow(play_level("a", way("fail", AGAIN), deeds=[deed("pick", "add 1 coins")]), facts=[COIN])
        self.assertEqual(value_after(f, "coins", "deed a.pick"), 1)
        self.assertEqual(value_after(f, "coins", "deed a.pick", "exit a.fail"), 0)
        self.assertEqual(moves_after(f, "deed a.pick", "exit a.fail"), ["deed a.pick", "exit a.fail"])

    def test_what_does_not_rewind_is_kept_and_its_deed_stays_done(self):
        f = flow(play_level("a", way("fail", AGAIN), deeds=[deed("pick", "add 1 coins")]), facts=["coins:9"])
        state = state_after(f, "deed a.pick", "exit a.fail")
        self.assertEqual((value_of(f, state, "coins"), state.spent), (1, {("a", "pick")}))
        self.assertIs(state.rewind_point, NOTHING_REWINDS)

    def test_a_spent_key_is_in_the_pocket_again(self):
        a = play_level("a", way("on", "b"), deeds=[deed("find", "gain key")])
        b = play_level("b", way("fail", AGAIN), deeds=[deed("unlock", "lose key", when="has key")])
        f = flow(a, b, facts=[KEY])
        here = ("deed a.find", "exit a.on", "deed b.unlock")
        self.assertFalse(value_after(f, "key", *here))
        self.assertTrue(value_after(f, "key", *here, "exit b.fail"))
        self.assertIn("deed b.unlock", moves_after(f, *here, "exit b.fail"))

    def test_a_checkpoint_keeps_what_was_gained_by_then_itself_included(self):
        deeds = [deed("pick", "add 1 coins"), deed("bell", "add 2 coins", checkpoint="q"), deed("late", "add 4 coins")]
        a = play_level("a", way("fail", AGAIN), deeds=deeds, spawns=[{"id": "p"}, {"id": "q"}])
        f = flow(a, facts=[COIN])
        state = state_after(f, "deed a.pick", "deed a.bell", "deed a.late", "exit a.fail")
        self.assertEqual((value_of(f, state, "coins"), state.respawn), (3, "q"))
        self.assertEqual(state.spent, {("a", "pick"), ("a", "bell")})

    def test_back_from_a_retry_screen_goes_to_the_rewind_point_of_the_level(self):
        a = play_level("a", way("fail", "retry"), deeds=[deed("pick", "add 1 coins")], on_arrival=["add 3 coins"])
        f = flow(a, screen("retry", way("again", BACK, effects=["add 5 coins"])), facts=[COIN])
        failed = ("deed a.pick", "exit a.fail")
        self.assertEqual(value_after(f, "coins", *failed), 4)  # nothing is taken back yet
        state = state_after(f, *failed, "exit retry.again")
        self.assertEqual(value_of(f, state, "coins"), 3)  # and what the arrival adds is not added once more
        self.assertEqual(state.rewind_point, RewindPoint((3,), frozenset()))

    def test_an_arrival_adds_again_what_does_not_rewind(self):
        a = play_level("a", way("fail", AGAIN), on_arrival=["add 1 tries", "add 1 coins"])
        f = flow(a, facts=[COIN, fact("tries:9")])
        state = state_after(f, "exit a.fail", "exit a.fail")
        self.assertEqual((value_of(f, state, "coins"), value_of(f, state, "tries")), (1, 3))

    def test_a_fresh_restart_begins_anew_and_goes_back_to_nothing(self):
        a = play_level("a", way("anew", AGAIN, fresh=True), way("x", "b"), deeds=[deed("pick", "add 1 coins")])
        f = flow(a, play_level("b", way("x", "a")), facts=[COIN])
        here = ("deed a.pick", "exit a.x", "exit b.x")
        self.assertEqual(value_after(f, "coins", *here), 1)
        state = state_after(f, *here, "exit a.anew")
        self.assertEqual((value_of(f, state, "coins"), state.spent, state.rewind_point.facts), (0, set(), (0,)))

    def test_an_origin_may_have_an_older_rewind_point(self):
        a = play_level("a", way("x", "b"), deeds=[deed("pick", "add 1 coins")])
        b = play_level("b", way("home", BACK), deeds=[deed("pick", "add 2 coins")])
        f = flow(a, b, facts=[COIN])
        state = state_after(f, "deed a.pick", "exit a.x", "deed b.pick", "exit b.home")
        self.assertEqual((state.place, value_of(f, state, "coins"), state.spent), ("a", 0, set()))
        self.assertEqual(state.origin.rewind_point.facts, (1,))  # that of b: what there was on arriving there

    def test_arriving_in_another_way_takes_nothing_back(self):
        a = play_level("a", way("round", "a"), way("fail", AGAIN), deeds=[deed("pick", "add 1 coins")])
        f = flow(a, facts=[COIN])
        self.assertEqual(value_after(f, "coins", "deed a.pick", "exit a.round", "exit a.fail"), 1)

    def test_a_deed_whose_only_effect_on_it_is_unknown_is_not_redone(self):
        a = play_level("a", way("fail", AGAIN), deeds=[deed("odd", "add 1 key", "gain lamp")])
        f = flow(a, facts=[KEY, "lamp"])
        self.assertEqual(state_after(f, "deed a.odd", "exit a.fail").spent, {("a", "odd")})

    def test_a_resumed_game_brings_the_origins_rewind_point_back(self):
        a = play_level("a", way("x", "b"), deeds=[deed("pick", "add 1 coins")])
        b = play_level("b", way("home", BACK), way("quit", {"kind": "resume"}))
        f = flow(a, b, facts=[COIN])
        moves = ("deed a.pick", "exit a.x", "exit b.quit")
        state = state_after(f, *moves, resuming=True)
        self.assertEqual((state.origin.rewind_point.facts, state.rewind_point.facts), ((0,), (1,)))
        self.assertEqual(value_after(f, "coins", *moves, "exit b.home", resuming=True), 0)

    def test_quitting_forgets_rewind_points(self):
        f = flow(play_level("a", deeds=[deed("pick", "add 1 coins")]), facts=[COIN])
        rules = Rules(f, resuming=True)
        begun = rules.quit(state_after(f, "deed a.pick", resuming=True))
        self.assertEqual((begun.facts, begun.rewind_point.facts), ((0,), (0,)))


if __name__ == "__main__":
    unittest.main()
