"""The survey of a flow: for every part of it whether a route gets there, with the route."""

from collections.abc import Callable
from dataclasses import replace

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.replay import replay
from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.limits import LIMITS, Limits
from mossy_bridge.reach.survey.budget import Budget, Cancelled
from mossy_bridge.reach.survey.gc_pause import gc_paused
from mossy_bridge.reach.survey.result import Survey
from mossy_bridge.reach.survey.strategy import survey_rules
from mossy_bridge.reach.system.change_impact import plays_alike

__all__ = ["Budget", "Cancelled", "survey_flow"]


def survey_flow(
    flow: Flow,
    budget: float | Budget = 10.0,
    cancelled: Callable[[], bool] = lambda: False,
    before: Survey | None = None,
    limits: Limits = LIMITS,
) -> Survey:
    """Every verdict about the flow, within about ``budget`` seconds; what is not settled by then is unknown.

    Not every state is explored (``settled``) where proofs leave nothing unknown. Of an earlier survey (``before``) is
    used again what no edit since can have changed. Raises :class:`Cancelled` soon after ``cancelled`` says so."""
    with gc_paused():
        spending = budget if isinstance(budget, Budget) else Budget(budget, cancelled)
        rules = Rules(flow, before=before.rules if before else None)
        survey = before.for_flow(rules) if before and plays_alike(rules, before.rules) else None
        survey = survey or survey_rules(rules, spending, before, limits)
        resuming = Rules(flow, resuming=True, before=rules) if flow.walks else rules
        walks = {walk.id: replay(resuming, walk) for walk in survey.flow.walks}
        return replace(survey, walks=walks, seconds=spending.spent)
