"""The lines of each outline. No widget."""

from collections.abc import Callable, Iterator, Sequence
from functools import partial

from msgspec import Struct

from mossy_bridge.appraisal.appraise import Appraisal
from mossy_bridge.appraisal.standing import Standing
from mossy_bridge.desk.bench.deck import LANE_OF, WORDS
from mossy_bridge.desk.sentences.crossing import leads_to
from mossy_bridge.language.numbers import counted, number_text
from mossy_bridge.language.wording import Wording
from mossy_bridge.model.edits.boards import SIDES, link_of
from mossy_bridge.model.flow import Flow, Level, Rect, Tile, Transition
from mossy_bridge.plan.doors import has_area
from mossy_bridge.plan.laying import Part

INDENT = "    "
MARK_WORDS = {
    "sound": "sound", "broken": "broken", "suspicious": "suspicious", "stranded": "never reached",
    "unknown": "not settled yet", "": "",
}  # fmt: skip
KIND_WORDS = {"play": "level", "screen": "screen", "board": "board"}


class OutlineRow(Struct, frozen=True):
    """One line: what it says, and what it stands for: a level, a thing in it, or a step of the transition shown. A
    heading stands for nothing."""

    says: str | Callable[[], str]
    """Of thousands of lines it is only worked out for those that are looked at."""
    level: str = ""
    part: Part | None = None
    step: int = -1

    @property
    def text(self) -> str:
        """What it says."""
        return self.says if isinstance(self.says, str) else self.says()

    @property
    def is_heading(self) -> bool:
        """Whether it only heads others."""
        return not self.level and self.step < 0


def order_rows(flow: Flow, standing: Standing) -> Iterator[OutlineRow]:
    """The levels in their order, below their regions."""
    regions = {region.id: region.name or region.id for region in flow.regions}
    shown: str | None = None
    for level in flow.levels:
        if level.region != shown and (flow.regions or shown is not None):
            shown = level.region
            yield OutlineRow(regions.get(shown, "without a region"))
        yield OutlineRow(partial(_level_words, flow, level, standing), level.id)


def _level_words(flow: Flow, level: Level, standing: Standing) -> str:
    told = (
        named(level), KIND_WORDS[level.kind], MARK_WORDS[standing.of_level(level.id)],
        "the game starts here" if flow.start.level == level.id else "", "" if level.ships else "does not ship",
        "a copy to be looked at" if level.unreviewed else "",
    )  # fmt: skip
    return ", ".join(filter(None, told))


def named(level: Level) -> str:
    """A level by its code and title."""
    return " ".join(dict.fromkeys(filter(None, (level.code, level.title))))


def map_rows(flow: Flow, result: Appraisal | None, standing: Standing) -> Iterator[OutlineRow]:
    """The levels column by column, each with where its exits lead and where its tiles do."""
    levels, words = {level.id: level for level in flow.levels}, Wording(flow)
    columns: list[tuple[str, Sequence[str]]] = [("All levels, not surveyed yet", list(levels))]
    if result:
        found = result.columns
        columns = [(_column_words(number), column) for number, column in enumerate(found.columns)]
        columns += [("Never reached", found.shelf)] if found.shelf else []
        missing = set(levels) - {name for _, column in columns for name in column}
        columns += [("Not surveyed yet", [name for name in levels if name in missing])] if missing else []
    for heading, column in columns:
        yield OutlineRow(heading)
        for level in (levels[name] for name in column if name in levels):
            yield OutlineRow(partial(_level_words, flow, level, standing), level.id)
            for number, exit_ in enumerate(level.exits):
                says = partial(_exit_words, flow, words, standing, level, number)
                yield OutlineRow(says, level.id, Part("exits", exit_.id))
            for tile in level.tiles:
                yield OutlineRow(partial(_tile_words, flow, tile), level.id, Part("tiles", tile.id))


def _column_words(number: int) -> str:
    return "Where the game starts" if not number else f"{counted(number, 'crossing')} from the start"


