"""Which page of the handbook fits what has the keyboard."""

from collections.abc import Sequence

from PyQt6.QtWidgets import QWidget

from mossy_bridge.desk.handbook.pages import FIRST, check_page
from mossy_bridge.desk.survey.column import SurveyColumn

Bands = Sequence[tuple[QWidget, str]]
"""Parts of the window, each with its page."""


def page_for(focused: QWidget | None, bands: Bands, face: str) -> tuple[str, str]:
    """The page, and the heading on it: of the innermost part that holds what has the keyboard; else of the face in
    view. In the survey column it is that on the check of the finding pointed at."""
    widget = focused
    names = {id(part): page for part, page in bands}
    while widget is not None:
        if isinstance(widget, SurveyColumn) and (slug := widget.check_pointed_at):
            return check_page(slug)
        if id(widget) in names:
            return names[id(widget)], ""
        widget = widget.parentWidget()
    return (face.lower().replace(" ", "-") or FIRST), ""
