"""The face *Play-tests*: what was really played, held against the flow, counted, and followed while it is played."""

from collections.abc import Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QSplitter, QStackedWidget, QTabWidget, QVBoxLayout, QWidget

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.desk.play_tests.curves import Curve
from mossy_bridge.desk.play_tests.details import LiveLines, SessionDetails
from mossy_bridge.desk.play_tests.level_table import LevelTable
from mossy_bridge.desk.play_tests.play_tests import PlayTests, Shown, Wanted
from mossy_bridge.desk.play_tests.session_table import SIGNS, SessionTable
from mossy_bridge.desk.play_tests.unused import UnusedList
from mossy_bridge.desk.play_tests.wording import answers_told, event_words, level_title, minutes_text
from mossy_bridge.desk.widgets.drop_down import DropDown
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.language.numbers import counted
from mossy_bridge.model.flow import Flow
from mossy_bridge.play_logs.live import Player

EMPTY = (
    "What testers really did, held against the flow: whether the flow explains it, how many got how far, how long "
    "levels took, where people failed, what nobody used. A game logs it as lines of JSON; so does the stand-in."
)
WAITING = "Sessions are listed here once they are over. Map, strip and plans show where players are."
ANSWERS = (("any answer", ""), ("explained", "yes"), ("not explained", "no"), ("unknown", "unknown"))
OVERLAYS: tuple[tuple[str, Shown], ...] = (("nothing", ""), ("use and time", "time"), ("use and failures", "failures"))
MOST_NEWS = 3
"""So many of the latest impossible events are told while a game is listened to."""


