"""Context menus: of a level, and of a region."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMenu

from mossy_bridge.desk.shell.actions import Actions
from mossy_bridge.desk.shell.desk_parts import DeskParts
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.model.flow import Tint

LEVEL_ACTIONS = (
    "new_level", "new_screen", "duplicate", "insert", "", "new_exit", "join", "plan", "", "move_left", "move_right",
    "region_new", "", "start_here", "rename", "cut", "copy", "paste", "", "remove",
)  # fmt: skip
TINTS: tuple[tuple[Tint, str], ...] = (
    ("", "None"), ("reed", "Reed"), ("tide", "Tide"), ("sand", "Sand"), ("heather", "Heather"), ("clay", "Clay"),
    ("slate", "Slate"),
)  # fmt: skip


def level_menu(window: DeskParts, actions: Actions) -> QMenu:
    """What can be done with the selected levels."""
    menu = _menu(window)
    actions.refresh()
    for name in LEVEL_ACTIONS:
        if name:
            menu.addAction(actions.made[name])
        else:
            menu.addSeparator()
    flow, requests = window.document.flow, window.requests.levels
    regions = menu.addMenu("Move to region")
    for region in flow.regions:
        chosen = window.selection.levels
        given(given(regions).addAction(region.name or region.id)).triggered.connect(
            lambda _, r=region.id, c=chosen: requests.set_all(c, region=r)
        )
    given(regions).setEnabled(bool(flow.regions))
    return menu


def region_menu(window: DeskParts, region: str) -> QMenu:
    """What can be done with a region."""
    menu = _menu(window)
    requests, person = window.requests.levels, window.person
    name = next((r.name or r.id for r in window.document.flow.regions if r.id == region), region)

    def rename() -> None:
        text = person.ask("Rename the region", f"What is {name} called instead?")
        if text:
            requests.rename_region(region, text)

    def renumber() -> None:
        text = person.ask("Renumber", f"The first code of {name} (such as 2-1); the others follow")
        if text:
            requests.renumber(region, text)

    def select() -> None:
        members = [level.id for level in window.document.flow.levels if level.region == region]
        window.selection.select_levels(members, members[0])

    given(menu.addAction("Select all its levels")).triggered.connect(select)
    given(menu.addAction("Fold or open")).triggered.connect(lambda: window.strip.toggle_region(region))
    menu.addSeparator()
    given(menu.addAction("Rename…")).triggered.connect(rename)
    given(menu.addAction("Renumber its codes…")).triggered.connect(renumber)
    tints = menu.addMenu("Tint")
    for tint, words in TINTS:
        given(given(tints).addAction(words)).triggered.connect(lambda _, t=tint: requests.tint_region(region, t))
    menu.addSeparator()
    given(menu.addAction("Remove the region, keep its levels")).triggered.connect(
        lambda: requests.remove_region(region)
    )
    return menu


def _menu(window: DeskParts) -> QMenu:
    menu = QMenu(window.widget)
    menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    return menu
