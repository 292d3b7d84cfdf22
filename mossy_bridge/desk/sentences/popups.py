"""What opens under a blank: a list to pick from, several to tick, or a line to type in."""

import re
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass
from html import escape

from PyQt6.QtCore import QEvent, QObject, QPoint, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QHideEvent, QKeyEvent
from PyQt6.QtWidgets import QApplication, QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget
from PyQt6.sip import isdeleted

from mossy_bridge.desk.widgets.colours import DARK, LIGHT
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label, MarkedLabel
from mossy_bridge.desk.workers.condition_query import ConditionQuery
from mossy_bridge.language.completion import Candidate, condition_candidates, effect_candidates
from mossy_bridge.language.evaluation import Unknown, Vocabulary, unknown_in_condition, unknown_in_effect
from mossy_bridge.language.parsing import (
    WrongWording,
    canonical_condition,
    canonical_effect,
    parse_condition,
    parse_effect,
)
from mossy_bridge.language.typed_names import right_wording, with_ids
from mossy_bridge.language.wording import Wording
from mossy_bridge.model.flow import Flow
from mossy_bridge.model.ids import KEYWORDS, nearest
from mossy_bridge.reach.queries.where_condition_holds import WhereItHolds, sentences_about

ROLE = Qt.ItemDataRole.UserRole
ASKS_AFTER_MS = 250
"""After so long without typing it is found out where a condition holds."""


@dataclass(frozen=True)
class Choice:
    """Something a blank can be filled with: its id, and what it is called."""

    id: str
    text: str


