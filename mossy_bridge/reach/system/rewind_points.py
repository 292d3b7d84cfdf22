"""Which rewind points a state vector has to hold: those that can differ from the facts as they are.

A rewind point is what the facts that rewind were at the last arrival or checkpoint. In a level in which no move changes
such a fact it is what they are now, so nothing need be kept; nor is anything where no restart can go back to it. The
same goes for the rewind point of the origin, on the screens and boards behind a level.
"""

from collections.abc import Iterable

from msgspec import Struct

from mossy_bridge.language.parsing import parse_effect
from mossy_bridge.model.flow import Level
from mossy_bridge.play.rewinding import rewinding_facts, rewinding_kinds
from mossy_bridge.play.rules import NONE, Rules
from mossy_bridge.play.state import DeedPlace, Origin


class RewindPoints(Struct, frozen=True):
    """What rewinds in one flow, as far as it is tracked, and where its rewind points are kept apart."""

    facts: frozenset[str] = NONE
    """The tracked facts that some restart may take back."""
    redone: frozenset[DeedPlace] = frozenset()
    """The tracked deeds that it may take back with them."""
    kept_in: frozenset[str] = NONE
    """The play levels in which the rewind point may differ from the facts."""
    going_back: bool = False
    """Whether a restart may go back to the origin."""
    steady: frozenset[str] = NONE
    """The play levels whose rewind point is what the facts are, as long as the player is on screens and boards behind
    them."""
    held_in_play: bool = False
    """Whether some play level can itself go back to the origin, so that its rewind point may be ahead of the facts."""

    @property
    def any(self) -> bool:
        """Whether anything tracked rewinds."""
        return bool(self.facts or self.redone)

    @property
    def may_come_back_spent(self) -> frozenset[DeedPlace]:
        """The deeds that a restart may bring back as spent where they were not: if a play level can go back to an
        origin, whose rewind point may be ahead of the facts."""
        return self.redone if self.held_in_play else frozenset()

    def origin_kept(self, in_play: bool, origin: Origin | None) -> bool:
        """Whether the rewind point of an origin is kept apart, in a play level or not."""
        if origin is None or not self.any or not self.going_back:
            return False
        return self.held_in_play if in_play else origin.level not in self.steady


def rewind_points(rules: Rules, asked: frozenset[str], tracked: Iterable[DeedPlace]) -> RewindPoints:
    """The rewind points of a flow; ``asked`` are the facts that some condition asks for, ``tracked`` the deeds that the
    state vector has."""
    redone = rules.rewinding.redone.intersection(tracked)
    facts = rewinding_facts(rules.flow) & asked
    if not (facts or redone):
        return RewindPoints()
    levels = rules.flow.levels
    kinds = {level.id: {kind for exit_ in level.exits for kind in rewinding_kinds(exit_)} for level in levels}
    going_back = any("back" in used for used in kinds.values())
    again = {level.id for level in levels if level.kind == "play" and "again" in kinds[level.id]}
    if not going_back and not again:
        return RewindPoints()
    play = [level for level in levels if level.kind == "play"]
    changing = frozenset(level.id for level in play if _changes_within(level, facts, redone))
    quiet = not any(_changes(level, facts, redone) for level in levels if level.kind != "play")
    steady = (level.id for level in play if level.id not in changing and not _changes_on_leaving(level, facts))
    return RewindPoints(
        facts=facts,
        redone=redone,
        kept_in=changing if going_back else changing & again,
        going_back=going_back,
        steady=frozenset(steady) if quiet else NONE,
        held_in_play=any("back" in kinds[level.id] for level in play),
    )


def _changes_within(level: Level, facts: frozenset[str], redone: frozenset[DeedPlace]) -> bool:
    """Whether a deed changes what rewinds and does not set the rewind point itself."""
    names = {spawn.id for spawn in level.spawns}
    deeds = (deed for deed in level.deeds if deed.checkpoint not in names)
    return any((level.id, deed.id) in redone or _touches(deed.effects, facts) for deed in deeds)


def _changes_on_leaving(level: Level, facts: frozenset[str]) -> bool:
    return any(_touches(exit_.effects, facts) for exit_ in level.exits)


def _changes(level: Level, facts: frozenset[str], redone: frozenset[DeedPlace]) -> bool:
    """Whether anything in a level changes what rewinds."""
    if any((level.id, deed.id) in redone or _touches(deed.effects, facts) for deed in level.deeds):
        return True
    return _touches(level.on_arrival, facts) or _changes_on_leaving(level, facts)


def _touches(effects: Iterable[str], facts: frozenset[str]) -> bool:
    return any(parse_effect(text).fact in facts for text in effects)
