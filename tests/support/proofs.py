"""Proofs about small flows, and their routes as texts."""

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph
from mossy_bridge.reach.limits import LIMITS
from mossy_bridge.reach.monotone.prover import Prover
from mossy_bridge.reach.system.program_graph import ProgramGraph
from mossy_bridge.reach.system.things import KINDS


def never():
    """A search that is not to be stopped."""
    return False


def proofs_of(flow_, limits=LIMITS):
    """The proofs of a flow."""
    program = ProgramGraph(Rules(flow_), limits=limits)
    program.compile_all(never)
    return Prover(QuotientGraph(program), never)


def everything_found(prover):
    """All that a prover has found: kind, place, state, and the transition after that; none for levels."""
    levels = [("level", name, number, None) for name, number in prover.entered().items()]
    return levels + [(kind, name, *use) for kind in KINDS[1:] for name, use in uses_of(prover, kind).items()]


def uses_of(prover, kind):
    """The first use of everything of a kind that a prover has found, by name."""
    program, used = prover.program, prover.uses()[kind]
    names, transitions = list(program.things.numbers[kind]), map(program.transitions.__getitem__, used.transitions)
    by = zip(used.states, transitions, strict=True)
    return dict(zip(map(names.__getitem__, used.things), by, strict=True))


def texts(route):
    """The moves of a route as texts; None where there is none."""
    return None if route is None else [str(move) for move in route]
