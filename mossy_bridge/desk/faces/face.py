"""What every face is to the window: a title, a tip, and one way to show a flow."""

from typing import Protocol

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.model.flow import Flow


class Face(Protocol):
    """A view of the middle of the window; also a widget. Adding one is one class, and one row where the window is put
    together."""

    title: str
    tip: str
    follows_survey: bool
    """Whether it shows something of the survey, and so is shown anew when that arrives."""

    def show_flow(self, flow: Flow, result: Appraisal | None) -> None:
        """Shows a flow, with the latest appraisal, which may be of an earlier flow; None where there is none."""
        ...