class PlayTestsFace(QWidget):
    """Shows them. ``add_wanted()`` asks for logs, ``listen_wanted()`` for a game, ``place_wanted(place)`` for a place
    to be selected, ``route_wanted(route, about)`` for a route to be shown, ``take_wanted(measured)`` for minutes to be
    taken over, ``tick_wanted()`` for the tour to be ticked off."""

    add_wanted = pyqtSignal()
    listen_wanted = pyqtSignal()
    place_wanted = pyqtSignal(str)
    route_wanted = pyqtSignal(tuple, str)
    take_wanted = pyqtSignal(object)
    tick_wanted = pyqtSignal()

    title, tip = "Play-tests", "What testers really did, held against the flow"
    follows_survey = True

    def __init__(self, look: Look, play_tests: PlayTests):
        super().__init__()
        self._tests = play_tests
        self._flow = Flow()
        self._result: Appraisal | None = None
        self._outdated: set[QWidget] = set()
        """The pages that do not show the present sums yet."""
        self.add, self.listen = QPushButton("Add play logs…"), QPushButton("Listen to a game…")
        self.forget = QPushButton("Forget them")
        self.told, self.outdated = Label(), Label("Judged by the flow as it was.")
        self.again, self.cancel = Link("Judge anew", "By the flow as it is now"), Link("Stop reading")
        self.build, self.player, self.answer, self.overlay = (DropDown() for _ in range(4))
        self.live, self.table, self.details = LiveLines(), SessionTable(look), SessionDetails()
        self.far, self.time = Curve(look, "far"), Curve(look, "time")
        self.levels, self.unused = LevelTable(), UnusedList()
        self.pages = QStackedWidget()
        self._lay_out()
        self._connect()
        self._on_changed()

    # -- arranging -------------------------------------------------------------------------------------

    def _lay_out(self) -> None:
        for texts, box, name in ((ANSWERS, self.answer, "Answer"), (OVERLAYS, self.overlay, "Over map and plans")):
            for text, data in texts:
                box.addItem(text, data)
            box.setAccessibleName(name)
        self.build.setAccessibleName("Build")
        self.player.setAccessibleName("Player")
        top = _row(self.told, 1, self.outdated, self.again, self.cancel, self.add, self.listen, self.forget)
        filters = _row(Label("Sessions of"), self.player, Label("in"), self.build, self.answer, 1,
                       Label("Over map and plans:"), self.overlay)  # fmt: skip
        layout = QVBoxLayout(self)  # what holds others is put in its place first, as in the window
        layout.setContentsMargins(14, 6, 14, 6)
        layout.setSpacing(4)
        layout.addLayout(top)
        layout.addWidget(self.live)
        layout.addWidget(self.pages, 1)
        body, waiting = QWidget(), Label(WAITING)
        waiting.setProperty("dim", True)
        waiting.setAlignment(Qt.AlignmentFlag.AlignCenter)
        for page in (self._empty_page(), body, waiting):
            self.pages.addWidget(page)
        inside = QVBoxLayout(body)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.addLayout(filters)
        halves, left, self.tabs = QSplitter(Qt.Orientation.Horizontal), QSplitter(Qt.Orientation.Vertical), QTabWidget()
        inside.addWidget(halves, 1)
        for half in (left, self.tabs):
            halves.addWidget(half)
        halves.setSizes([430, 550])
        halves.setChildrenCollapsible(False)
        halves.setHandleWidth(7)
        halves.setMinimumHeight(60)  # in a low window the map and the bench need the room
        left.addWidget(self.table)
        left.addWidget(self.details)
        left.setStretchFactor(0, 3)
        left.setStretchFactor(1, 1)
        left.setHandleWidth(3)
        for tab, name in ((self.far, "How far"), (self.time, "How long"), (self.levels, "Levels"),
                          (self.unused, "Never used")):  # fmt: skip
            self.tabs.addTab(tab, name)

    def _empty_page(self) -> QWidget:
        """What the face is for, and how to begin."""
        page, about = QWidget(), Label(EMPTY)
        about.setWordWrap(True)
        about.setMaximumWidth(620)
        self.add_first, listen = QPushButton("Add play logs…"), QPushButton("Listen to a game…")
        self.add_first.setProperty("leading", True)
        self.add_first.clicked.connect(self.add_wanted)
        listen.clicked.connect(self.listen_wanted)
        layout = QVBoxLayout(page)
        layout.setSpacing(12)
        layout.addStretch(1)
        layout.addLayout(_row(1, about, 1))
        layout.addLayout(_row(1, self.add_first, listen, 1))
        layout.addStretch(2)
        return page

    def _connect(self) -> None:
        tests = self._tests
        self.add.clicked.connect(self.add_wanted)
        self.listen.clicked.connect(lambda: tests.listener.stop() if tests.listener.busy else self.listen_wanted.emit())
        self.forget.clicked.connect(tests.forget)
        self.again.clicked.connect(tests.judge_anew)
        self.cancel.clicked.connect(tests.cancel)
        for box in (self.build, self.player, self.answer):
            box.activated.connect(self._on_filter)
        self.overlay.activated.connect(lambda: tests.show(self.overlay.currentData()))
        given(self.table.selectionModel()).currentRowChanged.connect(self._show_details)
        self.details.walk_wanted.connect(self._walk)
        self.table.doubleClicked.connect(self._walk)
        for part in (self.details, self.live, self.unused, self.far, self.time, self.levels):
            places = part.chosen if hasattr(part, "chosen") else part.place_wanted
            places.connect(self.place_wanted)
        self.tabs.currentChanged.connect(self._show_page)
        self.unused.route_wanted.connect(self.route_wanted)
        self.unused.tick_wanted.connect(self.tick_wanted)
        self.levels.take_wanted.connect(self.take_wanted)
        tests.changed.connect(self._on_changed)
        tests.progressed.connect(self._say)
        tests.lived.connect(self._on_lived)
        tests.overlaid.connect(self._say)
        tests.walked.connect(self._show_details)
        tests.failed.connect(self._show_details)

    # -- showing ---------------------------------------------------------------------------------------

    def show_flow(self, flow: Flow, result: Appraisal | None) -> None:
        """Takes another flow or another appraisal; the sessions stay judged as they were."""
        self._flow, self._result = flow, result
        self._show_sums()
        self._say()

    def _on_changed(self) -> None:
        tests = self._tests
        sessions = [one.explained.session for one in tests.all]
        wanted = tests.wanted
        _fill(self.build, "any build", {one.build for one in sessions}, wanted.build)
        _fill(self.player, "any player", {one.player for one in sessions}, wanted.player)
        self.answer.setCurrentIndex(self.answer.findData(wanted.answer))
        self.table.show_sessions(tests.flow, tests.sessions)
        self._show_sums()
        self._show_details()
        self._say()

    def _show_sums(self) -> None:
        """Has all pages shown anew, each when it comes into view."""
        self._outdated = {self.far, self.time, self.levels, self.unused}
        self._show_page()

    def _show_page(self) -> None:
        page = self.tabs.currentWidget()
        if page not in self._outdated or not self.isVisible():
            return
        self._outdated.discard(page)
        statistics = self._tests.statistics
        if page is self.levels:
            self.levels.show_statistics(self._flow, statistics)
        elif page is self.unused:
            self.unused.show_statistics(statistics, self._result.survey if self._result else None)
        elif isinstance(page, Curve):
            page.show_statistics(statistics)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._show_page()

    def _say(self) -> None:
        tests = self._tests
        reading, sessions, listening = tests.progress is not None, tests.all, tests.listener.busy
        empty = not (sessions or reading or listening)
        self.pages.setCurrentIndex(1 if sessions else 0 if empty else 2)
        self.add.setVisible(not empty)
        self.listen.setVisible(not empty)
        self.outdated.setVisible(tests.is_outdated and not reading)
        self.again.setVisible(tests.is_outdated and not reading)
        self.cancel.setVisible(reading)
        self.forget.setVisible(bool(sessions) or listening)
        self.listen.setText("Stop listening" if listening else "Listen to a game…")
        self.overlay.setCurrentIndex(self.overlay.findData(tests.shown))
        if reading:
            self.told.setText(f"Reading play logs… {100 * (tests.progress or 0):.0f} %")
        else:
            told = answers_told(tests.sessions) if sessions else ""
            more = f" (of {len(sessions):,})" if len(tests.sessions) != len(sessions) else ""
            self.told.setText(f"{told}{more}")

    def _on_lived(self) -> None:
        tests = self._tests
        lines: list[tuple[str, str]] = []
        if tests.listener.busy:
            lines += [(self._told_player(player), player.level) for player in tests.live.players]
            for one in tests.live.wrong[-MOST_NEWS:]:
                event = event_words(tests.listener.flow, one.impossible.event)
                lines.append((f"✗ {one.player}: {event} – {one.impossible.why}", one.impossible.level))
        self.live.show_lines(self._heard() if tests.listener.busy else "", lines)
        self._say()

    def _heard(self) -> str:
        """What is listened to, and how much of it."""
        source, view = self._tests.listener.source, self._tests.live
        what = f"port {source} of this machine" if isinstance(source, int) else str(source)
        parts = [f"● Listening to {what}", counted(view.events, "event")]
        parts += [f"{counted(view.unread, 'line')} not understood"] if view.unread else []
        parts += [f"{counted(view.refused, 'game')} too many"] if view.refused else []
        return ", ".join(parts)

    def _told_player(self, player: Player) -> str:
        flow = self._tests.listener.flow
        where = f"in {level_title(flow, player.level)}" if player.level else "not in a level"
        if player.ended:
            where = f"at the ending {next((e.name for e in flow.endings if e.id == player.ended), '') or player.ended}"
        sign = SIGNS[player.answer]
        why = f", not explained: {player.trouble}" if player.trouble else ""
        return f"{sign} {player.name} is {where}, {minutes_text(player.seconds)}{why}"

    def _show_details(self, *_: object) -> None:
        self.details.show_session(self._tests.flow, self.table.chosen, self._tests.is_walking)

    # -- wishes ----------------------------------------------------------------------------------------

    def _on_filter(self) -> None:
        self._tests.want(Wanted(self.build.currentData(), self.player.currentData(), self.answer.currentData()))

    def _walk(self, *_: object) -> None:
        judged = self.table.chosen
        if judged is not None:
            self._tests.walk(judged)
            self._show_details()


def _row(*parts: QWidget | int) -> QHBoxLayout:
    """Widgets beside one another; a number stretches."""
    row = QHBoxLayout()
    row.setSpacing(8)
    for part in parts:
        row.addStretch(part) if isinstance(part, int) else row.addWidget(part)
    return row


def _fill(box: DropDown, nothing: str, names: Sequence[str] | set[str], chosen: str) -> None:
    """Lets one choose among names, or none of them."""
    wanted = [(nothing, ""), *((name, name) for name in sorted(names) if name)]
    if [(box.itemText(at), box.itemData(at)) for at in range(box.count())] != wanted:
        box.clear()
        for text, data in wanted:
            box.addItem(text, data)
        box.setEnabled(len(wanted) > 1)
    box.setCurrentIndex(max(0, box.findData(chosen)))
