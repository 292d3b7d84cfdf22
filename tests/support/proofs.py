"""Proofs about small flows, and their routes as texts."""

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.joining import Joined
from mossy_bridge.reach.limits import LIMITS
from mossy_bridge.reach.machine import Machine
from mossy_bridge.reach.proofs import Proofs


def never():
    """A search that is not to be stopped."""
    return False


def proofs_of(flow_, limits=LIMITS):
    """The proofs of a flow."""
    machine = Machine(Rules(flow_), limits=limits)
    machine.compile_all(never)
    return Proofs(Joined(machine), never)


def texts(route):
    """The moves of a route as texts; None where there is none."""
    return None if route is None else [str(move) for move in route]
