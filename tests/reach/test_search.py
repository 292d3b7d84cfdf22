"""The compiled flow against the rules of play, and the searches against one another."""

import os
import unittest
from collections import deque

import numpy as np

from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended
from mossy_bridge.reach.explicit.breadth_first import breadth_first
from mossy_bridge.reach.explicit.frontier_search import frontier_search
from mossy_bridge.reach.limits import LIMITS, Limits
from mossy_bridge.reach.scc import component_layers, strong_components
from mossy_bridge.reach.survey.route_query import route_to
from mossy_bridge.reach.survey.run import survey_flow
from mossy_bridge.reach.survey.strategy import at_once
from mossy_bridge.reach.system.guards import machine_words
from mossy_bridge.reach.system.program_graph import ENDING, ProgramGraph
from mossy_bridge.reach.system.state_vector import Field
from mossy_bridge.reach.system.updates import Bound, Shift, applied
from tests.reach.test_against_plain import AgainstPlain
from tests.support.build import deed, flow, play_level, way
from tests.support.random_flows import gathering_flow, growing_flow, random_flow

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "700")) // 7
COLUMNS = ("location", "vectors", "parent", "via", "depth", "source", "transition", "target")
EVERYTHING_LARGE = Limits(
    states_one_by_one=0, direct_table_bits=0, frontier_chunk=7, components_here=-1, core_edges=-1, counting_sort=-1,
    piece=5,
)  # fmt: skip
"""Makes small flows go the ways of large ones."""


def never():
    return False


def flows(count):
    for seed in range(count):
        yield random_flow(seed)
        yield growing_flow(seed)
        yield gathering_flow(seed)


