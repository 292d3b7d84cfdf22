"""The face *Transitions*: all of them on one time scale, to be compared."""

from collections.abc import Sequence

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, pyqtBoundSignal, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QKeySequence, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.desk.bench.deck import COLOUR, LANE_OF, LANES
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.shell.faults import painting
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label, plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model import timing
from mossy_bridge.model.flow import Flow, Transition
from mossy_bridge.model.patterns import resolved

HELP = "Every transition on one scale of seconds. Click one to see a crossing that uses it."
NAME_W, ROW_H, LANE_H = 250, 76, 11
ORDERS = (
    ("By use", "the most used first"),
    ("By length", "the longest first"),
    ("As written", "in the file's order"),
)


class _Rows(QWidget):
    chosen = pyqtSignal(str)
    copy_wanted = pyqtSignal(str)
    remove_wanted = pyqtSignal(str)

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self.rows: Sequence[tuple[Transition, int]] = ()
        self.at = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Transitions")
        look.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        return QSize(500, ROW_H * len(self.rows) + 30)

    def paintEvent(self, _: QPaintEvent | None) -> None:
        c = self._look.colours
        with painting(self) as painter:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            longest = max((one.seconds for one, _ in self.rows), default=0.0)
            room = self.width() - NAME_W - 30
            scale = room / max(longest, 0.1)
            stride = 1 if longest <= 12 else 5
            bottom = ROW_H * len(self.rows)
            for second in range(0, int(longest) + 1, stride):
                x = NAME_W + second * scale
                painter.setPen(QPen(c.colour("line"), 1))
                painter.drawLine(QPointF(x, 0), QPointF(x, bottom))
                painter.setPen(c.colour("dim"))
                painter.drawText(QRectF(x - 20, bottom + 4, 40, 16), Qt.AlignmentFlag.AlignCenter, f"{second} s")
            for row, (one, uses) in enumerate(self.rows):
                self._paint_row(painter, row * ROW_H, one, uses, scale, row == self.at)

    def _paint_row(self, painter: QPainter, top: float, one: Transition, uses: int, scale: float, here: bool) -> None:
        c = self._look.colours
        if here:
            painter.setPen(QPen(c.colour("route"), 2 if self.hasFocus() else 1))
            painter.setBrush(c.colour("route_wash", 90))
            painter.drawRoundedRect(QRectF(1, top + 2, self.width() - 3, ROW_H - 5), 5, 5)
        painter.setPen(c.colour("ink"))
        font = self._look.font()
        font.setBold(True)
        painter.setFont(font)
        words = painter.fontMetrics().elidedText(one.name or one.id, Qt.TextElideMode.ElideRight, NAME_W - 80)
        painter.drawText(QPointF(12, top + 25), words)
        painter.setFont(self._look.font(-1))
        painter.setPen(c.colour("dim"))
        control = timing.control(one)
        held = f" · control at {control:g} s" if control is not None else ""
        used = "unused" if not uses else "1 crossing" if uses == 1 else f"{uses} crossings"
        painter.drawText(QPointF(12, top + 43), f"{one.seconds:g} s{held}")
        painter.drawText(QPointF(12, top + 57), used)
        painter.setFont(self._look.font(-3))
        for lane, name in enumerate(LANES):
            place = QRectF(NAME_W - 60, top + 7 + lane * (LANE_H + 2), 54, LANE_H + 1)
            painter.drawText(place, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, name)
        painter.setPen(Qt.PenStyle.NoPen)
        for step in one.steps:
            lane = LANES.index(LANE_OF[step.do])
            painter.setBrush(c.colour(COLOUR[LANE_OF[step.do]]))
            bar = QRectF(NAME_W + step.at * scale, top + 8 + lane * (LANE_H + 2), max(step.lasts * scale, 3), LANE_H)
            painter.drawRoundedRect(bar, 3, 3)

    def _choose(self, row: int) -> None:
        if self.rows:
            self.at = min(max(row, 0), len(self.rows) - 1)
            self.update()
            self.chosen.emit(self.rows[self.at][0].id)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        event = given(event)
        if event.position().y() < ROW_H * len(self.rows):
            self._choose(int(event.position().y() // ROW_H))

    def event(self, event: QEvent | None) -> bool:
        # What the window's keys do to levels they do here to the transition chosen.
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and self._own(event):
            event.accept()
            return True
        return super().event(event)

    def _own(self, event: QKeyEvent) -> bool:
        return bool(self.rows) and (
            event.key() == Qt.Key.Key_Delete
            or event.matches(QKeySequence.StandardKey.Copy)
            or event.matches(QKeySequence.StandardKey.Cut)
        )

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        if self._own(event):
            name = self.rows[self.at][0].id
            if event.key() != Qt.Key.Key_Delete:
                self.copy_wanted.emit(name)
            if not event.matches(QKeySequence.StandardKey.Copy):
                self.remove_wanted.emit(name)
            return
        way = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if way:
            self._choose(self.at + way)
        else:
            super().keyPressEvent(event)


class TransitionsFace(QWidget):
    """Compares transitions."""

    title, tip = "Transitions", "What happens between levels, compared"
    follows_survey = False
    copy_wanted = pyqtSignal(str)
    """Of the transition chosen."""
    paste_wanted = pyqtSignal()
    remove_wanted = pyqtSignal(str)

    def __init__(self, look: Look, selection: Selection):
        super().__init__()
        self._selection = selection
        self._flow = Flow()
        self.rows = _Rows(look)
        self.orders: list[QPushButton] = []
        self._nothing = Label("There are no transitions yet. Choose a crossing, and give it one in its sentence.")
        top = QHBoxLayout()
        top.addWidget(Label(HELP), 1)
        for words, tip, signal in (
            ("Copy", "Copy the transition chosen (Ctrl+C)", self.copy_wanted),
            ("Remove", "Remove the transition chosen; exits that use it have none then (Del)", self.remove_wanted),
        ):
            link = Link(words, tip)
            link.clicked.connect(lambda _, told=signal: self._tell(told))
            top.addWidget(link)
        paste = Link("Paste", "Add what was copied (Ctrl+V)")
        paste.clicked.connect(self.paste_wanted)
        top.addWidget(paste)
        group = QButtonGroup(self)
        for title, tip in ORDERS:
            button = QPushButton(title)
            button.setCheckable(True)
            button.setProperty("face", True)
            button.setToolTip(plain(tip))
            button.clicked.connect(lambda: self.show_flow(self._flow))
            group.addButton(button)
            top.addWidget(button)
            self.orders.append(button)
        self.orders[0].setChecked(True)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        scroll.setWidget(self.rows)
        given(scroll.viewport()).setAutoFillBackground(False)
        self.rows.setAutoFillBackground(False)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 8)
        layout.addLayout(top)
        layout.addWidget(self._nothing)
        layout.addWidget(scroll, 1)
        self.rows.chosen.connect(self._show_user)
        self.rows.copy_wanted.connect(self.copy_wanted)
        self.rows.remove_wanted.connect(self.remove_wanted)

    def show_flow(self, flow: Flow, _result: Appraisal | None = None) -> None:
        """Shows another flow."""
        self._flow = flow
        uses = dict.fromkeys((one.id for one in flow.transitions), 0)
        for level in resolved(flow).levels:
            for exit_ in level.exits:
                if exit_.transition in uses:
                    uses[exit_.transition] += 1
        rows = [(one, uses[one.id]) for one in flow.transitions]
        if self.orders[0].isChecked():
            rows.sort(key=lambda row: -row[1])
        elif self.orders[1].isChecked():
            rows.sort(key=lambda row: -row[0].seconds)
        self.rows.rows, self.rows.at = rows, min(self.rows.at, max(len(rows) - 1, 0))
        self.rows.setMinimumHeight(self.rows.sizeHint().height())
        self.rows.update()
        self._nothing.setVisible(not rows)

    def _tell(self, signal: pyqtBoundSignal) -> None:
        if self.rows.rows:
            signal.emit(self.rows.rows[self.rows.at][0].id)

    def _show_user(self, name: str) -> None:
        """Brings a crossing that uses a transition to the bench."""
        for level in self._flow.levels:
            for exit_ in level.exits:
                if exit_.transition == name:
                    self._selection.select(level.id, exit_.id)
                    return
