"""The survey's verdicts: for every part of a flow whether a route gets there, with the route.

The narrow way into this package: :func:`surveyed`, and :func:`route_to` for one target.
"""

import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move
from mossy_bridge.play.walking import Replay, replay
from mossy_bridge.reach.circles import route_into_circle
from mossy_bridge.reach.crossings import crossings
from mossy_bridge.reach.graph import ENDING, Graph, Stopper, deadline, explored
from mossy_bridge.reach.missing import Missing, Thing
from mossy_bridge.reach.promises import Kept, kept
from mossy_bridge.reach.sinking import Sinking
from mossy_bridge.reach.tracking import Tracking

Answer = Literal["yes", "no", "unknown"]
Place = tuple[str, ...]
"""A level as ``(level,)``; an exit, deed or tile as ``(level, thing)``; a path as ``(level, from, to)``."""


@dataclass(frozen=True, slots=True)
class Verdict:
    """An answer, with a shortest route exactly where it is yes."""

    answer: Answer
    route: tuple[Move, ...] = ()


@dataclass
class Survey:
    """What is known of a flow. ``flow`` has its patterns filled in."""

    flow: Flow
    rules: Rules
    tracking: Tracking
    graph: Graph
    stop: Stopper
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

    @property
    def settled(self) -> bool:
        """Whether every state was looked at."""
        return self.graph.complete

    @cached_property
    def sinking(self) -> Sinking:
        """From which states an ending can be got to."""
        return Sinking(self.rules, self.graph)

    @cached_property
    def missing(self) -> Missing:
        """What is still possible and what may be open, state by state."""
        return Missing(self.flow, self.graph)

    def sound(self) -> list[int]:
        """The judged states that are known not to be stuck, in which a level or deed can be missed."""
        return [n for n in self.sinking.judged if self.sinking.surely_not_stuck(n)]

    def route_to_loss(self, thing: Thing) -> list[Move]:
        """A shortest route into a state in which the level or deed is missed."""
        goals = {n for n in self.sound() if self.missing.lost(thing, n)}
        return self.missing.route_leaving_open(thing, goals)


SEARCHING = 0.6
"""The part of the budget spent on finding states; the rest goes into working out what follows from them."""


class Cancelled(Exception):  # noqa: N818 - no error, but somebody's wish
    """The survey was given up."""


def surveyed(flow: Flow, budget: float = 10.0, cancelled: Callable[[], bool] = lambda: False) -> Survey:
    """Every verdict about the flow, within about ``budget`` seconds; what is not settled by then is unknown.
    Raises :class:`Cancelled` soon after ``cancelled`` says so."""
    began = time.monotonic()
    out_of_time = deadline(budget * SEARCHING)
    survey = _explored(flow, lambda: out_of_time() or cancelled())
    if cancelled():
        raise Cancelled
    _first_come_to(survey)
    survey.crossings = crossings(survey.graph)
    survey.stuck = _stuck(survey)
    survey.loops = _loops(survey)
    if cancelled():
        raise Cancelled
    survey.missed = _missed(survey)
    survey.promises = {p.id: kept(p, survey.rules, survey.graph) for p in survey.flow.promises}
    if flow.walks:
        resuming = Rules(flow, resuming=True)
        survey.walks = {walk.id: replay(resuming, walk) for walk in survey.flow.walks}
    survey.seconds = time.monotonic() - began
    return survey


def _explored(flow: Flow, stop: Stopper, also_asked: Iterable[str] = ()) -> Survey:
    rules = Rules(flow)
    tracking = Tracking(rules, also_asked)
    start = rules.begin()
    graph = explored(rules, [start] if start else [], tracking.blanked, stop)
    return Survey(rules.flow, rules, tracking, graph, stop)


def _first_come_to(survey: Survey) -> None:
    flow, graph = survey.flow, survey.graph
    entered: dict[str, int] = {}
    for number, state in enumerate(graph.states):
        entered.setdefault(state.place, number)
    moved: dict[Move, int] = {}
    ended: dict[str, tuple[int, Move]] = {}
    for number, edge in graph.numbered_edges():
        moved.setdefault(edge.move, number)
        if edge.target == ENDING:
            ended.setdefault(edge.ending, (number, edge.move))

    def by_move(*moves: Move) -> Verdict:
        found = min(((moved[m], m) for m in moves if m in moved), default=None)
        return _yes(graph, *found) if found else _otherwise(graph)

    for level in flow.levels:
        at = entered.get(level.id)
        reached = at is not None
        survey.levels[level.id] = _yes(graph, at) if reached else _otherwise(graph)
        for exit_ in level.exits:
            survey.exits[level.id, exit_.id] = by_move(Move("exit", level.id, exit_.id))
        for deed in level.deeds:
            survey.deeds[level.id, deed.id] = by_move(Move("deed", level.id, deed.id))
        for tile in level.tiles:
            survey.tiles[level.id, tile.id] = by_move(Move("tile", level.id, tile.id))
    _paths(survey)
    for ending in flow.endings:
        here = ended.get(ending.id)
        survey.endings[ending.id] = _yes(graph, *here) if here else _otherwise(graph)


