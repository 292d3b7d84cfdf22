"""The compiled flow against the rules of play, and the searches against one another."""

import os
import unittest

import numpy as np

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.explicit.breadth_first import breadth_first
from mossy_bridge.reach.explicit.frontier_search import frontier_search
from mossy_bridge.reach.limits import Limits
from mossy_bridge.reach.survey.route_query import route_to
from mossy_bridge.reach.survey.run import survey_flow
from mossy_bridge.reach.system.program_graph import ProgramGraph
from tests.reach.survey.test_run import AgainstPlain
from tests.support.build import deed, flow, play_level, way
from tests.support.random_flows import four_kinds

EXAMPLES = int(os.environ.get("MOSSY_BRIDGE_EXAMPLES", "120")) // 7
COLUMNS = ("location", "vectors", "parent", "via", "depth", "source", "transition", "target")
EVERYTHING_LARGE = Limits(
    states_one_by_one=0, direct_table_bits=0, frontier_chunk=7, components_here=-1, core_edges=-1, counting_sort=-1,
    piece=5,
)  # fmt: skip
"""Makes small flows go the ways of large ones."""


def never():
    return False


class Searches(unittest.TestCase):
    def test_one_at_a_time_and_whole_frontiers_find_the_same(self):
        for many in (200, 1):
            for few_bits in (25, 0):
                limits = Limits(direct_table_bits=few_bits, states_per_location=many)
                for flow_ in four_kinds(EXAMPLES // 4):
                    program = ProgramGraph(Rules(flow_), limits=limits)
                    starts = [program.start] if program.start else []
                    one, other = breadth_first(program, starts, never, 10**6), frontier_search(program, starts, never)
                    for column in COLUMNS:
                        self.assertTrue(np.array_equal(getattr(one, column), getattr(other, column)), column)
                    self.assertTrue(one.complete and other.complete)

    def test_small_flows_come_out_right_by_the_ways_of_large_ones(self):
        check = AgainstPlain("test_every_verdict_agrees").check
        checked = sum(check(flow_, EVERYTHING_LARGE) is not None for flow_ in four_kinds(EXAMPLES // 2))
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


if __name__ == "__main__":
    unittest.main()
