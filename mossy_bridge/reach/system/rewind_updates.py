"""Updates of rewind points: what an arrival, a restart and a checkpoint do to the copies of the facts that rewind.

A state vector has up to three copies of them: as they are *now*, at the *point* that a restart of this level goes back
to, and at the *origin's* rewind point. Where a copy could not differ from the facts now
(:mod:`mossy_bridge.reach.system.rewind_points`) it is left empty, and these stand for it.
"""

from collections.abc import Iterator, Mapping

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.system.cone_of_influence import ConeOfInfluence, Location
from mossy_bridge.reach.system.state_vector import CopyName, VectorLayout
from mossy_bridge.reach.system.updates import Assign, Copy, UpdatePart


class RewindUpdates:
    """What moves do to the rewind points of one flow."""

    def __init__(self, rules: Rules, cone: ConeOfInfluence, layout: VectorLayout):
        self._layout, self._points = layout, cone.points
        self._levels = rules.levels
        self._copies: dict[tuple[tuple[CopyName, CopyName], ...], Copy] = {}

    def _in_play(self, at: Location) -> bool:
        return self._levels[at.place].source.kind == "play"

    def source_of_point(self, at: Location) -> CopyName:
        """The copy that stands for the rewind point."""
        return "point" if at.place in self._points.kept_in else "now"

    def source_of_origin(self, at: Location) -> CopyName:
        """The copy that stands for the rewind point of the origin."""
        return "origin" if self._points.origin_kept(self._in_play(at), at.origin) else "now"

    def on_leaving(self, here: Location, there: Location, back_to: CopyName | None) -> Iterator[UpdatePart]:
        """What an arrival does before any effect: the origin remembers its rewind point, and a restart goes back to a
        copy, ``back_to``."""
        if not self._points.any:
            return
        copied: dict[CopyName, CopyName] = {}
        if back_to:
            copied["now"] = back_to
            if self.source_of_point(there) == "point":
                copied["point"] = back_to
        kept_there = self.source_of_origin(there) == "origin"
        if kept_there:
            in_play = self._in_play(here)
            copied["origin"] = self.source_of_point(here) if in_play else self.source_of_origin(here)
        if copied:
            yield self._copying(copied)
        if not kept_there and self.source_of_origin(here) == "origin":
            yield Assign(self._layout.copies["origin"].mask, 0)

    def on_arriving(self, here: Location, there: Location, restarting: bool) -> Iterator[UpdatePart]:
        """What an arrival does after all effects: the rewind point is taken anew, or is the one gone back to."""
        if self.source_of_point(there) == "point":
            if not restarting:
                yield self.at_checkpoint(there)
        elif self.source_of_point(here) == "point":
            yield Assign(self._layout.copies["point"].mask, 0)

    def at_checkpoint(self, at: Location) -> UpdatePart:
        """What a checkpoint does."""
        kept = self.source_of_point(at) == "point"
        return self._copying({"point": "now"} if kept else {})

    def _copying(self, copied: Mapping[CopyName, CopyName]) -> Copy:
        """The update that makes copies (the keys) what others (the values) are before it."""
        key = tuple(copied.items())
        if key not in self._copies:
            self._copies[key] = self._copying_anew(copied)
        return self._copies[key]

    def _copying_anew(self, copied: Mapping[CopyName, CopyName]) -> Copy:
        copies, moves, targets = self._layout.copies, dict[int, int](), 0
        for to, source in copied.items():
            if to != source:
                targets |= copies[to].mask
                for one, other in zip(copies[source].masks(), copies[to].masks(), strict=True):
                    up = other.bit_length() - one.bit_length()
                    moves[up] = moves.get(up, 0) | one
        return Copy(tuple((mask, up) for up, mask in moves.items()), targets)
