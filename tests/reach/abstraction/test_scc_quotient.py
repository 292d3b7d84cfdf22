"""Places joined there and back, by hand."""

import unittest

from mossy_bridge.play.replay import final_state
from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph
from mossy_bridge.reach.system.guards import packed_vectors
from mossy_bridge.reach.system.program_graph import ProgramGraph
from tests.support.build import deed, fact, flow, play_level, screen, way
from tests.support.proofs import everything_found, proofs_of, texts, uses_of


def never():
    return False


def quotient(*levels, **fields):
    program = ProgramGraph(Rules(flow(*levels, **fields)))
    program.compile_all(never)
    return QuotientGraph(program)


def quotient_levels(*levels, **fields):
    """The levels of each component."""
    found = quotient(*levels, **fields)
    return [found.levels_of(component) for component in range(found.count)]


def groups(*levels, **fields):
    """The groups of levels, as texts."""
    return sorted("".join(sorted(names)) for names in quotient_levels(*levels, **fields))


def both_ways(*pairs):
    """Play levels with exits between them there and back."""
    names = sorted({name for pair in pairs for name in pair})
    return [
        play_level(
            name, *(way(f"to_{b if name == a else a}", b if name == a else a) for a, b in pairs if name in (a, b))
        )
        for name in names
    ]


class Groups(unittest.TestCase):
    def test_levels_that_lead_there_and_back_are_one(self):
        self.assertEqual(groups(*both_ways(("a", "b"), ("b", "c"), ("d", "e"))), ["abc"])  # d and e are not reach
        ring = [play_level("a", way("x", "b")), play_level("b", way("x", "c")), play_level("c", way("x", "a"))]
        self.assertEqual(groups(*ring), ["abc"])
        self.assertEqual(groups(play_level("a", way("x", "b")), play_level("b", way("x", "won"))), ["a", "b"])

    def test_a_lock_on_either_way_keeps_them_apart_unless_it_always_holds(self):
        for opens, told in (("has key", ["a", "b"]), ("lacks other", ["ab"]), ("seen a", ["ab"])):
            levels = [play_level("a", way("x", "b", opens=opens), deeds=[deed("d", "gain key")]),
                      play_level("b", way("x", "a"))]  # fmt: skip
            self.assertEqual(groups(*levels, facts=["key", "other"]), told, opens)

    def test_so_does_what_changes_something_that_is_asked(self):
        a, b = play_level("a", way("x", "b")), play_level("b", way("x", "a"))
        guard = play_level("c", way("x", "a", opens="has key"))
        self.assertEqual(groups({**a, "exits": [way("x", "b", effects=["gain key"]), way("c", "c")]}, b, guard,
                                facts=["key"]), ["a", "b", "c"])  # fmt: skip
        seen = {**a, "exits": [way("x", "b"), way("y", "a", opens="seen b")]}
        self.assertEqual(groups(seen, b), ["a", "b"])
        done = {**b, "exits": [way("x", "a", completes=True), way("y", "won", opens="done b")]}
        self.assertEqual(groups(a, done), ["a", "b"])

    def test_forced_exits_and_new_runs_are_not_free(self):
        a = play_level("a", way("x", "b"))
        self.assertEqual(groups(a, screen("b", way("x", "a", trigger={"kind": "auto"}))), ["a", "b"])
        self.assertEqual(groups(a, screen("b", way("x", "a", fresh=True))), ["a", "b"])
        self.assertEqual(groups(a, screen("b", way("x", "a"))), ["ab"])

    def test_a_fact_of_a_visit_keeps_only_the_level_apart_in_which_it_changes(self):
        a, b, c = both_ways(("a", "b"), ("b", "c"))
        c["deeds"] = [deed("pull", "gain lever")]
        c["exits"].append(way("out", "won", opens="has lever"))
        self.assertEqual(groups(a, b, c, facts=[fact("lever", lifetime="visit")]), ["ab", "c"])

    def test_zones_joined_by_a_path_are_one(self):
        zones = {"zones": [{"id": "low"}, {"id": "high"}], "paths": [{"from": "low", "to": "high", "both_ways": True}]}
        self.assertEqual(len(quotient(play_level("a", **zones)).members), 1)
        zones["paths"][0]["both_ways"] = False
        self.assertEqual(len(quotient(play_level("a", **zones)).members), 2)

    def test_what_stays_and_changes_nothing_is_only_asked_whether_it_is_possible(self):
        a, b = both_ways(("a", "b"))
        b["exits"].append(way("locked", "a", opens="has key"))
        a["deeds"] = [deed("d", "gain key")]
        one = quotient(a, b, facts=["key"])
        key = one.layout.facts["key"].mask
        self.assertEqual([one.transitions[transition].move.thing for transition, _, _ in one.moves(0, 0)], ["d"])
        self.assertEqual(
            {transition.move.thing for transition, _ in one.staying(0, packed_vectors([0], 1))},
            {"to_a", "to_b"},
        )
        self.assertEqual([place for _, place in one.staying(0, packed_vectors([0, key], 1))], [0, 0, 1])
        self.assertEqual([place for _, place in one.staying(0, packed_vectors([0] * 9 + [key], 1))], [0, 0, 9])


class Routes(unittest.TestCase):
    def test_free_steps_are_put_between_the_moves(self):
        a, b, c = both_ways(("a", "b"), ("b", "c"))
        c["deeds"] = [deed("d", "gain key")]
        a["exits"].append(way("out", "won", opens="has key"))
        flow_ = flow(a, b, c, facts=["key"])
        prover = proofs_of(flow_)
        ((place, use),) = uses_of(prover, "ending").items()
        there = ["exit a.to_b", "exit b.to_c", "deed c.d", "exit c.to_b", "exit b.to_a", "exit a.out"]
        self.assertEqual(texts(prover.some_route(place, *use)), there)
        self.assertIsNotNone(final_state(Rules(flow_), there))

    def test_what_is_of_no_use_on_the_way_is_left_out(self):
        find = [deed(f"d{i}", f"gain k{i}") for i in range(9)]
        hall = play_level("hall", way("yard", "yard"), *(way(f"w{i}", "hall", opens=f"has k{i}") for i in range(9)),
                          deeds=find)  # fmt: skip
        yard = play_level("yard", way("hall", "hall"), way("out", "won", opens="has k2 and at least 2 oil"),
                          deeds=[deed(f"o{i}", "add 1 oil") for i in range(4)])  # fmt: skip
        flow_ = flow(hall, yard, facts=[*(f"k{i}" for i in range(9)), "oil:6"])
        prover = proofs_of(flow_)
        for kind, place, number, last in everything_found(prover):
            route = texts(prover.some_route(place, number, last))
            self.assertIsNotNone(final_state(Rules(flow_), route))
            if kind == "ending":
                self.assertEqual(len([move for move in route if move.startswith("deed")]), 3, route)
                self.assertIn("deed hall.d2", route)


if __name__ == "__main__":
    unittest.main()
