"""The program's looks: stone, moss, slate, ochre and brick, light and dark."""

from dataclasses import dataclass
from functools import cached_property

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QPalette
from PyQt6.QtWidgets import QApplication

from mossy_bridge.desk.widgets.given import given
from mossy_bridge.model.flow import Tint


@dataclass(frozen=True)
class Colours:
    """Every colour the program paints with, by what it stands for."""

    ground: str
    column: str
    panel: str
    bench: str
    card: str
    line: str
    ink: str
    dim: str
    sky: str
    stone: str
    sound: str
    """Moss green: reached, works."""
    route: str
    """Slate blue: chosen, leads on."""
    suspicious: str
    """Ochre."""
    broken: str
    """Brick."""
    sound_wash: str
    route_wash: str
    suspicious_wash: str
    broken_wash: str
    on_sound: str

    def colour(self, name: str, alpha: int = 255) -> QColor:
        """A colour of the table, by name."""
        made = self._made.get((name, alpha))
        if made is None:
            made = QColor(getattr(self, name))
            made.setAlpha(alpha)
            self._made[name, alpha] = made
        return made

    @cached_property
    def _made(self) -> dict[tuple[str, int], QColor]:
        """The colours asked for so far: painting asks for thousands a frame."""
        return {}

    def tint(self, name: Tint, alpha: int = 255) -> QColor:
        """The colour of a region's tint; without one, that of lines."""
        if not name:
            return self.colour("line", alpha)
        hue, saturation = TINTS[name]
        found = QColor.fromHsv(hue, saturation, 150 if QColor(self.ground).lightness() > 128 else 190)
        found.setAlpha(alpha)
        return found


TINTS: dict[str, tuple[int, int]] = {
    "reed": (82, 120), "tide": (190, 120), "sand": (42, 120), "heather": (300, 80), "clay": (16, 130),
    "slate": (220, 110),
}  # fmt: skip
"""Hue and saturation of each tint."""

LIGHT = Colours(
    ground="#e2ded2", column="#eae6db", panel="#f3f0e7", bench="#f8f5ec", card="#fcfbf6", line="#cdc7b6",
    ink="#22241f", dim="#5c5c51", sky="#dfe4e7", stone="#9a9e89", sound="#3f6c2e", route="#35568c",
    suspicious="#8a5a08", broken="#9e3024", sound_wash="#e4edda", route_wash="#e0e7f1",
    suspicious_wash="#f4e5c9", broken_wash="#f7e1dc", on_sound="#ffffff",
)  # fmt: skip
DARK = Colours(
    ground="#1f211c", column="#272a24", panel="#2b2e27", bench="#262922", card="#353930", line="#4d5246",
    ink="#edeadf", dim="#b9b7a8", sky="#3b434a", stone="#727864", sound="#95c47b", route="#9cb8e8",
    suspicious="#e3b55f", broken="#f29484", sound_wash="#2f3d29", route_wash="#2d3849",
    suspicious_wash="#453a22", broken_wash="#4a2d28", on_sound="#1c2217",
)  # fmt: skip


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
        self._app.setStyleSheet(_sheet(self.colours))
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


