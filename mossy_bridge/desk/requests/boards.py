"""What is asked of boards: their tiles, and the links between them."""

from collections.abc import Collection, Sequence
from typing import Any

from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.edit_door import EditDoor
from mossy_bridge.desk.session.selection import Selected, Selection
from mossy_bridge.model.edits import boards
from mossy_bridge.model.edits.boards import Side
from mossy_bridge.model.edits.levels import add_level, set_level
from mossy_bridge.model.flow import Flow
from mossy_bridge.plan.laying import Part


class BoardRequests:
    """Edits the document as asked of one board after the other."""

    def __init__(self, document: Document, selection: Selection, door: EditDoor):
        self._document, self._selection, self._door = document, selection, door

    def _title(self, level_id: str) -> str:
        level = self._document.flow.level(level_id)
        return level.title if level else level_id

    def add_board(self, name: str) -> None:
        """Adds a board, from which one gets back to where one came from."""

        def change(flow: Flow) -> tuple[Flow, Selected]:
            flow, new = add_level(flow, name, self._selection.level_id, kind="board")
            return flow, Selected.of(new)

        self._door.edit(f"add the board {name}", change)

    def set_board(self, board: str, what: str, **values: Any) -> None:
        """Sets fields of a board."""
        self._door.edit(f"change {what} of {self._title(board)}", lambda flow: set_level(flow, board, **values))

    def add_tile(self, board: str, level: str = "", at: tuple[float, float] | None = None) -> None:
        """Adds a tile, and selects it."""

        def change(flow: Flow) -> tuple[Flow, Selected]:
            flow, name = boards.add_tile(flow, board, level, at)
            return flow, _tiles(board, [name])

        self._door.edit(f"add a tile to {self._title(board)}", change)

    def tiles_for(self, board: str, levels: Sequence[str], words: str) -> None:
        """Makes a tile for each of some levels that has none on the board, and selects the new ones."""

        def change(flow: Flow) -> tuple[Flow, Selected]:
            flow, names = boards.tiles_for(flow, board, levels)
            return flow, _tiles(board, names)

        self._door.edit(f"make tiles for {words}", change)

    def set_tile(self, board: str, tile: str, what: str, **values: Any) -> None:
        """Sets fields of a tile."""
        self._door.edit(f"change {what} of a tile", lambda flow: boards.set_tile(flow, board, tile, **values))

    def link(self, board: str, tile: str, other: str, side: Side | None = None, back: bool = True) -> None:
        """Links a tile with another, there and back unless one-way is wanted."""
        step = "link two tiles" if back else "link two tiles one way"
        self._door.edit(step, lambda flow: boards.link(flow, board, tile, other, side, back))

    def unlink(self, board: str, tiles: Collection[str]) -> None:
        """Takes the links between some tiles away; of one tile, all its links."""
        self._door.edit("unlink tiles", lambda flow: boards.unlink(flow, board, tiles))

    def link_neighbours(self, board: str) -> None:
        """Links each tile with the nearest on each side, where nothing is linked yet."""
        self._door.edit("link neighbouring tiles", lambda flow: boards.link_neighbours(flow, board))

    def along_the_order(self, board: str) -> None:
        """Lays the tiles out and links them along the order of their levels."""
        self._door.edit("lay tiles out along the order", lambda flow: boards.along_the_order(flow, board))

    def mend_links(self, board: str) -> None:
        """Puts crooked links straight, and leads one-sided ones back."""
        self._door.edit("mend links between tiles", lambda flow: boards.mend_links(flow, board))


def _tiles(board: str, names: Collection[str]) -> Selected:
    return Selected(board, (board,), tuple(Part("tiles", name) for name in names))
