"""Trying a repair beside the window, while it is shown: whether it mends, and brings nothing new."""

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from mossy_bridge.appraisal.appraise import Appraisal, appraise, default_budget
from mossy_bridge.appraisal.mending import attempt
from mossy_bridge.checks.finding import Finding
from mossy_bridge.desk.workers.background_task import BackgroundTask, Job
from mossy_bridge.model.flow import Flow


class RepairTrial(QObject):
    """Tries one repair at a time. ``told`` says in a sentence what comes of it."""

    told = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self._task = BackgroundTask(self)
        self._task.done.connect(lambda objection: self.told.emit(_sentence(objection)))

    @property
    def busy(self) -> bool:
        """Whether a repair is being tried."""
        return self._task.busy

    def ask(self, before: Appraisal, finding: Finding, folder: Path | None) -> None:
        """Tries the repair of a finding of an appraisal; an earlier question is dropped."""
        self._task.ask(partial(_objection, before, finding, folder))

    def forget(self) -> None:
        """Drops the question under way: its repair is not the one that is shown any more."""
        self._task.cancel()

    def stop(self) -> None:
        """Gives up, and waits until nothing runs any more."""
        self._task.stop()


def _objection(before: Appraisal, finding: Finding, folder: Path | None, job: Job) -> str:
    def look(flow: Flow) -> Appraisal:
        budget = default_budget(flow, job.cancelled)
        return appraise(flow, folder, budget=budget, before=before, level_files=before.level_files.files)

    return attempt(before, finding, look)[1]


def _sentence(objection: str) -> str:
    return f"Tried: {objection.removesuffix('.')}." if objection else "Tried: it mends this, and brings nothing new."
