"""Sets of states that give each its number, looked up and filled a whole array at a time."""

import numpy as np

from mossy_bridge.reach.arrays import Bools, Ints, Numbers, Vectors


class _StateSet:
    """Every state found so far, in columns that grow."""

    def __init__(self, columns: int):
        self.count = 0
        self.states = np.zeros((1 << 12, columns), dtype=np.uint64)

    def _add(self, states: Vectors) -> Ints:
        """The numbers of states that are new."""
        needed = self.count + len(states)
        if needed > len(self.states):
            grown = np.zeros((2 * needed, self.states.shape[1]), np.uint64)
            grown[: self.count] = self.states[: self.count]
            self.states = grown
        self.states[self.count : needed] = states
        self.count = needed
        return np.arange(needed - len(states), needed, dtype=np.int32)


class DirectStateSet(_StateSet):
    """For short states: a table indexed by the state itself holds its number plus one."""

    def __init__(self, bits: int):
        super().__init__(1)
        self._table = np.zeros(1 << bits, dtype=np.int32)

    def numbers_of(self, states: Vectors) -> tuple[Ints, Numbers]:
        """The numbers of states, new ones added in their order; and the index of the first of each new one."""
        place = states[:, 0].astype(np.int64)
        found = self._table[place]
        new = np.flatnonzero(found == 0)
        added = new
        if len(new):
            backwards = new[::-1]
            self._table[place[backwards]] = backwards  # the first is written last
            added = new[self._table[place[new]] == new]
            self._table[place[added]] = self._add(states[added]) + 1
            found[new] = self._table[place[new]]
        found -= 1
        return found, added


class HashedStateSet(_StateSet):
    """For long states: a hash table with open addressing and linear probing, worked on a whole array at a time."""

    def __init__(self, columns: int):
        super().__init__(columns)
        self._table = np.full(1 << 14, -1, dtype=np.int32)

    def numbers_of(self, states: Vectors) -> tuple[Ints, Numbers]:
        """The numbers of states, new ones added in their order; and the index of the first of each new one."""
        self._make_room(len(states))
        place = _mixed(states) & (len(self._table) - 1)
        numbers = self._table[place]
        other = numbers < 0
        for column in range(states.shape[1]):
            other |= self.states[numbers, column] != states[:, column]
        leftover = np.flatnonzero(other)
        numbers[leftover], added = self._placed(states[leftover], place[leftover])
        return numbers, leftover[added]

    def _placed(self, states: Vectors, place: Numbers) -> tuple[Ints, Numbers]:
        table, mask = self._table, len(self._table) - 1
        stands = np.zeros(len(states), dtype=np.int64)
        todo = np.arange(len(states))
        while len(todo):
            at = place[todo]
            free = table[at] == -1
            # whoever writes last has the place; -2 and below are states of this call
            table[at[free]] = (-2 - todo[free]).astype(np.int32)
            here = table[at]
            same = self._same(todo, here, states)
            stands[todo[same]] = at[same]
            todo = todo[~same]
            place[todo] = (place[todo] + 1) & mask
        unplaced = np.flatnonzero(table[stands] < 0)
        # of equal states the first is numbered, so that numbers follow the order
        first = np.full(len(states), len(states), dtype=np.int64)
        writer = -2 - table[stands[unplaced]].astype(np.int64)
        np.minimum.at(first, writer, unplaced)
        added = unplaced[first[writer] == unplaced]
        table[stands[added]] = self._add(states[added])
        return table[stands], added

    def _same(self, todo: Numbers, here: Ints, states: Vectors) -> Bools:
        """Whether the entry in the table equals the state that probes it."""
        old = here >= 0
        found = np.zeros(len(todo), dtype=np.bool_)
        for known, all_states, numbers in (
            (old, self.states, here[old]),
            (~old, states, -2 - here[~old].astype(np.int64)),
        ):
            mine = todo[known]
            same = np.ones(len(mine), dtype=np.bool_)
            for column in range(states.shape[1]):
                same &= all_states[numbers, column] == states[mine, column]
            found[known] = same
        return found

    def _make_room(self, more: int) -> None:
        needed = self.count + more
        if 2 * needed > len(self._table):
            self._table = np.full(1 << (6 * needed).bit_length(), -1, dtype=np.int32)
            for first in range(0, self.count, 1 << 16):
                self._fill(np.arange(first, min(first + (1 << 16), self.count)))

    def _fill(self, todo: Numbers) -> None:
        mask = len(self._table) - 1
        place = _mixed(self.states[todo]) & mask
        while len(todo):
            free = self._table[place] == -1
            self._table[place[free]] = todo[free].astype(np.int32)
            left = self._table[place] != todo
            todo, place = todo[left], (place[left] + 1) & mask


def _mixed(states: Vectors) -> Numbers:
    """A number for each state, like ones spread far apart (multiplying by an odd constant and folding the high
    bits back, as in the finaliser of the generator SplitMix64; Steele, Lea and Flood 2014)."""
    found = np.zeros(len(states), dtype=np.uint64)
    for column in range(states.shape[1]):
        found ^= states[:, column]
        found *= np.uint64(0xBF58476D1CE4E5B9)
        found ^= found >> np.uint64(29)
        found *= np.uint64(0x94D049BB133111EB)
        found ^= found >> np.uint64(32)
    return (found >> np.uint64(1)).astype(np.int64)
