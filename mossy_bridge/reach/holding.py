"""Where a condition holds in play, asked while it is written."""

import time
from collections.abc import Iterator
from typing import Literal

import numpy as np
from msgspec import Struct

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move
from mossy_bridge.reach.asked import conditions_of
from mossy_bridge.reach.exploring import explored
from mossy_bridge.reach.machine import Machine


class Holding(Struct, frozen=True):
    """Where a condition holds: among so many ``reached`` levels the ``levels`` in which it sometimes does; how it is in
    the level asked about, if one was; a shortest route to where it holds, there or else anywhere; in how many places
    of the flow it is asked. Not ``complete`` where time ran out."""

    levels: tuple[str, ...]
    reached: int
    here: Literal["always", "sometimes", "never", ""]
    route: tuple[Move, ...] | None
    asked: int
    complete: bool


def holding(flow: Flow, condition: str, level: str, budget: float) -> Holding:
    """Where the condition holds, found out within about ``budget`` seconds."""
    end = time.monotonic() + budget
    machine = Machine(Rules(flow), [condition])
    starts = [machine.start] if machine.start else []
    graph = explored(machine, starts, lambda: time.monotonic() >= end)
    holds = graph.holds(condition, np.arange(len(graph)))
    places = np.unique(graph.place[holds]).tolist() if len(graph) else []
    inside = np.array([name == level for name in graph.places], dtype=np.bool_)[graph.place]
    numbers = np.flatnonzero(holds & inside) if inside.any() else np.flatnonzero(holds)
    here: Literal["always", "sometimes", "never", ""] = ""
    if inside.any():
        here = "always" if holds[inside].all() else "sometimes" if holds[inside].any() else "never"
    return Holding(
        levels=tuple(graph.places[place] for place in places),
        reached=len(np.unique(graph.place)),
        here=here,
        route=graph.route(int(numbers[0])) if len(numbers) else None,
        asked=sum(text == condition for text in conditions_of(machine.rules.flow)),
        complete=graph.complete,
    )


def told_holding(found: Holding, title: str) -> Iterator[str]:
    """What was found out, in words; ``title`` is that of the level asked about."""
    if found.here:
        unless = "" if found.complete else ", as far as was looked"
        yield f"{found.here.capitalize()} holds in {title}{unless}."
    if not found.levels:
        yield "It holds nowhere in play." if found.complete else "It was not seen to hold anywhere in time."
    else:
        yield f"It can hold in {len(found.levels)} of {found.reached} levels."
    if found.asked:
        yield f"Asked in {found.asked} place{'' if found.asked == 1 else 's'} of the flow."
