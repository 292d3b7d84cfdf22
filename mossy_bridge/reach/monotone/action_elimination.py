"""Action elimination: leaves out of a route the moves that give nothing needed later.

Routes into maximal states gain everything that can be gained; for one target most of that is of no use. (Redundant
actions of a plan, Fink and Yang 1992; here in one pass backwards, which finds those that stay where they are.)
"""

from mossy_bridge.reach.monotone.antichain_search import MaximalStates
from mossy_bridge.reach.monotone.pseudo_boolean import Tallies
from mossy_bridge.reach.system.guards import Cubes


def without_redundant_moves(found: MaximalStates, tallies: Tallies, number: int, need: int) -> list[int]:
    """The transitions by which a state was reached, without those that stay where they are and give nothing that is
    needed, be it at the end (``need``) or by another transition."""
    kept: list[int] = []
    link = found.parents[number]
    while link:
        before, number_of_transition = link
        location, vector = found.states[before]
        transition = found.system.transitions[number_of_transition]
        stays = found.states[number] == (location, vector | found.states[number][1] & found.monotone)
        left = tallies.regress(number_of_transition, need)
        if left is None or not isinstance(transition.guard, Cubes):
            return found.transitions_to(number) + kept[::-1]
        if not (stays and left == need):
            kept.append(number_of_transition)
            needed = (value for mask, value in transition.guard.cubes if vector & mask == value)
            need = left | next(needed) & found.monotone
        number = before
        link = found.parents[number]
    return kept[::-1]
