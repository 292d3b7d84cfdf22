"""The scene of the map, carried over from flow to flow: only what an edit touches is rebuilt."""

import re
from collections import defaultdict
from collections.abc import Callable, Generator, Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import Any, TypeVar, cast

from PyQt6.QtCore import QLineF, QPointF, QRectF

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.appraisal.standing import Standing
from mossy_bridge.desk.map.bridges import Bridge
from mossy_bridge.desk.map.cards import Card
from mossy_bridge.desk.map.courses import Connection, End
from mossy_bridge.desk.map.crossings import NOWHERE, Crossing, crossings_from
from mossy_bridge.desk.map.placing import (
    Ground,
    Layout,
    Placed,
    boxes,
    exit_rect,
    grounds,
    landing_inside,
    landing_point,
    laying_out,
    shows_plan,
)
from mossy_bridge.desk.map.routing import Route, Routing
from mossy_bridge.language.wording import Wording
from mossy_bridge.model.flow import Flow, Level, Tint
from mossy_bridge.model.level_changes import level_changes
from mossy_bridge.reach.queries.column_order import Pass
from mossy_bridge.reach.queries.crossing_columns import CrossingColumns

T = TypeVar("T")
BridgeName = tuple[str, str, str]
"""Level, exit and target."""
Name = str | BridgeName
EVERYWHERE = QRectF(-1e6, -1e6, 2e6, 2e6)
WORD = re.compile(r"\w+")
FEW = 100
"""Where no more bridges than this change, only what lies along them is painted anew; else all around them."""
STUB = 26.0
"""How long the stub of a broken crossing is."""
CELL = 700.0
"""The side of a cell of the index, in map units."""


@dataclass
class Faraway:
    """All beads and lines in one go, for looking from very far: points by mark, lines by colour."""

    points: dict[str, list[QPointF]] = field(default_factory=lambda: defaultdict(list))
    lines: dict[str, list[QLineF]] = field(default_factory=lambda: defaultdict(list))


class Index:
    """Which things are near a place: a grid of cells, each with the names of what touches it."""

    def __init__(self) -> None:
        self._cells: dict[tuple[int, int], dict[Name, None]] = defaultdict(dict)
        self._where: dict[Name, list[tuple[int, int]]] = {}

    def put(self, name: Name, bounds: QRectF) -> None:
        """Puts a thing where its bounds are, and nowhere else."""
        self.lift(name)
        self._where[name] = list(_cells(bounds))
        for cell in self._where[name]:
            self._cells[cell][name] = None

    def lift(self, name: Name) -> None:
        """Takes a thing away."""
        for cell in self._where.pop(name, ()):
            self._cells[cell].pop(name, None)

    def near(self, rect: QRectF) -> dict[Name, None]:
        """The things in the cells that a rectangle touches."""
        names: dict[Name, None] = {}
        for cell in _cells(rect):
            names.update(self._cells.get(cell, {}))
        return names


