"""Making the next level by copying: codes, names and files go on, and the copy knows what to look at."""

from collections.abc import Sequence
from typing import Any

from msgspec.structs import replace

from mossy_bridge.model.codes import next_code, next_file, next_text
from mossy_bridge.model.edits.levels import existing, insert_level
from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.model.ids import id_from
from mossy_bridge.model.patterns import marked, resolved


def duplicate(flow: Flow, level_ids: Sequence[str]) -> tuple[Flow, tuple[str, ...]]:
    """The flow with a copy of each level behind the last of them, in their order, and the copies' ids. Exits
    from one of them to another lead from copy to copy; all others lead where they did."""
    wanted = [level for level in flow.levels if level.id in set(level_ids)]
    for level_id in level_ids:
        existing(flow, level_id)
    return put_in(flow, wanted, wanted[-1].id if wanted else "")


def put_in(flow: Flow, levels: Sequence[Level], after: str = "") -> tuple[Flow, tuple[str, ...]]:
    """The flow with copies of these levels (of this flow or of another) put behind a level, and their ids."""
    renamed: dict[str, str] = {}
    for level in levels:
        flow, copy = _with_copy(flow, level, after)
        renamed[level.id] = after = copy
    led = {new: old for old, new in renamed.items()}
    flow = replace(flow, levels=tuple(_led(lv, renamed) if lv.id in led else lv for lv in flow.levels))
    return flow, tuple(renamed.values())


def _is_free(flow: Flow, level: Level) -> bool:
    """Whether the flow has no level of that id, name or code: it has been cut out, and is put in elsewhere."""
    for other in flow.levels:
        if other.id == level.id or (level.code and other.code.casefold() == level.code.casefold()):
            return False
        if level.name and other.name.casefold() == level.name.casefold():
            return False
    return True


def _with_copy(flow: Flow, level: Level, after: str) -> tuple[Flow, str]:
    if _is_free(flow, level):
        return insert_level(flow, level, after), level.id
    filled = next((lv for lv in resolved(replace(flow, levels=(level,))).levels), level)
    code = next_code(level.code, [lv.code for lv in flow.levels])
    name = next_text(level.name, level.code, code, [lv.name for lv in flow.levels])
    copy = replace(
        level,
        id=id_from(name or level.id, {lv.id for lv in flow.levels}),
        code=code,
        name=name,
        file=next_file(level.file, level.code, code, [lv.file for lv in flow.levels]),
        copied_from=level.id if flow.level(level.id) else "",
        unreviewed=_to_look_at(filled),
        ticked=(),
        set_here=level.set_here | {"copied_from", "unreviewed", "ticked"} if level.pattern else level.set_here,
    )
    return insert_level(flow, marked(copy), after), copy.id


def _to_look_at(level: Level) -> tuple[str, ...]:
    """Everything of a copy that may have to differ from its original."""
    parts = [f"exit {exit_.id}" for exit_ in level.exits] + [f"spawn {spawn.id}" for spawn in level.spawns]
    return (*parts, *(["file"] if level.file else []))


def _led(level: Level, renamed: dict[str, str]) -> Level:
    """The level with its exits and tiles leading to the copies."""

    def led(to: Any) -> Any:
        if to is None:
            return None
        return replace(to, level=renamed.get(to.level, to.level), otherwise=led(to.otherwise))

    if len(renamed) < 2:
        return level
    exits = tuple(replace(exit_, to=led(exit_.to)) for exit_ in level.exits)
    tiles = tuple(replace(tile, level=renamed.get(tile.level, tile.level)) for tile in level.tiles)
    return replace(level, exits=exits, tiles=tiles)
