"""The bench for several levels or crossings: what they have in common, changed for all at once."""

from collections.abc import Sequence
from typing import Any

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.crossing import TRIGGER_WORDS, actors_text
from mossy_bridge.desk.sentences.popups import Choice
from mossy_bridge.desk.sentences.sentence import Sentence
from mossy_bridge.desk.sentences.things import STATUSES, told
from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.language.numbers import enumerated
from mossy_bridge.model.edits.levels import whole
from mossy_bridge.model.flow import PLAYER, Exit, Flow, Level

DIFFER = "of several kinds"
MOST_NAMES = 40
"""So many levels or crossings are named; of others only how many."""


def common(values: Sequence[Any]) -> Any:
    """The value all have, or None."""
    return values[0] if values and all(value == values[0] for value in values) else None


class SeveralBench(QWidget):
    """Shows several levels, or several crossings."""

    def __init__(self, requests: Requests):
        super().__init__()
        self._requests = requests
        self._title, self._list = Label(), Label()
        self._list.setWordWrap(True)
        self.levels = Sentence("Several levels")
        self.crossings = Sentence("Several crossings")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(16, 12, 16, 10)
        layout.setSpacing(8)
        for widget in (self._title, self.levels, self.crossings, self._list):
            layout.addWidget(widget)
        layout.addStretch(1)

    def show_levels(self, flow: Flow, level_ids: Sequence[str]) -> None:
        """Shows several levels, and all their exits."""
        levels = [level for name in level_ids if (level := whole(flow, name))]
        self._say_title(f"{len(levels)} levels")
        self._say_levels(flow, list(level_ids), levels)
        crossings = [(level.id, exit_.id) for level in levels for exit_ in level.exits]
        self._say_crossings(flow, crossings, [exit_ for level in levels for exit_ in level.exits], "Their exits")
        self._list.setText(enumerated([level.title for level in levels], MOST_NAMES))

    def show_crossings(self, flow: Flow, crossings: Sequence[tuple[str, str]]) -> None:
        """Shows several crossings."""
        found = [(lv, e) for lv, name in crossings if (w := whole(flow, lv)) and (e := w.exit(name))]
        self._say_title(f"{len(found)} crossings")
        self.levels.hide()
        self._say_crossings(flow, list(crossings), [exit_ for _, exit_ in found], "They")
        titles = {name: level.title for name, _ in found if (level := flow.level(name))}
        self._list.setText(enumerated([f"{titles.get(lv, lv)}: {e.name or e.id}" for lv, e in found], MOST_NAMES))

    def _say_title(self, text: str) -> None:
        self._title.setText(text)
        font = self.font()
        font.setPointSizeF(font.pointSizeF() + 2)
        font.setBold(True)
        self._title.setFont(font)

    def _say_levels(self, flow: Flow, names: list[str], levels: list[Level]) -> None:
        say, requests = self.levels, self._requests.levels
        say.begin(flow)
        regions = [Choice("", "no region"), *(Choice(r.id, r.name or r.id) for r in flow.regions)]
        region, ships = common([lv.region for lv in levels]), common([lv.ships for lv in levels])
        status = common([lv.status for lv in levels])
        say.text("They stand in")
        say.pick("the region", DIFFER.replace("kinds", "regions") if region is None else told(regions, region), regions,
                 region or "", lambda name: requests.set_all(names, region=name))  # fmt: skip
        say.text(",")
        ways = [Choice("yes", "ship"), Choice("no", "do not ship")]
        shown = "ship or not" if ships is None else told(ways, "yes" if ships else "no")
        say.pick("whether they ship", shown, ways, "", lambda name: requests.set_all(names, ships=name == "yes"))
        say.text("and are")
        say.pick("the status", status or DIFFER, STATUSES, status or "",
                 lambda name: requests.set_all(names, status=name))  # fmt: skip
        patterns = [Choice("", "no pattern"), *(Choice(p.id, p.name or p.id) for p in flow.patterns)]
        pattern = common([lv.pattern for lv in levels])
        say.text("; based on")
        say.pick("the pattern", DIFFER if pattern is None else told(patterns, pattern), patterns, pattern or "",
                 self._requests.upkeep.base_on)  # fmt: skip
        say.text(".")
        say.finish()
        say.show()

    def _say_crossings(self, flow: Flow, crossings: list[tuple[str, str]], exits: list[Exit], who: str) -> None:
        say, requests = self.crossings, self._requests.crossings
        say.begin(flow)
        say.setVisible(bool(exits))
        if not exits:
            return
        transitions = [Choice("", "at once, no transition"), *(Choice(t.id, t.name or t.id) for t in flow.transitions)]
        transition = common([exit_.transition for exit_ in exits])
        by, kind = common([e.trigger.by for e in exits]), common([e.trigger.kind for e in exits])
        say.text(f"{who} are set off by")
        actors = [Choice(name, "the player" if name == PLAYER else name) for name in flow.actors]
        say.tick("who sets them off", DIFFER if by is None else actors_text(by), actors, by or (),
                 lambda names: requests.set_all_triggers("who sets off", crossings, by=names))  # fmt: skip
        say.text("who")
        kinds = [Choice(name, words) for name, words in TRIGGER_WORDS.items()]
        say.pick("what sets them off", DIFFER if kind is None else TRIGGER_WORDS[kind], kinds, kind or "",
                 lambda name: requests.set_all_triggers("what sets off", crossings, kind=name))  # fmt: skip
        say.text("; then")
        say.pick(
            "the transition",
            DIFFER if transition is None else told(transitions, transition),
            transitions,
            transition or "",
            lambda name: requests.set_all("the transition", crossings, transition=name),
        )
        say.text(".")
        say.finish()
