"""What becomes of the wishes of the survey column: repairs shown and tried, findings accepted."""

from collections.abc import Callable

from PyQt6.QtCore import QObject

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.appraisal.mending import Mended
from mossy_bridge.checks.finding import Finding, check_words
from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.shell.proposal_bar import ProposalBar
from mossy_bridge.desk.survey.column import SurveyColumn
from mossy_bridge.desk.workers.mending import Mending
from mossy_bridge.desk.workers.repair_trial import RepairTrial

Findings = tuple[Finding, ...]


class FindingActions(QObject):
    """Carries out what the column asks for. ``result`` tells the latest appraisal, ``show`` selects a finding's
    place."""

    def __init__(
        self,
        column: SurveyColumn,
        document: Document,
        requests: Requests,
        person: Person,
        bar: ProposalBar,
        result: Callable[[], Appraisal | None],
        show: Callable[[Finding], object],
    ):
        super().__init__(column)
        self._column, self._document, self._requests = column, document, requests
        self._person, self._bar, self._result, self._show = person, bar, result, show
        self.trial, self.mending = RepairTrial(self), Mending(self)
        self._count = 0
        """How many repairs are to be tried."""
        column.show_wanted.connect(show)
        column.repair_wanted.connect(self.repair)
        column.repair_all_wanted.connect(self.repair_all)
        column.accept_wanted.connect(self.accept)
        column.withdraw_wanted.connect(requests.findings.withdraw)
        column.stop_wanted.connect(self.mending.forget)
        self.trial.told.connect(bar.add)
        self.mending.tried.connect(lambda tried: column.say_repairing(f"tried {tried:,} of {self._count:,}…"))
        self.mending.done.connect(self._on_mended)
        self.mending.ended.connect(lambda: column.say_repairing(""))

    def repair(self, finding: Finding) -> None:
        """Shows the place and what the repair changes, and tries meanwhile what comes of it."""
        self._show(finding)
        self._requests.findings.repair(finding)
        result = self._result()
        if result and self._bar.proposal and result.flow is self._document.flow:
            self.trial.ask(result, finding, self._document.folder)

    def repair_all(self, findings: Findings) -> None:
        """Tries the repairs of a group one after the other; what those that mend change together is shown then."""
        self._count = len(findings)
        self._column.say_repairing(f"trying {self._count:,} repairs…")
        result = self._result()
        level_files = result.level_files.files if result else {}
        self.mending.ask(self._document.flow, self._document.folder, level_files, findings[0].check)

    def _on_mended(self, mended: Mended) -> None:
        left = [one.objection for one in mended.attempts if one.objection]
        done = len(mended.attempts) - len(left)
        if not done:
            why = f"None of these repairs mends: {left[0]}" if left else "Nothing is left to repair."
            self._person.tell("Repair all", why)
            return
        self._requests.findings.repair_all(mended)
        more = f" {len(left):,} are left as they are, the first since {left[0].removesuffix('.')}." if left else ""
        self._bar.add(f"Tried: {done:,} mend, and bring nothing new.{more}")

    def accept(self, findings: Findings) -> None:
        """Asks for a reason, and accepts findings for it."""
        first = findings[0]
        told = first.message if len(findings) == 1 else f"{check_words(first.check)}: {len(findings):,} findings"
        why = self._person.reason(told)
        if why:
            self._requests.findings.accept(findings, why)

    def forget(self) -> None:
        """Another flow: what is being tried is of no use any more."""
        self.mending.forget()

    def stop(self) -> None:
        """Gives up, and waits until nothing runs any more."""
        self.trial.stop()
        self.mending.stop()
