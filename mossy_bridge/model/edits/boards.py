"""Edits of boards: tiles made, moved and removed, and the links between them along which the cursor steps.

On a board the unit is one column and one row; rows grow downwards, as on the page.
"""

from collections.abc import Callable, Collection, Iterable, Iterator, Sequence
from itertools import count, pairwise
from typing import Literal

from msgspec.structs import replace

from mossy_bridge.model.edits.levels import CannotEdit, set_level, whole
from mossy_bridge.model.flow import Flow, Level, Tile
from mossy_bridge.model.sequence import in_sequence

Side = Literal["left", "right", "up", "down"]
SIDES: tuple[Side, ...] = ("left", "right", "up", "down")
OPPOSITE: dict[Side, Side] = {"left": "right", "right": "left", "up": "down", "down": "up"}
A_ROW = 6
"""So many tiles stand in a row that is laid out by itself."""


def side_of(one: Tile, other: Tile) -> Side:
    """On which side of a tile another lies, by the longer way."""
    across, along = other.col - one.col, other.row - one.row
    if abs(across) >= abs(along):
        return "right" if across >= 0 else "left"
    return "down" if along > 0 else "up"


def link_of(tile: Tile, side: Side) -> str:
    """The tile that the cursor steps to from one side of a tile; "" if there is none."""
    return str(getattr(tile, side))


def board_of(flow: Flow, board_id: str) -> Level:
    """The board with that id, its pattern filled in. Raises CannotEdit if there is none."""
    board = whole(flow, board_id)
    if board is None or board.kind != "board":
        raise CannotEdit("choose a board first")
    return board


def tile_of(board: Level, name: str) -> Tile | None:
    """The tile of a board with that id."""
    return next((tile for tile in board.tiles if tile.id == name), None)


def _with_tiles(flow: Flow, board: Level, tiles: Iterable[Tile]) -> Flow:
    return set_level(flow, board.id, tiles=tuple(tiles))


def _each(flow: Flow, board_id: str, change: Callable[[Tile], Tile]) -> Flow:
    board = board_of(flow, board_id)
    return _with_tiles(flow, board, map(change, board.tiles))


def add_tile(flow: Flow, board_id: str, level: str = "", at: tuple[float, float] | None = None) -> tuple[Flow, str]:
    """The flow with one more tile on a board, and its id: at a column and row, or at the first free place."""
    board = board_of(flow, board_id)
    taken = {name for tile in board.tiles for name in (tile.id, *tile.neighbours)} | {board.first_tile}
    new = next(name for name in (f"t{number}" for number in count(1)) if name not in taken)
    col, row = at or next(_free_places(board))
    target = flow.level(level)
    spawn = target.spawns[0].id if target and target.spawns else ""
    return _with_tiles(flow, board, (*board.tiles, Tile(id=new, col=col, row=row, level=level, spawn=spawn))), new


