"""Appraises the latest flow beside the window; the next edit cancels what is under way."""

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from mossy_bridge.appraisal.appraise import Appraisal, Judgement, appraise, default_budget
from mossy_bridge.desk.workers.background_task import BackgroundTask, Job
from mossy_bridge.desk.workers.gradual_release import let_go, parts_of
from mossy_bridge.level_files.contents import LevelFiles
from mossy_bridge.model.flow import Flow
from mossy_bridge.reach.survey.gc_pause import gc_paused

SETTLE_MS = 10
"""So long after an edit the survey begins, so that many edits of a moment make one."""


class Surveyor(QObject):
    """Keeps an appraisal of the latest flow. ``judged`` brings its judgement as soon as it is known, ``appraised`` all
    findings, ``charted`` the same appraisal once it is also known what the map is drawn from; ``started`` says that
    what has been brought is not about the latest flow any more."""

    judged = pyqtSignal(object)
    appraised = pyqtSignal(object)
    charted = pyqtSignal(object)
    started = pyqtSignal()
    failed = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self._shown: Appraisal | None = None
        self._passed: list[object] = []
        """What earlier appraisals hold, to be released in parts once nobody shows them."""
        self._wanted: tuple[Flow, Path | None, LevelFiles] | None = None
        self._task = BackgroundTask(self)
        self._task.reported.connect(self._on_reported)
        self._task.done.connect(self._on_charted)
        self._task.failed.connect(lambda error: self.failed.emit(f"The survey failed: {error}"))
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(SETTLE_MS)
        self._timer.timeout.connect(self._begin)

    @property
    def busy(self) -> bool:
        """Whether a survey is under way or about to begin."""
        return self._wanted is not None or self._task.busy

    def look_at(self, flow: Flow, folder: Path | None, level_files: LevelFiles | None = None) -> None:
        """Surveys the flow soon, with what its level files hold; an older survey under way is cancelled."""
        self._task.cancel()
        self._wanted = (flow, folder, level_files or {})
        again = self._shown is not None and self._shown.flow is flow  # no edit, only its files have changed
        self._timer.start(0 if again else SETTLE_MS)
        self.started.emit()

    def stop(self) -> None:
        """Gives up, and waits until nothing runs any more."""
        self._wanted = None
        self._timer.stop()
        self._task.stop()

    def _begin(self) -> None:
        if self._wanted is not None:
            flow, folder, level_files = self._wanted
            self._wanted = None
            self._task.ask(partial(_appraised, flow, folder, level_files, self._shown))

    def _on_reported(self, known: Judgement | Appraisal) -> None:
        if self._wanted is not None:
            return
        if isinstance(known, Judgement):
            self.judged.emit(known)
        else:
            self._passed += parts_of(self._shown)
            self._shown = known
            self.appraised.emit(known)

    def _on_charted(self, result: Appraisal) -> None:
        if self._wanted is None:
            self.charted.emit(result)
            let_go(self._passed)  # nobody shows them any more
            self._passed = []


def _appraised(
    flow: Flow, folder: Path | None, level_files: LevelFiles, before: Appraisal | None, job: Job
) -> Appraisal:
    with gc_paused():
        budget = default_budget(flow, job.cancelled)
        found = appraise(flow, folder, budget=budget, before=before, level_files=level_files, tell=job.report)
        _ = found.judgement, found.standing, found.groups  # computed here, not in the window's thread
        job.show(found)
        found.chart(budget.check)
        return found
