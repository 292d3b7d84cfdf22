"""What is asked of levels: making, copying, moving, naming and removing them, and their regions."""

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.edit_door import Change, EditDoor
from mossy_bridge.desk.session.selection import Selected, Selection
from mossy_bridge.model.addresses import title_of
from mossy_bridge.model.codes import code_behind, free_name, numbered_too, renumbered
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits import order as ordering
from mossy_bridge.model.edits import remove as removing
from mossy_bridge.model.edits.duplicate import duplicate
from mossy_bridge.model.edits.endings import add_ending
from mossy_bridge.model.edits.templates import Template, add_screen
from mossy_bridge.model.flow import Flow, LevelKind, Tint

FIELDS = {"name": "rename", "code": "change the code of", "region": "move to another region:", "kind":
          "change the kind of", "ships": "change whether it ships:", "status": "change the status of", "opens":
          "change when it opens:", "file": "change the file of", "minutes": "change the minutes of",
          "difficulty": "change the difficulty of", "notes": "change the notes of", "on_arrival":
          "change what happens on arrival in", "cast": "change who roams", "pattern": "change the pattern of",
          "paths": "change the paths of"}  # fmt: skip


class LevelRequests:
    """Edits the document as asked of levels, mostly the selected ones."""

    def __init__(self, document: Document, selection: Selection, door: EditDoor):
        self._document, self._selection, self._door = document, selection, door

    def title(self, level_id: str) -> str:
        """What a level or pattern is called."""
        level = edits.owner(self._document.flow, level_id)
        return level.title if level else level_id

    def _several(self, level_ids: Sequence[str]) -> str:
        return self.title(level_ids[0]) if len(level_ids) == 1 else f"{len(level_ids)} levels"

    # -- making ----------------------------------------------------------------------------------------

    def new(self, after: str | None = None, kind: LevelKind = "play", first: bool = False) -> None:
        """Adds a level behind another (by default the selected one), and selects it."""
        flow = self._document.flow
        behind = self._selection.level_id if after is None else after
        words = "level" if kind == "play" else kind
        name = free_name(f"New {words}", [level.name for level in flow.levels])
        code = code_behind(flow, behind) if kind == "play" else ""

        def made(flow: Flow) -> tuple[Flow, tuple[str, ...]]:
            flow, level_id = edits.add_level(flow, name, behind, kind, code=code)
            return (ordering.move_levels(flow, [level_id], flow.levels[0].id) if first else flow), (level_id,)

        self._make(f"add a {words}", made)

    def add_screen(self, template: Template) -> None:
        """Adds one of the usual screens behind the selected level, wired as it usually is, and selects it."""

        def made(flow: Flow) -> tuple[Flow, tuple[str, ...]]:
            flow, new = add_screen(flow, template, self._selection.level_id)
            return flow, (new,)

        self._make(f"add a {template} screen", made)

    def insert_in_crossing(self) -> None:
        """Puts a new level into the selected crossing."""
        level, exit_id, flow = self._selection.level_id, self._selection.exit_id, self._document.flow
        code = code_behind(flow, level)
        name = free_name("New level", [other.name for other in flow.levels])

        def made(flow: Flow) -> tuple[Flow, tuple[str, ...]]:
            flow, new = edits.insert_in_crossing(flow, level, exit_id, name, code=code)
            return flow, (new,)

        self._make("put a level into a crossing", made)

    def duplicate(self) -> None:
        """Copies the selected levels behind the last of them, and selects the copies."""
        chosen = [name for name in self._selection.levels if self._document.flow.level(name)]
        if not chosen:
            return
        made = self._make(f"duplicate {self._several(chosen)}", lambda flow: duplicate(flow, chosen))
        first = numbered_too(self._document.flow, chosen[0]) if made and len(chosen) == 1 else ""
        if first:
            self._door.offer(
                f"call the original {first}, too", lambda flow: edits.set_level(flow, chosen[0], name=first)
            )

    def insert(self, step: str, put: Callable[[Flow], tuple[Flow, tuple[str, ...]]]) -> None:
        """Puts levels in, and selects them."""
        self._make(step, put)

    def _make(self, step: str, make: Callable[[Flow], tuple[Flow, tuple[str, ...]]]) -> bool:
        def change(flow: Flow) -> tuple[Flow, Selected]:
            flow, names = make(flow)
            return flow, Selected(names[0], names)

        return self._door.edit(step, change)

    # -- order and regions -----------------------------------------------------------------------------

    def moving(self, level_ids: Sequence[str], before: str, region: str | None) -> Change:
        """The edit that moves levels before another; for showing what it would do as well."""
        return lambda flow: ordering.move_levels(flow, level_ids, before, region)

    def move(self, level_ids: Sequence[str], before: str, region: str | None = None, shown: bool = False) -> None:
        """Moves levels to stand before another."""
        change = self.moving(level_ids, before, region)
        self._door.edit(f"move {self._several(level_ids)}", change, shown=shown)

    def step(self, by: int) -> None:
        """Moves the selected levels one place to the left or right."""
        names = [level.id for level in self._document.flow.levels]
        chosen = [name for name in names if name in self._selection.levels]
        if not chosen:
            return
        at = names.index(chosen[0]) - 1 if by < 0 else names.index(chosen[-1]) + 2
        if at >= 0 and (by < 0 or names.index(chosen[-1]) < len(names) - 1):
            self.move(chosen, names[at] if at < len(names) else "")

    def move_region(self, region: str, before: str, shown: bool = False) -> None:
        """Moves a whole region."""
        name = next((r.name or r.id for r in self._document.flow.regions if r.id == region), region)
        self._door.edit(f"move the region {name}", lambda flow: ordering.move_region(flow, region, before), shown=shown)

    def new_region(self, name: str) -> None:
        """Makes a region of the selected levels."""
        chosen = self._selection.levels
        self._door.edit(f"add the region {name}", lambda flow: ordering.add_region(flow, name, chosen)[0])

    def rename_region(self, region: str, name: str) -> None:
        """Gives a region another name."""
        self._door.edit("rename a region", lambda flow: ordering.set_region(flow, region, name=name))

    def tint_region(self, region: str, tint: Tint) -> None:
        """Gives a region another tint."""
        self._door.edit("tint a region", lambda flow: ordering.set_region(flow, region, tint=tint))

    def remove_region(self, region: str) -> None:
        """Removes a region; its levels stay."""
        self._door.edit("remove a region", lambda flow: ordering.remove_region(flow, region))

    def renumber(self, region: str, first: str) -> None:
        """Counts the codes of a region on from the first."""

        def change(flow: Flow) -> Flow:
            try:
                return renumbered(flow, region, first)
            except ValueError as error:
                raise edits.CannotEdit(str(error)) from error

        self._door.edit("renumber a region", change)

    # -- fields ----------------------------------------------------------------------------------------

    def take_minutes(self, minutes: Mapping[str, float]) -> None:
        """Sets how long levels are meant to be played, as it was measured."""
        values = {level_id: {"minutes": measured} for level_id, measured in minutes.items()}
        if minutes:
            step = f"take measured minutes over for {self._several(list(minutes))}"
            self._door.edit(step, lambda flow: edits.set_each(flow, values))

    def set(self, level_id: str, **values: Any) -> None:
        """Sets fields of a level or pattern."""
        self.set_all([level_id], **values)

    def set_all(self, level_ids: Sequence[str], **values: Any) -> None:
        """Sets the same fields in several levels. Ids stay, so nothing that refers to them breaks."""
        step = f"{FIELDS.get(next(iter(values)), 'change')} {self._several(level_ids)}"
        self._door.edit(step, lambda flow: edits.set_levels(flow, level_ids, **values))

    def new_ending(self, name: str) -> None:
        """Adds a way the game can end."""
        self._door.edit(f"add the ending {name}", lambda flow: add_ending(flow, name)[0])

    def start_here(self) -> None:
        """Lets the game start at the selected level."""
        level = self._selection.level_id
        self._door.edit(f"start at {self.title(level)}", lambda flow: edits.set_start(flow, level))

    def place_card(self, level_id: str, x: float, y: float) -> None:
        """Keeps a card where it was put on the map."""
        step = f"move the card of {self.title(level_id)}"
        self._door.edit(step, lambda flow: edits.place_card(flow, level_id, x, y))

    def let_card_go(self, level_id: str) -> None:
        """Lets the map place a card again."""
        step = f"let the map place {self.title(level_id)}"
        self._door.edit(step, lambda flow: edits.let_card_go(flow, level_id))

    # -- removing --------------------------------------------------------------------------------------

    def remove(self) -> None:
        """Removes the selected levels; offers to lead their ways in to where they led."""
        chosen = [name for name in self._selection.levels if self._document.flow.level(name)]
        if not chosen:
            return
        flow = self._document.flow
        entered = any(
            to.level in chosen for level in flow.levels if level.id not in chosen
            for exit_ in level.exits for to in exit_.destinations
        )  # fmt: skip
        leads = [to for name in chosen if (to := removing.way_out(flow, name, chosen))]
        other: tuple[str, Change] | None = None
        if entered and leads:
            name = title_of(flow, leads[-1].level) if len(leads) == 1 else "where each led"
            other = f"Lead its ways in to {name}", lambda flow: removing.remove_and_reconnect(flow, chosen)
        step = f"remove {self._several(chosen)}"
        self._door.edit(step, lambda flow: edits.remove_levels(flow, chosen), otherwise=other)
