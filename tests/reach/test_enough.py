"""What is enough to come to an ending, gaps, and what follows from them, by hand."""

import unittest

from msgspec.structs import replace

from mossy_bridge.play.rules import Rules
from mossy_bridge.play.walking import final_state
from mossy_bridge.reach.enough import Enough, Ways
from mossy_bridge.reach.growing import growing
from mossy_bridge.reach.joining import Joined
from mossy_bridge.reach.machine import Machine
from mossy_bridge.reach.richest import richest
from mossy_bridge.reach.survey import surveyed
from tests.support.build import deed, flow, play_level, way
from tests.support.proofs import proofs_of


def never():
    return False


def enough_of(flow_):
    """The machine, what is enough, and the rest of the states in each level."""
    machine = Machine(Rules(flow_))
    machine.compile_all(never)
    joined, grows = Joined(machine), growing(machine).bits
    ways = Ways(joined, grows, richest(joined, grows, never, [joined.start]).best)
    places = {level: rest for rest in ways.of for level in joined.levels[rest[0]]}
    return machine, Enough(ways, ways.endings(), never), places


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
        machine, enough, places = enough_of(trap())
        keys = {machine.layout.facts[name].mask for name in ("k1", "k2")}
        self.assertEqual(set(enough.least[places["cellar"]]), keys)
        self.assertEqual(enough.least[places["attic"]], [0])
        self.assertEqual(enough.least[places["hall"]], [0])  # the keys can still be had
        self.assertTrue(enough.exact)

    def test_a_gap_lacks_one_of_each(self):
        machine, enough, places = enough_of(trap())
        both = sum(machine.layout.facts[name].mask for name in ("k1", "k2"))
        self.assertEqual(enough.gaps(places["cellar"], 0), [both])
        self.assertEqual(enough.gaps(places["cellar"], machine.layout.facts["k1"].mask), [])
        self.assertEqual(enough.gaps(places["attic"], 0), [])

    def test_counts_are_enough_step_by_step(self):
        f = flow(play_level("a", way("x", "b"), deeds=[deed("d", "raise oil to 4")]),
                 play_level("b", way("y", "won", opens="at least 3 oil")), facts=("oil:5",))  # fmt: skip
        machine, enough, places = enough_of(f)
        oil = machine.layout.facts["oil"]
        self.assertEqual([oil.value(bits | (bits - 1)) for bits in enough.least[places["b"]]], [3])


class Stuck(unittest.TestCase):
    def test_who_drops_without_a_key_is_stuck_with_a_route_that_shows_it(self):
        proofs = proofs_of(trap())
        self.assertEqual([str(move) for move in proofs.route_into(proofs.stuck)], ["exit hall.drop"])

    def test_nobody_is_where_a_key_must_be_had_to_drop(self):
        f = trap()
        hall = f.levels[0]
        locked = replace(hall, exits=(replace(hall.exits[0], opens="has k1 or has k2"),))
        proofs = proofs_of(replace(f, levels=(locked, *f.levels[1:])))
        self.assertIs(proofs.stuck, False)

    def test_a_trap_among_forty_keys_is_found_and_its_route_replays(self):
        rooms = [play_level(f"r{i}", way("out", "hub"), deeds=[deed("d", f"gain k{i}")]) for i in range(40)]
        hub = play_level("hub", *(way(f"r{i}", f"r{i}") for i in range(40)), way("down", "well"))
        every = " and ".join(f"has k{i}" for i in range(40))
        well = play_level("well", way("up", "won", opens=f"has k3 and has k7 or has k20 or ({every})"))
        f = flow(hub, *rooms, well, facts=tuple(f"k{i}" for i in range(40)))
        survey = surveyed(f, 4)
        self.assertFalse(survey.settled)
        self.assertEqual(survey.stuck.answer, "yes")
        self.assertEqual(final_state(survey.rules, [str(move) for move in survey.stuck.route]).place, "well")
        self.assertEqual(survey.missed["r5"], "yes")

    def test_a_run_begun_anew_without_the_key_is_a_trap_too(self):
        f = flow(play_level("hall", way("drop", "cellar", opens="has k1"), deeds=[deed("one", "gain k1")]),
                 play_level("cellar", way("on", "won", opens="has k1"), way("again", "cellar", fresh=True)),
                 facts=("k1",))  # fmt: skip
        proofs = proofs_of(f)
        self.assertEqual(
            [str(move) for move in proofs.route_into(proofs.stuck)],
            ["deed hall.one", "exit hall.drop", "exit cellar.again"],
        )


if __name__ == "__main__":
    unittest.main()
