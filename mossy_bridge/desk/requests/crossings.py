"""What is asked of crossings: where exits lead, what sets them off, what they change."""

from collections.abc import Sequence
from typing import Any

from msgspec.structs import replace

from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.edit_door import EditDoor
from mossy_bridge.desk.session.selection import Selected, Selection
from mossy_bridge.model.addresses import title_of
from mossy_bridge.model.codes import code_behind, free_name
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits.endings import add_ending
from mossy_bridge.model.flow import Destination, Exit, Flow, Spawn, Transition
from mossy_bridge.model.ids import id_from
from mossy_bridge.model.patterns import resolved
from mossy_bridge.plan.doors import free_door, there_and_back


class CrossingRequests:
    """Edits the document as asked of exits, mostly of the selected one."""

    def __init__(self, document: Document, selection: Selection, door: EditDoor):
        self._document, self._selection, self._door = document, selection, door

    def _title(self, place: str) -> str:
        return title_of(resolved(self._document.flow), place)

    @property
    def _here(self) -> tuple[str, str]:
        return self._selection.level_id, self._selection.exit_id

    def _exit(self) -> Exit | None:
        return self._selection.exit(self._document.flow)

    def connect(self, level: str, exit_: str, target: str, spawn: str) -> None:
        """Leads an exit to a level's spawn point."""
        name = f"lead {self._title(f'{level}.{exit_}')} to {self._title(target)}"
        self._door.edit(name, lambda flow: edits.connect(flow, level, exit_, target, spawn))

    def set(self, what: str, **values: Any) -> None:
        """Sets fields of the selected exit."""
        level, exit_ = self._here
        step = f"change {what} of {self._title(f'{level}.{exit_}')}"
        self._door.edit(step, lambda flow: edits.set_exit(flow, level, exit_, **values))

    def set_trigger(self, what: str, **values: Any) -> None:
        """Sets fields of the selected exit's trigger. One that is to be touched or pressed gets an area."""
        exit_, level = self._exit(), edits.whole(self._document.flow, self._selection.level_id)
        if exit_ is None or level is None:
            return
        more: dict[str, Any] = {}
        if values.get("kind") in ("touch", "press") and not (exit_.area[2] and exit_.area[3]):
            area = free_door(self._document.flow, level)
            more = {"area": area} if area else {}
        self.set(what, trigger=replace(exit_.trigger, **values), **more)

    def lead(self, to: Destination | None, depth: int = 0) -> None:
        """Leads the selected exit somewhere; ``depth`` 1 is its *otherwise*, 2 the one behind that."""
        exit_ = self._exit()
        if exit_:
            self.set("the destination", to=_put(exit_.to, to, depth))

    def lead_to_new_level(self, depth: int = 0) -> None:
        """Makes a level behind this one and leads the selected exit to it."""
        exit_, (level_id, exit_id) = self._exit(), self._here
        if exit_ is None:
            return

        def change(flow: Flow) -> Flow:
            name = free_name("New level", [level.name for level in flow.levels])
            flow, new = edits.add_level(flow, name, level_id, code=code_behind(flow, level_id))
            return edits.set_exit(flow, level_id, exit_id, to=_put(exit_.to, Destination(level=new), depth))

        self._door.edit("lead to a new level", change)

    def lead_to_new_spawn(self, depth: int = 0) -> None:
        """Makes a spawn point in the level led to, and lands there."""
        exit_ = self._exit()
        if exit_ is None or not 0 <= depth < len(exit_.destinations):
            return
        to = exit_.destinations[depth]
        level_id, exit_id = self._here
        origin = edits.existing(self._document.flow, level_id).title

        def change(flow: Flow) -> Flow:
            flow, spawn = edits.add_thing(flow, to.level, "spawns", new_spawn(flow, to.level, f"From {origin}"))
            return edits.set_exit(flow, level_id, exit_id, to=_put(exit_.to, replace(to, spawn=spawn), depth))

        self._door.edit("land at a new spawn point", change)

    def lead_to_new_ending(self, name: str, depth: int = 0) -> None:
        """Makes an ending and leads the selected exit to it."""
        exit_, (level_id, exit_id) = self._exit(), self._here
        if exit_ is None:
            return

        def change(flow: Flow) -> Flow:
            flow, new = add_ending(flow, name)
            return edits.set_exit(
                flow, level_id, exit_id, to=_put(exit_.to, Destination(kind="end", ending=new), depth)
            )

        self._door.edit("lead to a new ending", change)

    def use_new_transition(self, name: str) -> None:
        """Makes an empty transition for the selected exit."""
        level_id, exit_id = self._here

        def change(flow: Flow) -> Flow:
            new = id_from(name, {transition.id for transition in flow.transitions}, "transition")
            flow = replace(flow, transitions=(*flow.transitions, Transition(id=new, name=name)))
            return edits.set_exit(flow, level_id, exit_id, transition=new)

        self._door.edit("use a new transition", change)

    def new(self) -> None:
        """Adds an exit to the level shown, and selects it."""
        level = edits.whole(self._document.flow, self._selection.level_id)
        if level is None:
            return
        key = self._selection.level_id

        def change(flow: Flow) -> tuple[Flow, Selected]:
            area = free_door(flow, level) if level.kind == "play" else None
            flow, exit_id = edits.add_exit(flow, key, f"Exit {len(level.exits) + 1}", area=area)
            return flow, Selected.of(key, exit_id)

        self._door.edit(f"add an exit to {level.title}", change)

    def there_and_back(self, one: str, other: str) -> None:
        """Joins two levels there and back, and selects the way there."""

        def change(flow: Flow) -> tuple[Flow, Selected]:
            flow, out, _ = there_and_back(flow, one, other)
            return flow, Selected.of(one, out)

        self._door.edit(f"join {self._title(one)} and {self._title(other)} there and back", change)

    def set_all(self, what: str, crossings: Sequence[tuple[str, str]], **values: Any) -> None:
        """Sets the same fields in several exits."""
        step = f"change {what} of {len(crossings)} crossings"
        self._door.edit(step, lambda flow: edits.set_exits(flow, crossings, **values))

    def set_all_triggers(self, what: str, crossings: Sequence[tuple[str, str]], **values: Any) -> None:
        """Sets the same fields in several exits' triggers."""

        def change(flow: Flow) -> Flow:
            for level_id, exit_id in crossings:
                level = edits.whole(flow, level_id)
                exit_ = level.exit(exit_id) if level else None
                if exit_:
                    flow = edits.set_exit(flow, level_id, exit_id, trigger=replace(exit_.trigger, **values))
            return flow

        self._door.edit(f"change {what} of {len(crossings)} crossings", change)

    def remove(self) -> None:
        """Removes the selected exits."""
        crossings = self._selection.crossings
        level = self._selection.level_id

        def change(flow: Flow) -> tuple[Flow, Selected]:
            for level_id, exit_id in crossings:
                flow = edits.remove_thing(flow, level_id, "exits", exit_id)
            return flow, Selected.of(level)

        name = self._title(".".join(crossings[0])) if len(crossings) == 1 else f"{len(crossings)} exits"
        self._door.edit(f"remove {name}", change)


def _put(to: Destination | None, new: Destination | None, depth: int) -> Destination | None:
    """The destination with the one at a depth of its chain replaced; what stands behind it stays."""
    if depth and to:
        return replace(to, otherwise=_put(to.otherwise, new, depth - 1))
    return replace(new, otherwise=to.otherwise if to and new.otherwise is None else new.otherwise) if new else None


def new_spawn(flow: Flow, level_id: str, name: str) -> Spawn:
    """A spawn point in the middle of a level's plan, standing on what is the ground there."""
    level = edits.whole(flow, level_id)
    plan = level.plan if level else None
    if level is None or plan is None or not plan.width:
        return Spawn(id="spawn", name=name)
    x, y_down = plan.width / 2, flow.units.y == "down"
    tops = [s[1] if y_down else s[1] + s[3] for s in plan.solids if s[0] <= x <= s[0] + s[2]]
    tops = [top for top in tops if 0 < top < plan.height]
    y = (max(tops) if y_down else min(tops)) if tops else (plan.height if y_down else 0.0)
    return Spawn(id="spawn", name=name, x=x, y=y)
