"""Two versions of a flow compared: what was changed, what that does to verdicts and findings, where exits lead now, and
which saved games can no longer be resumed."""

from collections.abc import Callable, Iterator
from typing import Any

from msgspec import Struct

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.appraisal.saved_games import SavedGame, saved_games
from mossy_bridge.checks.finding import Finding
from mossy_bridge.exchange.merging.changes import VersionChange, changes
from mossy_bridge.exchange.merging.wording import ChangeWording
from mossy_bridge.exchange.writing import tree_of
from mossy_bridge.model.addresses import title_of
from mossy_bridge.model.flow import Destination, Flow
from mossy_bridge.model.sequence import neighbours
from mossy_bridge.reach.survey.result import Survey

USED = ("can be used", "can never be used")
ANSWERS = {
    "level": ("reached", "never reached"), "exit": USED, "deed": USED, "path": USED, "tile": USED,
    "ending": ("reachable", "not reachable"), "promise": ("kept", "broken"), "walk": ("works", "does not work"),
}  # fmt: skip
"""What *yes* and *no* mean of each kind of thing."""


class ToldChange(Struct, frozen=True):
    """A change, and how it is told."""

    change: VersionChange
    words: str


class VerdictChange(Struct, frozen=True):
    """What is another verdict now; "" where there was, or is, none. ``at`` says what it is about: ``level slipway``."""

    at: str
    old: str
    new: str
    words: str
    """The same, things by their names."""


class LeadChange(Struct, frozen=True):
    """An exit that leads elsewhere though it was not changed: the levels that *next* or *previous* mean."""

    exit: str
    old: str
    new: str


class VersionComparison(Struct, frozen=True):
    """All of it."""

    changes: tuple[ToldChange, ...]
    came: tuple[Finding, ...]
    went: tuple[Finding, ...]
    verdicts: tuple[VerdictChange, ...]
    leads: tuple[LeadChange, ...]
    saved_games: tuple[SavedGame, ...]

    @property
    def loses(self) -> bool:
        """Whether something that was reached, held or could be resumed no longer is."""
        lost = any((one.old, one.new) == ("yes", "no") for one in self.verdicts)
        return lost or any(game.resumes == "no" for game in self.saved_games)


def compare(old: Appraisal, new: Appraisal, cancelled: Callable[[], bool] = lambda: False) -> VersionComparison:
    """Compares two versions."""
    before, after = {_key(one): one for one in old.findings}, {_key(one): one for one in new.findings}
    return VersionComparison(
        tuple(told_changes(old.flow, new.flow)),
        tuple(one for key, one in after.items() if key not in before),
        tuple(one for key, one in before.items() if key not in after),
        tuple(_verdict_changes(old.survey, new.survey)),
        tuple(lead_changes(old.survey.flow, new.survey.flow)),
        tuple(saved_games(old.survey, new.survey, cancelled)),
    )


def told_changes(old: Flow, new: Flow) -> Iterator[ToldChange]:
    """What was changed from one flow to another, in words."""
    before, after = tree_of(old), tree_of(new)
    wording = ChangeWording(before, after)
    for change in changes(before, after):
        yield ToldChange(change, wording.told(change))


def _key(finding: Finding) -> tuple[Any, ...]:
    return finding.check, tuple(finding.at), finding.message


# -- verdicts ------------------------------------------------------------------------------------------


def _verdict_changes(old: Survey, new: Survey) -> Iterator[VerdictChange]:
    before, after = dict(_verdicts(old)), dict(_verdicts(new))
    for at in dict.fromkeys((*before, *after)):
        was, now = before.get(at, ""), after.get(at, "")
        if was != now:
            title = _title(new.flow if now else old.flow, at)
            told = f"{title}: {_answer(at, now, 'gone')}, was {_answer(at, was, 'not there')}"
            yield VerdictChange(at, was, now, told)


def _title(flow: Flow, at: str) -> str:
    """What a verdict is about, by its name."""
    kind, _, place = at.partition(" ")
    if kind == "path":
        level, start, end = place.split(".")
        return f"{title_of(flow, level)}, from {start} to {end}"
    return title_of(flow, place) if kind in ANSWERS else at


def _answer(at: str, answer: str, none: str) -> str:
    if not answer:
        return none
    yes, no = ANSWERS.get(at.partition(" ")[0], ("so", "not so"))
    return {"yes": yes, "no": no}.get(answer, "not known")


def _verdicts(survey: Survey) -> Iterator[tuple[str, str]]:
    """Every verdict by what it is about; for the flow as a whole, whether all is well."""
    for name, verdict in survey.levels.items():
        yield f"level {name}", verdict.answer
    for kind, found in (("exit", survey.exits), ("deed", survey.deeds), ("path", survey.paths), ("tile", survey.tiles)):
        for place, verdict in found.items():
            yield f"{kind} {'.'.join(place)}", verdict.answer
    for name, verdict in survey.endings.items():
        yield f"ending {name}", verdict.answer
    opposite = {"yes": "no", "no": "yes", "unknown": "unknown"}
    yield "nobody gets stuck", opposite[survey.stuck.answer]
    yield "nothing loops by itself", opposite[survey.loops.answer]
    for name, promise in survey.promises.items():
        yield f"promise {name}", promise.holds
    for name, replay in survey.walks.items():
        yield f"walk {name}", "yes" if replay.holds else "no"


# -- where exits lead ----------------------------------------------------------------------------------


def lead_changes(old: Flow, new: Flow) -> Iterator[LeadChange]:
    """The exits of play levels that both have, and whose *next* or *previous* is another level now."""
    before, after = dict(_led_by_order(old)), dict(_led_by_order(new))
    for place, (way, level) in after.items():
        was = before.get(place)
        if was is not None and was[0] == way and was[1] != level:
            yield LeadChange(place, was[1], level)


def _led_by_order(flow: Flow) -> Iterator[tuple[str, tuple[Destination, str]]]:
    """Where exits of play levels lead that lead by the order; "" for nowhere."""
    levels = {"next": neighbours(flow, 1), "previous": neighbours(flow, -1)}
    for level in flow.levels:
        for exit_ in level.exits:
            if level.kind == "play" and exit_.to is not None and exit_.to.kind in levels:
                found = levels[exit_.to.kind].get(level.id)
                yield f"{level.id}.{exit_.id}", (exit_.to, found.id if found else "")
