"""Faces that are lists of sentences: the game, values for testing, patterns."""

from collections.abc import Callable, Sequence
from functools import partial
from json import dumps, loads
from typing import Any

from PyQt6.QtWidgets import QFrame, QScrollArea, QVBoxLayout, QWidget

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.game import GameSentence
from mossy_bridge.desk.sentences.sentence import Sentence
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.widgets.flow_layout import FlowingLayout
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.link import Link
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.exchange.validation import field_problem, struct_fields
from mossy_bridge.exchange.writing import tree_of
from mossy_bridge.language.numbers import number_text
from mossy_bridge.model.addresses import long_title, place_exists, value_at
from mossy_bridge.model.edits.levels import PATTERN
from mossy_bridge.model.edits.patterns import overridden
from mossy_bridge.model.flow import Flow, TrialSetting, Value

Deed = tuple[str, Callable[[], object]]
"""What a link says and does."""


class ListFace(QScrollArea):
    """One sentence a line, each with links behind it. Subclasses fill it."""

    def __init__(self, name: str, help_line: str):
        super().__init__()
        self._help = help_line
        self.setWidgetResizable(True)
        self.setAccessibleName(name)
        given(self.viewport()).setAutoFillBackground(False)
        self._content = QWidget()
        self._layout = QVBoxLayout(self._content)
        body = QWidget()
        self._body = QVBoxLayout(body)
        self._body.setContentsMargins(0, 0, 0, 0)
        self.setWidget(body)
        body.setAutoFillBackground(False)  # adopting it, the scroll area has turned it on
        self._begin()

    def _begin(self) -> None:
        """Begins to list anew. What stood there is let go of later: the click being answered may have been on it."""
        self._body.removeWidget(self._content)
        self._content.hide()
        self._content.deleteLater()
        self._content = QWidget()
        self._body.addWidget(self._content)
        self._content.show()
        self._layout = QVBoxLayout(self._content)
        self._layout.setContentsMargins(16, 10, 16, 10)
        self._layout.setSpacing(6)
        help_line = Label(self._help)
        help_line.setWordWrap(True)
        self._layout.addWidget(help_line)

    def _heading(self, text: str) -> None:
        self._layout.addSpacing(6)
        self._layout.addWidget(_label(text, bold=True))

    def _line(self, text: str, links: Sequence[Deed] = (), bold: bool = False) -> None:
        row = QWidget()
        words = FlowingLayout(row, gap=10, line_gap=2)
        words.setContentsMargins(0, 0, 0, 0)
        if text:
            words.addWidget(_label(text, bold))
        for shown, run in links:
            link = Link(shown)
            link.clicked.connect(lambda _, run=run: run())
            words.addWidget(link)
        self._layout.addWidget(row)

    def _framed(self, sentence: Sentence) -> None:
        frame = QFrame()
        frame.setObjectName("row")
        inside = QVBoxLayout(frame)
        inside.setContentsMargins(0, 3, 0, 3)
        inside.addWidget(sentence)
        self._layout.addWidget(frame)

    def _end(self, nothing: str = "") -> None:
        if nothing:
            label = Label(nothing)
            label.setWordWrap(True)
            self._layout.addWidget(label)
        self._layout.addStretch(1)


def _label(text: str, bold: bool) -> Label:
    label = Label(text)
    font = label.font()
    font.setBold(bold)
    label.setFont(font)
    return label


class GameFace(ListFace):
    """Says what holds for the whole game."""

    title, tip = "Game", "What holds for the whole game"
    follows_survey = False

    def __init__(self, requests: Requests, person: Person):
        super().__init__("Game", "What holds for the whole game.")
        self.sentences = [GameSentence(name, requests, person) for name in
                          ("The game", "Plans", "The walker", "Actors and endings", "Limits")]  # fmt: skip
        for sentence in self.sentences:
            self._framed(sentence)
        self._end()

    def show_flow(self, flow: Flow, _result: Appraisal | None = None) -> None:
        """Shows another flow."""
        game, plans, walker, actors, limits = self.sentences
        game.say_game(flow)
        plans.say_plans(flow)
        walker.say_walker(flow)
        actors.say_actors(flow)
        limits.say_limits(flow)


