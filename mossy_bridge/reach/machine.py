"""The flow compiled: for every place to be in, what moves ask of the word there and what they do to it.

A state is a :class:`Control` and a word (see :mod:`mossy_bridge.reach.layout`). Where moves lead depends on the control
alone; whether they are possible, on the word alone. So all moves of a control are worked out once, from the rules of
play, however many states have it.
"""

from collections.abc import Callable, Iterable, Iterator
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from mossy_bridge.language.evaluation import unknown_in_effect
from mossy_bridge.language.parsing import parse_effect
from mossy_bridge.play.cursor import tiles_in_reach
from mossy_bridge.play.destinations import Landing, Leads, Target
from mossy_bridge.play.prepared import ReadyDeed, ReadyExit
from mossy_bridge.play.rules import NONE, Rules
from mossy_bridge.play.state import Move, Origin, State
from mossy_bridge.reach.effects import Assign, Effect, Part, done, joined, part_of
from mossy_bridge.reach.formulas import ALWAYS, NEVER, Cubes, Formula, Formulas, every, in_reach
from mossy_bridge.reach.layout import Layout
from mossy_bridge.reach.limits import LIMITS, Limits
from mossy_bridge.reach.reusing import untouched
from mossy_bridge.reach.tracking import Control, Tracking

ENDING = -1
"""The target of a row that leads into an ending, instead of a control's number."""

Stopper = Callable[[], bool]
"""Asked now and then; true when work must stop."""


class Row(Struct, frozen=True, gc=False):
    """One move of one control: what it asks of the word, what it does to it, and the control it leads to."""

    control: int
    move: Move
    asks: Formula
    does: Effect
    target: int
    ending: str = ""
    fresh: bool = False
    """Whether the move fires a ``fresh`` exit."""
    sprung: bool = False
    """Whether the move is forced wherever it is possible; of several, the first."""
    path: tuple[str, str, str] | None = None
    """For a path walked in either direction: its level and ends as written."""

    @property
    def crosses(self) -> bool:
        """Whether the move is an arrival."""
        return self.target != ENDING and self.move.kind in ("exit", "tile")


_Row = tuple[int, int, Formula | None, int, int, Effect | None, int, int]
"""A row ready to be tried: mask and value, or a formula; bits to keep and set, or an effect; target; number."""
Ready = tuple[list[_Row], list[_Row]]
"""The rows of one control: those that may be forced, and the free ones."""


