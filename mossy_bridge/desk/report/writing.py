"""A report written to a file: HTML or PDF, by the ending of its name."""

from collections.abc import Callable
from pathlib import Path

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.appraisal.comparison import lead_changes, told_changes
from mossy_bridge.appraisal.comparison_report import lead_words
from mossy_bridge.appraisal.report.contents import Report, report_of
from mossy_bridge.appraisal.report.html import report_html
from mossy_bridge.desk.map.picture import map_picture, report_scale
from mossy_bridge.desk.report.document import Tell
from mossy_bridge.desk.report.pdf import report_pdf
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import Flow


def report_parts(
    found: Appraisal, look: Look, since: tuple[str, Flow] | None = None, cancelled: Callable[[], bool] = lambda: False
) -> tuple[Report, str]:
    """The report of an appraised flow, with what changed ``since`` another version, and its map as SVG."""
    changes: list[str] = []
    if since is not None:
        old = since[1]
        changes = [one.words for one in told_changes(old, found.flow)]
        changes += map(lead_words, lead_changes(old, found.flow))
    report = report_of(found, changes, since[0] if since else "", cancelled)
    return report, map_picture(found, look, "svg", report_scale(len(report.levels))).decode("utf-8")


def report_bytes(report: Report, map_svg: str, kind: str, tell: Tell = lambda _share: None) -> bytes:
    """What stands in a file of a kind, ``html`` or ``pdf``."""
    return report_pdf(report, map_svg, tell) if kind == "pdf" else report_html(report, map_svg).encode("utf-8")


def report_kind(path: Path) -> str | None:
    """The kind that the ending of a name says; None where it says none."""
    ending = path.suffix.lower()
    return {".html": "html", ".htm": "html", ".pdf": "pdf"}.get(ending)
