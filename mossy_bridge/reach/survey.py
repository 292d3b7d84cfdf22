"""The survey: for every part of a flow whether a route gets there, with the route.

The narrow way into this package: :func:`surveyed`, and :func:`route_to` for one target.
"""

import gc
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field, replace

import numpy as np

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.walking import replay
from mossy_bridge.reach.concluding import conclude, conclude_losses, conclude_ways
from mossy_bridge.reach.essence import plays_alike
from mossy_bridge.reach.exploring import at_once, explored, glanced
from mossy_bridge.reach.frontier import swept
from mossy_bridge.reach.graph import Graph
from mossy_bridge.reach.joining import Joined
from mossy_bridge.reach.limits import LIMITS, Limits
from mossy_bridge.reach.machine import Machine, Row, Stopper
from mossy_bridge.reach.nearest import Nearest
from mossy_bridge.reach.proofs import Proofs
from mossy_bridge.reach.proving import keep, look_widely, probe, prove, prove_regardless
from mossy_bridge.reach.regardless import Regardless
from mossy_bridge.reach.routes import as_sure
from mossy_bridge.reach.shortest import TooMany
from mossy_bridge.reach.verdicts import Survey, Verdict


class Cancelled(Exception):  # noqa: N818 - no error, but somebody's wish
    """The survey was given up."""


@dataclass(frozen=True)
class Budget:
    """Seconds to spend from now on, and whether somebody wants no answer any more."""

    seconds: float
    cancelled: Callable[[], bool] = lambda: False
    clock: Callable[[], float] = time.monotonic
    begun: float = field(init=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "begun", self.clock())

    def until(self, share: float) -> Stopper:
        """True once the share of the budget is spent, or it was cancelled."""
        end = self.begun + self.seconds * share
        return lambda: self.clock() >= end or self.cancelled()

    def check(self) -> None:
        """Raises :class:`Cancelled` if it was."""
        if self.cancelled():
            raise Cancelled

    @property
    def spent(self) -> float:
        """Seconds since it was begun."""
        return self.clock() - self.begun


def surveyed(
    flow: Flow,
    budget: float | Budget = 10.0,
    cancelled: Callable[[], bool] = lambda: False,
    before: Survey | None = None,
    limits: Limits = LIMITS,
) -> Survey:
    """Every verdict about the flow, within about ``budget`` seconds; what is not settled by then is unknown.

    Not every state is looked at (``settled``) where proofs leave nothing unknown. Of an earlier survey (``before``)
    is used again what no edit since can have changed.
    Raises :class:`Cancelled` soon after ``cancelled`` says so."""
    with not_collecting():
        spending = budget if isinstance(budget, Budget) else Budget(budget, cancelled)
        rules = Rules(flow, before=before.rules if before else None)
        survey = before.of(rules) if before and plays_alike(rules, before.rules) else None
        survey = survey or _surveyed(rules, spending, before, limits)
        if flow.walks:
            resuming = Rules(flow, resuming=True, before=rules)
            survey.walks = {walk.id: replay(resuming, walk) for walk in survey.flow.walks}
        survey.seconds = spending.spent
        return survey


@contextmanager
def not_collecting() -> Iterator[None]:
    """For long computations that make hardly any cycles: among so many values looking for garbage takes a quarter of
    the time, and stops a window. What they made counts as old at the end, so that it is not looked through at once."""
    were = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        gc.unfreeze()
        if were:
            gc.enable()


def _surveyed(rules: Rules, budget: Budget, before: Survey | None, limits: Limits) -> Survey:
    machine = Machine(rules, before=before.machine if before else None, limits=limits)
    starts = [machine.start] if machine.start else []
    searching = budget.until(limits.search_end)
    glancing = not at_once(machine, searching)
    looked_at = (glanced if glancing else explored)(machine, starts, searching)
    survey = Survey(rules.flow, rules, machine, looked_at)
    budget.check()
    conclude_ways(survey, budget.until(1.0))
    budget.check()
    if survey.settled:
        conclude_losses(survey)
    else:
        _reason(survey, budget, glancing)
    return survey


