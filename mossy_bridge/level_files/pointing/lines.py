"""Regular expressions that find lines like those pointed at: what is the same stands, what differs is a group."""

import re
from collections import Counter
from collections.abc import Collection, Iterator, Sequence
from typing import Literal, NamedTuple

from mossy_bridge.level_files.pointing.sample import Sample
from mossy_bridge.level_files.pointing.telling import FACES, PLACES, TRIGGERS, is_number
from mossy_bridge.level_files.pointing.telling_apart import Place
from mossy_bridge.model.flow import ThingKind

WORD, PLAIN_WORD, NUMBER = r"[^\s\"'()\[\]{},;:=|]+", r"\S+", r"[-+.\d]+"
_TOKEN = re.compile(
    rf"""(?P<space>\s+)|"(?P<text>[^"]*)"|'(?P<other>[^']*)'"""
    rf"""|\[(?P<held>[^\[\],]*[^\W\d][^\[\],]*|)\]|(?P<word>{WORD})|(?P<mark>.)"""
)
ENCLOSED = {"text": ('"', '[^"]*', '"'), "other": ("'", "[^']*", "'"), "held": ("\\[", r"[^\]]*", "\\]")}
"""How texts in quotation marks and in brackets are written."""
OFTEN = 3
"""A word that begins or stands in so many lines is a word of the form and no name."""


class Token(NamedTuple):
    """A part of a line: a ``text`` stands between quotation marks, one ``held`` in brackets, a ``mark`` is a sign."""

    kind: Literal["space", "text", "other", "held", "word", "mark"]
    text: str

    @property
    def shape(self) -> str:
        """What must be the same in lines that are alike."""
        return self.text if self.kind == "mark" else self.kind


Line = tuple[Token, ...]


class LinePattern(NamedTuple):
    """A regular expression, the names of its groups in order, and the word with which all its lines begin, if any."""

    each: str
    groups: tuple[str, ...]
    begins: str


def tokens(text: str) -> Line:
    """The parts of a line, without the space around it."""
    found: list[Token] = []
    for match in _TOKEN.finditer(text.strip()):
        kind = match.lastgroup or "mark"
        found.append(Token(kind, match[kind]))  # type: ignore[arg-type]
    return tuple(found)


def line_pattern(
    makes: ThingKind, samples: Sequence[Sample], pointed: Sequence[Place], levels: Collection[str]
) -> LinePattern | None:
    """What finds the lines pointed at and those built like them; None where those pointed at are built differently."""
    lines = [tokens(node.text) for sample in samples for node in sample.nodes]
    chosen = [tokens(samples[sample].nodes[number].text) for sample, number in pointed]
    if not all(chosen):
        return None
    begins = {_begin(line) for line in chosen}
    kindred = [line for line in lines if line and _begin(line) in begins]
    base = max((line for line in kindred if _extends(line, chosen[0])), key=len)
    if not all(_extends(base, line) for line in chosen):
        return None
    alike = [line for line in kindred if _extends(base, line)]
    common = Counter(word for line in lines for word in {token.text for token in line if token.kind == "word"})
    parts = [_part(at, base, alike, common, levels) for at in range(len(base))]
    names = _group_names(makes, base, parts)
    ends = {len(line) for line in alike if len(line) < len(base)}
    written = "".join(_written(at, base[at], part, names.get(at), ends) for at, part in enumerate(parts))
    around = r"\s*" if any(node.text != node.text.strip() for sample in samples for node in sample.nodes) else ""
    return LinePattern(
        rf"^{around}{written}{')?' * len(ends)}{around}$", tuple(names.values()), "" if 0 in names else base[0].text
    )


def _begin(line: Line) -> tuple[str, ...]:
    """By what lines are told apart: their first word, or where that is a number their build."""
    first = line[0]
    if first.kind == "word" and not is_number(first.text):
        return (first.text,)
    return tuple(token.shape for token in line)


def _extends(line: Line, shorter: Line) -> bool:
    """Whether a line is built like another, or goes on where that ends."""
    return len(line) >= len(shorter) and all(a.shape == b.shape for a, b in zip(line, shorter, strict=False))


def _part(at: int, base: Line, alike: Sequence[Line], common: Counter[str], levels: Collection[str]) -> str:
    """The expression for one token, a group where it differs from line to line."""
    token = base[at]
    texts = [line[at].text for line in alike if len(line) > at]
    if token.kind == "space":
        return " " if set(texts) == {" "} else r"\s+"
    if token.kind == "mark":
        return _escaped(token.text)
    if token.kind in ENCLOSED:
        return ENCLOSED[token.kind][1]
    if all(map(is_number, texts)):
        return NUMBER
    distinct = dict.fromkeys(texts)
    if at == 0:
        return "|".join(map(_escaped, distinct))
    is_key = at + 1 < len(base) and base[at + 1].text in ("=", ":")
    usual = common[token.text] >= OFTEN if len(texts) == 1 else token.text not in FACES | TRIGGERS
    fixed = len(distinct) == 1 and (is_key or (usual and token.text not in levels))
    if fixed:
        return _escaped(token.text)
    return PLAIN_WORD if at + 1 == len(base) or base[at + 1].kind == "space" else WORD


def _escaped(text: str) -> str:
    """The text for a regular expression; what means nothing there is left as it is."""
    return re.sub(r"[.^$*+?{}\[\]\\|()]", r"\\\g<0>", text)


_DIFFER = {WORD, PLAIN_WORD, NUMBER, *(inner for _, inner, _ in ENCLOSED.values())}


def _differs(part: str) -> bool:
    return part in _DIFFER or "|" in part


def _group_names(makes: ThingKind, base: Line, parts: Sequence[str]) -> dict[int, str]:
    """Names for what differs: the key before it, the word before it, or by its order among numbers."""
    places = iter(PLACES[2:] if makes == "plan" else PLACES)
    names: dict[int, str] = {}
    for at, part in enumerate(parts):
        if not _differs(part):
            continue
        key = base[at - 2].text if at > 1 and base[at - 1].text in ("=", ":") else ""
        before = next((base[i].text for i in range(at - 1, -1, -1) if base[i].kind == "word"), "")
        fixed = next((not _differs(parts[i]) for i in range(at - 1, -1, -1) if base[i].kind == "word"), False)
        if part == NUMBER and not key:
            name = next(places, "number")
        elif at == 0:
            name = "trigger" if set(part.split("|")) <= TRIGGERS else "kind"
        else:
            name = key or (before if fixed and before != base[0].text else "") or "name"
        names[at] = _free(_identifier(name), names.values())
    return names


def _identifier(name: str) -> str:
    plain = re.sub(r"\W", "_", name.lower(), flags=re.ASCII).strip("_")
    return plain if plain[:1].isalpha() else f"name_{plain}".strip("_")


def _free(name: str, taken: Collection[str]) -> str:
    return next(one for one in _numbered(name) if one not in taken)


def _numbered(name: str) -> Iterator[str]:
    yield name
    for number in range(2, 1000):
        yield f"{name}_{number}"


def _written(at: int, token: Token, part: str, name: str | None, ends: Collection[int]) -> str:
    before, _, behind = ENCLOSED.get(token.kind, ("", "", ""))
    inner = f"(?P<{name}>{part})" if name else part
    return f"{'(?:' if at in ends else ''}{before}{inner}{behind}"


def matched(pattern: LinePattern, text: str) -> dict[str, str] | None:
    """What the groups hold in a line that is found; None where it is not."""
    found = re.search(pattern.each, text)
    return None if found is None else {name: value for name, value in found.groupdict().items() if value is not None}