class Popup(QFrame):
    """Opens below a blank, inside the window, and is gone when one looks elsewhere: at another widget, or by a click
    outside. It is a part of the window, not a window of its own, for those are not in the tree that readers hear.
    """

    def __init__(self, parent: QWidget):
        super().__init__(parent.window())
        self._before = QApplication.focusWidget()
        """What gets the keyboard back."""
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setObjectName("picker")
        self._line = QLineEdit()
        self._list = QListWidget()
        self._list.setAccessibleName("Choices")
        self._list.setWordWrap(True)
        self._list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._list.setResizeMode(QListWidget.ResizeMode.Adjust)
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(6, 6, 6, 6)
        self._layout.setSpacing(4)
        self._layout.addWidget(self._line)
        self._layout.addWidget(self._list)
        self._line.installEventFilter(self)
        self._outside = _Outside(self)
        parent.destroyed.connect(self.close)
        self.hide()

    def open_at(self, corner: QPoint) -> None:
        """Shows it below the point, which is one of the screen."""
        window = given(self.parentWidget())
        room, at = window.rect(), window.mapFromGlobal(corner)
        at.setX(max(room.left(), min(at.x(), room.right() - self.width())))
        if at.y() + self.height() > room.bottom():
            at.setY(max(room.top(), at.y() - self.height() - 30))
        self.move(at)
        self.show()
        self.raise_()
        self._line.setFocus(Qt.FocusReason.PopupFocusReason)
        self._outside.begin()

    def hideEvent(self, event: QHideEvent | None) -> None:
        super().hideEvent(event)
        self._outside.end()
        before, focused = self._before, QApplication.focusWidget()
        mine = focused is None or focused is self or self.isAncestorOf(focused)
        if mine and before is not None and not isdeleted(before) and before.isVisible():
            before.setFocus(Qt.FocusReason.PopupFocusReason)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if given(event).key() == Qt.Key.Key_Escape:
            self.close()
        else:
            super().keyPressEvent(event)

    def focusNextPrevChild(self, forwards: bool) -> bool:
        inside = [one for one in self.findChildren(QWidget) if one.isVisible() and one.isEnabled()
                  and one.focusPolicy().value & Qt.FocusPolicy.TabFocus.value]  # fmt: skip
        focused = QApplication.focusWidget()
        if focused in inside:
            target = inside[(inside.index(focused) + (1 if forwards else -1)) % len(inside)]
            target.setFocus(Qt.FocusReason.TabFocusReason)
        return True

    def eventFilter(self, _: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            return self._on_key(event)
        return False

    def _on_key(self, event: QKeyEvent) -> bool:
        row, last = self._list.currentRow(), self._list.count() - 1
        match event.key():
            case Qt.Key.Key_Down:
                self._list.setCurrentRow(min(row + 1, last))
            case Qt.Key.Key_Up:
                self._list.setCurrentRow(max(row - 1, 0))
            case Qt.Key.Key_Return | Qt.Key.Key_Enter:
                self._on_enter()
            case _:
                return False
        return True

    def _on_enter(self) -> None:
        """Enter was pressed."""


class _Outside(QObject):
    """Closes a popup once the mouse is pressed outside it, or something outside it gets the keyboard."""

    def __init__(self, popup: Popup):
        super().__init__(popup)
        self._popup = popup

    def begin(self) -> None:
        """Looks from now on."""
        app = given(QApplication.instance())
        app.installEventFilter(self)
        app.focusChanged.connect(self._on_focus)  # type: ignore[attr-defined]

    def end(self) -> None:
        """Looks no more."""
        app = given(QApplication.instance())
        app.removeEventFilter(self)
        with suppress(TypeError):  # it has not looked yet
            app.focusChanged.disconnect(self._on_focus)  # type: ignore[attr-defined]

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        pressed = event is not None and event.type() == QEvent.Type.MouseButtonPress
        if pressed and isinstance(watched, QWidget) and not self._is_inside(watched):
            self._popup.close()
        return False

    def _on_focus(self, _before: QWidget | None, now: QWidget | None) -> None:
        if now is not None and not self._is_inside(now):
            self._popup.close()

    def _is_inside(self, widget: QWidget) -> bool:
        return widget is self._popup or self._popup.isAncestorOf(widget)


class Picker(Popup):
    """A list that narrows while one types. ``picked`` brings the id; ``offered`` the id of one of the offers
    that stand below the choices (“new level…”)."""

    picked = pyqtSignal(str)
    offered = pyqtSignal(str)

    def __init__(self, parent: QWidget, choices: Sequence[Choice], present: str, offers: Sequence[Choice] = ()):
        super().__init__(parent)
        self._choices, self._offers, self._present = choices, offers, present
        self._line.setPlaceholderText("Type to find")
        self._line.setAccessibleName("Find")
        self._line.textChanged.connect(self._narrow)
        self._list.itemClicked.connect(self._on_clicked)
        self._narrow("")
        self.resize(290, min(340, 66 + 28 * max(1, len(choices) + len(offers))))

    def _narrow(self, text: str) -> None:
        self._list.clear()
        for choice in self._choices:
            if text.casefold() in choice.text.casefold() or text.casefold() in choice.id:
                self._add(choice.text, choice.id)
                if choice.id == self._present:
                    self._list.setCurrentRow(self._list.count() - 1)
        if not self._list.count():
            self._add("Nothing by that name" if self._choices else "Nothing to choose yet", None)
        matching = [offer for offer in self._offers if text.casefold() in offer.text.casefold()]
        for offer in matching or self._offers:
            self._add(offer.text, offer.id, offer=True)
        if self._list.currentRow() < 0 or text:
            nothing = given(self._list.item(0)).data(ROLE) is None and (matching or not self._choices) and self._offers
            self._list.setCurrentRow(1 if nothing else 0)

    def _add(self, text: str, name: str | None, offer: bool = False) -> None:
        item = QListWidgetItem(text)
        item.setData(ROLE, name)
        item.setData(ROLE + 1, offer)
        if name is None:
            item.setFlags(Qt.ItemFlag.NoItemFlags)
        if offer:
            font = item.font()
            font.setItalic(True)
            item.setFont(font)
        self._list.addItem(item)

    def _on_clicked(self, item: QListWidgetItem) -> None:
        name = item.data(ROLE)
        if name is not None:
            self.close()
            (self.offered if item.data(ROLE + 1) else self.picked).emit(name)

    def _on_enter(self) -> None:
        if item := self._list.currentItem():
            self._on_clicked(item)


class Ticker(Popup):
    """A list of which several can be ticked. ``ticked`` brings the ids when it closes, if they have changed."""

    ticked = pyqtSignal(tuple)

    def __init__(self, parent: QWidget, choices: Sequence[Choice], present: Sequence[str]):
        super().__init__(parent)
        self._present = tuple(present)
        known = {choice.id for choice in choices}
        missing = [Choice(name, f"{name} (missing)") for name in present if name not in known]
        self._line.setReadOnly(True)
        self._line.setText("Space ticks, Enter is done")
        for choice in (*choices, *missing):
            item = QListWidgetItem(choice.text)
            item.setData(ROLE, choice.id)
            item.setFlags(Qt.ItemFlag.ItemIsUserCheckable | Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable)
            item.setCheckState(Qt.CheckState.Checked if choice.id in present else Qt.CheckState.Unchecked)
            self._list.addItem(item)
        self._list.setCurrentRow(0)
        self.resize(240, min(300, 66 + 28 * max(1, self._list.count())))

    def chosen(self) -> tuple[str, ...]:
        """What is ticked now."""
        items = [self._list.item(row) for row in range(self._list.count())]
        return tuple(given(item).data(ROLE) for item in items if given(item).checkState() == Qt.CheckState.Checked)

    def _on_key(self, event: QKeyEvent) -> bool:
        item = self._list.currentItem()
        if event.key() == Qt.Key.Key_Space and item:
            on = item.checkState() == Qt.CheckState.Checked
            item.setCheckState(Qt.CheckState.Unchecked if on else Qt.CheckState.Checked)
            return True
        return super()._on_key(event)

    def _on_enter(self) -> None:
        self.close()

    def closeEvent(self, _: object) -> None:
        if self.chosen() != self._present:
            self.ticked.emit(self.chosen())


class Typing(Popup):
    """A line to type in, with what is wrong under it. ``typed`` brings the text once it is right."""

    typed = pyqtSignal(str)

    def __init__(self, parent: QWidget, text: str, wrong: Callable[[str], str] = lambda _: ""):
        super().__init__(parent)
        self._wrong = wrong
        self._note = Label()
        self._note.setWordWrap(True)
        self._layout.addWidget(self._note)
        self._line.setText(text)
        self._line.selectAll()
        self._line.setAccessibleName("Text")
        self._line.textEdited.connect(self._look)
        self._list.hide()
        self.resize(320, 48)
        self._look()

    def _look(self) -> None:
        problem = self._wrong(self._line.text())
        self._note.setText(problem or self._praise())
        self._note.setVisible(bool(self._note.text()))
        self._note.setProperty("wrong", bool(problem))
        given(self._note.style()).polish(self._note)

    def _praise(self) -> str:
        return ""

    def _on_enter(self) -> None:
        if not self._wrong(self._line.text()):
            text = self._line.text().strip()
            self.close()
            self.typed.emit(text)


class Wordsmith(Typing):
    """A line for a condition or for effects: offers what fits while one types, and says it back in words. Tab
    or a click puts the offered word in; Enter is done."""

    def __init__(
        self,
        parent: QWidget,
        flow: Flow,
        text: str,
        effects: bool,
        condition_query: ConditionQuery | None = None,
        level: str = "",
    ):
        self._flow, self._effects = flow, effects
        self._condition_query, self._level = None if effects else condition_query, level
        self._found: WhereItHolds | None = None
        self._told, self._route, self._mend = Label(), Link("", "Show it move by move"), Link("")
        self._told.setWordWrap(True)
        self._echo = MarkedLabel()
        self._echo.setWordWrap(True)
        self._colours = LIGHT if parent.palette().window().color().lightness() > 128 else DARK
        self._asking = QTimer()
        self._asking.setSingleShot(True)
        self._asking.setInterval(ASKS_AFTER_MS)
        self._words, self._said = Vocabulary(flow), Wording(flow)
        super().__init__(parent, text, self._problem)
        self._line.setPlaceholderText("gain key, add 1 oil" if effects else "always")
        self._list.show()
        self._list.itemClicked.connect(lambda item: self._put(item.data(ROLE)))
        self._line.setAccessibleName("Effects" if effects else "Condition")
        self._line.deselect()
        self.setFixedWidth(430)
        for widget in (self._echo, self._mend, self._told, self._route):
            self._layout.addWidget(widget)
        self._asking.timeout.connect(self._ask)
        self._mend.clicked.connect(self._put_likely)
        self._route.clicked.connect(self._show_route)
        self._offer()
        self._look()

    def _look(self) -> None:
        super()._look()
        self._offer()
        self._echo.setText(self._coloured())
        self._echo.setVisible(bool(self._line.text().strip()))
        likely = self._likely()
        self._mend.setVisible(bool(likely))
        if likely:
            self._mend.say(f"Put “{likely[1]}” for “{likely[0]}”")
        self._found = None
        self._told.hide()
        self._route.hide()
        if self._condition_query and not self._problem(self._line.text()):
            self._asking.start()

    def _ask(self) -> None:
        """Asks where the condition holds, once nothing has been typed for a moment."""
        text = self._line.text()
        if self._condition_query and not self._problem(text):
            parts = self._parts(text)
            condition = canonical_condition(parts[0]) if parts else "always"
            self._condition_query.ask(self._flow, condition, self._level, self._on_found)

    def _on_found(self, found: WhereItHolds | None) -> None:
        if found is None:
            self._told.setText("Where it holds could not be found out; the line at the top says more.")
            self._told.show()
            return
        self._found = found
        level = self._flow.level(self._level)
        self._told.setText(" ".join(sentences_about(found, level.title if level else "")))
        self._told.show()
        self._route.setVisible(found.route is not None)
        if found.route is not None:
            self._route.say(f"A route that makes it true: {len(found.route)} moves")
        self.adjustSize()

    def _show_route(self) -> None:
        if self._found and self._found.route is not None and self._condition_query:
            route, text = self._found.route, self._line.text()
            self.close()
            self._condition_query.route_wanted.emit(route, f"“{text}” holds")

    def closeEvent(self, _: object) -> None:
        self._asking.stop()
        if self._condition_query:
            self._condition_query.forget()

    def _coloured(self) -> str:
        """What is typed, with facts, levels, numbers and what does not exist told apart by colour and stroke."""
        c = self._colours
        known = {*self._words.facts, *self._words.levels, *(v for f in self._words.facts.values() for v in f.values)}
        words = []
        for word in re.findall(r"[\w-]+|\s+|.", with_ids(self._flow, self._line.text())):
            told = escape(word)
            if word in known:
                told = f"<b style='color:{c.sound}'>{told}</b>"
            elif word.isdigit():
                told = f"<span style='color:{c.route}'>{told}</span>"
            elif re.match(r"[\w-]+$", word) and word not in KEYWORDS and not word.isspace():
                told = f"<u style='color:{c.broken}'>{told}</u>"
            words.append(told)
        return "".join(words)

    def _likely(self) -> tuple[str, str] | None:
        """A name that does not exist, and the one that was probably meant."""
        try:
            unknown = [one for part in self._parts(self._line.text()) for one in self._unknown(part)]
        except WrongWording:
            return None
        likely = nearest(unknown[0].name, self._words.names(unknown[0])) if unknown else None
        return (unknown[0].name, likely) if likely else None

    def _put_likely(self) -> None:
        likely = self._likely()
        if likely:
            text = re.sub(rf"(?<![\w-]){re.escape(likely[0])}(?![\w-])", likely[1], self._line.text())
            self._line.setText(text)
            self._line.setFocus()
            self._look()

    def _offer(self) -> None:
        before = self._line.text()[: self._line.cursorPosition()]
        fitting = effect_candidates if self._effects else condition_candidates
        self._list.clear()
        for one in fitting(self._flow, before)[1][:60]:
            item = QListWidgetItem(f"{one.text}    {one.means}" if one.means else one.text)
            item.setData(ROLE, one)
            self._list.addItem(item)
        if self._list.count() and self._line.text():
            self._list.setCurrentRow(0)
        self._list.setFixedHeight(min(220, 26 * max(1, self._list.count()) + 8))
        self.adjustSize()

    def _put(self, one: Candidate) -> None:
        text, at = self._line.text(), self._line.cursorPosition()
        fitting = effect_candidates if self._effects else condition_candidates
        start, _ = fitting(self._flow, text[:at])
        before = text[:start]
        if one.text in (",", ")"):
            before = before.rstrip()
        gap = "" if one.text.endswith("(") else " "
        self._line.setText(f"{before}{one.text}{gap}{text[at:].lstrip()}")
        self._line.setCursorPosition(len(before) + len(one.text) + len(gap))
        self._line.setFocus()
        self._look()

    def _on_key(self, event: QKeyEvent) -> bool:
        if event.key() == Qt.Key.Key_Tab and self._list.currentItem():
            self._put(given(self._list.currentItem()).data(ROLE))
            return True
        if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up) and self._list.currentRow() < 0:
            self._list.setCurrentRow(0)
            return True
        return super()._on_key(event)

    def _parts(self, text: str) -> list[str]:
        text = with_ids(self._flow, text)
        if self._effects:
            return [part.strip() for part in text.replace(";", ",").split(",") if part.strip()]
        return [text.strip()] if text.strip() else []

    def _problem(self, text: str) -> str:
        try:
            for part in self._parts(text):
                unknown = self._unknown(part)
                if unknown:
                    told = right_wording(self._flow, unknown[0], self._effects)
                    if told:
                        return told
                    close = nearest(unknown[0].name, self._words.names(unknown[0]))
                    hint = f"; did you mean {close}?" if close else ""
                    return f"There is no {unknown[0].wanted} “{unknown[0].name}”{hint}"
        except WrongWording as error:
            return f"{error}"
        return ""

    def _unknown(self, part: str) -> list[Unknown]:
        if self._effects:
            return unknown_in_effect(parse_effect(part), self._words)
        return unknown_in_condition(parse_condition(part), self._words)

    def _praise(self) -> str:
        parts = self._parts(self._line.text())
        if self._effects:
            return "; ".join(map(self._said.effect, parts)) or "No effects"
        return f"Holds when: {self._said.condition(parts[0])}" if parts else "Holds always"

    def _on_enter(self) -> None:
        text = self._line.text()
        if self._problem(text):
            return
        canonical = canonical_effect if self._effects else canonical_condition
        told = [canonical(part) for part in self._parts(text)]
        self.close()
        self.typed.emit(", ".join(told) if self._effects else (told[0] if told else "always"))
