"""Cone of influence: which parts of a state can affect any verdict; the others are left out, so that states that play
alike are one.

This is the reduction to the cone of influence (Clarke, Grumberg and Peled, *Model Checking*, 1999, section 13.1). A
part is left out only where no rule can ask for it again before it is set anew, so every move that is possible in such a
state is possible in each state it stands for, and leads to states that are again alike: a bisimulation. What this
forgets but verdicts need (which levels may be unseen, which deeds undone) is computed afterwards over the graph; see
:mod:`mossy_bridge.reach.explicit.missable`.
"""

from collections.abc import Iterable, Mapping
from functools import lru_cache
from typing import NamedTuple

from msgspec import Struct

from mossy_bridge.language.asked import asked_by, conditions_of_level
from mossy_bridge.language.parsing import parse_effect
from mossy_bridge.model.flow import Deed, Destination, Flow, Level
from mossy_bridge.model.sequence import first_play_level
from mossy_bridge.play.compiled_level import ReadyLevel
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import DeedPlace, Origin, State
from mossy_bridge.reach.system.rewind_points import rewind_points

_FALLING = frozenset({"take", "set", "lower", "clear", "lose", "turn"})


class _Digest(Struct, frozen=True):
    """What is needed of one level, which only an edit of that level can change."""

    ready: ReadyLevel
    conditions: frozenset[str]
    kinds: frozenset[str]
    """The kinds of destinations of its exits."""
    alike: dict[str, str]
    effects: tuple[tuple[str, tuple[str, ...]], ...]
    """The effects of its deeds, each with how often it is repeated, and "other" effects."""
    forcing: frozenset[str]
    """The conditions of exits that may be forced."""
    forced_to: frozenset[str]
    """The levels that these name."""
    forced_along: bool
    """Whether one of them leads to the next or previous level."""


class ConeOfInfluence:
    """What is tracked of the states of one flow. ``also_asked`` are conditions from outside the flow; ``before`` is
    the cone of an earlier one, whose work on levels that are the same is used again."""

    def __init__(self, rules: Rules, also_asked: Iterable[str] = (), before: "ConeOfInfluence | None" = None):
        flow = rules.flow
        known = before._digests if before else {}
        self._digests: dict[str, _Digest] = {
            name: known[name] if name in known and known[name].ready is ready else _digest(ready)
            for name, ready in rules.levels.items()
        }
        digests = self._digests.values()
        self.written = frozenset[str]().union(*(digest.conditions for digest in digests))
        """The conditions of levels, on which moves depend."""
        self.effects = _effects_of(digests)
        """The effects of deeds by how often these are repeated, and "other" effects: of exits and arrivals."""
        self.conditions = frozenset((*self.written, *(promise.when for promise in flow.promises), *also_asked))
        asked = asked_by(self.conditions)
        self.facts = asked.facts
        self.seen, self.done = asked.seen | _begun_again(flow), asked.done
        self.spent = tuple(_deeds_that_count(rules, asked.facts, _facts_that_fall(self.effects)))
        self.points = rewind_points(rules, asked.facts, self.spent)
        kinds = {name: digest.kinds for name, digest in self._digests.items()}
        going_back = any("back" in used for used in kinds.values())
        self._respawn_kept = {
            level.id: level.kind == "play" and (going_back or "again" in kinds[level.id] or _saves(flow, level))
            for level in flow.levels
        }
        self._alike = {name: digest.alike for name, digest in self._digests.items()}
        self._armed = {name: level.armed_at for name, level in rules.levels.items()}
        self._origin_kept = _origin_kept(flow, kinds)
        self._origin_respawn = going_back

    def __eq__(self, other: object) -> bool:
        """Whether the same is tracked; the conditions need not be the same."""
        ways = {"conditions": None, "written": None, "effects": None, "_digests": None}
        return isinstance(other, ConeOfInfluence) and {**vars(self), **ways} == {**vars(other), **ways}

    __hash__ = None  # type: ignore[assignment]

    def forcing_conditions(self) -> frozenset[str]:
        """The conditions that decide whether an exit is forced: its own, and what the levels that it may lead to ask of
        those who enter."""
        digests, found = self._digests, frozenset[str]().union(*(one.forcing for one in self._digests.values()))
        if any(one.forced_along for one in digests.values()):  # then their places in the sequence decide
            return found.union(one.ready.source.opens for one in digests.values())
        led_to = frozenset[str]().union(*(one.forced_to for one in digests.values()))
        return found.union(digests[name].ready.source.opens for name in led_to & digests.keys())

    def location(self, state: State) -> "Location":
        """The part of the state that says where the player is and came from, as far as it matters."""
        return self.location_at(state.place, state.zone, state.respawn, state.origin, state.arrived)

    def location_at(self, place: str, zone: str, respawn: str, origin: Origin | None, arrived: bool) -> "Location":
        """The same, of a state with these parts."""
        arrived = arrived and respawn in self._armed[place]
        respawn = self._alike[place][respawn] if arrived or self._respawn_kept[place] else ""
        return Location(place, zone, respawn, self._origin(origin) if self._origin_kept[place] else None, arrived)

    def keeps_origin(self, place: str) -> bool:
        """Whether it matters in a level where the player came from."""
        return self._origin_kept[place]

    def _origin(self, origin: Origin | None) -> Origin | None:
        if origin is None:
            return None
        respawn = self._alike[origin.level][origin.respawn] if self._origin_respawn else ""
        return Origin(origin.level, respawn)


