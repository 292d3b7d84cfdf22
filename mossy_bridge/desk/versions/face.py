"""The face Versions: what another version of the flow has otherwise, and what that would do."""

from collections.abc import Iterator, Sequence
from functools import partial

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.appraisal.comparison_report import effect_lines
from mossy_bridge.desk.faces.lists import ListFace
from mossy_bridge.desk.versions.merging import VersionMerging
from mossy_bridge.desk.versions.other_version import OtherVersion
from mossy_bridge.exchange.merging.three_way import Side
from mossy_bridge.language.numbers import counted
from mossy_bridge.model.flow import Flow

MOST_CHANGES, MOST_EFFECTS = 150, 40
"""So many are listed."""


class VersionsFace(ListFace):
    """Lists it."""

    title, tip = "Versions", "What another version of the flow has otherwise"
    follows_survey = True

    def __init__(self, other: OtherVersion, merging: VersionMerging):
        super().__init__(
            "Versions",
            "Another version of the flow beside this one: what it has otherwise, each difference to be taken over; "
            "which verdicts it changes; which saved games could no longer be resumed in it.",
        )
        self._other, self._merging = other, merging
        other.changed.connect(self._on_changed)
        merging.changed.connect(self._on_changed)
        self._fill()

    def show_flow(self, flow: Flow, result: Appraisal | None = None) -> None:
        """Takes another flow or appraisal: what the differences do is worked out anew."""
        del flow
        if result is not None and self.isVisible():
            self._other.judge(result)
        self._fill()

    def _on_changed(self) -> None:
        if self.isVisible():
            self._fill()

    def _fill(self) -> None:
        other = self._other
        self._begin()
        if self._merging.name:
            self._say_conflicts()
            return
        if not other.name:
            self._line("", [("Compare with a file…", other.choose), ("Bring together with…", self._merging.choose)])
            self._end()
            return
        count = counted(len(other.changes), "difference")
        self._line(f"{other.name}: {count if other.changes else 'Nothing differs.'}", [
            *([("Next change", other.show_next), ("Take all of it over", other.take_all)] if other.changes else []),
            ("Compare with another…", other.choose), ("Done", other.leave),
        ], bold=True)  # fmt: skip
        if other.changes:
            self._heading(f"What {other.name} has otherwise")
        for told in other.changes[:MOST_CHANGES]:
            show = [("Show", partial(other.show, told))] if told.change.at.startswith("levels.") else []
            self._line(told.words, [*show, ("Take this over", partial(other.take, told))])
        if len(other.changes) > MOST_CHANGES:
            self._line(f"… and {len(other.changes) - MOST_CHANGES:,} more")
        self._say_effect()
        self._end()

    def _say_conflicts(self) -> None:
        """What both sides have changed, each otherwise, to be decided."""
        merging = self._merging
        left = sum(1 for one in merging.conflicts if one.at not in merging.decided)
        told = f"{left:,} of {len(merging.conflicts):,} conflicts to decide" if left else "All conflicts are decided"
        finish = [("Bring them together", merging.finish)] if merging.is_decided else []
        self._line(f"{merging.name}: {told}", [*finish, ("Give it up", merging.leave)], bold=True)
        sides: tuple[tuple[Side, str], ...] = (("ours", "ours"), ("theirs", "theirs"))
        for one in sorted(merging.conflicts, key=lambda one: one.at in merging.decided)[:MOST_CHANGES]:
            self._line(merging.words.place(one.at), bold=True)
            for side, word in sides:
                value = merging.words.conflict(one.at, one.ours if side == "ours" else one.theirs)
                taken = merging.decided.get(one.at) == side
                take = [] if taken else [(f"Take {word}", partial(merging.decide, one, side))]
                self._line(f"     {'✓' if taken else '   '} {word}: {value}", take)
        if len(merging.conflicts) > MOST_CHANGES:
            self._line(f"… and {len(merging.conflicts) - MOST_CHANGES:,} more, which come up when these are decided")
        self._end()

    def _say_effect(self) -> None:
        """What the differences do to verdicts and saved games."""
        effect = self._other.effect
        lines: Sequence[str] = [] if effect is None else list(effect_lines(effect))
        if effect is None:
            self._line("What that does is being worked out…" if self._other.busy else "")
        elif lines:
            self._heading("What that does")
        for line in self._first(lines):
            self._line(line)

    def _first(self, lines: Sequence[str]) -> Iterator[str]:
        yield from lines[:MOST_EFFECTS]
        if len(lines) > MOST_EFFECTS:
            yield f"… and {len(lines) - MOST_EFFECTS:,} more"
