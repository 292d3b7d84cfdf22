"""What is asked of findings: repairing, accepting."""

from mossy_bridge.checks.finding import ONE_BY_ONE, Finding
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.edit_door import EditDoor
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Flow


class FindingRequests:
    """Edits the document as findings ask."""

    def __init__(self, document: Document, door: EditDoor):
        self._document, self._door = document, door

    def repair(self, finding: Finding) -> None:
        """Shows what the repair of a finding changes, to be carried out then."""
        repair = finding.repair
        if repair:
            label = repair.label[:1].lower() + repair.label[1:]
            self._door.show_first(f"repair: {label}", repair.edit)

    def accept(self, finding: Finding, why: str) -> None:
        """Accepts a finding, for a reason."""
        places = finding.at if finding.check in ONE_BY_ONE else finding.at[:1] or ("",)

        def change(flow: Flow) -> Flow:
            for at in places:
                flow = edits.accept(flow, finding.check, at, why)
            return flow

        self._door.edit("accept a finding", change)

    def withdraw(self, finding: Finding) -> None:
        """Takes back that a finding was accepted."""
        places = (*finding.at, " ".join(finding.at))
        known = [w.at for w in self._document.flow.waivers if w.check == finding.check and w.at in places]
        if finding.check not in ONE_BY_ONE:
            known = known[:1]

        def change(flow: Flow) -> Flow:
            for at in known:
                flow = edits.withdraw(flow, finding.check, at)
            return flow

        if known:
            self._door.edit("take back an acceptance", change)
