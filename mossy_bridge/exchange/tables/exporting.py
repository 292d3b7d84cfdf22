"""A flow as tables: levels, exits, spawn points, deeds and facts, a row each."""

from collections.abc import Iterator
from typing import Any

from mossy_bridge.exchange.tables.cells import Row
from mossy_bridge.model.flow import CheckLimits, Deed, Destination, Exit, Fact, Flow, Level, Spawn, Start, Units, Walker

LEVELS = ("id", "code", "name", "kind", "region", "file", "minutes", "difficulty", "opens", "on_arrival", "ships",
          "status", "width", "height", "notes")  # fmt: skip
EXITS = ("from", "to", "exit", "name", "trigger", "when", "opens", "effects", "spawn", "transition", "completes",
         "fresh", "seconds", "x", "y", "width", "height", "zone")  # fmt: skip
SPAWNS = ("level", "id", "name", "x", "y", "faces", "zone")
DEEDS = ("level", "id", "name", "x", "y", "zone", "when", "effects", "repeats", "checkpoint", "saves")
FACTS = ("id", "name", "kind", "lifetime", "rewinds", "low", "high", "values", "initial")
HEADINGS = {"levels": LEVELS, "exits": EXITS, "spawns": SPAWNS, "deeds": DEEDS, "facts": FACTS}
"""The columns of each table. To import, a table of crossings needs ``from`` and ``to`` alone."""
BETWEEN = "; "
NOWHERE = ""


def tables_of(flow: Flow) -> dict[str, list[Row]]:
    """The rows of each table; the flow has its patterns filled in."""
    return {
        "levels": [level_row(level) for level in flow.levels],
        "exits": [exit_row(level, exit_) for level in flow.levels for exit_ in level.exits],
        "spawns": [_spawn_row(level, spawn) for level in flow.levels for spawn in level.spawns],
        "deeds": [_deed_row(level, deed) for level in flow.levels for deed in level.deeds],
        "facts": [_fact_row(fact) for fact in flow.facts],
    }


def level_row(level: Level) -> Row:
    """A level as a row."""
    plan = level.plan
    return {
        "id": level.id, "code": level.code, "name": level.name, "kind": level.kind, "region": level.region,
        "file": level.file, "minutes": _number(level.minutes), "difficulty": _number(level.difficulty),
        "opens": _condition(level.opens), "on_arrival": BETWEEN.join(level.on_arrival),
        "ships": "" if level.ships else "no", "status": level.status, "width": _number(plan.width) if plan else "",
        "height": _number(plan.height) if plan else "", "notes": level.notes,
    }  # fmt: skip


def exit_row(level: Level, exit_: Exit) -> Row:
    """An exit as a row."""
    trigger, (x, y, width, height) = exit_.trigger, exit_.area
    to = exit_.to
    return {
        "from": level.id, "to": destination_text(to), "exit": exit_.id, "name": exit_.name, "trigger": trigger.kind,
        "when": _condition(trigger.when), "opens": _condition(exit_.opens), "effects": BETWEEN.join(exit_.effects),
        "spawn": to.spawn if to and to.kind == "level" else "", "transition": exit_.transition,
        "completes": _yes(exit_.completes), "fresh": _yes(exit_.fresh), "seconds": _number(trigger.seconds),
        "x": _number(x), "y": _number(y), "width": _number(width), "height": _number(height), "zone": exit_.zone,
    }  # fmt: skip


def destination_text(to: Destination | None) -> str:
    """Where an exit leads, as one cell."""
    if to is None:
        return NOWHERE
    return f"end:{to.ending}" if to.kind == "end" else to.level if to.kind == "level" else to.kind


def _spawn_row(level: Level, spawn: Spawn) -> Row:
    place = {"x": _number(spawn.x), "y": _number(spawn.y)}
    return {"level": level.id, "id": spawn.id, "name": spawn.name, **place, "faces": spawn.faces, "zone": spawn.zone}


def _deed_row(level: Level, deed: Deed) -> Row:
    return {
        "level": level.id, "id": deed.id, "name": deed.name, "x": _number(deed.x), "y": _number(deed.y),
        "zone": deed.zone, "when": _condition(deed.when), "effects": BETWEEN.join(deed.effects),
        "repeats": deed.repeats, "checkpoint": deed.checkpoint, "saves": _yes(deed.saves),
    }  # fmt: skip


def _fact_row(fact: Fact) -> Row:
    count = fact.kind == "count"
    first = fact.first
    return {
        "id": fact.id, "name": fact.name, "kind": fact.kind, "lifetime": fact.lifetime, "rewinds": _yes(fact.rewinds),
        "low": str(fact.low) if count else "", "high": str(fact.high) if count else "",
        "values": BETWEEN.join(fact.values), "initial": _yes(first) if isinstance(first, bool) else str(first),
    }  # fmt: skip


def _number(value: float) -> str:
    return "" if not value else str(int(value)) if float(value).is_integer() else repr(float(value))


def _condition(text: str) -> str:
    return "" if text == "always" else text


def _yes(value: bool) -> str:
    return "yes" if value else ""


def lacking(flow: Flow) -> Iterator[str]:
    """What a flow has that its tables do not tell, in words."""
    plain = Flow()
    levels = (*flow.levels, *flow.patterns)
    named: tuple[Any, ...] = (*flow.endings, *flow.regions, *flow.transitions)
    exits = [exit_ for level in levels for exit_ in level.exits]
    for has, words in (
        (bool(flow.patterns), "patterns (their levels are written in full)"),
        (any(level.plan and (level.plan.solids or level.plan.picture) for level in levels),
         "solids and pictures of plans"),
        (any(level.zones or level.paths for level in levels), "zones and paths"),
        (any(level.tiles for level in levels), "tiles of boards"),
        (any(level.cast or level.ticked or level.copied_from for level in levels), "casts, ticks and copies"),
        (any(e.to and e.to.otherwise for e in exits), "where exits lead otherwise"),
        (any(set(e.trigger.by) != {"player"} or not e.trigger.armed_on_arrival for e in exits),
         "who else sets exits off, and whether they are armed on arrival"),
        (any(transition.steps for transition in flow.transitions), "steps of transitions"),
        (bool(flow.promises or flow.walks), "promises and recorded walks"),
        (bool(flow.checklist or flow.waivers or flow.trial_settings),
         "the checklist, accepted findings and values for testing"),
        (bool(flow.readers), "readers of level files"),
        (bool(flow.map), "places of cards on the map"),
        (any(region.tint for region in flow.regions), "tints of regions"),
        (any(one.name for one in named),
         "names of endings, regions and transitions"),
        (flow.start not in (Start(), Start(level=flow.levels[0].id if flow.levels else "")), "where the game starts"),
        ((flow.walker, flow.limits, flow.units) != (Walker(), CheckLimits(), Units()), "walker, limits and units"),
        ((flow.progress, flow.saving, flow.actors) != (plain.progress, plain.saving, plain.actors),
         "progress, saving and actors"),
    ):  # fmt: skip
        if has:
            yield words
