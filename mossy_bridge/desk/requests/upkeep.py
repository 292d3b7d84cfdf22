"""What is asked of patterns, the checklist, values for testing and level files."""

from collections.abc import Sequence
from typing import Any

from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.edit_door import EditDoor
from mossy_bridge.desk.session.selection import Selected, Selection
from mossy_bridge.desk.workers.condition_query import ConditionQuery
from mossy_bridge.exchange.shipping_values import put_back
from mossy_bridge.exchange.writing import tree_of
from mossy_bridge.model.addresses import place_exists, value_at
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits import patterns as pattern_edits
from mossy_bridge.model.edits import upkeep
from mossy_bridge.model.edits.levels import PATTERN
from mossy_bridge.model.flow import Flow, LevelKind


class UpkeepRequests:
    """Edits the document as asked."""

    def __init__(self, document: Document, selection: Selection, door: EditDoor):
        self._document, self._selection, self._door = document, selection, door
        self.condition_query = ConditionQuery(document)
        """Answers where a condition holds that is being written."""

    # -- patterns --------------------------------------------------------------------------------------

    def make_pattern(self, name: str) -> None:
        """Makes a pattern from the selected level."""
        level = self._selection.level_id
        self._door.edit(f"make the pattern {name}", lambda flow: pattern_edits.make_pattern(flow, level, name)[0])

    def base_on(self, pattern: str) -> None:
        """Bases the selected levels on a pattern, or on none."""
        chosen = self._selection.levels

        def change(flow: Flow) -> Flow:
            if pattern:
                return pattern_edits.base_on(flow, chosen, pattern)
            for level_id in chosen:
                if edits.existing(flow, level_id).pattern:
                    flow = pattern_edits.detach(flow, level_id)
            return flow

        self._door.edit("base on a pattern" if pattern else "detach from the pattern", change)

    def take_back(self, level_id: str, field: str, thing: str) -> None:
        """Takes a field or thing from the pattern again."""
        change = lambda flow: pattern_edits.take_back(flow, level_id, field, thing)  # noqa: E731
        self._door.edit("take it from the pattern again", change)

    def remove_pattern(self, pattern: str) -> None:
        """Removes a pattern; levels based on it stay as they are."""
        name = pattern.removeprefix(PATTERN)
        self._door.edit("remove a pattern", lambda flow: (pattern_edits.remove_pattern(flow, name), Selected()))

    # -- checklist -------------------------------------------------------------------------------------

    def add_item(self, text: str, kinds: Sequence[LevelKind] = ("play",)) -> None:
        """Adds an item to the checklist."""
        self._door.edit("add to the checklist", lambda flow: upkeep.add_item(flow, text, kinds)[0])

    def set_item(self, item: str, **values: Any) -> None:
        """Changes an item of the checklist."""
        self._door.edit("change the checklist", lambda flow: upkeep.set_item(flow, item, **values))

    def remove_item(self, item: str) -> None:
        """Removes an item from the checklist."""
        self._door.edit("remove from the checklist", lambda flow: upkeep.remove_item(flow, item))

    def tick(self, level_id: str, item: str, on: bool) -> None:
        """Ticks an item in a level, or takes the tick away."""
        self._door.edit("tick" if on else "take a tick away", lambda flow: upkeep.tick(flow, level_id, item, on))

    # -- values for testing ----------------------------------------------------------------------------

    def for_testing(self, at: str) -> None:
        """Keeps the present value for delivery, so that another can be tried in its place."""

        def change(flow: Flow) -> Flow:
            value = tree_of(value_at(flow, at)) if place_exists(flow, at) else None
            return upkeep.for_testing(flow, at, value)

        self._door.edit("keep a value for delivery", change)

    def start_for_testing(self, level: str) -> None:
        """Lets the game start at a level for the time being, and keeps where it starts for delivery."""

        def change(flow: Flow) -> Flow:
            kept = {setting.at for setting in flow.trial_settings}
            for at, value in (("start.level", flow.start.level), ("start.spawn", flow.start.spawn)):
                if value and at not in kept:
                    flow = upkeep.for_testing(flow, at, value)
            return edits.set_start(flow, level)

        self._door.edit("start elsewhere for testing", change)

    def set_ships_as(self, at: str, value: Any, why: str) -> None:
        """Changes the value to deliver, and why another is tried."""
        self._door.edit("change a value to deliver", lambda flow: upkeep.for_testing(flow, at, value, why))

    def keep_test_value(self, at: str) -> None:
        """Delivers the value that was tried."""
        self._door.edit("deliver the value tried", lambda flow: upkeep.not_for_testing(flow, at))

    def put_back(self, at: str) -> None:
        """Puts the value to deliver back in its place."""
        self._door.edit("put the value to deliver back", lambda flow: put_back(flow, at))

    # -- promises and recorded walks -------------------------------------------------------------------

    def new_promise(self) -> None:
        """Adds a promise about the level shown."""
        level = self._selection.level_id
        self._door.edit("add a promise", lambda flow: upkeep.add_promise(flow, "can", level)[0])

    def set_promise(self, promise: str, **values: Any) -> None:
        """Changes a promise."""
        self._door.edit("change a promise", lambda flow: upkeep.set_promise(flow, promise, **values))

    def remove_promise(self, promise: str) -> None:
        """Removes a promise."""
        self._door.edit("remove a promise", lambda flow: upkeep.remove_promise(flow, promise))

    def keep_walk(self, name: str, moves: Sequence[str], expect: str = "works") -> None:
        """Keeps moves as a recorded walk."""
        self._door.edit("keep a recorded walk", lambda flow: upkeep.add_walk(flow, name, moves, expect)[0])

    def set_walk(self, walk: str, **values: Any) -> None:
        """Changes a recorded walk."""
        self._door.edit("change a recorded walk", lambda flow: upkeep.set_walk(flow, walk, **values))

    def remove_walk(self, walk: str) -> None:
        """Removes a recorded walk."""
        self._door.edit("remove a recorded walk", lambda flow: upkeep.remove_walk(flow, walk))
