"""Failing: whether the retry screen leads back to the level that was failed."""

from collections.abc import Iterator

from msgspec import Struct
from msgspec.structs import replace

from mossy_bridge.checks.finding import Found, Repair
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.registry import check
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Destination, Exit, Level


class _Retrying(Struct, frozen=True):
    """What a retry screen leads to, by way of screens alone and without a new run: play levels, and whether to the
    level that was failed, whichever it was."""

    levels: frozenset[str]
    comes_back: bool
    ways: tuple[tuple[str, Exit], ...]
    """The exits that lead into play levels."""


@check("retry-elsewhere", "warning", "reachability", "Whoever fails is sent to another level than the one failed.")
def retry_elsewhere(here: Inspection) -> Iterator[Found]:
    """Failing leads, by way of screens alone, to no arrival in the level that was failed, though to another one.

    Example: Whoever drowns in Pan Row begins again at The Slipway.
    To mend: Let the retry screen lead *back*.
    """
    levels = {level.id: level for level in here.flow.levels}
    failing: dict[str, list[tuple[Level, Exit]]] = {}
    for level, exit_ in here.exits():
        if level.kind == "play" and exit_.trigger.kind == "fail":
            for name in dict.fromkeys(to.level for to in exit_.destinations if to.kind == "level"):
                if name in levels and levels[name].kind == "screen":
                    failing.setdefault(name, []).append((level, exit_))
    for screen, ways in failing.items():
        retrying = _retrying(levels, screen)
        if retrying.comes_back or not retrying.levels & {level.id for level, _ in ways}:
            continue
        for level, exit_ in ways:
            if level.id not in retrying.levels:
                at = f"{level.id}.{exit_.id}"
                names = " or ".join(levels[name].title for name in sorted(retrying.levels))
                message = f"After {here.title(at)} one is sent on to {names}, and not back to {level.title}."
                yield Found((at,), message, repair=_led_back(levels, retrying))


def _retrying(levels: dict[str, Level], screen: str) -> _Retrying:
    found, ways, comes_back = set(), [], False
    passed, waiting = {screen}, [screen]
    while waiting:
        level = levels[waiting.pop()]
        for exit_ in level.exits:
            for to in exit_.destinations if not exit_.fresh else ():
                target = levels.get(to.level) if to.kind == "level" else None
                comes_back = comes_back or to.kind in ("back", "resume")
                if target and target.kind == "play":
                    found.add(target.id)
                    ways.append((level.id, exit_))
                elif target and target.kind == "screen" and target.id not in passed:
                    passed.add(target.id)
                    waiting.append(target.id)
    return _Retrying(frozenset(found), comes_back, tuple(ways))


def _led_back(levels: dict[str, Level], retrying: _Retrying) -> Repair | None:
    """The one way into a play level led back to the level that was failed."""
    if len(retrying.ways) != 1:
        return None
    name, exit_ = retrying.ways[0]
    label = f"Let {exit_.name or exit_.id} of {levels[name].title} lead back to the level failed"
    to = replace(Destination(kind="back"), otherwise=exit_.to)
    return Repair(label, lambda flow: edits.set_exit(flow, name, exit_.id, to=to))
