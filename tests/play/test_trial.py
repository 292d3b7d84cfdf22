"""The trial walk: moves, steps back, branches, quitting and resuming."""

import unittest

from msgspec.structs import replace

from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move
from mossy_bridge.play.trial import QUIT, TakenBack, begun
from tests.support.build import deed, fact, flow, play_level, screen, way


def marsh():
    """A title, two levels with oil and a lock, and a game that is saved at each arrival."""
    fade = {"id": "fade", "steps": [{"do": "fade_out", "lasts": 1.5}]}
    return flow(
        screen("title", way("new", "slipway", fresh=True), way("go_on", to={"kind": "resume"})),
        play_level("slipway", way("east", "sands", transition="fade"), deeds=[deed("fill", "add 1 oil", "gain seen_it")],
                   minutes=2),
        play_level("sands", way("west", "slipway"), way("lamp", "won", opens="at least 2 oil"),
                   way("fall", to={"kind": "again"}, trigger={"kind": "fail"}), deeds=[deed("dig", "add 1 oil")]),
        facts=("oil:5", {"id": "seen_it", "kind": "flag", "lifetime": "profile"}), transitions=[fade],
    )  # fmt: skip


def rewinding_marsh():
    """The same, where oil goes back when the player fails."""
    f = marsh()
    return replace(f, facts=(replace(f.facts[0], rewinds=True), *f.facts[1:]))


def walk(*moves):
    """A walk after these moves, all of which must be possible."""
    trial = begun(Rules(marsh(), resuming=True)).follow(moves)
    assert len(trial.moves) == len(moves), trial.moves
    return trial


OUT = ("exit title.new", "deed slipway.fill", "exit slipway.east")


class Trials(unittest.TestCase):
    def test_moves_are_told_with_what_comes_of_them(self):
        trial = walk(*OUT[:1])
        told = {str(choice.move): choice.detail for choice in trial.choices()}
        self.assertEqual(
            told, {"deed slipway.fill": "(oil 1, seen_it yes); once a run", "exit slipway.east": "to sands, at p"}
        )
        self.assertEqual(trial.follow(["deed slipway.fill"]).changed(), {"oil": "0", "seen_it": "no"})

    def test_what_cannot_be_done_says_why_in_words_and_numbers(self):
        why = {refusal.title: refusal.why for refusal in walk(*OUT).refusals()}
        self.assertEqual(why, {"sands: lamp": "needs at least 2 oil, has 1"})

    def test_time_is_that_of_levels_left_and_transitions(self):
        self.assertEqual(walk(*OUT).seconds, 121.5)
        self.assertEqual(walk(*OUT).now.crossings, 2)

    def test_stepping_back_and_on_again_keeps_the_tape(self):
        trial = walk(*OUT).go_to(1)
        self.assertEqual((trial.state.place, len(trial.tape)), ("slipway", 4))
        again = trial.take(Move("deed", "slipway", "fill"))
        self.assertEqual((again.at, len(again.tape), again.branches), (2, 4, ()))
        self.assertEqual(trial.back().back().at, 0)

    def test_another_move_leaves_a_branch_that_can_be_turned_to_and_compared(self):
        trial = walk(*OUT).go_to(1).take(Move("exit", "slipway", "east"))
        self.assertEqual(len(trial.branches), 1)
        self.assertEqual(trial.differs(0), ["oil: 1 there, 0 here", "seen_it: yes there, no here"])
        back = trial.turn_to(0)
        self.assertEqual((back.moves, back.branches[0]), (OUT, trial.tape))

    def test_playing_on_after_an_ending_keeps_what_the_last_exit_did(self):
        f = flow(screen("title", way("on", "a")), play_level("a", way("win", "won", completes=True, effects=["add 2 best"])),
                 facts=[fact("best:9", lifetime="profile")], progress="profile")  # fmt: skip
        trial = begun(Rules(f, resuming=True)).follow(["exit title.on", "exit a.win"]).quit()
        self.assertEqual((trial.state.place, trial.state.facts, trial.state.done), ("title", (2,), {"a"}))

    def test_quitting_keeps_what_lasts_and_the_game_to_resume(self):
        trial = walk(*OUT, "deed sands.dig").quit()
        self.assertEqual((trial.state.place, trial.state.facts), ("title", (0, True)))
        self.assertFalse(trial.can_be_kept)
        resumed = trial.take(Move("exit", "title", "go_on"))
        self.assertEqual((resumed.state.place, resumed.state.facts), ("sands", (1, True)))
        self.assertIn(QUIT, resumed.moves)

    def test_an_ending_is_the_end(self):
        trial = walk(*OUT, "deed sands.dig", "exit sands.lamp")
        self.assertEqual(trial.now.state, Ended("won"))
        self.assertEqual((trial.choices(), trial.refusals(), trial.can_be_kept), ([], [], True))
        self.assertRaises(ValueError, trial.take, Move("exit", "sands", "west"))
        self.assertEqual(trial.quit().state.place, "title")

    def test_following_stops_where_a_move_is_impossible(self):
        trial = begun(Rules(marsh(), resuming=True)).follow(["exit title.new", "exit sands.lamp", "nonsense"])
        self.assertEqual(trial.moves, ("exit title.new",))

    def test_failing_appears_again_where_one_was(self):
        trial = walk(*OUT).take(Move("exit", "sands", "fall"))
        self.assertEqual((trial.state.place, trial.state.respawn, trial.state.facts), ("sands", "p", (1, True)))

    def test_what_failing_takes_back_is_told_before_and_after(self):
        trial = begun(Rules(rewinding_marsh(), resuming=True)).follow([*OUT, "deed sands.dig"])
        told = {str(choice.move): choice.detail for choice in trial.choices()}
        self.assertEqual(told["exit sands.fall"], "once more, at p (oil 1); dig: to be done again")
        self.assertIsNone(trial.taken_back)
        failed = trial.take(Move("exit", "sands", "fall"))
        self.assertEqual(failed.taken_back, TakenBack(("oil",), ("dig",)))
        self.assertEqual(failed.taken_back.told(failed.rules.flow), "Taken back: oil. dig: to be done again.")
        self.assertIsNone(failed.take(Move("exit", "sands", "fall")).taken_back)  # nothing was left to take
        self.assertIsNone(failed.quit().taken_back)


if __name__ == "__main__":
    unittest.main()
