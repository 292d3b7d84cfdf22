"""Where exits, tiles and the start lead, as written."""

from collections.abc import Callable, Iterator
from typing import Any

from msgspec.structs import replace

from mossy_bridge.checks.finding import Found, Repair, Severity
from mossy_bridge.checks.inspection import Inspection, LocalInspection
from mossy_bridge.checks.registry import check, level_check, local_check
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.edits.endings import add_ending
from mossy_bridge.model.flow import Destination, Exit, Flow, Level, Spawn, Tile
from mossy_bridge.model.ids import nearest
from mossy_bridge.model.sequence import STEPS, neighbour
from mossy_bridge.play.destinations import Nowhere


@check("no-start", "error", "structure", "Without a start nothing of the flow can be played.")
def no_start(here: Inspection) -> Iterator[Found]:
    """The level that the game starts with is missing, is not shipped, or lacks the spawn point.

    Example: The title screen was removed, and nothing took its place.
    To mend: Choose the start on the face Game, or with *Start the game here*.
    """
    start, flow = here.flow.start, here.flow
    if here.survey.rules.begin() is not None:
        return
    level = flow.level(start.level)
    if level is None:
        named = f"“{start.level}”, which does not exist" if start.level else "no level"
        message = f"The flow starts at {named}."
    elif not level.ships:
        message = f"The flow starts at {level.title}, which does not ship."
    else:
        message = f"The flow starts at {level.title}, which lacks the spawn point “{start.spawn}”."
        if not start.spawn:
            message = f"The flow starts at {level.title}, which has no spawn point."
    yield Found((start.level,) if start.level else (), message, repair=_start_repair(here, level))


def _start_repair(here: Inspection, level: Level | None) -> Repair | None:
    fits = [lv for lv in here.flow.levels if lv.ships and (lv.kind != "play" or lv.spawns)]
    if level in fits or not fits:
        chosen = level if level in fits else None
    else:
        names = [lv.id for lv in fits]
        likely = nearest(here.flow.start.level, names)
        chosen = next((lv for lv in fits if lv.id == likely), fits[0])
    if chosen is None:
        return None
    chosen_id = chosen.id
    return Repair(f"Start at {chosen.title}", lambda flow: edits.set_start(flow, chosen_id))


@level_check("exit-unconnected", "error", "structure", "A player who uses it cannot go on.")
def exit_unconnected(here: Inspection, levels: tuple[Level, ...]) -> Iterator[Found]:
    """An exit has no destination.

    Example: Weigh House: Yard door leads nowhere yet.
    To mend: Drag the door on the map to where it leads.
    """
    for level, exit_ in here.odd_exits(levels):
        if exit_.to is None:
            at = f"{level.id}.{exit_.id}"
            repair = _lead_to_next(here, level, exit_)
            yield Found((at,), f"{here.title(at)} leads nowhere: no destination has been chosen.", repair=repair)


def _lead_to_next(here: Inspection, level: Level, exit_: Exit) -> Repair | None:
    """Leading to the level that comes next in the order is what a designer most often means."""
    following = neighbour(here.flow, level.id, 1)
    spawn = here.free_spawn(following) if following else None
    fitting = here.would_work(level.id, exit_)
    if following is None or spawn is None or not fitting or not here.would_open(level.id, following.id):
        return None
    target, title = following.id, following.title
    landing = "" if spawn is following.spawns[0] else spawn.id

    def edit(flow: Flow) -> Flow:
        return edits.connect(flow, level.id, exit_.id, target, landing)

    return Repair(f"Lead to {title}, the next level", edit)


@level_check("destination-missing", "error", "structure", "The exit can never be used.")
def destination_missing(here: Inspection, levels: tuple[Level, ...]) -> Iterator[Found]:
    """An exit leads to a level or an ending that does not exist.

    Example: The boat leads to the boat house, which was never made.
    To mend: Lead it elsewhere, or make the level.
    """
    endings = {ending.id for ending in here.flow.endings}
    for level, exit_ in here.odd_exits(levels):
        for to in exit_.destinations:
            if here.flow.level(to.level) if to.kind == "level" else to.kind != "end" or to.ending in endings:
                continue
            at = f"{level.id}.{exit_.id}"
            name, what = (to.level, "level") if to.kind == "level" else (to.ending, "ending")
            told = f"{what} “{name}”, which does not exist" if name else f"no {what}"
            yield Found((at,), f"{here.title(at)} leads to {told}.", repair=_instead(here, level, exit_, to))
            break


