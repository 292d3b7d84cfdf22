"""Constants by which a game's code names levels, exits, spawn points, deeds, facts, values and endings, so that a
typing mistake does not compile. What they stand for are places in the lists of the game table."""

import re
from collections.abc import Callable, Iterable
from typing import Any, Literal, get_args

from msgspec import Struct

Language = Literal["c", "csharp", "go", "java", "javascript", "typescript", "lua", "python", "rust"]
LANGUAGES: tuple[Language, ...] = get_args(Language)
Style = Callable[[str], str]


class NamedPlace(Struct, frozen=True):
    """A name in some language, and the place it stands for."""

    name: str
    value: int


class Space(Struct, frozen=True):
    """What holds constants: a class, a module, a table."""

    name: str
    constants: tuple[NamedPlace, ...] = ()
    spaces: "tuple[Space, ...]" = ()


def _upper(name: str) -> str:
    return name.upper()


def _lower(name: str) -> str:
    return name.lower()


def _pascal(name: str) -> str:
    return "".join(part[:1].upper() + part[1:] for part in name.split("_"))


class Spelling(Struct, frozen=True):
    """How a language writes names; ``flat`` where it has nothing to hold constants in, and names tell all."""

    constants: Style
    spaces: Style = _pascal
    reserved: frozenset[str] = frozenset()
    flat: bool = False


_RUST = """as async await box break const continue crate do dyn else enum extern false fn for gen if impl in let loop
macro match mod move mut override priv pub ref return self static struct super trait true try type typeof unsafe unsized
use virtual where while yield abstract become final"""
SPELLINGS: dict[Language, Spelling] = {
    "c": Spelling(_upper, flat=True),
    "csharp": Spelling(_pascal, reserved=frozenset(["Equals", "GetHashCode", "GetType", "ToString", "MemberwiseClone",
                                                    "ReferenceEquals", "Finalize"])),
    "go": Spelling(_pascal, flat=True),
    "java": Spelling(_upper, reserved=frozenset(["String", "Object", "Integer", "Override"])),
    "javascript": Spelling(_upper),
    "typescript": Spelling(_upper),
    "lua": Spelling(_upper),
    "python": Spelling(_upper, reserved=frozenset(["None", "True", "False"])),
    "rust": Spelling(_upper, _lower, frozenset(_RUST.split())),
}  # fmt: skip


def constants_text(table: dict[str, Any], language: Language, name: str) -> str:
    """The constants of a game table in a language; ``name`` is what holds them all, where the language has such."""
    from jinja2 import Environment, PackageLoader, StrictUndefined  # only whoever writes constants waits for it

    spelling = SPELLINGS[language]
    whole = re.sub(r"\W", "_", name.lower(), flags=re.ASCII).strip("_") or "flow"
    outer = spelling.spaces(whole if whole[0].isalpha() else f"flow_{whole}")
    outer = outer + "_" if outer in spelling.reserved else outer
    spaces = _spaces(table, spelling, outer)
    loader = PackageLoader("mossy_bridge.exchange.game")
    templates = Environment(loader=loader, undefined=StrictUndefined, trim_blocks=True, lstrip_blocks=True,
                            keep_trailing_newline=True, autoescape=False)  # fmt: skip
    title = re.sub(r"[\W_]+", " ", table["title"]).strip()  # it stands in a comment
    template = templates.get_template(f"{language}.j2")
    return template.render(name=outer, title=title, spaces=spaces, flat=_flat(table, spelling))


def _named(table: dict[str, Any]) -> dict[str, Any]:
    """The ids to be named, in their order: of each kind all, or for each level or fact those in it."""
    levels = table["levels"]
    choices = [fact for fact in table["facts"] if fact["kind"] == "choice"]
    inner = {kind: {level["id"]: _ids(level[f"{kind}s"]) for level in levels} for kind in ("exit", "spawn", "deed")}
    return {
        "level": _ids(levels),
        **{kind: {name: ids for name, ids in of.items() if ids} for kind, of in inner.items()},
        "fact": _ids(table["facts"]),
        "value": {fact["id"]: fact["values"] for fact in choices},
        "ending": _ids(table["endings"]),
    }


def _ids(things: Iterable[dict[str, Any]]) -> list[str]:
    return [thing["id"] for thing in things]


def _spaces(table: dict[str, Any], spelling: Spelling, outer: str) -> list[Space]:
    """A space for each kind, with one for each level or fact in it where that is what ids are told apart by."""
    found: list[Space] = []
    kinds = _named(table)
    for kind, name in zip(kinds, _spelled(kinds, spelling.spaces, spelling.reserved, {outer}), strict=True):
        ids, above = kinds[kind], {outer, name}
        if isinstance(ids, list):
            found.append(Space(name, _constants(ids, spelling, above)))
            continue
        names = _spelled(ids, spelling.spaces, spelling.reserved, above)
        inner = tuple(
            Space(one, _constants(within, spelling, {*above, one}))
            for one, within in zip(names, ids.values(), strict=True)
        )
        found.append(Space(name, spaces=inner))
    return found


def _constants(ids: list[str], spelling: Spelling, above: set[str]) -> tuple[NamedPlace, ...]:
    names = _spelled(ids, spelling.constants, spelling.reserved, above)
    return tuple(NamedPlace(name, place) for place, name in enumerate(names))


def _flat(table: dict[str, Any], spelling: Spelling) -> list[tuple[str, list[NamedPlace]]]:
    """All constants of each kind, under names that say it all."""
    paths: list[tuple[str, str, int]] = []
    for kind, ids in _named(table).items():
        within = {"": ids} if isinstance(ids, list) else ids
        for owner, names in within.items():
            start = f"{kind}_{owner}_" if owner else f"{kind}_"
            paths += [(kind, start + name, place) for place, name in enumerate(names)]
    names = _spelled([path for _, path, _ in paths], spelling.constants, spelling.reserved, set())
    found: dict[str, list[NamedPlace]] = {}
    for (kind, _, place), name in zip(paths, names, strict=True):
        found.setdefault(kind, []).append(NamedPlace(name, place))
    return list(found.items())


def _spelled(ids: Iterable[str], style: Style, reserved: frozenset[str], taken: set[str]) -> list[str]:
    """Names for ids: each another one, none reserved or taken; where it would be, a ``_`` is put behind it."""
    found: list[str] = []
    known = set(taken)
    for one in ids:
        name = style(one)
        while name in known or name in reserved:
            name += "_"
        known.add(name)
        found.append(name)
    return found