def _exit_words(flow: Flow, words: Wording, standing: Standing, level: Level, number: int) -> str:
    exit_, mark = level.exits[number], standing.of_exits(level)[number]
    locked = f"open only when {words.condition(exit_.opens)}" if exit_.opens != "always" else ""
    told = (
        f"{exit_.name or exit_.id} leads to {leads_to(flow, exit_)}", locked, "completes" if exit_.completes else "",
        MARK_WORDS.get(mark, mark),
    )  # fmt: skip
    return INDENT + ", ".join(filter(None, told))


def _tile_words(flow: Flow, tile: Tile) -> str:
    target = flow.level(tile.level)
    return f"{INDENT}Tile {tile.id} leads to {named(target) if target else 'no level'}"


def plan_rows(flow: Flow, level: Level | None) -> Iterator[OutlineRow]:
    """What lies on a level's plan, with where and how large."""
    if level is None:
        return
    plan = level.plan
    size = f"{_n(plan.width)} by {_n(plan.height)} {flow.units.name}s" if plan and plan.width else "without a size"
    yield OutlineRow(f"The plan of {named(level)}: {size}", level.id)
    for exit_ in level.exits:
        where = _rect_words(exit_.area) if has_area(exit_) else "without an area"
        text = f"Exit {exit_.name or exit_.id}, {where}, leads to {leads_to(flow, exit_)}"
        yield OutlineRow(INDENT + text, level.id, Part("exits", exit_.id))
    for spawn in level.spawns:
        text = f"Spawn point {spawn.name or spawn.id}, at {_n(spawn.x)}, {_n(spawn.y)}, faces {spawn.faces}"
        yield OutlineRow(INDENT + text, level.id, Part("spawns", spawn.id))
    for deed in level.deeds:
        effects = ", ".join(map(Wording(flow).effect, deed.effects))
        text = f"Deed {deed.name or deed.id}, at {_n(deed.x)}, {_n(deed.y)}" + (f": {effects}" if effects else "")
        yield OutlineRow(INDENT + text, level.id, Part("deeds", deed.id))
    for number, solid in enumerate(plan.solids if plan else ()):
        yield OutlineRow(f"{INDENT}Solid {number + 1}, {_rect_words(solid)}", level.id, Part("solids", str(number)))


def _rect_words(area: Rect) -> str:
    x, y, width, height = map(_n, area)
    return f"at {x}, {y}, {width} wide, {height} high"


def _n(value: float) -> str:
    return number_text(value)


def transition_rows(transition: Transition | None) -> Iterator[OutlineRow]:
    """The steps of a transition."""
    if transition is None:
        return
    yield OutlineRow(f"{transition.name or transition.id}, {_n(transition.seconds)} seconds")
    for number, step in enumerate(transition.steps):
        text = f"{WORDS[step.do]}, lane {LANE_OF[step.do]}, from {_n(step.at)} for {_n(step.lasts)} seconds"
        yield OutlineRow(INDENT + text + (f": {step.text}" if step.text else ""), step=number)


def board_rows(flow: Flow, board: Level | None) -> Iterator[OutlineRow]:
    """The tiles of a board, with where they lie and where the cursor goes from each."""
    if board is None or board.kind != "board":
        return
    titles = {level.id: named(level) for level in flow.levels}
    yield OutlineRow(f"The board {named(board)}, {counted(len(board.tiles), 'tile')}", board.id)
    for tile in board.tiles:
        links = (f"{side} to {link_of(tile, side)}" for side in SIDES if link_of(tile, side))
        first = ("the cursor starts here",) if tile.id == board.first_tile else ()
        told = (f"Tile {tile.id}", titles.get(tile.level, "no level"),
                f"column {_n(tile.col)}, row {_n(tile.row)}", *links, *first)  # fmt: skip
        yield OutlineRow(INDENT + ", ".join(told), board.id, Part("tiles", tile.id))
