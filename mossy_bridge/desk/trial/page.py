"""The trial walk on the bench: the plan, what can be done now, what the game remembers, and the tape."""

from html import escape
from pathlib import Path

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from mossy_bridge.desk.trial.live import HELP, LiveStage
from mossy_bridge.desk.trial.stage import Stage
from mossy_bridge.desk.trial.tape import Tape
from mossy_bridge.desk.widgets.drop_down import DropDown
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label, MarkedLabel, plain
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.play.narration import named_move, told_value
from mossy_bridge.play.state import Ended, Move, State, parse_move
from mossy_bridge.play.trial import QUIT, Moment, MoveChoice, Trial

SHARES, LIVE_SHARES = (5, 5, 4), (13, 4, 4)
"""How the plan, the moves and what the game remembers share the width; while one walks live the plan has most."""
ROLE = Qt.ItemDataRole.UserRole


def told_time(seconds: float) -> str:
    """Seconds as one says them."""
    minutes, rest = divmod(seconds, 60)
    return f"{int(minutes)} min {rest:.0f} s" if minutes else f"{rest:.1f} s"


class _Moves(QListWidget):
    """The list of moves; digits are not for finding in it."""

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        if event.text().isdigit() or Qt.Key(event.key()) in (Qt.Key.Key_Backspace, Qt.Key.Key_Escape):
            event.ignore()
        else:
            super().keyPressEvent(event)


