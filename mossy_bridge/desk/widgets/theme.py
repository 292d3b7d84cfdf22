"""The program's looks: stone, moss, slate, ochre and brick, light and dark."""

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtGui import QFont, QPalette
from PyQt6.QtWidgets import QApplication

from mossy_bridge.desk.widgets.colours import DARK, LIGHT, Colours
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.style_sheet import style_sheet


class Look(QObject):
    """The colours in force. Emits ``changed`` when they turn light or dark."""

    changed = pyqtSignal()

    def __init__(self, app: QApplication):
        super().__init__(app)
        self._app = app
        self._wish = "desktop"
        self.colours = LIGHT
        given(app.styleHints()).colorSchemeChanged.connect(self._apply)
        self._apply()

    @property
    def wish(self) -> str:
        """ "light", "dark" or "desktop"."""
        return self._wish

    def wear(self, wish: str) -> None:
        """Turns light or dark, or follows the desktop."""
        self._wish = wish
        self._apply()

    def font(self, size: float = 0, bold: bool = False) -> QFont:
        """The desktop's font, ``size`` points larger than usual."""
        font = QFont(self._app.font())
        font.setPointSizeF(max(font.pointSizeF() + size, 6.5))
        font.setBold(bold)
        return font

    def _apply(self) -> None:
        dark = given(self._app.styleHints()).colorScheme() == Qt.ColorScheme.Dark
        self.colours = DARK if self._wish == "dark" or (self._wish == "desktop" and dark) else LIGHT
        self._app.setPalette(_palette(self.colours))
        self._app.setStyleSheet(style_sheet(self.colours))
        self.changed.emit()


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
