"""Runs the survey beside the window: one pure computation at a time, cancelled by the next edit."""

import sys
import threading
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from mossy_bridge.appraisal.appraise import Appraisal, Judgement, appraise, default_budget
from mossy_bridge.desk.workers.gradual_release import let_go, parts_of
from mossy_bridge.model.flow import Flow
from mossy_bridge.reach.survey.budget import Cancelled
from mossy_bridge.reach.survey.gc_pause import gc_paused
from mossy_bridge.reach.survey.result import Survey

SETTLE_MS = 25


class Surveyor(QObject):
    """Keeps a survey of the latest flow. ``answered`` brings its verdict, ``surveyed`` all of it; stale ones are
    dropped. ``started`` says that what has been brought is not about the latest flow any more."""

    answered = pyqtSignal(object)
    surveyed = pyqtSignal(object)
    started = pyqtSignal()
    failed = pyqtSignal(str)
    _arrived = pyqtSignal(int, object)
    _told = pyqtSignal(int, object)

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self._revision = 0
        self._cancel = threading.Event()
        self._thread: threading.Thread | None = None
        self._last: Survey | None = None
        self._shown: Appraisal | None = None
        self._wanted: tuple[Flow, Path | None] | None = None
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(SETTLE_MS)
        self._timer.timeout.connect(self._begin)
        self._arrived.connect(self._on_arrived)
        self._told.connect(self._on_told)

    @property
    def busy(self) -> bool:
        """Whether a survey is under way or about to begin."""
        return self._wanted is not None or self._thread is not None

    def look_at(self, flow: Flow, folder: Path | None) -> None:
        """Surveys the flow soon; an older survey under way is given up."""
        self._revision += 1
        self._cancel.set()
        self._wanted = (flow, folder)
        self._timer.start()
        self.started.emit()

    def stop(self) -> None:
        """Gives up, and waits until nothing runs any more."""
        self._revision += 1
        self._wanted = None
        self._timer.stop()
        self._cancel.set()
        if self._thread:
            self._thread.join()
            self._thread = None

    def _begin(self) -> None:
        if self._thread is not None or self._wanted is None:
            return  # the one under way has been cancelled; the next begins when it has ended
        flow, folder = self._wanted
        self._wanted = None
        self._cancel = threading.Event()
        arguments = (self._revision, flow, folder, self._cancel)
        self._thread = threading.Thread(target=self._work, args=arguments, daemon=True, name="survey")
        self._thread.start()

    def _work(self, revision: int, flow: Flow, folder: Path | None, cancel: threading.Event) -> None:
        result: object
        try:
            with gc_paused():
                tell = partial(self._told.emit, revision)
                budget = default_budget(flow, cancel.is_set)
                result = appraise(flow, folder, budget=budget, before=self._last, tell=tell)
                _ = result.judgement, result.columns, result.levels_led_to  # not in the window's thread
            before, self._last = parts_of(self._last), result.survey
            let_go(before)
        except Cancelled:
            result = None
        except Exception as error:  # noqa: BLE001 - a border: the error is shown, not lost
            result = error
        self._arrived.emit(revision, result)

    def _on_told(self, revision: int, answer: Judgement) -> None:
        if revision == self._revision and self._wanted is None:
            self.answered.emit(answer)

    def _on_arrived(self, revision: int, result: object) -> None:
        if self._thread:
            self._thread.join()
            self._thread = None
        if self._wanted is not None:
            self._begin()
        elif revision == self._revision:
            if isinstance(result, Appraisal):
                before, self._shown = parts_of(self._shown), result
                self.surveyed.emit(result)
                let_go(before)
            elif result is not None:
                self.failed.emit(f"The survey failed: {result}")
                if isinstance(result, Exception):
                    sys.excepthook(type(result), result, result.__traceback__)
