"""Saved games from which no ending is reachable: whoever resumes one has lost the run."""

from collections.abc import Iterator

import numpy as np

from mossy_bridge.play.destinations import Landing
from mossy_bridge.play.state import Move
from mossy_bridge.reach.explicit.dead_ends import DeadEnds
from mossy_bridge.reach.explicit.explore import explore
from mossy_bridge.reach.survey.result import Survey
from mossy_bridge.reach.system.program_graph import Stopper
from mossy_bridge.reach.system.routes import Route


def lost_when_resumed(survey: Survey, stop: Stopper) -> Iterator[tuple[Move, Route]]:
    """The deeds that save a game from which, resumed, no ending is reachable, though one is from where it was saved;
    each with a shortest route that ends with it. Of a flow all of whose states were explored. Nothing where this takes
    too long."""
    rules, graph, program = survey.rules, survey.graph, survey.program
    saving = {(lv.id, d.id) for lv in survey.flow.levels for d in lv.deeds if d.saves}
    saves = [one.move.kind == "deed" and (one.move.level, one.move.thing) in saving for one in graph.transitions]
    edges = np.flatnonzero(np.array(saves or [False])[graph.transition])
    edges = edges[survey.explored.dead_ends.can_end[graph.target[edges]]]
    edges = edges[np.sort(np.unique(graph.target[edges], return_index=True)[1])]
    after = [graph.state(int(number)) for number in graph.target[edges]]
    starts = [program.packed(rules.arrive(state, Landing(state.place, state.respawn))) for state in after]
    resumed = explore(program, starts, stop)
    if not resumed.complete:
        return
    can_end = DeadEnds(rules, resumed).can_end
    number_of = {start: number for number, start in enumerate(dict.fromkeys(starts))}
    told: set[Move] = set()
    for edge, start in zip(edges, starts, strict=True):
        move = graph.transitions[graph.transition[edge]].move
        if move not in told and not can_end[number_of[start]]:
            told.add(move)
            yield move, graph.route(int(graph.source[edge]), move)
