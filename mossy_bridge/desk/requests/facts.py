"""What is asked of facts."""

from typing import Any

from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.edit_door import EditDoor
from mossy_bridge.language import fact_edits
from mossy_bridge.language.fact_uses import uses_of_facts
from mossy_bridge.model.flow import FactKind, Flow


class FactRequests:
    """Edits the document as asked. What would lose its meaning is told first."""

    def __init__(self, document: Document, door: EditDoor):
        self._document, self._door = document, door

    def _title(self, fact: str) -> str:
        return next((one.name or one.id for one in self._document.flow.facts if one.id == fact), fact)

    def add(self, name: str, kind: FactKind = "flag") -> str:
        """Adds a fact; its id."""
        made: list[str] = []

        def change(flow: Flow) -> Flow:
            flow, new = fact_edits.add_fact(flow, name, kind)
            made.append(new)
            return flow

        return made[-1] if self._door.edit(f"add the fact {name}", change) else ""

    def set(self, fact: str, what: str, **values: Any) -> None:
        """Changes fields of a fact."""
        step = f"change {what} of {self._title(fact)}"
        self._door.edit(step, lambda flow: fact_edits.set_fact(flow, fact, **values))

    def set_rewinding(self, rewinds: bool) -> None:
        """Lets all keys and points go back when the player fails, or nothing."""
        step = "lose keys and points when the player fails" if rewinds else "keep everything when the player fails"
        self._door.edit(step, lambda flow: fact_edits.set_rewinding(flow, rewinds))

    def merge(self, gone: str, kept: str) -> None:
        """Puts one fact in the place of another."""
        step = f"merge {self._title(gone)} into {self._title(kept)}"
        self._door.edit(step, lambda flow: fact_edits.merge_facts(flow, gone, kept))

    def remove(self, fact: str) -> None:
        """Removes a fact and the effects that change it."""
        step = f"remove the fact {self._title(fact)}"
        self._door.edit(step, lambda flow: fact_edits.remove_fact(flow, fact))

    def remove_unused(self) -> None:
        """Removes every fact that nothing changes or asks for."""
        used = {use.fact for use in uses_of_facts(self._document.flow)}
        unused = [fact.id for fact in self._document.flow.facts if fact.id not in used]

        def change(flow: Flow) -> Flow:
            for fact in unused:
                flow = fact_edits.remove_fact(flow, fact)
            return flow

        if unused:
            self._door.edit("remove unused facts", change)
