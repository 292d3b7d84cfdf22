"""What is told of one session: what the flow cannot explain in it, and why."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from mossy_bridge.desk.play_tests.wording import event_words, minutes_text
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label, plain
from mossy_bridge.language.numbers import counted
from mossy_bridge.model.flow import Flow
from mossy_bridge.play_logs.judging import Judged

MOST = 50
"""So many impossible events are listed."""


class SessionDetails(QFrame):
    """Tells it. ``place_wanted(level)`` asks to show where something happened, ``walk_wanted()`` to walk it again."""

    place_wanted = pyqtSignal(str)
    walk_wanted = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self._levels: list[str] = []
        self.told = Label()
        self.told.setWordWrap(True)
        self.walk = Link("Walk it again", "In the trial walk, move by move; what was not logged is filled in")
        self.list = QListWidget()
        self.list.setAccessibleName("What the flow cannot explain")
        self.list.setWordWrap(True)
        self.list.setMinimumHeight(40)
        top = QHBoxLayout()
        top.addWidget(self.told, 1)
        top.addWidget(self.walk, 0, Qt.AlignmentFlag.AlignTop)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 4, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(top)
        layout.addWidget(self.list, 1)
        self.walk.clicked.connect(self.walk_wanted)
        self.list.currentRowChanged.connect(self._on_row)

    def show_session(self, flow: Flow, judged: Judged | None, busy: bool) -> None:
        """Tells of another session; ``busy`` while its walk is looked for."""
        self.walk.setVisible(judged is not None)
        self.walk.setEnabled(not busy)
        self.walk.say("Looking for its walk…" if busy else "Walk it again")
        if judged is None:
            self._list(flow, None)
            self.told.setText("Select a session to see what was played.")
            return
        explained = judged.explained
        passed_over = explained.session.unread_lines + explained.session.unknown_events
        where = f"line {explained.session.first_line:,} of {explained.session.file.rpartition('/')[2]}"
        parts = [f"{counted(explained.events, 'event')} in {minutes_text(explained.seconds)}, from {where}"]
        parts += [f"{counted(passed_over, 'line')} passed over"] if passed_over else []
        self.told.setText(f"{explained.session.title}: {'; '.join(parts)}.")
        self.told.setToolTip(plain(explained.session.file))
        self._list(flow, judged)

    def _list(self, flow: Flow, judged: Judged | None) -> None:
        impossible = judged.explained.impossible if judged else ()
        self._levels = [one.level for one in impossible[:MOST]]
        self.list.blockSignals(True)
        self.list.clear()
        for one in impossible[:MOST]:
            text = f"line {one.event.line:,}: {event_words(flow, one.event)} – {one.why}"
            item = QListWidgetItem(text)
            item.setToolTip(plain(text))
            self.list.addItem(item)
        if len(impossible) > MOST:
            self.list.addItem(f"… and {len(impossible) - MOST:,} more")
        self.list.setCurrentRow(-1)
        self.list.blockSignals(False)
        self.list.setVisible(bool(impossible))

    def _on_row(self, row: int) -> None:
        if 0 <= row < len(self._levels) and self._levels[row]:
            self.place_wanted.emit(self._levels[row])


class LiveLines(QWidget):
    """Who plays now, one line a player. ``place_wanted(level)`` asks to show where one is."""

    place_wanted = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.heard = Label()
        self.lines: list[Link] = []
        self._layout = QVBoxLayout(self)
        self._layout.addWidget(self.heard)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(1)
        self._levels: list[str] = []

    def show_lines(self, heard: str, lines: list[tuple[str, str]]) -> None:
        """Says what is listened to, "" for nothing, and shows other lines, each with the level that it is about."""
        self.heard.setText(heard)
        self._levels = [level for _, level in lines]
        while len(self.lines) < len(lines):
            number, link = len(self.lines), Link("", "Show where")
            link.clicked.connect(lambda _, number=number: self.place_wanted.emit(self._levels[number]))
            self.lines.append(link)
            self._layout.addWidget(link)
        for link, (text, level) in zip(self.lines, lines, strict=False):
            if link.words != text:
                link.say(text)
            link.setEnabled(bool(level))
        for number, link in enumerate(self.lines):
            link.setVisible(number < len(lines))
        self.setVisible(bool(heard))
