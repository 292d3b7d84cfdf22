"""What is answered where hardly any state was looked at: against the plain reference."""

import os
import unittest
from collections import Counter
from itertools import count

from msgspec.structs import replace

from mossy_bridge.checks.runner import inspected
from mossy_bridge.play.replay import final_state
from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.abstraction.constant_propagation import Constants
from mossy_bridge.reach.abstraction.must_reachability import MustReachability
from mossy_bridge.reach.explicit.forced_cycles import route_into_forced_cycle
from mossy_bridge.reach.explicit.random_walks import random_walks
from mossy_bridge.reach.limits import Limits
from mossy_bridge.reach.survey.budget import Budget
from mossy_bridge.reach.survey.route_query import route_to
from mossy_bridge.reach.survey.run import survey_flow
from mossy_bridge.reach.system.program_graph import ProgramGraph
from mossy_bridge.reach.system.routes import is_shortest
from tests.support.build import deed, flow, play_level, screen, way
from tests.support.plain import Plain
from tests.support.random_flows import MAKERS

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120")) // 4


def never():
    return False


def named(thing):
    return ".".join(thing) if isinstance(thing, tuple) else thing


FEW = Limits(states_one_by_one=2, small_flow=0, states_at_once=0, explored_states=3, walk_first_look=2)
"""Three states are found one by one, and no more."""


