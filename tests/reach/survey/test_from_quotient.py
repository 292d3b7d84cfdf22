"""Every state, places joined there and back being one: against the plain reference, and by hand."""

import os
import unittest

from mossy_bridge.play.replay import final_state
from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph
from mossy_bridge.reach.explicit.frontier_search import frontier_search
from mossy_bridge.reach.limits import Limits
from mossy_bridge.reach.survey.from_graph import answers_of_graph
from mossy_bridge.reach.survey.merge import merge
from mossy_bridge.reach.survey.result import Explored, Survey
from mossy_bridge.reach.survey.run import survey_flow
from mossy_bridge.reach.system.program_graph import ProgramGraph
from mossy_bridge.reach.system.routes import is_shortest
from tests.support.build import deed, flow, play_level, way
from tests.support.plain import Plain
from tests.support.random_flows import MAKERS

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120")) // 4


def never():
    return False


def named(thing):
    return ".".join(thing) if isinstance(thing, tuple) else thing


def wide_survey(flow_, apart=""):
    """What follows from all states with places joined, but for those of one level."""
    rules = Rules(flow_)
    program = ProgramGraph(rules)
    program.compile_all(never)
    quotient = QuotientGraph(program, apart)
    explored = Explored(rules, frontier_search(quotient, [quotient.start], never))
    survey = Survey(flow=rules.flow, rules=rules, program=program, explored=explored)
    answered = merge(survey, answers_of_graph(explored, program.things, never)).completed()
    return answered, len(quotient.members) < len(quotient.component)


class AgainstPlain(unittest.TestCase):
    def test_random_flows(self):
        quotient = lost = open_ = 0
        for seed in range(EXAMPLES):
            for maker in MAKERS:
                flow_ = maker(seed)
                plain = Plain(flow_, most=600)
                if plain.too_large or Rules(flow_).begin() is None:
                    continue
                survey, fewer = wide_survey(flow_)
                quotient += fewer
                with self.subTest(maker=maker.__name__, seed=seed):
                    self.reached(survey, plain)
                    self.losses(survey, plain)
                    self.promises(survey, plain)
                lost += "yes" in survey.missed.values()
                for level in [thing for thing, answer in survey.missed.items() if answer == "unknown"]:
                    open_ += 1
                    alone = wide_survey(flow_, level)[0]
                    self.assertEqual(alone.missed[level], "yes" if level in plain.missed() else "no", (seed, level))
        self.assertGreater(quotient, EXAMPLES)
        self.assertGreater(min(lost, open_), EXAMPLES // 40)

    def reached(self, survey, plain):
        lengths = plain.lengths()
        for kind in ("level", "exit", "deed", "path", "tile", "ending"):
            for place, verdict in survey.verdicts(kind).items():
                name = f"{kind} {named(place)}"
                self.assertEqual(verdict.answer, "yes" if name in lengths else "no", name)
                if verdict.answer == "yes":
                    self.assertFalse(is_shortest(verdict.route))
                    end = final_state(survey.rules, [str(move) for move in verdict.route])
                    self.assertIsNotNone(end, name)
                    if kind == "level":
                        self.assertEqual(end.place, place)
                        self.assertGreaterEqual(survey.crossed[place], plain.crossings()[place])
                        arrivals = sum(move.kind in ("exit", "tile") for move in verdict.route)
                        self.assertLessEqual(survey.crossed[place], arrivals)

    def losses(self, survey, plain):
        stuck = plain.stuck_states() | plain.dead_screens()
        self.assertEqual(survey.stuck.answer, "yes" if stuck else "no")
        if stuck:
            self.assertIn(plain.followed(survey.stuck.route), stuck)
        circling = plain.circle_states()
        self.assertEqual(survey.loops.answer, "yes" if circling else "no")
        if circling:
            self.assertIn(plain.followed(survey.loops.route), circling)
        missed = plain.missed()
        for thing, answer in survey.missed.items():
            if answer != "unknown":
                self.assertEqual(answer, "yes" if named(thing) in missed else "no", thing)
            if answer == "yes":
                self.assertIn(plain.followed(survey.losses[thing].trace()), missed[named(thing)])

    def promises(self, survey, plain):
        for promise in survey.flow.promises:
            kept, (holds, _) = survey.promises[promise.id], plain.promise(promise)
            if kept.holds == "unknown":
                self.assertTrue(promise.avoiding or promise.kind == "within")
                continue
            self.assertEqual(kept.holds, "yes" if holds else "no", promise)
            if kept.route is not None:
                self.assertIsNotNone(final_state(survey.rules, [str(move) for move in kept.route]))


class ByHand(unittest.TestCase):
    def test_a_wide_flow_with_much_that_is_turned_is_settled(self):
        rooms = 30
        levers = [[deed(f"{vector}{i}", f"{verb} wet{i}", when=f"{asked} wet{i}", repeats="always")
                   for vector, verb, asked in (("on", "gain", "lacks"), ("off", "lose", "has"))] for i in range(10)]  # fmt: skip
        levels = [
            play_level(f"r{i}", way("on", f"r{(i + 1) % rooms}"), way("back", f"r{(i - 1) % rooms}"),
                       deeds=levers[i] if i < 10 else [])
            for i in range(rooms)
        ]  # fmt: skip
        levels[20]["exits"].append(way("slide", "pit", opens="has wet3 and has wet7"))
        levels[21]["exits"].append(way("out", "won", opens="has wet0 and lacks wet9"))
        pit = play_level("pit", way("up", "r0", opens="lacks wet3"))
        f = flow(*levels, pit, facts=[f"wet{i}" for i in range(10)])
        by_quotient_alone = Limits(states_at_once=0, small_flow=0, antichain_moves=0, antichain_moves_per_transition=0,
                                   explored_states=0)  # fmt: skip
        survey = survey_flow(f, 60, limits=by_quotient_alone)
        self.assertTrue(survey.decided)
        self.assertEqual((survey.stuck.answer, survey.levels["pit"].answer), ("yes", "yes"))
        self.assertEqual(str(survey.stuck.route[-1]), "exit r20.slide")
        self.assertEqual(survey.missed["r29"], "no")  # who is in the pit is stuck, and misses nothing more
        self.assertIsNotNone(final_state(survey.rules, [str(move) for move in survey.stuck.route]))

    def test_what_is_passed_on_the_way_is_not_missed(self):
        """One reaches the yard through the gate only; the shed beside it may be left out."""
        f = flow(
            play_level("lane", way("gate", "gate")),
            play_level("gate", way("lane", "lane"), way("yard", "yard")),
            play_level("yard", way("gate", "gate"), way("shed", "shed"), way("leave", "road")),
            play_level("shed", way("yard", "yard")),
            play_level("road", way("out", "won")),
        )
        survey, _ = wide_survey(f)
        self.assertEqual({survey.missed[level] for level in ("lane", "gate", "shed")}, {"no", "unknown"})
        self.assertEqual(survey.missed["lane"], "no")  # where one begins
        self.assertEqual(wide_survey(f, "gate")[0].missed["gate"], "no")
        self.assertEqual(wide_survey(f, "shed")[0].missed["shed"], "yes")


if __name__ == "__main__":
    unittest.main()
