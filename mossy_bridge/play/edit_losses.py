"""What an edit takes away from others: ways, spawn points, endings, actors and zones that something uses, levels that
nothing leads to any more, and facts that last or count otherwise."""

from collections.abc import Iterator
from collections.abc import Set as AbstractSet
from typing import Literal

from msgspec import Struct

from mossy_bridge.language.parsing import parse_condition
from mossy_bridge.language.tree import Count, atoms
from mossy_bridge.model.flow import Deed, Destination, Exit, Fact, Flow, Level, Spawn
from mossy_bridge.model.level_changes import LevelChanges
from mossy_bridge.model.sequence import STEPS, neighbours

What = Literal["elsewhere", "nowhere", "refers", "walk"]
AFRESH = {
    "visit": "would start afresh at each arrival",
    "run": "would start afresh with a new game",
    "profile": "would never start afresh",
}

LEADING = {
    "next": "leads to the next level",
    "previous": "leads to the previous level",
    "again": "restarts the level",
    "back": "leads back",
    "resume": "resumes the saved game",
}


class Consequence(Struct, frozen=True):
    """One thing an edit does to something else: its short place, and a sentence."""

    what: What
    at: str
    sentence: str


# -- levels that nothing leads to any more ---------------------------------------------------------------


def stranded(old: Flow, new: Flow, changes: LevelChanges) -> Iterator[Consequence]:
    """The levels to which some way led from the start by what is written, and none does any more."""
    if old.start == new.start and not _ways_lost(old, changes):
        return
    lost = _led_to(old) - _led_to(new, unfinished={level.id for level in changes.new})
    for level in new.levels:
        if level.id in lost:
            yield Consequence("nowhere", level.id, f"{level.title} would be cut off: no way would lead there.")


def _ways_lost(old: Flow, changes: LevelChanges) -> bool:
    """Whether some exit or tile may lead less far, or the order has changed by which some exit leads."""
    lost = any(
        (one.kind, one.ships) != (other.kind, other.ships)
        or [exit_.to for exit_ in one.exits] != [exit_.to for exit_ in other.exits]
        or one.tiles != other.tiles
        for one, other in changes.changed
    )
    return lost or bool(changes.gone) or (not changes.same_order and any(map(_leads_along, old.levels)))


def _leads_along(level: Level) -> bool:
    """Whether some exit of a level leads to the next or previous level of the order."""
    return any(to.kind in STEPS for exit_ in level.exits for to in exit_.destinations)


def _led_to(flow: Flow, unfinished: AbstractSet[str] = frozenset()) -> set[str]:
    """The levels to which ways lead from the start, whatever they ask for. An ``unfinished`` level without exits, as
    one just made is, is taken to lead on."""
    steps = {kind: neighbours(flow, by) for kind, by in STEPS.items()}
    any_step = {kind: {found.id for found in side.values() if found} for kind, side in steps.items()}
    found, waiting = {flow.start.level}, [flow.start.level]
    while waiting:
        level = flow.level(waiting.pop())
        if level is None or not level.ships:
            continue
        leads = {tile.level for tile in level.tiles}
        if level.id in unfinished and not level.exits and (following := steps["next"][level.id]):
            leads.add(following.id)
        for exit_ in level.exits:
            for to in exit_.destinations:
                if to.kind == "level":
                    leads.add(to.level)
                elif to.kind in steps and level.kind == "play":
                    beside = steps[to.kind][level.id]
                    leads |= {beside.id} if beside else set()
                elif to.kind in steps:  # from a screen it depends on where one comes from
                    leads |= any_step[to.kind]
        waiting += leads - found
        found |= leads
    return {name for name in found if flow.level(name)}


# -- things that something uses --------------------------------------------------------------------------


def things_gone(old: Flow, new: Flow, changes: LevelChanges) -> Iterator[Consequence]:
    """Whatever used a thing that is gone, of levels that stay; and exits that led somewhere."""
    for level, now in changes.changed:
        yield from _ways_gone(old, level, now)
        yield from _spawns_gone(level, now)
        yield from _zones_gone(level, now)
    yield from _endings_gone(old, new)
    yield from _actors_gone(old, new)


def _ways_gone(old: Flow, level: Level, now: Level) -> Iterator[Consequence]:
    kept = {exit_.id for exit_ in now.exits}
    for exit_ in level.exits:
        told = _leads_to(old, exit_.to)
        if exit_.id not in kept and told:
            sentence = f"{level.title}: {exit_.name or exit_.id}, which {told}, would be gone."
            yield Consequence("nowhere", f"{level.id}.{exit_.id}", sentence)


def _leads_to(flow: Flow, to: Destination | None) -> str:
    """Where an exit leads, in words; "" for nowhere."""
    if to is None:
        return ""
    if to.kind == "level":
        target = flow.level(to.level)
        return f"leads to {target.title}" if target else ""
    if to.kind == "end":
        ending = next((one for one in flow.endings if one.id == to.ending), None)
        return f"ends the game with “{ending.name or ending.id}”" if ending else ""
    return LEADING[to.kind]


