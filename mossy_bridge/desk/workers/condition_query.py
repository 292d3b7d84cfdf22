"""Finds out, beside the window, where a condition holds that is being written."""

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal

from mossy_bridge.desk.workers.background_task import BackgroundTask, Job
from mossy_bridge.model.flow import Flow
from mossy_bridge.reach.queries.where_condition_holds import WhereItHolds, where_condition_holds
from mossy_bridge.reach.survey.budget import Budget

SECONDS = 1.5
Tell = Callable[[WhereItHolds | None], object]
"""Takes an answer; None where the program has failed to find one."""


class ConditionQuery(QObject):
    """One question at a time. ``route_wanted(route, about)`` asks for a route to be shown."""

    route_wanted = pyqtSignal(tuple, str)

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self._task = BackgroundTask(self)
        self._task.done.connect(lambda found: self._tell(found))
        self._task.failed.connect(lambda _: self._tell(None))
        self._tell: Tell = lambda _: None

    @property
    def busy(self) -> bool:
        """Whether a question is under way."""
        return self._task.busy

    def ask(self, flow: Flow, condition: str, level: str, tell: Tell) -> None:
        """Finds out where a condition holds; an older question is cancelled."""

        def work(job: Job) -> WhereItHolds:
            return where_condition_holds(flow, condition, level, Budget(SECONDS, job.cancelled))

        self._tell = tell
        self._task.ask(work)

    def forget(self) -> None:
        """Nobody waits for the answer any more."""
        self._task.cancel()
