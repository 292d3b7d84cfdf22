"""A board and one of its tiles as sentences, and what a player has as set by hand."""

from collections.abc import Callable
from functools import partial

from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.crossing import levels_to_choose
from mossy_bridge.desk.sentences.popups import Choice
from mossy_bridge.desk.sentences.sentence import Sentence
from mossy_bridge.desk.sentences.things import told
from mossy_bridge.language.asked import Asked
from mossy_bridge.model.edits.boards import SIDES, Side, levels_of_region, link_of
from mossy_bridge.model.flow import Fact, Flow, Level, Tile
from mossy_bridge.play.board_cursor import first_tile
from mossy_bridge.play.board_progress import ByHand

CURSORS = (
    Choice("free", "points at any open tile"), Choice("open", "steps along links to open tiles"),
    Choice("any", "steps along links over locked tiles too"),
)  # fmt: skip
LOCKED = (Choice("shown", "shown"), Choice("dimmed", "dimmed"), Choice("hidden", "hidden"))
NOTHING = Choice("", "nothing")


def named_tile(flow: Flow, tile: Tile) -> str:
    """A tile by the level it leads to."""
    level = flow.level(tile.level)
    if level is None:
        return f"tile {tile.id}"
    return f"{level.code} {level.title}".strip() if level.code != level.title else level.title


class BoardSentence(Sentence):
    """Says a board, and lays it out at once."""

    def __init__(self, requests: Requests, show: Callable[[str], object], new: Callable[[], object]):
        super().__init__("Board", requests.upkeep)
        self._boards, self._show, self._new = requests.boards, show, new

    def say_nothing(self, flow: Flow) -> None:
        """Says that there is no board."""
        self.begin(flow)
        self.text("A board is a page on which the player chooses a level: a map of the marsh, a row of worlds.")
        self.toggle("add a board", "Make the first one…", self._new)
        self.finish()

    def say(self, flow: Flow, board: Level) -> None:
        """Says another board."""
        self.begin(flow)
        boards = [Choice(level.id, level.title) for level in flow.levels if level.kind == "board"]
        self.pick("the board", board.title, boards, board.id, self._show, offers=[("New board…", self._new)])
        self.text(": its cursor")
        self.pick("what the cursor does", told(CURSORS, board.cursor), CURSORS, board.cursor,
                  lambda n: self._boards.set_board(board.id, "the cursor", cursor=n))  # fmt: skip
        if board.tiles and board.cursor != "free":
            begins = first_tile(board)
            tiles = [Choice(tile.id, named_tile(flow, tile)) for tile in board.tiles]
            self.text(", beginning at")
            self.pick("the first tile", told(tiles, begins), tiles, begins,
                      lambda n: self._boards.set_board(board.id, "the first tile", first_tile=n))  # fmt: skip
        self.text(".")
        self._say_tools(flow, board)
        self.finish()

    def _say_tools(self, flow: Flow, board: Level) -> None:
        asked = self._boards
        regions = [Choice(region.id, region.name or region.id) for region in flow.regions]
        if regions:
            self.pick("tiles for a region", "Tiles for…", regions, "",
                      lambda n: asked.tiles_for(board.id, levels_of_region(flow, n), told(regions, n)))  # fmt: skip
        self.toggle("add a tile", "+ Tile", lambda: asked.add_tile(board.id))
        if len(board.tiles) > 1:
            self.toggle("link neighbours", "Link neighbours", lambda: asked.link_neighbours(board.id))
            self.toggle("along the order", "Along the order", lambda: asked.along_the_order(board.id))
            self.toggle("mend links", "Mend links", lambda: asked.mend_links(board.id))