class Location(NamedTuple):
    """Where the player is and came from: all of a state that is neither a fact nor history."""

    place: str
    zone: str
    respawn: str
    origin: Origin | None
    arrived: bool
    """Whether the player has just arrived at a spawn point that may set off an exit."""


def _begun_again(flow: Flow) -> frozenset[str]:
    """The first play level, if a screen leads into it: whether it was seen tells a second run from the first."""
    first = first_play_level(flow)
    screens = [level for level in flow.levels if level.kind == "screen"]
    leads = any(_names(to, first) for lv in screens for exit_ in lv.exits for to in exit_.destinations)
    return frozenset({first.id}) if first and leads else frozenset()


def _digest(ready: ReadyLevel) -> _Digest:
    level = ready.source
    kinds = frozenset(to.kind for exit_ in level.exits for to in exit_.destinations)
    others = (*level.on_arrival, *(text for exit_ in level.exits for text in exit_.effects))
    effects = (*((deed.repeats, deed.effects) for deed in level.deeds), ("other", others))
    forced = [one.source for one in ready.exits if one.source.trigger.kind == "auto" or one.armed_at]
    led_to = [to for exit_ in forced for to in exit_.destinations]
    return _Digest(
        ready=ready,
        conditions=_the_same(frozenset(conditions_of_level(level))),
        kinds=_the_same(kinds),
        alike=_alike_spawns(ready),
        effects=tuple((source, texts) for source, texts in effects if texts),
        forcing=frozenset(text for exit_ in forced for text in (exit_.trigger.when, exit_.opens)),
        forced_to=frozenset(to.level for to in led_to),
        forced_along=any(to.kind in ("next", "previous") for to in led_to),
    )


@lru_cache(maxsize=10_000)
def _the_same(names: frozenset[str]) -> frozenset[str]:
    """One set for all that are equal: of a hundred thousand levels most have the same."""
    return names


def _effects_of(digests: Iterable[_Digest]) -> dict[str, set[str]]:
    found: dict[str, set[str]] = {"always": set(), "run": set(), "visit": set(), "other": set()}
    for digest in digests:
        for source, texts in digest.effects:
            found[source].update(texts)
    return found


def _alike_spawns(level: ReadyLevel) -> dict[str, str]:
    """For each spawn point the first one at which an arrival has the same consequences: in the same zone,
    and outside the areas of exits that it could set off."""
    first: dict[str, str] = {}
    found = {}
    for spawn, zone in level.zone_at.items():
        found[spawn] = spawn if not spawn or spawn in level.armed_at else first.setdefault(zone, spawn)
    return found


def _saves(flow: Flow, level: Level) -> bool:
    return flow.saving == "deed" and any(deed.saves for deed in level.deeds)


def _origin_kept(flow: Flow, kinds: Mapping[str, frozenset[str]]) -> dict[str, bool]:
    """Leaving a play level sets the origin anew, so in one it matters only to its own ``back``. A screen or
    board hands it on."""
    first = first_play_level(flow)
    guard = {"back", "next", "previous"}

    def asked_on(level: Level) -> bool:
        if level.kind == "play":
            return "back" in kinds[level.id]
        starts = any(_names(to, first) for exit_ in level.exits for to in exit_.destinations)
        return bool(kinds[level.id] & guard) or starts

    anywhere = any(asked_on(level) for level in flow.levels)
    return {level.id: asked_on(level) if level.kind == "play" else anywhere for level in flow.levels}


def _names(to: Destination, level: Level | None) -> bool:
    return level is not None and to.kind == "level" and to.level == level.id


def _deeds_that_count(rules: Rules, asked: frozenset[str], falling: frozenset[str]) -> Iterable[DeedPlace]:
    """The deeds for which it matters whether they are spent: those that would change something if done once more, or
    that a restart takes back together with something asked."""
    flow, redone = rules.flow, rules.rewinding.redone
    lifetimes = {fact.id: fact.lifetime for fact in flow.facts}
    for level in flow.levels:
        for deed in level.deeds:
            settled = level.kind == "play" and _settles(deed, asked, falling, lifetimes)
            if settled and (level.id, deed.id) in redone:
                settled = asked.isdisjoint(effect.fact for effect in map(parse_effect, deed.effects))
            if deed.repeats != "always" and not settled:
                yield level.id, deed.id


def _settles(deed: Deed, asked: frozenset[str], falling: frozenset[str], lifetimes: Mapping[str, str]) -> bool:
    """Whether doing the deed again, before it is really possible again, changes nothing that is asked."""
    if deed.checkpoint or deed.saves:
        return False
    for effect in map(parse_effect, deed.effects):
        if effect.fact not in asked:
            continue
        lasts = deed.repeats == "visit" or lifetimes.get(effect.fact) != "visit"
        if effect.verb not in ("gain", "raise") or effect.fact in falling or not lasts:
            return False
    return True


def _facts_that_fall(effects: Mapping[str, Iterable[str]]) -> frozenset[str]:
    """The facts that something lowers, clears or turns."""
    parsed = (parse_effect(text) for texts in effects.values() for text in texts)
    return frozenset(effect.fact for effect in parsed if effect.verb in _FALLING)