def _instead(here: Inspection, level: Level, exit_: Exit, to: Destination) -> Repair | None:
    name = to.level or to.ending
    known = {one.id for one in (here.flow.levels if to.kind == "level" else here.flow.endings)}
    likely = nearest(name, known - {level.id}) if name else None
    if likely is None and to.kind == "end" and len(known) == 1:
        likely = next(iter(known))
    if not here.would_work(level.id, exit_):
        return None
    if likely is None:
        return _lead_to_next(here, level, exit_) if to is exit_.to else None
    changed = replace(to, level=likely) if to.kind == "level" else replace(to, ending=likely)
    target = here.flow.level(likely)
    if target and to.kind == "level" and not here.would_open(level.id, likely):
        return None
    if to.kind == "level" and target and to.spawn and target.spawn(to.spawn) is None:
        changed = replace(changed, spawn="")
    return Repair(f"Lead to {here.title(likely)}", _swap_destination(level.id, exit_.id, to, changed))


def _swap_destination(level_id: str, exit_id: str, old: Destination, new: Destination) -> Callable[[Flow], Flow]:
    def swapped(to: Destination | None) -> Destination | None:
        if to is None or to == old:
            return None if to is None else new
        return replace(to, otherwise=swapped(to.otherwise))

    def edit(flow: Flow) -> Flow:
        return edits.change_thing(flow, level_id, "exits", exit_id, lambda exit_: replace(exit_, to=swapped(exit_.to)))

    return edit


@level_check("destination-not-shipped", "error", "structure", "The exit is dead in the delivered game.")
def destination_not_shipped(here: Inspection, levels: tuple[Level, ...]) -> Iterator[Found]:
    """An exit leads to a level that does not ship.

    Example: The title still leads to the test yard.
    To mend: Lead it elsewhere, or let the level ship.
    """
    for level, exit_ in here.odd_exits(levels):
        for to in exit_.destinations:
            target = here.flow.level(to.level) if to.kind == "level" else None
            if target and not target.ships:
                at = f"{level.id}.{exit_.id}"
                message = f"{here.title(at)} leads to {target.title}, which does not ship."
                fits = here.would_work(level.id, exit_) and not here.survey.never_holds_at(level.id, target.opens)
                repair = Repair(f"Ship {target.title}", _setting(target.id, ships=True)) if fits else None
                yield Found((at,), message, repair=repair)
                break


@level_check("spawn-missing", "error", "structure", "The player would have no place to appear.")
def spawn_missing(here: Inspection, levels: tuple[Level, ...]) -> Iterator[Found]:
    """A destination, tile or checkpoint names a spawn point that its level lacks; or the level needs one and has
    none.

    Example: Gull Stair leads to the East bank of Bell Sands, which has none.
    To mend: Choose another spawn point, or make that one.
    """
    odd: dict[str, list[Exit]] = {}
    for level, exit_ in here.odd_exits(levels):
        odd.setdefault(level.id, []).append(exit_)
    for level in levels:
        for exit_ in odd.get(level.id, ()):
            yield from _landing_faults(here, level, exit_)
        for tile in level.tiles:
            target = here.flow.level(tile.level)
            if target and _lacks(target, tile.spawn):
                yield _lacking(here, f"{level.id}.{tile.id}", target, tile.spawn, _tile_repair(level, tile, target))
        for deed in level.deeds:
            if deed.checkpoint and level.spawn(deed.checkpoint) is None:
                at = f"{level.id}.{deed.id}"
                message = f"{here.title(at)} is a checkpoint at “{deed.checkpoint}”, which {level.title} lacks."
                yield Found((at,), message, repair=_checkpoint_repair(level, deed.id, deed.checkpoint))


def _setting(level_id: str, **values: Any) -> Callable[[Flow], Flow]:
    return lambda flow: edits.set_level(flow, level_id, **values)


def _lacks(target: Level, spawn: str) -> bool:
    return target.spawn(spawn) is None and (bool(spawn) or target.kind == "play")


