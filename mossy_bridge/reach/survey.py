"""The survey's verdicts: for every part of a flow whether a route gets there, with the route.

The narrow way into this package: :func:`surveyed`, and :func:`route_to` for one target.
"""

import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import cached_property, partial
from typing import Any, Literal

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move, MoveKind
from mossy_bridge.play.walking import Replay, replay
from mossy_bridge.reach.circles import route_into_circle
from mossy_bridge.reach.crossings import crossings
from mossy_bridge.reach.graph import ENDING, Exploration, Graph, Stopper, deadline
from mossy_bridge.reach.missing import Missing, Thing
from mossy_bridge.reach.promises import Kept, kept
from mossy_bridge.reach.proofs import Proofs, Route
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
            holds = self.rules.words.test(condition)
            return not any(state.place == level and holds(state) for state in self.graph.states)
        return self.proofs is not None and self.proofs.complete and not self.proofs.holds_somewhere(level, condition)

    @property
    def settled(self) -> bool:
        """Whether every state was looked at."""
        return self.graph.complete

    def look_anew(self) -> None:
        """Forgets what was worked out about the states looked at so far."""
        for name in ("sinking", "missing"):
            self.__dict__.pop(name, None)

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


AT_FIRST, SEARCHING, PROVING, CONTENT = 0.1, 0.42, 0.35, 0.6
"""Parts of the budget: for looking at every state at first, where quick answers are wanted and where not; for the
proofs that do without; and until when states are looked at where those leave something open. The rest is for what
follows from the states, which takes about half as long as finding them."""


class Cancelled(Exception):  # noqa: N818 - no error, but somebody's wish
    """The survey was given up."""


def surveyed(
    flow: Flow, budget: float = 10.0, cancelled: Callable[[], bool] = lambda: False, quick: bool = False
) -> Survey:
    """Every verdict about the flow, within about ``budget`` seconds; what is not settled by then is unknown.

    Routes are shortest where every state was looked at (``settled``). With ``quick`` the survey is content with
    proofs, and with routes that may be longer, as soon as they leave nothing unknown.
    Raises :class:`Cancelled` soon after ``cancelled`` says so."""
    began = time.monotonic()

    def until(portion: float) -> Stopper:
        out_of_time = deadline(began + budget * portion - time.monotonic())
        return lambda: out_of_time() or cancelled()

    exploration, survey = _begun(flow)
    at_first = AT_FIRST if quick else SEARCHING
    survey.graph = exploration.go_on(until(at_first))
    _conclude(survey, until(CONTENT), cancelled)
    if not survey.settled:
        proving = time.monotonic() - began + PROVING * budget
        survey.proofs = Proofs(survey.rules, survey.tracking, until(proving / budget if budget else 0))
        _raise_if(cancelled)
        _prove(survey, survey.proofs)
        if quick and not survey.decided:
            survey.look_anew()
            survey.graph = exploration.go_on(until(CONTENT))
            _conclude(survey, until(CONTENT), cancelled)
            _prove(survey, survey.proofs)
    if flow.walks:
        resuming = Rules(flow, resuming=True)
        survey.walks = {walk.id: replay(resuming, walk) for walk in survey.flow.walks}
    survey.seconds = time.monotonic() - began
    return survey


def _begun(flow: Flow, also_asked: Iterable[str] = ()) -> tuple[Exploration, Survey]:
    rules = Rules(flow)
    tracking = Tracking(rules, also_asked)
    start = rules.begin()
    exploration = Exploration(rules, [start] if start else [], tracking.blanked)
    return exploration, Survey(rules.flow, rules, tracking, exploration.graph)


def _raise_if(cancelled: Callable[[], bool]) -> None:
    if cancelled():
        raise Cancelled


def _conclude(survey: Survey, stop: Stopper, cancelled: Callable[[], bool]) -> None:
    """Everything that follows from the states looked at."""
    _raise_if(cancelled)
    _first_come_to(survey)
    survey.crossings = crossings(survey.graph)
    survey.stuck = _stuck(survey)
    survey.loops = _loops(survey, stop)
    _raise_if(cancelled)
    survey.missed = _missed(survey)
    survey.promises = {p.id: kept(p, survey.rules, survey.graph) for p in survey.flow.promises}


def _prove(survey: Survey, proofs: Proofs) -> None:
    """Answers what the states looked at have left open."""
    _prove_come_to(survey, proofs)
    if survey.stuck.answer == "unknown" and proofs.nobody_stuck:
        survey.stuck = Verdict("no")
    if survey.loops.answer == "unknown" and proofs.nothing_loops:
        survey.loops = Verdict("no")
    for thing, answer in survey.missed.items():
        verdict = survey.levels[thing] if isinstance(thing, str) else survey.deeds[thing]
        if answer == "unknown" and (thing in proofs.never_missed or verdict.answer == "no"):
            survey.missed[thing] = "no"
    for promise in survey.flow.promises:
        found = proofs.promised(promise) if survey.promises[promise.id].holds == "unknown" else False
        if isinstance(found, tuple):
            survey.promises[promise.id] = Kept("yes" if promise.kind == "can" else "no", found)
        elif found is None and proofs.complete:
            survey.promises[promise.id] = Kept("no" if promise.kind == "can" else "yes")


def _prove_come_to(survey: Survey, proofs: Proofs) -> None:
    def prove(group: dict[Any, Verdict], key: Any, find: Callable[[], Route | None]) -> None:
        if group[key].answer == "unknown":
            route = find()
            if route is not None:
                group[key] = Verdict("yes", route)
            elif proofs.complete:
                group[key] = Verdict("no")

    for level in survey.flow.levels:
        prove(survey.levels, level.id, partial(proofs.to_level, level.id))
        route = survey.levels[level.id].route
        if survey.levels[level.id].answer == "yes":
            # At most so many: the route need not be the one with the fewest.
            survey.crossings.setdefault(level.id, sum(move.kind in ("exit", "tile") for move in route))
        kinds: tuple[tuple[MoveKind, tuple[Any, ...], dict[Place, Verdict]], ...] = (
            ("exit", level.exits, survey.exits),
            ("deed", level.deeds, survey.deeds),
            ("tile", level.tiles, survey.tiles),
        )
        for kind, things, group in kinds:
            for thing in things:
                prove(group, (level.id, thing.id), partial(proofs.by_move, Move(kind, level.id, thing.id)))
        for path in level.paths:
            key = (level.id, path.start, path.end)
            prove(survey.paths, key, partial(proofs.by_path, level.id, path))
    for ending in survey.flow.endings:
        prove(survey.endings, ending.id, partial(proofs.to_ending, ending.id))


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


def _loops(survey: Survey, stop: Stopper) -> Verdict:
    route = route_into_circle(survey.rules, survey.graph, stop)
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
    exploration, survey = _begun(flow, [when])
    exploration.go_on(deadline(budget))
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
