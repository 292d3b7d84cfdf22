"""What is asked of ways in: other landings."""

from msgspec.structs import replace

from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.edit_door import EditDoor
from mossy_bridge.model.edits.arrivals import landed_anew, landing_at
from mossy_bridge.model.edits.levels import whole
from mossy_bridge.model.flow import Spawn
from mossy_bridge.plan.arrivals import Arrival
from mossy_bridge.plan.doors import free_landing


class ArrivalRequests:
    """Edits the document as asked of one way in after the other."""

    def __init__(self, document: Document, door: EditDoor):
        self._document, self._door = document, door

    def land(self, arrival: Arrival, spawn: str) -> None:
        """Lets a way in land at another spawn point."""
        where = (arrival.level, arrival.source, arrival.thing, arrival.how)
        self._door.edit("choose another landing", lambda flow: landing_at(flow, *where, spawn))

    def land_anew(self, arrival: Arrival) -> None:
        """Gives a way in a spawn point of its own: beside the way back, if there is room."""
        flow = self._document.flow
        source, level = whole(flow, arrival.source), whole(flow, arrival.level)
        name = f"From {source.title}" if source else "Start"
        door = level.exit(arrival.back) if level and arrival.back else None
        beside = free_landing(flow, level, door.area) if level and door and level.plan else None
        spot = beside or Spawn(id="landing")
        where = (arrival.level, arrival.source, arrival.thing, arrival.how)
        self._door.edit("make a landing", lambda flow: landed_anew(flow, *where, replace(spot, name=name)))
