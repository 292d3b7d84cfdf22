"""Shortest routes where not every state is looked at: by hand. Against the reference: ``test_proving``."""

import unittest

from mossy_bridge.model.flow import Promise
from mossy_bridge.play.replay import final_state
from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.limits import Limits
from mossy_bridge.reach.monotone.h_max import HMax
from mossy_bridge.reach.monotone.promises import prove_promise
from mossy_bridge.reach.monotone.regression_astar import (
    CROSSING,
    GivenUp,
    RegressionAStar,
    SearchSpace,
    crossings_first,
    moves,
)
from mossy_bridge.reach.system.routes import is_shortest
from tests.support.build import deed, flow, play_level, way
from tests.support.proofs import proofs_of, texts
from tests.support.random_flows import gathering_flow, growing_flow, roaming_flow


def marsh():
    """A gate with two keys to it: one at the end of a long path, one near by; and many keys nobody needs."""
    deadlocks = [deed(f"idle{i}", f"gain i{i}") for i in range(30)]
    uses = [way(f"w{i}", "start", opens=f"has i{i}") for i in range(30)]
    return flow(
        play_level("start", way("far", "far"), way("near", "near"), way("gate", "quay", opens="has one or has two"),
                   *uses, deeds=deadlocks),
        play_level("far", way("on", "farther")),
        play_level("farther", way("back", "start"), deeds=[deed("find", "gain one")]),
        play_level("near", way("back", "start"), deeds=[deed("find", "gain two")]),
        play_level("quay", way("sail", "won", opens="has one and has two"), way("back", "start")),
        facts=("one", "two", *(f"i{i}" for i in range(30))),
    )  # fmt: skip


NEAR = ["exit start.near", "deed near.find", "exit near.back"]
FAR = ["exit start.far", "exit far.on", "deed farther.find", "exit farther.back"]


class Routes(unittest.TestCase):
    def setUp(self):
        self.prover = proofs_of(marsh())
        self.routes = self.prover.routes

    def test_the_nearer_key_is_fetched_and_idle_ones_are_left(self):
        self.assertEqual(texts(self.routes.route_to("level", "quay")), [*NEAR, "exit start.gate"])
        self.assertEqual(
            texts(self.routes.route_to("exit", ("quay", "back")))[-2:], ["exit start.gate", "exit quay.back"]
        )
        self.assertEqual(self.routes.route_to("level", "start"), ())

    def test_what_needs_both_fetches_both(self):
        route = self.routes.route_to("ending", "won")
        self.assertEqual(len(route), len(NEAR) + len(FAR) + 2)
        self.assertIsNotNone(final_state(Rules(marsh()), texts(route)))

    def test_crossings_are_the_fewest(self):
        levels = ("start", "far", "farther", "near", "quay")
        self.assertEqual(self.routes.crossings(levels), {"start": 0, "far": 1, "near": 1, "farther": 2, "quay": 3})

    def test_a_deed_that_ends_an_arrival_is_made_at_once(self):
        # maximal states have rung the bell in the yard, and are never at the door with it rung and no longer just arrived
        door = {
            "id": "door",
            "area": [0, 0, 4, 4],
            "to": {"level": "start"},
            "opens": "has key",
            "trigger": {"kind": "touch"},
        }
        hall = play_level("hall", way("round", "hall"), door, zones=[{"id": "low"}, {"id": "yard"}],
                          paths=[{"from": "low", "to": "yard"}], deeds=[deed("ring", "add 1 bells")],
                          spawns=[{"id": "p", "x": 1, "y": 3, "zone": "low"}])  # fmt: skip
        start = play_level("start", way("on", "hall"), way("end", "won", opens="at least 1 bells"),
                           deeds=[deed("find", "gain key", when="never")])  # fmt: skip
        prover = proofs_of(flow(start, hall, facts=("key", "bells:3")))
        self.assertEqual(texts(prover.routes.route_to("deed", ("hall", "ring"))), ["exit start.on", "deed hall.ring"])

    def test_what_cannot_be_come_to_has_no_route(self):
        self.assertIsNone(self.routes.route_to("level", "nowhere"))

    def test_where_looking_takes_too_long_a_near_goal_is_found_greedily_or_none(self):
        prover = proofs_of(marsh(), Limits(route_subgoals=5))
        search = RegressionAStar(SearchSpace(prover.routes.graph, moves))
        with self.assertRaises(GivenUp):
            search.nearest(dict.fromkeys(prover.routes.graph.endings(), 1))
        (won,) = prover.uses()["ending"].transitions
        found = prover.route_by("ending", prover.uses()["ending"].states[0], won)
        self.assertIsNotNone(final_state(Rules(marsh()), texts(found)))
        self.assertFalse(is_shortest(found))

    def test_moves_that_gain_what_is_to_be_lacked_are_left_out(self):
        two = self.prover.program.layout.facts["two"].mask
        quay = [
            discrete
            for discrete in self.prover.routes.graph.edges
            if self.prover.program.locations[discrete[0]].place == "quay"
        ]
        self.assertEqual(texts(self.routes.route_lacking(two, quay)), [*FAR, "exit start.gate"])
        both = two | self.prover.program.layout.facts["one"].mask
        self.assertIsNone(self.routes.route_lacking(both, quay))