class AgainstRules(unittest.TestCase):
    def test_a_compiled_flow_makes_the_moves_of_the_rules(self):
        compared = 0
        for flow_ in flows(EXAMPLES // 2):
            rules, program = Rules(flow_), ProgramGraph(Rules(flow_))
            start = rules.begin()
            known = {start}
            waiting = deque(known - {None})
            while waiting and len(known) < 150:
                state = waiting.popleft()
                moves = set()
                for move, after in rules.moves(state):
                    ended = isinstance(after, Ended)
                    moves.add((move, (ENDING, after.ending) if ended else program.packed(after)))
                    if not ended and after not in known:
                        known.add(after)
                        waiting.append(after)
                found = set()
                for transition, location, vector in program.moves(*program.packed(state)):
                    ending = program.transitions[transition].ending
                    found.add(
                        (
                            program.transitions[transition].move,
                            (ENDING, ending) if location == ENDING else (location, vector),
                        )
                    )
                self.assertEqual(moves - found, set())
                # a deed whose being done does not count may be done again, to no effect
                again = {(move, after) for move, after in found - moves if (move.level, move.thing) in state.spent}
                self.assertEqual(found - moves, again)
                compared += 1
        self.assertGreater(compared, 10 * EXAMPLES)

    def test_conditions_hold_as_they_do_by_the_rules(self):
        asked = 0
        for flow_ in flows(EXAMPLES // 2):
            program = ProgramGraph(Rules(flow_))
            if program.start is None:
                continue
            graph = breadth_first(program, [program.start], never, 60)
            numbers = np.arange(len(graph))
            for text in program.cone.conditions:
                test, guard = program.rules.words.test(text), program.guards.of(text)
                expected = [test(graph.state(number)) for number in numbers.tolist()]
                self.assertEqual(graph.holds(text, numbers).tolist(), expected, text)
                self.assertEqual([guard.holds(graph.vector(number)) for number in numbers.tolist()], expected, text)
                asked += len(set(expected)) > 1
        self.assertGreater(asked, EXAMPLES)


class Searches(unittest.TestCase):
    def test_one_at_a_time_and_whole_frontiers_find_the_same(self):
        for many in (200, 1):
            for few_bits in (25, 0):
                limits = Limits(direct_table_bits=few_bits, states_per_location=many)
                for flow_ in flows(EXAMPLES // 4):
                    program = ProgramGraph(Rules(flow_), limits=limits)
                    starts = [program.start] if program.start else []
                    one, other = breadth_first(program, starts, never, 10**6), frontier_search(program, starts, never)
                    for column in COLUMNS:
                        self.assertTrue(np.array_equal(getattr(one, column), getattr(other, column)), column)
                    self.assertTrue(one.complete and other.complete)

    def test_small_flows_come_out_right_by_the_ways_of_large_ones(self):
        check = AgainstPlain("test_every_verdict_agrees").check
        checked = sum(check(flow_, EVERYTHING_LARGE) is not None for flow_ in flows(EXAMPLES // 2))
        self.assertGreater(checked, EXAMPLES // 2)

    def test_a_stopped_search_says_so_and_loses_nothing(self):
        facts = tuple(f"f{i}" for i in range(12))
        turns = [deed(f"d{i}", f"gain f{i}", when=f"lacks f{i}", repeats="always") for i in range(12)]
        turns += [deed(f"u{i}", f"lose f{i}", when=f"has f{i}", repeats="always") for i in range(12)]
        guard = " and ".join(f"has f{i}" for i in range(12))
        f = flow(play_level("a", way("x", "won", opens=guard), deeds=turns), facts=facts)
        program = ProgramGraph(Rules(f))
        graph = breadth_first(program, [program.start], never, 100)
        self.assertFalse(graph.complete)
        self.assertLess(graph.expanded, len(graph))
        calls = iter([False] * 3 + [True] * 100)
        graph = frontier_search(program, [program.start], lambda: next(calls))
        self.assertFalse(graph.complete)
        self.assertEqual(len(survey_flow(f).endings["won"].route), 13)
        self.assertEqual(len(route_to(f, "won", frozenset(), "always", 5).route), 13)
        unknown = survey_flow(f, budget=0.0)
        self.assertEqual((unknown.endings["won"].answer, unknown.stuck.answer), ("unknown", "unknown"))


class Fields(unittest.TestCase):
    def test_counts_in_binary_climb_and_fall_between_their_ends(self):
        field = Field("binary", 66, 7, 10, 110)
        for value, part, after in (
            (10, Shift(field, -4), 10),
            (100, Shift(field, 30), 110),
            (50, Shift(field, 5), 55),
            (50, Bound(field, 70, True), 80),
            (50, Bound(field, 20, False), 30),
            (50, Bound(field, 60, False), 50),
        ):
            vector = field.bits(value) | 1
            vectors = np.array([machine_words(vector, 2)], dtype=np.uint64)
            part.apply(vectors)
            self.assertEqual(field.value(applied((part,), vector)), after)
            self.assertEqual(int(vectors[0, 0]) | int(vectors[0, 1]) << 64, applied((part,), vector))

    def test_far_counts_are_asked_and_changed_in_binary(self):
        coins = [{"id": "coins", "kind": "count", "high": 100}]
        dig = deed("dig", "add 7 coins", repeats="always")
        pay = deed("pay", "take 90 coins", when="exactly 98 coins", repeats="always")
        f = flow(
            play_level("a", way("x", "won", opens="at least 8 coins and at most 8 coins"), deeds=[dig, pay]),
            facts=coins,
        )
        survey = survey_flow(f)
        self.assertEqual(
            [str(move) for move in survey.endings["won"].route], ["deed a.dig"] * 14 + ["deed a.pay", "exit a.x"]
        )


class Groups(unittest.TestCase):
    def test_both_ways_of_grouping_agree_and_layers_come_after_what_they_lead_to(self):
        pick = np.random.default_rng(5)
        for count in (1, 5, 40, 300):
            source = np.sort(pick.integers(0, count, 2 * count)).astype(np.int32)
            target = pick.integers(0, count, 2 * count).astype(np.int32)
            one = strong_components(count, source, target, LIMITS)
            other = strong_components(count, source, target, Limits(components_here=-1))
            self.assertEqual(len(set(zip(one.tolist(), other.tolist(), strict=True))), len(set(one.tolist())))
            finished, between = set(), set()
            for above, below in component_layers(one, source, target, LIMITS):
                self.assertFalse(set(below.tolist()) & set(above.tolist()))
                self.assertFalse(set(above.tolist()) & finished)
                finished |= set(above.tolist())
                between |= set(zip(above.tolist(), below.tolist(), strict=True))
            ends = zip(one[source].tolist(), one[target].tolist(), strict=True)
            self.assertEqual(between, {(above, below) for above, below in ends if above != below})


class ShortWords(unittest.TestCase):
    def said(self, flow_, short_vector):
        survey = survey_flow(flow_, limits=Limits(short_vector=short_vector))
        groups = (survey.levels, survey.exits, survey.deeds, survey.tiles, survey.paths, survey.endings)
        answers = [{place: (v.answer, len(v.route)) for place, v in group.items()} for group in groups]
        kept = {name: (kept.holds, kept.route and len(kept.route)) for name, kept in survey.promises.items()}
        return answers, survey.crossings, survey.stuck.answer, survey.loops.answer, survey.missed, kept

    def test_choices_in_binary_make_no_difference(self):
        shorter = 0
        for flow_ in flows(EXAMPLES // 2):
            layout = ProgramGraph(Rules(flow_)).layout
            used = layout.width * 64 - layout.spare
            short = ProgramGraph(Rules(flow_), limits=Limits(short_vector=used - 1)).layout
            if any(field.coding == "binary" for field in short.facts.values()):
                shorter += 1
                self.assertLess(short.width * 64 - short.spare, used)
                self.assertEqual(self.said(flow_, 64), self.said(flow_, used - 1))
        self.assertGreater(shorter, EXAMPLES // 4)


class AtOnce(unittest.TestCase):
    def program(self, *deeds, facts, opens="always", limits=LIMITS):
        level = play_level("a", way("x", "won", opens=opens), deeds=list(deeds))
        return ProgramGraph(Rules(flow(level, facts=facts)), limits=limits)

    def test_how_many_words_there_can_be(self):
        turn = [deed("d", "turn tide to ebb", repeats="always"), deed("e", "take 1 oil", when="tide is flood")]
        program = self.program(*turn, facts=("oil:5", "tide=ebb,flood,slack"), opens="at least 2 oil")
        self.assertEqual(
            program.layout.possible_vectors, 6 * 3 * 2
        )  # the count, the choice, and whether e has been done

    def test_few_states_of_which_nothing_grows_are_looked_at_at_once(self):
        turning = [deed(f"{verb}{i}", f"{verb} lit{i}", when=f"{asked} lit{i}", repeats="always")
                   for i in range(13) for verb, asked in (("gain", "lacks"), ("lose", "has"))]  # fmt: skip
        lit = [f"lit{i}" for i in range(13)]
        program = self.program(*turning, facts=lit)
        self.assertTrue(at_once(program, never))
        self.assertFalse(at_once(self.program(*turning, facts=lit, limits=Limits(states_at_once=2**13 - 1)), never))
        survey = survey_flow(program.rules.flow)
        self.assertEqual((survey.settled, len(survey.graph)), (True, 2**13))

    def test_what_grows_is_not(self):
        self.assertFalse(at_once(self.program(deed("d", "gain key"), facts=("key",), opens="has key"), never))


if __name__ == "__main__":
    unittest.main()
