"""Joins the outline to the window: choosing a line selects what it stands for, and back."""

from collections.abc import Callable, Iterator, Sequence

from PyQt6.QtWidgets import QApplication, QWidget

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.appraisal.standing import Standing
from mossy_bridge.desk.outline.panel import OutlinePanel
from mossy_bridge.desk.outline.rows import OutlineRow, board_rows, map_rows, order_rows, plan_rows, transition_rows
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.model.edits.levels import whole
from mossy_bridge.model.flow import Level, Transition
from mossy_bridge.model.patterns import resolved

ORDER, MAP, PLAN, TRANSITION, BOARD = "Order strip", "Map", "Plan", "Transition", "Board"


class Outline:
    """The outline of one window. ``result`` gives the latest appraisal, ``choose_step`` chooses a step on the deck."""

    def __init__(
        self, document: Document, selection: Selection, result: Callable[[], Appraisal | None],
        choose_step: Callable[[int], object],
    ):  # fmt: skip
        self._document, self._selection, self._result = document, selection, result
        self._choose_step = choose_step
        self.views: Sequence[tuple[QWidget, str]] = ()
        """The parts of the window, and which view each is; the last gets the keyboard back."""
        self.panel = OutlinePanel({
            ORDER: self._order,
            MAP: self._map,
            PLAN: lambda: plan_rows(self._document.flow, self._level),
            TRANSITION: lambda: transition_rows(self._transition),
            BOARD: lambda: board_rows(resolved(self._document.flow), self._level),
        })  # fmt: skip
        self.panel.list.chosen.connect(self._on_chosen)
        document.changed.connect(self.refresh)
        document.opened.connect(self.refresh)
        selection.changed.connect(self._on_selected)

    def toggle(self) -> None:
        """Lists the view that has the keyboard, or puts the list away."""
        panel, focused = self.panel, QApplication.focusWidget()
        if panel.isVisible():
            panel.hide()
            self.views[-1][0].setFocus()
            return
        panel.show()
        panel.show_view(next((name for part, name in self.views if _within(part, focused)), MAP))
        panel.refresh()
        self.follow()
        panel.list.setFocus()

    def refresh(self, *_: object) -> None:
        """Lists what has changed."""
        self.panel.refresh()

    def _standing(self) -> Standing:
        result = self._result()
        return result.standing if result else Standing()

    def _order(self) -> Iterator[OutlineRow]:
        return order_rows(resolved(self._document.flow), self._standing())

    def _map(self) -> Iterator[OutlineRow]:
        return map_rows(resolved(self._document.flow), self._result(), self._standing())

    @property
    def _level(self) -> Level | None:
        return whole(self._document.flow, self._selection.level_id)

    @property
    def _transition(self) -> Transition | None:
        exit_ = self._selection.exit(self._document.flow)
        return self._document.flow.transition(exit_.transition) if exit_ else None

    def _on_chosen(self, row: OutlineRow) -> None:
        if row.step >= 0:
            self._choose_step(row.step)
        elif row.level and row.part:
            self._selection.select_parts(row.level, [row.part])
        elif row.level:
            self._selection.select(row.level)

    def _on_selected(self) -> None:
        if self.panel.shown not in (ORDER, MAP):
            self.panel.refresh()
        self.follow()

    def follow(self) -> None:
        """Goes to the line of what is selected."""
        parts = self._selection.parts
        self.panel.point_at(self._selection.level_id, parts[0].name if len(parts) == 1 else "")


def _within(part: QWidget, widget: QWidget | None) -> bool:
    return widget is not None and (part is widget or part.isAncestorOf(widget))
