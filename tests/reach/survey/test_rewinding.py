"""The survey where failing takes things back: by hand, and every verdict against the plain reference."""

import os
import unittest

from msgspec.structs import replace

from mossy_bridge.reach.limits import Limits
from mossy_bridge.reach.survey.run import survey_flow
from tests.reach.survey.test_run import AgainstPlain
from tests.support.build import deed, fact, flow, play_level, screen, way
from tests.support.plain import Plain
from tests.support.random_flows import rewinding_flow

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120"))
AGAIN, BACK = {"kind": "again"}, {"kind": "back"}
FEW = Limits(first_edges=3, glance_edges=3, states_at_once=0, explored_states=3)
"""So that the survey explores hardly anything, and has to prove."""


def both(flow_):
    """The surveys of a flow by every state, and by proofs."""
    return survey_flow(flow_, 60), survey_flow(flow_, 60, limits=FEW)


class AgainstReference(unittest.TestCase):
    def test_every_verdict_agrees(self):
        check = AgainstPlain("test_every_verdict_agrees").check
        compared = otherwise = 0
        for seed in range(EXAMPLES // 5):
            with self.subTest(seed=seed):
                whole = rewinding_flow(seed)
                compared += check(whole) is not None
                otherwise += seed % 4 == 0 and self.means_something_else(whole)
        self.assertGreater(compared, EXAMPLES // 7)
        self.assertGreater(otherwise, EXAMPLES // 70)

    def means_something_else(self, flow_):
        """Whether other states are reachable where nothing rewinds."""
        lasting = replace(flow_, facts=tuple(replace(one, rewinds=False) for one in flow_.facts))
        return len(Plain(flow_, most=1500).states) != len(Plain(lasting, most=1500).states)


class ByHand(unittest.TestCase):
    def spending(self, rewinds):
        """Whoever spends the key on the wrong door is stuck, unless failing brings it back."""
        doors = [way("shed", "shed", opens="has key", effects=["lose key"]), way("gate", "won", opens="has key")]
        quay = play_level("quay", *doors, deeds=[deed("find", "gain key")])
        shed = play_level("shed", way("fail", BACK))
        return flow(quay, shed, facts=[fact("key", rewinds=rewinds)])

    def test_a_spent_key_that_comes_back_leaves_nobody_stuck(self):
        for rewinds, answer in ((False, "yes"), (True, "no")):
            for survey in both(self.spending(rewinds)):
                self.assertEqual(survey.stuck.answer, answer)

    def test_what_is_lost_by_failing_may_leave_one_stuck(self):
        """The rope lies behind a ledge that crumbles; failing past it takes the rope away, not the crumbling."""
        deeds = [deed("jump", "gain crumbled", "gain rope", when="lacks crumbled", repeats="always")]
        ledge = play_level("ledge", way("fail", AGAIN), way("gate", "won", opens="has rope"), deeds=deeds)
        for rewinds, answer in ((False, "no"), (True, "yes")):
            f = flow(ledge, facts=["crumbled", fact("rope", rewinds=rewinds)])
            for survey in both(f):
                self.assertEqual(survey.stuck.answer, answer)
                if answer == "yes":
                    self.assertEqual([str(move) for move in survey.stuck.route], ["deed ledge.jump", "exit ledge.fail"])

    def test_coins_cannot_be_carried_past_failing(self):
        """Two coins open the gate, one in each cave; failing is the only way out of a cave."""
        caves = [play_level(f"cave{n}", way("fail", "retry"), deeds=[deed("coin", "add 1 coins")]) for n in (1, 2)]
        quay = play_level(
            "quay", way("one", "cave1"), way("two", "cave2"), way("gate", "won", opens="at least 1 coins")
        )
        retry = screen("retry", way("again", BACK), way("home", "quay"))
        for rewinds in (False, True):
            f = flow(quay, *caves, retry, facts=[fact("coins:9", rewinds=rewinds)])
            for survey in both(f):
                self.assertEqual(survey.endings["won"].answer, "yes")  # by going home, not back
        stern = screen("retry", way("again", BACK))
        far = [play_level(one["id"], *one["exits"], way("on", "quay", opens="at least 2 coins"), deeds=one["deeds"])
               for one in caves]  # fmt: skip
        for survey in both(flow(quay, *far, stern, facts=[fact("coins:9", rewinds=True)])):
            self.assertEqual(survey.endings["won"].answer, "no")

    def test_a_checkpoint_saves_a_coin_and_a_deed_that_lasts_can_be_done_over_and_over(self):
        deeds = [deed("coin", "add 1 coins"), deed("flag", checkpoint="q"), deed("tip", "add 1 coins", "add 1 tips")]
        a = play_level("a", way("fail", AGAIN), deeds=deeds, spawns=[{"id": "p"}, {"id": "q"}])
        promises = [
            {"id": "kept", "kind": "always_can", "level": "a", "when": "at least 1 coins"},
            {"id": "rich", "kind": "can", "level": "a", "when": "at least 5 tips"},
        ]
        f = flow(a, facts=[fact("coins:9", rewinds=True), fact("tips:9")], promises=promises)
        for survey in both(f):
            self.assertEqual(survey.promises["kept"].holds, "yes")
            self.assertEqual(survey.promises["rich"].holds, "yes")
            self.assertEqual(len(survey.promises["rich"].route), 9)  # tip and fail, four times, and a last tip
        steady = flow(a, facts=[fact("coins:9"), fact("tips:9")], promises=promises)
        self.assertEqual(survey_flow(steady).promises["rich"].holds, "no")

    def test_a_deed_that_is_taken_back_can_still_be_missed(self):
        cellar = play_level("cellar", way("fail", AGAIN), way("up", "quay"), deeds=[deed("oil", "add 1 oil")])
        f = flow(
            cellar, play_level("quay", way("sail", "won", opens="at most 1 oil")), facts=[fact("oil:3", rewinds=True)]
        )
        for survey in both(f):
            self.assertEqual(survey.missed["cellar", "oil"], "yes")
            self.assertEqual([str(move) for move in survey.losses["cellar", "oil"].trace()], ["exit cellar.up"])

    def test_an_origin_ahead_brings_a_deed_back_as_done(self):
        """Up in the loft the coin is taken, and kept by the checkpoint; from the loft one goes back to the cellar,
        without it, and back again to the loft with it."""
        loft = play_level("loft", way("down", BACK), deeds=[deed("coin", "add 1 coins"), deed("bell", checkpoint="p")])
        cellar = play_level("cellar", way("up", "loft"), way("up_again", BACK), way("out", "won"))
        f = flow(cellar, loft, facts=[fact("coins:9", rewinds=True)],
                 promises=[{"id": "v", "kind": "can", "level": "cellar", "when": "at least 1 coins"}])  # fmt: skip
        for survey in both(f):
            self.assertEqual(survey.promises["v"].holds, "no")
            self.assertNotEqual(survey.missed["loft", "coin"], "yes")
        self.assertEqual(survey_flow(f).missed["loft", "coin"], "no")


if __name__ == "__main__":
    unittest.main()
