"""Making the next level by copying: codes, names and files go on, and the copy knows what to look at."""

from collections.abc import Sequence
from typing import Any

from msgspec.structs import replace

from mossy_bridge.model.codes import FilesInUse, InUse, next_code, next_file, next_text
from mossy_bridge.model.edits.levels import existing, insert_levels
from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.model.ids import id_from
from mossy_bridge.model.patterns import marked, resolved


def duplicate(flow: Flow, level_ids: Sequence[str]) -> tuple[Flow, tuple[str, ...]]:
    """The flow with a copy of each level behind the last of them, in their order, and the copies' ids. Exits
    from one of them to another lead from copy to copy; all others lead where they did."""
    chosen = set(level_ids)
    wanted = [level for level in flow.levels if level.id in chosen]
    for level_id in level_ids:
        existing(flow, level_id)
    return put_in(flow, wanted, wanted[-1].id if wanted else "")


def put_in(flow: Flow, levels: Sequence[Level], after: str = "") -> tuple[Flow, tuple[str, ...]]:
    """The flow with copies of these levels (of this flow or of another) put behind a level, and their ids."""
    names, copies = _NamesInUse(flow), list[Level]()
    for level in levels:
        copies.append(level if names.has_none_of(level) else _copy(flow, level, names))
        names.add(copies[-1])
    renamed = {level.id: copy.id for level, copy in zip(levels, copies, strict=True)}
    flow, led = insert_levels(flow, copies, after), set(renamed.values())
    flow = replace(flow, levels=tuple(_led(lv, renamed) if lv.id in led else lv for lv in flow.levels))
    return flow, tuple(renamed.values())


class _NamesInUse:
    """What the levels of a flow are called."""

    def __init__(self, flow: Flow):
        self.ids = {level.id for level in flow.levels}
        self.codes, self.names = InUse(level.code for level in flow.levels), InUse(level.name for level in flow.levels)
        self.files = FilesInUse(level.file for level in flow.levels if level.file)

    def has_none_of(self, level: Level) -> bool:
        """Whether no level has the id, name or code of one: it has been cut out, and is put in elsewhere."""
        coded, named = level.code and level.code in self.codes, level.name and level.name in self.names
        return level.id not in self.ids and not coded and not named

    def add(self, level: Level) -> None:
        """From now on there is one more level."""
        self.ids.add(level.id)
        self.codes.add(level.code)
        self.names.add(level.name)
        if level.file:
            self.files.add(level.file)


def _copy(flow: Flow, level: Level, names: _NamesInUse) -> Level:
    filled = next((lv for lv in resolved(replace(flow, levels=(level,))).levels), level)
    code = next_code(level.code, names.codes)
    name = next_text(level.name, level.code, code, names.names)
    copy = replace(
        level,
        id=id_from(name or level.id, names.ids),
        code=code,
        name=name,
        file=next_file(level.file, level.code, code, names.files),
        copied_from=level.id if level.id in names.ids else "",
        unreviewed=_to_look_at(filled),
        ticked=(),
        set_here=level.set_here | {"copied_from", "unreviewed", "ticked"} if level.pattern else level.set_here,
    )
    return marked(copy)


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
