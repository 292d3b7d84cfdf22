"""What is certain of the words in each place, whatever is played: bits that no possible move ever changes, and facts of
a visit in levels where nothing changes them. So some conditions always hold, some never, and some effects do nothing.

Every arrival gives the facts of a visit their first values. As long as nothing in a level changes one, it has that
value in every state there."""

from mossy_bridge.reach.effects import Assign, Effect
from mossy_bridge.reach.formulas import ALWAYS, Cubes
from mossy_bridge.reach.machine import ENDING, Machine, Row


class Certain:
    """What is certain in one flow, all of whose controls are compiled."""

    def __init__(self, machine: Machine):
        self._machine = machine
        self.never = [False] * len(machine.rows)
        """For each row whether what it asks for is so in no state."""
        self._known: list[tuple[int, int]] = []
        """For each control the bits that are certain, and their values."""
        for _ in range(2):  # the second time without what the first has shown to be impossible
            self._know_fixed()
            self.never = list(map(self._is_shut, machine.rows))
        if machine.visiting.clear & ~self._known[0][0]:
            self._know_visits()
            self.never = list(map(self._is_shut, machine.rows))

    def _know_fixed(self) -> None:
        """What no possible move changes is certain everywhere."""
        start = self._machine.start[1] if self._machine.start else 0
        changed = 0
        for row, never in zip(self._machine.rows, self.never, strict=True):
            if row.does and not never:
                changed |= _changed(row.does, start)
        self._known = [(~changed, start & ~changed)] * max(1, len(self._machine.controls))

    def _is_shut(self, row: Row) -> bool:
        if row.asks is ALWAYS or not isinstance(row.asks, Cubes):
            return False
        known, word = self._known[row.control]
        return all((word ^ value) & mask & known for mask, value in row.asks.cubes)

    def _know_visits(self) -> None:
        """Adds what is certain of facts that each arrival sets anew."""
        machine = self._machine
        fixed, value = self._known[0]
        visit, first = machine.visiting.clear & ~fixed, machine.visiting.set
        changed = {level.id: _changed(machine.arriving(level.id), first) for level in machine.rules.flow.levels}
        for row in machine.rows:
            if row.target != ENDING and not row.crosses:
                changed[machine.controls[row.control].place] |= _changed(row.does, first)
        for number, control in enumerate(machine.controls):
            steady = visit & ~changed[control.place]
            self._known[number] = fixed | steady, value | first & steady

    def holds(self, row: Row, but: int = 0) -> bool:
        """Whether what a row asks for, but for some bits, is so in every state with its control."""
        if row.asks is ALWAYS:
            return True
        if not isinstance(row.asks, Cubes):
            return False
        known, word = self._known[row.control]
        return any(not mask & ~but & ~(known & ~(word ^ value)) for mask, value in row.asks.cubes)

    def still(self, row: Row) -> bool:
        """Whether a row changes no word there may be with its control."""
        known, word = self._known[row.control]
        for part in row.does:
            if not isinstance(part, Assign) or part.set & ~(known & word) or part.clear & ~part.set & ~(known & ~word):
                return False
        return True


def _changed(effect: Effect, word: int) -> int:
    """The bits that an effect may make other than they are in a word."""
    found = 0
    for part in effect:
        found |= part.done(word) ^ word if isinstance(part, Assign) else part.field.mask
    return found
