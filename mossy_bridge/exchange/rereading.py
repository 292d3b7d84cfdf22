"""An edited flow as reading its file would make it, without writing and reading what the edit has not touched.

Every edit passes here, so that nothing can be saved that could not be opened again: texts are rid of what no file may
hold, values are written as reading would write them, and what reading would refuse is refused in the same words.
"""

import re
from collections.abc import Iterable, Sequence
from typing import Any

import msgspec.inspect as mi
from msgspec.structs import replace

from mossy_bridge.exchange.quick_validation import surely_as_read
from mossy_bridge.exchange.reading import CannotRead, tidy_fact, tidy_level
from mossy_bridge.exchange.validation import (
    LINE_BREAKS,
    Problem,
    flow_type,
    problems_in,
    rules_broken,
    struct_fields,
    twins,
)
from mossy_bridge.exchange.writing import tree_of
from mossy_bridge.language.parsing import WrongWording
from mossy_bridge.model.flow import Flow, Level, Value
from mossy_bridge.model.level_changes import differing_parts, level_changes
from mossy_bridge.model.patterns import resolve_like

MANY = 20
"""Of more parts than this that have changed it is not asked what stood there before."""
_NEVER = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\ud800-\udfff]")
_BREAKS = re.compile(f"[{LINE_BREAKS}]+")


def reread(flow: Flow, before: Flow) -> Flow:
    """The flow as its file would be read; of what it shares with the flow before, nothing is looked at again.
    Raises :class:`CannotRead` with what is wrong, each with its place."""
    taking = _Taking()
    flow = taking.take(flow, before, flow_type(), "")
    if taking.found:
        raise CannotRead([problem.told() for problem in taking.found])
    if flow.facts is not before.facts:
        flow = replace(flow, facts=tuple(map(tidy_fact, flow.facts)))
    for name in ("levels", "patterns"):
        if getattr(flow, name) is not getattr(before, name):
            flow = replace(flow, **{name: _all_tidied(getattr(flow, name), getattr(before, name))})
    if flow is not before:
        resolve_like(flow, before)
        if level_changes(before, flow).same_order:
            flow.share_places(before)
    return flow


def _all_tidied(levels: tuple[Level, ...], before: tuple[Level, ...]) -> tuple[Level, ...]:
    new, old = differing_parts(levels, before)
    known = set(map(id, before[old]))
    some = (level if id(level) in known else _tidied(level) for level in levels[new])
    return (*levels[: new.start], *some, *levels[new.stop :])


def _tidied(level: Level) -> Level:
    """The level with its wordings as they are written, and, if it has a pattern, what it sets itself marked."""
    level = tidy_level(level)
    if not level.pattern:
        return replace(level, set_here=frozenset()) if level.set_here else level
    own = level.set_here | tree_of(level).keys() - {"id"}
    return level if own == level.set_here else replace(level, set_here=own)


def cleaned(text: str, lines: bool = False) -> str:
    """The text without half characters and control characters; with ``lines`` it may have line breaks."""
    if text.isprintable():
        return text
    text = _NEVER.sub("", text.replace("\r\n", "\n").replace("\r", "\n"))
    return text if lines else _BREAKS.sub(" ", text)


class _Taking:
    """Takes over the parts of an edited flow one by one, and notes what cannot be taken."""

    def __init__(self) -> None:
        self.found: list[Problem] = []

    def take(self, new: Any, old: Any, kind: mi.Type, at: str) -> Any:
        """The value as reading would make it; ``old`` is what stood in its place, if anything did."""
        if new is old:
            return new
        if isinstance(new, Value):
            return self._struct(new, old, at)
        if isinstance(kind, mi.VarTupleType) and isinstance(new, tuple):
            return self._list(new, old if isinstance(old, tuple) else (), kind.item_type, at)
        if isinstance(kind, mi.DictType) and isinstance(new, dict):
            if not isinstance(kind.value_type, mi.StructType):
                new = {cleaned(key, lines=True): part for key, part in new.items()}
                self._note(problems_in(new, kind, at))
                return new
            self._note(problems_in({key: {} for key in new if key not in (old or {})}, kind, at))
            return {
                key: self.take(part, (old or {}).get(key), kind.value_type, f"{at}.{key}") for key, part in new.items()
            }
        if isinstance(new, str):
            prose = isinstance(kind, mi.Metadata) and (kind.extra or {}).get("is") in ("prose", "file text")
            new = cleaned(new, lines=prose)
        self._note(problems_in(tree_of(new), kind, at))
        return new

    def _note(self, problems: Iterable[Problem]) -> None:
        self.found += problems

    def _struct(self, new: Value, old: Any, at: str) -> Value:
        prefix = f"{at}." if at else ""
        changed = {}
        for key, field in struct_fields(type(new)).items():
            value = getattr(new, field.name)
            taken = self.take(value, getattr(old, field.name, None), field.type, f"{prefix}{key}")
            if taken is not value:
                changed[field.name] = taken
        self._note(rules_broken(new, prefix))
        return replace(new, **changed) if changed else new

    def _list(self, new: tuple[Any, ...], old: tuple[Any, ...], item: mi.Type, at: str) -> tuple[Any, ...]:
        here, there = differing_parts(new, old)
        as_is, named = set(map(id, old[there])), {getattr(part, "id", None): part for part in old[there]}
        originals = _originals(new[here], old)
        stood = [
            named.get(getattr(part, "id", "")) or originals.get(getattr(part, "copied_from", "")) for part in new[here]
        ]
        unknown = [part for part in new[here] if id(part) not in as_is]
        few = [part for part, other in zip(new[here], stood, strict=True) if other is None]
        as_is |= _surely_as_read(unknown if len(unknown) > MANY else few)
        taken = [
            part if id(part) in as_is else self.take(part, other, item, f"{at}[{index}]")
            for index, (part, other) in enumerate(zip(new[here], stood, strict=True), start=here.start)
        ]
        if not _same_names(new[here], old[there]):  # else there are no more twins than there were
            self._note(twins(new, item, at))
        if all(one is other for one, other in zip(new[here], taken, strict=True)):
            return new
        return (*new[: here.start], *taken, *new[here.stop :])


def _surely_as_read(parts: Sequence[Any]) -> set[int]:
    """The levels among some new parts, by what they are, if none of them has to be looked at with care."""
    levels = tuple([part for part in parts if isinstance(part, Level)])
    if not levels or not surely_as_read(levels):
        return set()
    try:
        for level in levels:
            tidy_level(level)
    except WrongWording:
        return set()
    return set(map(id, levels))


def _originals(parts: Sequence[Any], old: Sequence[Any]) -> dict[str, Level]:
    """The levels that some were copied from, with which they share most of what they hold, by their ids."""
    wanted = {part.copied_from for part in parts if isinstance(part, Level) and part.copied_from}
    return {level.id: level for level in old if level.id in wanted} if wanted else {}


def _same_names(new: tuple[Any, ...], old: tuple[Any, ...]) -> bool:
    """Whether the parts of two lists have the same ids, one by one."""
    if len(new) != len(old):
        return False
    return all(
        one is other or (getattr(one, "id", None) is not None and one.id == getattr(other, "id", None))
        for one, other in zip(new, old, strict=True)
    )
