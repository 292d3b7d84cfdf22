"""What could be typed next in a condition or in a list of effects: what the grammar expects, with the flow's names."""

import re
from collections.abc import Callable, Mapping

from lark import Token
from msgspec import Struct

from mossy_bridge.language.parsing import expected_after
from mossy_bridge.model.flow import Fact, FactKind, Flow

WORD = re.compile(r"[a-z0-9_]*$")
END = "$END"
CONDITION_WORDS: Mapping[str, tuple[tuple[str, str], ...]] = {
    "ALWAYS": (("always", ""),),
    "NEVER": (("never", ""),),
    "HAS": (("has", "a flag that is held"),),
    "LACKS": (("lacks", "a flag that is not held"),),
    "AT": (("at least", "a number of something"), ("at most", "a number of something")),
    "LEAST": (("least", ""),),
    "MOST": (("most", ""),),
    "EXACTLY": (("exactly", "a number of something"),),
    "OF": (("of (", "so many of several conditions"),),
    "SEEN": (("seen", "a level that was entered"),),
    "DONE": (("done", "a level that was completed"),),
    "IS": (("is", ""), ("is not", "")),
    "NOT": (("not", ""),),
    "LPAR": (("(", ""),),
    "AND": (("and", ""),),
    "OR": (("or", ""),),
    "RPAR": ((")", ""),),
    "COMMA": ((",", ""),),
}
"""What each terminal of conditions is offered as, and what that means; in the order in which they are offered. Names
and numbers come before them."""
ASKING: Mapping[str, FactKind] = {"HAS": "flag", "LACKS": "flag", "AT": "count", "EXACTLY": "count"}
"""Words that are offered only where there is a fact of their kind."""
CHANGING: Mapping[str, tuple[FactKind, ...]] = {
    "gain": ("flag",),
    "lose": ("flag",),
    "add": ("count",),
    "take": ("count",),
    "set": ("count",),
    "raise": ("count",),
    "lower": ("count",),
    "turn": ("choice",),
    "clear": ("flag", "count", "choice"),
}
"""The verbs of effects, and the kinds of facts they change."""


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


def _values(flow: Flow, name: str) -> list[Candidate]:
    choice = _choice(flow, name)
    return [Candidate(value) for value in choice.values] if choice else []


def _choice(flow: Flow, name: str) -> Fact | None:
    return next((fact for fact in flow.facts if fact.id == name and fact.kind == "choice"), None)


def _numbers() -> list[Candidate]:
    return [Candidate(str(number)) for number in range(1, 10)]


# -- conditions --------------------------------------------------------------------------------------------


def _in_condition(flow: Flow, before: str) -> list[Candidate]:
    tokens, expected = expected_after(before, "condition")
    kinds = {fact.kind for fact in flow.facts}
    found = _numbers() if "INTEGER" in expected else []
    names = _names_in_condition(flow, tokens) if "NAME" in expected else []
    beginning = "HAS" in expected
    for terminal, words in CONDITION_WORDS.items():
        if terminal not in expected or (terminal in ("ALWAYS", "NEVER") and tokens):
            continue
        if terminal in ASKING and ASKING[terminal] not in kinds:
            continue
        if terminal == "IS" and not _choice(flow, str(tokens[-1])):
            continue
        if terminal == "SEEN" and beginning:  # choices stand where conditions begin, among the words
            found, names = found + names, []
        found += [Candidate(*word) for word in words]
    return names + found


def _names_in_condition(flow: Flow, tokens: list[Token]) -> list[Candidate]:
    """The names that fit behind some tokens."""
    kinds = [token.type for token in tokens]
    match kinds[-1:]:
        case ["HAS"] | ["LACKS"]:
            return _facts(flow, "flag")
        case ["SEEN"] | ["DONE"]:
            return _levels(flow)
        case ["INTEGER"]:
            return _facts(flow, "count")
        case ["IS"]:
            return _values(flow, str(tokens[-2]))
        case ["NOT"] if kinds[-2:] == ["IS", "NOT"]:
            return _values(flow, str(tokens[-3]))
    return _facts(flow, "choice")


# -- effects -----------------------------------------------------------------------------------------------


def _in_effect(flow: Flow, before: str) -> list[Candidate]:
    tokens, expected = expected_after(before, "effect")
    if not tokens:
        known = {fact.kind for fact in flow.facts}
        return [
            Candidate(verb, " ".join(of))
            for verb, of in CHANGING.items()
            if verb.upper() in expected and known & set(of)
        ]
    if "INTEGER" in expected:
        return _numbers()
    if "TO" in expected:
        return [Candidate("to")]
    if "NAME" in expected:
        turned = tokens[0].type == "TURN" and len(tokens) > 1
        return _values(flow, str(tokens[1])) if turned else _facts(flow, *CHANGING[str(tokens[0])])
    return [Candidate(",", "another effect")] if END in expected else []
