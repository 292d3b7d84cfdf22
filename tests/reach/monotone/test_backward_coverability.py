"""Minimal bases for reaching an ending, their hitting sets, and what follows from them, by hand."""

import unittest

from msgspec.structs import replace

from mossy_bridge.play.replay import final_state
from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph
from mossy_bridge.reach.monotone.antichain_search import maximal_states
from mossy_bridge.reach.monotone.backward_coverability import MinimalBases
from mossy_bridge.reach.monotone.monotonicity import monotone_parts
from mossy_bridge.reach.monotone.regression import RegressionGraph
from mossy_bridge.reach.survey.run import survey_flow
from mossy_bridge.reach.system.program_graph import ProgramGraph
from tests.support.build import deed, flow, play_level, way
from tests.support.proofs import proofs_of


def never():
    return False


def bases_of(flow_):
    """The program graph, the minimal bases, and the discrete part of the states in each level."""
    program = ProgramGraph(Rules(flow_))
    program.compile_all(never)
    quotient, monotone = QuotientGraph(program), monotone_parts(program).bits
    found = maximal_states(quotient, monotone, never, [quotient.start])
    graph = RegressionGraph(quotient, monotone, found.antichains)
    places = {level: discrete for discrete in graph.edges for level in quotient.levels_of(discrete[0])}
    return program, MinimalBases(graph, graph.endings(), never), places


def trap(**fields):
    """A hall with two keys, and a cellar one drops into, from which either key leads on."""
    return flow(
        play_level("hall", way("drop", "cellar"), deeds=[deed("one", "gain k1"), deed("two", "gain k2")]),
        play_level("cellar", way("first", "attic", opens="has k1"), way("second", "attic", opens="has k2")),
        play_level("attic", way("out", "won"), **fields),
        facts=("k1", "k2"),
    )


class Sets(unittest.TestCase):
    def test_the_smallest_sets_are_found_backwards(self):
        program, bases, places = bases_of(trap())
        keys = {program.layout.facts[name].mask for name in ("k1", "k2")}
        self.assertEqual(set(bases.basis[places["cellar"]]), keys)
        self.assertEqual(bases.basis[places["attic"]].elements, [0])
        self.assertEqual(bases.basis[places["hall"]].elements, [0])  # the keys can still be had
        self.assertTrue(bases.exact)

    def test_a_gap_lacks_one_of_each(self):
        program, bases, places = bases_of(trap())
        both = sum(program.layout.facts[name].mask for name in ("k1", "k2"))
        self.assertEqual(bases.hitting_sets(places["cellar"], 0), [both])
        self.assertEqual(bases.hitting_sets(places["cellar"], program.layout.facts["k1"].mask), [])
        self.assertEqual(bases.hitting_sets(places["attic"], 0), [])

    def test_counts_are_enough_step_by_step(self):
        f = flow(play_level("a", way("x", "b"), deeds=[deed("d", "raise oil to 4")]),
                 play_level("b", way("y", "won", opens="at least 3 oil")), facts=("oil:5",))  # fmt: skip
        program, bases, places = bases_of(f)
        oil = program.layout.facts["oil"]
        self.assertEqual([oil.value(bits | (bits - 1)) for bits in bases.basis[places["b"]]], [3])


class Stuck(unittest.TestCase):
    def test_who_drops_without_a_key_is_stuck_with_a_route_that_shows_it(self):
        prover = proofs_of(trap())
        self.assertEqual([str(move) for move in prover.route_into(prover.stuck)], ["exit hall.drop"])

    def test_nobody_is_where_a_key_must_be_had_to_drop(self):
        f = trap()
        hall = f.levels[0]
        locked = replace(hall, exits=(replace(hall.exits[0], opens="has k1 or has k2"),))
        prover = proofs_of(replace(f, levels=(locked, *f.levels[1:])))
        self.assertIs(prover.stuck, False)

    def test_a_trap_among_forty_keys_is_found_and_its_route_replays(self):
        rooms = [play_level(f"r{i}", way("out", "hub"), deeds=[deed("d", f"gain k{i}")]) for i in range(40)]
        hub = play_level("hub", *(way(f"r{i}", f"r{i}") for i in range(40)), way("down", "well"))
        every = " and ".join(f"has k{i}" for i in range(40))
        well = play_level("well", way("up", "won", opens=f"has k3 and has k7 or has k20 or ({every})"))
        f = flow(hub, *rooms, well, facts=tuple(f"k{i}" for i in range(40)))
        survey = survey_flow(f, 4)
        self.assertFalse(survey.settled)
        self.assertEqual(survey.stuck.answer, "yes")
        self.assertEqual(final_state(survey.rules, [str(move) for move in survey.stuck.route]).place, "well")
        self.assertEqual(survey.missed["r5"], "yes")

    def test_a_run_begun_anew_without_the_key_is_a_trap_too(self):
        f = flow(play_level("hall", way("drop", "cellar", opens="has k1"), deeds=[deed("one", "gain k1")]),
                 play_level("cellar", way("on", "won", opens="has k1"), way("again", "cellar", fresh=True)),
                 facts=("k1",))  # fmt: skip
        prover = proofs_of(f)
        self.assertEqual(
            [str(move) for move in prover.route_into(prover.stuck)],
            ["deed hall.one", "exit hall.drop", "exit cellar.again"],
        )


if __name__ == "__main__":
    unittest.main()
