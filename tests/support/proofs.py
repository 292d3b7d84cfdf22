"""Proofs about small flows, and their routes as texts."""

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.machine import Machine
from mossy_bridge.reach.proofs import Proofs


def never():
    """A search that is not to be stopped."""
    return False


def proofs_of(flow_):
    """The proofs of a flow."""
    return Proofs(Machine(Rules(flow_)), never)


def texts(route):
    """The moves of a route as texts; None where there is none."""
    return None if route is None else [str(move) for move in route]
