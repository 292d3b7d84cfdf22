"""References to ids that do not exist."""

from collections.abc import Iterator

from msgspec.structs import replace

from mossy_bridge.checks.finding import Found, Repair
from mossy_bridge.checks.inspection import Inspection, LocalInspection
from mossy_bridge.checks.registry import CHECKS, check, local_check
from mossy_bridge.model.addresses import place_exists, short_places, things_of
from mossy_bridge.model.flow import PLAYER, Deed, Exit, Level, Spawn
from mossy_bridge.model.patterns import MERGED, NEVER_TAKEN


@local_check("transition-missing", "error", "structure", "What happens on screen in between is not defined.")
def transition_missing(here: LocalInspection) -> Iterator[Found]:
    """An exit names a transition that does not exist.

    Example: The slow fade was removed, and one gate still uses it.
    To mend: Choose another transition.
    """
    known = {transition.id for transition in here.flow.transitions}
    for level, exit_ in here.exits():
        if exit_.transition and exit_.transition not in known:
            at = f"{level.id}.{exit_.id}"
            yield Found((at,), f"{here.title(at)} uses the transition “{exit_.transition}”, which does not exist.")


@local_check("zone-missing", "error", "structure", "Anything in it is unreachable.")
def zone_missing(here: LocalInspection) -> Iterator[Found]:
    """Something lies in a zone that does not exist.

    Example: A deed in the cellar of a level without one.
    To mend: Choose another zone, or make that one.
    """
    for level in here.levels:
        known = {zone.id for zone in level.zones}
        things: tuple[Spawn | Deed | Exit, ...] = (*level.spawns, *level.deeds, *level.exits)
        for thing in things:
            if thing.zone and thing.zone not in known:
                at = f"{level.id}.{thing.id}"
                yield Found((at,), f"{here.title(at)} lies in the zone “{thing.zone}”, which does not exist.")
        named = [name for path in level.paths for name in (path.start, path.end)]
        for name in dict.fromkeys(name for name in named if name not in known):
            yield Found((level.id,), f"A path of {level.title} names the zone “{name}”, which does not exist.")


@local_check("actor-missing", "error", "structure", "Nothing by that name can set anything off.")
def actor_missing(here: LocalInspection) -> Iterator[Found]:
    """A trigger names an actor that does not exist.

    Example: A gate waits for the crab, of which nothing is known.
    To mend: Make the actor, or choose the player.
    """
    known = {PLAYER, *here.flow.actors}
    for level in here.levels:
        for name in dict.fromkeys(name for name in level.cast if name not in known):
            message = f"In {level.title} roams “{name}”, an actor that does not exist."
            yield Found((level.id,), message, repair=_made_actor(name))
        for exit_ in level.exits:
            if known.issuperset(exit_.trigger.by):
                continue
            at = f"{level.id}.{exit_.id}"
            for name in dict.fromkeys(name for name in exit_.trigger.by if name not in known):
                message = f"{here.title(at)} is set off by “{name}”, an actor that does not exist."
                yield Found((at,), message, repair=_made_actor(name))


def _made_actor(name: str) -> Repair:
    """The name as an actor's: who has written it meant one."""
    return Repair(f"Make {name} an actor", lambda flow: replace(flow, actors=(*flow.actors, name)))


@local_check("region-missing", "error", "structure", "The level has no place on the order strip.")
def region_missing(here: LocalInspection) -> Iterator[Found]:
    """A level belongs to a region that does not exist.

    Example: A pasted level still belongs to The Deep.
    To mend: Choose a region of this flow.
    """
    known = {region.id for region in here.flow.regions}
    for level in here.levels:
        if level.region and level.region not in known:
            yield Found((level.id,), f"{level.title} lies in the region “{level.region}”, which does not exist.")


@local_check("pattern-missing", "error", "structure", "The level lacks all that it should take from its pattern.")
def pattern_missing(here: LocalInspection) -> Iterator[Found]:
    """A level follows a pattern that does not exist.

    Example: The pattern Sands was removed with its file.
    To mend: Choose another pattern, or none.
    """
    known = {pattern.id for pattern in here.flow.patterns}
    for level in here.levels:
        if level.pattern and level.pattern not in known:
            yield Found((level.id,), f"{level.title} follows the pattern “{level.pattern}”, which does not exist.")


