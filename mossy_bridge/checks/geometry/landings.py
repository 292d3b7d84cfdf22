"""Ways in that meet on one spawn point though they come from different sides."""

from collections.abc import Iterable, Iterator

from msgspec.structs import replace

from mossy_bridge.checks.finding import Found, Repair
from mossy_bridge.checks.geometry.triggers import has_size
from mossy_bridge.checks.inspection import NearbyInspection
from mossy_bridge.checks.level_links import Entrance
from mossy_bridge.checks.registry import nearby_check
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Exit, Flow, Level, Tile
from mossy_bridge.plan.arrivals import opposite, sides_of
from mossy_bridge.plan.doors import free_landing


@nearby_check("landing-shared", "hint", "places", "From one of the two sides the player arrives facing the wrong way.")
def landing_shared(here: NearbyInspection) -> Iterator[Found]:
    """Ways in from different sides of a level land on one spawn point, which faces one way.

    Example: From the west and from the east one appears at the West end, looking right.
    To mend: Make a spawn point for each side, and lead each way in to its own.
    """
    start = here.flow.start
    for level in here.levels:
        ways_in = here.links.ways_in(level.id)
        others = {way.spawn for way in ways_in if isinstance(way.thing, Tile)}
        if start.level == level.id:
            others.add(start.spawn)
        for spawn_id, ways in _landing(level, ways_in).items():
            first = level.spawns[0].id == spawn_id and "" in others
            if len(ways) != 2 or ways[0][0].id == ways[1][0].id or first or spawn_id in others:
                continue
            if opposite(sides_of(*ways[0]), sides_of(*ways[1])):
                at = f"{level.id}.{spawn_id}"
                told = " and ".join(here.title(f"{one.id}.{exit_.id}") for one, exit_ in ways)
                places = (at, *(f"{one.id}.{exit_.id}" for one, exit_ in ways))
                yield Found(places, f"{told} come from different sides, and both land on {here.title(at)}.",
                            repair=_apart(here, level, ways))  # fmt: skip


def _landing(level: Level, ways_in: Iterable[Entrance]) -> dict[str, list[tuple[Level, Exit]]]:
    """The exits that land on each spawn point of a level."""
    found: dict[str, list[tuple[Level, Exit]]] = {}
    for way in ways_in:
        spawn = level.spawn(way.spawn)
        if spawn and isinstance(way.thing, Exit):
            found.setdefault(spawn.id, []).append((way.level, way.thing))
    return found


def _apart(here: NearbyInspection, target: Level, ways: list[tuple[Level, Exit]]) -> Repair | None:
    """A landing of its own for the second, beside the door that leads back to where it comes from."""
    level, exit_ = ways[1]
    doors = [e for e in target.exits if has_size(e) and e.to and e.to.kind == "level" and e.to.level == level.id]
    if not doors or target.plan is None or exit_.to is None or exit_.to.kind != "level":
        return None
    landing = free_landing(here.flow, target, doors[0].area)
    if landing is None:
        return None
    landing, to = replace(landing, name=f"From {level.title}"), exit_.to

    def edit(flow: Flow) -> Flow:
        flow, spawn = edits.add_thing(flow, target.id, "spawns", landing)
        return edits.set_exit(flow, level.id, exit_.id, to=replace(to, spawn=spawn))

    return Repair(f"Give {exit_.name or exit_.id} of {level.title} a landing of its own", edit)
