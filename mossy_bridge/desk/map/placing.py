"""Where cards stand on the map and where crossings touch them. Plain geometry; nothing is painted here."""

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from itertools import groupby

from PyQt6.QtCore import QPointF, QRectF

from mossy_bridge.desk.map.courses import Footprint
from mossy_bridge.desk.plan.painting import PlanFrame, has_plan
from mossy_bridge.model.flow import Exit, Flow, Level, Tint
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
class Layout:
    """The whole map: cards by level, and the columns' rectangles with their headings, the shelf last."""

    cards: dict[str, Placed]
    columns: tuple[tuple[str, QRectF], ...]
    has_shelf: bool


def laid_out(flow: Flow, placed: CrossingColumns, before: Layout | None = None) -> Layout:
    """Cards in their columns; a hand-moved card keeps its height, and its place across within the column. What
    is as it was ``before`` is the very same value."""
    by_id = {level.id: level for level in flow.levels}
    rows = [[by_id[name] for name in names if name in by_id] for names in placed.columns]
    shelf = [by_id[name] for name in placed.shelf if name in by_id]
    tallest = max([len(row) for row in rows] + [len(shelf)], default=1)
    height = max(tallest, 3) * ROW_H + TOP
    cards: dict[str, Placed] = {}
    headings = []
    for number, row in enumerate([*rows, *([shelf] if shelf else [])]):
        stranded = bool(shelf) and number == len(rows)
        # Before the start, where it is seen first: a level nothing reaches is what needs attention.
        left = -COLUMN_W - 10 if stranded else number * COLUMN_W
        headings.append((_heading(number, stranded), QRectF(left, 0, COLUMN_W - 18, height)))
        first = TOP if stranded else TOP + (height - TOP - len(row) * ROW_H) / 2
        for index, level in enumerate(row):
            x, y = left + (COLUMN_W - 18 - CARD_W) / 2, first + index * ROW_H + (ROW_H - CARD_H) / 2
            moved = flow.map.get(level.id)
            if moved:
                x = max(left + 2, min(left + moved.x, left + COLUMN_W - 20 - CARD_W))
                y = max(TOP - 10, moved.y)
            cards[level.id] = _kept(before, level, QRectF(x, y, CARD_W, CARD_H), number, stranded)
    bottom = max([placed.rect.bottom() + 40 for placed in cards.values()], default=height)
    headings = [(text, QRectF(rect.left(), 0, rect.width(), max(height, bottom))) for text, rect in headings]
    return Layout(cards, tuple(headings), bool(shelf))


def _kept(before: Layout | None, level: Level, rect: QRectF, column: int, stranded: bool) -> Placed:
    old = before.cards.get(level.id) if before else None
    if old and old.level is level and old.rect == rect and (old.column, old.stranded) == (column, stranded):
        return old
    return Placed(level, rect, column, stranded)


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
    columns: list[list[Placed]] = [[] for _ in layout.columns]
    for placed in layout.cards.values():
        columns[placed.column].append(placed)
    found: list[list[Ground]] = []
    for cards, (_, column) in zip(columns, layout.columns, strict=True):
        found.append([])
        runs = groupby(sorted(cards, key=lambda placed: placed.rect.top()), key=lambda placed: placed.level.region)
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


def boxes(layout: Layout, reasons: Collection[str]) -> list[dict[str, Footprint]]:
    """The cards of each column from left to right, those with a reason below them with that."""
    found: list[dict[str, Footprint]] = [{} for _ in layout.columns]
    for name, placed in layout.cards.items():
        rect, below = placed.rect, REASON_H if placed.stranded and name in reasons else 0.0
        found[placed.column][name] = Footprint(rect.left(), rect.top(), rect.right(), rect.bottom() + below)
    return [*found[-1:], *found[:-1]] if layout.has_shelf else found
