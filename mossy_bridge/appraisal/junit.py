"""Appraisals as JUnit XML, which build servers show as tests: a suite for each chapter of checks, a case for each
check, and one failure with all of its findings that fail the run."""

import re
from collections.abc import Iterator, Mapping, Sequence
from xml.etree import ElementTree

from mossy_bridge.appraisal.sarif import JudgedFile
from mossy_bridge.checks.finding import CHAPTERS, Chapter, Finding, check_words
from mossy_bridge.checks.registry import CHECKS, Check
from mossy_bridge.checks.reports.survey_report import route_texts
from mossy_bridge.exchange.positions import Positions

_NO_CHARACTER = re.compile("[^\t\n\r\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
"""What the production Char of XML 1.0 leaves out."""


def junit_bytes(files: Sequence[JudgedFile], severities: Sequence[str], only: Sequence[str] = ()) -> bytes:
    """The document; findings of these severities fail, unless they were accepted. Of ``only`` some checks if they are
    named."""
    root = ElementTree.Element("testsuites", name="Mossy Bridge")
    for file in files:
        failing: dict[str, list[Finding]] = {}
        for finding in file.appraisal.findings:
            if finding.severity in severities and not finding.waived:
                failing.setdefault(finding.check, []).append(finding)
        positions = Positions(file.text)
        for chapter in CHAPTERS:
            checks = [one for one in CHECKS.values() if one.chapter == chapter and (not only or one.slug in only)]
            if checks:
                _suite(root, file, positions, chapter, checks, failing)
    _sum_up(root)
    data: bytes = ElementTree.tostring(root, "utf-8", xml_declaration=True)
    return data


def _suite(
    root: ElementTree.Element, file: JudgedFile, positions: Positions, chapter: Chapter, checks: Sequence[Check],
    failing: Mapping[str, Sequence[Finding]],
) -> None:  # fmt: skip
    """All checks of a chapter; the time of the survey is that of the first."""
    seconds = file.appraisal.survey.seconds if chapter == CHAPTERS[0] else 0.0
    count = sum(1 for check in checks if check.slug in failing)
    sums = {"tests": str(len(checks)), "failures": str(count), "errors": "0", "skipped": "0"}
    suite = _element(root, "testsuite", name=f"{file.path}: {chapter}", **sums, time=f"{seconds:.3f}")
    for check in checks:
        classname = f"{file.path}.{check.slug}"
        case = _element(suite, "testcase", name=check_words(check.slug), classname=classname, time="0")
        if check.slug in failing:
            _failure(case, file, positions, failing[check.slug])


def _failure(case: ElementTree.Element, file: JudgedFile, positions: Positions, findings: Sequence[Finding]) -> None:
    first = findings[0].message + (f" (and {len(findings) - 1} more)" if len(findings) > 1 else "")
    failure = _element(case, "failure", message=first, type=findings[0].severity)
    failure.text = _clean("\n".join(line for one in findings for line in _lines(file, positions, one)))


def _lines(file: JudgedFile, positions: Positions, finding: Finding) -> Iterator[str]:
    position = positions.of(finding.at[0] if finding.at else "")
    yield f"{file.path}:{position.line}:{position.column}: {finding.message}"
    yield f"    {finding.why}"
    if finding.route:
        yield f"    route: {', '.join(route_texts(finding.route))}"


def _sum_up(root: ElementTree.Element) -> None:
    """The sums of all suites."""
    for name in ("tests", "failures", "errors", "skipped"):
        root.set(name, str(sum(int(suite.get(name, "0")) for suite in root)))
    root.set("time", f"{sum(float(suite.get('time', '0')) for suite in root):.3f}")


def _element(parent: ElementTree.Element, tag: str, **attributes: str) -> ElementTree.Element:
    return ElementTree.SubElement(parent, tag, {name: _clean(value) for name, value in attributes.items()})


def _clean(text: str) -> str:
    return _NO_CHARACTER.sub("\ufffd", text)
