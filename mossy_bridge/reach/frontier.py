"""The search for every state, whole frontiers at a time, on columns of machine words.

A state is kept as a row of columns: its word, and the number of its control in bits of their own; so a move clears and
sets bits of the whole. Where many states of a frontier have the same control, each of its moves is tried on all of them
at once; where few have, all moves of all are tried together. New states are told from known ones by a table of places
that is filled and asked for long columns at a time.
"""

from collections.abc import Callable, Iterable
from math import inf

import numpy as np

from mossy_bridge.reach.arrays import Bools, Ints, Numbers, Words, spans
from mossy_bridge.reach.effects import Assign, Effect
from mossy_bridge.reach.formulas import Cubes, Formula, columns_of, cube_fits
from mossy_bridge.reach.graph import Graph
from mossy_bridge.reach.joining import Joined
from mossy_bridge.reach.layout import BITS
from mossy_bridge.reach.machine import ENDING, Machine, Stopper
from mossy_bridge.reach.wide import WideGraph


class _Rows:
    """The rows of a machine as columns. Controls stand above the highest bit that the layout uses, or in a column
    of their own."""

    def __init__(self, machine: Machine | Joined):
        layout, rows = machine.layout, machine.rows
        self.used, limits = layout.columns, machine.limits
        room = BITS - layout.spare
        width = max(1, (len(machine.first_row) - 2).bit_length())
        self.shift = (layout.columns - 1) * BITS + room if width <= layout.spare else layout.columns * BITS
        self.columns = layout.columns if width <= layout.spare else layout.columns + 1
        self.bits = self.shift + width
        self._control_mask = ((1 << width) - 1) << self.shift
        self.first = np.array(machine.first_row, dtype=np.int64)
        widest = int(np.diff(self.first).max(initial=1))
        self.chunk = max(16, min(limits.frontier_chunk, limits.chunk_cells // (widest * self.columns)))
        """How many states are gone on from at a time."""
        self.states_per_location = limits.states_per_location
        self.rows = rows
        self.ends = np.array([row.target == ENDING for row in rows], dtype=np.bool_)
        self.sprung = np.array([row.sprung for row in rows], dtype=np.bool_)
        self.any_sprung, self.any_ending = bool(self.sprung.any()), bool(self.ends.any())
        cubes = [row.asks.cubes[0] if _is_one_cube(row.asks) else (0, 0) for row in rows]  # type: ignore[attr-defined]
        self.mask = self.split([mask for mask, _ in cubes])
        self.value = self.split([value for _, value in cubes])
        changes = [self._change(row.does, row.target) for row in rows]
        self.kept = ~self.split([change.clear for change in changes])
        self.set = self.split([change.set for change in changes])
        self.formulas: list[Formula] = []
        self.effects: list[Effect] = []
        self.formula = _numbered([None if _is_one_cube(row.asks) else row.asks for row in rows], self.formulas)
        self.effect = _numbered([None if _is_assignment(row.does) else row.does for row in rows], self.effects)

    def _change(self, effect: Effect, target: int) -> Assign:
        own = effect[0] if effect and _is_assignment(effect) else Assign()
        assert isinstance(own, Assign)
        return own.then(Assign(self._control_mask, max(target, 0) << self.shift))

    def split(self, values: Iterable[int]) -> Words:
        """Long integers as rows of columns."""
        return np.array([columns_of(value, self.columns) for value in values], np.uint64).reshape(-1, self.columns)

    def control_of(self, states: Words) -> Ints:
        """The controls of states."""
        return (
            (states[:, self.shift // BITS] & np.uint64(self._control_mask >> (self.shift // BITS * BITS)))
            >> np.uint64(self.shift % BITS)
        ).astype(np.int32)

    def words_of(self, states: Words) -> Words:
        """The words of states."""
        words = states[:, : self.used].copy()
        if self.columns == self.used:
            words[:, -1] &= ~np.uint64(self._control_mask >> ((self.used - 1) * BITS))
        return words


def _numbered(values: Iterable[object], known: list) -> Ints:  # type: ignore[type-arg]
    """For each value its place among the different ones; -1 for None."""
    places: dict[object, int] = {}
    found = []
    for value in values:
        key = value if isinstance(value, Cubes | tuple) else id(value)
        if value is not None and key not in places:
            places[key] = len(known)
            known.append(value)
        found.append(-1 if value is None else places[key])
    return np.array(found, dtype=np.int32)


def _is_one_cube(formula: Formula) -> bool:
    return isinstance(formula, Cubes) and len(formula.cubes) == 1


def _is_assignment(effect: Effect) -> bool:
    return len(effect) == 0 or (len(effect) == 1 and isinstance(effect[0], Assign))


class _Store:
    """Every state found so far, in columns that grow."""

    def __init__(self, columns: int):
        self.count = 0
        self.states = np.zeros((1 << 12, columns), dtype=np.uint64)

    def _add(self, states: Words) -> Ints:
        """The numbers of states that are new."""
        needed = self.count + len(states)
        if needed > len(self.states):
            grown = np.zeros((2 * needed, self.states.shape[1]), np.uint64)
            grown[: self.count] = self.states[: self.count]
            self.states = grown
        self.states[self.count : needed] = states
        self.count = needed
        return np.arange(needed - len(states), needed, dtype=np.int32)


class _Few(_Store):
    """The states where there could not be many: a table says the number, plus one, of each."""

    def __init__(self, bits: int):
        super().__init__(1)
        self._table = np.zeros(1 << bits, dtype=np.int32)

    def numbers_of(self, states: Words) -> tuple[Ints, Numbers]:
        """The numbers of states, new ones added in their order; and where the first of each new one stands."""
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


class _Many(_Store):
    """The states where there may be more than any table has places for: the table is searched."""

    def __init__(self, columns: int):
        super().__init__(columns)
        self._table = np.full(1 << 14, -1, dtype=np.int32)

    def numbers_of(self, states: Words) -> tuple[Ints, Numbers]:
        """The numbers of states, new ones added in their order; and where the first of each new one stands."""
        self._make_room(len(states))
        place = _mixed(states) & (len(self._table) - 1)
        numbers = self._table[place]
        other = numbers < 0
        for column in range(states.shape[1]):
            other |= self.states[numbers, column] != states[:, column]
        rest = np.flatnonzero(other)
        numbers[rest], added = self._placed(states[rest], place[rest])
        return numbers, rest[added]

    def _placed(self, states: Words, place: Numbers) -> tuple[Ints, Numbers]:
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
        fresh = np.flatnonzero(table[stands] < 0)
        # of those that are one the first is numbered, so that numbers follow the order
        first = np.full(len(states), len(states), dtype=np.int64)
        writer = -2 - table[stands[fresh]].astype(np.int64)
        np.minimum.at(first, writer, fresh)
        added = fresh[first[writer] == fresh]
        table[stands[added]] = self._add(states[added])
        return table[stands], added

    def _same(self, todo: Numbers, here: Ints, states: Words) -> Bools:
        """Whether what stands at a place in the table is the state that looks there."""
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


def _mixed(states: Words) -> Numbers:
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


def swept(
    machine: Machine | Joined,
    starts: Iterable[tuple[int, int]],
    stop: Stopper,
    most_moves: float = inf,
    most_states: float = inf,
) -> Graph:
    """Breadth-first from the starts, until all is found, the stop, or about so many moves are made or states known.
    ``O(states × moves)``."""
    compiled = machine.compile_all(stop)
    rows = _Rows(machine)
    known = _Few(rows.bits) if rows.bits <= machine.limits.direct_table_bits else _Many(rows.columns)
    known.numbers_of(rows.split(word | control << rows.shift for control, word in starts))
    came = [np.full(known.count, -1, dtype=np.int32)]
    by = [np.zeros(known.count, dtype=np.int32)]
    depth = [np.zeros(known.count, dtype=np.int32)]
    edges: tuple[list[Ints], list[Ints], list[Ints]] = ([], [], [])
    looked_at, layer_end, layer, made = 0, known.count, 0, 0
    chunk = rows.chunk
    most = min(most_states, machine.limits.state_bytes // (8 * rows.columns))
    while compiled and looked_at < known.count < most and made < most_moves and not stop():
        if looked_at == layer_end:
            layer_end, layer = known.count, layer + 1
        end = min(looked_at + chunk, layer_end)
        source, row, target, added = _gone_on(rows, known, looked_at, end)
        for column, more in zip(edges, (source, row, target), strict=True):
            column.append(more)
        came.append(source[added])
        by.append(row[added])
        depth.append(np.full(len(added), layer + 1, dtype=np.int32))
        looked_at = end
        made += len(source)
    source, row, target = (_whole(column) for column in edges)
    states = known.states[: known.count]
    kind: Callable[..., Graph] = Graph if isinstance(machine, Machine) else WideGraph
    return kind(
        machine, rows.control_of(states), rows.words_of(states), np.concatenate(came), np.concatenate(by),
        np.concatenate(depth), source, row, target, looked_at,
    )  # fmt: skip


def _whole(parts: list[Ints]) -> Ints:
    """The parts as one column; they are given up, so that not everything is kept twice."""
    whole = np.concatenate([*parts, np.zeros(0, np.int32)])
    parts.clear()
    return whole


def _gone_on(rows: _Rows, known: _Few | _Many, first: int, end: int) -> tuple[Ints, Ints, Ints, Numbers]:
    """Every edge out of some states: sources, rows and targets; and which edges lead to new states."""
    states = known.states[first:end]
    control = rows.control_of(states)
    here = np.unique(control)
    if len(states) >= rows.states_per_location * len(here):
        source, row, after = _each_control(rows, states, control, here)
    else:
        source, row, after = _all_together(rows, states, control)
    if rows.effects:
        _take_effect(rows, row, after)
    if not rows.any_ending:
        target, added = known.numbers_of(after)
        return (source + first).astype(np.int32), row, target, added
    target = np.full(len(row), ENDING, dtype=np.int32)
    leads = np.flatnonzero(~rows.ends[row])
    target[leads], added = known.numbers_of(after[leads])
    return (source + first).astype(np.int32), row, target, leads[added]


def _take_effect(rows: _Rows, row: Ints, after: Words) -> None:
    """Makes those effects of rows that are no mere assignments."""
    special = rows.effect[row]
    for effect in np.unique(special[special >= 0]):
        which = np.flatnonzero(special == effect)
        changed = after[which]
        for part in rows.effects[effect]:
            part.apply(changed)
        after[which] = changed


def _each_control(rows: _Rows, states: Words, control: Ints, here: Ints) -> tuple[Numbers, Ints, Words]:
    """The possible moves, tried for one control after the other."""
    if len(here) == 1:
        return _of_control(rows, states, int(here[0]))
    sources, numbers, afters = [], [], []
    for one in here.tolist():
        mine = np.flatnonzero(control == one)
        source, number, after = _of_control(rows, states[mine], one)
        sources.append(mine[source])
        numbers.append(number)
        afters.append(after)
    source = np.concatenate(sources)
    order = np.argsort(source.astype(np.uint16), kind="stable")
    return source[order], np.concatenate(numbers)[order], np.concatenate(afters)[order]


def _of_control(rows: _Rows, words: Words, control: int) -> tuple[Numbers, Ints, Words]:
    """The possible moves of states with one control."""
    first, end = int(rows.first[control]), int(rows.first[control + 1])
    fits = np.empty((len(words), end - first), dtype=np.bool_)
    forced = np.zeros(len(words), dtype=np.bool_)
    for number in range(first, end):
        row = rows.rows[number]
        holds = cube_fits(words, *row.asks.cubes[0]) if _is_one_cube(row.asks) else row.asks.fits(words)  # type: ignore[attr-defined]
        if rows.any_sprung:
            holds &= ~forced
            forced |= holds & row.sprung
        fits[:, number - first] = holds
    source, place = np.nonzero(fits)
    kept, more = rows.kept[first:end], rows.set[first:end]
    return source, (place + first).astype(np.int32), (words[source] & kept[place]) | more[place]


def _all_together(rows: _Rows, states: Words, control: Ints) -> tuple[Numbers, Ints, Words]:
    """The possible moves, tried for all states at once."""
    first, end = rows.first[control], rows.first[control + 1]
    row = spans(first, end)
    source = np.repeat(np.arange(len(states)), end - first)
    here = states[source]
    possible = ((here & rows.mask[row]) == rows.value[row]).all(axis=1)
    formula = rows.formula[row]
    for number in np.unique(formula[formula >= 0]):
        which = np.flatnonzero(formula == number)
        possible[which] = rows.formulas[number].fits(here[which])
    source, row = source[possible], row[possible]
    if rows.any_sprung:
        source, row = _only_forced(rows, source, row)
    return source, row.astype(np.int32), (states[source] & rows.kept[row]) | rows.set[row]


def _only_forced(rows: _Rows, source: Numbers, row: Numbers) -> tuple[Numbers, Numbers]:
    """Where a row is forced, that one alone; rows are in order, forced ones first."""
    forced = rows.sprung[row]
    if not forced.any():
        return source, row
    leads = np.ones(len(source), dtype=np.bool_)
    leads[1:] = source[1:] != source[:-1]
    start = np.flatnonzero(leads)
    alone = np.repeat(forced[start], np.diff(np.append(start, len(source))))
    keep = ~alone | (leads & forced)
    return source[keep], row[keep]
