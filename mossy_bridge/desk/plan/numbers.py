"""The numbers of what is chosen on a plan, to be typed."""

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QContextMenuEvent, QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.blank import ForTesting
from mossy_bridge.desk.sentences.sentence import Field, testing_of, wrong_number
from mossy_bridge.desk.widgets.flow_layout import FlowingLayout
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label, plain
from mossy_bridge.language.numbers import number_in, number_text
from mossy_bridge.model.edits.levels import PATTERN, whole
from mossy_bridge.model.flow import Flow, Level, Plan, Rect, Spawn
from mossy_bridge.plan.laying import Part, part_of
from mossy_bridge.plan.screens import with_screen_laid_out

LINES = (("left", "Left"), ("centre", "Centre"), ("right", "Right"), ("top", "Top"), ("middle", "Middle"),
         ("bottom", "Bottom"))  # fmt: skip


class NumberField(QLineEdit):
    """A number. ``typed`` is told when it is another one; what is no number, or cannot stand in the field ``of`` a
    class, is told while it is typed, and put back. Up and down arrows step it."""

    def __init__(self, name: str, value: float, step: float, of: Field, typed: Callable[[float], object]):
        super().__init__(number_text(value))
        self._value, self._step, self._of, self.typed = value, step, of, typed
        self._tip = f"{name}; arrow keys step it by {step:g}"
        self.testing: ForTesting | None = None
        """Whether it is for testing only, and what can be asked then; None where it cannot be."""
        self.setFixedWidth(56)
        self.setMaxLength(40)
        self.setAccessibleName(name)
        self.setToolTip(plain(self._tip))
        self.textEdited.connect(self._look)
        self.editingFinished.connect(self._finish)

    def _look(self) -> str:
        problem = wrong_number(self._of, self.text())
        if self.property("wrong") != bool(problem):
            self.setProperty("wrong", bool(problem))
            given(self.style()).polish(self)
        self.setToolTip(plain(problem or self._tip))
        return problem

    def unfinished(self) -> float | None:
        """Another number that has been typed and not yet told of."""
        value = number_in(self.text())
        return None if value is None or value == self._value or self._look() else value

    def _finish(self) -> None:
        value = self.unfinished()
        if value is None:
            self.setText(number_text(self._value))
            self._look()
        else:
            self._value = value
            self.typed(value)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        event, menu = given(event), given(self.createStandardContextMenu())
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        if self.testing:
            menu.addSeparator()
            self.testing.add_to(menu)
        menu.exec(event.globalPos())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        steps = {Qt.Key.Key_Up: self._step, Qt.Key.Key_Down: -self._step}
        key = Qt.Key(event.key())
        if key in steps:
            self.setText(number_text(round(self._value + steps[key], 6)))
            self._finish()
        else:
            super().keyPressEvent(event)


class Numbers(QWidget):
    """The numbers of one part of a level, or of its plan; for several parts, ways to line them up."""

    def __init__(self, requests: Requests):
        super().__init__()
        self._requests = requests
        self._row = FlowingLayout(self, gap=5, line_gap=4)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._fields: list[NumberField] = []
        self._untold: list[Callable[[], object]] = []
        self._focused = ""
        self._settings: dict[str, Any] = {}
        self._shown: object = None
        self.setAccessibleName("Numbers")

    def show_parts(self, flow: Flow, key: str, parts: tuple[Part, ...], step: float) -> None:
        """Shows the parts' numbers; without parts the size of the plan."""
        flow = with_screen_laid_out(flow, key)
        level = whole(flow, key)
        parts = tuple(part for part in parts if part.group != "tiles")  # these are laid out on their board
        things = tuple(part_of(level, part) for part in parts) if level else ()
        shown = (key, parts, things, level.plan if level else None, step, flow.trial_settings)
        if shown == self._shown:
            return
        self._shown = shown
        focused = self.focusWidget()
        self._focused = focused.accessibleName() if isinstance(focused, NumberField) and focused.hasFocus() else ""
        self._keep_what_was_typed()
        self._row.drop_from(0)
        if level is not None:
            self._fill(flow, key, level, parts, step)
        self.updateGeometry()

    def _keep_what_was_typed(self) -> None:
        """Tells of a number still being typed later: told now, its answer would arrive amid the new ones."""
        for field in self._fields:
            value = field.unfinished()
            if value is not None:
                self._untold.append(partial(field.typed, value))
                QTimer.singleShot(0, self._tell)
        self._fields.clear()

    def _tell(self) -> None:
        while self._untold:
            self._untold.pop(0)()

    def _fill(self, flow: Flow, key: str, level: Level, parts: tuple[Part, ...], step: float) -> None:
        if len(parts) > 1:
            self._say(f"Line up {len(parts)} things:")
            for edge, words in LINES:
                link = Link(words, f"Line them up: {words.lower()}")
                link.clicked.connect(lambda _, e=edge: self._requests.plans.align(e))
                self._row.addWidget(link)
                link.show()
        elif not parts:
            self._plan(flow, key, level)
        else:
            self._settings = {setting.at: setting.ships_as for setting in flow.trial_settings}
            self._part(key, level, parts[0], step)

    def _say(self, text: str) -> None:
        label = Label(text)
        self._row.addWidget(label)
        label.show()

    def _field(
        self, name: str, value: float, step: float, typed: Callable[[float], object], of: Field, at: str = ""
    ) -> None:
        """``at`` is the long place of a number that can be for testing only."""
        self._say(name)
        field = NumberField(name, value, step, of, typed)
        field.testing = testing_of(self._requests.upkeep, at, self._settings) if at else None
        self._fields.append(field)
        self._row.addWidget(field)
        field.show()
        if name == self._focused:
            field.setFocus()

    def _plan(self, flow: Flow, key: str, level: Level) -> None:
        plan = level.plan
        self._say("Plan")
        for name, words in (("width", "wide"), ("height", "high")):
            self._field(words, getattr(plan, name) if plan else 0, 1,
                        partial(self._set_size, key, name), (Plan, name))  # fmt: skip
        self._say(f"{flow.units.name}s" if flow.units.name and not flow.units.name.endswith("s") else flow.units.name)

    def _set_size(self, key: str, name: str, value: float) -> None:
        self._requests.plans.set_plan(key, "the size", **{name: value})

    def _stretch(self, key: str, part: Part, rect: Rect, index: int, value: float) -> None:
        new = list(rect)
        new[index] = value
        self._requests.plans.stretch(key, part, (new[0], new[1], new[2], new[3]))

    def _put(self, key: str, part: Part, name: str, value: float) -> None:
        self._requests.plans.set(key, part, "the place", **{name: value})

    def _part(self, key: str, level: Level, part: Part, step: float) -> None:
        thing = part_of(level, part)
        pattern = key.startswith(PATTERN) or level.pattern
        if part.group in ("exits", "solids"):
            rect = thing.area if part.group == "exits" else thing

            for index, name in enumerate(("x", "y", "w", "h")):
                place = f"levels.{key}.exits.{part.name}.area.{index}" if part.group == "exits" else ""
                self._field(name, rect[index], step or 1, partial(self._stretch, key, part, rect, index),
                            (Plan, "width") if index > 1 else (Spawn, "x"), "" if pattern else place)  # fmt: skip
        elif part.group in ("spawns", "deeds"):
            for name in ("x", "y"):
                self._field(name, getattr(thing, name), step or 1,
                            partial(self._put, key, part, name), (Spawn, name),
                            "" if pattern else f"levels.{key}.{part.group}.{part.name}.{name}")  # fmt: skip