@check("pattern-drift", "hint", "structure", "It would not follow when the pattern changes.")
def pattern_drift(here: Inspection) -> Iterator[Found]:
    """A level sets something itself that its pattern has just so.

    Example: The gate of More Sands repeats the pattern's area.
    To mend: Let the level take it from the pattern.
    """
    patterns = {pattern.id: pattern for pattern in here.flow.patterns}
    for level in here.written.levels:
        pattern = patterns.get(level.pattern)
        same = _same_as(level, pattern) if pattern else []
        if same:
            told = ", ".join(same)
            yield Found((level.id,), f"{level.title} sets {told} to the very value its pattern has.")


def _same_as(level: Level, pattern: Level) -> list[str]:
    found = []
    for name in Level.__struct_fields__:
        if name not in level.set_here or name in NEVER_TAKEN:
            continue
        own, model = getattr(level, name), getattr(pattern, name)
        if name in MERGED:
            found += [f"{name} {getattr(thing, 'id', '')}".strip() for thing in own if thing in model]
        elif own == model:
            found.append(name)
    return found


@check("reference-idle", "warning", "structure", "It points at something that is no longer there.")
def reference_idle(here: Inspection) -> Iterator[Found]:
    """Something else points at what is not there: a tile's neighbour, a ticked item, an acceptance, a place on the
    map.

    Example: The first tile of a board was removed.
    To mend: Take the reference out; the repair does.
    """
    items = {item.id for item in here.flow.checklist}

    def is_odd(level: Level) -> bool:
        return any(_idle_in_level(here, level, items))

    for level in here.level_results.where("idle references", is_odd, "beside"):
        yield from _idle_in_level(here, level, items)
    for name in here.flow.map:
        if here.flow.level(name) is None:
            yield Found((name,), f"The map keeps a place for “{name}”, a level that does not exist.")
    yield from _idle_promises(here)
    known = short_places(here.flow) if here.flow.waivers else set()
    for waiver in here.flow.waivers:
        of_files = waiver.check in CHECKS and CHECKS[waiver.check].chapter == "level files"  # places may be in files
        if any(place not in known for place in waiver.at.split()) and "/" not in waiver.at and not of_files:
            yield Found((waiver.at,), f"A finding is accepted at “{waiver.at}”, where there is nothing.")
    for setting in here.written.trial_settings:
        if not place_exists(here.written, setting.at):
            yield Found((setting.at,), f"A test-only value is noted at “{setting.at}”, where there is nothing.")


def _idle_in_level(here: Inspection, level: Level, items: set[str]) -> Iterator[Found]:
    tiles = {tile.id for tile in level.tiles}
    for tile in level.tiles:
        for name in tile.neighbours:
            if name not in tiles:
                at = f"{level.id}.{tile.id}"
                yield Found((at,), f"{here.title(at)} has the neighbour “{name}”, which does not exist.")
    if level.first_tile and level.first_tile not in tiles:
        yield Found((level.id,), f"{level.title} begins at the tile “{level.first_tile}”, which does not exist.")
    if level.copied_from and here.flow.level(level.copied_from) is None:
        yield Found((level.id,), f"{level.title} is a copy of “{level.copied_from}”, which does not exist.")
    for name in level.ticked:
        if name not in items:
            yield Found((level.id,), f"{level.title} has ticked “{name}”, which is not on the checklist.")
    for name in level.unreviewed:
        what, _, thing = name.partition(" ")
        if name != "file" and (what not in ("exit", "spawn", "deed", "tile") or thing not in things_of(level)):
            yield Found((level.id,), f"{level.title} has still to look at “{name}”, which does not exist.")


def _idle_promises(here: Inspection) -> Iterator[Found]:
    levels = {level.id for level in here.flow.levels} if here.flow.promises or here.flow.walks else set()
    endings = {ending.id for ending in here.flow.endings}
    for promise in here.flow.promises:
        named = [name for name in (promise.level, *promise.avoiding) if name and name not in levels]
        named += [promise.ending] if promise.ending and promise.ending not in endings else []
        for name in named:
            at = (promise.id,)
            yield Found(at, f"The promise {promise.name or promise.id} speaks of “{name}”, which does not exist.")
    for walk in here.flow.walks:
        kind, _, name = walk.expect.partition(":")
        if name and name not in (endings if kind == "ends" else levels):
            yield Found((walk.id,), f"The walk {walk.name or walk.id} expects “{name}”, which does not exist.")
