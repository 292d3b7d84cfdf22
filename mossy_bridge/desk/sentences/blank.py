"""A blank in a sentence: a button that opens what can be put there."""

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QPoint, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QContextMenuEvent, QKeyEvent, QResizeEvent
from PyQt6.QtWidgets import QMenu, QPushButton, QStyleOptionButton, QWidget

from mossy_bridge.desk.sentences.popups import Popup
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import plain

SPARE = 18
"""Pixels a blank needs beside its text."""


@dataclass(frozen=True)
class ForTesting:
    """What a blank knows of values for testing: the long place of its value, what is delivered instead (None
    while nothing is), and what can be asked."""

    at: str
    ships_as: str | None
    mark: Callable[[str], None]
    keep: Callable[[str], None]
    put_back: Callable[[str], None]

    def add_to(self, menu: QMenu) -> None:
        """Adds what can be asked to a menu."""
        if self.ships_as is None:
            words = "Keep this value for delivery, and try another"
            given(menu.addAction(words)).triggered.connect(lambda: self.mark(self.at))
            return
        words = f"Put back what is delivered: {self.ships_as}"
        given(menu.addAction(words)).triggered.connect(lambda: self.put_back(self.at))
        given(menu.addAction("Deliver the value tried")).triggered.connect(lambda: self.keep(self.at))


class Blank(QPushButton):
    """A word of a sentence that can be filled anew; where there is little room it shows the beginning of its text.
    ``opened`` says that its pop-up was opened."""

    opened = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.what = ""
        self._make: Callable[[QWidget], Popup] | None = None
        self._turn: Callable[[], object] | None = None
        self._testing: ForTesting | None = None
        self._too_long = False
        self.setProperty("blank", True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.clicked.connect(self._on_clicked)

    def fill(
        self,
        what: str,
        text: str,
        make: Callable[[QWidget], Popup] | None,
        turn: Callable[[], object] | None = None,
        missing: bool = False,
        testing: ForTesting | None = None,
    ) -> None:
        """Says ``text``. A click opens the pop-up that ``make`` makes, or does ``turn``."""
        tried = testing is not None and testing.ships_as is not None
        self.what, self._make, self._turn, self._testing = what, make, turn, testing
        self.setText(f"{text} · test" if tried else text)
        if (self.property("missing"), self.property("testing")) != (missing, tried):
            self.setProperty("missing", missing)
            self.setProperty("testing", tried)
            given(self.style()).polish(self)
        delivered = f"\nFor testing; delivered: {testing.ships_as}" if testing and tried else ""
        self.setAccessibleName(f"{what}: {text}{delivered}")
        self.setToolTip(plain(f"Choose {what}{delivered}" if make else f"Change {what}{delivered}"))

    def initStyleOption(self, option: QStyleOptionButton | None) -> None:
        option = given(option)
        super().initStyleOption(option)
        if self._too_long:
            words = self.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, self.width() - SPARE)
            option.text = words

    def sizeHint(self) -> QSize:
        shortened, self._too_long = self._too_long, False
        wanted = super().sizeHint()
        self._too_long = shortened
        return wanted

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._too_long = self.width() < self.sizeHint().width()

    def _on_clicked(self) -> None:
        if self._turn:
            self._turn()
        else:
            self.open_picker()

    def open_picker(self) -> Popup | None:
        """Opens what can be put here."""
        if self._make is None:
            return None
        self.opened.emit()
        popup = self._make(self)
        popup.open_at(self.mapToGlobal(QPoint(0, self.height() + 2)))
        return popup

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        event = given(event)
        menu = self.testing_menu()
        if menu:
            menu.exec(event.globalPos())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        if Qt.Key(event.key()) in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Down):
            self.click()
        else:
            super().keyPressEvent(event)

    def testing_menu(self) -> QMenu | None:
        """What can be asked about trying another value here."""
        testing = self._testing
        if testing is None:
            return None
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        testing.add_to(menu)
        return menu
