"""What menus do with several parts of the window together."""

from PyQt6.QtCore import QPoint

from mossy_bridge.desk.sentences.popups import Popup
from mossy_bridge.desk.shell.about import ABOUT
from mossy_bridge.desk.shell.desk_parts import DeskParts
from mossy_bridge.desk.shell.find_box import FindBox
from mossy_bridge.model.patterns import resolved

BELOW_BAR = 8
"""Pixels between the upper edge of the faces and a box that is opened there."""


def open_over_faces(w: DeskParts, box: Popup) -> None:
    """Opens a box in the middle of the upper edge of the faces."""
    box.open_at(w.faces.mapToGlobal(QPoint(w.faces.width() // 2 - box.width() // 2, BELOW_BAR)))


def find(w: DeskParts) -> FindBox:
    """Opens the line to find things by."""
    box = FindBox(w.widget, resolved(w.document.flow))
    box.chosen.connect(w.navigation.show_place)
    open_over_faces(w, box)
    return box


def join(w: DeskParts) -> None:
    """Joins two selected levels there and back; with one selected, asks which other."""
    chosen = [name for name in w.selection.levels if w.document.flow.level(name)]
    if len(chosen) == 2:
        w.requests.crossings.there_and_back(chosen[0], chosen[1])
    elif len(chosen) == 1:
        box = FindBox(w.widget, resolved(w.document.flow))
        box.chosen.connect(lambda other, *_: w.requests.crossings.there_and_back(chosen[0], other))
        open_over_faces(w, box)
    else:
        w.person.tell("Join there and back", "Choose one level, or two, to join there and back.")


def new_region(w: DeskParts) -> None:
    """Makes a region of the selected levels."""
    name = w.person.ask("New region", "What is it called?")
    if name:
        w.requests.levels.new_region(name)


def fold_survey(w: DeskParts) -> None:
    """Folds the survey column away, or out again."""
    w.survey_column.fold(not w.survey_column.is_folded)


def tell_happenings(w: DeskParts) -> None:
    """Shows what the program has noted of its own doings."""
    if w.kept_in:
        w.person.what_happened(w.kept_in)


def about(w: DeskParts) -> None:
    """Says what this is."""
    w.person.tell("About Mossy Bridge", ABOUT)
