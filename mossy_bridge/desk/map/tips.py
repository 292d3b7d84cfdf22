"""What is said of the card, door or bridge that the mouse rests on."""

from PyQt6.QtCore import QPointF

from mossy_bridge.desk.map.bridges import Bridge
from mossy_bridge.desk.map.cards import Card
from mossy_bridge.desk.map.scene import MapScene


def told_of(thing: Card | Bridge, point: QPointF, scene: MapScene) -> str:
    """The name of a thing at a point, and what can be done with it there."""
    if isinstance(thing, Card):
        exit_, level = thing.exit_at(point), thing.placed.level
        if exit_:
            return f"{exit_.name or exit_.id}\nDrag it to where it leads; with Shift, there and back"
        return f"{level.code} {level.title}".strip() + "\nDouble-click to lay out its plan"
    owner = scene.cards[thing.crossing.level].placed.level
    exit_ = owner.exit(thing.crossing.exit)
    name = (exit_.name or exit_.id) if exit_ else ""
    return f"{owner.title}: {name}" + (f"\n{thing.lock}" if thing.lock else "")
