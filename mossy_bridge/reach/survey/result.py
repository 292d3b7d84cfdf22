"""What a survey says: answers with routes, and what they were worked out from.

A survey is a value. Stages return :class:`Answers`; :func:`mossy_bridge.reach.survey.merge.merge` puts them together;
nobody writes into one that somebody else may hold.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, TypeVar

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.replay import Replay
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import State, Thing
from mossy_bridge.reach.arrays import unique
from mossy_bridge.reach.explicit.crossing_distance import crossing_distances
from mossy_bridge.reach.explicit.dead_ends import DeadEnds
from mossy_bridge.reach.explicit.lookahead import Lookahead
from mossy_bridge.reach.explicit.missable import Missable
from mossy_bridge.reach.explicit.promises import PromiseVerdict
from mossy_bridge.reach.explicit.reachability_graph import ReachabilityGraph
from mossy_bridge.reach.monotone.prover import Prover
from mossy_bridge.reach.survey.verdicts import UNKNOWN, Answer, Verdict, Verdicts
from mossy_bridge.reach.system.program_graph import ProgramGraph
from mossy_bridge.reach.system.routes import Loss
from mossy_bridge.reach.system.things import KINDS, Name, Things

Key = TypeVar("Key")
A = TypeVar("A")


@dataclass(frozen=True, eq=False)
class Explored:
    """The states that were explored, and what follows from them; with proofs about the others, if there are."""

    rules: Rules
    graph: ReachabilityGraph
    prover: Prover | None = None

    @property
    def few_unexpanded(self) -> bool:
        """Whether it can be worked out one by one what follows from the states that were not expanded."""
        return len(self.graph) - self.graph.expanded <= self.graph.system.limits.unexpanded_states

    @cached_property
    def lookahead(self) -> Lookahead | None:
        """What follows from the states that were not expanded, if it is known."""
        return self.prover.lookahead if self.prover and self.few_unexpanded else None

    @cached_property
    def dead_ends(self) -> DeadEnds:
        """From which states an ending is reachable."""
        return DeadEnds(self.rules, self.graph, self.lookahead)

    @cached_property
    def crossed(self) -> dict[str, int]:
        """How many crossings it takes to reach each level of the explored states."""
        return crossing_distances(self.graph)

    @cached_property
    def missable(self) -> Missable:
        """What is still reachable and what may be open, state by state."""
        return Missable(self.rules.flow, self.graph, self.lookahead)


@dataclass(frozen=True, eq=False, kw_only=True)
class Answers:
    """What one stage has found, or several together. What is not in a mapping is not known yet."""

    levels: Mapping[str, Verdict] = field(default_factory=dict)
    exits: Mapping[Name, Verdict] = field(default_factory=dict)
    deeds: Mapping[Name, Verdict] = field(default_factory=dict)
    paths: Mapping[Name, Verdict] = field(default_factory=dict)
    tiles: Mapping[Name, Verdict] = field(default_factory=dict)
    endings: Mapping[str, Verdict] = field(default_factory=dict)
    stuck: Verdict = UNKNOWN
    loops: Verdict = UNKNOWN
    missed: Mapping[Thing, Answer] = field(default_factory=dict)
    losses: Mapping[Thing, Loss] = field(default_factory=dict)
    """For whatever can be missed a state in which it is lost."""
    promises: Mapping[str, PromiseVerdict] = field(default_factory=dict)
    crossed: Mapping[str, int] = field(default_factory=dict)
    """How many crossings it takes at most to reach each level, where places were joined."""

    def verdicts(self, kind: str) -> Mapping[Any, Verdict]:
        """The verdicts of one of ``KINDS``."""
        found: Mapping[Any, Verdict] = getattr(self, f"{kind}s")
        return found

    def undecided_losses(self, things: Things) -> list[Thing]:
        """The levels and deeds of which it is not known whether they can be missed."""
        return [thing for thing in things.missable if thing not in self.missed]

    @property
    def unreachable_levels(self) -> frozenset[str]:
        """The levels that are known to be unreachable."""
        return frozenset(name for name, verdict in self.levels.items() if verdict.answer == "no")

    @property
    def some_ending(self) -> bool:
        """Whether some ending is known to be reachable."""
        return any(verdict.answer == "yes" for verdict in self.endings.values())

    @staticmethod
    def about_reaching(found: Mapping[str, Mapping[Any, Verdict]]) -> "Answers":
        """Answers about what is reachable, by kind."""
        return Answers(
            levels=found["level"], exits=found["exit"], deeds=found["deed"], paths=found["path"], tiles=found["tile"],
            endings=found["ending"],
        )  # fmt: skip

    def reaches(self, thing: Thing) -> Answer:
        """Whether a level or deed is reachable."""
        known = self.levels.get(thing) if isinstance(thing, str) else self.deeds.get(thing)
        return known.answer if known else "unknown"


@dataclass(frozen=True, eq=False, kw_only=True)
class Survey(Answers):
    """What is known of a flow. ``flow`` has its patterns filled in. When all stages are done, whatever is not known is
    in the mappings as such, and all is in the order of the flow."""

    flow: Flow
    rules: Rules
    program: ProgramGraph
    explored: Explored
    prover: Prover | None = None
    """Where the states were too many to explore each."""
    walks: Mapping[str, Replay] = field(default_factory=dict)
    seconds: float = 0.0

    @property
    def things(self) -> Things:
        """What the survey tells of."""
        return self.program.things

    @property
    def graph(self) -> ReachabilityGraph:
        """The states that were explored."""
        return self.explored.graph

    @property
    def settled(self) -> bool:
        """Whether every state was explored."""
        return self.graph.complete

    @cached_property
    def decided(self) -> bool:
        """Whether nothing is unknown of what is reachable, of being stuck, of loops and of missing."""
        if "unknown" in (self.stuck.answer, self.loops.answer):
            return False
        names, missable = self.things.numbers, self.things.missable
        return _all_known(self.missed, missable, "unknown") and all(
            _all_known(self.verdicts(kind), names[kind], UNKNOWN) for kind in KINDS
        )

    def completed(self) -> "Survey":
        """With *unknown* where nothing is known, all in the order of the flow."""
        names = self.things.numbers
        return replace(
            self,
            levels=_completed(self.levels, names["level"], UNKNOWN),
            exits=_completed(self.exits, names["exit"], UNKNOWN),
            deeds=_completed(self.deeds, names["deed"], UNKNOWN),
            tiles=_completed(self.tiles, names["tile"], UNKNOWN),
            paths=_completed(self.paths, names["path"], UNKNOWN),
            endings=_completed(self.endings, names["ending"], UNKNOWN),
            missed=_completed(self.missed, self.things.missable, "unknown"),
        )

    @property
    def _complete_prover(self) -> Prover | None:
        return self.prover if self.prover and self.prover.complete else None

    @property
    def used_transitions(self) -> Mapping[int, int]:
        """The transitions of the program graph that are known to be used, each with the number of a state."""
        return self.graph.first_by_transition if self.settled or not self.prover else self.prover.used

    def never_holds_at(self, level: str, condition: str) -> bool:
        """Whether it is certain that a condition written in the flow holds in no state of a level."""
        if self.settled:
            return not self.graph.holds(condition, self.graph.in_level(level)).any()
        prover = self._complete_prover
        return prover is not None and not prover.holds_somewhere(level, condition)

    def always_holds_at(self, level: str, condition: str) -> bool:
        """Whether it is certain that a condition written in the flow holds in every state of a level."""
        if self.settled:
            return bool(self.graph.holds(condition, self.graph.in_level(level)).all())
        prover = self._complete_prover
        return prover is not None and prover.holds_everywhere(level, condition)

    @property
    def tells_locations(self) -> bool:
        """Whether :meth:`samples` knows every location that is reachable."""
        return self.settled or self._complete_prover is not None

    def samples(self, level: str) -> Iterator[State]:
        """For each location in a level that is reachable a state that stands for it, whose facts mean nothing."""
        prover = self._complete_prover
        if self.settled or prover is None:
            locations = unique(self.graph.location[self.graph.in_level(level)]).tolist()
        else:
            locations = prover.locations(level)
        return map(self.program.sample, locations)

    @cached_property
    def crossings(self) -> Mapping[str, int]:
        """The fewest crossings to each level that is reachable, as far as they are known. Counted when first asked for:
        in a large flow that takes longer than the survey."""
        return self._counted(lambda: None)

    @property
    def counted_crossings(self) -> Mapping[str, int] | None:
        """The same where they have been counted already, or need not be."""
        return self.crossings if self.settled or "crossings" in self.__dict__ else None

    def count_crossings(self, check: Callable[[], None]) -> None:
        """Counts them beforehand. ``check`` is called now and then, and ends it by raising."""
        if "crossings" not in self.__dict__:
            self.__dict__["crossings"] = self._counted(check)

    def _counted(self, check: Callable[[], None]) -> Mapping[str, int]:
        if self.settled:
            return self.explored.crossed
        reached = [level for level, verdict in self.levels.items() if verdict.answer == "yes"]
        routes = self.prover.routes if self.prover else None
        fewest = routes.crossings(reached, check) if routes else {}
        return fewest | {level: self._crossings_at_most(level) for level in reached if level not in fewest}

    def _crossings_at_most(self, level: str) -> int:
        for known in (self.explored.crossed, self.crossed):
            if level in known:
                return known[level]
        if self.prover and self.prover.locations(level):
            return self.prover.crossings(level)
        return sum(move.kind in ("exit", "tile") for move in self.levels[level].route)

    def for_flow(self, rules: Rules) -> "Survey":
        """The same answers, for a flow that plays alike."""
        survey = replace(self, flow=rules.flow, rules=rules)
        if "crossings" in self.__dict__:  # already counted
            survey.__dict__["crossings"] = self.crossings
        return survey


def _all_known(found: Mapping[Key, A], asked: Mapping[Key, int], unknown: A) -> bool:
    return len(found) == len(asked) and unknown not in found.values()


def _completed(found: Mapping[Key, A], asked: Mapping[Key, int], unknown: A) -> Mapping[Key, A]:
    if isinstance(found, Verdicts) or list(found) == list(asked):
        return found
    return {name: found.get(name, unknown) for name in asked}
