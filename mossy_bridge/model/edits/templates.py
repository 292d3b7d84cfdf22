"""The usual screens, each made with its exits and its ways in by one edit: title, pause, retry, level done, credits,
and a page of worlds."""

from collections.abc import Callable
from typing import Literal

from msgspec.structs import replace

from mossy_bridge.model.codes import free_name
from mossy_bridge.model.edits.boards import add_tile, along_the_order
from mossy_bridge.model.edits.levels import CannotEdit, add_exit, add_level, set_exit
from mossy_bridge.model.edits.levels import set_level as _set_level
from mossy_bridge.model.flow import Destination, Exit, Flow, Level, Start, Trigger
from mossy_bridge.model.sequence import first_play_level, in_sequence, neighbour

Template = Literal["title", "pause", "retry", "level done", "credits", "world page"]
TEMPLATES: tuple[Template, ...] = ("title", "pause", "retry", "level done", "credits", "world page")
ABOUT: dict[Template, str] = {
    "title": "new game, continue; the game begins here", "pause": "over every level: go on, give up",
    "retry": "after failing in any level: try again, give up", "level done": "between completed levels: on, once more",
    "credits": "before the ending", "world page": "a board with a tile for each region",
}  # fmt: skip
WORDS: dict[Template, str] = {
    "title": "Title", "pause": "Pause", "retry": "Try again?", "level done": "Level done", "credits": "Credits",
    "world page": "World page",
}  # fmt: skip


def add_screen(flow: Flow, template: Template, after: str = "") -> tuple[Flow, str]:
    """The flow with one of the usual screens behind a level, its exits and the ways into it, and its id. Raises
    CannotEdit where there is nothing for it to lead to, or no way into it."""
    makers: dict[Template, Callable[[Flow, str], tuple[Flow, str]]] = {
        "title": _title, "pause": _pause, "retry": _retry, "level done": _level_done, "credits": _credits,
        "world page": _world_page,
    }  # fmt: skip
    return makers[template](flow, after)


def _screen(flow: Flow, template: Template, after: str) -> tuple[Flow, str]:
    return add_level(flow, _named(flow, template), after, kind="screen", region="")


def _named(flow: Flow, template: Template) -> str:
    return free_name(WORDS[template], [level.name for level in flow.levels])


def _to(level: str) -> Destination:
    return Destination(kind="level", level=level)


def _title(flow: Flow, after: str) -> tuple[Flow, str]:
    """New game begins a new run at the first play level, Continue resumes; the game begins here."""
    first = first_play_level(flow)
    if first is None:
        raise CannotEdit("a title needs a level that a new game begins with; make one first")
    start = flow.level(flow.start.level)
    if start and start.kind == "screen":
        raise CannotEdit(f"the game begins with {start.title} already")
    flow, title = _screen(flow, "title", "")
    made = flow.levels[-1]
    flow = replace(flow, levels=(made, *flow.levels[:-1]))
    flow, new = add_exit(flow, title, "New game", _to(first.id))
    flow = set_exit(flow, title, new, fresh=True)
    if flow.saving != "never":
        flow, _ = add_exit(flow, title, "Continue", Destination(kind="resume"))
    del after
    return replace(flow, start=Start(level=title)), title


def _up(flow: Flow) -> Destination | None:
    """To the screen the game begins with, if it begins with one."""
    start = flow.level(flow.start.level)
    return _to(start.id) if start and start.kind == "screen" else None


def _over_levels(
    flow: Flow, template: Template, after: str, name: str, kind: Literal["fail", "choose"]
) -> tuple[Flow, str]:
    """A screen over every play level that has no way of the kind yet, from which one gets back, or up to the title."""
    lacking = [level for level in flow.levels if in_sequence(level) and not _has(level, kind, name)]
    if not lacking:
        raise CannotEdit(f"no play level lacks an exit to {'fail' if kind == 'fail' else 'pause'} by")
    flow, screen = _screen(flow, template, after)
    for level in lacking:
        flow, way = add_exit(flow, level.id, name, _to(screen))
        flow = set_exit(flow, level.id, way, trigger=Trigger(kind=kind))
    up = _up(flow)
    flow, _ = add_exit(flow, screen, "Try again" if kind == "fail" else "Go on", Destination(kind="back"))
    if up:
        flow, _ = add_exit(flow, screen, "Give up", up)
    return flow, screen


