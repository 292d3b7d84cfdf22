"""The handbook beside the work: opened at the page on what has the keyboard, and put away."""

from collections.abc import Callable, Sequence

from PyQt6.QtWidgets import QApplication, QWidget

from mossy_bridge.desk.handbook.context import page_for
from mossy_bridge.desk.handbook.panel import HandbookPanel


class HandbookBeside:
    """Opens the panel and puts it away. ``show`` makes room for it or takes that back, ``bands`` are the parts of the
    window with the names of their pages, ``face`` gives the title of the face in view, ``leave`` the keyboard back."""

    def __init__(
        self, panel: HandbookPanel, show: Callable[[bool], object], bands: Sequence[tuple[QWidget, str]],
        face: Callable[[], str], leave: Callable[[], object],
    ):  # fmt: skip
        self._panel, self._show, self._bands, self._face, self._leave = panel, show, bands, face, leave
        panel.closed.connect(self.close)

    def help(self) -> None:
        """Opens it at the page on what has the keyboard; from there, closes it."""
        focused = QApplication.focusWidget()
        if self._panel.isAncestorOf(focused):
            self.close()
        else:
            self.open(*page_for(focused, self._bands, self._face()))

    def open(self, page: str, heading: str = "") -> None:
        """Opens a page."""
        self._show(True)
        self._panel.open(page, heading)
        self._panel.view.setFocus()

    def close(self) -> None:
        """Puts it away."""
        self._show(False)
        self._leave()
