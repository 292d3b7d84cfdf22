"""Sample routes into a level, to begin a trial walk there with what a player may really have by then."""

from collections.abc import Callable

import numpy as np

from mossy_bridge.reach.survey.result import Survey
from mossy_bridge.reach.system.routes import Route


def sample_routes(survey: Survey, level: str) -> dict[str, Route]:
    """The *shortest* route into a level; and, among the states that were explored, those with the *fullest* and the
    *poorest* record of what the game remembers. Empty where no route is known."""
    verdict = survey.levels.get(level)
    if verdict is None or verdict.answer != "yes":
        return {}
    found = {"shortest": verdict.route}
    graph = survey.graph
    numbers = graph.in_level(level)
    if len(numbers):
        held = np.bitwise_count(graph.vectors[numbers]).sum(axis=1)
        ends: tuple[tuple[str, Callable[..., np.intp]], ...] = (("fullest", np.argmax), ("poorest", np.argmin))
        for name, best in ends:
            found[name] = graph.route(int(numbers[best(held)]))
    return found
