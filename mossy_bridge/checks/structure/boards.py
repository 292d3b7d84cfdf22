"""Boards: tiles that lead nowhere, links of the cursor that are not right, and levels that are on no board."""

from collections.abc import Iterator
from functools import partial

from mossy_bridge.checks.finding import Found, Repair
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.registry import check
from mossy_bridge.model.edits import boards
from mossy_bridge.model.edits.boards import OPPOSITE, SIDES, Side, link_of, tile_of
from mossy_bridge.model.edits.levels import add_exit
from mossy_bridge.model.flow import Destination, Flow, Level, Tile
from mossy_bridge.model.sequence import in_sequence
from mossy_bridge.play.board_cursor import tiles_in_reach


def _boards(here: Inspection) -> Iterator[Level]:
    return (level for level in here.flow.levels if level.kind == "board" and level.ships)


@check("tile-empty", "error", "boards", "Choosing it does nothing.")
def tile_empty(here: Inspection) -> Iterator[Found]:
    """A tile leads to no level, or to one that does not exist.

    Example: The fourth tile of the tide chart.
    To mend: Choose its level, or remove it.
    """
    for board in _boards(here):
        for tile in board.tiles:
            target = here.flow.level(tile.level)
            if target and target.ships:
                continue
            what = "leads to no level" if not tile.level else f"leads to “{tile.level}”, which does not exist"
            what = f"leads to {target.title}, which does not ship" if target else what
            yield Found((f"{board.id}.{tile.id}",), f"The tile {tile.id} of {board.title} {what}.",
                        repair=_removed(here, board, tile))  # fmt: skip


def _removed(here: Inspection, board: Level, tile: Tile) -> Repair | None:
    """The tile taken away, if the cursor gets to all others as before."""
    rest = boards.remove_tiles(here.flow, board.id, {tile.id}).level(board.id)
    before = set(_in_reach(board)) - {tile.id}
    if rest is None or set(_in_reach(rest)) < before or not rest.tiles or board.pattern:
        return None
    return Repair("Remove the empty tile", lambda flow: boards.remove_tiles(flow, board.id, {tile.id}))


def _name(here: Inspection, board: Level, tile: Tile) -> str:
    """The tile in words, without its board."""
    return here.title(f"{board.id}.{tile.id}").partition(": ")[2]


def _in_reach(board: Level) -> list[str]:
    """The tiles the cursor gets to while all are open."""
    return tiles_in_reach(board, frozenset(tile.id for tile in board.tiles)) if board.tiles else []


@check("tile-out-of-reach", "error", "boards", "The cursor never gets there.")
def tile_out_of_reach(here: Inspection) -> Iterator[Found]:
    """The cursor cannot get to a tile that is open, from the board's first tile.

    Example: A tile without any link.
    To mend: Link it to its neighbours.
    """
    for board in _boards(here):
        reached = _in_reach(board)
        for tile in board.tiles:
            if tile.id not in reached:
                message = f"{here.title(f'{board.id}.{tile.id}')} is out of reach: no link of the cursor leads there."
                yield Found((f"{board.id}.{tile.id}",), message, repair=_linked(here, board, tile, reached))


def _linked(here: Inspection, board: Level, tile: Tile, reached: list[str]) -> Repair | None:
    """The tile linked there and back with the nearest one in reach that has room on that side."""
    near = sorted((one for one in board.tiles if one.id in reached), key=lambda one: boards.distance(one, tile))
    for one in near if not board.pattern else ():
        side = boards.side_of(one, tile)
        free = not link_of(one, side) and not link_of(tile, OPPOSITE[side])
        if free and boards.is_straight(one, tile, side):
            made = partial(boards.link, board_id=board.id, name=one.id, other=tile.id, side=side)
            return Repair(f"Link it with {_name(here, board, one)}", made)
    return None


def _links(board: Level) -> Iterator[tuple[Tile, Side, Tile]]:
    """The links between tiles that exist: from, the side, to."""
    for tile in board.tiles:
        for side in SIDES:
            other = tile_of(board, link_of(tile, side))
            if other and other is not tile:
                yield tile, side, other


@check("tile-link-one-sided", "warning", "boards", "The cursor cannot step back the way it came.")
def tile_link_one_sided(here: Inspection) -> Iterator[Found]:
    """The cursor goes from one tile to another, and not back by the opposite key.

    Example: Right leads from 1-1 to 1-2, but left of 1-2 is nothing.
    To mend: Link back; the repair does.
    """
    for board in _boards(here):
        for tile, side, other in _links(board):
            back = OPPOSITE[side]
            if link_of(other, back) == tile.id:
                continue
            step = f"the cursor steps {side} from {_name(here, board, tile)} to {_name(here, board, other)}"
            message = f"On {board.title} {step}, but {back} from there it does not come back."
            at = (f"{board.id}.{tile.id}", f"{board.id}.{other.id}")
            yield Found(at, message, repair=_back(board, tile, side, other))


