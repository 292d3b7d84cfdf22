"""What checks look at: the survey of a flow, and its surroundings."""

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path
from typing import Union

import numpy as np
from numpy.typing import NDArray

from mossy_bridge.checks.disk import Disk
from mossy_bridge.checks.finding import Finding
from mossy_bridge.checks.level_links import LevelLinks
from mossy_bridge.checks.level_results import LevelResults
from mossy_bridge.checks.planned import completed_survey
from mossy_bridge.language.wording import Wording
from mossy_bridge.level_files.differences import Comparison
from mossy_bridge.model.addresses import title_of
from mossy_bridge.model.flow import PLAYER, Exit, Flow, Level, Spawn
from mossy_bridge.plan.bodies import overlap
from mossy_bridge.plan.plan_columns import PlanColumns
from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.queries.taken_back import Restarts
from mossy_bridge.reach.survey.result import Survey


@dataclass(frozen=True)
class LocalInspection:
    """What a local check looks at: some levels, one after the other, and of the flow no more than its settings."""

    flow: Flow
    """With its patterns filled in."""
    levels: tuple[Level, ...]
    plans: PlanColumns
    """What is drawn on the plans of the levels, to pick out those worth a look."""

    def exits(self) -> Iterator[tuple[Level, Exit]]:
        """Every exit of the levels, with its level."""
        return exits_of(self.levels)

    def title(self, place: str) -> str:
        """A short place in words."""
        return title_of(self.flow, place)


@dataclass(frozen=True)
class NearbyInspection(LocalInspection):
    """What a check of levels and those beside them looks at."""

    written: Flow
    """The flow as it stands in its file, patterns not filled in. Repairs edit this one."""
    rules: Rules
    level_results: LevelResults

    @property
    def links(self) -> LevelLinks:
        """Which levels name which."""
        return self.level_results.links

    def naming(self, level: Level) -> list[Level]:
        """The levels that name a level, and itself, in their order."""
        return self.links.around(level.id)

    def landings(self, level: Level) -> Counter[str]:
        """How many exits, `otherwise`, tiles, checkpoints and starts name each spawn point of a level."""
        start = self.flow.start
        found = [start.spawn] if start.level == level.id else []
        found += [way.spawn for way in self.links.ways_in(level.id)]
        return Counter([*found, *(deed.checkpoint for deed in level.deeds)])


def exits_of(levels: Iterable[Level]) -> Iterator[tuple[Level, Exit]]:
    """Every exit of some levels with its level."""
    for level in levels:
        for exit_ in level.exits:
            yield level, exit_