class TrialPage(QWidget):
    """Shows a walk and takes moves. ``moved(trial)`` follows each change; ``keep_wanted`` and ``left`` ask for more."""

    moved = pyqtSignal(object)
    keep_wanted = pyqtSignal()
    left = pyqtSignal()

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self.trial: Trial | None = None
        self._folder: Path | None = None
        self._choices: list[MoveChoice] = []
        self.setAccessibleName("Trial walk")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.where = MarkedLabel()
        self.note = Label()
        self.stage = Stage(look)
        self.live = LiveStage(look)
        self._stages = QStackedWidget()
        self._stages.addWidget(self.stage)
        self._stages.addWidget(self.live)
        self.walk_live = QPushButton("Walk &live")
        self.walk_live.setCheckable(True)
        self.walk_live.setToolTip(plain(f"Move through the plan in real time. {HELP}"))
        self.moves = _Moves()
        self.moves.setAccessibleName("What you can do now")
        self.moves.setWordWrap(True)
        self.moves.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.moves.setResizeMode(QListWidget.ResizeMode.Adjust)
        self.facts = MarkedLabel()
        self.facts.setWordWrap(True)
        self.facts.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.facts.setAccessibleName("What the game remembers")
        self.branches = DropDown()
        self.branches.setAccessibleName("Branches")
        self.back = QPushButton("Step &back")
        self.quit = QPushButton("&Quit to the start")
        self.keep = QPushButton("&Keep as recorded walk…")
        self.tape = Tape(look)
        self._arrange()
        self.stage.chosen.connect(self.choose)
        self.walk_live.toggled.connect(self._turn_live)
        self.live.moved.connect(self._on_live)
        self.moves.itemActivated.connect(self._on_activated)
        self.moves.itemClicked.connect(self._on_activated)
        self.back.clicked.connect(lambda: self._go(given(self.trial).back()))
        self.quit.clicked.connect(lambda: self._go(given(self.trial).quit()))
        self.keep.clicked.connect(self.keep_wanted)
        self.tape.chosen.connect(lambda at: self._go(given(self.trial).go_to(at)))
        self.branches.activated.connect(self._on_branch)

    def minimumSizeHint(self) -> QSize:
        return QSize(420, 240)

    def _arrange(self) -> None:
        top = QHBoxLayout()
        self.where.setWordWrap(True)
        self.note.setWordWrap(True)
        top.addWidget(self.where, 3)
        top.addSpacing(14)
        top.addWidget(self.note, 2)
        for button in (self.walk_live, self.back, self.quit, self.keep):
            top.addWidget(button)
        scroll = QScrollArea()
        scroll.setWidget(self.facts)
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QScrollArea.Shape.NoFrame)
        given(scroll.viewport()).setAutoFillBackground(False)
        self.facts.setAutoFillBackground(False)
        remembered = QVBoxLayout()
        remembered.addWidget(MarkedLabel("<b>What the game remembers</b>"))
        remembered.addWidget(scroll, 1)
        remembered.addWidget(self.branches)
        self._middle = middle = QHBoxLayout()
        middle.setSpacing(14)
        middle.addWidget(self._stages)
        middle.addWidget(self.moves)
        middle.addLayout(remembered)
        self._share(SHARES)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(14, 8, 14, 4)
        layout.setSpacing(6)
        layout.addLayout(top)
        layout.addLayout(middle, 1)
        layout.addWidget(self.tape)

    def _share(self, shares: tuple[int, int, int]) -> None:
        """Shares the width between the plan, the moves, and what the game remembers."""
        for number, share in enumerate(shares):
            self._middle.setStretch(number, share)

    # -- showing ---------------------------------------------------------------------------------------

    def show_trial(self, trial: Trial, folder: Path | None) -> None:
        """Shows a walk."""
        self.trial, self._folder = trial, folder
        self._choices = trial.choices()
        self.stage.show_moment(trial.rules.flow, trial.state, self._choices, folder)
        self.live.show_state(trial.rules, trial.now.state, folder)
        self._say_where(trial)
        self._list(trial)
        self.facts.setText(self._told_facts(trial))
        self._show_branches(trial)
        self.back.setEnabled(trial.at > 0)
        self.keep.setEnabled(trial.can_be_kept)
        self.keep.setToolTip(
            plain("" if trial.can_be_kept else "A recorded walk has moves, and no quitting among them")
        )
        self.tape.show_steps([self._told_step(trial, moment) for moment in trial.tape], trial.at)

    def _say_where(self, trial: Trial) -> None:
        state = trial.state
        if state is None:
            ending = trial.now.state.ending if isinstance(trial.now.state, Ended) else ""
            name = next((one.name for one in trial.rules.flow.endings if one.id == ending), "")
            self.where.setText(f"<b>The end: {escape(name or ending)}</b>")
        else:
            level = trial.rules.levels[state.place].source
            spawn = level.spawn(state.respawn)
            at = f", at {spawn.name or spawn.id}" if spawn and state.respawn else ""
            self.where.setText(f"<b>You are in {escape(level.title)}{escape(at)}</b>")
        count = trial.now.crossings
        told = f"{count} crossing{'' if count == 1 else 's'} · {told_time(trial.seconds)}"
        self.note.setText(told)

    def _list(self, trial: Trial) -> None:
        self.moves.clear()
        forced = bool(self._choices) and self._choices[0].forced
        for number, choice in enumerate(self._choices, 1):
            mark = "By itself:" if forced else f"{number} "
            item = QListWidgetItem(f"{mark}  {self._short(choice.title)}\n{choice.detail}")
            item.setData(ROLE, number)
            self.moves.addItem(item)
        if not self._choices:
            words = "The walk has reached an ending." if trial.state is None else "Nothing can be done here any more."
            self.moves.addItem(QListWidgetItem(words))
        for refusal in trial.refusals():
            item = QListWidgetItem(f"–  {self._short(refusal.title)}\nnot now: {refusal.why}")
            item.setForeground(self._look.colours.colour("suspicious"))
            item.setFlags(Qt.ItemFlag.ItemIsEnabled)
            self.moves.addItem(item)
        self.moves.setCurrentRow(0)

    def _short(self, title: str) -> str:
        """Without the level, which is said above."""
        return title.partition(": ")[2] or title

    def _told_facts(self, trial: Trial) -> str:
        state, flow, c = trial.last_state, trial.rules.flow, self._look.colours
        changed, taken_back = trial.changed(), trial.taken_back
        rows = []
        for fact, value in zip(flow.facts, state.facts, strict=True):
            note = f"was {changed[fact.id]}" if fact.id in changed else ""
            strong = "b" if fact.id in changed else "span"
            rows.append(
                f"<tr><td>{escape(fact.name or fact.id)}&nbsp;&nbsp;</td><td><{strong}>{escape(told_value(value))}"
                f"</{strong}>&nbsp;&nbsp;</td><td style='color:{c.route}'>{escape(note)}</td>"
                f"<td style='color:{c.dim}'>&nbsp;{'goes back' if fact.rewinds else fact.lifetime}</td></tr>"
            )
        seen = f"Seen {len(state.seen)} of {len(flow.levels)} · completed {len(state.done)}"
        saved = f" · saved in {trial.rules.levels[state.saved.level].source.title}" if state.saved else ""
        table = f"<table cellspacing='0' cellpadding='2'>{''.join(rows)}</table>" if rows else "<p>No facts.</p>"
        lost = f"<p style='color:{c.route}'>{escape(taken_back.told(flow))}</p>" if taken_back else ""
        return f"{lost}{table}<p style='color:{c.sound}'>{escape(seen + saved)}</p>"

    def _show_branches(self, trial: Trial) -> None:
        self.branches.setVisible(bool(trial.branches))
        self.branches.clear()
        self.branches.addItem(f"{len(trial.branches)} other branch{'es' if len(trial.branches) > 1 else ''}: go to…")
        for number, tape in enumerate(trial.branches):
            end = self._told_step(trial, tape[-1])[1]
            differs = "; ".join(trial.differs(number)[:3]) or "ends alike"
            self.branches.addItem(f"{len(tape) - 1} moves, to {end} ({differs})")

    def _told_step(self, trial: Trial, moment: Moment) -> tuple[str, str]:
        rules = trial.rules
        place = ""
        if isinstance(moment.state, State):
            place = rules.levels[moment.state.place].source.title
        elif isinstance(moment.state, Ended):
            place = "the end"
        move = parse_move(moment.move) if moment.move and moment.move != QUIT else None
        title = named_move(rules, move).partition(": ")[2] if move else "Quit" if moment.move == QUIT else "Begin"
        return title, f"{place} · {told_time(moment.seconds)}" if moment.seconds else place

    # -- going -----------------------------------------------------------------------------------------

    def choose(self, number: int) -> None:
        """Takes the numbered choice, from 1."""
        if self.trial and 0 < number <= len(self._choices):
            self._go(self.trial.take(self._choices[number - 1].move))

    def _turn_live(self, on: bool) -> None:
        self._stages.setCurrentWidget(self.live if on else self.stage)
        self._share(LIVE_SHARES if on else SHARES)
        if on:
            self.live.begin()
        else:
            self.live.stop()
            self.setFocus()

    def end_live(self) -> None:
        """Stops the clock of the live walk."""
        self.walk_live.setChecked(False)

    def _on_live(self, move: Move) -> None:
        """Follows a move of the live walk on the tape; zones are walked through there without paths."""
        if self.trial and self.live.live:
            self._go(self.trial.live(move, self.live.live.state))

    def _on_activated(self, item: QListWidgetItem) -> None:
        number = item.data(ROLE)
        if number:
            self.choose(number)

    def _on_branch(self, index: int) -> None:
        if index > 0 and self.trial:
            self._go(self.trial.turn_to(index - 1))

    def _go(self, trial: Trial) -> None:
        self.show_trial(trial, self._folder)
        self.moved.emit(trial)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        key = event.key()
        if Qt.Key.Key_1 <= key <= Qt.Key.Key_9 and not event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier:
            self.choose(key - Qt.Key.Key_0)
        elif key == Qt.Key.Key_Backspace and self.trial:
            self._go(self.trial.back())
        elif key == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(event)
