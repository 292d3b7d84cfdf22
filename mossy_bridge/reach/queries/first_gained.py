"""Where each fact is first gained."""

from collections.abc import Mapping

from mossy_bridge.language.fact_uses import FactUses
from mossy_bridge.reach.survey.result import Survey
from mossy_bridge.reach.survey.verdicts import Answer


def first_gained(survey: Survey, uses: FactUses, crossings: Mapping[str, int]) -> dict[str, str]:
    """For each fact the title of the level nearest to the start, by ``crossings``, in which it can be gained or turned;
    or in words that it is there from the start, never, or not known."""
    flow = survey.flow
    titles = {level.id: level.title for level in flow.levels}
    best: dict[str, tuple[int, str]] = {}
    unknown: set[str] = set()
    for use in (use for fact in uses.facts() for use in uses.of(fact)):
        if use.use not in ("gained", "turned"):
            continue
        answer = _happens(survey, use.at)
        if answer == "yes":
            found = (crossings.get(use.level, 0), titles[use.level])
            best[use.fact] = min(best.get(use.fact, found), found, key=lambda one: one[0])
        elif answer == "unknown":
            unknown.add(use.fact)
    return {
        fact.id: "from the start"
        if fact.kind != "choice" and fact.first
        else best[fact.id][1]
        if fact.id in best
        else "not known"
        if fact.id in unknown
        else "never"
        for fact in flow.facts
    }


def _happens(survey: Survey, at: str) -> Answer:
    level, _, thing = at.partition(".")
    if not thing:
        return survey.levels[level].answer
    verdict = survey.exits.get((level, thing)) or survey.deeds[level, thing]
    return verdict.answer
