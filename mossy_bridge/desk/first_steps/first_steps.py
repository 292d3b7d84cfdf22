"""Leads through the steps."""

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.checks.verdict import verdict_sentence
from mossy_bridge.desk.first_steps.band import StepBand
from mossy_bridge.desk.first_steps.steps import CLOSING, STEPS, Glance
from mossy_bridge.desk.shell.desk_parts import DeskParts

LOOKS_MS = 150
"""How often it is looked whether a step is done."""


class FirstSteps(QObject):
    """Shows step after step in a band, each until it is done. ``result`` gives the latest appraisal. Another flow ends
    them."""

    def __init__(self, desk: DeskParts, band: StepBand, result: Callable[[], Appraisal | None]):
        super().__init__(desk.widget)
        self._desk, self._band, self._result = desk, band, result
        self._at = -1
        """The step shown; -1 while there is none, and behind the last the closing words."""
        self._first = desk.document.flow
        self._looking = QTimer(self)
        self._looking.setInterval(LOOKS_MS)
        self._looking.timeout.connect(self._look)
        band.on.clicked.connect(self._go_on)
        band.show_me.clicked.connect(lambda: STEPS[self._at].do(desk))
        band.leave.connect(self.stop)
        desk.document.opened.connect(self.stop)

    @property
    def under_way(self) -> bool:
        """Whether a step is shown."""
        return self._at >= 0

    def begin(self) -> None:
        """Opens the demo and shows the first step, if what is open may be left."""
        if not self._desk.files.open_demo(with_files=False):
            return
        self._first = self._desk.document.flow
        self._show(0)

    def stop(self) -> None:
        """Puts the band away."""
        self._at = -1
        self._looking.stop()
        self._band.hide()

    def _show(self, at: int) -> None:
        self._at = at
        step = STEPS[at]
        self._band.show_task(f"{at + 1} of {len(STEPS)} · {step.title}", step.task)
        self._looking.start()

    def _look(self) -> None:
        step, now = STEPS[self._at], self._glance()
        if not step.is_done(now, self._first):
            return
        self._looking.stop()
        result = self._result()
        verdict = verdict_sentence(result.survey, result.findings) if result else ""
        last = self._at == len(STEPS) - 1
        seen = step.seen.replace("{verdict}", verdict)
        self._band.show_done(f"{self._at + 1} of {len(STEPS)} · {step.title}", seen, "&Finish" if last else "&Next")

    def _glance(self) -> Glance:
        desk, result = self._desk, self._result()
        known = result is not None and result.flow is desk.document.flow
        trial = desk.walking.trial
        return Glance(
            flow=desk.document.flow,
            level=desk.selection.level_id,
            check=desk.survey_column.check_pointed_at,
            errors=sum(one.severity == "error" for one in result.open_findings()) if result and known else None,
            moves=len(trial.moves) if trial else 0,
        )

    def _go_on(self) -> None:
        if self._at + 1 < len(STEPS):
            self._show(self._at + 1)
        elif self._at + 1 == len(STEPS):
            self._at += 1
            self._band.show_done(*CLOSING, "&New flow…")
        else:
            self.stop()
            self._desk.files.new()
