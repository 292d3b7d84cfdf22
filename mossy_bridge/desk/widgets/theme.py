"""The program's looks: stone, moss, slate, ochre and brick, light and dark."""

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QPalette
from PyQt6.QtWidgets import QApplication

from mossy_bridge.desk.widgets.colours import DARK, DARK_HIGH, LIGHT, LIGHT_HIGH, Colours
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.style_sheet import style_sheet


class Look(QObject):
    """The colours in force, and how large words are. Emits ``changed`` when either becomes another."""

    changed = pyqtSignal()

    def __init__(self, app: QApplication):
        super().__init__(app)
        self._app = app
        self._wish, self._contrast, self._percent = "desktop", "desktop", 100
        self._usual = _usual_font(app)
        self.colours = LIGHT
        hints = given(app.styleHints())
        hints.colorSchemeChanged.connect(self._apply)
        app.applicationStateChanged.connect(self._on_state)  # PyQt does not pass on that the contrast has changed
        self._apply()

    @property
    def wish(self) -> str:
        """ "light", "dark" or "desktop"."""
        return self._wish

    def wear(self, wish: str) -> None:
        """Turns light or dark, or follows the desktop."""
        self._wish = wish
        self._apply()

    def use_contrast(self, wish: str) -> None:
        """Has "high" or "usual" contrast, or follows the "desktop"."""
        self._contrast = wish
        self._apply()

    def scale_text(self, percent: int) -> None:
        """Makes words so large, in percent of the desktop's font."""
        if percent != self._percent:
            self._percent = percent
            self._apply()

    def font(self, size: float = 0, bold: bool = False) -> QFont:
        """The desktop's font, ``size`` points larger than usual."""
        font = QFont(self._app.font())
        font.setPointSizeF(max(font.pointSizeF() + size * self._percent / 100, 6.5))
        font.setBold(bold)
        return font

    def _on_state(self) -> None:
        if self.colours is not self._wanted():
            self._apply()

    def _wanted(self) -> Colours:
        hints = given(self._app.styleHints())
        dark = self._wish == "dark" or (self._wish == "desktop" and hints.colorScheme() == Qt.ColorScheme.Dark)
        desktop_high = given(hints.accessibility()).contrastPreference() == Qt.ContrastPreference.HighContrast
        high = self._contrast == "high" or (self._contrast == "desktop" and desktop_high)
        if high:
            return DARK_HIGH if dark else LIGHT_HIGH
        return DARK if dark else LIGHT

    def _apply(self) -> None:
        self.colours = self._wanted()
        font = QFont(self._usual)
        font.setPointSizeF(self._usual.pointSizeF() * self._percent / 100)
        if font != self._app.font():
            self._app.setFont(font)
        self._app.setStyleSheet("")  # Qt needs a third of the time to dress widgets that wear nothing
        self._app.setPalette(_palette(self.colours))
        self._app.setStyleSheet(style_sheet(self.colours))
        self.changed.emit()


def _usual_font(app: QApplication) -> QFont:
    """The desktop's font, kept by the application, for a second look must not take what the first has made of it."""
    kept = app.property("usual font")
    if not isinstance(kept, QFont):
        kept = QFont(app.font())
        app.setProperty("usual font", kept)
    return kept


def _palette(c: Colours) -> QPalette:
    palette = QPalette()
    role = QPalette.ColorRole
    for key, name in (
        (role.Window, "panel"), (role.WindowText, "ink"), (role.Base, "card"), (role.AlternateBase, "panel"),
        (role.Text, "ink"), (role.Button, "panel"), (role.ButtonText, "ink"), (role.Highlight, "route"),
        (role.HighlightedText, "card"), (role.ToolTipBase, "card"), (role.ToolTipText, "ink"),
        (role.PlaceholderText, "dim"), (role.Link, "route"),
    ):  # fmt: skip
        palette.setColor(key, c.colour(name))
    palette.setColor(QPalette.ColorGroup.Disabled, role.Text, c.colour("dim"))
    palette.setColor(QPalette.ColorGroup.Disabled, role.ButtonText, c.colour("dim"))
    palette.setColor(QPalette.ColorGroup.Disabled, role.WindowText, c.colour("dim"))
    return palette
