"""How far the cursor of a board gets."""

from mossy_bridge.model.flow import Level


def tiles_in_reach(board: Level, unlocked: frozenset[str]) -> list[str]:
    """The tiles the cursor can stand on, in file order, while the given ones are open.

    It starts at the first tile whether that is locked or not. With ``cursor`` ``open`` it enters only open
    neighbours, with ``any`` all; with ``free`` it gets everywhere. An unknown neighbour is no link.
    """
    tiles = {tile.id: tile for tile in board.tiles}
    if board.cursor == "free" or not tiles:
        return list(tiles)
    start = first_tile(board)
    found = {start}
    waiting = [start]
    while waiting:
        for name in tiles[waiting.pop()].neighbours:
            enters = board.cursor == "any" or name in unlocked
            if name in tiles and name not in found and enters:
                found.add(name)
                waiting.append(name)
    return [name for name in tiles if name in found]


def first_tile(board: Level) -> str:
    """Where the cursor of a board that has tiles starts."""
    return next((tile.id for tile in board.tiles if tile.id == board.first_tile), board.tiles[0].id)
