"""The one helper for work beside the window: one question at a time, cancelled by a newer one.

The work is a pure function of its own values. What it reports on the way, its result and its failure come back by
signal, in the window's thread; those of a question that nobody asks any more do not.
"""

import sys
import threading
from collections.abc import Callable
from contextlib import suppress
from functools import partial
from typing import TypeVar

from PyQt6.QtCore import QEventLoop, QObject, QTimer, pyqtSignal

from mossy_bridge.reach.survey.budget import Cancelled
from mossy_bridge.reach.survey.gc_pause import gc_paused

T = TypeVar("T")
AT_ONCE = 0.03
"""Seconds after which somebody may notice that the window stands still."""
LONGEST_WAIT = 1.0
"""Seconds that work waits for what it shows, for its window may be gone."""


class Job:
    """One question under way, as its work sees it."""

    def __init__(self, report: Callable[["Job", object], None]):
        self._cancelled, self._shown, self._report = threading.Event(), threading.Event(), report
        self._showing: object = None

    def cancel(self) -> None:
        """Nobody wants the answer any more."""
        self._cancelled.set()
        self._shown.set()

    def cancelled(self) -> bool:
        """Whether the work should stop, by raising :class:`Cancelled`."""
        return self._cancelled.is_set()

    def report(self, value: object) -> None:
        """Tells how far it is, or what is known already."""
        self._report(self, value)

    def show(self, value: object) -> None:
        """The same, and waits until that is shown: showing is done in half the time while nothing else computes."""
        self._showing = value
        self._shown.clear()
        if not self.cancelled():
            self._report(self, value)
            self._shown.wait(LONGEST_WAIT)

    def go_on(self, value: object) -> None:
        """A value that was reported has been shown."""
        if value is self._showing:
            self._shown.set()


Work = Callable[[Job], object]


class BackgroundTask(QObject):
    """Answers one question at a time. ``reported`` brings what the work tells on the way, ``done`` its result,
    ``failed`` the exception that ended it, which has been told as a fault then. At most one thread runs: a newer
    question cancels the older one and begins when that has ended."""

    reported = pyqtSignal(object)
    done = pyqtSignal(object)
    failed = pyqtSignal(object)
    _told = pyqtSignal(object, object)
    _ended = pyqtSignal(object, object, object)

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self._job: Job | None = None
        self._thread: threading.Thread | None = None
        self._wanted: Work | None = None
        self._told.connect(self._on_told)
        self._ended.connect(self._on_ended)

    @property
    def busy(self) -> bool:
        """Whether a question is under way or about to begin."""
        return self._thread is not None

    def ask(self, work: Work) -> None:
        """Begins some work; older work is cancelled."""
        self._wanted = work
        if self._job:
            self._job.cancel()
        else:
            self._begin()

    def cancel(self) -> None:
        """Gives up: no answer will come."""
        self._wanted = None
        if self._job:
            self._job.cancel()

    def stop(self) -> None:
        """Gives up, and waits until nothing runs any more."""
        self.cancel()
        if self._thread:
            self._thread.join()
            self._thread = self._job = None

    def _begin(self) -> None:
        work, self._wanted = self._wanted, None
        if work:
            self._job = Job(self._tell)
            self._thread = threading.Thread(target=self._run, args=(self._job, work), daemon=True, name="background")
            self._thread.start()

    def _run(self, job: Job, work: Work) -> None:
        result: object = None
        error: Exception | None = None
        try:
            result = work(job)
        except Cancelled:
            job.cancel()
        except Exception as failure:  # noqa: BLE001 - a border: the failure is shown, not lost
            error = failure
        with suppress(RuntimeError):  # its window may be gone
            self._ended.emit(job, result, error)

    def _tell(self, job: Job, value: object) -> None:
        with suppress(RuntimeError):  # its window may be gone
            self._told.emit(job, value)

    def _is_wanted(self, job: Job) -> bool:
        return job is self._job and not job.cancelled()

    def _on_told(self, job: Job, value: object) -> None:
        if self._is_wanted(job):
            self.reported.emit(value)
        QTimer.singleShot(0, partial(job.go_on, value))  # once it is painted, too

    def _on_ended(self, job: Job, result: object, error: Exception | None) -> None:
        if job is not self._job:
            return  # it has been stopped
        wanted = self._is_wanted(job)
        if self._thread:
            self._thread.join()
        self._thread = self._job = None
        self._begin()
        if error:
            sys.excepthook(type(error), error, error.__traceback__)
        if wanted:
            self.done.emit(result) if error is None else self.failed.emit(error)


def done_beside(work: Callable[[], T]) -> T:
    """The result of some work, or what it raises, for work that must be over before anything else is done. The window
    is painted meanwhile, but takes no keys or clicks."""
    results: list[T] = []
    errors: list[BaseException] = []

    def run() -> None:
        try:
            with gc_paused():  # else the window's thread looks through what is made, ten times a second
                results.append(work())
        except BaseException as error:  # noqa: BLE001 - it is raised again where the result is waited for
            errors.append(error)

    thread = threading.Thread(target=run, daemon=True, name="beside")
    thread.start()
    thread.join(AT_ONCE)
    if thread.is_alive():
        loop, timer = QEventLoop(), QTimer()
        timer.timeout.connect(lambda: None if thread.is_alive() else loop.quit())
        timer.start(5)
        loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)
        timer.stop()
    if errors:
        raise errors[0]
    return results[0]
