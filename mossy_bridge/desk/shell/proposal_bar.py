"""The proposal bar: what an edit would do elsewhere, said before it is made."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QSizePolicy, QVBoxLayout

from mossy_bridge.desk.session.edit_door import Proposal
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.play.edit_impact import Consequence

MOST_SHOWN = 5


def summary(consequences: tuple[Consequence, ...]) -> str:
    """All consequences in one line."""
    if not consequences:
        return "Nothing else changes."
    words = {"nowhere": ("thing would lead nowhere", "things would lead nowhere"),
             "elsewhere": ("exit would lead elsewhere", "exits would lead elsewhere"),
             "refers": ("thing refers to it", "things refer to it"),
             "walk": ("recorded walk would break", "recorded walks would break")}  # fmt: skip
    counted = {what: len({one.at for one in consequences if one.what == what}) for what in words}
    return "; ".join(f"{n} {words[what][n != 1]}" for what, n in counted.items() if n)


class ProposalBar(QFrame):
    """Shows a proposal until it is answered. ``answered(proposal, other way)`` says yes; Esc says no."""

    answered = pyqtSignal(object, bool)
    closed = pyqtSignal()
    shown = pyqtSignal(object)
    """The proposal that is shown now; None when it has been answered or withdrawn."""

    def __init__(self, look: Look):
        super().__init__()
        self._look = look
        self.proposal: Proposal | None = None
        self._title, self._told = Label(), Label()
        self._told.setWordWrap(True)
        self._told.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        self.yes, self.other, self.no = QPushButton("Do it"), QPushButton(), QPushButton("Leave it")
        self.yes.setProperty("leading", True)
        self.yes.clicked.connect(lambda: self._answer(False))
        self.other.clicked.connect(lambda: self._answer(True))
        self.no.clicked.connect(self.dismiss)
        words = QVBoxLayout()
        words.setSpacing(2)
        words.addWidget(self._title)
        words.addWidget(self._told)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 8, 14, 8)
        row.setSpacing(8)
        row.addLayout(words, 1)
        for button in (self.other, self.yes, self.no):
            row.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)
        self.setObjectName("proposal")
        self.setAccessibleName("What this would do")
        look.changed.connect(self._wear)
        self._wear()
        self.hide()

    def _wear(self) -> None:
        c = self._look.colours
        self.setStyleSheet(f"#proposal {{ background: {c.suspicious_wash}; border-bottom: 1px solid {c.line}; }}")
        self._title.setFont(self._look.font(0, bold=True))

    def add(self, sentence: str) -> None:
        """Says one thing more about the proposal shown."""
        if self.proposal:
            self._told.setText("\n".join(filter(None, (self._told.text(), sentence))))
            self._told.show()
            self.setAccessibleDescription(self._title.text() + "\n" + self._told.text())

    def offer(self, proposal: Proposal) -> None:
        """Shows an edit that goes well with the last one, and leaves the keyboard where it is."""
        self._show(proposal)

    def propose(self, proposal: Proposal) -> None:
        """Shows a proposal and takes the keyboard."""
        self._show(proposal)
        self.yes.setFocus()

    def _show(self, proposal: Proposal) -> None:
        self.proposal = proposal
        found, name = proposal.edit.consequences, proposal.edit.name
        step = name[:1].upper() + name[1:]
        self._title.setText(f"{step}?  {summary(found)}" if found else f"{step}?")
        told = [f"Changes: {change}." for change in proposal.changes[:MOST_SHOWN]]
        told += [one.sentence for one in found[:MOST_SHOWN]]
        more = max(0, len(found) - MOST_SHOWN) + max(0, len(proposal.changes) - MOST_SHOWN)
        self._told.setText("\n".join([*told, *([f"and {more} more"] if more > 0 else [])]))
        self._told.setVisible(bool(told))
        self.other.setText(proposal.otherwise[0] if proposal.otherwise else "")
        self.other.setVisible(proposal.otherwise is not None)
        self.setAccessibleDescription(self._title.text() + "\n" + self._told.text())
        self.show()
        self.shown.emit(proposal)

    def withdraw(self) -> None:
        """Takes back what is shown, unanswered: another edit was made meanwhile. The keyboard stays where it is."""
        self.proposal = None
        self.hide()
        self.shown.emit(None)

    def dismiss(self) -> None:
        """Leaves everything as it is."""
        self.withdraw()
        self.closed.emit()

    def _answer(self, other_way: bool) -> None:
        proposal = self.proposal
        self.dismiss()
        if proposal:
            self.answered.emit(proposal, other_way)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        event = given(event)
        if event.key() == Qt.Key.Key_Escape:
            self.dismiss()
        elif Qt.Key(event.key()) in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            focused = self.focusWidget()
            focused.click() if isinstance(focused, QPushButton) else self._answer(False)
        else:
            super().keyPressEvent(event)
