"""The survey's verdicts: for every part of a flow whether a route gets there, with the route.

The narrow way into this package: :func:`surveyed`, and :func:`route_to` for one target.
"""

import gc
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field, replace
from functools import cached_property, partial
from typing import Any, Literal

import numpy as np

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move
from mossy_bridge.play.walking import Replay, replay
from mossy_bridge.reach.circles import route_into_circle
from mossy_bridge.reach.crossings import crossings
from mossy_bridge.reach.enough import Outlook, Thing
from mossy_bridge.reach.essence import plays_alike
from mossy_bridge.reach.exploring import ONE_BY_ONE, explored
from mossy_bridge.reach.frontier import swept
from mossy_bridge.reach.graph import Graph
from mossy_bridge.reach.machine import Machine, Row, Stopper, first_uses
from mossy_bridge.reach.missing import Missing
from mossy_bridge.reach.promises import Kept, kept
from mossy_bridge.reach.proofs import Proofs
from mossy_bridge.reach.search import searched
from mossy_bridge.reach.sinking import Sinking

Answer = Literal["yes", "no", "unknown"]
Route = tuple[Move, ...]
Place = tuple[str, ...]
"""A level as ``(level,)``; an exit, deed or tile as ``(level, thing)``; a path as ``(level, from, to)``."""


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
    crossings: dict[str, int] = field(default_factory=dict)
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

    @property
    def settled(self) -> bool:
        """Whether every state was looked at."""
        return self.graph.complete

    def of(self, rules: Rules) -> "Survey":
        """The same answers, for a flow that plays alike."""
        survey = replace(self, flow=rules.flow, rules=rules)
        survey.__dict__.update({name: self.__dict__[name] for name in ("sinking", "missing") if name in self.__dict__})
        return survey

    def look_at(self, graph: Graph) -> None:
        """Takes a graph of more states, and forgets what was worked out about the one before."""
        self.graph = graph
        for name in ("sinking", "missing"):
            self.__dict__.pop(name, None)

    @cached_property
    def sinking(self) -> Sinking:
        """From which states an ending can be got to."""
        return Sinking(self.rules, self.graph, self._outlook)

    @cached_property
    def missing(self) -> Missing:
        """What is still possible and what may be open, state by state."""
        return Missing(self.flow, self.graph, self._outlook)

    @property
    def _outlook(self) -> Outlook | None:
        few = len(self.graph) - self.graph.looked_at <= MOST_AHEAD
        return self.proofs.outlook if self.proofs and few else None

    def route_to_loss(self, thing: Thing) -> tuple[Move, ...]:
        """A shortest route into a state in which the level or deed is missed."""
        return self.missing.route_leaving_open(thing, self.missing.lost(thing) & self.sinking.sound)


AT_FIRST, SEARCHING, PROVING, CONTENT = 0.1, 0.42, 0.35, 0.6
"""Parts of the budget: for looking at every state at first, where quick answers are wanted and where not; for the
proofs that do without; and until when states are looked at where those leave something open. The rest is for what
follows from the states, which takes about half as long as finding them."""


MOST_AHEAD = 20_000
"""What follows after more states than this that were not gone on from is not worked out one by one."""
KINDS = ("level", "exit", "deed", "tile", "path", "ending")
"""What can be come to."""


class Cancelled(Exception):  # noqa: N818 - no error, but somebody's wish
    """The survey was given up."""


def surveyed(
    flow: Flow,
    budget: float = 10.0,
    cancelled: Callable[[], bool] = lambda: False,
    quick: bool = False,
    before: Survey | None = None,
) -> Survey:
    """Every verdict about the flow, within about ``budget`` seconds; what is not settled by then is unknown.

    Routes are shortest where every state was looked at (``settled``). With ``quick`` the survey is content with
    proofs, and with routes that may be longer, as soon as they leave nothing unknown. Of an earlier survey
    (``before``) is used again what no edit since can have changed.
    Raises :class:`Cancelled` soon after ``cancelled`` says so."""
    with _not_collecting():
        began = time.monotonic()
        rules = Rules(flow, before=before.rules if before else None)
        survey = before.of(rules) if before and plays_alike(rules, before.rules) else None
        survey = survey or _surveyed(rules, began, budget, cancelled, quick)
        if flow.walks:
            resuming = Rules(flow, resuming=True, before=rules)
            survey.walks = {walk.id: replay(resuming, walk) for walk in survey.flow.walks}
        survey.seconds = time.monotonic() - began
        return survey


