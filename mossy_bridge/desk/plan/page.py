"""The plan of one level in the full middle: tools, the canvas, and the numbers of what is chosen."""

import os
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from mossy_bridge.desk.bench.wiring import wire_canvas
from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.plan.canvas import PlanCanvas
from mossy_bridge.desk.plan.gestures import Tool
from mossy_bridge.desk.plan.numbers import Numbers
from mossy_bridge.desk.plan.painting import has_plan
from mossy_bridge.desk.plan.pictures import PICTURES, CannotDraw, drawn
from mossy_bridge.desk.plan.snapping import grid_step
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.things import ThingSentence, ZonesSentence
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.widgets.drop_down import DropDown
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label, plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.workers.background_task import done_beside
from mossy_bridge.exchange.below import file_below
from mossy_bridge.model.edits.levels import whole
from mossy_bridge.model.flow import Flow
from mossy_bridge.plan.laying import Part, neat

TOOLS: tuple[tuple[Tool, str, str], ...] = (
    ("choose", "Choose", "Choose and move things; drag over the ground to choose several"),
    ("exit", "Exit", "Drag an area that leads out when the player walks into it"),
    ("spawn", "Spawn point", "Click where the player can appear"),
    ("deed", "Deed", "Click where something can be done"),
    ("solid", "Solid", "Drag what cannot be walked through, one after the other; Esc ends it"),
)
BLANK_PLAN = (40.0, 12.0)
"""The size of a plan made from nothing, in the walker's widths, about."""