def _reason(survey: Survey, budget: Budget, glancing: bool) -> None:
    """Answers what the states looked at have left open: by proofs and probes, and where only a glance was taken, by
    looking at every state, first with places joined."""
    machine, limits = survey.machine, survey.machine.limits
    proving = budget.until(limits.proofs_end if glancing else limits.last_end)
    probing = budget.until(limits.walks_end if glancing else limits.last_end)
    regardless = None
    if machine.compile_all(proving):
        joined = Joined(machine)
        prove(survey, Proofs(joined, proving))
        if not survey.decided:
            regardless = Regardless(machine, joined.certain)
            prove_regardless(survey, regardless)
    conclude_losses(survey)
    budget.check()
    if not survey.decided:
        probe(survey, probing)
    if regardless:
        prove_regardless(survey, regardless)  # once more: now more endings may be known
        if not survey.decided:
            look_widely(survey, joined, budget.until(limits.quotient_end))
    budget.check()
    if glancing and not survey.decided:
        known = replace(survey)
        starts = [machine.start] if machine.start else []
        searching = budget.until(limits.search_end)
        survey.look_at(swept(machine, starts, searching, most_states=limits.explored_states))
        conclude(survey, budget.until(1.0))
        keep(survey, known)
        budget.check()


# -- one target --------------------------------------------------------------------------------------------


def route_to(
    flow: Flow, target: str, avoid: frozenset[str], when: str, budget: float, limits: Limits = LIMITS
) -> Verdict:
    """A shortest route to a level, an ending, or an exit or deed (``level.thing``), with the condition
    holding there and without an arrival at the levels to avoid."""
    machine = Machine(Rules(flow), [when], limits=limits)
    spending = Budget(budget)
    starts = [machine.start] if machine.start else []
    stop = spending.until(1.0)
    glance = glanced(machine, starts, stop)
    found = _in_graph(glance, target, avoid, when)
    doubtful = found.answer == "unknown" or (avoid and not glance.complete)  # detours may be shorter elsewhere
    if doubtful and machine.compile_all(stop):
        proven = _by_proof(Proofs(Joined(machine), stop), target, avoid, when, spending.until(limits.search_end))
        found = found if proven.answer == "unknown" else proven
    if found.answer == "unknown":
        found = _in_graph(explored(machine, starts, stop), target, avoid, when)
    return found


def _in_graph(graph: Graph, target: str, avoid: frozenset[str], when: str) -> Verdict:
    sure = graph.complete or not avoid
    if avoid:
        graph = graph.avoiding(avoid)
    otherwise = Verdict("no" if graph.complete else "unknown")
    if graph.machine.rules.flow.level(target):
        inside = np.flatnonzero(graph.place == graph.places.index(target))
        meeting = inside[graph.holds(when, inside)].tolist()
        return Verdict("yes", lambda: as_sure(graph.route(meeting[0]), sure)) if meeting else otherwise
    level, _, thing = target.partition(".")

    def fits(row: Row) -> bool:
        return (row.move.level, row.move.thing) == (level, thing) if thing else row.ending == target

    fitting = np.array([fits(row) for row in graph.rows] or [False])
    edges = np.flatnonzero(fitting[graph.row])
    edges = edges[graph.holds(when, graph.source[edges].astype(np.int64))]
    if not len(edges):
        return otherwise
    last = graph.rows[graph.row[edges[0]]].move
    return Verdict("yes", lambda: as_sure(graph.route(int(graph.source[edges[0]]), last), sure))


def _by_proof(proofs: Proofs, target: str, avoid: frozenset[str], when: str, stop: Stopper) -> Verdict:
    """The same without looking at every state, where that can be said."""
    asking = proofs.asking(when)
    nearest = asking.nearest and Nearest(asking.nearest.ways, stop)
    level, _, thing = target.partition(".")
    at = proofs.machine.rules.flow.level(level)
    moves = {e.id for e in at.exits} | {d.id for d in at.deeds} | {t.id for t in at.tiles} if at else set()
    usable = not thing or thing in moves
    if nearest is None or not usable or (avoid and thing):  # where its move leads would have to be avoided, too
        return Verdict("unknown")
    uses = [(kind, (level, thing)) for kind in ("exit", "deed", "tile")] if thing else [("ending", target)]
    goals = nearest.needs(target, uses, when)
    try:
        route = None if goals is None else nearest.route_among(goals, avoid)
    except TooMany:
        return Verdict("unknown")
    if route is None:
        return Verdict("unknown" if goals is None else "no")
    return Verdict("yes", lambda: route)
