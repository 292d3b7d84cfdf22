"""Answers, beside the window, where a condition holds that is being written."""

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from mossy_bridge.desk.workers.background_task import Background
from mossy_bridge.model.flow import Flow
from mossy_bridge.reach.queries.where_condition_holds import WhereItHolds, where_condition_holds
from mossy_bridge.reach.survey.budget import Budget

SECONDS = 1.5


class Inquiry(QObject):
    """One question at a time. ``route_wanted(route, about)`` asks for a route to be shown."""

    route_wanted = pyqtSignal(tuple, str)

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self._background = Background(self)
        self._background.done.connect(self._on_done)
        self._tell: Callable[[WhereItHolds], object] = lambda _: None

    def ask(self, flow: Flow, condition: str, level: str, tell: Callable[[WhereItHolds], object]) -> None:
        """Finds out where a condition holds; an older question is dropped."""
        self._tell = tell
        self._background.compute(lambda: where_condition_holds(flow, condition, level, Budget(SECONDS)))

    def forget(self) -> None:
        """Nobody waits for the answer any more."""
        self._tell = lambda _: None

    def _on_done(self, found: object) -> None:
        if isinstance(found, WhereItHolds):
            self._tell(found)