def _spawns_gone(level: Level, now: Level) -> Iterator[Consequence]:
    gone = {spawn.id: spawn.name or spawn.id for spawn in level.spawns} | {spawn.id: "" for spawn in now.spawns}
    for deed in now.deeds:
        name = gone.get(deed.checkpoint)
        if name:
            told = f"{level.title}: {deed.name or deed.id} would be no checkpoint; now one reappears at {name}."
            yield Consequence("refers", f"{level.id}.{deed.id}", told)


def _zones_gone(level: Level, now: Level) -> Iterator[Consequence]:
    gone = {zone.id: zone.name or zone.id for zone in level.zones} | {zone.id: "" for zone in now.zones}
    things: tuple[Spawn | Deed | Exit, ...] = (*now.spawns, *now.deeds, *now.exits)
    for thing in things:
        if gone.get(thing.zone):
            told = f"{level.title}: {thing.name or thing.id} lies in {gone[thing.zone]}, which would be gone."
            yield Consequence("refers", f"{level.id}.{thing.id}", told)
    for path in now.paths:
        for end in (path.start, path.end):
            if gone.get(end):
                told = f"{level.title}: a path leads by {gone[end]}, which would be gone."
                yield Consequence("refers", level.id, told)


def _endings_gone(old: Flow, new: Flow) -> Iterator[Consequence]:
    left = {ending.id for ending in new.endings}
    gone = {ending.id: ending.name or ending.id for ending in old.endings if ending.id not in left}
    for level in new.levels if gone else ():
        for exit_ in level.exits:
            for to in exit_.destinations:
                if to.kind == "end" and to.ending in gone:
                    name = f"{level.title}: {exit_.name or exit_.id}"
                    told = f"{name} would lead nowhere; now it ends with “{gone[to.ending]}”."
                    yield Consequence("nowhere", f"{level.id}.{exit_.id}", told)
    for promise in new.promises if gone else ():
        if promise.ending in gone:
            told = f"The promise “{promise.name or promise.id}” is about “{gone[promise.ending]}”."
            yield Consequence("refers", promise.id, told)


def _actors_gone(old: Flow, new: Flow) -> Iterator[Consequence]:
    gone = set(old.actors) - set(new.actors)
    for level in new.levels if gone else ():
        for actor in [name for name in level.cast if name in gone]:
            told = f"{level.title}: {actor} roams there, and would be no actor any more."
            yield Consequence("refers", level.id, told)
        for exit_ in level.exits:
            for actor in [name for name in exit_.trigger.by if name in gone]:
                told = f"{level.title}: {exit_.name or exit_.id} is set off by {actor}, who would be no actor any more."
                yield Consequence("refers", f"{level.id}.{exit_.id}", told)


# -- facts that are otherwise ----------------------------------------------------------------------------


def facts_changed(old: Flow, new: Flow) -> Iterator[Consequence]:
    """What a fact's other lifetime means, where something asks for it, and conditions that its other bounds keep from
    ever holding."""
    before = {fact.id: fact for fact in old.facts}
    changed = [(before[fact.id], fact) for fact in new.facts if fact.id in before and before[fact.id] is not fact]
    changed = [(was, now) for was, now in changed if was.kind == now.kind]
    if not changed:
        return
    asked = list(_asked(new))
    for was, now in changed:
        if was.lifetime != now.lifetime and any(now.id in text for _, _, text in asked):
            yield Consequence("refers", now.id, f"{now.name or now.id} {AFRESH[now.lifetime]}.")
        elif was.rewinds != now.rewinds and any(now.id in text for _, _, text in asked):
            told = "would go back when the player fails" if now.rewinds else "would be kept when the player fails"
            yield Consequence("refers", now.id, f"{now.name or now.id} {told}.")
        if now.kind == "count" and (was.low, was.high) != (now.low, now.high):
            yield from _out_of_bounds(was, now, asked)


def _out_of_bounds(was: Fact, now: Fact, asked: list[tuple[str, str, str]]) -> Iterator[Consequence]:
    for place, name, text in asked:
        if now.id not in text:
            continue
        for atom in atoms(parse_condition(text)):
            if isinstance(atom, Count) and atom.fact == now.id and _possible(atom, was) and not _possible(atom, now):
                told = f"{name} asks for {atom.bound} {atom.number} {now.name or now.id}, which could never be."
                yield Consequence("refers", place, told)


def _possible(atom: Count, fact: Fact) -> bool:
    if atom.bound == "at least":
        return atom.number <= fact.high
    return atom.number >= fact.low if atom.bound == "at most" else fact.low <= atom.number <= fact.high


def _asked(flow: Flow) -> Iterator[tuple[str, str, str]]:
    """Every condition that is not plain, with its short place and what it belongs to, in words."""
    for level in flow.levels:
        texts = [(level.id, level.title, level.opens)]
        texts += [(level.id, f"{level.title}: the path {path.start} to {path.end}", path.when) for path in level.paths]
        for deed in level.deeds:
            texts.append((f"{level.id}.{deed.id}", f"{level.title}: {deed.name or deed.id}", deed.when))
        for exit_ in level.exits:
            place, name = f"{level.id}.{exit_.id}", f"{level.title}: {exit_.name or exit_.id}"
            texts += [(place, name, text) for text in (exit_.trigger.when, exit_.opens)]
        yield from (one for one in texts if one[2] not in ("always", "never"))
