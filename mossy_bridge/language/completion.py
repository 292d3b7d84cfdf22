"""What could be typed next in a condition or in a list of effects."""

import re
from collections.abc import Callable
from itertools import pairwise

from msgspec import Struct

from mossy_bridge.model.flow import Fact, Flow

WORD = re.compile(r"[a-z0-9_]*$")
BOUNDS = ("at least", "at most", "exactly")


class Candidate(Struct, frozen=True):
    """A word that fits: what is put in, and what it means."""

    text: str
    means: str = ""


def condition_candidates(flow: Flow, text: str) -> tuple[int, list[Candidate]]:
    """Where the word being typed at the end of the text begins, and what fits there."""
    return _candidates(text, lambda before: _in_condition(flow, before))


def effect_candidates(flow: Flow, text: str) -> tuple[int, list[Candidate]]:
    """The same for effects, parted by commas."""
    return _candidates(text, lambda before: _in_effect(flow, before.rpartition(",")[2]))


def _candidates(text: str, fitting: Callable[[str], list[Candidate]]) -> tuple[int, list[Candidate]]:
    match = WORD.search(text)
    start = match.start() if match else len(text)
    typed = text[start:].casefold()
    found = fitting(text[:start])
    best = [one for one in found if one.text.startswith(typed)]
    others = [one for one in found if one not in best and typed in f"{one.text} {one.means}".casefold()]
    return start, best + others


def _facts(flow: Flow, *kinds: str) -> list[Candidate]:
    return [Candidate(fact.id, fact.name) for fact in flow.facts if fact.kind in kinds]


def _levels(flow: Flow) -> list[Candidate]:
    return [Candidate(level.id, f"{level.code} {level.name}".strip()) for level in flow.levels]


def _choice(flow: Flow, name: str) -> Fact | None:
    return next((fact for fact in flow.facts if fact.id == name and fact.kind == "choice"), None)


def _in_condition(flow: Flow, before: str) -> list[Candidate]:
    words = re.findall(r"[a-z0-9_]+|[(),]", before)
    last, two = (words[-1] if words else ""), tuple(words[-2:])
    if last in ("has", "lacks"):
        return _facts(flow, "flag")
    if last in ("seen", "done"):
        return _levels(flow)
    if last in ("least", "most", "exactly"):
        return [Candidate(str(number)) for number in range(1, 10)]
    if last == "at":
        return [Candidate("least"), Candidate("most")]
    if last.isdigit():
        return [*_facts(flow, "count"), Candidate("of (", "so many of several conditions")]
    choice = _choice(flow, last)
    if choice:
        return [Candidate("is"), Candidate("is not")]
    if last == "is" or two == ("is", "not"):
        choice = _choice(flow, ["", "", *words][-2 if last == "is" else -3])
        values = [Candidate(value) for value in choice.values] if choice else []
        return values + ([Candidate("not")] if last == "is" else [])
    if not words or last in ("and", "or", "not", "(", ","):
        return _beginnings(flow, first=not words)
    return [Candidate("and"), Candidate("or"), *_closings(words)]


def _closings(words: list[str]) -> list[Candidate]:
    """A bracket, where one is open; a comma, where that one holds the conditions to be counted."""
    open_ones: list[bool] = []
    for before, word in pairwise(["", *words]):
        if word == "(":
            open_ones.append(before == "of")
        elif word == ")" and open_ones:
            open_ones.pop()
    if not open_ones:
        return []
    return [Candidate(")"), Candidate(",")] if open_ones[-1] else [Candidate(")")]


def _beginnings(flow: Flow, first: bool) -> list[Candidate]:
    found = [Candidate("always"), Candidate("never")] if first else []
    if _facts(flow, "flag"):
        found += [Candidate("has", "a flag that is held"), Candidate("lacks", "a flag that is not held")]
    if _facts(flow, "count"):
        found += [Candidate(bound, "a number of something") for bound in BOUNDS]
    found += _facts(flow, "choice")
    found += [Candidate("seen", "a level that was entered"), Candidate("done", "a level that was completed")]
    return [*found, Candidate("not"), Candidate("(")]


def _in_effect(flow: Flow, before: str) -> list[Candidate]:
    words = before.split()
    if not words:
        verbs = [
            ("gain", "flag"),
            ("lose", "flag"),
            ("add", "count"),
            ("take", "count"),
            ("set", "count"),
            ("raise", "count"),
            ("lower", "count"),
            ("turn", "choice"),
            ("clear", "flag count choice"),
        ]
        known = {fact.kind for fact in flow.facts}
        return [Candidate(verb, kinds) for verb, kinds in verbs if known & set(kinds.split())]
    verb, given = words[0], words[1:]
    match verb:
        case "gain" | "lose":
            return _facts(flow, "flag") if not given else _more()
        case "clear":
            return _facts(flow, "flag", "count", "choice") if not given else _more()
        case "add" | "take":
            return [_numbers, lambda: _facts(flow, "count"), _more][min(len(given), 2)]()
        case "set" | "raise" | "lower":
            return [lambda: _facts(flow, "count"), _to, _numbers, _more][min(len(given), 3)]()
        case "turn":
            choice = _choice(flow, given[0]) if given else None
            values = [Candidate(value) for value in choice.values] if choice else []
            return [lambda: _facts(flow, "choice"), _to, lambda: values, _more][min(len(given), 3)]()
    return []


def _numbers() -> list[Candidate]:
    return [Candidate(str(number)) for number in range(1, 10)]


def _to() -> list[Candidate]:
    return [Candidate("to")]


def _more() -> list[Candidate]:
    return [Candidate(",", "another effect")]
