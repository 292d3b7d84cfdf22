"""What the player surely has, or surely lacks, in a level: flags that conditions ask for."""

from mossy_bridge.reach.survey.result import Survey


def surely_had(survey: Survey, level: str) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The flags, by id, that the player has in every state of a level, and those had in none. Neither of a level that
    is not known to be reachable, nor of flags that no condition asks for."""
    verdict = survey.levels.get(level)
    if verdict is None or verdict.answer != "yes":
        return (), ()
    asked = survey.program.layout.facts
    flags = [fact.id for fact in survey.flow.facts if fact.kind == "flag" and fact.id in asked]
    had = tuple(flag for flag in flags if survey.always_holds_at(level, f"has {flag}"))
    return had, tuple(flag for flag in flags if flag not in had and survey.never_holds_at(level, f"has {flag}"))
