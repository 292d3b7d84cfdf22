"""A rule as a sentence: plain words, and blanks that can be filled anew."""

import json
from collections.abc import Callable, Mapping, Sequence
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QSizePolicy, QWidget

from mossy_bridge.desk.requests.upkeep import UpkeepRequests
from mossy_bridge.desk.sentences.blank import Blank, ForTesting
from mossy_bridge.desk.sentences.popups import Choice, Picker, Ticker, Typing, Wordsmith
from mossy_bridge.desk.widgets.flow_layout import FlowingLayout
from mossy_bridge.desk.widgets.given import given
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.exchange.rereading import cleaned
from mossy_bridge.exchange.validation import field_problem
from mossy_bridge.language.numbers import number_in, number_text
from mossy_bridge.model.flow import Flow, Value

Field = tuple[type[Value], str]
"""A class of the flow's values, and one of its fields."""


def _wrong_text(of: Field, text: str) -> str:
    return _as_sentence(field_problem(cleaned(text.strip()), *of))


def wrong_number(of: Field, text: str) -> str:
    """Why what was typed cannot stand in a number's field; "" where it can."""
    value = number_in(text)
    return "This should be a number" if value is None else _as_sentence(field_problem(value, *of))


def _as_sentence(text: str) -> str:
    return text[:1].upper() + text[1:]


