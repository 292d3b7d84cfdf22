"""What a board does, wired to the requests: the same on its face and on the bench."""

from mossy_bridge.desk.boards.canvas import BoardCanvas
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.model.edits.boards import Side
from mossy_bridge.plan.laying import Part


def wire_board(canvas: BoardCanvas, requests: Requests, selection: Selection) -> None:
    """Connects what a designer does on a board with the edits it asks for."""

    def chosen(tiles: tuple[str, ...]) -> None:
        selection.select_parts(canvas.board.id, _parts(tiles))

    def move(tiles: tuple[str, ...], across: float, along: float) -> None:
        requests.plans.move(canvas.board.id, _parts(tiles), across, along)

    def link(tile: str, other: str, side: Side | None, back: bool) -> None:
        requests.boards.link(canvas.board.id, tile, other, side, back)

    def add(col: float, row: float) -> None:
        requests.boards.add_tile(canvas.board.id, at=None if col < 0 else (col, row))

    canvas.chosen.connect(chosen)
    canvas.move_wanted.connect(move)
    canvas.link_wanted.connect(link)
    canvas.tile_wanted.connect(add)
    canvas.unlink_wanted.connect(lambda tiles: requests.boards.unlink(canvas.board.id, tiles))
    canvas.remove_wanted.connect(lambda tiles: requests.plans.remove(canvas.board.id, _parts(tiles)))
    canvas.opened.connect(selection.select)


def _parts(tiles: tuple[str, ...]) -> list[Part]:
    return [Part("tiles", name) for name in tiles]
