"""What is selected, shared by all bands: levels, crossings, or things on one level's plan."""

from collections.abc import Iterable
from dataclasses import dataclass

from PyQt6.QtCore import QObject, pyqtSignal

from mossy_bridge.model.edits.levels import owner, whole
from mossy_bridge.model.flow import Exit, Flow, Level
from mossy_bridge.plan.laying import Part, part_of

Crossing = tuple[str, str]
"""A level and one of its exits."""


@dataclass(frozen=True)
class Selected:
    """One state of the selection. ``level`` is the one shown; ``levels`` has it and others chosen with it;
    ``parts`` are things of it; ``crossings`` are several exits, of whatever levels."""

    level: str = ""
    levels: tuple[str, ...] = ()
    parts: tuple[Part, ...] = ()
    crossings: tuple[Crossing, ...] = ()

    @staticmethod
    def of(level_id: str = "", exit_id: str = "") -> "Selected":
        """A level alone, or one of its exits; nothing without a level."""
        return Selected(level_id, (level_id,) if level_id else (), (Part("exits", exit_id),) if exit_id else ())


class Selection(QObject):
    """Emits ``changed`` when something else is selected. It holds ids, so it outlives edits."""

    changed = pyqtSignal()

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self.now = Selected()

    # -- what is selected ------------------------------------------------------------------------------

    @property
    def level_id(self) -> str:
        """The level shown (with ``pattern:`` before it, a pattern), or ""."""
        return self.now.level

    @property
    def exit_id(self) -> str:
        """The exit selected, where it is the only thing selected, or ""."""
        parts = self.now.parts
        return parts[0].name if len(parts) == 1 and parts[0].group == "exits" else ""

    @property
    def parts(self) -> tuple[Part, ...]:
        """The things selected in the level shown."""
        return self.now.parts

    @property
    def levels(self) -> tuple[str, ...]:
        """Every level selected."""
        return self.now.levels

    @property
    def crossings(self) -> tuple[Crossing, ...]:
        """Every exit selected."""
        own = tuple((self.now.level, part.name) for part in self.now.parts if part.group == "exits")
        return self.now.crossings or own

    def level(self, flow: Flow) -> Level | None:
        """The level shown as it is written, if the flow still has it."""
        return owner(flow, self.level_id)

    def exit(self, flow: Flow) -> Exit | None:
        """The selected exit with what its level takes from a pattern, if the flow still has it."""
        level = whole(flow, self.level_id)
        return level.exit(self.exit_id) if level and self.exit_id else None

    # -- selecting -------------------------------------------------------------------------------------

    def take(self, selected: Selected) -> None:
        """Selects exactly this."""
        if selected != self.now:
            self.now = selected
            self.changed.emit()

    def reset(self) -> None:
        """Selects nothing, without saying so: that is said by the document's having been opened."""
        self.now = Selected()

    def select(self, level_id: str = "", exit_id: str = "") -> None:
        """Selects a level, or one of its exits; nothing without a level."""
        self.take(Selected.of(level_id, exit_id))

    def select_parts(self, level_id: str, parts: Iterable[Part]) -> None:
        """Selects things of a level."""
        self.take(Selected(level_id, (level_id,), tuple(parts)))

    def select_levels(self, level_ids: Iterable[str], lead: str = "") -> None:
        """Selects several levels; the last of them is shown, unless another is named."""
        names = tuple(dict.fromkeys(level_ids))
        self.take(Selected(lead or (names[-1] if names else ""), names))

    def toggle_level(self, level_id: str) -> None:
        """Selects one more level, or no longer."""
        rest = [name for name in self.now.levels if name != level_id]
        self.select_levels(rest if level_id in self.now.levels and rest else [*rest, level_id])

    def toggle_crossing(self, level_id: str, exit_id: str) -> None:
        """Selects one more crossing, or no longer."""
        now = list(self.crossings)
        one = (level_id, exit_id)
        rest = [other for other in now if other != one]
        chosen = rest if one in now and rest else [*rest, one]
        if len(chosen) == 1:
            self.select(*chosen[0])
        else:
            self.take(Selected(chosen[-1][0], (chosen[-1][0],), (), tuple(chosen)))

    def tidied(self, flow: Flow) -> None:
        """Lets go of what the flow does not have any more."""
        now = self.now
        levels = tuple(name for name in now.levels if owner(flow, name))
        level = whole(flow, now.level)
        if level is None:
            self.take(Selected(levels[-1], levels) if levels else Selected())
            return
        parts = tuple(part for part in now.parts if part_of(level, part) is not None)
        crossings = tuple((lv, ex) for lv, ex in now.crossings if (w := whole(flow, lv)) and w.exit(ex))
        self.take(Selected(now.level, levels, parts, crossings))