class Machine:
    """All controls and rows of one flow. ``start`` is the control's number and the word, None without a start.
    What was compiled for an earlier flow (``before``) is used again where it has not changed; only numbers, which
    follow from the order of compiling, are given anew."""

    def __init__(
        self,
        rules: Rules,
        also_asked: Iterable[str] = (),
        before: "Machine | None" = None,
        limits: Limits = LIMITS,
    ):
        self.rules, self.limits = rules, limits
        self.tracking: Tracking = Tracking(rules, also_asked, before.tracking if before else None)
        self.layout = Layout(rules.flow, self.tracking, limits)
        self.controls: list[Control] = []
        self.rows: list[Row] = []
        self.first_row: list[int] = [0]
        """Where the rows of each compiled control begin, and after the last one where they end."""
        self._numbers: dict[Control, int] = {}
        self._ready: list[Ready | None] = []
        self._facts = tuple(fact.first for fact in rules.flow.facts)
        per_visit = {(lv.id, deed.id) for lv in rules.flow.levels for deed in lv.deeds if deed.repeats == "visit"}
        spent = sum(bit for deed, bit in self.layout.spent.items() if deed in per_visit)
        self.visiting = self._afresh(("visit",)).then(Assign(spent, 0))
        """What every arrival does."""
        self._untouched = untouched(self, before) if before else NONE
        known = before if self._untouched else None
        self.formulas: Formulas = known.formulas if known else Formulas(self.layout, rules.words, limits)
        self._arriving: dict[str, Effect] = {
            name: known._arriving[name] if known and name in self._untouched else joined(self._on_arrival(name))
            for name in rules.levels
        }
        self._anew = self._new_run()
        self._before = known
        if before:
            before._before = None  # so that not all that ever were are kept
        begun = rules.begin()
        self.start = None if begun is None else self.packed(begun)

    # -- states ----------------------------------------------------------------------------------------

    def packed(self, state: State) -> tuple[int, int]:
        """The number of the state's control, and its word."""
        word = self.layout.word(state.facts, state.seen, state.done, state.spent)
        return self._number_of(self.tracking.control(state)), word

    def state(self, control: int, word: int) -> State:
        """A state with this control and word, all that is not tracked at its first value."""
        place, zone, respawn, origin, arrived = self.controls[control]
        layout = self.layout
        held = [frozenset(thing for thing, bit in bits.items() if word & bit) for bits in (layout.seen, layout.done)]
        spent = frozenset(deed for deed, bit in layout.spent.items() if word & bit)
        return State(place, zone, layout.values(word), held[0], held[1], spent, respawn, origin, arrived)

    def sample(self, control: int) -> State:
        """A state with the control; its facts mean nothing."""
        place, zone, respawn, origin, arrived = self.controls[control]
        return State(place, zone, self._facts, NONE, NONE, frozenset(), respawn, origin, arrived)

    def in_play(self, control: int) -> bool:
        """Whether a control is in a play level."""
        return self.rules.levels[self.controls[control].place].source.kind == "play"

    def _number_of(self, control: Control) -> int:
        found = self._numbers.get(control)
        if found is None:
            found = self._numbers[control] = len(self.controls)
            self.controls.append(control)
        return found

    # -- rows ------------------------------------------------------------------------------------------

    def rows_of(self, control: int) -> range:
        """The numbers of the control's rows, forced ones first, in the order of the rules. Compiles all controls
        up to this one."""
        while control >= len(self.first_row) - 1:
            self._compile(len(self.first_row) - 1)
        return range(self.first_row[control], self.first_row[control + 1])

    def compile_all(self, stop: Stopper) -> bool:
        """Compiles every control that moves may lead to, whatever they ask; False if stopped."""
        while len(self.first_row) <= len(self.controls):
            if len(self.first_row) % 64 == 0 and stop():
                return False
            self._compile(len(self.first_row) - 1)
        self._before = None  # of which no more is needed
        return True

    def _compile(self, control: int) -> None:
        if not self._compile_again(control):
            self._compile_anew(control)
        self.first_row.append(len(self.rows))

    def _compile_again(self, control: int) -> bool:
        """Takes over the rows of a control of the machine before, if they hold."""
        before, place = self._before, self.controls[control]
        number = before._numbers.get(place) if before and place.place in self._untouched else None
        if before is None or number is None or number >= len(before.first_row) - 1:
            return False
        same = number == control and before.first_row[number] == len(self.rows)
        for row in before.rows[before.first_row[number] : before.first_row[number + 1]]:
            target = row.target if row.target == ENDING else self._number_of(before.controls[row.target])
            alike = row.control == control and row.target == target
            same = same and alike
            self.rows.append(row if alike else replace(row, control=control, target=target))
        self._ready.append(before._ready[number] if same else None)
        return True

    def _compile_anew(self, control: int) -> None:
        here = self.sample(control)
        sprung = list(self._sprung_rows(control, here))
        self.rows += sprung
        if not any(row.asks is ALWAYS for row in sprung):
            self.rows += self._free_rows(control, here)
        self._ready.append(None)

    def _sprung_rows(self, control: int, here: State) -> Iterator[Row]:
        rules = self.rules
        for exit_ in rules.levels[here.place].exits:
            kind = exit_.source.trigger.kind
            armed = kind == "touch" and here.arrived and here.respawn in exit_.armed_at and rules.within(exit_, here)
            if (kind == "auto" or armed) and not rules.comes_to_resume(exit_, here):
                yield from self._exit_row(control, here, exit_, sprung=True)

    def _free_rows(self, control: int, here: State) -> Iterator[Row]:
        rules = self.rules
        level = rules.levels[here.place]
        for path in level.source.paths:
            ends = {path.end: path.start, path.start: path.end} if path.both_ways else {path.start: path.end}
            known = {path.start, path.end} <= {zone.id for zone in level.source.zones}
            if known and here.zone in ends:
                yield from self._path_row(control, here, (path.start, path.end), ends[here.zone], path.when)
        for deed in level.deeds:
            if not level.zones or deed.source.zone in ("", here.zone):
                yield from self._deed_row(control, here, deed)
        for exit_ in level.exits:
            kind = exit_.source.trigger.kind
            if kind != "auto" and (kind not in ("touch", "press") or rules.within(exit_, here)):
                yield from self._exit_row(control, here, exit_, sprung=False)
        if level.tiles:
            yield from self._tile_rows(control, here)

    def asked_by_exit(self, exit_: ReadyExit, here: State) -> Formula:
        """What being open asks of the word, in a state with the same control as this one."""
        return self._asked(exit_, self.rules.target(exit_, here))

    def _asked(self, exit_: ReadyExit, target: Target) -> Formula:
        if not exit_.by_player or not isinstance(target, Landing | Leads):
            return NEVER
        texts = [exit_.source.trigger.when, exit_.source.opens]
        if isinstance(target, Landing) and not target.restart:
            texts.append(self.rules.levels[target.level].source.opens)
        return every(map(self.formulas.of, texts), self.limits)

    def _exit_row(self, control: int, here: State, exit_: ReadyExit, sprung: bool) -> Iterator[Row]:
        move, fresh = Move("exit", here.place, exit_.source.id), exit_.source.fresh
        target = self.rules.target(exit_, here)
        asks = self._asked(exit_, target)
        if asks is NEVER:
            return
        if not isinstance(target, Landing):
            ending = target.ending if isinstance(target, Leads) else ""
            yield Row(control, move, asks, (), ENDING, ending, fresh, sprung)
            return
        parts: list[Part] = list(self._parts(exit_.source.effects))
        if exit_.source.completes:
            parts.append(Assign(0, self.layout.done.get(here.place, 0)))
        parts += [self._anew] if fresh else []
        parts += self._arriving[target.level]
        left_play = self.rules.levels[here.place].source.kind == "play"
        origin = Origin(here.place, here.respawn) if left_play else here.origin
        lands = self._landed(here._replace(origin=None if fresh else origin), target)
        yield Row(control, move, asks, joined(parts), lands, "", fresh, sprung)

    def _path_row(self, control: int, here: State, path: tuple[str, str], end: str, when: str) -> Iterator[Row]:
        asks = self.formulas.of(when)
        if asks is NEVER:
            return
        there = self._number_of(self.tracking.control(here._replace(zone=end, arrived=False)))
        move = Move("path", here.place, here.zone, end)
        yield Row(control, move, asks, (), there, path=(here.place, *path))

    def _deed_row(self, control: int, here: State, deed: ReadyDeed) -> Iterator[Row]:
        source = deed.source
        spent = self.layout.spent.get((here.place, source.id), 0)
        asked = [self.formulas.of(source.when), *([Cubes(((spent, 0),))] if spent else [])]
        asks = every(asked, self.limits)
        if asks is NEVER:
            return
        after = here._replace(respawn=deed.checkpoint or here.respawn, arrived=False)
        does = joined([*self._parts(source.effects), Assign(0, spent)])
        there = self._number_of(self.tracking.control(after))
        yield Row(control, Move("deed", here.place, source.id), asks, does, there)

    def _tile_rows(self, control: int, here: State) -> Iterator[Row]:
        board = self.rules.levels[here.place]
        opens, landings = {}, {}
        for tile in board.tiles.values():
            landing = self.rules.landing_of(tile)
            if landing:
                landings[tile.id] = landing
                opens[tile.id] = self.formulas.of(self.rules.levels[tile.level].source.opens)
        always = frozenset() if board.source.cursor == "open" else frozenset(opens)
        near = frozenset(tiles_in_reach(board.source, always))
        neighbours = {tile.id: tile.neighbours for tile in board.source.tiles}
        for name in landings:
            if board.source.cursor != "open" and name not in near:
                continue
            asks = [opens[name]]
            if name not in near:
                asks.append(in_reach(board.source, name, opens, neighbours, self.limits))
            whole = every(asks, self.limits)
            if whole is not NEVER:
                there = self._landed(here, landings[name])
                yield Row(control, Move("tile", here.place, name), whole, self._arriving[landings[name].level], there)

    def _landed(self, here: State, landing: Landing) -> int:
        zone = self.rules.levels[landing.level].zone_at[landing.spawn]
        there = here._replace(place=landing.level, zone=zone, respawn=landing.spawn, arrived=True)
        return self._number_of(self.tracking.control(there))

    # -- moves -----------------------------------------------------------------------------------------

    def moves(self, control: int, word: int) -> list[tuple[int, int, int]]:
        """Every move that is possible in a state: its row, and the control (or ENDING) and word it leads to; a forced
        move is the only one."""
        while control >= len(self._ready):
            self._compile(len(self._ready))
        ready = self._ready[control]
        if ready is None:
            ready = self._ready[control] = made_ready((number, self.rows[number]) for number in self.rows_of(control))
        return possible(ready, word)

    # -- effects ---------------------------------------------------------------------------------------

    def arriving(self, place: str) -> Effect:
        """What an arrival at a level does."""
        return self._arriving[place]

    def _parts(self, effects: Iterable[str]) -> Iterator[Part]:
        words, layout = self.rules.words, self.layout
        for effect in map(parse_effect, effects):
            if effect.fact in layout.facts and not unknown_in_effect(effect, words):
                field = layout.facts[effect.fact]
                yield part_of(effect, field, field.bits(words.facts[effect.fact].first))

    def _afresh(self, lifetimes: tuple[str, ...]) -> Assign:
        found = Assign()
        for fact in self.rules.flow.facts:
            if fact.lifetime in lifetimes and fact.id in self.layout.facts:
                field = self.layout.facts[fact.id]
                found = found.then(Assign(field.mask, field.bits(fact.first)))
        return found

    def _on_arrival(self, name: str) -> Iterator[Part]:
        yield self.visiting.then(Assign(0, self.layout.seen.get(name, 0)))
        yield from self._parts(self.rules.levels[name].source.on_arrival)

    def _new_run(self) -> Assign:
        layout = self.layout
        gone = sum(layout.spent.values())
        if self.rules.flow.progress == "run":
            gone += sum(layout.seen.values()) + sum(layout.done.values())
        return self._afresh(("run", "visit")).then(Assign(gone, 0))