class OneSearchAfterTheOther(unittest.TestCase):
    """What is kept of searches against searching afresh."""

    def test_costs_stay_the_least_and_bounds_stay_below(self):
        raised = kept = 0
        for seed in range(400):
            routes = proofs_of((growing_flow, gathering_flow, roaming_flow)[seed % 3](seed)).routes
            if routes is None or routes.graph.system.start is None:
                continue
            space = SearchSpace(routes.graph, (moves, crossings_first)[seed % 2])

            def afresh(goal, space=space):
                search = RegressionAStar(space)
                return search.cost(goal) if search.nearest({goal: 0}) else None

            search = RegressionAStar(space)
            needs = [(discrete, needed) for discrete, edges in routes.graph.edges.items() for edge in edges
                     for needed in edge.needs]  # fmt: skip
            for goal in needs:
                found = search.nearest({goal: 0})
                self.assertEqual(found and search.cost(found), afresh(goal), (seed, goal))
            self.assertTrue(all(search.cost(goal) == afresh(goal) for goal in search.known_costs), seed)
            bounds = {(discrete, 0): least for discrete, least in search.least.items()} | search.bounds
            for subgoal, bound in bounds.items():
                cost = afresh(subgoal)
                self.assertTrue(cost is None or bound <= cost, (seed, subgoal))
            raised += sum(least > space.h_max.cost[discrete] for discrete, least in search.least.items())
            kept += len(search.bounds.keys() - search.known_costs.keys())
        self.assertGreater(raised, 20)
        self.assertGreater(kept, 20)


class Counting(unittest.TestCase):
    def setUp(self):
        steps = [deed("fill", "add 1 oil", repeats="always")]
        self.prover = proofs_of(flow(
            play_level("shed", way("out", "quay", opens="at least 3 oil"), deeds=steps),
            play_level("quay", way("sail", "won", opens="at least 5 oil"), way("back", "shed")), facts=("oil:9",)))  # fmt: skip

    def test_a_count_is_raised_as_often_as_it_is_asked_for(self):
        self.assertEqual(len(self.prover.routes.route_to("level", "quay")), 4)
        self.assertEqual(len(self.prover.routes.route_to("ending", "won")), 7)

    def test_the_floor_is_exact_where_one_thing_follows_another(self):
        program = self.prover.program
        h_max = HMax(self.prover.routes.graph, moves, program.start)
        least = {program.locations[discrete[0]].place: cost for discrete, cost in h_max.cost.items()}
        self.assertEqual(least, {"shed": 0, "quay": 4})
        by_arrivals = HMax(self.prover.routes.graph, crossings_first, program.start)
        least = {program.locations[discrete[0]].place: cost for discrete, cost in by_arrivals.cost.items()}
        self.assertEqual(least, {"shed": 0, "quay": CROSSING + 4})
        self.assertEqual(HMax(self.prover.routes.graph, moves, program.start, frozenset({"shed"})).cost, {})


class Promises(unittest.TestCase):
    def holds(self, **fields):
        kept = prove_promise(Promise(id="p", **fields), proofs_of(marsh()))
        return kept.holds, texts(kept.route)

    def test_can_and_never_with_a_shortest_route(self):
        self.assertEqual(self.holds(kind="can", level="quay", when="has one"), ("yes", [*FAR, "exit start.gate"]))
        self.assertEqual(self.holds(kind="never", level="quay", when="has two"), ("no", [*NEAR, "exit start.gate"]))
        self.assertEqual(self.holds(kind="never", level="quay", when="lacks one and lacks two"), ("yes", None))

    def test_what_a_promise_asks_to_be_absent_does_not_count_as_growing(self):
        holds, route = self.holds(kind="can", level="quay", when="lacks two and has i3")
        self.assertEqual((holds, len(route)), ("yes", len(FAR) + 2))

    def test_levels_to_avoid(self):
        without = {"kind": "can", "level": "quay", "avoiding": ("near",)}
        self.assertEqual(self.holds(**without), ("yes", [*FAR, "exit start.gate"]))
        self.assertEqual(self.holds(**without | {"avoiding": ("near", "far")}), ("no", None))
        self.assertEqual(self.holds(**without | {"avoiding": ("start",)}), ("no", None))

    def test_within_so_many_crossings(self):
        self.assertEqual(self.holds(kind="within", level="quay", crossings=3), ("yes", [*NEAR, "exit start.gate"]))
        self.assertEqual(self.holds(kind="within", level="quay", crossings=2), ("no", None))
        self.assertEqual(self.holds(kind="within", ending="won", crossings=5)[0], "no")
        self.assertEqual(self.holds(kind="within", ending="won", crossings=6)[0], "yes")

    def test_always(self):
        self.assertEqual(self.holds(kind="always_can", ending="won"), ("yes", None))
        self.assertEqual(self.holds(kind="always_can", level="near", when="has i7"), ("yes", None))
        self.assertEqual(self.holds(kind="always_can", level="near", when="lacks two"), ("no", NEAR[:2]))


if __name__ == "__main__":
    unittest.main()
