"""What is asked of findings: repairing, accepting."""

from mossy_bridge.checks.finding import Finding
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.edit_door import EditDoor
from mossy_bridge.model.edits import levels as edits


class FindingRequests:
    """Edits the document as findings ask."""

    def __init__(self, document: Document, door: EditDoor):
        self._document, self._door = document, door

    def repair(self, finding: Finding) -> None:
        """Carries out the repair of a finding."""
        repair = finding.repair
        if repair:
            label = repair.label[:1].lower() + repair.label[1:]
            self._door.edit(f"repair: {label}", repair.edit)

    def accept(self, finding: Finding, why: str) -> None:
        """Accepts a finding, for a reason."""
        at = finding.at[0] if finding.at else ""
        self._door.edit("accept a finding", lambda flow: edits.accept(flow, finding.check, at, why))

    def withdraw(self, finding: Finding) -> None:
        """Takes back that a finding was accepted."""
        for waiver in self._document.flow.waivers:
            if waiver.check == finding.check and waiver.at in (*finding.at, " ".join(finding.at)):
                self._withdraw(finding.check, waiver.at)
                return

    def _withdraw(self, check: str, at: str) -> None:
        self._door.edit("take back an acceptance", lambda flow: edits.withdraw(flow, check, at))
