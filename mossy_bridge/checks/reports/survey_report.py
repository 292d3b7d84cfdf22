"""A survey's results as plain values and as text, for people and for other programs."""

from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import Any

from mossy_bridge.checks.finding import Finding
from mossy_bridge.checks.verdict import verdict_sentence
from mossy_bridge.play.state import Move
from mossy_bridge.reach.survey.result import Survey
from mossy_bridge.reach.survey.verdicts import Route, Verdict, is_shortest

FIRST_MOVES, LAST_MOVES = 6, 2
"""Of a long route so many moves are told in text."""
MOST_PLACES = 6
"""Of a finding about many places so many are told in text."""
_MARKS = {"error": "✗ broken    ", "warning": "△ suspicious", "hint": "○ worth knowing"}


def survey_values(survey: Survey, findings: Sequence[Finding]) -> dict[str, Any]:
    """One object with every verdict and finding, in file order."""
    return {
        "flow": survey.flow.title,
        "settled": survey.settled,
        "states": len(survey.graph),
        "seconds": round(survey.seconds, 4),
        "levels": {name: _level(survey, name) for name in survey.levels},
        "exits": {".".join(place): _verdict(v) for place, v in survey.exits.items()},
        "deeds": {
            ".".join(place): {**_verdict(v), "missed": _missed(survey, place)} for place, v in survey.deeds.items()
        },
        "paths": {".".join(place): _verdict(v) for place, v in survey.paths.items()},
        "tiles": {".".join(place): _verdict(v) for place, v in survey.tiles.items()},
        "endings": {name: _verdict(v) for name, v in survey.endings.items()},
        "stuck": _verdict(survey.stuck),
        "loops": _verdict(survey.loops),
        "promises": {
            name: {"holds": promise.holds} | ({} if promise.route is None else _route(promise.route))
            for name, promise in survey.promises.items()
        },
        "walks": {
            name: {"holds": "yes" if replay.holds else "no", "stopped_at": replay.stopped_at}
            for name, replay in survey.walks.items()
        },
        "findings": [finding_values(finding) for finding in findings],
    }


def finding_values(finding: Finding) -> dict[str, Any]:
    """A finding as plain values."""
    route = _route(finding.route)
    return {
        "check": finding.check,
        "severity": finding.severity,
        "at": list(finding.at),
        "message": finding.message,
        "why": finding.why,
        **route,
        "repair": finding.repair.label if finding.repair else "",
        "waived": finding.waived,
    }


def route_texts(route: Sequence[Move]) -> list[str]:
    """A route as a recorded walk writes it."""
    return list(map(_move_text, route))


def _shortened(moves: list[str]) -> list[str]:
    """The first and the last of many moves."""
    left_out = len(moves) - FIRST_MOVES - LAST_MOVES
    if left_out < 2:
        return moves
    return [*moves[:FIRST_MOVES], f"… {left_out:,} more moves", *moves[-LAST_MOVES:]]


def _some(places: Sequence[str]) -> Sequence[str]:
    """The first of many places."""
    left_out = len(places) - MOST_PLACES
    return places if left_out < 2 else [*places[:MOST_PLACES], f"… {left_out:,} more places"]


@lru_cache(maxsize=1 << 16)
def _move_text(move: Move) -> str:
    """The routes of a large flow have a million moves, of which few differ."""
    return str(move)


def _level(survey: Survey, name: str) -> dict[str, Any]:
    verdict = _verdict(survey.levels[name])
    crossings = survey.crossings.get(name)
    return {
        "verdict": verdict.pop("verdict"),
        "crossings": crossings,
        **verdict,
        "missed": _missed(survey, name),
    }


def _missed(survey: Survey, thing: Any) -> str:
    return survey.missed.get(thing, "no")


def _verdict(verdict: Verdict) -> dict[str, Any]:
    return {"verdict": verdict.answer, **(_route(verdict.route) if verdict.answer == "yes" else {})}


def _route(route: Route) -> dict[str, Any]:
    """A route, and whether it is known to be a shortest one where it is not."""
    return {"route": route_texts(route)} | ({} if is_shortest(route) else {"shortest": False})


def survey_text(survey: Survey, findings: Sequence[Finding], file: str = "") -> Iterator[str]:
    """The survey in lines for a person: the verdict, then every finding; a file that is named stands before the verdict
    and each place."""
    name = f"{file}: " if file else ""
    yield f"{name}{verdict_sentence(survey, findings)}"
    yield f"{len(survey.graph):,} states in {survey.seconds * 1000:.0f} ms"
    for finding in findings:
        if finding.waived:
            continue
        yield ""
        place = f"{name}{' '.join(_some(finding.at))}"
        yield f"{_MARKS[finding.severity].strip()}  {finding.check}  {place}".rstrip()
        yield f"    {finding.message}"
        yield f"    {finding.why}"
        if finding.route:
            unsure = "" if is_shortest(finding.route) else " (not surely the shortest)"
            yield f"    route{unsure}: {', '.join(_shortened(route_texts(finding.route)))}"
        if finding.repair:
            yield f"    repair: {finding.repair.label}"
    accepted = sum(1 for finding in findings if finding.waived)
    if accepted:
        yield ""
        yield f"{accepted} accepted"