class AgainstPlain(unittest.TestCase):
    def flows(self):
        for seed in range(EXAMPLES // 2):
            for maker in MAKERS:
                flow_ = maker(seed)
                plain = Plain(flow_, most=1200)
                if not plain.too_large and Rules(flow_).begin() is not None:
                    self.what = f"{maker.__name__}({seed})"
                    yield flow_, plain

    def setUp(self):
        self.shortest = self.shown = self.routes = 0
        self.counted = Counter()

    @property
    def said(self):
        return self.counted.total() - self.unknown

    @property
    def unknown(self):
        return sum(number for (_, answer), number in self.counted.items() if answer == "unknown")

    def test_whatever_is_said_after_three_states_is_true(self):
        hinted = 0
        for flow_, plain in self.flows():
            hints = self.hints(self.check(flow_, plain))
            self.assertLessEqual(hints, self.hints(survey_flow(flow_)), self.what)
            hinted += len(hints)
        self.assertGreater(hinted, EXAMPLES // 2)
        self.assertGreater(self.said, 20 * self.unknown)
        self.assertGreater(self.shortest, EXAMPLES)
        self.assertGreater(self.shown, EXAMPLES // 2)

    def test_so_it_is_where_shortest_routes_are_not_looked_for(self):
        for flow_, plain in self.flows():
            survey = self.check(flow_, plain, limits=replace(FEW, route_places=0))
            if survey.prover and survey.prover.complete:
                self.assertEqual(survey.crossings.keys(), plain.crossings().keys(), self.what)
        self.assertGreater(self.said, 20 * self.unknown)

    def test_whatever_is_said_when_time_runs_out_is_true(self):
        for flow_, plain in self.flows():
            for ticks in (3, 8, 20, 50):
                self.check(flow_, plain, Budget(ticks, clock=count().__next__))
        self.assertGreater(min(self.said, self.unknown), EXAMPLES)

    def hints(self, survey):
        """Which locks are said always or never to hold."""
        found = inspected(survey, survey.flow, only=["always-holds", "never-holds"])
        return {(finding.check, finding.at) for finding in found}

    def check(self, flow_, plain, budget=60, limits=FEW):
        """Compares what is said of a flow after three states; the survey."""
        survey = survey_flow(flow_, budget, limits=limits)
        for kind, answer, true in self.answers(survey, plain):
            self.counted[kind, answer] += 1
            if answer != "unknown":
                self.assertEqual(answer, "yes" if true else "no", self.what)
        return survey

    def answers(self, survey, plain):
        lengths = plain.lengths()
        groups = {"exit": survey.exits, "deed": survey.deeds, "path": survey.paths, "tile": survey.tiles}
        groups |= {"level": survey.levels, "ending": survey.endings}
        for kind, verdicts in groups.items():
            for place, verdict in verdicts.items():
                yield kind, verdict.answer, f"{kind} {named(place)}" in lengths
                if verdict.answer == "yes":
                    self.assertIsNotNone(final_state(survey.rules, [str(move) for move in verdict.route]))
                    if survey.prover and survey.prover.routes:
                        self.assertTrue(is_shortest(verdict.route), (self.what, place))
                        self.shortest += 1
                    if is_shortest(verdict.route):
                        self.assertEqual(len(verdict.route), lengths[f"{kind} {named(place)}"], (self.what, place))
        if survey.prover and survey.prover.routes:
            self.assertEqual(survey.crossings, plain.crossings(), self.what)
        for level, crossed in survey.crossings.items():
            self.assertGreaterEqual(crossed, plain.crossings()[level], self.what)
        stuck = plain.stuck_states() | plain.dead_screens()
        yield "stuck", survey.stuck.answer, bool(stuck)
        if survey.stuck.answer == "yes":
            self.leads(survey.stuck.route, stuck, plain)
        circling = plain.circle_states()
        yield "loops", survey.loops.answer, bool(circling)
        if survey.loops.answer == "yes":
            self.leads(survey.loops.route, circling, plain)
        missed = plain.missed()
        for thing, answer in survey.missed.items():
            yield "missed level" if isinstance(thing, str) else "missed deed", answer, named(thing) in missed
            if answer == "yes":
                self.leads(survey.losses[thing].trace(), missed[named(thing)], plain)
        for promise in survey.flow.promises:
            self.promise(survey, plain, promise)

    def leads(self, route, goals, plain):
        """A route leads into one of some states, and if it says that it is a shortest one, into the nearest."""
        self.routes += 1
        self.assertIn(plain.followed(route), goals, self.what)
        if is_shortest(route):
            self.assertEqual(len(route), min(map(plain.depth, goals)), self.what)

    def promise(self, survey, plain, promise):
        """A promise that anything is said of is judged as in the reference, and its route leads as far."""
        kept, (holds, length) = survey.promises[promise.id], plain.promise(promise)
        self.counted[f"promise {promise.kind}", kept.holds] += 1
        if kept.holds == "unknown":
            return
        self.shown += 1
        what = self.what, promise
        self.assertEqual(kept.holds, "yes" if holds else "no", what)
        self.assertEqual(kept.route is None, length is None, what)
        if kept.route is not None:
            self.assertTrue(plain.shows(promise, kept.route), what)
            routes = survey.prover.asking(promise.when).routes if survey.prover else None
            if is_shortest(kept.route):
                self.assertEqual(len(kept.route), length, what)
            elif routes and promise.kind in ("can", "never"):
                self.assertIsNone(routes.subgoals(promise.level, [("ending", promise.ending)], promise.when), what)

    def test_routes_asked_for_are_as_short_as_they_can_be(self):
        found = none = 0
        limits = Limits(first_edges=6, glance_edges=6, states_at_once=0)
        for flow_, plain in self.flows():
            for promise in flow_.promises:
                target = promise.level or promise.ending
                if not target or target in ("nowhere", "gone"):
                    continue
                wanted = replace(promise, kind="can", ending="" if promise.level else promise.ending)
                verdict = route_to(flow_, target, frozenset(promise.avoiding), promise.when, 60, limits)
                holds, length = plain.promise(wanted)
                self.assertEqual(verdict.answer, "yes" if holds else "no", (self.what, wanted))
                self.assertEqual(len(verdict.route) if holds else None, length, (self.what, wanted))
                found, none = found + holds, none + (not holds)
        self.assertGreater(min(found, none), EXAMPLES // 8)

    def test_what_hangs_on_no_facts_and_what_probes_find_is_true(self):
        told = found = 0
        limits = Limits(walk_first_look=2, walks=4)
        for flow_, plain in self.flows():
            program = ProgramGraph(Rules(flow_), limits=limits)
            program.compile_all(never)
            must, missed = MustReachability(program, Constants(program, program.columns)), plain.missed().keys()
            some_ending = any(name.startswith("ending") for name in plain.lengths())
            never_missed = must.never_missed | (must.landmarks if some_ending else set())
            self.assertEqual(set(map(named, never_missed)) & missed, set(), self.what)
            self.assertFalse(must.nobody_stuck and (plain.stuck_states() or plain.dead_screens()))
            self.assertFalse(must.nothing_loops and plain.circle_states())
            told += bool(must.never_missed)
            lengths = plain.lengths()
            reached = {name.partition(" ")[2] for name in lengths}
            if not any(name.startswith("ending") for name in lengths):
                continue
            for random_walk in random_walks(program, never):
                route = random_walk.stuck()
                self.assertTrue(route is None or plain.followed(route) in plain.stuck_states())
                lost = {named(thing) for thing in random_walk.losses()} & reached
                self.assertLessEqual(lost, missed, self.what)
                found += route is not None or bool(lost)
        self.assertGreater(told, EXAMPLES // 8)
        self.assertGreater(found, 10)


class ByHand(unittest.TestCase):
    def test_what_asks_for_so_many_of_many_things_may_still_be_possible(self):
        keys = [f"k{i}" for i in range(8)]
        vault = f"at least 4 of ({', '.join(f'has {key}' for key in keys)})"
        f = flow(screen("title", way("begin", "hall")), play_level("vault", way("back", "hall")),
                 play_level("hall", way("leave", "won"), way("door", "vault", opens=vault),
                            deeds=[deed(f"take_{key}", f"gain {key}") for key in keys]), facts=keys)  # fmt: skip
        f = replace(f, start=replace(f.start, level="title", spawn=""))
        survey = survey_flow(f, 60, limits=FEW)
        self.assertFalse(survey.settled)
        self.assertEqual(survey.levels["vault"].answer, "yes")
        self.assertNotIn("yes", survey.missed.values())

    def test_the_route_into_a_circle_ends_where_states_come_again(self):
        # the first lap still sees levels that nothing asks about; the third state of the route is the first to come again
        f = flow(screen("title", way("begin", "a")), screen("a", way("on", "b", trigger={"kind": "auto"})),
                 screen("b", way("on", "c", trigger={"kind": "auto"})),
                 screen("c", way("on", "b", trigger={"kind": "auto"})))  # fmt: skip
        f = replace(f, start=replace(f.start, level="title", spawn=""))
        self.assertEqual(len(survey_flow(f).loops.route), 3)
        route = route_into_forced_cycle(Rules(f), survey_flow(f).graph, stop=lambda: True)
        self.assertEqual(Plain(f).followed(route), 3)
        self.assertIn(3, Plain(f).circle_states())

    def test_twelve_keys_spent_on_twenty_four_doors(self):
        facts = ["keys:12", *(f"open{i}" for i in range(24))]
        unlock = [deed(f"u{i}", "take 1 keys", f"gain open{i}", when=f"at least 1 keys and lacks open{i}",
                       repeats="always") for i in range(24)]  # fmt: skip
        pick = [deed(f"k{i}", "add 1 keys") for i in range(12)]
        rooms = [play_level(f"r{i}", way("back", "hall"), *([way("win", "won")] if i == 23 else [])) for i in range(24)]
        doors = [way(f"d{i}", f"r{i}", opens=f"has open{i}") for i in range(24)]
        survey = survey_flow(flow(play_level("hall", *doors, deeds=[*pick, *unlock]), *rooms, facts=facts), 8)
        self.assertTrue(survey.decided)
        self.assertEqual((survey.stuck.answer, survey.missed["r3"], survey.missed["r23"]), ("yes", "yes", "no"))
        self.assertEqual(survey.missed["hall", "k0"], "no")
        self.assertIsNotNone(final_state(survey.rules, [str(move) for move in survey.stuck.route]))

    def test_where_a_path_begins_is_no_move_that_proofs_know_of(self):
        many = [deed(f"d{i}", f"gain k{i}") for i in range(12)]
        uses = [way(f"w{i}", "hall", opens=f"has k{i}") for i in range(12)]
        hall = play_level("hall", way("x", "won"), *uses, deeds=many, zones=[{"id": "low"}, {"id": "high"}],
                          paths=[{"from": "low", "to": "high", "when": "has k3 and has k7"}])  # fmt: skip
        hall["spawns"][0]["zone"] = "low"
        f = flow(hall, facts=[f"k{i}" for i in range(12)])
        limits = Limits(first_edges=3, small_flow=0)
        self.assertEqual(len(route_to(f, "hall.low", frozenset(), "always", 9, limits).route), 3)
        self.assertEqual(len(route_to(f, "hall.w5", frozenset(), "always", 9, limits).route), 2)

    def test_a_level_on_every_way_to_the_ending_is_not_missed(self):
        f = flow(play_level("a", way("x", "b"), way("y", "c")), play_level("b", way("x", "c")),
                 play_level("c", way("x", "d")), screen("d", way("x", "won")))  # fmt: skip
        program = ProgramGraph(Rules(f))
        program.compile_all(never)
        self.assertEqual(MustReachability(program, Constants(program, program.columns)).landmarks, {"c", "d"})


if __name__ == "__main__":
    unittest.main()
