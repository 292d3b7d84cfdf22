"""Everything on the map, kept from flow to flow: only what an edit touches is made anew."""

from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any

from PyQt6.QtCore import QLineF, QPointF, QRectF

from mossy_bridge.desk.map.bridges import Bridge
from mossy_bridge.desk.map.cards import Card
from mossy_bridge.desk.map.crossings import NOWHERE, Crossing, crossings_from
from mossy_bridge.desk.map.placing import Layout, Placed, exit_rect, laid_out, landing_point
from mossy_bridge.desk.standing import Standing
from mossy_bridge.desk.surveying import Surveyed
from mossy_bridge.language.wording import Wording
from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.reach.columns import Columns

CELL = 700.0
"""The side of a cell of the index, in map units."""


@dataclass
class Faraway:
    """All beads and lines in one go, for looking from very far: points by mark, lines by colour."""

    points: dict[str, list[QPointF]] = field(default_factory=lambda: defaultdict(list))
    lines: dict[str, list[QLineF]] = field(default_factory=lambda: defaultdict(list))


class MapScene:
    """Cards and bridges of one flow. ``show`` takes another and says which rectangles changed."""

    def __init__(self) -> None:
        self.flow = Flow()
        self.layout = Layout({}, (), False)
        self.cards: dict[str, Card] = {}
        self.bridges: dict[Any, Bridge] = {}
        self._card_keys: dict[str, Any] = {}
        self._bridge_keys: dict[Any, Any] = {}
        self._crossings: dict[str, tuple[Any, list[Crossing]]] = {}
        self._cells: dict[tuple[int, int], dict[Any, None]] = defaultdict(dict)
        self._where: dict[Any, list[tuple[int, int]]] = {}
        self._faraway: dict[tuple[int, int], Faraway] = {}

    # -- taking another flow ---------------------------------------------------------------------------

    def show(self, flow: Flow, result: Surveyed | None) -> list[QRectF]:
        """Takes a flow with its patterns filled in, as far as the latest survey knows it; levels it does not
        know stand on the shelf. Returns the rectangles in which something has changed."""
        turned = flow.units.y != self.flow.units.y
        self.flow = flow
        columns = result.columns if result else Columns((), ())
        known = {name for row in columns.columns for name in row} | set(columns.shelf)
        new = tuple(level.id for level in flow.levels if level.id not in known)
        before = self.layout.columns
        self.layout = laid_out(flow, Columns(columns.columns, columns.shelf + new) if new else columns, self.layout)
        dirty: list[QRectF] = [] if self.layout.columns == before else [QRectF(-1e6, -1e6, 2e6, 2e6)]
        if turned:
            self._card_keys.clear()
            self._bridge_keys.clear()
        dirty += self._show_cards(Standing(result), _reasons(result))
        dirty += self._show_bridges(result)
        for rect in dirty:
            self._forget_faraway(rect)
        return dirty

    def _show_cards(self, standing: Standing, reasons: dict[str, str]) -> list[QRectF]:
        dirty: list[QRectF] = []
        tints = {region.id: region.tint for region in self.flow.regions}
        y_down = self.flow.units.y == "down"
        for name in [name for name in self.cards if name not in self.layout.cards]:
            dirty.append(self.cards.pop(name).bounds)
            del self._card_keys[name]
            self._lift(name)
        for name, placed in self.layout.cards.items():
            level = placed.level
            marks = standing.of_exits(level) if standing.has_things(name) else ("",) * len(level.exits)
            mark, reason = standing.of_level(name), reasons.get(name, "") if placed.stranded else ""
            key = (placed, mark, marks, reason, tints.get(level.region, ""))
            if self._card_keys.get(name) == key:
                continue
            if name in self.cards:
                dirty.append(self.cards[name].bounds)
            card = Card(placed, mark, marks, reason, tints.get(level.region, ""), y_down)
            self.cards[name], self._card_keys[name] = card, key
            dirty.append(card.bounds)
            self._put(name, card.bounds)
        return dirty

    def _show_bridges(self, result: Surveyed | None) -> list[QRectF]:
        dirty: list[QRectF] = []
        levels = {level.id: level for level in self.flow.levels}
        leads = result.leads if result else {}
        verdicts = result.survey.exits if result else {}
        wording: Wording | None = None
        wanted: dict[Any, Crossing] = {}
        for level in self.flow.levels:
            for crossing in self._crossings_of(level, levels, leads):
                wanted[level.id, crossing.exit, crossing.target] = crossing
        for name in [name for name in self.bridges if name not in wanted]:
            dirty.append(self.bridges.pop(name).bounds)
            del self._bridge_keys[name]
            self._lift(name)
        cards = self.layout.cards
        for name, crossing in wanted.items():
            verdict = verdicts.get((crossing.level, crossing.exit))
            works = verdict is None or verdict.answer != "no"
            # Facts are in the key because the lock is said with their names.
            key = (
                crossing,
                cards[crossing.level],
                cards.get(crossing.target),
                works,
                self.flow.facts if crossing.lock else (),
            )
            if self._bridge_keys.get(name) == key:
                continue
            if name in self.bridges:
                dirty.append(self.bridges[name].bounds)
            wording = wording or Wording(self.flow)
            bridge = self._bridge(crossing, cards[crossing.level], cards.get(crossing.target), works, wording)
            self.bridges[name], self._bridge_keys[name] = bridge, key
            dirty.append(bridge.bounds)
            self._put(name, bridge.bounds)
        return dirty

    def _crossings_of(self, level: Level, levels: dict[str, Level], leads: dict[Any, frozenset[str]]) -> list[Crossing]:
        """The level's crossings; those of last time where nothing they depend on has changed."""
        depends = [level]
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

    def _bridge(self, crossing: Crossing, card: Placed, target: Placed | None, works: bool, wording: Wording) -> Bridge:
        y_down = self.flow.units.y == "down"
        exit_ = card.level.exit(crossing.exit)
        start = exit_rect(card, exit_, y_down).center() if exit_ else card.rect.center()
        end = start
        if target:
            end = landing_point(target, crossing.spawn, y_down)
            way_back = target.level.exit(crossing.back) if crossing.back else None
            if way_back:
                end = exit_rect(target, way_back, y_down).center()
        lock = wording.condition(crossing.lock) if crossing.lock else ""
        far = (card.rect.center(), target.rect.center()) if target else None
        return Bridge(crossing, (start, end), far, (card.rect, target.rect) if target else None, lock, works)

    # -- what is where ---------------------------------------------------------------------------------

    def _put(self, name: Any, bounds: QRectF) -> None:
        self._lift(name)
        cells = [
            (across, along)
            for across in range(int(bounds.left() // CELL), int(bounds.right() // CELL) + 1)
            for along in range(int(bounds.top() // CELL), int(bounds.bottom() // CELL) + 1)
        ]
        for cell in cells:
            self._cells[cell][name] = None
        self._where[name] = cells

    def _lift(self, name: Any) -> None:
        for cell in self._where.pop(name, ()):
            self._cells[cell].pop(name, None)

    def within(self, rect: QRectF) -> tuple[list[Card], list[Bridge]]:
        """The cards and bridges that touch a rectangle."""
        names: dict[Any, None] = {}
        for across in range(int(rect.left() // CELL), int(rect.right() // CELL) + 1):
            for along in range(int(rect.top() // CELL), int(rect.bottom() // CELL) + 1):
                names.update(self._cells.get((across, along), {}))
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
        found, names = Faraway(), dict[Any, None]()
        for x in range(across * 8, across * 8 + 8):
            for y in range(along * 8, along * 8 + 8):
                names.update(self._cells.get((x, y), {}))
        here = QRectF(across * 8 * CELL, along * 8 * CELL, 8 * CELL, 8 * CELL)
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

    def bounds(self) -> QRectF:
        """All of the map."""
        found = QRectF()
        for _, rect in self.layout.columns:
            found = found.united(rect)
        return found


def _same(one: object, other: object) -> bool:
    return one is other or (isinstance(one, frozenset) and one == other)


def _reasons(result: Surveyed | None) -> dict[str, str]:
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