def _lacking(here: Inspection, at: str, target: Level, spawn: str, repair: Repair | None) -> Found:
    told = f"at “{spawn}”, a spawn point it lacks" if spawn else "which has no spawn point"
    severity: Severity | None = "hint" if target.status == "planned" and not here.final else None
    return Found((at,), f"{here.title(at)} leads to {target.title}, {told}.", repair=repair, severity=severity)


def _landing_faults(here: Inspection, level: Level, exit_: Exit) -> Iterator[Found]:
    for to in exit_.destinations:
        if to.kind == "level":
            target = here.flow.level(to.level)
            if target and _lacks(target, to.spawn):
                fits = here.would_open(level.id, target.id) and here.would_work(level.id, exit_)
                repair = _spawn_repair(target, to, level.id, exit_.id) if fits else None
                yield _lacking(here, f"{level.id}.{exit_.id}", target, to.spawn, repair)
                return
        elif to.kind in ("next", "previous"):
            target = _found_in_order(here, level, exit_, to)
            if target and not target.spawns:
                fits = here.would_open(level.id, target.id) and here.would_work(level.id, exit_)
                yield _lacking(here, f"{level.id}.{exit_.id}", target, "", _add_spawn(target, "") if fits else None)
                return


def _found_in_order(here: Inspection, level: Level, exit_: Exit, to: Destination) -> Level | None:
    """What ``next`` or ``previous`` finds and cannot use for want of a spawn point."""
    if level.kind == "play":
        return neighbour(here.flow, level.id, STEPS[to.kind])
    rules = here.survey.rules
    ready = next(e for e in rules.levels[level.id].exits if e.source.id == exit_.id)
    for state in here.survey.samples(level.id):
        target = rules.target(ready, state)
        if isinstance(target, Nowhere) and target.reason == "no-spawn" and target.used == to:
            return here.flow.level(target.level)
    return None


def _add_spawn(target: Level, spawn: str) -> Repair:
    new_id, target_id = spawn or "start_point", target.id

    def edit(flow: Flow) -> Flow:
        level = flow.level(target_id)
        own = level.spawns if level else ()
        point = Spawn(id=new_id, name=new_id.replace("_", " ").capitalize())
        return edits.set_level(flow, target_id, spawns=(*own, point))

    return Repair(f"Add the spawn point “{new_id}” to {target.title}", edit)


def _spawn_repair(target: Level, to: Destination, level_id: str, exit_id: str) -> Repair:
    if not target.spawns:
        return _add_spawn(target, to.spawn)
    likely = nearest(to.spawn, [point.id for point in target.spawns]) or target.spawns[0].id
    name = next(point.name or point.id for point in target.spawns if point.id == likely)
    return Repair(f"Appear at {name}", _swap_destination(level_id, exit_id, to, replace(to, spawn=likely)))


def _tile_repair(level: Level, tile: Tile, target: Level) -> Repair:
    if not target.spawns:
        return _add_spawn(target, tile.spawn)
    likely = nearest(tile.spawn, [point.id for point in target.spawns]) or target.spawns[0].id

    def edit(flow: Flow) -> Flow:
        return edits.change_thing(flow, level.id, "tiles", tile.id, lambda old: replace(old, spawn=likely))

    return Repair(f"Appear at {likely}", edit)


def _checkpoint_repair(level: Level, deed_id: str, checkpoint: str) -> Repair:
    likely = nearest(checkpoint, [point.id for point in level.spawns])
    if likely is None and level.spawns:
        likely = level.spawns[0].id
    name = likely or ""

    def edit(flow: Flow) -> Flow:
        return edits.change_thing(flow, level.id, "deeds", deed_id, lambda old: replace(old, checkpoint=name))

    return Repair(f"Reappear at {name}" if name else "Make it no checkpoint", edit)


@level_check("next-runs-out", "error", "structure", "The exit stays shut behind the last level.")
def next_runs_out(here: Inspection, levels: tuple[Level, ...]) -> Iterator[Found]:
    """*Next* or *previous* finds no level, and there is no *otherwise* that does.

    Example: The door of the last level leads to the next.
    To mend: Say what happens otherwise: an ending, or a level.
    """
    for level, exit_ in here.odd_exits(levels):
        if runs_out(here, level, exit_):
            at = f"{level.id}.{exit_.id}"
            kind = next(to.kind for to in exit_.destinations if to.kind in ("next", "previous"))
            message = f"{here.title(at)} leads to the {kind} level, and there is none."
            yield Found((at,), message, repair=_otherwise_repair(here, level, exit_))


