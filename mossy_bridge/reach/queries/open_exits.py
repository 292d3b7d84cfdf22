"""Whether two exits of a level can be open at the same place and time."""

from mossy_bridge.play.compiled_level import ReadyExit
from mossy_bridge.reach.survey.result import Survey


def can_be_open_together(survey: Survey, level: str, one: ReadyExit, other: ReadyExit) -> bool:
    """Whether in some explored state both exits can be set off where the player is, and both are open."""
    rules, graph, program = survey.rules, survey.graph, survey.program
    for state, numbers in graph.by_location(graph.in_level(level)):
        if rules.within(one, state) and rules.within(other, state):
            vectors = graph.vectors[numbers]
            first, second = (program.guard_of_exit(exit_, state).fits(vectors) for exit_ in (one, other))
            if (first & second).any():
                return True
    return False
