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
from itertools import chain, compress
from operator import attrgetter, is_not, not_
from typing import NamedTuple

from msgspec import Struct

from mossy_bridge.language.asked import asked_by, conditions_of_level
from mossy_bridge.language.parsing import parse_effect
from mossy_bridge.model.flow import Deed, Flow, Level
from mossy_bridge.model.sequence import first_play_level
from mossy_bridge.play.compiled_level import ReadyLevel
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import DeedPlace, Origin, State
from mossy_bridge.reach.system.rewind_points import rewind_points

_FALLING = frozenset({"take", "set", "lower", "clear", "lose", "turn"})
_ASKING_ORIGIN = frozenset({"back", "next", "previous"})
"""The kinds of destinations that may ask, on a screen or board, where the player came from."""


class _Digest(Struct, frozen=True):
    """What is needed of one level, which only an edit of that level can change."""

    ready: ReadyLevel
    play: bool
    """Whether it is a play level."""
    conditions: frozenset[str]
    kinds: frozenset[str]
    """The kinds of destinations of its exits."""
    alike: dict[str, str]
    saves: bool
    """Whether some deed of it saves."""
    effects: tuple[tuple[str, tuple[str, ...]], ...]
    """The effects of its deeds, each with how often it is repeated, and "other" effects."""
    forcing: frozenset[str]
    """The conditions of exits that may be forced."""
    forced_to: frozenset[str]
    """The levels that these name."""
    forced_along: bool
    """Whether one of them leads to the next or previous level."""

    @property
    def of_places(self) -> tuple[object, ...]:
        """All of it that locations depend on."""
        return self.play, "back" in self.kinds, "again" in self.kinds, self.alike, self.ready.armed_at, self.saves

    def leads_to(self, level: Level | None) -> bool:
        """Whether some exit names a level as its destination."""
        destinations = (to for exit_ in self.ready.source.exits for to in exit_.destinations)
        return level is not None and any(to.kind == "level" and to.level == level.id for to in destinations)


class ConeOfInfluence:
    """What is tracked of the states of one flow. ``also_asked`` are conditions from outside the flow; ``before`` is
    the cone of an earlier one, whose work on levels that are the same is used again."""

    def __init__(self, rules: Rules, also_asked: Iterable[str] = (), before: "ConeOfInfluence | None" = None):
        flow = rules.flow
        self._digests: dict[str, _Digest] = _digests_of(rules.levels, before._digests if before else {})
        digests = self._digests.values()
        self.written = _together("conditions", digests)
        """The conditions of levels, on which moves depend."""
        self.effects = _effects_of(digests)
        """The effects of deeds by how often these are repeated, and "other" effects: of exits and arrivals."""
        self.conditions = frozenset((*self.written, *(promise.when for promise in flow.promises), *also_asked))
        asked = asked_by(self.conditions)
        self.facts = asked.facts
        screens = list(compress(digests, map(not_, map(attrgetter("play"), digests))))
        self.seen, self.done = asked.seen | _begun_again(flow, screens), asked.done
        self.spent = tuple(_deeds_that_count(rules, asked.facts, _facts_that_fall(self.effects)))
        self.points = rewind_points(rules, asked.facts, self.spent)
        self._saved_by_deeds = flow.saving == "deed"
        self._going_back = "back" in _together("kinds", digests)
        self._origin_kept_on_screens = self._going_back or _asks_origin(screens, first_play_level(flow))

    def __eq__(self, other: object) -> bool:
        """Whether the same is tracked; the conditions need not be the same."""
        ways = {"conditions": None, "written": None, "effects": None, "_digests": None}
        if not isinstance(other, ConeOfInfluence) or {**vars(self), **ways} != {**vars(other), **ways}:
            return False
        if list(self._digests) != list(other._digests):
            return False
        mine, theirs = self._digests.values(), other._digests.values()
        changed = compress(zip(mine, theirs, strict=True), map(is_not, mine, theirs))
        return all(one.of_places == before.of_places for one, before in changed)

    __hash__ = None  # type: ignore[assignment]

    def forcing_conditions(self) -> frozenset[str]:
        """The conditions that decide whether an exit is forced: its own, and what the levels that it may lead to ask of
        those who enter."""
        digests = self._digests.values()
        found = _together("forcing", digests)
        if any(map(attrgetter("forced_along"), digests)):  # then their places in the sequence decide
            return found.union(map(attrgetter("ready.source.opens"), digests))
        led_to = _together("forced_to", digests)
        return found.union(self._digests[name].ready.source.opens for name in led_to & self._digests.keys())

    def location(self, state: State) -> "Location":
        """The part of the state that says where the player is and came from, as far as it matters."""
        return self.location_at(state.place, state.zone, state.respawn, state.origin, state.arrived)

    def location_at(self, place: str, zone: str, respawn: str, origin: Origin | None, arrived: bool) -> "Location":
        """The same, of a state with these parts."""
        digest = self._digests[place]
        arrived = arrived and respawn in digest.ready.armed_at
        respawn = digest.alike[respawn] if arrived or self._keeps_respawn(digest) else ""
        origin = self._origin(origin) if origin and self.keeps_origin(place) else None
        return Location(place, zone, respawn, origin, arrived)

    def _keeps_respawn(self, digest: _Digest) -> bool:
        saves = digest.saves and self._saved_by_deeds
        return digest.play and (self._going_back or saves or "again" in digest.kinds)

    def keeps_origin(self, place: str) -> bool:
        """Whether it matters in a level where the player came from. Leaving a play level sets the origin anew, so in
        one it matters only to its own ``back``. A screen or board hands it on."""
        digest = self._digests[place]
        return "back" in digest.kinds if digest.play else self._origin_kept_on_screens

    def _origin(self, origin: Origin) -> Origin:
        return Origin(origin.level, self._digests[origin.level].alike[origin.respawn] if self._going_back else "")


