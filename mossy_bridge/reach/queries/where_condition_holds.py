"""Where a condition holds in play, asked while it is written."""

from collections.abc import Iterator
from typing import Literal

import numpy as np
from msgspec import Struct

from mossy_bridge.language.asked import conditions_of
from mossy_bridge.model.flow import Flow
from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.arrays import unique
from mossy_bridge.reach.explicit.explore import explore
from mossy_bridge.reach.survey.budget import Budget
from mossy_bridge.reach.survey.strategy import starts_of
from mossy_bridge.reach.system.program_graph import ProgramGraph
from mossy_bridge.reach.system.routes import Route

HowOften = Literal["always", "sometimes", "never", ""]


class WhereItHolds(Struct, frozen=True):
    """Where a condition holds: among so many ``reached`` levels the ``levels`` in which it sometimes does; how often in
    the level asked about, if one was; a shortest route to where it holds, there or else anywhere; in how many places of
    the flow it is asked. Not ``complete`` where time ran out."""

    levels: tuple[str, ...]
    reached: int
    here: HowOften
    route: Route | None
    asked: int
    complete: bool


def where_condition_holds(flow: Flow, condition: str, level: str, budget: Budget) -> WhereItHolds:
    """Where the condition holds, found out within the budget."""
    program = ProgramGraph(Rules(flow), [condition])
    graph = explore(program, starts_of(program), budget.until(1.0))
    holds = graph.holds(condition, np.arange(len(graph)))
    inside = graph.inside(level)
    numbers = np.flatnonzero(holds & inside) if inside.any() else np.flatnonzero(holds)
    here: HowOften = ""
    if inside.any():
        here = "always" if holds[inside].all() else "sometimes" if holds[inside].any() else "never"
    levels = unique(graph.level_index[holds]).tolist()
    return WhereItHolds(
        levels=tuple(graph.levels[index] for index in levels),
        reached=len(unique(graph.level_index)),
        here=here,
        route=graph.route(int(numbers[0])) if len(numbers) else None,
        asked=sum(text == condition for text in conditions_of(program.rules.flow)),
        complete=graph.complete,
    )


def sentences_about(found: WhereItHolds, title: str) -> Iterator[str]:
    """What was found out, in words; ``title`` is that of the level asked about."""
    if found.here:
        unless = "" if found.complete else ", as far as was explored"
        yield f"{found.here.capitalize()} holds in {title}{unless}."
    if not found.levels:
        yield "It holds nowhere in play." if found.complete else "It was not seen to hold anywhere in time."
    else:
        yield f"It can hold in {len(found.levels)} of {found.reached} levels."
    if found.asked:
        yield f"Asked in {found.asked} place{'' if found.asked == 1 else 's'} of the flow."
