"""Where cards stand on the map and where crossings touch them. Plain geometry; nothing is painted here."""

from collections.abc import Collection, Generator, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import groupby
from operator import is_

from PyQt6.QtCore import QPointF, QRectF

from mossy_bridge.desk.map.courses import Footprint
from mossy_bridge.desk.plan.painting import PlanFrame, has_plan
from mossy_bridge.model.flow import Exit, Flow, Level, MapPlace, Tint
from mossy_bridge.plan.doors import has_area
from mossy_bridge.reach.queries.crossing_columns import CrossingColumns

CARD_W, CARD_H, TITLE_H, PAD = 150.0, 96.0, 24.0, 6.0
COLUMN_W, ROW_H, TOP = 214.0, 138.0, 46.0
SHELF_REASON_H = 34.0
SPOT = 4.0
"""The side of what marks an exit that lies outside its plan."""


@dataclass(frozen=True)
class Placed:
    """A card's rectangle on the map, the column it is in, and whether that is the shelf."""

    level: Level
    rect: QRectF
    column: int
    stranded: bool

    def room(self) -> QRectF:
        """The part of the card below its title."""
        return self.rect.adjusted(PAD, TITLE_H, -PAD, -PAD)


@dataclass(frozen=True)
class Stack:
    """The cards of one column, one below the other from a height, but for those that were moved by hand."""

    column: int
    left: float
    first: float
    stranded: bool
    moved: Mapping[str, MapPlace] = field(default_factory=dict)
    cards: Mapping[str, Placed] = field(default_factory=dict)

    @cached_property
    def bottom(self) -> float:
        """Where the lowest card ends."""
        return max((placed.rect.bottom() for placed in self.cards.values()), default=0.0)

    @cached_property
    def footprints(self) -> dict[str, Footprint]:
        """Where each card lies."""
        rects = {name: placed.rect for name, placed in self.cards.items()}
        return {name: Footprint(at.left(), at.top(), at.right(), at.bottom()) for name, at in rects.items()}

    def holds(self, levels: Sequence[Level]) -> bool:
        """Whether it has the cards of these levels, as they are now, in this order."""
        return len(levels) == len(self.cards) and all(map(is_, levels, (one.level for one in self.cards.values())))


@dataclass(frozen=True)
class Layout:
    """The whole map: the columns' rectangles with their headings, and what stands in each; the shelf last."""

    columns: tuple[tuple[str, QRectF], ...] = ()
    stacks: tuple[Stack, ...] = ()
    has_shelf: bool = False

    @cached_property
    def cards(self) -> dict[str, Placed]:
        """The cards by level."""
        found: dict[str, Placed] = {}
        for stack in self.stacks:
            found.update(stack.cards)
        return found

    @cached_property
    def bounds(self) -> QRectF:
        """All of the map."""
        found = QRectF()
        for _, rect in self.columns:
            found = found.united(rect)
        return found

    def with_levels(self, levels: Sequence[Level]) -> "Layout":
        """The same, some of its levels being otherwise."""
        stacks = list(self.stacks)
        cards = {level.id: replace(self.cards[level.id], level=level) for level in levels}
        for name, placed in cards.items():
            stack = stacks[placed.column]
            stacks[placed.column] = replace(stack, cards={**stack.cards, name: placed})
        found = replace(self, stacks=tuple(stacks))
        found.__dict__.update(cards=self.cards | cards, bounds=self.bounds)  # to gather them again would take longer
        return found


def laying_out(flow: Flow, placed: CrossingColumns, before: Layout) -> Generator[None, None, Layout]:
    """Cards in their columns, column by column; a hand-moved card keeps its height, and its place across within the
    column. What is as it was ``before`` is the very same value."""
    by_id = {level.id: level for level in flow.levels}
    rows = [[by_id[name] for name in names if name in by_id] for names in placed.columns]
    shelf = [by_id[name] for name in placed.shelf if name in by_id]
    height = max([len(row) for row in rows] + [len(shelf), 3]) * ROW_H + TOP
    stacks: list[Stack] = []
    for number, row in enumerate([*rows, *([shelf] if shelf else [])]):
        yield
        stranded = bool(shelf) and number == len(rows)
        # Before the start, where it is seen first: a level nothing reaches is what needs attention.
        left = -COLUMN_W - 10 if stranded else number * COLUMN_W
        first = TOP if stranded else TOP + (height - TOP - len(row) * ROW_H) / 2
        moved = {level.id: flow.map[level.id] for level in row if level.id in flow.map} if flow.map else {}
        stack = Stack(number, left, first, stranded, moved)
        old = before.stacks[number] if number < len(before.stacks) else None
        same = old and replace(stack, cards=old.cards) == old and old.holds(row)
        stacks.append(old if old and same else _stacked(stack, row, before.cards))
    yield
    bottom = max([height, *(stack.bottom + 40 for stack in stacks)])
    headings = (
        (_heading(stack.column, stack.stranded), QRectF(stack.left, 0, COLUMN_W - 18, bottom)) for stack in stacks
    )
    return Layout(tuple(headings), tuple(stacks), bool(shelf))


