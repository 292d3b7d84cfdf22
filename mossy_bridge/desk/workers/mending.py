"""Repairing all findings of a check beside the window, each repair tried before it is kept."""

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from mossy_bridge.appraisal.appraise import default_budget
from mossy_bridge.appraisal.mending import Attempt, Mended, mend
from mossy_bridge.desk.workers.background_task import BackgroundTask, Job
from mossy_bridge.level_files.contents import LevelFiles
from mossy_bridge.model.flow import Flow


class Mending(QObject):
    """Mends one check at a time. ``tried(count)`` says how many repairs have been tried, ``done(mended)`` brings the
    outcome, ``ended`` comes in any case."""

    tried = pyqtSignal(int)
    done = pyqtSignal(object)
    ended = pyqtSignal()

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self._task = BackgroundTask(self)
        self._task.reported.connect(lambda count: self.tried.emit(count))
        self._task.done.connect(self._on_done)
        self._task.failed.connect(lambda _: self.ended.emit())

    @property
    def busy(self) -> bool:
        """Whether repairs are being tried."""
        return self._task.busy

    def ask(self, flow: Flow, folder: Path | None, level_files: LevelFiles, check: str) -> None:
        """Begins to carry out what the findings of a check offer, in a flow of its own."""
        self._task.ask(partial(_mended, flow, folder, level_files, check))

    def forget(self) -> None:
        """Gives up."""
        if self.busy:
            self._task.cancel()
            self.ended.emit()

    def stop(self) -> None:
        """Gives up, and waits until nothing runs any more."""
        self._task.stop()

    def _on_done(self, mended: Mended) -> None:
        self.ended.emit()
        self.done.emit(mended)


def _mended(flow: Flow, folder: Path | None, level_files: LevelFiles, check: str, job: Job) -> Mended:
    tried: list[Attempt] = []

    def tell(attempt: Attempt) -> None:
        tried.append(attempt)
        job.report(len(tried))

    budget = partial(default_budget, flow, job.cancelled)
    return mend(flow, folder, budget=budget, only=[check], level_files=level_files, tell=tell)
