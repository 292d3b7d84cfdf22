"""What is asked of findings: repairing, accepting."""

from collections.abc import Sequence

from mossy_bridge.appraisal.mending import Mended
from mossy_bridge.checks.finding import ONE_BY_ONE, Finding, check_words
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.edit_door import EditDoor
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Flow, Waiver


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

    def repair_all(self, mended: Mended) -> None:
        """Shows what repairs that were tried one after the other change together, to be carried out then."""
        done = [one.finding for one in mended.attempts if not one.objection]
        if done:
            words = check_words(done[0].check).lower()
            self._door.show_first(f"repair {len(done)}: {words}", lambda _: mended.flow)

    def accept(self, findings: Sequence[Finding], why: str) -> None:
        """Accepts findings, for one reason."""

        def change(flow: Flow) -> Flow:
            for finding in findings:
                for at in finding.at if finding.check in ONE_BY_ONE else finding.at[:1] or ("",):
                    flow = edits.accept(flow, finding.check, at, why)
            return flow

        self._door.edit(f"accept {_count(findings)}", change)

    def withdraw(self, findings: Sequence[Finding]) -> None:
        """Takes back that findings were accepted."""
        waivers = self._document.flow.waivers
        known = [(finding.check, at) for finding in findings for at in _accepted_at(finding, waivers)]

        def change(flow: Flow) -> Flow:
            for check, at in known:
                flow = edits.withdraw(flow, check, at)
            return flow

        if known:
            self._door.edit("take back an acceptance" if len(known) == 1 else "take back acceptances", change)


def _accepted_at(finding: Finding, waivers: Sequence[Waiver]) -> list[str]:
    """The places of the waivers that accept a finding."""
    places = (*finding.at, " ".join(finding.at))
    known = [waiver.at for waiver in waivers if waiver.check == finding.check and waiver.at in places]
    return known if finding.check in ONE_BY_ONE else known[:1]


def _count(findings: Sequence[Finding]) -> str:
    return "a finding" if len(findings) == 1 else f"{len(findings)} findings"
