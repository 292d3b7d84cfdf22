"""Going to places of the flow: what is selected and in view, and the plan in full."""

from dataclasses import dataclass

from PyQt6.QtCore import QObject

from mossy_bridge.checks.finding import Finding
from mossy_bridge.desk.bench.bench import Bench
from mossy_bridge.desk.faces.boards import BoardsFace
from mossy_bridge.desk.faces.faces import Faces
from mossy_bridge.desk.map.view import MapView
from mossy_bridge.desk.plan.page import PlanPage
from mossy_bridge.desk.play_tests.overlay import Overlay
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.selection import Selected, Selection
from mossy_bridge.desk.shell.arrangement import Middle
from mossy_bridge.model.edits.levels import owner, whole
from mossy_bridge.plan.laying import Part


@dataclass(frozen=True)
class Where:
    """Where the designer is looking; undo comes back to it."""

    selected: Selected
    face: int
    plan: bool
    map_at: tuple[float, float, float]


class Navigation(QObject):
    """Shows places of the document's flow, and remembers for undo where one was looking."""

    def __init__(
        self, document: Document, selection: Selection, middle: Middle, faces: Faces, map_view: MapView, bench: Bench,
        plan: PlanPage, boards: BoardsFace, overlay: Overlay,
    ):  # fmt: skip
        super().__init__(document)
        self._document, self._selection, self._middle, self._faces = document, selection, middle, faces
        self._map, self._bench, self._plan, self._boards, self._overlay = map_view, bench, plan, boards, overlay
        document.where = self.where
        document.travelled.connect(self._on_travelled)
        plan.closed.connect(self.close_plan)
        plan.exit_wanted.connect(self._show_crossing)

    def where(self) -> Where:
        """Where one is looking."""
        return Where(self._selection.now, self._faces.index, self.is_plan_open, self._map.where())

    def _on_travelled(self, where: object) -> None:
        """After undo or redo: what was selected and in view when the flow was last so."""
        if not isinstance(where, Where):
            return
        self._selection.take(where.selected)
        self._selection.tidied(self._document.flow)
        if where.face != self._faces.index:
            self._faces.turn(where.face)
        if where.plan != self.is_plan_open:
            self.open_plan(where.selected.level) if where.plan else self.close_plan()
        self._map.go_to(where.map_at)

    @property
    def is_plan_open(self) -> bool:
        """Whether the plan fills the middle."""
        return self._middle.is_plan_open

    def open_plan(self, level_id: str) -> None:
        """Lays out a level's plan in the full middle; a board on its face."""
        level = owner(self._document.flow, level_id)
        if level is None:
            return
        if level_id != self._selection.level_id or self._selection.now.crossings or len(self._selection.levels) > 1:
            self._selection.select(level_id)
        if self._document.flow.level(level_id) is level and level.kind == "board":
            self._faces.turn_to(self._boards)
            return
        self._middle.open_plan()
        self.show_selected()
        self._plan.canvas.setFocus()

    def close_plan(self) -> None:
        """Back to the map and the bench."""
        if self.is_plan_open:
            self._middle.close_plan()
            self._selection.select(self._selection.level_id)  # what comes next is meant for the level again
            self._bench.refresh()
            self._map.setFocus()

    def toggle_plan(self) -> None:
        """The selected level's plan, or back from it."""
        if self.is_plan_open:
            self.close_plan()
        else:
            self.open_plan(self._selection.level_id)

    def _show_crossing(self, level_id: str, exit_id: str) -> None:
        self.close_plan()
        self._selection.select(level_id, exit_id)

    def show_selected(self) -> None:
        """The bench, or the plan in full: whichever is in view."""
        if self.is_plan_open:
            document, selection = self._document, self._selection
            self._plan.show_level(document.flow, selection.level_id, selection.parts, document.folder)
        else:
            self._bench.refresh()
        self._overlay.refresh_plans()

    def show_finding(self, finding: Finding) -> None:
        """Selects the place a finding is about, on all bands."""
        any(self.show_finding_place(place) for place in finding.at)

    def show_finding_place(self, place: str) -> bool:
        """Selects a short place; whether the flow has it."""
        level_id, _, thing = place.partition(".")
        level = whole(self._document.flow, level_id)
        if level is None:
            return False
        groups = (("exits", level.exits), ("spawns", level.spawns), ("deeds", level.deeds))
        group = next((name for name, things in groups if any(t.id == thing for t in things)), "")
        self.show_place(level_id, group, thing)
        return True

    def show_place(self, level_id: str, group: str = "", name: str = "") -> None:
        """Selects a level or a thing in it, and shows it on the map."""
        if not level_id:
            return
        if not self._faces.is_in_view(self._map):
            self._faces.turn_to(self._map)
        level = whole(self._document.flow, level_id)
        if group == "exits":
            self.close_plan()
        if group and level and any(t.id == name for t in getattr(level, group)):
            self._selection.select_parts(level_id, [Part(group, name)])
        else:
            self._selection.select(level_id)
        self._map.show_level(level_id)
