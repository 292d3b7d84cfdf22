"""What a face shows while the flow has nothing for it: what it is for, and the one next step, as a button."""

from collections.abc import Callable

from msgspec import Struct
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.model.flow import Flow

WIDEST = 460
"""Pixels of a line of words."""


class NextStep(Struct, frozen=True):
    """What a face is for, and the action that begins with it, by its name in the menus."""

    about: str
    words: str
    action: str


BEGIN = NextStep("This flow has no level yet. Say what the game is like, and begin with a few levels that are sound "
                 "already, or with none.", "New flow…", "new")  # fmt: skip
STEPS: dict[str, tuple[Callable[[Flow], object], NextStep]] = {
    "Facts": (
        lambda flow: flow.facts,
        NextStep("The game remembers nothing yet but which levels were seen and completed. A fact is one thing more: "
                 "a key, the tide, how many flasks of oil.", "New fact…", "new_fact"),
    ),
    "Transitions": (
        lambda flow: flow.transitions,
        NextStep("What happens on screen between setting an exit off and having control again, in seconds. Every "
                 "crossing can have one of its own, or share one.", "Give every crossing a fade", "fade_everywhere"),
    ),
    "Checklist": (
        lambda flow: flow.checklist,
        NextStep("What every level must have before it is done, as a table to tick: a picture, a sound, a review.",
                 "New item…", "new_item"),
    ),
    "For testing": (
        lambda flow: flow.trial_settings,
        NextStep("Values tried for the time being, and what is delivered instead of each. A right click on any blank "
                 "of a sentence keeps its value; or start with where the game starts.",
                 "Start at the selected level, for testing", "test_here"),
    ),
    "Pace": (
        lambda flow: flow.endings,
        NextStep("How difficulty and minutes run along walks from the start to an ending. The flow has no ending yet.",
                 "New ending…", "new_ending"),
    ),
}  # fmt: skip
"""By the title of a face: what it lacks if the flow has none, and what to do then."""
WITHOUT_LEVELS = ("Game", "Versions")
"""Faces that have something to show even then."""


def next_step(title: str, flow: Flow) -> NextStep | None:
    """The next step on a face, by its title; None where it has something to show, or says itself how to begin."""
    if not flow.levels and title not in WITHOUT_LEVELS:
        return BEGIN
    has, step = STEPS.get(title, (None, None))
    return None if has is None or has(flow) else step


class EmptyView(QWidget):
    """Says it. ``wanted(action)`` asks for the step."""

    wanted = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._step = BEGIN
        self.setAccessibleName("Nothing here yet")
        self.about, self.begin = Label(), QPushButton()
        self.about.setWordWrap(True)
        self.about.setFixedWidth(WIDEST)
        self.begin.setProperty("leading", True)
        self.begin.clicked.connect(lambda: self.wanted.emit(self._step.action))
        layout = QVBoxLayout(self)
        layout.setSpacing(12)
        layout.addStretch(2)
        words = QHBoxLayout()
        words.addStretch(1)
        words.addWidget(self.about)
        words.addStretch(1)
        layout.addLayout(words)
        layout.addWidget(self.begin, 0, Qt.AlignmentFlag.AlignHCenter)
        layout.addStretch(3)

    def show_step(self, step: NextStep) -> None:
        """Shows another step."""
        self._step = step
        self.about.setText(step.about)
        self.begin.setText(step.words)
        self.setAccessibleDescription(step.about)