class Sentence(QWidget):
    """Words in lines. Subclasses say something; the blank used last keeps the keyboard when it is said anew."""

    def __init__(self, name: str, upkeep: UpkeepRequests | None = None):
        super().__init__()
        self._upkeep = upkeep
        self._used_last = ""
        self._flow = Flow()
        self._settings: dict[str, Any] = {}
        self._said = 0
        self._words = FlowingLayout(self)
        self._words.setContentsMargins(0, 0, 0, 0)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self.setAccessibleName(name)

    def begin(self, flow: Flow) -> None:
        """Begins to say something. Words and blanks said before are used again as far as they fit: making them
        anew takes longer than all else."""
        self._flow = flow
        self._settings = {setting.at: setting.ships_as for setting in flow.trial_settings}
        self._said = 0

    def finish(self) -> None:
        """All is said."""
        self._words.drop_from(self._said)
        self._words.invalidate()
        self.updateGeometry()
        for blank in self.blanks():
            if blank.what == self._used_last:
                blank.setFocus()
        self._used_last = ""

    def blanks(self) -> list[Blank]:
        """The blanks in their order."""
        widgets = [given(self._words.itemAt(index)).widget() for index in range(self._words.count())]
        return [widget for widget in widgets if isinstance(widget, Blank)]

    # -- words -----------------------------------------------------------------------------------------

    def text(self, text: str, strong: bool = False) -> None:
        """Plain words. A mark at their beginning stands close behind the word before, and never opens a line."""
        if text[0] in ",;." and len(text) > 1:
            self.text(text[0])
            text = text[1:].strip()
        label = self._next(Label)
        label.setText(text)
        if label.font().bold() != strong:
            font = label.font()
            font.setBold(strong)
            label.setFont(font)
        label.setProperty("closes", text[0] in ",;.")

    def _next(self, kind: type[Any]) -> Any:
        """The widget for the next word: the one that stands there, if it is of the kind, or a new one."""
        item = self._words.itemAt(self._said)
        if item is None or type(item.widget()) is not kind:
            self._words.drop_from(self._said)
            widget = kind()
            self._words.addWidget(widget)
            widget.show()
        self._said += 1
        return given(self._words.itemAt(self._said - 1)).widget()

    def pick(
        self,
        what: str,
        text: str,
        choices: Sequence[Choice] | Callable[[], Sequence[Choice]],
        present: str,
        picked: Callable[[str], object],
        missing: bool = False,
        at: str = "",
        offers: Sequence[tuple[str, Callable[[], object]]] = (),
    ) -> None:
        """A blank with a list to pick from; ``offers`` stand below it, such as “new level…”."""

        def make(parent: QWidget) -> Picker:
            listed = [Choice(str(index), offer[0]) for index, offer in enumerate(offers)]
            popup = Picker(parent, choices() if callable(choices) else choices, present, listed)
            popup.picked.connect(lambda name: self._fill(what, picked, name))
            popup.offered.connect(lambda index: self._fill(what, lambda _: offers[int(index)][1](), index))
            return popup

        self._add(what, text, make, missing, at)

    def tick(
        self, what: str, text: str, choices: Sequence[Choice], present: Sequence[str],
        ticked: Callable[[tuple[str, ...]], object], missing: bool = False, at: str = "",
    ) -> None:  # fmt: skip
        """A blank with a list of which several can be ticked."""

        def make(parent: QWidget) -> Ticker:
            popup = Ticker(parent, choices, present)
            popup.ticked.connect(lambda names: self._fill(what, ticked, names))
            return popup

        self._add(what, text, make, missing, at)

    def type_text(
        self, what: str, shown: str, text: str, typed: Callable[[str], object],
        of: Field | Callable[[str], str], missing: bool = False, at: str = "",
    ) -> None:  # fmt: skip
        """A blank with a line to type in. It refuses what cannot stand in the field ``of`` a class, or what that says
        is wrong."""

        def make(parent: QWidget) -> Typing:
            popup = Typing(parent, text, of if callable(of) else partial(_wrong_text, of))
            popup.typed.connect(lambda new: self._fill(what, typed, new) if new != text else None)
            return popup

        self._add(what, shown, make, missing, at)

    def type_number(
        self, what: str, shown: str, number: float, typed: Callable[[Any], object], of: Field, at: str = ""
    ) -> None:
        """A blank with a number to type, such as can stand in the field ``of`` a class."""

        def take(text: str) -> object:
            return typed(number_in(text))

        self.type_text(what, shown, number_text(number), take, partial(wrong_number, of), at=at)

    def condition(
        self, what: str, shown: str, text: str, typed: Callable[[str], object], wrong: bool = False, at: str = ""
    ) -> None:
        """A blank for a condition."""
        self._wordsmith(what, shown, text if text != "always" else "", typed, wrong, at, effects=False)

    def effects(
        self, what: str, shown: str, effects: Sequence[str], typed: Callable[[tuple[str, ...]], object], at: str = ""
    ) -> None:
        """A blank for effects."""

        def take(text: str) -> object:
            return typed(tuple(part.strip() for part in text.split(",") if part.strip()))

        self._wordsmith(what, shown, ", ".join(effects), take, False, at, effects=True)

    def _wordsmith(
        self, what: str, shown: str, text: str, typed: Callable[[str], object], wrong: bool, at: str, effects: bool
    ) -> None:
        def make(parent: QWidget) -> Wordsmith:
            steps = at.split(".")
            level = steps[1] if steps[0] == "levels" and len(steps) > 1 else ""
            condition_query = self._upkeep.condition_query if self._upkeep else None
            popup = Wordsmith(parent, self._flow, text, effects, condition_query, level)
            popup.typed.connect(lambda new: self._fill(what, typed, new))
            return popup

        self._add(what, shown, make, wrong, at)

    def toggle(self, what: str, shown: str, toggled: Callable[[], object], at: str = "") -> None:
        """A blank that turns from one to the other."""
        self._add(what, shown, None, False, at, lambda: self._fill(what, lambda _: toggled(), None))

    def _add(
        self,
        what: str,
        text: str,
        make: Callable[[QWidget], Any] | None,
        missing: bool,
        at: str,
        turn: Callable[[], object] | None = None,
    ) -> None:
        self._next(Blank).fill(what, text, make, turn, missing, self._testing(at))

    def _testing(self, at: str) -> ForTesting | None:
        return testing_of(self._upkeep, at, self._settings) if at and self._upkeep else None

    def _fill(self, what: str, take: Callable[[Any], object], value: Any) -> None:
        self._used_last = what
        take(value)


def testing_of(upkeep: UpkeepRequests, at: str, settings: Mapping[str, Any]) -> ForTesting:
    """What can be asked of the value at a long place; ``settings`` are the values to deliver, by place."""
    told = settings.get(at)
    shown = None
    if at in settings:
        shown = told if isinstance(told, str) else json.dumps(told, ensure_ascii=False)
    return ForTesting(at, shown, upkeep.for_testing, upkeep.keep_test_value, upkeep.put_back)
