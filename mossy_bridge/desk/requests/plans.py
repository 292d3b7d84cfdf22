"""What is asked of plans: drawing, moving, lining up, copying and removing what lies on them."""

from collections.abc import Callable, Sequence
from typing import Any

from msgspec.structs import replace

from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.edit_door import EditDoor
from mossy_bridge.desk.session.selection import Selected, Selection
from mossy_bridge.exchange.clipboard_json import Parts, levels_for, pasted, with_transitions
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits.duplicate import put_in
from mossy_bridge.model.flow import Deed, Exit, Flow, Rect, Spawn, Zone
from mossy_bridge.plan import laying
from mossy_bridge.plan.doors import standing_place
from mossy_bridge.plan.laying import Edge, Part
from mossy_bridge.plan.screens import with_screen_laid_out

WORDS = {
    "exits": "exit", "spawns": "spawn point", "deeds": "deed", "solids": "solid", "zones": "zone", "tiles": "tile",
}  # fmt: skip


class PlanRequests:
    """Edits the document as asked of the things in a level."""

    def __init__(self, document: Document, selection: Selection, door: EditDoor):
        self._document, self._selection, self._door = document, selection, door

    def told(self, level_id: str, parts: Sequence[Part]) -> str:
        """The parts in words."""
        if len(parts) != 1:
            return f"{len(parts)} things"
        level = edits.whole(self._document.flow, level_id)
        thing = laying.part_of(level, parts[0]) if level else None
        return getattr(thing, "name", "") or f"a {WORDS[parts[0].group]}"

    def edit(self, step: str, change: Callable[[Flow], Flow]) -> bool:
        """Makes one named step."""
        return self._door.edit(step, change)

    def _lay(self, step: str, level_id: str, change: Callable[[Flow], Flow]) -> None:
        """Changes how a level is laid out; a screen that was laid out by itself keeps the places of all else."""
        self._door.edit(step, lambda flow: change(with_screen_laid_out(flow, level_id)))

    def move(self, level_id: str, parts: Sequence[Part], across: float, along: float) -> None:
        """Moves things."""
        step = f"move {self.told(level_id, parts)}"
        self._lay(step, level_id, lambda flow: laying.moved(flow, level_id, parts, across, along))

    def stretch(self, level_id: str, part: Part, rect: Rect) -> None:
        """Gives an area or a solid another rectangle."""
        step = f"change the area of {self.told(level_id, [part])}"
        self._lay(step, level_id, lambda flow: laying.stretched(flow, level_id, part, rect))

    def align(self, edge: Edge) -> None:
        """Lines up the selected things."""
        level_id, parts = self._selection.level_id, self._selection.parts
        words = {"centre": "across", "middle": "along"}.get(edge, f"at the {edge}")
        self._lay(f"line up {len(parts)} things {words}", level_id,
                  lambda flow: laying.aligned(flow, level_id, parts, edge))  # fmt: skip

    def set(self, level_id: str, part: Part, what: str, **values: Any) -> None:
        """Sets fields of a thing."""
        step = f"change {what} of {self.told(level_id, [part])}"
        change = lambda thing: replace(thing, **values)  # noqa: E731
        self._lay(step, level_id, lambda flow: edits.change_thing(flow, level_id, part.group, part.name, change))

    def set_plan(self, level_id: str, what: str, **values: Any) -> None:
        """Sets the size or the picture of a plan."""
        self._lay(f"change {what} of the plan", level_id, lambda flow: laying.with_plan(flow, level_id, **values))

    # -- adding ----------------------------------------------------------------------------------------

    def draw_exit(self, level_id: str, area: Rect) -> None:
        """Draws an exit that is set off by walking into it."""
        level = edits.whole(self._document.flow, level_id)
        number = len(level.exits) + 1 if level else 1
        self._add(level_id, "exits", Exit(id="exit", name=f"Exit {number}", area=area))

    def put_spawn(self, level_id: str, x: float, y: float) -> None:
        """Puts a spawn point; where the level's only one is still unplaced, that one."""
        level = edits.whole(self._document.flow, level_id)
        unplaced = level is not None and len(level.spawns) == 1 and (level.spawns[0].x, level.spawns[0].y) == (0, 0)
        if level and unplaced and (x, y) != (0, 0):
            only = Part("spawns", level.spawns[0].id)
            self.set(level_id, only, "the place", x=x, y=y)
            self._selection.select_parts(level_id, [only])
            return
        number = len(level.spawns) + 1 if level else 1
        self._add(level_id, "spawns", Spawn(id="spawn", name=f"Spawn point {number}", x=x, y=y))

    def put_deed(self, level_id: str, x: float, y: float) -> None:
        """Puts a deed."""
        level = edits.whole(self._document.flow, level_id)
        number = len(level.deeds) + 1 if level else 1
        self._add(level_id, "deeds", Deed(id="deed", name=f"Deed {number}", x=x, y=y))

    def new_spawn(self, level_id: str) -> None:
        """Adds a spawn point: on a plan where there is room to stand, near its middle."""
        x, y = self._free_place(level_id)
        self.put_spawn(level_id, x, y)

    def new_deed(self, level_id: str) -> None:
        """Adds a deed, likewise. A level needs no plan for it: what is done in it is planned before it is drawn."""
        x, y = self._free_place(level_id)
        self.put_deed(level_id, x, y)

    def new_solid(self, level_id: str) -> None:
        """Adds a solid in the middle of the plan, to be moved and stretched."""
        level, walker = edits.whole(self._document.flow, level_id), self._document.flow.walker
        if level is None or level.plan is None or not level.plan.width:
            self._door.refused.emit("A solid lies on a plan, and this level has none yet. Make one first (Ctrl+L).")
            return
        width, height = max(1.0, 2 * walker.width), max(1.0, walker.width)
        x, y = (level.plan.width - width) / 2, (level.plan.height - height) / 2
        self.draw_solid(level_id, (laying.neat(x), laying.neat(y), laying.neat(width), laying.neat(height)))

    def _free_place(self, level_id: str) -> tuple[float, float]:
        """Where the walker can stand, near the middle of the plan; 0, 0 where there is no plan."""
        flow = self._document.flow
        level = edits.whole(flow, level_id)
        if level is None or level.plan is None:
            return 0, 0
        middle = level.plan.width / 2, level.plan.height / 2
        x, y = standing_place(flow, level, *middle) or middle
        return laying.neat(x), laying.neat(y)

    def new_zone(self, level_id: str, name: str) -> None:
        """Adds a zone."""
        self._add(level_id, "zones", Zone(id="zone", name=name), select=False)

    def remove_zone(self, level_id: str, zone: str) -> None:
        """Removes a zone; things in it dangle until they are put elsewhere."""
        self._door.edit("remove a zone", lambda flow: edits.remove_thing(flow, level_id, "zones", zone))

    def _add(self, level_id: str, group: str, thing: Any, select: bool = True) -> None:
        def change(flow: Flow) -> Flow | tuple[Flow, Selected]:
            flow, name = edits.add_thing(flow, level_id, group, thing)
            return (flow, Selected(level_id, (level_id,), (Part(group, name),))) if select else flow

        self._door.edit(f"add a {WORDS[group]}", change)

    def draw_solid(self, level_id: str, rect: Rect) -> None:
        """Draws a solid."""

        def change(flow: Flow) -> tuple[Flow, Selected]:
            flow, part = laying.with_solid(flow, level_id, rect)
            return flow, Selected(level_id, (level_id,), (part,))

        self._door.edit("draw a solid", change)

    # -- copying and removing --------------------------------------------------------------------------

    def paste(self, level_id: str, parts: Parts, step: str = "paste") -> None:
        """Puts things into a level, a little aside from where they were, and selects them; or levels behind
        the selected one."""
        if parts.levels:
            self._paste_levels(parts, step)
            return
        aside = self._document.flow.walker.width

        def change(flow: Flow) -> tuple[Flow, Selected]:
            flow, new = pasted(flow, level_id, parts, aside)
            return flow, Selected(level_id, (level_id,), tuple(part for part in new if part.group != "zones"))

        self._door.edit(step, change)

    def _paste_levels(self, parts: Parts, step: str) -> None:
        after = self._selection.level_id

        def change(flow: Flow) -> tuple[Flow, Selected]:
            flow, names = put_in(with_transitions(flow, parts), levels_for(flow, parts), after)
            return flow, Selected(names[0], names)

        self._door.edit(step, change)

    def remove(self, level_id: str, parts: Sequence[Part]) -> None:
        """Removes things from a level."""
        step = f"remove {self.told(level_id, parts)}"
        self._door.edit(step, lambda flow: laying.removed(flow, level_id, parts))

    def confirm(self, level_id: str, part: str = "") -> None:
        """Says that a part of a copy is right as it is, or all of it."""
        step = "confirm a part of a copy" if part else "confirm a copy"
        self._door.edit(step, lambda flow: edits.looked_at(flow, level_id, part))