class TileSentence(Sentence):
    """Says one tile."""

    def __init__(self, requests: Requests):
        super().__init__("Tile", requests.upkeep)
        self._requests = requests

    def say_nothing(self, flow: Flow, chosen: int) -> None:
        """Says how to choose one, or how many are chosen."""
        self.begin(flow)
        told = ["Click a tile to change it.", "Double-click the page for a new one."]
        if chosen:
            told = [f"{chosen} tiles are chosen.", "Drag or arrow keys move them.", "Ctrl+arrow links two.",
                    "Delete removes them."]  # fmt: skip
        for words in told:
            self.text(words)
        self.finish()

    def say(self, flow: Flow, board: Level, tile: Tile) -> None:
        """Says another tile."""
        self.begin(flow)
        level = flow.level(tile.level)
        self.text("The tile leads to")
        self.pick("the level of the tile", named_tile(flow, tile) if level else "no level yet",
                  [one for one in levels_to_choose(flow) if one.id != board.id], tile.level,
                  lambda n: self._lead(flow, board, tile, n), missing=level is None)  # fmt: skip
        if level and level.spawns:
            spawns = [Choice(spawn.id, spawn.name or spawn.id) for spawn in level.spawns]
            known = level.spawn(tile.spawn)
            self.text("at")
            self.pick("the spawn point of the tile", told(spawns, known.id) if known else f"{tile.spawn} (missing)",
                      spawns, tile.spawn, lambda n: self._set(board, tile, "the spawn point", spawn=n),
                      missing=known is None)  # fmt: skip
        self.text("; while locked it is")
        self.pick("how it looks while locked", tile.locked, LOCKED, tile.locked,
                  lambda n: self._set(board, tile, "the look", locked=n))  # fmt: skip
        self.text("; the cursor steps")
        others = [NOTHING, *(Choice(one.id, named_tile(flow, one)) for one in board.tiles if one.id != tile.id)]
        for side in SIDES:
            there = link_of(tile, side)
            shown = told(others, there) if any(one.id == there for one in others) else f"{there} (missing)"
            self.text(f"{side} to")
            self.pick(f"the tile {side} of it", shown, others, there,
                      partial(self._link, board, tile, side))  # fmt: skip
        self.text(".")
        self.toggle("remove the tile", "Remove it", self._requests.remove)
        self.finish()

    def _set(self, board: Level, tile: Tile, what: str, **values: object) -> None:
        self._requests.boards.set_tile(board.id, tile.id, what, **values)

    def _lead(self, flow: Flow, board: Level, tile: Tile, name: str) -> None:
        level = flow.level(name)
        spawn = level.spawns[0].id if level and level.spawns else ""
        self._set(board, tile, "the level", level=name, spawn=spawn)

    def _link(self, board: Level, tile: Tile, side: Side, other: str) -> None:
        if other:
            self._requests.boards.link(board.id, tile.id, other, side)
        else:
            self._set(board, tile, "a link", **{side: ""})


class HandSentence(Sentence):
    """Says what a player has, as set by hand; ``changed(hand)`` takes another."""

    def __init__(self, changed: Callable[[ByHand], object]):
        super().__init__("What the player has")
        self._changed = changed

    def say(self, flow: Flow, asked: Asked, hand: ByHand) -> None:
        """Says it anew."""
        self.begin(flow)
        self.text("With")
        facts = [fact for fact in flow.facts if fact.id in asked.facts]
        for fact in facts:
            self._say_fact(hand, fact)
        for what, levels, words in (("seen", asked.seen, "seen"), ("done", asked.done, "completed")):
            for name in sorted(levels):
                level = flow.level(name)
                title, had = level.title if level else name, name in getattr(hand, what)
                self.toggle(f"{title} {words}", f"{title} {'' if had else 'not '}{words}",
                            partial(self._turn, hand, what, name))  # fmt: skip
        if not facts and not asked.seen and not asked.done:
            self.text("nothing: no level of this board asks for anything.")
        self.finish()

    def _say_fact(self, hand: ByHand, fact: Fact) -> None:
        value, name = hand.facts.get(fact.id, fact.first), fact.name or fact.id
        if fact.kind == "flag":
            self.toggle(name, name if value else f"no {name}", lambda: self._put(hand, fact.id, not value))
        elif fact.kind == "count":
            self.type_number(name, f"{name} {value}", int(value),
                             lambda n: self._put(hand, fact.id, min(max(int(n), fact.low), fact.high)),
                             (Fact, "low"))  # fmt: skip
        else:
            values = [Choice(one, f"{name} {one}") for one in fact.values]
            self.pick(name, f"{name} {value}", values, str(value), lambda n: self._put(hand, fact.id, n))

    def _put(self, hand: ByHand, fact: str, value: bool | int | str) -> None:
        self._changed(ByHand({**hand.facts, fact: value}, hand.seen, hand.done))

    def _turn(self, hand: ByHand, what: str, level: str) -> None:
        held = {"seen": hand.seen, "done": hand.done}
        held[what] = held[what] ^ {level}
        self._changed(ByHand(hand.facts, held["seen"], held["done"]))