Setting = Union["Inspection", LocalInspection]
"""Whatever has a flow whose settings can be asked."""


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
    level_results: LevelResults = field(default_factory=LevelResults)
    """What is known of levels one by one."""
    cancelled: Callable[[], bool] = lambda: False
    """Whether nobody wants the findings any more; for checks that take long."""
    level_files: Comparison = field(default_factory=Comparison)
    """What level files hold, as their readers read them."""
    found: tuple[Finding, ...] = ()
    """For the check of waivers, which runs last: what the others have found."""
    _plans: PlanColumns | None = None
    _odd_exits: tuple[tuple[Level, ...], list[tuple[Level, Exit]]] | None = None

    @property
    def flow(self) -> Flow:
        """The flow with its patterns filled in."""
        return self.survey.flow

    @cached_property
    def disk(self) -> Disk | None:
        """What lies below the folder; None where there is none."""
        return Disk(self.folder) if self.folder else None

    @cached_property
    def wording(self) -> Wording:
        """Says conditions and effects with names."""
        return Wording(self.flow)

    @cached_property
    def completed(self) -> Survey | None:
        """The survey of the flow as it would be were its planned levels made; None where that is the same, or where the
        flow is judged as delivered."""
        return None if self.final else completed_survey(self.survey, self.cancelled)

    @cached_property
    def restarts(self) -> Restarts:
        """The restarts that take something back."""
        return Restarts(self.survey)

    def local(self, levels: tuple[Level, ...]) -> LocalInspection:
        """For checks that look at levels one after the other."""
        return LocalInspection(self.flow, levels, self._plans_of(levels))

    def nearby(self, levels: tuple[Level, ...]) -> NearbyInspection:
        """For checks that look at levels and those beside them."""
        plans, rules = self._plans_of(levels), self.survey.rules
        return NearbyInspection(self.flow, levels, plans, self.written, rules, self.level_results)

    def _plans_of(self, levels: tuple[Level, ...]) -> PlanColumns:
        """Those of some levels; most checks are asked about the same ones as the one before."""
        if self._plans is None or self._plans.levels != levels:
            self._plans = PlanColumns(levels, self.flow.walker, self.flow.units.y == "down")
        return self._plans

    def odd_exits(self, levels: tuple[Level, ...]) -> list[tuple[Level, Exit]]:
        """The exits of some levels that do anything but lead to a spawn point of another one that ships, as nearly all
        do, of which several checks need not think then."""
        if self._odd_exits is None or self._odd_exits[0] != levels:
            odd = [(level, exit_) for level, exit_ in exits_of(levels) if not _leads_plainly(self.flow, level, exit_)]
            self._odd_exits = levels, odd
        return self._odd_exits[1]

    def exits(self) -> Iterator[tuple[Level, Exit]]:
        """Every exit with its level."""
        return exits_of(self.flow.levels)

    @cached_property
    def by_transition(self) -> dict[str, list[tuple[Level, Exit]]]:
        """The exits that use each transition."""
        found: dict[str, list[tuple[Level, Exit]]] = {}
        for level, exit_ in self.exits():
            found.setdefault(exit_.transition, []).append((level, exit_))
        return found

    def would_open(self, level_id: str, target_id: str) -> bool:
        """Whether an exit of one level that leads to another, and asks for nothing itself, could ever be used."""
        level, target = self.flow.level(level_id), self.flow.level(target_id)
        if level is None or target is None or not target.ships:
            return False
        return self._rests_in(level) and not self.survey.never_holds_at(level_id, target.opens)

    def would_work(self, level_id: str, exit_: Exit) -> bool:
        """Whether an exit that is broken would be used by the player, not fire on arrival, and not come into another's
        way, were it mended."""
        trigger, survey = exit_.trigger, self.survey
        by_player = trigger.kind not in ("touch", "press") or PLAYER in trigger.by
        ready = next(one for one in survey.rules.levels[level_id].exits if one.source.id == exit_.id)
        asked = [text for text in (trigger.when, exit_.opens) if text != "always"]
        shut = any(survey.never_holds_at(level_id, text) for text in asked)
        level = self.flow.level(level_id)
        if level is None or not self._rests_in(level) or _overlapping(level, exit_):
            return False
        return by_player and trigger.kind != "auto" and not ready.armed_at and not shut and self._loads(exit_)

    def _loads(self, exit_: Exit) -> bool:
        """Whether the exit's transition, if it has one, puts another level in place."""
        used = next((one for one in self.flow.transitions if one.id == exit_.transition), None)
        return used is None or any(step.do == "load" for step in used.steps)

    def _rests_in(self, level: Level) -> bool:
        """Whether the player is ever left to act in a level, as far as is known."""
        graph = self.survey.graph
        if self.survey.settled:
            return not self._forced[graph.in_level(level.id)].all()
        ready = self.survey.rules.levels[level.id].exits
        return not any(exit_.armed_at or exit_.source.trigger.kind == "auto" for exit_ in ready)

    @cached_property
    def _forced(self) -> NDArray[np.bool_]:
        """For each explored state whether an exit is sprung in it."""
        graph = self.survey.graph
        found = np.zeros(len(graph), dtype=np.bool_)
        found[graph.source[graph.forced]] = True
        return found

    def free_spawn(self, level: Level) -> Spawn | None:
        """The first spawn point of a level that no armed exit covers."""
        ready = self.survey.rules.levels[level.id].exits
        covered = frozenset().union(*(exit_.armed_at for exit_ in ready))
        return next((spawn for spawn in level.spawns if spawn.id not in covered), None)

    def title(self, place: str) -> str:
        """A short place in words."""
        return title_of(self.flow, place)


def _leads_plainly(flow: Flow, level: Level, exit_: Exit) -> bool:
    to = exit_.to
    if to is None or to.kind != "level" or to.level == level.id or to.otherwise is not None:
        return False
    target = flow.level(to.level)
    return target is not None and target.ships and target.spawn(to.spawn) is not None


def _overlapping(level: Level, exit_: Exit) -> bool:
    """Whether an exit shares room with another that is touched or pressed."""
    kinds = ("touch", "press")
    if exit_.trigger.kind not in kinds:
        return False
    others = (other for other in level.exits if other.id != exit_.id and other.trigger.kind in kinds)
    return any(overlap(exit_.area, other.area) for other in others)