def _cells(rect: QRectF) -> Iterator[tuple[int, int]]:
    for across in range(int(rect.left() // CELL), int(rect.right() // CELL) + 1):
        for along in range(int(rect.top() // CELL), int(rect.bottom() // CELL) + 1):
            yield across, along


class MapScene:
    """Cards and bridges of one flow. ``show`` takes another and says which rectangles changed; ``showing`` does so bit
    by bit, since a new map of thousands of levels takes longer than a window may stand still."""

    def __init__(self, measure: Callable[[str], float] = lambda text: 6.0 * len(text)) -> None:
        self._measure = measure
        """How wide the condition of a lock is when written."""
        self._routing = Routing()
        self.flow = Flow()
        self.layout = Layout()
        self.cards: dict[str, Card] = {}
        self.bridges: dict[BridgeName, Bridge] = {}
        self._result: Appraisal | None = None
        self.seen_from_afar = 0
        """Another number whenever a card has come, gone, or looks different from very far."""
        self.grounds: list[list[Ground]] = []
        """For each column of the layout the grounds of regions in it."""
        self._standing = Standing()
        self._reasons: dict[str, str] = {}
        self._levels: dict[str, Level] = {}
        self._tints: dict[str, Tint] = {}
        self._card_keys: dict[str, Any] = {}
        self._bridge_keys: dict[BridgeName, Any] = {}
        self._drawn: dict[BridgeName, tuple[Crossing, str, bool]] = {}
        """What is to be drawn: the crossing, what its lock says, and whether it works."""
        self._crossings: dict[str, tuple[Any, list[Crossing]]] = {}
        self._from: dict[str, list[BridgeName]] = {}
        self._to: dict[str, dict[BridgeName, None]] = defaultdict(dict)
        self._index = Index()
        self._faraway: dict[tuple[int, int], Faraway] = {}
        self._whole = True
        """Whether all of the flow is shown."""

    # -- taking another flow ---------------------------------------------------------------------------

    def show(self, flow: Flow, result: Appraisal | None) -> list[QRectF]:
        """Takes a flow with its patterns filled in, as far as the latest survey knows it; levels it does not
        know stand on the shelf. Returns the rectangles in which something has changed."""
        return [rect for dirty in self.showing(flow, result) for rect in dirty]

    def showing(self, flow: Flow, result: Appraisal | None) -> Iterator[list[QRectF]]:
        """The same bit by bit, each the rectangles that changed by it. Whoever takes another flow before the end need
        not go on."""
        changed = self._changed_levels(flow, result) if self._whole else None
        self._whole = False
        for dirty in self._show_all(flow, result) if changed is None else self._show_changed(flow, changed):
            for rect in dirty:
                self._forget_faraway(rect)
            yield dirty
        self._whole = True

    def _changed_levels(self, flow: Flow, result: Appraisal | None) -> list[Level] | None:
        """The levels that differ from those shown; None where more than single levels has changed."""
        old = self.flow
        same = result is self._result and flow.map == old.map and flow.units == old.units
        if not same or flow.regions != old.regions or flow.facts != old.facts:
            return None
        changes = level_changes(old, flow)
        return [level for _, level in changes.changed] if changes.same_order else None

    def _show_changed(self, flow: Flow, changed: list[Level]) -> Iterator[list[QRectF]]:
        old = self._levels
        renamed = {level.id for level in changed if level.title != old[level.id].title}
        moved = any(level.region != old[level.id].region for level in changed)
        self.flow = flow
        self._levels.update((level.id, level) for level in changed)
        self.layout = self.layout.with_levels(changed)
        cards = self.layout.cards
        if moved:
            yield self._show_grounds()
        yield [rect for level in changed for rect in self._show_card(cards[level.id])]
        # What led into a changed level, and what may now: a level that names it without a bridge yet.
        # Two ways there and back are one bridge, so a level that was led to may have to draw its own now.
        touched = [name for level in changed for name in (*self._to[level.id], *self._from.get(level.id, ()))]
        beside = {end for name in touched for end in (name[0], name[2])}
        leading = {to.level for level in changed for exit_ in level.exits if (to := exit_.to)}
        leading |= self._locked_by(renamed)
        yield from self._show_bridges_from([self._levels[n] for n in {lv.id for lv in changed} | beside | leading
                                            if n in self._levels])  # fmt: skip

    def _locked_by(self, levels: set[str]) -> set[str]:
        """The levels from which a bridge leads whose lock names one of some levels."""
        if not levels:
            return set()
        locked = ((name, crossing.lock) for name, (crossing, _, _) in self._drawn.items() if crossing.lock)
        return {name[0] for name, lock in locked if levels & set(WORD.findall(lock))}

    def _show_all(self, flow: Flow, result: Appraisal | None) -> Iterator[list[QRectF]]:
        turned = flow.units.y != self.flow.units.y
        if result is not self._result:
            self._standing = result.standing if result else Standing()
            self._reasons = _reasons(result)
        self.flow, self._result = flow, result
        self._tints = {region.id: region.tint for region in flow.regions}
        self._levels = {level.id: level for level in flow.levels}
        columns = result.columns if result else CrossingColumns((), ())
        known = {name for row in columns.columns for name in row} | set(columns.shelf)
        new = tuple(level.id for level in flow.levels if level.id not in known)
        before = self.layout.columns
        columns = CrossingColumns(columns.columns, columns.shelf + new)
        self.layout = yield from _in_parts(laying_out(flow, columns, self.layout))
        yield from _in_parts(self._routing.placing(boxes(self.layout, self._reasons)))
        yield self._show_grounds()
        dirty: list[QRectF] = [] if self.layout.columns == before else [EVERYWHERE]
        if turned:
            self._card_keys.clear()
            self._bridge_keys.clear()
        yield dirty
        yield from self._drop_cards([name for name in self.cards if name not in self.layout.cards])
        for placed in self.layout.cards.values():
            yield self._show_card(placed)
        yield from self._show_bridges_from(flow.levels)

    def _drop_cards(self, names: Sequence[str]) -> Iterator[list[QRectF]]:
        """Takes out some cards with the bridges that begin there."""
        few = len(names) <= FEW
        for name in names:
            dirty = [self.cards.pop(name).bounds]
            self.seen_from_afar += 1
            self._card_keys.pop(name, None)
            self._index.lift(name)
            yield dirty + _rects([self._drop_bridge(bridge) for bridge in self._from.pop(name, [])], few)

    def _show_grounds(self) -> list[QRectF]:
        before, self.grounds = self.grounds, grounds(self.layout, self._tints)
        if len(before) != len(self.grounds):
            return [EVERYWHERE]
        differ = (one + other for one, other in zip(before, self.grounds, strict=True) if one != other)
        return [rect for pair in differ for rect, _ in pair]

    def _show_card(self, placed: Placed) -> list[QRectF]:
        level, name = placed.level, placed.level.id
        standing = self._standing
        marks = standing.of_exits(level) if standing.has_things(name) else ("",) * len(level.exits)
        mark, reason = standing.of_level(name), self._reasons.get(name, "") if placed.stranded else ""
        tint: Tint = self._tints.get(level.region, "")
        key = (placed, mark, marks, reason, tint)
        if self._card_keys.get(name) == key:
            return []
        dirty = [self.cards[name].bounds] if name in self.cards else []
        before = self.cards.get(name)
        if before is None or before.mark != mark or before.placed.rect != placed.rect:
            self.seen_from_afar += 1
        card = Card(placed, mark, marks, reason, tint, self.flow.units.y == "down")
        self.cards[name], self._card_keys[name] = card, key
        self._index.put(name, card.bounds)
        return [*dirty, card.bounds]

    def _show_bridges_from(self, levels: Iterable[Level]) -> Iterator[list[QRectF]]:
        wording = Wording(self.flow)
        leads = self._result.levels_led_to if self._result else {}
        verdicts = self._result.survey.exits if self._result else {}
        cards = self.layout.cards
        for level in levels:
            dirty: list[QRectF] = []
            found = {(level.id, c.exit, c.target): c for c in self._crossings_of(level, self._levels, leads)}
            for name in self._from.get(level.id, ()):
                if name not in found:
                    dirty += _rects([self._drop_bridge(name)], few=True)
            self._from[level.id] = list(found)
            for name, crossing in found.items():
                verdict = verdicts.get((crossing.level, crossing.exit))
                works = verdict is None or verdict.answer != "no"
                lock = wording.condition(crossing.lock) if crossing.lock else ""
                target, hints = cards.get(crossing.target), self._hints_on(crossing)
                key = (crossing, cards[level.id], target, works, lock, hints)
                if self._bridge_keys.get(name) == key:
                    continue
                self._drawn[name], self._bridge_keys[name] = (crossing, lock, works), key
                self._to[crossing.target][name] = None
                self._route(name)
            yield dirty
        yield from self._draw_routed()

    def _route(self, name: BridgeName) -> None:
        """Gives a crossing its way; one that is broken has none."""
        crossing, lock, _ = self._drawn[name]
        target = self.layout.cards.get(crossing.target)
        if target is None:
            self._routing.drop(name)
        else:
            faint = crossing.kind in ("quiet", "depends")
            width = self._measure(lock) if lock and not faint else 0.0
            start, end = self._ends(crossing, self.layout.cards[crossing.level], target)
            passes, turns_left = self._hints_on(crossing)
            self._routing.put(name, Connection(start, end, faint, width, passes, turns_left))
        self._routing.changed.add(name)

    def _hints_on(self, crossing: Crossing) -> tuple[tuple[Pass, ...], bool | None]:
        """Where a crossing had best pass the columns between its levels, and if it has both in one, on which side."""
        if self._result is None:
            return (), None
        columns, there = self._result.columns, (crossing.level, crossing.target)
        return columns.passes.get(there) or columns.passes.get(there[::-1], ()), there in columns.turns_left

    def _draw_routed(self) -> Iterator[list[QRectF]]:
        """Draws the bridges whose routes have changed."""
        for _ in self._routing.settling():
            yield []
        few = len(self._routing.changed) <= FEW
        while self._routing.changed:
            name = cast(BridgeName, self._routing.changed.pop())
            old = self.bridges.get(name)
            bridge = self.bridges[name] = self._bridge(name)
            self._index.put(name, bridge.bounds)
            yield _rects([old, bridge], few)

    def _drop_bridge(self, name: BridgeName) -> Bridge | None:
        bridge = self.bridges.pop(name, None)
        self._bridge_keys.pop(name, None)
        self._drawn.pop(name, None)
        self._routing.drop(name)
        self._routing.changed.discard(name)
        self._to[name[2]].pop(name, None)
        self._index.lift(name)
        return bridge

    def bridges_at(self, level_ids: Iterable[str]) -> list[Bridge]:
        """The bridges from and to levels."""
        names: dict[BridgeName, None] = {}
        for level_id in level_ids:
            names.update(dict.fromkeys(self._from.get(level_id, ())))
            names.update(self._to.get(level_id, {}))
        return [self.bridges[name] for name in names if name in self.bridges]

    def _crossings_of(self, level: Level, levels: dict[str, Level], leads: dict[Any, frozenset[str]]) -> list[Crossing]:
        """The level's crossings; those of last time where nothing they depend on has changed."""
        depends: list[Level | frozenset[str] | None] = [level]
        for exit_ in level.exits:
            to = exit_.to
            if to is not None:
                depends.append(levels.get(to.level) if to.kind == "level" else leads.get((level.id, exit_.id), NOWHERE))
        kept = self._crossings.get(level.id)
        if kept and len(kept[0]) == len(depends) and all(map(_same, kept[0], depends)):
            return kept[1]
        found = crossings_from(level, levels, leads)
        self._crossings[level.id] = (depends, found)
        return found

    def _ends(self, crossing: Crossing, card: Placed, target: Placed) -> tuple[End, End]:
        """Where a crossing begins and ends: at a door, and at a spawn point or the door that leads back."""
        y_down = self.flow.units.y == "down"
        start = self._door(card, crossing.exit, y_down) or card.rect.center()
        end = self._door(target, crossing.back, y_down) or landing_inside(target, crossing.spawn, y_down)
        there = end or QPointF(target.rect.center().x(), target.rect.center().y() + 8)
        return (
            End(card.level.id, start.x(), start.y(), not shows_plan(card.level)),
            End(target.level.id, there.x(), there.y(), end is None or not shows_plan(target.level)),
        )

    def _door(self, card: Placed, exit_id: str, y_down: bool) -> QPointF | None:
        exit_ = card.level.exit(exit_id) if exit_id else None
        return exit_rect(card, exit_, y_down).center() if exit_ else None

    def _bridge(self, name: BridgeName) -> Bridge:
        crossing, lock, works = self._drawn[name]
        card, target = self.layout.cards[crossing.level], self.layout.cards.get(crossing.target)
        if target is None:
            start = self._door(card, crossing.exit, self.flow.units.y == "down") or card.rect.center()
            stub = Route(((start.x(), start.y()), (start.x() + STUB, start.y())), (start.x(), start.y()))
            return Bridge(crossing, stub, None, None, lock, works)
        far = card.rect.center(), target.rect.center()
        return Bridge(crossing, self._routing.route(name), far, (card.rect, target.rect), lock, works)

    def outlines(self, proposed: Flow) -> list[tuple[QPointF, QPointF]]:
        """The crossings that an edit would lead to other levels, each from its door to where it would land, as far as
        both have a card."""
        y_down, before = self.flow.units.y == "down", set(map(id, self.flow.levels))
        found = []
        for level in (level for level in proposed.levels if id(level) not in before and level.id in self.cards):
            placed = self.cards[level.id].placed
            for exit_ in level.exits:
                was, to = placed.level.exit(exit_.id), exit_.to
                card = self.cards.get(to.level) if to and to.kind == "level" else None
                if to and card and (was is None or was.to != to):
                    start = exit_rect(placed, was or exit_, y_down).center()
                    found.append((start, landing_point(card.placed, to.spawn, y_down)))
        return found

    # -- what is where ---------------------------------------------------------------------------------

    def within(self, rect: QRectF) -> tuple[list[Card], list[Bridge]]:
        """The cards and bridges that touch a rectangle."""
        names = self._index.near(rect)
        cards = [self.cards[n] for n in names if isinstance(n, str) and self.cards[n].bounds.intersects(rect)]
        bridges = [self.bridges[n] for n in names if not isinstance(n, str) and self.bridges[n].bounds.intersects(rect)]
        return cards, bridges

    def faraway(self, rect: QRectF) -> Iterable[Faraway]:
        """Everything near a rectangle in bulk, cell by cell of a coarser grid."""
        coarse = CELL * 8
        for across in range(int(rect.left() // coarse) - 1, int(rect.right() // coarse) + 2):
            for along in range(int(rect.top() // coarse) - 1, int(rect.bottom() // coarse) + 2):
                if (across, along) not in self._faraway:
                    self._faraway[across, along] = self._gathered(across, along)
                yield self._faraway[across, along]

    def _gathered(self, across: int, along: int) -> Faraway:
        """The beads in a coarse cell, and the lines that begin there."""
        found = Faraway()
        here = QRectF(across * 8 * CELL, along * 8 * CELL, 8 * CELL, 8 * CELL)
        names = self._index.near(here.adjusted(1, 1, -1, -1))
        for name in names:
            if isinstance(name, str):
                centre = self.cards[name].placed.rect.center()
                if here.contains(centre):
                    found.points[self.cards[name].mark].append(centre)
            else:
                bridge = self.bridges[name]
                if bridge.far and not bridge.quiet and here.contains(bridge.far.p1()):
                    found.lines[bridge.colour].append(bridge.far)
        return found

    def _forget_faraway(self, rect: QRectF) -> None:
        coarse = CELL * 8
        if rect.width() > 50 * coarse:
            self._faraway.clear()
            return
        for across in range(int(rect.left() // coarse), int(rect.right() // coarse) + 1):
            for along in range(int(rect.top() // coarse), int(rect.bottom() // coarse) + 1):
                self._faraway.pop((across, along), None)

    def card_at(self, point: QPointF) -> Card | None:
        """The card under a point."""
        cards, _ = self.within(QRectF(point.x() - 1, point.y() - 1, 2, 2))
        return next((card for card in cards if card.placed.rect.contains(point)), None)

    def bridge_at(self, point: QPointF, reach: float, shown: Callable[[Bridge], bool]) -> Bridge | None:
        """The bridge under a point; a loud one before a quiet one."""
        _, bridges = self.within(QRectF(point.x() - 1, point.y() - 1, 2, 2))
        near = [bridge for bridge in bridges if shown(bridge) and bridge.is_near(point, reach)]
        return next((bridge for bridge in near if not bridge.quiet), near[0] if near else None)

    def nearest(self, level_id: str, across: int, down: int) -> str | None:
        """The level whose card is the nearest to another's in a direction; without another, the first of all."""
        here = self.cards.get(level_id)
        if here is None:
            return next(iter(self.cards), None)
        start, best = here.placed.rect.center(), None
        for card in self.cards.values():
            way = card.placed.rect.center() - start
            along = way.x() * across + way.y() * down
            aside = abs(way.y() * across) + abs(way.x() * down)
            if along > 20 and (best is None or along + 2 * aside < best[0]):
                best = along + 2 * aside, card.level_id
        return best[1] if best else None

    def bounds(self) -> QRectF:
        """All of the map."""
        return self.layout.bounds


def _rects(bridges: Iterable[Bridge | None], few: bool) -> list[QRectF]:
    """Where some bridges lie: of few the stretches, of many roughly, which is sooner told."""
    return [rect for one in bridges if one for rect in (one.stretches() if few else [one.bounds])]


def _in_parts(work: Generator[None, None, T]) -> Generator[list[QRectF], None, T]:
    """Some work, bit by bit, by which nothing changes to be seen."""
    while True:
        try:
            next(work)
        except StopIteration as end:
            return cast(T, end.value)
        yield []


def _same(one: object, other: object) -> bool:
    return one is other or (isinstance(one, frozenset) and one == other)


def _reasons(result: Appraisal | None) -> dict[str, str]:
    """What the stranded shelf says of each level on it."""
    found = {}
    for finding in result.findings if result else ():
        if finding.check == "level-unreachable":
            _, _, reason = finding.message.partition(" is never reached. ")
            found[finding.at[0]] = reason
    for level in result.flow.levels if result else ():
        if not level.ships:
            found[level.id] = "does not ship"
    return found
