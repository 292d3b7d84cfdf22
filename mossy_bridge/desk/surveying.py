"""Runs the survey beside the window: one pure computation at a time, cancelled by the next edit."""

import sys
import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from mossy_bridge.checks.finding import Check, Finding
from mossy_bridge.checks.inspecting import inspected
from mossy_bridge.checks.verdict import Mark, verdict_mark, verdict_sentence
from mossy_bridge.desk.letting_go import let_go, parts_of
from mossy_bridge.exchange.delivered import undeliverable
from mossy_bridge.model.flow import Flow
from mossy_bridge.reach.columns import Columns, columns, really_leads_to
from mossy_bridge.reach.survey import Cancelled, not_collecting, surveyed
from mossy_bridge.reach.verdicts import Survey

BUDGET_SECONDS, SECONDS_A_LEVEL = 10.0, 0.002
"""A survey may take so long, and so much longer for each level."""
SETTLE_MS = 25


@dataclass(frozen=True)
class Surveyed:
    """Everything the window shows of one survey, and the flow it is about."""

    flow: Flow
    survey: Survey
    findings: Sequence[Finding]
    sentence: str
    mark: Mark
    columns: Columns
    leads: dict[tuple[str, str], frozenset[str]]

    def open_findings(self) -> list[Finding]:
        """The findings that nobody has accepted."""
        return [finding for finding in self.findings if not finding.waived]


@dataclass(frozen=True)
class Answer:
    """The verdict, as soon as it is known: before all is checked, and shown in its place on the map."""

    sentence: str
    mark: Mark


def survey_flow(
    flow: Flow,
    folder: Path | None,
    cancelled: threading.Event,
    before: Survey | None = None,
    tell: Callable[[Answer], None] = lambda _answer: None,
) -> Surveyed:
    """The whole survey of a flow, as the window shows it, its verdict told first; of an earlier one is used what still
    holds. Raises :class:`Cancelled`."""
    budget = BUDGET_SECONDS + SECONDS_A_LEVEL * len(flow.levels)
    survey = surveyed(flow, budget, cancelled.is_set, before=before)
    told = False

    def watch(check: Check, found: Sequence[Finding]) -> None:
        nonlocal told
        if cancelled.is_set():
            raise Cancelled
        if not told and check.severity != "error":
            told = True
            tell(Answer(verdict_sentence(survey, found), verdict_mark(survey, found)))

    findings = inspected(survey, flow, folder, watch=watch, undeliverable=undeliverable)
    placed = columns(survey.flow, survey.crossings)
    sentence, mark = verdict_sentence(survey, findings), verdict_mark(survey, findings)
    return Surveyed(flow, survey, findings, sentence, mark, placed, really_leads_to(survey))


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
        self._shown: Surveyed | None = None
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
            with not_collecting():
                tell = partial(self._told.emit, revision)
                result = survey_flow(flow, folder, cancel, self._last, tell)
            before, self._last = parts_of(self._last), result.survey
            let_go(before)
        except Cancelled:
            result = None
        except Exception as error:  # noqa: BLE001 - a border: the error is shown, not lost
            result = error
        self._arrived.emit(revision, result)

    def _on_told(self, revision: int, answer: Answer) -> None:
        if revision == self._revision and self._wanted is None:
            self.answered.emit(answer)

    def _on_arrived(self, revision: int, result: object) -> None:
        if self._thread:
            self._thread.join()
            self._thread = None
        if self._wanted is not None:
            self._begin()
        elif revision == self._revision:
            if isinstance(result, Surveyed):
                before, self._shown = parts_of(self._shown), result
                self.surveyed.emit(result)
                let_go(before)
            elif result is not None:
                self.failed.emit(f"The survey failed: {result}")
                if isinstance(result, Exception):
                    sys.excepthook(type(result), result, result.__traceback__)
