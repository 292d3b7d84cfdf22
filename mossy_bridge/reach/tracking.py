"""Which parts of a state can ever matter. The rest is left out, so that states that play alike are one.

Each part is left out only where no rule can ask for it again before it is set anew, so every move that is
possible in such a state is possible in each state it stands for, and leads to states that are again alike.
What leaving out forgets but verdicts need (which levels may be unseen, which deeds undone) is worked out
afterwards over the graph; see :mod:`mossy_bridge.reach.missing`.
"""

from collections.abc import Iterable, Mapping
from typing import NamedTuple

from mossy_bridge.language.parsing import parse_effect
from mossy_bridge.model.flow import Deed, Destination, Flow, Level
from mossy_bridge.model.order import first_play_level
from mossy_bridge.play.prepared import ReadyLevel
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import DeedPlace, Origin, State
from mossy_bridge.reach.asked import asked_by, conditions_of

_FALLING = frozenset({"take", "set", "lower", "clear", "lose", "turn"})


class Tracking:
    """What of a state is kept in one flow. ``also_asked`` are conditions from outside the flow."""

    def __init__(self, rules: Rules, also_asked: Iterable[str] = ()):
        flow = rules.flow
        self.conditions = tuple(dict.fromkeys((*conditions_of(flow), *also_asked)))
        asked = asked_by(self.conditions)
        self.facts = asked.facts
        self.seen, self.done = asked.seen | _begun_again(flow), asked.done
        self.spent = tuple(_deeds_that_count(flow, asked.facts))
        kinds = {level.id: _kinds_used(level) for level in flow.levels}
        going_back = any("back" in used for used in kinds.values())
        self._respawn_kept = {
            level.id: level.kind == "play" and (going_back or "again" in kinds[level.id] or _saves(flow, level))
            for level in flow.levels
        }
        self._alike = {name: _alike_spawns(level) for name, level in rules.levels.items()}
        self._armed = {name: level.armed_at for name, level in rules.levels.items()}
        self._origin_kept = _origin_kept(flow, kinds)
        self._origin_respawn = going_back

    def control(self, state: State) -> "Control":
        """The part of the state that says where the player is and came from, as far as it matters."""
        place = state.place
        arrived = state.arrived and state.respawn in self._armed[place]
        respawn = self._alike[place][state.respawn] if arrived or self._respawn_kept[place] else ""
        origin = self._origin(state.origin) if self._origin_kept[place] else None
        return Control(place, state.zone, respawn, origin, arrived)

    def _origin(self, origin: Origin | None) -> Origin | None:
        if origin is None:
            return None
        respawn = self._alike[origin.level][origin.respawn] if self._origin_respawn else ""
        return Origin(origin.level, respawn)


class Control(NamedTuple):
    """Where the player is and came from: all of a state that is neither fact nor history."""

    place: str
    zone: str
    respawn: str
    origin: Origin | None
    arrived: bool
    """Whether the player has just arrived at a spawn point that may set off an exit."""


def _begun_again(flow: Flow) -> frozenset[str]:
    """The first play level, if a screen leads into it: whether it was seen tells a second game from the first."""
    first = first_play_level(flow)
    screens = [level for level in flow.levels if level.kind == "screen"]
    leads = any(_names(to, first) for lv in screens for exit_ in lv.exits for to in exit_.destinations)
    return frozenset({first.id}) if first and leads else frozenset()


def _alike_spawns(level: ReadyLevel) -> dict[str, str]:
    """For each spawn point the first one at which an arrival has the same consequences: in the same zone,
    and not in the area of an exit that it could set off."""
    first: dict[str, str] = {}
    found = {}
    for spawn, zone in level.zone_at.items():
        found[spawn] = spawn if not spawn or spawn in level.armed_at else first.setdefault(zone, spawn)
    return found


def _kinds_used(level: Level) -> set[str]:
    return {to.kind for exit_ in level.exits for to in exit_.destinations}


def _saves(flow: Flow, level: Level) -> bool:
    return flow.saving == "deed" and any(deed.saves for deed in level.deeds)


def _origin_kept(flow: Flow, kinds: dict[str, set[str]]) -> dict[str, bool]:
    """Leaving a play level sets the origin anew, so in one it matters only to its own ``back``. A screen or
    board hands it on."""
    first = first_play_level(flow)
    asks = {"back", "next", "previous"}

    def asked_on(level: Level) -> bool:
        if level.kind == "play":
            return "back" in kinds[level.id]
        starts = any(_names(to, first) for exit_ in level.exits for to in exit_.destinations)
        return bool(kinds[level.id] & asks) or starts

    anywhere = any(asked_on(level) for level in flow.levels)
    return {level.id: asked_on(level) if level.kind == "play" else anywhere for level in flow.levels}


def _names(to: Destination, level: Level | None) -> bool:
    return level is not None and to.kind == "level" and to.level == level.id


def _deeds_that_count(flow: Flow, asked: frozenset[str]) -> Iterable[DeedPlace]:
    """The deeds whose being spent matters: those that would change something if done once more."""
    falling = _facts_that_fall(flow)
    lifetimes = {fact.id: fact.lifetime for fact in flow.facts}
    for level in flow.levels:
        for deed in level.deeds:
            settled = level.kind == "play" and _settles(deed, asked, falling, lifetimes)
            if deed.repeats != "always" and not settled:
                yield level.id, deed.id


def _settles(deed: Deed, asked: frozenset[str], falling: set[str], lifetimes: Mapping[str, str]) -> bool:
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


def _facts_that_fall(flow: Flow) -> set[str]:
    texts = [text for level in flow.levels for text in level.on_arrival]
    for level in flow.levels:
        texts.extend(text for thing in (level.exits, level.deeds) for one in thing for text in one.effects)
    effects = map(parse_effect, texts)
    return {effect.fact for effect in effects if effect.verb in _FALLING}