def _paths(survey: Survey) -> None:
    """Two paths may join the same zones, so a move says too little: each path's own condition is asked."""
    graph, rules = survey.graph, survey.rules
    for level in survey.flow.levels:
        for path in level.paths:
            survey.paths[level.id, path.start, path.end] = _otherwise(graph)
    open_levels = {level.id for level in survey.flow.levels if level.paths}
    zones = {level.id: {zone.id for zone in level.zones} for level in survey.flow.levels}
    for number in range(len(graph.edges)):
        state = graph.states[number]
        if state.place not in open_levels or graph.forced[number]:
            continue
        for path in rules.levels[state.place].source.paths:
            key = (state.place, path.start, path.end)
            if survey.paths[key].answer == "yes" or not {path.start, path.end} <= zones[state.place]:
                continue
            end = path.end if state.zone == path.start else path.start
            from_here = state.zone == path.start or (path.both_ways and state.zone == path.end)
            if from_here and rules.words.test(path.when)(state):
                survey.paths[key] = _yes(graph, number, Move("path", state.place, state.zone, end))


def _yes(graph: Graph, number: int | None, *last: Move) -> Verdict:
    return Verdict("yes", (*graph.route(number or 0), *last))


def _otherwise(graph: Graph) -> Verdict:
    return Verdict("no" if graph.complete else "unknown")


def _stuck(survey: Survey) -> Verdict:
    first = survey.sinking.first_stuck
    return _yes(survey.graph, first) if first is not None else _otherwise(survey.graph)


def _loops(survey: Survey) -> Verdict:
    route = route_into_circle(survey.rules, survey.graph, survey.stop)
    return Verdict("yes", tuple(route)) if route is not None else _otherwise(survey.graph)


def _missed(survey: Survey) -> dict[Thing, Answer]:
    missing = survey.missing
    lost = set(missing.missed_anywhere(survey.sound()))
    found: dict[Thing, Answer] = {}
    for thing in missing.things:
        verdict = survey.levels[thing] if isinstance(thing, str) else survey.deeds[thing]
        if thing in lost and verdict.answer == "yes":
            found[thing] = "yes"
        else:
            found[thing] = "no" if survey.settled else "unknown"
    return found


def route_to(flow: Flow, target: str, avoid: frozenset[str], when: str, budget: float) -> Verdict:
    """A shortest route to a level, an ending, or an exit or deed (``level.thing``), with the condition
    holding there and without an arrival at the levels to avoid."""
    survey = _explored(flow, deadline(budget), [when])
    holds = survey.rules.words.test(when)
    start = survey.rules.begin()
    graph = survey.graph
    if avoid and start:
        graph = _avoiding(survey, avoid)
    level, _, thing = target.partition(".")

    def fits(move: Move, ending: str) -> bool:
        return (move.level, move.thing) == (level, thing) if thing else ending == target

    if survey.flow.level(target):
        for number, state in enumerate(graph.states):
            if state.place == target and holds(state):
                return _yes(graph, number)
    for number, edge in graph.numbered_edges():
        if fits(edge.move, edge.ending) and holds(graph.states[number]):
            return _yes(graph, number, edge.move)
    return _otherwise(graph)


def _avoiding(survey: Survey, avoid: frozenset[str]) -> Graph:
    """The part of the graph that is come to without entering any of the levels."""
    whole = survey.graph
    part = Graph(complete=whole.complete)
    numbers: dict[int, int] = {}

    def take(number: int, came: tuple[int, Move] | None) -> None:
        if number not in numbers and whole.states[number].place not in avoid:
            numbers[number] = len(part.states)
            part.states.append(whole.states[number])
            part.came.append(came)

    take(0, None)
    originals = list(numbers)
    for here, number in enumerate(originals):
        if number >= len(whole.edges):
            break
        part.edges.append(whole.edges[number])
        part.forced.append(whole.forced[number])
        for edge in whole.edges[number]:
            if edge.target != ENDING and edge.target not in numbers:
                take(edge.target, (here, edge.move))
                if edge.target in numbers:
                    originals.append(edge.target)
    return part