@contextmanager
def _not_collecting() -> Iterator[None]:
    """Without looking for garbage: among so many values that takes a quarter of the time, and stops a window."""
    were = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if were:
            gc.enable()


def _surveyed(rules: Rules, began: float, budget: float, cancelled: Callable[[], bool], quick: bool) -> Survey:
    def until(portion: float) -> Stopper:
        end = began + budget * portion
        return lambda: time.monotonic() >= end or cancelled()

    machine = Machine(rules)
    starts = [machine.start] if machine.start else []
    survey = Survey(machine.rules.flow, machine.rules, machine, searched(machine, starts, until(AT_FIRST), ONE_BY_ONE))
    if not quick and not survey.settled:
        survey.look_at(swept(machine, starts, until(SEARCHING)))
    _conclude(survey, until(CONTENT), cancelled)
    if not survey.settled:
        proving = time.monotonic() - began + PROVING * budget
        survey.proofs = Proofs(machine, until(proving / budget if budget else 0))
        _raise_if(cancelled)
        _prove(survey, survey.proofs)
        if quick and not survey.decided:
            known = replace(survey)
            survey.look_at(swept(machine, starts, until(CONTENT)))
            _conclude(survey, until(CONTENT), cancelled)
            _keep(survey, known)
    return survey


def _raise_if(cancelled: Callable[[], bool]) -> None:
    if cancelled():
        raise Cancelled


# -- what follows from states ------------------------------------------------------------------------------


def _conclude(survey: Survey, stop: Stopper, cancelled: Callable[[], bool]) -> None:
    """Everything that follows from the states looked at."""
    _raise_if(cancelled)
    graph = survey.graph
    _everything(survey, _otherwise(graph))
    for level, number in graph.first_in_levels().items():
        survey.levels[level] = Verdict("yes", partial(graph.route, number))
    for (kind, place), (number, row) in first_uses(graph.rows, graph.first_by_row).items():
        _group(survey, kind)[place] = Verdict("yes", partial(graph.route, number, row.move))
    survey.crossings = crossings(graph)
    stuck = survey.sinking.first_stuck
    survey.stuck = _otherwise(graph) if stuck is None else Verdict("yes", partial(graph.route, stuck))
    circle = route_into_circle(survey.rules, graph, stop)
    survey.loops = _otherwise(graph) if circle is None else Verdict("yes", lambda: circle)
    _raise_if(cancelled)
    survey.missed = _missed(survey)
    survey.promises = {p.id: kept(p, graph) for p in survey.flow.promises}


def _otherwise(graph: Graph) -> Verdict:
    return Verdict("no" if graph.complete else "unknown")


def _everything(survey: Survey, verdict: Verdict) -> None:
    """Says the same of everything that can be come to."""
    flow = survey.flow
    survey.levels = {level.id: verdict for level in flow.levels}
    survey.exits = {(level.id, exit_.id): verdict for level in flow.levels for exit_ in level.exits}
    survey.deeds = {(level.id, deed.id): verdict for level in flow.levels for deed in level.deeds}
    survey.tiles = {(level.id, tile.id): verdict for level in flow.levels for tile in level.tiles}
    survey.paths = {(level.id, path.start, path.end): verdict for level in flow.levels for path in level.paths}
    survey.endings = {ending.id: verdict for ending in flow.endings}


def _group(survey: Survey, kind: str) -> dict[Any, Verdict]:
    groups = (survey.levels, survey.exits, survey.deeds, survey.tiles, survey.paths, survey.endings)
    found: dict[str, dict[Any, Verdict]] = dict(zip(KINDS, groups, strict=True))
    return found[kind]


def _missed(survey: Survey) -> dict[Thing, Answer]:
    # Where much was not gone on from, hardly anything could be said, at great length.
    settled_or_few = survey.settled or len(survey.graph) - survey.graph.looked_at <= MOST_AHEAD
    lost = survey.missing.missed(survey.sinking.sound) if settled_or_few else set()
    otherwise: Answer = "no" if survey.settled else "unknown"
    found: dict[Thing, Answer] = {}
    for thing in survey.missing.things:
        verdict = survey.levels[thing] if isinstance(thing, str) else survey.deeds[thing]
        found[thing] = "yes" if thing in lost and verdict.answer == "yes" else otherwise
    return found


# -- what follows from proofs ------------------------------------------------------------------------------


