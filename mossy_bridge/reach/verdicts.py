"""What a survey says: answers with routes, and everything they were worked out from."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, Literal

import numpy as np

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move, State, Thing
from mossy_bridge.play.walking import Replay
from mossy_bridge.reach.enough import Outlook
from mossy_bridge.reach.graph import Graph
from mossy_bridge.reach.machine import Machine
from mossy_bridge.reach.missing import Missing
from mossy_bridge.reach.probing import Probe
from mossy_bridge.reach.promises import Kept
from mossy_bridge.reach.proofs import Proofs
from mossy_bridge.reach.routes import Route, SomeRoute, as_sure
from mossy_bridge.reach.sinking import Sinking

Answer = Literal["yes", "no", "unknown"]
Place = tuple[str, ...]
"""A level as ``(level,)``; an exit, deed or tile as ``(level, thing)``; a path as ``(level, from, to)``."""


KINDS = ("level", "exit", "deed", "tile", "path", "ending")
"""What can be come to."""


@dataclass(frozen=True, eq=False)
class Verdict:
    """An answer, with a route exactly where it is yes. The route is traced when it is first asked for: those of a
    large flow are long and many."""

    answer: Answer
    trace: Callable[[], Route] = tuple

    @cached_property
    def route(self) -> Route:
        """The moves that show it."""
        return self.trace()


@dataclass
class Survey:
    """What is known of a flow. ``flow`` has its patterns filled in."""

    flow: Flow
    rules: Rules
    machine: Machine
    graph: Graph
    seconds: float = 0.0
    levels: dict[str, Verdict] = field(default_factory=dict)
    crossed: dict[str, int] = field(default_factory=dict)
    """How many crossings it takes to come to each level, as far as was looked; at most, where that was not
    everywhere."""
    exits: dict[Place, Verdict] = field(default_factory=dict)
    deeds: dict[Place, Verdict] = field(default_factory=dict)
    paths: dict[Place, Verdict] = field(default_factory=dict)
    tiles: dict[Place, Verdict] = field(default_factory=dict)
    endings: dict[str, Verdict] = field(default_factory=dict)
    missed: dict[Thing, Answer] = field(default_factory=dict)
    stuck: Verdict = Verdict("no")
    loops: Verdict = Verdict("no")
    promises: dict[str, Kept] = field(default_factory=dict)
    walks: dict[str, Replay] = field(default_factory=dict)
    proofs: Proofs | None = None
    """Where the states were too many to look at each."""
    losses: "dict[Thing, Probe | Survey]" = field(default_factory=dict)
    """For what was found to be missed by a probe or by an earlier look, that."""

    @property
    def decided(self) -> bool:
        """Whether nothing is unknown of what can be come to, of being stuck, of loops and of missing."""
        groups = (self.levels, self.exits, self.deeds, self.paths, self.tiles, self.endings)
        verdicts = [verdict for group in groups for verdict in group.values()] + [self.stuck, self.loops]
        return all(verdict.answer != "unknown" for verdict in verdicts) and "unknown" not in self.missed.values()

    def never_holds_at(self, level: str, condition: str) -> bool:
        """Whether it is certain that a condition written in the flow holds in no state of a level."""
        if self.settled:
            return not self.graph.holds(condition, self.graph.in_level(level)).any()
        return self.proofs is not None and self.proofs.complete and not self.proofs.holds_somewhere(level, condition)

    def always_holds_at(self, level: str, condition: str) -> bool:
        """Whether it is certain that a condition written in the flow holds in every state of a level."""
        if self.settled:
            return bool(self.graph.holds(condition, self.graph.in_level(level)).all())
        return self.proofs is not None and self.proofs.complete and self.proofs.holds_everywhere(level, condition)

    def samples(self, level: str) -> Iterator[State]:
        """For each way of being in a level that is come to, apart from facts and history, a state that stands for
        it."""
        if self.settled or self.proofs is None or not self.proofs.complete:
            controls = np.unique(self.graph.control[self.graph.in_level(level)]).tolist()
        else:
            controls = self.proofs.controls(level)
        return map(self.machine.sample, controls)

    @cached_property
    def crossings(self) -> dict[str, int]:
        """The fewest crossings to each level that is come to, as far as they are known. Counted when first asked for:
        in a large flow that takes longer than the survey."""
        if self.settled:
            return self.crossed
        reached = [level for level, verdict in self.levels.items() if verdict.answer == "yes"]
        nearest = self.proofs.nearest if self.proofs else None
        fewest = nearest.crossings(reached) if nearest else {}
        for level in reached:
            if level not in fewest:
                fewest[level] = self._crossings_at_most(level)
        return fewest

    def _crossings_at_most(self, level: str) -> int:
        if level in self.crossed:
            return self.crossed[level]
        if self.proofs and self.proofs.controls(level):
            return self.proofs.crossings(level)
        return sum(move.kind in ("exit", "tile") for move in self.levels[level].route)

    @property
    def settled(self) -> bool:
        """Whether every state was looked at."""
        return self.graph.complete

    def of(self, rules: Rules) -> "Survey":
        """The same answers, for a flow that plays alike."""
        survey = replace(self, flow=rules.flow, rules=rules)
        kept = ("sinking", "missing", "crossings")
        survey.__dict__.update({name: self.__dict__[name] for name in kept if name in self.__dict__})
        return survey

    def look_at(self, graph: Graph) -> None:
        """Takes a graph of more states, and forgets what was worked out about the one before."""
        self.graph = graph
        for name in ("sinking", "missing", "crossings"):
            self.__dict__.pop(name, None)

    @cached_property
    def sinking(self) -> Sinking:
        """From which states an ending can be got to."""
        return Sinking(self.rules, self.graph, self.outlook)

    @cached_property
    def missing(self) -> Missing:
        """What is still possible and what may be open, state by state."""
        return Missing(self.flow, self.graph, self.outlook)

    @property
    def outlook(self) -> Outlook | None:
        """What follows after the states that were not gone on from, if it is known."""
        few = len(self.graph) - self.graph.looked_at <= self.machine.limits.unexpanded_states
        return self.proofs.outlook if self.proofs and few else None

    def group(self, kind: str) -> dict[Any, Verdict]:
        """The verdicts of one of ``KINDS``."""
        found: dict[Any, Verdict] = getattr(self, f"{kind}s")
        return found

    def comes_to(self, thing: Thing) -> Answer:
        """Whether a level or deed can be come to."""
        return (self.levels[thing] if isinstance(thing, str) else self.deeds[thing]).answer

    def route_to_loss(self, thing: Thing) -> tuple[Move, ...]:
        """A route into a state in which the level or deed is missed; a shortest one where every state was looked at."""
        if thing in self.losses:
            return SomeRoute(self.losses[thing].route_to_loss(thing))
        return as_sure(
            self.missing.route_leaving_open(thing, self.missing.lost(thing) & self.sinking.sound), self.settled
        )
