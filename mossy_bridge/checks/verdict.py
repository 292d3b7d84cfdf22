"""The one sentence that says how the flow stands, and its mark."""

from collections.abc import Sequence
from typing import Literal

from mossy_bridge.checks.finding import Finding
from mossy_bridge.reach.survey.result import Survey

_EXCUSABLE = ("level-unreachable", "ending-unreachable", "stuck")
"""What is no error while it follows only from levels that are planned, and not made yet."""
Mark = Literal["broken", "suspicious", "sound", "unknown"]


def verdict_mark(survey: Survey, findings: Sequence[Finding]) -> Mark:
    """Whether anything is broken, or only suspicious or not decided; of an empty flow nothing is said."""
    if not survey.flow.levels:
        return "unknown"
    grave = {finding.severity for finding in findings if not finding.waived}
    if "error" in grave:
        return "broken"
    return "suspicious" if "warning" in grave or not survey.decided else "sound"


def verdict_sentence(survey: Survey, findings: Sequence[Finding]) -> str:
    """What matters most: that all is proven, or what is not so."""
    shipping = [level for level in survey.flow.levels if level.ships]
    if not shipping:
        return "There is no level yet."
    wrong = _what_is_wrong(survey, findings)
    if wrong:
        return f"{wrong[0][:1].upper()}{wrong[0][1:]}{''.join('; ' + part for part in wrong[1:])} — proven"
    if not _reach_known(survey):
        return f"Not settled: time ran out after {survey.graph.expanded:,} states"
    errors = sum(1 for f in findings if f.severity == "error" and not f.waived)
    if errors:
        return (
            f"Every level is reached, but {errors} {_plural(errors, 'thing')} {'is' if errors == 1 else 'are'} broken"
        )
    if any(f.check in _EXCUSABLE and f.severity == "hint" for f in findings):
        return "Nothing is broken but what waits for levels that are only planned — proven"
    parts = [_all_levels(len(shipping)), *_all_endings(survey)]
    if survey.stuck.answer == "unknown" or survey.loops.answer == "unknown":
        return f"{', '.join(parts)} — proven; whether anybody gets stuck is not settled"
    return f"{', '.join([*parts, 'nobody gets stuck'])} — proven"


def _reach_known(survey: Survey) -> bool:
    """Whether every level and ending has its answer."""
    return all(verdict.answer != "unknown" for verdict in (*survey.levels.values(), *survey.endings.values()))


def _what_is_wrong(survey: Survey, findings: Sequence[Finding]) -> list[str]:
    shipping = {level.id for level in survey.flow.levels if level.ships}
    wrong = []
    hints = [f for f in findings if f.check in _EXCUSABLE and f.severity == "hint"]
    excused = {f.check if f.check == "stuck" else f.at[0] for f in hints}
    lost = len(survey.unreachable_levels & shipping - excused)
    if lost:
        verb = "is" if lost == 1 else "are"
        wrong.append(f"{lost} of {len(shipping)} levels {verb} never reached")
    nowhere = {f.at[0] for f in findings if f.check in ("exit-unconnected", "destination-missing") and not f.waived}
    if nowhere:
        count = len(nowhere)
        wrong.append(f"{_number(count)} {_plural(count, 'exit')} lead{'s' if count == 1 else ''} nowhere")
    endless = sum(1 for name, verdict in survey.endings.items() if verdict.answer == "no" and name not in excused)
    if endless:
        wrong.append(f"{_number(endless)} {_plural(endless, 'ending')} out of reach")
    if survey.stuck.answer == "yes" and "stuck" not in excused:
        wrong.append("the player can get stuck")
    if survey.loops.answer == "yes":
        wrong.append("exits loop by themselves")
    return wrong


def _all_levels(count: int) -> str:
    return "The only level is reached" if count == 1 else f"All {count} levels reached"


def _all_endings(survey: Survey) -> list[str]:
    count = len(survey.endings)
    if count == 0:
        return []
    return [{1: "the ending reachable", 2: "both endings reachable"}.get(count, f"all {count} endings reachable")]


def _number(count: int) -> str:
    return "one" if count == 1 else str(count)


def _plural(count: int, word: str) -> str:
    return word if count == 1 else f"{word}s"