def _prove(survey: Survey, proofs: Proofs) -> None:
    """Answers what the states looked at have left open."""
    _prove_come_to(survey, proofs)
    survey.look_at(survey.graph)
    first_stuck = survey.sinking.first_stuck
    if survey.stuck.answer == "unknown":
        if first_stuck is not None:
            survey.stuck = Verdict("yes", partial(survey.graph.route, first_stuck))
        elif proofs.stuck is not None:
            route = proofs.stuck
            survey.stuck = Verdict("yes", lambda: route) if isinstance(route, tuple) else Verdict("no")
    if survey.loops.answer == "unknown" and proofs.nothing_loops:
        survey.loops = Verdict("no")
    if "unknown" in survey.missed.values():
        lost = survey.missing.missed(survey.sinking.sound)
        for thing, answer in survey.missed.items():
            reached = (survey.levels[thing] if isinstance(thing, str) else survey.deeds[thing]).answer
            if answer == "unknown" and thing in lost and reached == "yes":
                survey.missed[thing] = "yes"
            elif answer == "unknown" and (reached == "no" or thing in proofs.never_missed):
                survey.missed[thing] = "no"
    for promise in survey.flow.promises:
        found = proofs.promised(promise) if survey.promises[promise.id].holds == "unknown" else False
        if isinstance(found, tuple):
            survey.promises[promise.id] = Kept("yes" if promise.kind == "can" else "no", found)
        elif found is None and proofs.complete:
            survey.promises[promise.id] = Kept("no" if promise.kind == "can" else "yes")


def _keep(survey: Survey, known: Survey) -> None:
    """Keeps what was known before where looking at more states has left it unknown."""
    for kind in KINDS:
        group, before = _group(survey, kind), _group(known, kind)
        group.update({place: before[place] for place, verdict in group.items() if verdict.answer == "unknown"})
    survey.crossings = {**known.crossings, **survey.crossings}
    survey.stuck = known.stuck if survey.stuck.answer == "unknown" else survey.stuck
    survey.loops = known.loops if survey.loops.answer == "unknown" else survey.loops
    survey.missed.update({t: known.missed[t] for t, answer in survey.missed.items() if answer == "unknown"})
    survey.promises.update({p: known.promises[p] for p, kept_ in survey.promises.items() if kept_.holds == "unknown"})


def _prove_come_to(survey: Survey, proofs: Proofs) -> None:
    for kind, place, number, last in proofs.found():
        group = _group(survey, kind)
        if group[place].answer == "unknown":
            group[place] = Verdict("yes", partial(proofs.route, number, *last))
            if kind == "level":  # at most so many: the route need not be the one with the fewest
                survey.crossings.setdefault(place, proofs.crossings(number))
    if proofs.complete:
        for kind in KINDS:
            group = _group(survey, kind)
            group.update({place: Verdict("no") for place, verdict in group.items() if verdict.answer == "unknown"})


# -- one target --------------------------------------------------------------------------------------------


def route_to(flow: Flow, target: str, avoid: frozenset[str], when: str, budget: float) -> Verdict:
    """A shortest route to a level, an ending, or an exit or deed (``level.thing``), with the condition
    holding there and without an arrival at the levels to avoid."""
    machine = Machine(Rules(flow), [when])
    end = time.monotonic() + budget
    starts = [machine.start] if machine.start else []
    graph = explored(machine, starts, lambda: time.monotonic() >= end)
    if avoid:
        graph = graph.avoiding(avoid)
    if machine.rules.flow.level(target):
        inside = np.flatnonzero(graph.place == graph.places.index(target)) if len(graph) else np.zeros(0, np.int64)
        meeting = inside[graph.holds(when, inside)]
        return Verdict("yes", partial(graph.route, int(meeting[0]))) if len(meeting) else _otherwise(graph)
    level, _, thing = target.partition(".")

    def fits(row: Row) -> bool:
        return (row.move.level, row.move.thing) == (level, thing) if thing else row.ending == target

    fitting = np.array([fits(row) for row in graph.rows] or [False])
    edges = np.flatnonzero(fitting[graph.row])
    edges = edges[graph.holds(when, graph.source[edges].astype(np.int64))]
    if not len(edges):
        return _otherwise(graph)
    last = graph.rows[graph.row[edges[0]]].move
    return Verdict("yes", partial(graph.route, int(graph.source[edges[0]]), last))
