"""Where an exit of a level file leads, in the terms of the flow."""

from collections.abc import Iterable, Iterator, Mapping
from pathlib import PurePosixPath
from posixpath import normpath

from msgspec import Struct

from mossy_bridge.level_files.contents import FileThing, normal
from mossy_bridge.model.flow import Destination, DestinationKind, Flow, Level
from mossy_bridge.model.ids import id_from
from mossy_bridge.model.sequence import STEPS, neighbours

BY_THEMSELVES: tuple[DestinationKind, ...] = ("next", "previous", "again", "back", "resume")
END = "end:"
FILE = 1
"""The place of files among what a level can be called by."""


class Led(Struct, frozen=True):
    """What the file says of where an exit leads."""

    to: Destination | None = None
    """None where it means nothing in this flow."""
    names_spawn: bool = False
    """Whether the file says by which spawn point; otherwise any of the level is as it says."""
    doubt: str = ""
    """Why it means nothing, as an end of a sentence."""


class FileDestinations:
    """Looks up what level files say in one flow, with its patterns filled in."""

    def __init__(self, flow: Flow):
        self._flow = flow
        self._endings = {ending.id for ending in flow.endings}
        self._beside = {step: neighbours(flow, step) for step in STEPS.values()}
        names: dict[str, list[Iterable[str]]] = {level.id: list(_names(level)) for level in flow.levels}
        kinds = len(next(iter(names.values()), []))
        self._by: list[dict[str, list[str]]] = [{} for _ in range(kinds)]
        for level_id, alike in names.items():
            for known, texts in zip(self._by, alike, strict=True):
                for text in texts:
                    known.setdefault(text, []).append(level_id)

    def of(self, thing: FileThing, level: Level, words: Mapping[str, str]) -> Led | None:
        """Where an exit of a level leads; None where its rule does not take that."""
        if "level" not in thing.texts:
            return None
        text, spawn = thing.texts["level"].strip(), thing.texts.get("spawn")
        meant = words.get(thing.texts["level"], words.get(text))
        if meant is not None:
            return self._by_word(meant, spawn)
        if not text:
            return Led(doubt="nowhere")
        found = self._levels_called(text, level)
        if len(found) == 1:
            return self._in_level(found[0], spawn, "")
        if found:
            named = " and ".join(self._title(name) for name in found[:3])
            return Led(doubt=f"to “{text}”, which can mean {named}")
        return Led(doubt=f"to “{text}”, which no level is called")

    def _by_word(self, meant: str, spawn: str | None) -> Led:
        if meant in BY_THEMSELVES:
            return Led(Destination(kind=meant))
        if meant.startswith(END):
            ending = meant.removeprefix(END)
            known = ending in self._endings
            to = Destination(kind="end", ending=ending)
            return Led(to) if known else Led(doubt=f"to the ending “{ending}”, which there is not")
        level, _, point = meant.partition(".")
        if self._flow.level(level) is None:
            return Led(doubt=f"to the level “{level}”, which there is not")
        return self._in_level(level, spawn, point)

    def _in_level(self, name: str, spawn: str | None, otherwise: str) -> Led:
        level = self._flow.level(name)
        text = (spawn or "").strip()
        if level is None or not text:
            names_spawn = spawn is not None or bool(otherwise)
            return Led(Destination(level=name, spawn=otherwise), names_spawn)
        made = id_from(text, (), "spawn")
        for wanted in (text, made):
            if any(point.id == wanted for point in level.spawns):
                return Led(Destination(level=name, spawn=wanted), True)
        named = next((point.id for point in level.spawns if point.name == text), None)
        if named:
            return Led(Destination(level=name, spawn=named), True)
        return Led(doubt=f"to the spawn point “{text}”, which {level.title} has not")

    def _levels_called(self, text: str, level: Level) -> list[str]:
        for index, known in enumerate(self._by):
            if found := known.get(text):
                return found
            if index == FILE and known:  # named from the flow's folder, or from the level file's
                beside = normpath(str(PurePosixPath(level.file).parent / text))
                if found := known.get(normal(text)) or known.get(beside):
                    return found
        return []

    def _title(self, name: str) -> str:
        level = self._flow.level(name)
        return level.title if level else name

    def same(self, led: Led, to: Destination | None, level: Level) -> bool:
        """Whether a destination of the flow leads where the file says: also by another way of saying it."""
        if led.to is None or to is None:
            return led.to is to and led.doubt == "nowhere"
        if led.to.kind == to.kind and to.kind != "level":
            return led.to.ending == to.ending
        one, other = self._landing(led.to, level), self._landing(to, level)
        return one is not None and other is not None and one[0] == other[0] and (not led.names_spawn or one == other)

    def _landing(self, to: Destination, level: Level) -> tuple[str, str] | None:
        """The level and spawn point that a destination names, or finds in the order."""
        target = self._flow.level(to.level) if to.kind == "level" else None
        if to.kind in ("next", "previous"):
            target = self._beside[STEPS[to.kind]].get(level.id)
        if target is None:
            return None
        first = target.spawns[0].id if target.spawns else ""
        return target.id, (to.spawn or first) if to.kind == "level" else first


def all_names(flow: Flow) -> set[str]:
    """All that levels of a flow can be called by in level files."""
    return {text for level in flow.levels for texts in _names(level) for text in texts}


def _names(level: Level) -> Iterator[Iterable[str]]:
    """What a level can be called by, the surest first: id, file, the file's name with and without its ending, code,
    name."""
    path = PurePosixPath(level.file)
    yield (level.id,)
    yield (normal(level.file),) if level.file else ()
    yield (path.name,) if level.file else ()
    yield (path.stem,) if level.file else ()
    yield (level.code,) if level.code else ()
    yield (level.name,) if level.name else ()
