"""The richest pick up whatever lies about; on a route of theirs to somewhere most of that is of no use."""

from mossy_bridge.reach.formulas import Cubes
from mossy_bridge.reach.richest import Richest
from mossy_bridge.reach.tallies import Tallies


def trimmed(found: Richest, tallies: Tallies, number: int, need: int) -> list[int]:
    """The rows by which a state was come to, without those that stay where they are and give nothing that is needed, be
    it at the end or by another row."""
    kept: list[int] = []
    step = found.came[number]
    while step:
        before, row = step
        control, word = found.states[before]
        move = found.machine.rows[row]
        idle = found.states[number] == (control, word | found.states[number][1] & found.grows)
        left = tallies.before(row, need)
        if left is None or not isinstance(move.asks, Cubes):
            return found.rows_to(number) + kept[::-1]
        if not (idle and left == need):
            kept.append(row)
            asked = (value for mask, value in move.asks.cubes if word & mask == value)
            need = left | next(asked) & found.grows
        number = before
        step = found.came[number]
    return kept[::-1]
