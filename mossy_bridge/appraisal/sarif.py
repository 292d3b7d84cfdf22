"""Appraisals as SARIF 2.1.0, which code reviews and build servers read."""

import hashlib
from collections import Counter
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any, NamedTuple
from urllib.parse import quote

from mossy_bridge import __version__
from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.checks.explanations import explained
from mossy_bridge.checks.finding import Finding, check_words
from mossy_bridge.checks.registry import CHECKS, Check
from mossy_bridge.checks.reports.survey_report import route_texts
from mossy_bridge.exchange.positions import Position, Positions

SCHEMA = "https://json.schemastore.org/sarif-2.1.0.json"
LEVELS = {"error": "error", "warning": "warning", "hint": "note"}
FINGERPRINT = "findingAt/v1"


class JudgedFile(NamedTuple):
    """A flow file: its path, its text and its appraisal."""

    path: Path
    text: str
    appraisal: Appraisal


def sarif_values(files: Sequence[JudgedFile], only: Sequence[str] = ()) -> dict[str, Any]:
    """One log with one run over all files; of ``only`` some checks if they are named."""
    checks = [check for check in CHECKS.values() if not only or check.slug in only]
    numbers = {check.slug: number for number, check in enumerate(checks)}
    results = [result for file in files for result in _results(file, numbers)]
    driver = {
        "name": "Mossy Bridge",
        "version": __version__,
        "semanticVersion": __version__,
        "rules": [_rule(check) for check in checks],
    }
    run = {
        "tool": {"driver": driver},
        "columnKind": "unicodeCodePoints",
        "artifacts": [{"location": _location(file.path), "encoding": "UTF-8"} for file in files],
        "results": results,
    }
    return {"$schema": SCHEMA, "version": "2.1.0", "runs": [run]}


def _rule(check: Check) -> dict[str, Any]:
    told = explained(check)
    words = check.slug.split("-")
    named = {"name": "".join(map(str.capitalize, words))} if len(words) > 1 else {}  # else it would say the id again
    return {
        "id": check.slug,
        **named,
        "shortDescription": {"text": f"{check_words(check.slug)}."},
        "fullDescription": {"text": told.meaning},
        "help": {
            "text": f"{told.meaning}\n\nExample: {told.example}\n\nTo mend: {told.mend}",
            "markdown": f"{told.meaning}\n\n*Example:* {told.example}\n\n*To mend:* {told.mend}",
        },
        "defaultConfiguration": {"level": LEVELS[check.severity]},
        "properties": {"tags": [check.chapter]},
    }


def _results(file: JudgedFile, numbers: dict[str, int]) -> Iterator[dict[str, Any]]:
    positions, told = Positions(file.text), Counter[str]()
    for finding in file.appraisal.findings:
        mark = _mark(finding)
        told[mark] += 1
        if finding.check in numbers:
            yield _result(file, positions, finding, numbers[finding.check], f"{mark}:{told[mark]}")


def _result(file: JudgedFile, positions: Positions, finding: Finding, number: int, mark: str) -> dict[str, Any]:
    places = finding.at or ("",)
    found: dict[str, Any] = {
        "ruleId": finding.check,
        "ruleIndex": number,
        "level": LEVELS[finding.severity],
        "message": {"text": f"{finding.message} {finding.why}".strip()},
        "locations": [_place(file, places[0], positions.of(places[0]))],
        "partialFingerprints": {FINGERPRINT: hashlib.sha256(mark.encode()).hexdigest()},
    }
    if len(places) > 1:
        found["relatedLocations"] = [_place(file, place, positions.of(place)) for place in places[1:]]
    if finding.waived:
        found["suppressions"] = [{"kind": "inSource", "status": "accepted", "justification": finding.waived}]
    if finding.route:
        found["properties"] = {"route": route_texts(finding.route)}
    return found


def _mark(finding: Finding) -> str:
    """What a finding is known by, whatever else is edited: its check and places."""
    return f"{finding.check}:{' '.join(finding.at)}"


def _place(file: JudgedFile, place: str, position: Position) -> dict[str, Any]:
    region = {"startLine": position.line, "startColumn": position.column}
    found: dict[str, Any] = {"physicalLocation": {"artifactLocation": _location(file.path), "region": region}}
    if place:
        found["logicalLocations"] = [{"fullyQualifiedName": place, "name": place.rpartition(".")[2]}]
    return found


def _location(path: Path) -> dict[str, str]:
    return {"uri": path.absolute().as_uri() if path.is_absolute() else quote(path.as_posix())}