def _stacked(stack: Stack, levels: Sequence[Level], before: Mapping[str, Placed]) -> Stack:
    """The column with the cards of its levels."""
    cards, left = {}, stack.left
    for index, level in enumerate(levels):
        x, y = left + (COLUMN_W - 18 - CARD_W) / 2, stack.first + index * ROW_H + (ROW_H - CARD_H) / 2
        moved = stack.moved.get(level.id)
        if moved:
            x = max(left + 2, min(left + moved.x, left + COLUMN_W - 20 - CARD_W))
            y = max(TOP - 10, moved.y)
        placed, old = Placed(level, QRectF(x, y, CARD_W, CARD_H), stack.column, stack.stranded), before.get(level.id)
        cards[level.id] = old if old and old.level is level and old == placed else placed
    return replace(stack, cards=cards)


def _heading(number: int, stranded: bool) -> str:
    if stranded:
        return "stranded shelf"
    return "start" if number == 0 else "1 crossing" if number == 1 else f"{number} crossings"


def shows_plan(level: Level) -> bool:
    """Whether a card shows the level's plan; a screen's shows its choices, one below the other."""
    return has_plan(level) and level.kind != "screen"


def exit_rect(card: Placed, exit_: Exit, y_down: bool) -> QRectF:
    """Where the exit lies on the card: its area on the plan in small, else a place at the card's edge."""
    if shows_plan(card.level) and has_area(exit_):
        return _inside(PlanFrame(card.level, card.room(), y_down).area(exit_.area), card.room())
    others = [e for e in card.level.exits if not (shows_plan(card.level) and has_area(e))]
    room = card.room()
    index = others.index(exit_)
    if shows_plan(card.level):
        return QRectF(room.left() + 4 + index * 14, room.bottom() - 4, 8, 8)
    step = room.height() / (len(others) + 1)
    return QRectF(room.right() - 8, room.top() + step * (index + 1) - 4, 8, 8)


def _inside(rect: QRectF, room: QRectF) -> QRectF:
    """The part of a rectangle in a room; where there is none, a spot at the edge next to it."""
    shared = rect.intersected(room)
    if not shared.isEmpty():
        return shared
    centre = rect.center()
    x = min(max(centre.x(), room.left()), room.right() - SPOT)
    y = min(max(centre.y(), room.top()), room.bottom() - SPOT)
    return QRectF(x, y, SPOT, SPOT)


def landing_point(card: Placed, spawn: str, y_down: bool) -> QPointF:
    """Where a crossing comes down on the card: at the spawn point, else at the card's left edge."""
    return landing_inside(card, spawn, y_down) or QPointF(card.rect.left(), card.rect.center().y() + 8)


def landing_inside(card: Placed, spawn: str, y_down: bool) -> QPointF | None:
    """The spawn point at which a crossing comes down on the card's plan; None where there is none to be seen."""
    point = card.level.spawn(spawn)
    if point is None or not shows_plan(card.level):
        return None
    at, room = PlanFrame(card.level, card.room(), y_down).point(point.x, point.y), card.room()
    return QPointF(min(max(at.x(), room.left()), room.right()), min(max(at.y() - 3, room.top()), room.bottom()))


Ground = tuple[QRectF, Tint]
"""Where cards of one region stand one below the other, and the region's tint."""


def grounds(layout: Layout, tints: Mapping[str, Tint]) -> list[list[Ground]]:
    """The grounds of every column, in the order of its columns."""
    if not any(tints.values()):
        return [[] for _ in layout.columns]
    found: list[list[Ground]] = []
    for stack, (_, column) in zip(layout.stacks, layout.columns, strict=True):
        found.append([])
        cards = sorted(stack.cards.values(), key=lambda placed: placed.rect.top())
        runs = groupby(cards, key=lambda placed: placed.level.region)
        for region, members in runs:
            rects = [placed.rect for placed in members]
            if tints.get(region):
                top, bottom = rects[0].top() - GROUND, max(rect.bottom() for rect in rects) + GROUND
                found[-1].append((QRectF(column.left(), top, column.width(), bottom - top), tints[region]))
    return found


GROUND = 15.0
"""How far a region's ground shows above and below its cards."""
REASON_H = 39.0
"""The room below a card on the shelf that the reason takes."""


def boxes(layout: Layout, reasons: Collection[str]) -> Iterator[dict[str, Footprint]]:
    """The cards of each column from left to right, those with a reason below them with that."""
    stacks = list(layout.stacks)
    if layout.has_shelf:
        shelf = stacks.pop().footprints
        yield {
            name: box._replace(bottom=box.bottom + REASON_H) if name in reasons else box for name, box in shelf.items()
        }
    for stack in stacks:
        yield stack.footprints
