"""A report as one HTML file: no script, nothing that is fetched, made for printing, too."""

import re
from functools import cache
from typing import TYPE_CHECKING

from markupsafe import Markup

from mossy_bridge.appraisal.report.contents import Report
from mossy_bridge.appraisal.report.drawing import plan_svg, transitions_svg

if TYPE_CHECKING:
    from jinja2 import Template

MOST_WITHOUT_CONTENTS = 12
"""A flow with more levels gets a table of contents."""
SIGNS = {"sound": "✓", "suspicious": "△", "broken": "✗", "unknown": "?"}
SEVERITIES = (("error", "Broken"), ("warning", "Suspicious"), ("hint", "Worth knowing"))
_PROLOG = re.compile(r"^\s*<\?xml[^>]*\?>\s*(<!DOCTYPE[^>]*>\s*)?", re.DOTALL)
_SIZE = re.compile(r'(<svg\b[^>]*?)\s(?:width|height)="[0-9.]+mm"', re.DOTALL)


def report_html(report: Report, map_svg: str = "") -> str:
    """The file; ``map_svg`` is the picture of the map, if there is to be one."""
    drawn = {one.level.id: Markup(plan_svg(one.level, report.flow.units.y == "down")) for one in report.levels}
    return _template().render(
        report=report, plans=drawn, map=Markup(inlined(map_svg)), bars=Markup(transitions_svg(report.transitions)),
        sign=SIGNS[report.mark], severities=SEVERITIES, contents=len(report.levels) > MOST_WITHOUT_CONTENTS,
    )  # fmt: skip


def inlined(svg: str) -> str:
    """A picture as it may stand in a page: without its prolog, and as large as its place."""
    return _SIZE.sub(r"\1", _SIZE.sub(r"\1", _PROLOG.sub("", svg, count=1)))


@cache
def _template() -> "Template":
    """The page, read when it is first needed: the package that fills it in takes a fifth of a second to load."""
    from jinja2 import Environment, PackageLoader, StrictUndefined

    loader = PackageLoader("mossy_bridge.appraisal.report")
    environment = Environment(
        autoescape=True, undefined=StrictUndefined, loader=loader, trim_blocks=True, lstrip_blocks=True
    )
    return environment.get_template("report.html.j2")