def _back(board: Level, tile: Tile, side: Side, other: Tile) -> Repair | None:
    if link_of(other, OPPOSITE[side]) or board.pattern or not boards.is_straight(tile, other, side):
        return None
    return Repair("Link it back", lambda flow: boards.link_back(flow, board.id, tile.id, side))


@check("tile-link-crooked", "warning", "boards", "The cursor goes another way than the key that was pressed.")
def tile_link_crooked(here: Inspection) -> Iterator[Found]:
    """A link leads another way than its key says.

    Example: The key up leads to a tile further down.
    To mend: Put it straight; the repair does, or move the tile.
    """
    for board in _boards(here):
        for tile, side, other in _links(board):
            if boards.is_straight(tile, other, side):
                continue
            step = f"the cursor steps {side} from {_name(here, board, tile)} to {_name(here, board, other)}"
            message = f"On {board.title} {step}, which does not lie {_lies(side)}."
            yield Found((f"{board.id}.{tile.id}",), message, repair=_straight(here, board, tile, side))


def _lies(side: Side) -> str:
    return {"left": "to the left", "right": "to the right", "up": "above", "down": "below"}[side]


def _straight(here: Inspection, board: Level, tile: Tile, side: Side) -> Repair | None:
    """The link put on the side where the other tile lies, where both have room there."""
    after = boards.put_straight(here.flow, board.id, tile.id, side).level(board.id)
    if after is None or after.tiles == board.tiles or board.pattern:
        return None
    one = tile_of(after, tile.id)
    other = tile_of(board, link_of(tile, side))
    if one is None or other is None or not boards.is_straight(one, other, boards.side_of(one, other)):
        return None
    return Repair("Put the link straight", lambda flow: boards.put_straight(flow, board.id, tile.id, side))


@check("board-no-return", "warning", "boards", "Whoever does not want to choose cannot leave.")
def board_no_return(here: Inspection) -> Iterator[Found]:
    """A board has no exit: one can only choose.

    Example: Whoever opens the tide chart by mistake must play some level.
    To mend: Add a way back.
    """
    for board in _boards(here):
        if not board.exits:
            message = f"{board.title} has no exit: one leaves it only by choosing a tile."
            yield Found((board.id,), message, repair=_way_back(here, board))


def _way_back(here: Inspection, board: Level) -> Repair | None:
    """An exit back to where one came from, or else to the screen at which the game begins."""
    start = here.flow.level(here.flow.start.level)
    if start is None or start.kind != "screen" or not start.ships or board.pattern:
        return None
    to = Destination(kind="back", otherwise=Destination(kind="level", level=start.id))
    return Repair("Add a way back", lambda flow: add_exit(flow, board.id, "Back", to)[0])


@check("level-not-on-board", "hint", "boards", "It cannot be chosen like the others of its region.")
def level_not_on_board(here: Inspection) -> Iterator[Found]:
    """Other levels of its region have a tile on a board, it has none.

    Example: Five levels of The Shore are on the chart, Mud Flats is not.
    To mend: Make a tile for it.
    """
    of_level = {tile.level: board for board in _boards(here) for tile in board.tiles}
    regions: dict[str, list[Level]] = {}
    for level in here.flow.levels:
        if in_sequence(level) and level.region:
            regions.setdefault(level.region, []).append(level)
    for levels in regions.values():
        missing = [level for level in levels if level.id not in of_level]
        if len(missing) != 1 or len(levels) < 3:
            continue
        (level,) = missing
        board = of_level[next(one.id for one in levels if one.id in of_level)]
        message = f"{level.title} is on no board, unlike the other levels of its region."
        yield Found((level.id,), message, repair=_made(here, board, level))


def _made(here: Inspection, board: Level, level: Level) -> Repair | None:
    """A tile for the level, linked with its nearest neighbour."""
    if board.pattern or not level.spawns:
        return None

    def edit(flow: Flow) -> Flow:
        flow, _ = boards.add_tile(flow, board.id, level.id)
        return boards.link_neighbours(flow, board.id) if board.cursor != "free" else flow

    whole = edit(here.flow).level(board.id)
    return Repair("Make a tile for it", edit) if whole and len(_in_reach(whole)) == len(whole.tiles) else None
