"""The handbook beside the work: a page, a line to search by, and the way back."""

from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtCore import QSize, Qt, QUrl, pyqtSignal
from PyQt6.QtGui import QImage, QKeyEvent, QTextBlock, QTextCursor, QTextDocument
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from mossy_bridge.desk.handbook.pages import CONTENTS, FOLDER, HandbookMatch, Page, handbook, searched
from mossy_bridge.desk.shell.actions import Action
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label, plain
from mossy_bridge.desk.widgets.theme import Look

WIDTH, LEAST = 430, 300
ROLE = Qt.ItemDataRole.UserRole
Place = tuple[str, str]
"""A page and a heading on it, "" for its top."""


class PageView(QTextBrowser):
    """One page; pictures as wide as the panel, from the handbook's own folder alone."""

    def loadResource(self, kind: int, name: QUrl) -> object:
        if kind != QTextDocument.ResourceType.ImageResource.value:
            return None
        path = (FOLDER / name.path()).resolve()
        if not path.is_relative_to(FOLDER.parent.resolve()) or not path.is_file():
            return None
        image = QImage(str(path))
        room = max(100, given(self.viewport()).width() - 24)
        return image.scaledToWidth(room, Qt.TransformationMode.SmoothTransformation) if not image.isNull() else None


class HandbookPanel(QWidget):
    """Shows the handbook. ``closed`` says that it is wanted no longer."""

    closed = pyqtSignal()

    def __init__(self, look: Look, actions: Callable[[], Sequence[Action]]):
        super().__init__()
        self._look, self._actions = look, actions
        self._pages: dict[str, Page] = {}
        self._been: list[Place] = []
        """Where one has been, the last being in view."""
        self._ahead: list[Place] = []
        self._title = Label("Handbook")
        self.back = self._button("Back", "The page before", self.go_back)
        self.forward = self._button("Forward", "The page one came back from", self.go_forward)
        self.contents = self._button("Contents", "All pages", lambda: self.open(CONTENTS))
        self.close_ = self._button("Close", "Close the handbook (Esc)", self.closed.emit)
        self.line = QLineEdit()
        self.line.setPlaceholderText("Search the handbook")
        self.line.setAccessibleName("Search the handbook")
        self.line.setClearButtonEnabled(True)
        self.line.textChanged.connect(self._search)
        self.line.returnPressed.connect(lambda: self._choose(self.found.currentItem()))
        self.found = QListWidget()
        self.found.setAccessibleName("What was found")
        self.found.setWordWrap(True)
        self.found.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.found.itemActivated.connect(self._choose)
        self.found.itemClicked.connect(self._choose)
        self.view = PageView()
        self.view.setOpenLinks(False)
        self.view.setAccessibleName("A page of the handbook")
        self.view.setFrameShape(QTextBrowser.Shape.NoFrame)
        self.view.anchorClicked.connect(self._follow)
        self._arrange()
        self.setAccessibleName("Handbook")
        self.setMinimumWidth(LEAST)
        look.changed.connect(self._on_look)

    def _button(self, words: str, tip: str, run: Callable[[], object]) -> QPushButton:
        button = QPushButton(words)
        button.setProperty("link", True)
        button.setToolTip(plain(tip))
        button.clicked.connect(lambda: run())
        return button

    def _arrange(self) -> None:
        head = QHBoxLayout()
        head.setContentsMargins(14, 10, 10, 2)
        head.addWidget(self._title)
        head.addStretch(1)
        for button in (self.contents, self.back, self.forward, self.close_):
            head.addWidget(button)
        search = QHBoxLayout()
        search.setContentsMargins(12, 2, 12, 6)
        search.addWidget(self.line)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(head)
        layout.addLayout(search)
        layout.addWidget(self.found, 1)
        layout.addWidget(self.view, 1)
        self.found.hide()

    def sizeHint(self) -> QSize:
        return QSize(WIDTH, 400)

    @property
    def place(self) -> Place:
        """The page in view, and the heading it was opened at."""
        return self._been[-1] if self._been else ("", "")

    def open(self, name: str, heading: str = "") -> None:
        """Shows a page, at a heading if one is named."""
        if not self._pages:
            self._pages = handbook(self._actions())
        if (name, heading) != self.place:
            self._been.append((name, heading))
            self._ahead.clear()
        self.line.clear()
        self._show()

    def go_back(self) -> None:
        """The page before."""
        if len(self._been) > 1:
            self._ahead.append(self._been.pop())
            self._show()

    def go_forward(self) -> None:
        """The page one came back from."""
        if self._ahead:
            self._been.append(self._ahead.pop())
            self._show()

    def _show(self) -> None:
        name, heading = self.place
        page = self._pages.get(name) or self._pages[CONTENTS]
        self._title.setFont(self._look.font(2, bold=True))
        document = given(self.view.document())
        document.setDefaultFont(self._look.font(0))
        document.setDocumentMargin(14)
        document.setMarkdown(page.text)
        self.view.setStyleSheet(f"QTextBrowser {{ background: {self._look.colours.panel}; }}")
        self.back.setEnabled(len(self._been) > 1)
        self.forward.setEnabled(bool(self._ahead))
        block = self._block_of(heading) if heading else document.begin()
        cursor = QTextCursor(block or document.begin())
        self.view.setTextCursor(cursor)
        top = given(document.documentLayout()).blockBoundingRect(cursor.block()).top() if heading else 0
        given(self.view.verticalScrollBar()).setValue(int(top) - 6)

    def _block_of(self, heading: str) -> QTextBlock | None:
        block = given(self.view.document()).begin()
        while block.isValid():
            if block.blockFormat().headingLevel() and block.text().casefold() == heading.casefold():
                return block
            block = block.next()
        return None

    def _follow(self, link: QUrl) -> None:
        """Only pages of the handbook are opened; nothing else is ever fetched."""
        name = Path(link.path()).stem
        if not link.scheme() and name in self._pages:
            self.open(name, link.fragment())

    def _search(self, text: str) -> None:
        self.found.clear()
        for one in searched(list(self._pages.values()), text):
            self.found.addItem(_entry(one))
        if text.strip() and not self.found.count():
            nothing = QListWidgetItem("Nothing of that in the handbook")
            nothing.setFlags(Qt.ItemFlag.NoItemFlags)
            self.found.addItem(nothing)
        self.found.setCurrentRow(0)
        self.found.setVisible(bool(text.strip()))
        self.view.setVisible(not text.strip())

    def _choose(self, item: QListWidgetItem | None) -> None:
        one: HandbookMatch | None = item.data(ROLE) if item else None
        if one:
            self.open(one.page.name, one.heading)
            self.view.setFocus()

    def _on_look(self) -> None:
        if self._been:
            self._show()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        if event.key() == Qt.Key.Key_Escape and self.line.text():
            self.line.clear()
        elif event.key() == Qt.Key.Key_Escape:
            self.closed.emit()
        elif event.key() == Qt.Key.Key_Down and self.line.hasFocus() and self.found.count():
            self.found.setFocus()
        else:
            super().keyPressEvent(event)


def _entry(one: HandbookMatch) -> QListWidgetItem:
    item = QListWidgetItem(f"{one.page.title} · {one.heading}\n{one.words}" if one.heading != one.page.title
                           else f"{one.heading}\n{one.words}")  # fmt: skip
    item.setData(ROLE, one)
    item.setToolTip(plain(one.page.title))
    return item
