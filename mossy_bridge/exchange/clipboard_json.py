"""Parts of a flow as JSON text, for the clipboard: between levels and between windows."""

import json
from collections.abc import Iterable, Sequence
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from mossy_bridge.exchange.reading import CannotRead, flow_from_tree, tree_from_text
from mossy_bridge.exchange.writing import tree_of
from mossy_bridge.model.edits.boards import paste_tiles
from mossy_bridge.model.edits.levels import add_thing, whole
from mossy_bridge.model.flow import Deed, Exit, Flow, Level, Rect, Spawn, Tile, Transition, Zone
from mossy_bridge.model.ids import id_from
from mossy_bridge.model.patterns import resolved, resolved_level
from mossy_bridge.plan.laying import Part, neat, part_of, with_solid

MARK = "mossy_bridge_parts"


class Parts(Struct, frozen=True):
    """What the clipboard can hold."""

    levels: tuple[Level, ...] = ()
    exits: tuple[Exit, ...] = ()
    spawns: tuple[Spawn, ...] = ()
    deeds: tuple[Deed, ...] = ()
    zones: tuple[Zone, ...] = ()
    tiles: tuple[Tile, ...] = ()
    solids: tuple[Rect, ...] = ()
    transitions: tuple[Transition, ...] = ()
    patterns: tuple[Level, ...] = ()
    """The patterns that the levels are based on."""

    @property
    def only_transitions(self) -> bool:
        """Whether it holds transitions for their own sake, and not as what exits use."""
        others = (self.levels, self.exits, self.spawns, self.deeds, self.zones, self.tiles, self.solids)
        return bool(self.transitions) and not any(others)


def levels_text(flow: Flow, level_ids: Iterable[str]) -> str:
    """Levels as text, with the transitions they use and the patterns they are based on."""
    wanted = set(level_ids)
    levels = [level for level in flow.levels if level.id in wanted]
    based_on = {level.pattern for level in levels}
    patterns = [tree_of(pattern) for pattern in flow.patterns if pattern.id in based_on]
    used = {exit_.transition for level in resolved(flow).levels if level.id in wanted for exit_ in level.exits}
    written = [tree_of(level) for level in levels]
    return _text({"levels": written, "patterns": patterns, "transitions": _transitions(flow, used)})


def things_text(flow: Flow, level: Level, parts: Sequence[Part]) -> str:
    """Things of one level as text, with the transitions its exits use."""
    tree: dict[str, Any] = {}
    for part in dict.fromkeys(parts):
        thing = part_of(level, part)
        if thing is not None:
            tree.setdefault(part.group, []).append(tree_of(thing))
    used = {exit_.get("transition", "") for exit_ in tree.get("exits", [])}
    return _text({**tree, "transitions": _transitions(flow, used)})


def transitions_text(flow: Flow, names: Iterable[str]) -> str:
    """Transitions as text."""
    return _text({"transitions": _transitions(flow, set(names))})


def _transitions(flow: Flow, used: set[str]) -> list[Any]:
    return [tree_of(transition) for transition in flow.transitions if transition.id in used]


def _text(tree: dict[str, Any]) -> str:
    kept = {key: value for key, value in tree.items() if value}
    return json.dumps({MARK: 1, **kept}, ensure_ascii=False, indent=2)


def parts_of(text: str) -> Parts | None:
    """What the text holds; None where it is no text of this program. Raises :class:`CannotRead` where it is,
    but damaged."""
    if MARK not in text:
        return None
    tree = tree_from_text(text)
    if not isinstance(tree, dict) or MARK not in tree:
        return None
    unknown = set(tree) - {
        MARK,
        "levels",
        "patterns",
        "exits",
        "spawns",
        "deeds",
        "zones",
        "tiles",
        "solids",
        "transitions",
    }
    if unknown:
        raise CannotRead([f"the clipboard: unknown field “{name}”" for name in sorted(unknown)])
    carrier = {key: tree[key] for key in ("exits", "spawns", "deeds", "zones", "tiles") if key in tree}
    plan = {"plan": {"solids": tree["solids"]}} if "solids" in tree else {}
    flow = flow_from_tree(
        {
            "mossy_bridge": 1,
            "patterns": [*_listed(tree, "patterns"), {"id": _free_id(tree), **carrier, **plan}],
            "levels": tree.get("levels", []),
            "transitions": tree.get("transitions", []),
        }
    )
    *patterns, held = flow.patterns
    solids = held.plan.solids if held.plan else ()
    return Parts(
        flow.levels, held.exits, held.spawns, held.deeds, held.zones, held.tiles, solids, flow.transitions,
        tuple(patterns),
    )  # fmt: skip


def _listed(tree: dict[str, Any], key: str) -> list[Any]:
    part = tree.get(key, [])
    if not isinstance(part, list):
        raise CannotRead([f"the clipboard: “{key}” is no list"])
    return part


def _free_id(tree: dict[str, Any]) -> str:
    """An id for what carries the things, which no pattern has."""
    taken = {str(pattern.get("id")) for pattern in _listed(tree, "patterns") if isinstance(pattern, dict)}
    return id_from("parts", taken)


def levels_for(flow: Flow, parts: Parts) -> tuple[Level, ...]:
    """The levels as they can be put into a flow: based on their pattern where the flow has the same one, and with what
    they have of it filled in where it does not."""
    known = {pattern.id: pattern for pattern in flow.patterns}
    carried = {pattern.id: pattern for pattern in parts.patterns}
    kept = {name for name, pattern in carried.items() if known.get(name) == pattern}
    return tuple(
        replace(resolved_level(level, carried[level.pattern]), pattern="", set_here=frozenset())
        if level.pattern in carried and level.pattern not in kept
        else level
        for level in parts.levels
    )


def pasted(flow: Flow, level_id: str, parts: Parts, by: float = 0.0) -> tuple[Flow, tuple[Part, ...]]:
    """The flow with the things put into a level, shifted by ``by`` plan units both ways, and which they are.
    A zone the level does not have is left out of the things, not made up."""
    flow = with_transitions(flow, parts)
    made: list[Part] = []
    zones = {zone.id for zone in (whole(flow, level_id) or Level(id="none")).zones} | {z.id for z in parts.zones}
    for group in ("zones", "spawns", "deeds", "exits"):
        for thing in getattr(parts, group):
            if getattr(thing, "zone", "") not in zones:
                thing = replace(thing, zone="") if group != "zones" else thing
            flow, name = add_thing(flow, level_id, group, _shifted(thing, by))
            made.append(Part(group, name))
    if parts.tiles:
        flow, tiles = paste_tiles(flow, level_id, parts.tiles)
        made += [Part("tiles", name) for name in tiles]
    for x, y, width, height in parts.solids:
        flow, part = with_solid(flow, level_id, (x + by, y + by, width, height))
        made.append(part)
    return flow, tuple(made)


def _shifted(thing: Any, by: float) -> Any:
    if isinstance(thing, Exit):
        x, y, width, height = thing.area
        return replace(thing, area=(neat(x + by), neat(y + by), width, height)) if width or height else thing
    return replace(thing, x=neat(thing.x + by), y=neat(thing.y + by)) if isinstance(thing, Spawn | Deed) else thing


def with_transitions(flow: Flow, parts: Parts) -> Flow:
    """The flow with the transitions it does not have yet."""
    known = {transition.id for transition in flow.transitions}
    new = tuple(transition for transition in parts.transitions if transition.id not in known)
    return replace(flow, transitions=(*flow.transitions, *new)) if new else flow