def _sheet(c: Colours) -> str:
    return f"""
    QMenuBar {{ background: {c.panel}; color: {c.ink}; border-bottom: 1px solid {c.line}; }}
    QMenuBar::item {{ padding: 4px 10px; background: transparent; border-radius: 4px; }}
    QMenuBar::item:selected {{ background: {c.route_wash}; color: {c.ink}; }}
    QMenu {{ background: {c.card}; color: {c.ink}; border: 1px solid {c.line}; padding: 4px; }}
    QMenu::item {{ padding: 5px 26px 5px 14px; border-radius: 4px; }}
    QMenu::item:selected {{ background: {c.route_wash}; color: {c.ink}; }}
    QMenu::item:disabled {{ color: {c.dim}; }}
    QMenu::separator {{ height: 1px; background: {c.line}; margin: 4px 8px; }}
    QToolTip {{ background: {c.card}; color: {c.ink}; border: 1px solid {c.line}; padding: 3px 6px; }}
    QLineEdit, QComboBox {{ background: {c.card}; color: {c.ink}; border: 1px solid {c.line};
        border-radius: 5px; padding: 3px 7px; selection-background-color: {c.route}; }}
    QLineEdit:focus, QComboBox:focus {{ border: 2px solid {c.route}; padding: 2px 6px; }}
    QLineEdit[wrong="true"], QLineEdit[wrong="true"]:focus {{ border: 2px solid {c.broken}; padding: 2px 6px; }}
    QComboBox::drop-down {{ border: none; width: 18px; }}
    QComboBox QAbstractItemView {{ background: {c.card}; color: {c.ink}; border: 1px solid {c.line};
        selection-background-color: {c.route_wash}; selection-color: {c.ink}; }}
    QListWidget {{ background: {c.card}; color: {c.ink}; border: 1px solid {c.line}; border-radius: 5px; }}
    QListWidget::item {{ padding: 4px 7px; }}
    QTreeWidget {{ background: {c.card}; color: {c.ink}; border: 1px solid {c.line}; border-radius: 5px; }}
    QTreeWidget::item {{ padding: 3px 2px; }}
    QTreeWidget::item:selected {{ background: {c.route_wash}; color: {c.ink}; }}
    QListWidget::item:selected {{ background: {c.route_wash}; color: {c.ink}; }}
    QPushButton {{ background: {c.card}; color: {c.ink}; border: 1px solid {c.line}; border-radius: 6px;
        padding: 5px 14px; }}
    QPushButton:checked {{ background: {c.route_wash}; border-color: {c.route}; }}
    QPushButton:hover {{ border-color: {c.route}; }}
    QPushButton:focus {{ border: 2px solid {c.route}; padding: 4px 13px; }}
    QPushButton:default, QPushButton[leading="true"] {{ background: {c.sound}; color: {c.on_sound};
        border-color: {c.sound}; }}
    QPushButton:disabled, QPushButton:default:disabled {{ background: {c.column}; color: {c.dim};
        border-color: {c.line}; }}
    QPushButton[link="true"] {{ background: transparent; border: none; color: {c.route}; padding: 1px 3px;
        text-align: left; }}
    QPushButton[link="true"]:hover {{ text-decoration: underline; }}
    QPushButton[link="true"]:focus {{ border: 1px solid {c.route}; border-radius: 3px; padding: 0px 2px; }}
    QPushButton[blank="true"] {{ background: {c.route_wash}; border: 1px solid transparent; color: {c.route};
        font-weight: bold; border-radius: 4px; padding: 1px 7px; }}
    QPushButton[blank="true"]:hover, QPushButton[blank="true"]:focus {{ border: 1px solid {c.route}; }}
    QPushButton[blank="true"][missing="true"] {{ background: {c.broken_wash}; color: {c.broken}; }}
    QPushButton[blank="true"][testing="true"] {{ border: 1px dashed {c.suspicious}; color: {c.suspicious};
        background: {c.suspicious_wash}; }}
    QPushButton[tool="true"] {{ padding: 4px 11px; }}
    QPushButton[tool="true"]:checked {{ background: {c.route_wash}; border: 2px solid {c.route}; color: {c.ink};
        padding: 3px 10px; }}
    QPushButton[face="true"] {{ background: transparent; border: none; border-radius: 0; padding: 5px 12px;
        color: {c.dim}; }}
    QPushButton[face="true"]:checked {{ color: {c.ink}; border-bottom: 3px solid {c.sound}; }}
    QPushButton[face="true"]:focus {{ color: {c.route}; }}
    QLabel[wrong="true"] {{ color: {c.broken}; }}
    QLabel[dim="true"] {{ color: {c.dim}; }}
    QPushButton[notice="true"] {{ background: {c.broken_wash}; color: {c.broken}; border: 1px solid {c.broken};
        border-radius: 5px; padding: 2px 9px; text-align: left; }}
    QCheckBox {{ spacing: 7px; }}
    QTableView {{ background: {c.card}; gridline-color: {c.line}; border: none; }}
    QHeaderView::section {{ background: {c.panel}; color: {c.dim}; border: none; border-right: 1px solid {c.line};
        border-bottom: 1px solid {c.line}; padding: 4px 8px; }}
    QScrollArea {{ border: none; background: transparent; }}
    QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }}
    QScrollBar:horizontal {{ background: transparent; height: 10px; margin: 0; }}
    QScrollBar::handle {{ background: {c.stone}; border-radius: 4px; min-height: 24px; min-width: 24px;
        margin: 1px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
    QSplitter::handle {{ background: {c.line}; }}
    #picker {{ background: {c.panel}; border: 1px solid {c.route}; border-radius: 6px; }}
    QDialog {{ background: {c.panel}; }}
    """