def made_ready(rows: Iterable[tuple[int, Row]]) -> Ready:
    """The rows of one control, by their numbers, ready to be tried."""
    forced: list[_Row] = []
    free: list[_Row] = []
    for number, row in rows:
        mask, value = (0, 0)
        formula: Formula | None = row.asks
        if isinstance(row.asks, Cubes) and len(row.asks.cubes) == 1:
            (mask, value), formula = row.asks.cubes[0], None
        clear, more = (0, 0)
        effect: Effect | None = row.does
        if all(isinstance(part, Assign) for part in row.does):  # at most one
            first = row.does[0] if row.does else Assign()
            clear, more, effect = first.clear, first.set, None  # type: ignore[union-attr]
        (forced if row.sprung else free).append((mask, value, formula, ~clear, more, effect, row.target, number))
    return forced, free


def possible(ready: Ready, word: int) -> list[tuple[int, int, int]]:
    """Every move that is possible with a word: its row, and the control (or ENDING) and word it leads to; a forced move
    is the only one."""
    found = []
    for rows in ready:
        for mask, value, formula, kept, more, effect, target, row in rows:
            if word & mask == value and (formula is None or formula.holds(word)):
                after = (word & kept) | more if effect is None else done(effect, word)
                found.append((row, target, after))
                if rows is ready[0]:
                    return found
    return found


def used_for(row: Row) -> Iterator[tuple[str, Any]]:
    """Everything that a row makes use of, as its kind and place."""
    yield row.move.kind, row.path or (row.move.level, row.move.thing)
    if row.ending:
        yield "ending", row.ending


def first_uses(rows: list[Row], used: dict[int, int]) -> dict[tuple[str, Any], tuple[int, Row]]:
    """For everything that some row makes use of, the first state from which one does, and the row. ``used`` has the
    first state for each row in use."""
    found: dict[tuple[str, Any], tuple[int, Row]] = {}
    for index, number in used.items():
        row = rows[index]
        for key in used_for(row):
            if key not in found or number < found[key][0]:
                found[key] = (number, row)
    return found
