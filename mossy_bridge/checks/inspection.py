"""What checks look at: the survey of a flow, and its surroundings."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path

from mossy_bridge.checks.finding import Finding
from mossy_bridge.language.wording import Wording
from mossy_bridge.model.addresses import title_of
from mossy_bridge.model.flow import Exit, Flow, Level
from mossy_bridge.reach.survey.result import Survey


@dataclass
class Inspection:
    """What checks look at: the survey of a flow, and its surroundings."""

    survey: Survey
    written: Flow
    """The flow as it stands in its file, patterns not filled in. Repairs edit this one."""
    folder: Path | None = None
    """The folder of the flow's file, or None while it has none."""
    final: bool = False
    """Whether the flow is judged as it would be delivered."""
    ran: frozenset[str] = frozenset()
    """The checks of this run."""
    undeliverable: Callable[[Flow], Mapping[str, str]] = lambda _flow: {}
    """The places of a flow as written whose value to deliver cannot stand there, each with why."""
    cancelled: Callable[[], bool] = lambda: False
    """Whether nobody wants the findings any more; for checks that take long."""
    found: tuple[Finding, ...] = ()
    """For the check of waivers, which runs last: what the others have found."""

    @property
    def flow(self) -> Flow:
        """The flow with its patterns filled in."""
        return self.survey.flow

    @cached_property
    def wording(self) -> Wording:
        """Says conditions and effects with names."""
        return Wording(self.flow)

    def exits(self) -> Iterator[tuple[Level, Exit]]:
        """Every exit with its level."""
        for level in self.flow.levels:
            for exit_ in level.exits:
                yield level, exit_

    @cached_property
    def by_transition(self) -> dict[str, list[tuple[Level, Exit]]]:
        """The exits that use each transition."""
        found: dict[str, list[tuple[Level, Exit]]] = {}
        for level, exit_ in self.exits():
            found.setdefault(exit_.transition, []).append((level, exit_))
        return found

    def title(self, place: str) -> str:
        """A short place in words."""
        return title_of(self.flow, place)