class Location(NamedTuple):
    """Where the player is and came from: all of a state that is neither a fact nor history."""

    place: str
    zone: str
    respawn: str
    origin: Origin | None
    arrived: bool
    """Whether the player has just arrived at a spawn point that may set off an exit."""


def _begun_again(flow: Flow, screens: Iterable[_Digest]) -> frozenset[str]:
    """The first play level, if a screen leads into it: whether it was seen tells a second run from the first."""
    first = first_play_level(flow)
    leads = any(one.leads_to(first) for one in screens if one.ready.source.kind == "screen")
    return frozenset({first.id}) if first and leads else frozenset()


def _asks_origin(screens: Iterable[_Digest], first: Level | None) -> bool:
    """Whether it matters on some screen or board where the player came from; ``first`` is the first play level."""
    return any(one.kinds & _ASKING_ORIGIN or one.leads_to(first) for one in screens)


def _digests_of(levels: dict[str, ReadyLevel], known: dict[str, _Digest]) -> dict[str, _Digest]:
    """The digests of levels, those that are known taken over where a level is still the same."""
    if list(levels) != list(known):
        known = {name: known[name] if name in known else _digest(ready) for name, ready in levels.items()}
    other = map(is_not, levels.values(), map(attrgetter("ready"), known.values()))
    return known | {name: _digest(levels[name]) for name in compress(levels, other)}


def _digest(ready: ReadyLevel) -> _Digest:
    level = ready.source
    kinds = frozenset([to.kind for exit_ in level.exits for to in exit_.destinations])
    others = (*level.on_arrival, *[text for exit_ in level.exits for text in exit_.effects])
    effects = [*[(deed.repeats, deed.effects) for deed in level.deeds], ("other", others)]
    forced = [one.source for one in ready.forcing]
    led_to = [to for exit_ in forced for to in exit_.destinations]
    return _Digest(
        ready=ready,
        play=level.kind == "play",
        conditions=_the_same(frozenset(conditions_of_level(level))),
        kinds=_the_same(kinds),
        alike=_alike_spawns(ready),
        saves=any([deed.saves for deed in level.deeds]),
        effects=tuple([(source, texts) for source, texts in effects if texts]),
        forcing=_the_same(frozenset([text for exit_ in forced for text in (exit_.trigger.when, exit_.opens)])),
        forced_to=_the_same(frozenset([to.level for to in led_to])),
        forced_along=any([to.kind in ("next", "previous") for to in led_to]),
    )


@lru_cache(maxsize=10_000)
def _the_same(names: frozenset[str]) -> frozenset[str]:
    """One set for all that are equal: of a hundred thousand levels most have the same."""
    return names


def _together(name: str, digests: Iterable[_Digest]) -> frozenset[str]:
    """All that is in a set of some digest."""
    return frozenset[str]().union(*set(map(attrgetter(name), digests)))


def _effects_of(digests: Iterable[_Digest]) -> dict[str, set[str]]:
    found: dict[str, set[str]] = {"always": set(), "run": set(), "visit": set(), "other": set()}
    for source, texts in chain.from_iterable(map(attrgetter("effects"), digests)):
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
