"""Finding anything by name, code, id or file."""

from collections.abc import Iterator

from msgspec import Struct

from mossy_bridge.model.flow import Flow, Level


class Match(Struct, frozen=True):
    """Something found: what it is, its level ("" for a fact or ending) and id, and how it is called."""

    kind: str
    level: str
    id: str
    title: str
    detail: str


def found(flow: Flow, text: str, most: int = 60) -> list[Match]:
    """What the text names, best first: the very code or name, then what begins so, then what holds it. Every
    word of the text must be found. Patterns should be filled in."""
    words = text.casefold().split()
    if not words:
        return []
    ranked = []
    for number, (match, names) in enumerate(_everything(flow)):
        rank = _rank(words, " ".join(words), [name.casefold() for name in names if name])
        if rank is not None:
            ranked.append((rank, number, match))
    return [match for _, _, match in sorted(ranked, key=lambda entry: entry[:2])[:most]]


def _rank(words: list[str], text: str, names: list[str]) -> int | None:
    whole = " ".join(names)
    if not all(word in whole for word in words):
        return None
    if text in names:
        return 0
    if any(name.startswith(text) for name in names):
        return 1
    return 2 if any(text in name for name in names) else 3


def _everything(flow: Flow) -> Iterator[tuple[Match, tuple[str, ...]]]:
    for level in flow.levels:
        detail = " · ".join(filter(None, (level.code, level.file)))
        yield Match("level", level.id, "", level.title, detail), (level.code, level.name, level.id, level.file)
    for fact in flow.facts:
        yield Match("fact", "", fact.id, fact.name or fact.id, fact.kind), (fact.name, fact.id)
    for ending in flow.endings:
        yield Match("ending", "", ending.id, ending.name or ending.id, ""), (ending.name, ending.id)
    for level in flow.levels:
        yield from _things(level)


def _things(level: Level) -> Iterator[tuple[Match, tuple[str, ...]]]:
    groups = (("exit", level.exits), ("spawn point", level.spawns), ("deed", level.deeds), ("zone", level.zones))
    for kind, things in groups:
        for thing in things:
            yield Match(kind, level.id, thing.id, thing.name or thing.id, level.title), (thing.name, thing.id)
