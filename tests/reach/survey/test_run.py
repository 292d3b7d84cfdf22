"""The survey against the plain reference, on random flows."""

import os
import unittest

from hypothesis import HealthCheck, given, settings

from mossy_bridge.play.replay import final_state
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, State
from mossy_bridge.reach.limits import LIMITS
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.plain import Plain
from tests.support.random_flows import flows

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120"))


class AgainstPlain(unittest.TestCase):
    @settings(max_examples=EXAMPLES, deadline=None, suppress_health_check=list(HealthCheck))
    @given(flows())
    def test_every_verdict_agrees(self, flow):
        self.check(flow)

    def check(self, flow, limits=LIMITS):
        """Compares every verdict; returns the survey, or None where the flow is too large for the reference."""
        plain = Plain(flow, most=1500)
        if plain.too_large:
            return None
        survey = survey_flow(flow, budget=60, limits=limits)
        self.assertTrue(survey.settled)
        self.rules = Rules(flow)
        self._routes_agree(survey, plain)
        self.assertEqual(survey.crossings, plain.crossings())
        self._stuck_and_loops_agree(survey, plain)
        missed = {".".join(t) if isinstance(t, tuple) else t for t, a in survey.missed.items() if a == "yes"}
        self.assertEqual(missed, plain.missed().keys())
        for thing, answer in survey.missed.items():
            if answer == "yes":
                self._leads_somewhere(survey.losses[thing].trace())
        for promise in flow.promises:
            self._promise_agrees(survey.promises[promise.id], plain.promise(promise), promise)
        return survey

    def _leads_somewhere(self, route):
        state = final_state(self.rules, [str(move) for move in route])
        self.assertIsNotNone(state, route)
        return state

    def _routes_agree(self, survey, plain):
        lengths = plain.lengths()
        groups = {
            "level": {(k,): v for k, v in survey.levels.items()},
            "exit": survey.exits,
            "deed": survey.deeds,
            "path": survey.paths,
            "tile": survey.tiles,
            "ending": {(k,): v for k, v in survey.endings.items()},
        }
        for kind, verdicts in groups.items():
            for place, verdict in verdicts.items():
                name = f"{kind} {'.'.join(place)}"
                self.assertEqual(verdict.answer, "yes" if name in lengths else "no", name)
                if verdict.answer == "yes":
                    self.assertEqual(len(verdict.route), lengths[name], name)
                    self._ends_rightly(kind, place, self._leads_somewhere(verdict.route), verdict.route)

    def _ends_rightly(self, kind, place, state, route):
        if kind == "level":
            self.assertEqual(state.place, place[0])
        elif kind == "ending":
            self.assertEqual(state, Ended(place[0]))
        else:
            self.assertEqual((route[-1].kind, route[-1].level), (kind, place[0]))

    def _stuck_and_loops_agree(self, survey, plain):
        for verdict, bad in (
            (survey.stuck, plain.stuck_states() | plain.dead_screens()),
            (survey.loops, plain.circle_states()),
        ):
            self.assertEqual(verdict.answer, "yes" if bad else "no")
            if bad:
                self.assertEqual(len(verdict.route), min(map(plain.depth, bad)))
                state = self._leads_somewhere(verdict.route)
                self.assertIsInstance(state, State)
                self.assertIn(plain.number[_key(self.rules, state)], bad)

    def _promise_agrees(self, kept, expected, promise):
        holds, length = expected
        self.assertEqual(kept.holds, "yes" if holds else "no", promise)
        self.assertEqual(None if kept.route is None else len(kept.route), length, promise)


def _key(rules, state):
    facts = tuple((fact.id, value) for fact, value in zip(rules.flow.facts, state.facts, strict=True))
    origin = state.origin and (state.origin.level, state.origin.respawn, _point(rules, state.origin.rewind_point))
    return (
        state.place, state.zone, facts, state.seen, state.done, state.spent, state.respawn, origin, state.arrived,
        _point(rules, state.rewind_point),
    )  # fmt: skip


def _point(rules, point):
    names = [fact.id for fact in rules.flow.facts if fact.rewinds]
    return tuple(zip(names, point.facts, strict=True)), point.spent


if __name__ == "__main__":
    unittest.main()
