"""What a press on the map begins, and what becomes of it when the mouse moves and lets go."""

from dataclasses import dataclass
from typing import Literal

from PyQt6.QtCore import QPointF

from mossy_bridge.desk.map.cards import Card
from mossy_bridge.desk.map.placing import landing_point

DRAG_STARTS = 6
"""Pixels the mouse must move before a press becomes a drag."""
NEAR = 26
"""A drop so near to a spawn point, in map units, aims at it."""


@dataclass
class ConnectionDrag:
    """A press, and the drag that it may become: an exit drawn to where it leads, a card moved, or the ground moved."""

    press: QPointF
    at: QPointF
    """Where the mouse is."""
    card: Card | None
    exit_id: str
    kind: Literal["", "exit", "card", "pan"] = ""
    """"" while it is not yet a drag."""

    def move(self, at: QPointF) -> QPointF:
        """The mouse is somewhere else; how far it has moved since it was told last."""
        if not self.kind and (at - self.press).manhattanLength() >= DRAG_STARTS:
            self.kind = "pan" if self.card is None else "exit" if self.exit_id else "card"
        moved, self.at = at - self.at, at
        return moved


def spawn_aimed_at(card: Card, point: QPointF, y_down: bool) -> str:
    """The spawn point a drop on a card aims at: the nearest, if the drop is close to it; else the first."""
    spawns = card.placed.level.spawns
    near = [((landing_point(card.placed, s.id, y_down) - point).manhattanLength(), s.id) for s in spawns]
    if near and min(near)[0] < NEAR:
        return min(near)[1]
    return spawns[0].id if spawns else ""