def _free_places(board: Level) -> Iterator[tuple[float, float]]:
    """The places where no tile stands yet, row by row."""
    taken = {(round(tile.col), round(tile.row)) for tile in board.tiles}
    places = ((number % A_ROW, number // A_ROW) for number in count())
    return (place for place in places if place not in taken)


def paste_tiles(flow: Flow, board_id: str, tiles: Sequence[Tile]) -> tuple[Flow, tuple[str, ...]]:
    """The flow with copies of tiles on a board, one column and row aside, linked among themselves as they were; and the
    new tiles."""
    named: dict[str, str] = {}
    for tile in tiles:
        flow, named[tile.id] = add_tile(flow, board_id, at=(_neat(tile.col + 1), _neat(tile.row + 1)))
    for tile in tiles:
        links = {side: named.get(link_of(tile, side), "") for side in SIDES}
        kept = {"level": tile.level, "spawn": tile.spawn, "locked": tile.locked}
        flow = set_tile(flow, board_id, named[tile.id], **links, **kept)
    return flow, tuple(named.values())


def set_tile(flow: Flow, board_id: str, name: str, **values: object) -> Flow:
    """The flow with fields of a tile set."""
    return _each(flow, board_id, lambda tile: replace(tile, **values) if tile.id == name else tile)


def _neat(value: float) -> float:
    value = round(value, 3)
    return int(value) if value == int(value) else value


def remove_tiles(flow: Flow, board_id: str, names: Collection[str]) -> Flow:
    """The flow without some tiles of a board, and without the links to them."""
    board = board_of(flow, board_id)
    kept = tuple(_without_links(tile, names) for tile in board.tiles if tile.id not in names)
    flow = _with_tiles(flow, board, kept)
    return set_level(flow, board_id, first_tile="") if board.first_tile in names else flow


def _without_links(tile: Tile, names: Collection[str]) -> Tile:
    gone = {side: "" for side in SIDES if link_of(tile, side) in names}
    return replace(tile, **gone) if gone else tile


def link(flow: Flow, board_id: str, name: str, other: str, side: Side | None = None, back: bool = True) -> Flow:
    """The flow with a link from a tile to another, on the side where that lies if none is named; there and back unless
    one-way is wanted. What was linked there before is linked no more."""
    board = board_of(flow, board_id)
    one, two = tile_of(board, name), tile_of(board, other)
    if one is None or two is None or one is two:
        raise CannotEdit("a link leads from one tile of a board to another")
    side = side or side_of(one, two)
    flow = set_tile(flow, board_id, name, **{side: other})
    return set_tile(flow, board_id, other, **{OPPOSITE[side]: name}) if back else flow


def unlink(flow: Flow, board_id: str, names: Collection[str]) -> Flow:
    """The flow without the links between some tiles; of one tile, without all its links, there and back."""
    (only,) = names if len(names) == 1 else ("",)

    def apart(tile: Tile) -> Tile:
        if tile.id == only:
            return _without_links(tile, {link_of(tile, side) for side in SIDES})
        return _without_links(tile, names) if tile.id in names or only else tile

    return _each(flow, board_id, apart)


def tiles_for(flow: Flow, board_id: str, level_ids: Sequence[str]) -> tuple[Flow, tuple[str, ...]]:
    """The flow with a tile for each of some levels that is not on the board yet, in their order, and the new tiles."""
    board = board_of(flow, board_id)
    there = {tile.level for tile in board.tiles}
    missing = [name for name in dict.fromkeys(level_ids) if name not in there and name != board_id]
    if not missing:
        raise CannotEdit(f"all of these are on {board.title} already")
    made = []
    for name in missing:
        flow, tile = add_tile(flow, board_id, name)
        made.append(tile)
    return flow, tuple(made)


def levels_of_region(flow: Flow, region: str) -> list[str]:
    """The play levels of a region that a board would lead to, in their order."""
    return [level.id for level in flow.levels if level.region == region and in_sequence(level)]


def along_the_order(flow: Flow, board_id: str) -> Flow:
    """The flow with the tiles of a board laid out in the order of their levels, row by row to and fro, and linked so
    that the cursor follows it."""
    board = board_of(flow, board_id)
    place = {level.id: number for number, level in enumerate(flow.levels)}
    tiles = sorted(board.tiles, key=lambda tile: place.get(tile.level, len(place)))
    laid = []
    for number, tile in enumerate(tiles):
        row, col = divmod(number, A_ROW)
        laid.append(
            replace(tile, col=col if row % 2 == 0 else A_ROW - 1 - col, row=row, left="", right="", up="", down="")
        )
    flow = _with_tiles(flow, board, laid)
    for one, other in pairwise(laid):
        flow = link(flow, board_id, one.id, other.id)
    return flow


def link_neighbours(flow: Flow, board_id: str) -> Flow:
    """The flow with each tile of a board linked, there and back, to the nearest one on each side, where it and that one
    have no link there yet."""
    board = board_of(flow, board_id)
    for tile in board.tiles:
        for side in ("right", "down"):
            here = tile_of(board_of(flow, board_id), tile.id)
            near = nearest_on(board, tile, side)
            there = near and tile_of(board_of(flow, board_id), near.id)
            if here and there and not link_of(here, side) and not link_of(there, OPPOSITE[side]):
                flow = link(flow, board_id, here.id, there.id, side)
    return flow


def nearest_on(board: Level, tile: Tile, side: Side) -> Tile | None:
    """The nearest tile of a board on one side of another."""
    beside = [
        other for other in board.tiles if other is not tile and _apart(tile, other) and side_of(tile, other) == side
    ]
    return min(beside, key=lambda other: distance(tile, other), default=None)


def _apart(one: Tile, other: Tile) -> bool:
    return (one.col, one.row) != (other.col, other.row)


def distance(one: Tile, other: Tile) -> float:
    """How far tiles are apart, in columns and rows."""
    return abs(one.col - other.col) + abs(one.row - other.row)


def mend_links(flow: Flow, board_id: str) -> Flow:
    """The flow with the links of a board put right: none to a tile that does not exist, each on the side where the
    other tile lies if that side is free, and there and back where the other side is free."""
    board = board_of(flow, board_id)
    names = {tile.id for tile in board.tiles}
    flow = _each(flow, board_id, lambda tile: _linked_among(tile, names - {tile.id}))
    links = [(tile.id, side) for tile in board.tiles for side in SIDES]
    before = None
    while before != flow:  # what one link leaves may make room for another
        before = flow
        for name, side in links:
            flow = put_straight(flow, board_id, name, side)
    for name, side in links:
        flow = link_back(flow, board_id, name, side)
    return flow


def _linked_among(tile: Tile, names: Collection[str]) -> Tile:
    """The tile with links to some others only."""
    return _without_links(tile, {link_of(tile, side) for side in SIDES}.difference(names))


def is_straight(one: Tile, other: Tile, side: Side) -> bool:
    """Whether another tile lies on that side of a tile at all."""
    across, along = other.col - one.col, other.row - one.row
    return {"left": across < 0, "right": across > 0, "up": along < 0, "down": along > 0}[side]


def put_straight(flow: Flow, board_id: str, name: str, side: Side) -> Flow:
    """The flow with a link moved to the side where the other tile lies, and the link back to the opposite one, if both
    are free; otherwise as it is."""
    board = board_of(flow, board_id)
    one = tile_of(board, name)
    other = tile_of(board, link_of(one, side)) if one else None
    if one is None or other is None or is_straight(one, other, side) or not _apart(one, other):
        return flow
    right = side_of(one, other)
    back = link_of(other, OPPOSITE[side]) == one.id
    if link_of(one, right) or (back and link_of(other, OPPOSITE[right])):
        return flow
    flow = set_tile(flow, board_id, name, **{side: "", right: other.id})
    return set_tile(flow, board_id, other.id, **{OPPOSITE[side]: "", OPPOSITE[right]: one.id}) if back else flow


def link_back(flow: Flow, board_id: str, name: str, side: Side) -> Flow:
    """The flow with the link back for one of a tile, if the other tile is free on that side; otherwise as it is."""
    board = board_of(flow, board_id)
    one = tile_of(board, name)
    other = tile_of(board, link_of(one, side)) if one else None
    if other is None or link_of(other, OPPOSITE[side]):
        return flow
    return set_tile(flow, board_id, other.id, **{OPPOSITE[side]: name})
