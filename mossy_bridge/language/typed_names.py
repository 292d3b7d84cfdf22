"""Conditions and effects as designers type them: with the names they see, which become ids, and how a fact of another
kind is written."""

import re

from mossy_bridge.language.evaluation import Unknown
from mossy_bridge.model.flow import Fact, Flow
from mossy_bridge.model.ids import KEYWORDS

_ASKS_LEVEL = re.compile(r"\b(?:seen|done)\s+\Z")


def with_ids(flow: Flow, text: str) -> str:
    """The text with every name of a fact or a level, however its letters are cased, as its id. What is an id as it
    stands, or a keyword, stays."""
    facts = {fact.name.casefold(): fact.id for fact in flow.facts if fact.name}
    levels = {level.name.casefold(): level.id for level in flow.levels if level.name}
    ids = {fact.id for fact in flow.facts} | {level.id for level in flow.levels}
    ids |= {value for fact in flow.facts for value in fact.values}
    names = [name for name in {*facts, *levels} if name not in KEYWORDS]
    if not names:
        return text
    longest_first = sorted(names, key=len, reverse=True)
    found = re.compile(rf"(?<!\w)(?:{'|'.join(map(re.escape, longest_first))})(?!\w)", re.IGNORECASE)

    def as_id(match: re.Match[str]) -> str:
        if match[0] in ids:
            return match[0]
        name = match[0].casefold()
        first, second = (levels, facts) if _ASKS_LEVEL.search(text[: match.start()]) else (facts, levels)
        return first.get(name) or second.get(name) or match[0]

    return found.sub(as_id, text)


def right_wording(flow: Flow, unknown: Unknown, effect: bool) -> str:
    """Where a fact was named as one of another kind, how it is written: ``oil is a count: at least 1 oil``; else ""."""
    fact = next((one for one in flow.facts if one.id == unknown.name), None)
    if fact is None or unknown.wanted not in ("flag", "count", "choice") or unknown.wanted == fact.kind:
        return ""
    return f"{fact.name or fact.id} is a {fact.kind}: {_written(fact, effect)}"


def _written(fact: Fact, effect: bool) -> str:
    if fact.kind == "flag":
        return f"{'gain' if effect else 'has'} {fact.id}"
    if fact.kind == "count":
        return f"{'add' if effect else 'at least'} 1 {fact.id}"
    value = fact.values[0]
    return f"turn {fact.id} to {value}" if effect else f"{fact.id} is {value}"