class PlanPage(QWidget):
    """Lays out one level's plan. ``closed`` on Esc; ``exit_wanted(level, exit)`` asks for a crossing."""

    closed = pyqtSignal()
    exit_wanted = pyqtSignal(str, str)

    def __init__(self, look: Look, requests: Requests, selection: Selection, person: Person):
        super().__init__()
        self._requests, self._selection, self._person = requests, selection, person
        self._flow = Flow()
        self._folder: Path | None = None
        self._shown_picture: tuple[Path | None, str] = (None, "")
        self.canvas = PlanCanvas(look, "Plan in full", roams=True)
        self.numbers = Numbers(requests)
        self.thing = ThingSentence(requests)
        self.zones = ZonesSentence(requests, person.ask)
        self._title = Label()
        self.tools: dict[str, QPushButton] = {}
        self.grid = DropDown()
        self._picture = Link("Picture behind…", "Choose a PNG, JPEG or SVG to trace over")
        self._bare = Link("No picture", "Take the picture away")
        self._make = QPushButton("Make a plan")
        self._hint = Label()
        self._arrange()
        wire_canvas(self.canvas, requests)
        self.canvas.chosen.connect(lambda parts: selection.select_parts(self.canvas.key, parts))
        self.canvas.opened.connect(self._on_opened)
        self.canvas.tool_changed.connect(self._on_tool)
        self._picture.clicked.connect(self._choose_picture)
        PICTURES.arrived.connect(self._say_tip)
        self._bare.clicked.connect(lambda: requests.plans.set_plan(self.canvas.key, "the picture", picture=""))
        self._make.clicked.connect(self._make_plan)
        self.grid.activated.connect(self._on_grid)
        self._look = look
        look.changed.connect(self._wear)  # a bound method: what is of a closed window hears no more
        self._wear()
        self._on_tool()

    def _arrange(self) -> None:
        bar = QHBoxLayout()
        bar.setSpacing(6)
        back = QPushButton("‹ Back")
        back.setToolTip("Back to the map (Esc)")
        back.clicked.connect(self.closed)
        bar.addWidget(back)
        bar.addWidget(self._title)
        bar.addSpacing(10)
        for number, (tool, words, tip) in enumerate(TOOLS, 1):
            button = QPushButton(words)
            button.setCheckable(True)
            button.setProperty("tool", True)
            button.setToolTip(plain(f"{tip} ({number})"))
            button.clicked.connect(lambda _, t=tool: self.canvas.use_tool(t))
            self.tools[tool] = button
            bar.addWidget(button)
        bar.addStretch(1)
        bar.addWidget(Label("Grid"))
        self.grid.setAccessibleName("Grid")
        bar.addWidget(self.grid)
        bar.addWidget(self._picture)
        bar.addWidget(self._bare)
        below = QHBoxLayout()
        below.addWidget(self.numbers, 3)
        below.addWidget(self._hint, 2, Qt.AlignmentFlag.AlignRight)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.setSpacing(6)
        layout.addLayout(bar)
        layout.addWidget(self.thing)
        layout.addWidget(self._make, 0, Qt.AlignmentFlag.AlignHCenter)
        layout.addWidget(self.canvas, 1)
        layout.addLayout(below)
        layout.addWidget(self.zones)

    def _wear(self) -> None:
        self._title.setFont(self._look.font(1, bold=True))
        self._hint.setFont(self._look.font(-1))

    # -- showing ---------------------------------------------------------------------------------------

    def show_level(self, flow: Flow, key: str, parts: tuple[Part, ...], folder: Path | None) -> None:
        """Shows a level's plan."""
        level = whole(flow, key)
        if level is None:
            self.closed.emit()
            return
        self._flow, self._folder = flow, folder
        self._title.setText(f"{level.code} {level.title}".strip())
        self.canvas.show_plan(flow, key, parts, everything=True, folder=folder)
        self._fill_grid()
        self.numbers.show_parts(flow, key, parts, self.canvas.step)
        one = parts[0] if len(parts) == 1 and parts[0].group in ("deeds", "spawns") else None
        self.thing.setVisible(one is not None)
        if one:
            self.thing.say(flow, key, level, one)
        self.zones.say(flow, key, level)
        self._make.setVisible(not has_plan(level) and level.kind != "screen")
        picture = level.plan.picture if level.plan else ""
        self._bare.setVisible(bool(picture))
        self._picture.say(f"Picture: {picture}" if picture else "Picture behind…")
        self._shown_picture = folder, picture
        self._say_tip()

    def _say_tip(self) -> None:
        self._hint.setText(self._tip())

    def _tip(self) -> str:
        folder, picture = self._shown_picture
        trouble = {
            "missing": f"The picture {picture} is not found below the flow's folder.",
            "unreadable": f"The picture {picture} cannot be drawn.",
        }.get(PICTURES.standing(folder, picture), "")
        return trouble or {
            "choose": "Arrow keys nudge, Shift finer; Alt drags free of the grid; wheel zooms",
            "solid": "Drag rectangles; Esc ends drawing",
            "exit": "Drag the exit’s area",
        }.get(self.canvas.tool, "Click the place")

    def _fill_grid(self) -> None:
        own = grid_step(self._flow.walker)
        steps = [0.0, own / 4, own / 2, own, own * 2, own * 4]
        if [self.grid.itemData(i) for i in range(self.grid.count())] != steps:
            self.grid.clear()
            for step in steps:
                self.grid.addItem(f"{step:g}" if step else "none", step)
        self.grid.setCurrentIndex(max(0, self.grid.findData(self.canvas.step)))

    def _on_grid(self) -> None:
        self.canvas.step = self.grid.currentData()
        self.canvas.update()

    def _on_tool(self) -> None:
        for tool, button in self.tools.items():
            button.setChecked(tool == self.canvas.tool)
        self._hint.setText(self._tip())

    # -- asking ----------------------------------------------------------------------------------------

    def _on_opened(self, part: Part | None) -> None:
        if part is not None and part.group == "exits":
            self.exit_wanted.emit(self.canvas.key, part.name)

    def _make_plan(self) -> None:
        unit = max(1.0, round(self._flow.walker.width))
        width, height = BLANK_PLAN[0] * unit, BLANK_PLAN[1] * unit
        ground = (
            (0.0, height - 2 * unit, width, 2 * unit) if self._flow.units.y == "down" else (0.0, 0.0, width, 2 * unit)
        )
        solids = () if self._flow.walker.view == "top" else (ground,)
        self._requests.plans.set_plan(self.canvas.key, "the size", width=width, height=height, solids=solids)
        self.canvas.setFocus()

    def _choose_picture(self) -> None:
        """Takes a picture, named relative to the flow's folder, and fits the plan's shape to it if it is bare."""
        if self._folder is None:
            self._person.tell("No picture", "Save the flow first: pictures lie below its folder.")
            return
        path = self._person.picture_path(self._folder)
        if path is None:
            return
        name = Path(os.path.relpath(path.resolve(), self._folder.resolve())).as_posix()
        if file_below(self._folder, name) is None:
            way_out = f"Put it below {self._folder.resolve()}, so that the flow and it stay together."
            self._person.tell("No picture", f"{path.name} lies outside the flow's folder.\n\n{way_out}")
            return
        try:
            picture = done_beside(partial(drawn, path))
        except CannotDraw as error:
            self._person.tell("No picture", f"{error}.")
            return
        level = whole(self._flow, self.canvas.key)
        values: dict[str, object] = {"picture": name}
        if level and not has_plan(level) and level.kind != "screen":
            width, height = picture.size
            wide = BLANK_PLAN[0] * max(1.0, round(self._flow.walker.width))
            values |= {"width": wide, "height": neat(wide * height / max(width, 1))}
        self._requests.plans.set_plan(self.canvas.key, "the picture", **values)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        key = event.key()
        if key == Qt.Key.Key_Escape:
            self.closed.emit()
        elif Qt.Key(key) in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not self._make.isHidden():
            self._make_plan()
        elif Qt.Key.Key_1 <= key <= Qt.Key.Key_5:
            self.canvas.use_tool(TOOLS[key - Qt.Key.Key_1][0])
        else:
            super().keyPressEvent(event)