class TestingFace(ListFace):
    """Lists every value that is for testing only, with the one to deliver beside it."""

    __test__ = False

    title, tip = "For testing", "Values that are not to be delivered"
    follows_survey = False

    def __init__(self, requests: Requests, selection: Selection):
        super().__init__("For testing", "Values tried for the time being, and what is delivered instead of each. "
                         "A right click on any blank of a sentence keeps its value for delivery.")  # fmt: skip
        self._requests, self._selection = requests, selection
        self.sentences: list[Sentence] = []

    def show_flow(self, flow: Flow, _result: Appraisal | None = None) -> None:
        """Shows another flow."""
        self._begin()
        self.sentences = []
        for setting in flow.trial_settings:
            say = Sentence("Value for testing")
            self._say(say, flow, setting.at, setting.ships_as, setting.why)
            self.sentences.append(say)
            self._framed(say)
        self._end(
            "" if flow.trial_settings else "Nothing is set for testing only: the flow is as it will be delivered."
        )

    def _say(self, say: Sentence, flow: Flow, at: str, ships_as: Any, why: str) -> None:
        upkeep = self._requests.upkeep
        say.begin(flow)
        known = place_exists(flow, at)
        now = _shown(tree_of(value_at(flow, at))) if known else "nothing"
        say.toggle("the place", long_title(flow, at), lambda: self._show(at))
        say.text(f"is {now} for testing; delivered is")
        say.type_text("the value to deliver", _shown(ships_as), _shown(ships_as),
                      lambda text: upkeep.set_ships_as(at, _value(text, ships_as), why),
                      lambda text: _cannot_stand(flow, at, _value(text, ships_as)))  # fmt: skip
        say.text(", because")
        say.type_text("the reason", why or "no reason given", why, lambda text: upkeep.set_ships_as(at, ships_as, text),
                      (TrialSetting, "why"))  # fmt: skip
        say.text(".")
        say.toggle("put back", "Put back what is delivered", lambda: upkeep.put_back(at))
        say.toggle("keep", "Deliver the value tried", lambda: upkeep.keep_test_value(at))
        say.finish()

    def _show(self, at: str) -> None:
        steps = at.split(".")
        if steps[0] == "levels" and len(steps) > 1:
            self._selection.select(steps[1], steps[3] if len(steps) > 3 and steps[2] == "exits" else "")


def _cannot_stand(flow: Flow, at: str, value: Any) -> str:
    """Why a value cannot be delivered at a place; "" where it can."""
    problem = field_problem(value, TrialSetting, "ships_as")
    whose, _, field = at.rpartition(".")
    owner = value_at(flow, whose) if whose and place_exists(flow, at) else flow
    fits = not problem and isinstance(owner, Value) and field in struct_fields(type(owner))
    return field_problem(value, type(owner), field) if fits else problem


def _shown(value: Any) -> str:
    if isinstance(value, float) and abs(value) < 1e15:
        return number_text(value)
    return value if isinstance(value, str) else dumps(value, ensure_ascii=False)


def _value(text: str, before: Any) -> Any:
    """What was typed: of the kind that stood there before; text where it is no other value."""
    if isinstance(before, str):
        return text
    try:
        return loads(text)
    except (ValueError, RecursionError):
        return text


class PatternsFace(ListFace):
    """Lists the patterns and the levels that follow them."""

    title, tip = "Patterns", "Model levels and what follows them"
    follows_survey = False

    def __init__(self, requests: Requests, selection: Selection, person: Person):
        super().__init__("Patterns", "Model levels. Whatever is changed in a pattern changes in every level based on "
                         "it, but for what that level sets itself.")  # fmt: skip
        self._requests, self._selection, self._person = requests, selection, person

    def show_flow(self, flow: Flow, _result: Appraisal | None = None) -> None:
        """Shows another flow."""
        self._begin()
        self._line("", [("Make a pattern from the selected level…", self._make)])
        for pattern in flow.patterns:
            key = PATTERN + pattern.id
            self._heading(pattern.name or pattern.id)
            followers = [level for level in flow.levels if level.pattern == pattern.id]
            links = [("Show it", partial(self._selection.select, key)),
                     ("Remove it", partial(self._requests.upkeep.remove_pattern, key))]  # fmt: skip
            self._line(f"{len(followers)} levels follow it", links)
            for level in followers:
                own = overridden(flow, level.id)
                told = ", ".join(dict.fromkeys(thing or field for field, thing in own)) or "nothing"
                self._line(f"{level.code} {level.title} sets itself: {told}",
                           [("Show", partial(self._selection.select, level.id))])  # fmt: skip
        self._end("" if flow.patterns else "There are no patterns yet.")

    def _make(self) -> None:
        level = self._selection.level_id
        if not level or level.startswith(PATTERN):
            self._person.tell("New pattern", "Choose the level first that the pattern is to be made from.")
            return
        name = self._person.ask("New pattern", "What is it called?")
        if name:
            self._requests.upkeep.make_pattern(name)