def runs_out(here: Inspection, level: Level, exit_: Exit) -> bool:
    """Whether the exit finds no next or previous level, and nothing otherwise, in some state."""
    if not any(to.kind in ("next", "previous") for to in exit_.destinations):
        return False
    return _runs_out_in_order(here, level, exit_) if level.kind == "play" else _runs_out(here, level, exit_)


def _runs_out_in_order(here: Inspection, level: Level, exit_: Exit) -> bool:
    """By the order alone: whatever else may be used first can find something."""
    for to in exit_.destinations:
        if to.kind not in ("next", "previous"):
            return False
        if neighbour(here.flow, level.id, STEPS[to.kind]) is not None:
            return False
    return True


def _runs_out(here: Inspection, level: Level, exit_: Exit) -> bool:
    rules = here.survey.rules
    ready = next(e for e in rules.levels[level.id].exits if e.source.id == exit_.id)
    targets = (rules.target(ready, state) for state in here.survey.samples(level.id))
    return any(isinstance(target, Nowhere) and target.reason == "runs-out" for target in targets)


def _otherwise_repair(here: Inspection, level: Level, exit_: Exit) -> Repair | None:
    endings = here.flow.endings
    if not here.would_work(level.id, exit_):
        return None
    label = f"Otherwise end with {endings[-1].name or endings[-1].id}" if endings else "Otherwise end with a new ending"

    def extended(to: Destination, last: Destination) -> Destination:
        return replace(to, otherwise=extended(to.otherwise, last) if to.otherwise else last)

    def edit(flow: Flow) -> Flow:
        if not flow.endings:
            flow, _ = add_ending(flow, "The end")
        last = Destination(kind="end", ending=flow.endings[-1].id)
        return edits.change_thing(
            flow,
            level.id,
            "exits",
            exit_.id,
            lambda old: replace(old, to=extended(old.to, last)) if old.to else old,
        )

    return Repair(label, edit)


@local_check("again-outside-play", "error", "structure", "Only a play level can be restarted; the exit never fires.")
def again_outside_play(here: LocalInspection) -> Iterator[Found]:
    """*Again* stands on a screen or a board, where there is no level to restart.

    Example: Try again on the retry screen restarts the screen itself.
    To mend: Use *back*, which restarts the level one came from.
    """
    for level, exit_ in here.exits():
        if level.kind != "play" and any(to.kind == "again" for to in exit_.destinations):
            at = f"{level.id}.{exit_.id}"
            yield Found((at,), f"{here.title(at)} restarts a {level.kind}, which is no play level.")


@local_check("exit-to-itself", "hint", "structure", "The player arrives where they already are.")
def exit_to_itself(here: LocalInspection) -> Iterator[Found]:
    """An exit leads to its own level, other than by *again* or on failing.

    Example: A copied door still leads to the level it is in.
    To mend: Lead it to where it should go.
    """
    for level, exit_ in here.exits():
        to_itself = any(to.kind == "level" and to.level == level.id for to in exit_.destinations)
        if to_itself and exit_.trigger.kind != "fail":
            at = f"{level.id}.{exit_.id}"
            yield Found((at,), f"{here.title(at)} leads to its own level.")


@level_check("no-way-out", "error", "structure", "Whoever gets in stays there.")
def no_way_out(here: Inspection, levels: tuple[Level, ...]) -> Iterator[Found]:
    """A level, screen or board has neither an exit nor a tile.

    Example: Drip Cave can be entered; that is all.
    To mend: Add an exit.
    """
    for level in levels:
        if not level.exits and not level.tiles:
            severity: Severity | None = "hint" if level.status == "planned" and not here.final else None
            yield Found((level.id,), f"{level.title} has no exit.", repair=_exit_repair(here, level), severity=severity)


def _exit_repair(here: Inspection, level: Level) -> Repair | None:
    following = neighbour(here.flow, level.id, 1)
    if level.kind != "play" or following is None or not here.would_open(level.id, following.id):
        return None
    spawn = here.free_spawn(following)
    if spawn is None:
        return None
    to = Destination(kind="level", level=following.id, spawn="" if spawn is following.spawns[0] else spawn.id)
    return Repair(f"Add an exit to {following.title}", lambda flow: edits.add_exit(flow, level.id, "Exit", to)[0])
