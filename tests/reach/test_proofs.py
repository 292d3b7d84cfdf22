"""What is said of flows without looking at every state: against the plain reference, and by hand."""

import os
import unittest

from mossy_bridge.checks.inspecting import inspected
from mossy_bridge.checks.verdict import verdict_sentence
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.walking import final_state
from mossy_bridge.reach.growing import growing
from mossy_bridge.reach.machine import Machine
from mossy_bridge.reach.proofs import Trap
from mossy_bridge.reach.routes import is_shortest
from mossy_bridge.reach.survey import surveyed
from tests.support.build import board, deed, flow, play_level, screen, way
from tests.support.plain import Plain
from tests.support.proofs import proofs_of
from tests.support.random_flows import MAKERS

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "700"))


def routes(proofs):
    """Every route found, by kind and place."""
    return {
        f"{kind} {place if isinstance(place, str) else '.'.join(place)}": proofs.some_route(place, number, last)
        for kind, place, number, last in proofs.found()
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
        proofs, lengths = proofs_of(flow_), plain.lengths()
        if not proofs.complete:
            self.assertEqual(growing(proofs.machine).bits, 0)  # then nothing is to be proven
            return False
        self.rules = Rules(flow_)
        found = routes(proofs)
        self.assertEqual(found.keys(), lengths.keys())
        for name, route in found.items():
            self.assertGreaterEqual(len(route), lengths[name], name)
            if len(route) < 40:
                self.assertIsNotNone(final_state(self.rules, [str(move) for move in route]), name)
        stuck = bool(plain.stuck_states())
        self.assertFalse(proofs.stuck is False and (stuck or plain.dead_screens()))
        if isinstance(proofs.stuck, Trap):
            self.assertTrue(stuck)
            self.is_stuck(plain, proofs.stuck.route)
            route = proofs.route_into(proofs.stuck)
            self.is_stuck(plain, route)
            for number in range(len(route)):
                self.assertNotIn(plain.followed(route[:number]), plain.stuck_states(), route)
            self.into_stuck += 1
            if is_shortest(route):
                self.shortest += 1
                self.assertEqual(len(route), min(map(plain.depth, plain.stuck_states() | plain.dead_screens())))
        self.assertFalse(proofs.nothing_loops and plain.circle_states())
        never = {".".join(t) if isinstance(t, tuple) else t for t in proofs.never_missed}
        self.assertEqual(never & plain.missed().keys(), set())
        return proofs.stuck is not None or bool(plain.dead_screens())

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


class Growing(unittest.TestCase):
    def parts(self, *exits, deeds=(), facts=("f", "n:3"), **fields):
        return growing(Machine(Rules(flow(play_level("a", *exits, deeds=list(deeds), **fields), facts=facts))))

    def test_what_is_asked_for_and_only_gained_grows(self):
        self.assertEqual(self.parts(way("x", "won", opens="has f"), deeds=[deed("d", "gain f")]).facts, {"f"})

    def test_what_is_asked_against_lost_or_of_a_visit_does_not(self):
        for exit_, deeds, facts in (
            (way("x", "won", opens="lacks f"), [deed("d", "gain f")], ("f",)),
            (way("x", "won", opens="not (has f)"), [deed("d", "gain f")], ("f",)),
            (way("x", "won", opens="at most 1 of (has f)"), [], ("f",)),
            (way("x", "won", opens="has f"), [deed("d", "lose f")], ("f",)),
            (way("x", "won", opens="exactly 1 n"), [deed("d", "add 1 n")], ("n:3",)),
            (way("x", "won", opens="at least 1 n"), [deed("d", "take 1 n")], ("n:3",)),
            (way("x", "won", opens="at least 1 n"), [deed("d", "add 1 n", repeats="visit")], ("n:3",)),
            (way("x", "won", effects=["add 1 n"]), [deed("d", "add 1 n")], ("n:3",)),
            (way("x", "won", opens="has f", trigger={"kind": "auto"}), [deed("d", "gain f")], ("f",)),
        ):
            with self.subTest(opens=exit_.get("opens", ""), deeds=deeds):
                self.assertEqual(self.parts(exit_, deeds=deeds, facts=facts).facts, frozenset())

    def test_deeds_with_other_consequences_do_not(self):
        spawns = [{"id": "p"}]
        for fields, wanted in (({}, {("a", "d")}), ({"checkpoint": "p"}, set()), ({"saves": True}, set()),
                               ({"repeats": "visit"}, set())):  # fmt: skip
            parts = self.parts(way("x", "won"), deeds=[deed("d", "gain f", **fields)], spawns=spawns)
            self.assertEqual(parts.deeds, wanted)


class ByHand(unittest.TestCase):
    def test_forty_keys_leave_nothing_unknown(self):
        survey = surveyed(hub(40), budget=3.0)
        self.assertFalse(survey.settled)
        self.assertTrue(survey.decided)
        self.assertEqual(survey.levels["dark"].answer, "no")
        self.assertEqual((survey.stuck.answer, survey.endings["won"].answer), ("no", "yes"))
        self.assertEqual(len(survey.endings["won"].route), 40 * 3 + 2)
        self.assertIsNotNone(final_state(survey.rules, [str(move) for move in survey.endings["won"].route]))
        findings = inspected(survey, survey.flow)
        self.assertEqual(verdict_sentence(survey, findings), "1 of 43 levels is never reached — proven")
        lost = next(f for f in findings if f.check == "level-unreachable")
        self.assertIn("asks for “has nothing”, which never holds there", lost.message)
        self.assertIn("All is proven from", next(f for f in findings if f.check == "not-settled").message)

    def test_one_way_drops_keep_what_cannot_be_had_together_apart(self):
        left = play_level("left", way("on", "gate"), deeds=[deed("d", "gain f")])
        right = play_level("right", way("on", "gate"), deeds=[deed("d", "gain g")])
        gate = play_level(
            "gate", way("both", "won", opens="has f and has g"), way("one", "rest", opens="has f or has g")
        )
        f = flow(play_level("a", way("l", "left"), way("r", "right")), left, right, gate, play_level("rest"),
                 facts=("f", "g"))  # fmt: skip
        proofs = proofs_of(f)
        self.assertIsNone(routes(proofs).get("ending won"))
        self.assertEqual(len(routes(proofs)["level rest"]), 4)

    def test_the_poorest_may_be_stuck_where_the_richest_is_not(self):
        f = flow(play_level("a", way("drop", "b"), deeds=[deed("d", "gain f")]),
                 play_level("b", way("win", "won", opens="has f")), facts=("f",))  # fmt: skip
        proofs = proofs_of(f)
        self.assertIsNotNone(routes(proofs).get("ending won"))
        self.assertIsInstance(proofs.stuck, Trap)
        self.assertNotIn(("a", "d"), proofs.never_missed)
        self.assertEqual(surveyed(f).stuck.answer, "yes")

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
        proofs = proofs_of(f)
        self.assertEqual(len(routes(proofs).get("ending won")), 4)
        self.assertIsNone(routes(proofs).get("level dead"))
        self.assertIs(proofs.stuck, False)


if __name__ == "__main__":
    unittest.main()
