"""Edits at random of the kinds that checks may find something of."""

from msgspec.structs import replace

from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits import order as ordering
from mossy_bridge.model.flow import Destination, Walker


def led(flow, pick):
    """Somewhere that an exit may lead."""
    kind = pick.choice(["level", "level", "level", "next", "previous", "back", "end"])
    if kind == "end":
        return Destination(kind="end", ending=pick.choice(["lit", "lost"]))
    if kind != "level":
        return Destination(kind=kind)
    target = pick.choice(flow.levels)
    spawns = ["", "nowhere", *(spawn.id for spawn in target.spawns)]
    return Destination(kind="level", level=pick.choice([target.id, "gone"]), spawn=pick.choice(spawns))


def edited(flow, pick):
    """One edit that checks may find something of."""
    level = pick.choice(flow.levels)
    other = pick.choice(flow.levels).id
    condition = pick.choice(["always", "never", f"seen {other}", "done gone", "has key", "has rope", "at least 2 oil"])
    kind = pick.randrange(15)
    if kind < 4 and level.exits:
        exit_ = pick.choice(level.exits)
        area = tuple(float(pick.randrange(40)) for _ in range(4))
        values = ({"area": area}, {"to": led(flow, pick)}, {"opens": condition}, {"completes": not exit_.completes})
        return edits.set_exit(flow, level.id, exit_.id, **values[kind])
    if kind == 4 and level.spawns:
        place = {"x": float(pick.randrange(60)), "y": float(pick.randrange(20))}
        return edits.change_thing(flow, level.id, "spawns", pick.choice(level.spawns).id, lambda s: replace(s, **place))
    if kind == 5:
        return ordering.move_levels(flow, [level.id], other)
    if kind == 6 and len(flow.levels) > 2:
        return edits.remove_levels(flow, [level.id])
    if kind == 7:
        return replace(flow, walker=Walker(view=pick.choice(["side", "top"]), speed=pick.choice([3.0, 9.0, 300.0])))
    if kind == 8:
        twin = replace(level, id=f"{level.id}_{pick.randrange(10**6)}", name=f"{level.name} {pick.randrange(9)}")
        return edits.insert_level(flow, twin, other)
    if kind == 9 and level.spawns:
        return edits.remove_thing(flow, level.id, "spawns", pick.choice(level.spawns).id)
    values = (
        {"name": f"Level {pick.randrange(99)}"}, {"ships": not level.ships}, {"opens": condition},
        {"code": pick.choice(["1-1", "1-3", "2-2b", ""])}, {"on_arrival": (f"gain {pick.choice(['rope', 'claper'])}",)},
    )  # fmt: skip
    return edits.set_level(flow, level.id, **pick.choice(values))
