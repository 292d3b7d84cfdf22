"""The style sheet: how the standard widgets look in the theme's colours."""

from mossy_bridge.desk.widgets.colours import Colours


def style_sheet(c: Colours) -> str:
    """The whole sheet, in some colours."""
    return "".join(part(c) for part in (_menus, _fields, _buttons, _lists))


def _menus(c: Colours) -> str:
    """Menus, tips and dialogs."""
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
    #picker {{ background: {c.panel}; border: 1px solid {c.route}; border-radius: 6px; }}
    QDialog {{ background: {c.panel}; }}
    QDialogButtonBox {{ dialogbuttonbox-buttons-have-icons: 0; }}
    """


def _fields(c: Colours) -> str:
    """What is typed in and ticked, and words beside it."""
    return f"""
    QLineEdit, QComboBox, QSpinBox, QPlainTextEdit {{ background: {c.card}; color: {c.ink}; border: 1px solid {c.line};
        border-radius: 5px; padding: 3px 7px; selection-background-color: {c.route}; }}
    QLineEdit:focus, QComboBox:focus, QSpinBox:focus {{ border: 2px solid {c.route}; padding: 2px 6px; }}
    QLineEdit[wrong="true"], QLineEdit[wrong="true"]:focus {{ border: 2px solid {c.broken}; padding: 2px 6px; }}
    QComboBox::drop-down {{ border: none; width: 18px; }}
    QComboBox QAbstractItemView {{ background: {c.card}; color: {c.ink}; border: 1px solid {c.line};
        selection-background-color: {c.route_wash}; selection-color: {c.ink}; }}
    QLabel[wrong="true"] {{ color: {c.broken}; }}
    QLabel[dim="true"] {{ color: {c.dim}; }}
    QCheckBox {{ spacing: 7px; }}
    """


def _buttons(c: Colours) -> str:
    """Buttons: plain, leading, links, blanks of sentences, tools and faces."""
    return f"""
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
    QPushButton[listening="true"] {{ background: {c.broken_wash}; color: {c.broken}; border-color: {c.broken}; }}
    QPushButton[face="true"] {{ background: transparent; border: none; border-radius: 0; padding: 5px 12px;
        border-bottom: 3px solid transparent;
        color: {c.dim}; }}
    QPushButton[face="true"]:checked {{ color: {c.ink}; border-bottom: 3px solid {c.sound}; }}
    QPushButton[face="true"]:focus {{ color: {c.route}; }}
    QPushButton[notice="true"] {{ background: {c.broken_wash}; color: {c.broken}; border: 1px solid {c.broken};
        border-radius: 5px; padding: 2px 9px; text-align: left; }}
    """


def _lists(c: Colours) -> str:
    """Lists, tables and what scrolls them."""
    return f"""
    QListWidget {{ background: {c.card}; color: {c.ink}; border: 1px solid {c.line}; border-radius: 5px; }}
    QListWidget::item {{ padding: 4px 7px; }}
    QTreeView {{ background: {c.card}; color: {c.ink}; border: 1px solid {c.line}; border-radius: 5px; }}
    QTreeView::item {{ padding: 3px 2px; }}
    QTreeView::item:selected {{ background: {c.route_wash}; color: {c.ink}; }}
    QListWidget::item:selected {{ background: {c.route_wash}; color: {c.ink}; }}
    QTableView {{ background: {c.card}; gridline-color: {c.line}; border: none; }}
    QTableView::item:selected {{ background: {c.route_wash}; color: {c.ink}; }}
    QHeaderView::section {{ background: {c.panel}; color: {c.dim}; border: none; border-right: 1px solid {c.line};
        border-bottom: 1px solid {c.line}; padding: 4px 8px; }}
    QTabWidget::pane {{ border: none; border-top: 1px solid {c.line}; }}
    QTabBar::tab {{ background: transparent; color: {c.dim}; border: none; border-bottom: 3px solid transparent;
        padding: 5px 12px; }}
    QTabBar::tab:selected {{ color: {c.ink}; border-bottom: 3px solid {c.sound}; }}
    QTabBar::tab:focus {{ color: {c.route}; }}
    QScrollArea {{ border: none; background: transparent; }}
    QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }}
    QScrollBar:horizontal {{ background: transparent; height: 10px; margin: 0; }}
    QScrollBar::handle {{ background: {c.stone}; border-radius: 4px; min-height: 24px; min-width: 24px;
        margin: 1px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
    QSplitter::handle {{ background: {c.line}; }}
    """
