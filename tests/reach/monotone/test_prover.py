"""What is said of flows without looking at every state: against the plain reference, and by hand."""

import os
import unittest

from mossy_bridge.checks.runner import inspected
from mossy_bridge.checks.verdict import verdict_sentence
from mossy_bridge.play.replay import final_state
from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.monotone.dead_ends import Trap
from mossy_bridge.reach.monotone.monotonicity import monotone_parts
from mossy_bridge.reach.survey.run import survey_flow
from mossy_bridge.reach.system.routes import is_shortest
from tests.support.build import board, deed, flow, play_level, screen, way
from tests.support.plain import Plain
from tests.support.proofs import everything_found, proofs_of
from tests.support.random_flows import MAKERS

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120"))


def routes(prover):
    """Every route found, by kind and place."""
    return {
        f"{kind} {place if isinstance(place, str) else '.'.join(place)}": prover.some_route(place, number, last)
        for kind, place, number, last in everything_found(prover)
    }


def hub(keys):
    """A hub with so many rooms with a key each, and a vault that asks for all of them."""
    rooms = [play_level(f"r{i}", way("out", "hub"), deeds=[deed("d", f"gain k{i}")]) for i in range(keys)]
    all_keys = " and ".join(f"has k{i}" for i in range(keys))
    doors = [way(f"r{i}", f"r{i}") for i in range(keys)]
    vault = play_level("vault", way("win", "won"), way("out", "hub"))
    dark = play_level("dark", way("out", "hub"), opens="has nothing")
    facts = [f"k{i}" for i in range(keys)] + ["nothing"]
    return flow(play_level("hub", *doors, way("v", "vault", opens=all_keys), way("x", "dark")), *rooms, vault, dark,
                facts=facts)  # fmt: skip


class AgainstPlain(unittest.TestCase):
    def check(self, flow_):
        """Returns whether no answer was left open about being stuck; None where the flow is too large."""
        plain = Plain(flow_, most=1200)
        if plain.too_large or Rules(flow_).begin() is None:
            return None
        prover, lengths = proofs_of(flow_), plain.lengths()
        if not prover.complete:
            self.assertEqual(monotone_parts(prover.program).bits, 0)  # then nothing is to be proven
            return False
        self.rules = Rules(flow_)
        found = routes(prover)
        self.assertEqual(found.keys(), lengths.keys())
        for name, route in found.items():
            self.assertGreaterEqual(len(route), lengths[name], name)
            if len(route) < 40:
                self.assertIsNotNone(final_state(self.rules, [str(move) for move in route]), name)
        stuck = bool(plain.stuck_states())
        self.assertFalse(prover.stuck is False and (stuck or plain.dead_screens()))
        if isinstance(prover.stuck, Trap):
            self.assertTrue(stuck)
            self.is_stuck(plain, prover.stuck.route)
            route = prover.route_into(prover.stuck)
            self.is_stuck(plain, route)
            for number in range(len(route)):
                self.assertNotIn(plain.followed(route[:number]), plain.stuck_states(), route)
            self.into_stuck += 1
            if is_shortest(route):
                self.shortest += 1
                self.assertEqual(len(route), min(map(plain.depth, plain.stuck_states() | plain.dead_screens())))
        self.assertFalse(prover.nothing_loops and plain.circle_states())
        never = {".".join(t) if isinstance(t, tuple) else t for t in prover.never_missed}
        self.assertEqual(never & plain.missed().keys(), set())
        return prover.stuck is not None or bool(plain.dead_screens())

    def is_stuck(self, plain, route):
        """Whether the route, followed in the reference, ends in a state that is stuck."""
        self.assertIn(plain.followed(route), plain.stuck_states(), route)

    def setUp(self):
        self.into_stuck = self.shortest = 0

    def test_random_flows(self):
        for maker in MAKERS:
            answers = []
            for seed in range(EXAMPLES // 2):
                with self.subTest(maker=maker.__name__, seed=seed):
                    answers.append(self.check(maker(seed)))
            known = [answer for answer in answers if answer is not None]
            self.assertGreater(len(known), EXAMPLES // 4)
            self.assertGreater(sum(known), len(known) * 0.97)
        self.assertGreater(self.shortest, self.into_stuck // 2)


class ByHand(unittest.TestCase):
    def test_forty_keys_leave_nothing_unknown(self):
        survey = survey_flow(hub(40), budget=3.0)
        self.assertFalse(survey.settled)
        self.assertTrue(survey.decided)
        self.assertEqual(survey.levels["dark"].answer, "no")
        self.assertEqual((survey.stuck.answer, survey.endings["won"].answer), ("no", "yes"))
        self.assertEqual(len(survey.endings["won"].route), 40 * 3 + 2)
        self.assertIsNotNone(final_state(survey.rules, [str(move) for move in survey.endings["won"].route]))
        findings = inspected(survey, survey.flow)
        self.assertEqual(verdict_sentence(survey, findings), "1 of 43 levels is never reached — proven")
        lost = next(f for f in findings if f.check == "level-unreachable")
        self.assertIn("opens when “has nothing”, which never holds in hub", lost.message)
        self.assertIn("All is proven from", next(f for f in findings if f.check == "not-settled").message)

    def test_one_way_drops_keep_what_cannot_be_had_together_apart(self):
        left = play_level("left", way("on", "gate"), deeds=[deed("d", "gain f")])
        right = play_level("right", way("on", "gate"), deeds=[deed("d", "gain g")])
        gate = play_level(
            "gate", way("both", "won", opens="has f and has g"), way("one", "rest", opens="has f or has g")
        )
        f = flow(play_level("a", way("l", "left"), way("r", "right")), left, right, gate, play_level("rest"),
                 facts=("f", "g"))  # fmt: skip
        prover = proofs_of(f)
        self.assertIsNone(routes(prover).get("ending won"))
        self.assertEqual(len(routes(prover)["level rest"]), 4)

    def test_a_lower_bound_may_be_stuck_where_a_maximal_state_is_not(self):
        f = flow(play_level("a", way("drop", "b"), deeds=[deed("d", "gain f")]),
                 play_level("b", way("win", "won", opens="has f")), facts=("f",))  # fmt: skip
        prover = proofs_of(f)
        self.assertIsNotNone(routes(prover).get("ending won"))
        self.assertIsInstance(prover.stuck, Trap)
        self.assertNotIn(("a", "d"), prover.never_missed)
        self.assertEqual(survey_flow(f).stuck.answer, "yes")

    def test_boards_and_screens_are_settled_too(self):
        won = way("won", "map", completes=True)
        f = flow(
            board(
                "map",
                {"id": "t0", "level": "a", "right": "t1"},
                {"id": "t1", "level": "b", "left": "t0"},
                cursor="open",
            ),
            play_level("a", won),
            play_level("b", won, way("end", "won"), opens="done a"),
            screen("dead"),
        )
        prover = proofs_of(f)
        self.assertEqual(len(routes(prover).get("ending won")), 4)
        self.assertIsNone(routes(prover).get("level dead"))
        self.assertIs(prover.stuck, False)


if __name__ == "__main__":
    unittest.main()
