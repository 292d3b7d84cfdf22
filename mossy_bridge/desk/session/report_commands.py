"""Reports written to files and printed, beside the window."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject

from mossy_bridge.appraisal.appraise import appraise, default_budget
from mossy_bridge.appraisal.report.contents import Report
from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.dialogs.progress import ProgressDialog
from mossy_bridge.desk.report.document import ReportPages, Tell
from mossy_bridge.desk.report.writing import report_bytes, report_parts
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.versions.other_version import OtherVersion
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.workers.background_task import BackgroundTask, Job, Work
from mossy_bridge.exchange.saving import CannotSave, replace_file
from mossy_bridge.exchange.shipping_values import delivered
from mossy_bridge.model.flow import Flow
from mossy_bridge.reach.survey.budget import Cancelled


class ReportCommands(QObject):
    """Makes reports of the present flow; while another version is held beside it, with what changed since that."""

    def __init__(self, document: Document, other_version: OtherVersion, person: Person, look: Look):
        super().__init__(document)
        self._document, self._other, self._person, self._look = document, other_version, person, look
        self._task = BackgroundTask(self)
        self._task.reported.connect(self._on_reported)
        self._task.done.connect(self._on_done)
        self._task.failed.connect(lambda _: self._end())
        self._progress: ProgressDialog | None = None

    @property
    def busy(self) -> bool:
        """Whether one is being made."""
        return self._task.busy

    def write(self, out: Path, kind: str) -> None:
        """Writes the report of the flow as it ships to a file, as ``html`` or ``pdf``."""
        parts = self._parts(delivered(self._document.flow))

        def work(job: Job) -> tuple[str, str]:
            try:
                replace_file(out, report_bytes(*parts(job), kind, telling(job)), backup=False)
            except CannotSave as error:
                return "Not exported", str(error)
            return "Exported", f"{out.name} in {out.parent}"

        self._begin("Writing the report", work)

    def print(self) -> None:
        """Prints the report of the flow as it is."""
        printer = self._person.printer()
        if printer is None:
            return
        parts = self._parts(self._document.flow)

        def work(job: Job) -> None:
            ReportPages(*parts(job), printer, telling(job)).write()

        self._begin("Printing the report", work)

    def stop(self) -> None:
        """Gives up, and waits until nothing runs any more."""
        self._task.stop()
        self._end()

    def _parts(self, flow: Flow) -> Callable[[Job], tuple[Report, str]]:
        """What a report is made of, once there is somebody to wait for it."""
        since, look = ((self._other.name, self._other.flow) if self._other.name else None), self._look

        def make(job: Job) -> tuple[Report, str]:
            found = appraise(flow, budget=default_budget(flow, job.cancelled))
            return report_parts(found, look, since, job.cancelled)

        return make

    def _begin(self, told: str, work: Work) -> None:
        self._progress = self._person.progress(told)
        self._progress.stopped.connect(self._on_stopped)
        self._task.ask(work)

    def _on_reported(self, share: float) -> None:
        if self._progress:
            self._progress.say(share)

    def _on_done(self, told: tuple[str, str] | None) -> None:
        self._end()
        if told:
            self._person.tell(*told)

    def _on_stopped(self) -> None:
        self._task.cancel()
        self._end()

    def _end(self) -> None:
        if self._progress:
            self._progress.end()
            self._progress = None


def telling(job: Job) -> Tell:
    """Tells how far a report is, until nobody wants it any more."""

    def tell(share: float) -> None:
        if job.cancelled():
            raise Cancelled
        job.report(share)

    return tell