def _has(level: Level, kind: str, name: str) -> bool:
    return any(exit_.trigger.kind == kind and (kind == "fail" or exit_.name == name) for exit_ in level.exits)


def _pause(flow: Flow, after: str) -> tuple[Flow, str]:
    return _over_levels(flow, "pause", after, "Pause", "choose")


def _retry(flow: Flow, after: str) -> tuple[Flow, str]:
    return _over_levels(flow, "retry", after, "Fail", "fail")


def _level_done(flow: Flow, after: str) -> tuple[Flow, str]:
    """Between each level completed and the next: on from it, or the level once more."""
    ways = [(level, exit_) for level in flow.levels for exit_ in level.exits if _leads_on(flow, level, exit_)]
    if not ways:
        raise CannotEdit("no exit that completes a level leads on to the next one yet")
    flow, screen = _screen(flow, "level done", after)
    for level, exit_ in ways:
        flow = set_exit(flow, level.id, exit_.id, to=_to(screen))
    otherwise = next((Destination(kind="end", ending=ending.id) for ending in flow.endings), _up(flow))
    flow, _ = add_exit(flow, screen, "On", Destination(kind="next", otherwise=otherwise))
    flow, _ = add_exit(flow, screen, "Once more", Destination(kind="back"))
    return flow, screen


def _leads_on(flow: Flow, level: Level, exit_: Exit) -> bool:
    """Whether an exit completes a level and leads where *next* would."""
    behind = neighbour(flow, level.id, 1) if in_sequence(level) and exit_.completes and exit_.to else None
    if behind is None or exit_.to is None or exit_.to.otherwise:
        return False
    first = behind.spawns[0].id if behind.spawns else ""
    to = exit_.to
    return to.kind == "next" or (to.kind == "level" and to.level == behind.id and to.spawn in ("", first))


def _credits(flow: Flow, after: str) -> tuple[Flow, str]:
    """Before the first ending."""
    if not flow.endings:
        raise CannotEdit("credits roll before an ending; make one first")
    end = Destination(kind="end", ending=flow.endings[0].id)
    ways = [(level.id, exit_) for level in flow.levels for exit_ in level.exits if exit_.to and _same(exit_.to, end)]
    if not ways:
        raise CannotEdit(f"no exit leads to {flow.endings[0].name or flow.endings[0].id} yet")
    flow, screen = _screen(flow, "credits", after)
    for level_id, exit_ in ways:
        flow = set_exit(flow, level_id, exit_.id, to=_to(screen))
    flow, _ = add_exit(flow, screen, "The end", end)
    return flow, screen


def _same(one: Destination, other: Destination) -> bool:
    return (one.kind, one.ending) == (other.kind, other.ending) and one.otherwise is None


def _world_page(flow: Flow, after: str) -> tuple[Flow, str]:
    """A board with a tile for each region: its own board if it has one, or its first play level; reached from the
    screen that the game begins with."""
    up = _up(flow)
    if up is None:
        raise CannotEdit("a page of worlds is reached from the title; make one first")
    worlds = [world for region in flow.regions if (world := _world(flow, region.id))]
    if not worlds:
        raise CannotEdit("a page of worlds needs regions with levels in them")
    flow, page = add_level(flow, _named(flow, "world page"), after, kind="board", region="")
    for world in worlds:
        flow, _ = add_tile(flow, page, world)
    flow = _set_level(along_the_order(flow, page), page, cursor="any")
    flow, _ = add_exit(flow, page, "Back", Destination(kind="back", otherwise=up))
    flow, _ = add_exit(flow, up.level, "Choose a world", _to(page))
    return flow, page


def _world(flow: Flow, region: str) -> str:
    inside = [level for level in flow.levels if level.region == region and level.ships]
    board = next((level.id for level in inside if level.kind == "board"), "")
    return board or next((level.id for level in inside if level.kind == "play"), "")
