"""Strict reading, part one: whether a tree of plain JSON values has the shape of a flow.

Finds every problem with its place in one pass; it builds nothing. What has passed here converts without
fail. References are not followed: a dangling one is no reading error.
"""

from collections.abc import Iterator
from functools import cache, lru_cache
from typing import Any

import msgspec.inspect as mi

from mossy_bridge.language.parsing import WrongWording, parse_condition, parse_effect
from mossy_bridge.model.flow import Fact, Flow, Level, Path, Value
from mossy_bridge.model.names import KEYWORDS, is_id, nearest

INTERNAL = frozenset({"set_here"})
LARGEST = 2**63 - 1


class Pairs(dict[str, Any]):
    """A JSON object that remembers which keys stood in it more than once."""

    twice: tuple[str, ...] = ()


@lru_cache(maxsize=1)
def flow_type() -> mi.Type:
    """What msgspec knows of the shape of a flow."""
    return mi.type_info(Flow)


@cache
def _struct_fields(cls: type) -> dict[str, mi.Field]:
    info = mi.type_info(cls)
    assert isinstance(info, mi.StructType)
    return {field.encode_name: field for field in info.fields if field.name not in INTERNAL}


def problems(tree: Any) -> list[str]:
    """Every way in which the tree is not a flow, each as ``place: sentence``."""
    return list(_problems(tree, flow_type(), ""))


def _problems(value: Any, kind: mi.Type, at: str) -> Iterator[str]:
    match kind:
        case mi.StructType():
            yield from _in_struct(value, kind.cls, at)
        case mi.VarTupleType():
            yield from _in_list(value, kind.item_type, at)
        case mi.TupleType():
            yield from _in_numbers(value, kind, at)
        case mi.DictType():
            yield from _in_map(value, kind, at)
        case mi.UnionType():
            yield from _in_union(value, kind, at)
        case mi.Metadata():
            yield from _in_wording(value, kind, at)
        case mi.AnyType():
            yield from _in_any(value, at)
        case _:
            problem = _plain_problem(value, kind)
            if problem:
                yield f"{at or 'the file'}: {problem}"


def _in_struct(value: Any, cls: type, at: str) -> Iterator[str]:
    if not isinstance(value, dict):
        yield f"{at or 'the file'}: expected an object {{…}}, found {_found(value)}"
        return
    prefix = f"{at}." if at else ""
    for key in getattr(value, "twice", ()):
        yield f"{prefix}{key}: stands twice in the same object; remove one"
    fields = _struct_fields(cls)
    for key, item in value.items():
        if key in fields:
            yield from _problems(item, fields[key].type, f"{prefix}{key}")
        else:
            yield f"{prefix}{key}: unknown field{_meant(key, fields)}"
    for name, field in fields.items():
        if field.required and name not in value:
            yield f"{prefix}{name}: is missing"
    yield from _extra_rules(value, cls, prefix)


def _in_list(value: Any, item: mi.Type, at: str) -> Iterator[str]:
    if not isinstance(value, list):
        yield f"{at}: expected a list […], found {_found(value)}"
        return
    for index, part in enumerate(value):
        yield from _problems(part, item, f"{at}[{index}]")
    inner = item.type if isinstance(item, mi.Metadata) else item
    if isinstance(inner, mi.StructType):
        yield from _twins(value, inner.cls, at)
    elif isinstance(item, mi.Metadata) and (item.extra or {}).get("is") == "id":
        yield from _same(((i, part) for i, part in enumerate(value)), at, "")


def _twins(value: list[Any], cls: type, at: str) -> Iterator[str]:
    parts = [(i, part) for i, part in enumerate(value) if isinstance(part, dict)]
    if cls is Path:
        pairs = ((i, f"{part.get('from')} to {part.get('to')}") for i, part in parts)
        yield from _same(pairs, at, "", "a path")
    elif "id" in _struct_fields(cls):
        yield from _same(((i, part.get("id")) for i, part in parts), at, ".id")


def _same(keys: Iterator[tuple[int, Any]], at: str, field: str, what: str = "the id") -> Iterator[str]:
    first: dict[str, int] = {}
    for index, key in keys:
        if not isinstance(key, str):
            continue
        if key in first:
            yield f"{at}[{index}]{field}: {what} “{key}” is already used by {at}[{first[key]}]"
        first.setdefault(key, index)


def _in_numbers(value: Any, kind: mi.TupleType, at: str) -> Iterator[str]:
    if not isinstance(value, list) or len(value) != len(kind.item_types):
        yield f"{at}: expected {len(kind.item_types)} numbers: x, y, width, height"
        return
    for index, (part, item) in enumerate(zip(value, kind.item_types, strict=True)):
        yield from _problems(part, item, f"{at}[{index}]")


def _in_map(value: Any, kind: mi.DictType, at: str) -> Iterator[str]:
    if not isinstance(value, dict):
        yield f"{at}: expected an object {{…}}, found {_found(value)}"
        return
    for key in getattr(value, "twice", ()):
        yield f"{at}.{key}: stands twice in the same object; remove one"
    for key, item in value.items():
        yield from _id_problem(key, f"{at}.{key}")
        yield from _problems(item, kind.value_type, f"{at}.{key}")


def _in_union(value: Any, kind: mi.UnionType, at: str) -> Iterator[str]:
    if value is None:
        if not kind.includes_none or len(kind.types) > 2:
            yield f"{at}: may not be null; leave it out instead"
        return
    others = [one for one in kind.types if not isinstance(one, mi.NoneType)]
    if len(others) == 1:
        yield from _problems(value, others[0], at)
    elif not isinstance(value, bool | int | float | str):
        yield f"{at}: expected yes or no, a whole number or a word, found {_found(value)}"


def _in_wording(value: Any, kind: mi.Metadata, at: str) -> Iterator[str]:
    role = (kind.extra or {}).get("is")
    if not isinstance(value, str) or role is None:
        yield from _problems(value, kind.type, at)
    elif role == "id":
        yield from _id_problem(value, at)
    elif role == "expectation":
        if _plain_problem(value, kind.type):
            yield f"{at}: “{value}” is not one of works, fails, ends:ENDING, at:LEVEL"
    else:
        try:
            (parse_condition if role == "condition" else parse_effect)(value)
        except WrongWording as error:
            yield f"{at}: in “{_short(value)}”: {error}"


def _id_problem(value: str, at: str) -> Iterator[str]:
    if value in KEYWORDS:
        yield f"{at}: “{value}” is a keyword of conditions and cannot be an id"
    elif not is_id(value):
        yield f"{at}: “{_short(value)}” is not an id (a small letter, then small letters, digits and _)"


def _in_any(value: Any, at: str) -> Iterator[str]:
    for key in getattr(value, "twice", ()):
        yield f"{at}.{key}: stands twice in the same object; remove one"
    if isinstance(value, dict | list):
        for key, part in value.items() if isinstance(value, dict) else enumerate(value):
            yield from _in_any(part, f"{at}.{key}")
    elif (problem := _number_problem(value) or _text_problem(value)) is not None:
        yield f"{at}: {problem}"


def _plain_problem(value: Any, kind: mi.Type) -> str | None:
    match kind:
        case mi.BoolType():
            return None if isinstance(value, bool) else f"expected true or false, found {_found(value)}"
        case mi.LiteralType(values):
            if isinstance(value, str) and value in values:
                return None
            return f"{_found(value)} is not one of {', '.join(map(str, values))}"
        case mi.StrType(pattern=pattern):
            if not isinstance(value, str):
                return f"expected text, found {_found(value)}"
            return _text_problem(value) or (_pattern_problem(value, pattern) if pattern else None)
        case mi.IntType():
            if isinstance(value, bool) or not isinstance(value, int | float) or value != int(value):
                return f"expected a whole number, found {_found(value)}"
            return _number_problem(value)
        case mi.FloatType(ge=least):
            if isinstance(value, bool) or not isinstance(value, int | float):
                return f"expected a number, found {_found(value)}"
            negative = least is not None and value < least
            return "may not be negative" if negative else _number_problem(value)
    raise TypeError(f"no rule for {kind}")


def _pattern_problem(value: str, pattern: str) -> str | None:
    import re

    return None if re.search(pattern, value) else f"“{_short(value)}” does not have the expected form"


def _number_problem(value: Any) -> str | None:
    too_large = isinstance(value, int) and not isinstance(value, bool) and not -LARGEST - 1 <= value <= LARGEST
    return "the number is too large (it must fit in 64 bits)" if too_large else None


def _text_problem(value: Any) -> str | None:
    if isinstance(value, str) and any("\ud800" <= letter <= "\udfff" for letter in value):
        return "the text holds half a character (a lone surrogate) and cannot be saved"
    return None


def _extra_rules(value: dict[str, Any], cls: type[Value] | type, prefix: str) -> Iterator[str]:
    if cls is Fact:
        yield from _fact_rules(value, prefix)
    elif cls is Level and prefix.startswith("patterns[") and value.get("pattern"):
        yield f"{prefix}pattern: a pattern cannot have a pattern"


def _fact_rules(fact: dict[str, Any], prefix: str) -> Iterator[str]:
    kind, initial = fact.get("kind"), fact.get("initial")
    if kind == "count":
        yield from _count_rules(fact, prefix)
    elif kind == "choice":
        values = fact.get("values", [])
        if values == []:
            yield f"{prefix}values: a choice needs at least one value"
        elif isinstance(values, list) and "initial" in fact and initial not in values:
            yield f"{prefix}initial: {_found(initial)} is none of the choice's values"
    elif kind == "flag" and "initial" in fact and not isinstance(initial, bool):
        yield f"{prefix}initial: expected true or false, found {_found(initial)}"


def _count_rules(fact: dict[str, Any], prefix: str) -> Iterator[str]:
    low, high, initial = fact.get("low", 0), fact.get("high", 9), fact.get("initial", 0)
    if any(_plain_problem(number, mi.IntType()) for number in (low, high)):
        return  # already said
    if problem := _plain_problem(initial, mi.IntType()):
        yield f"{prefix}initial: {problem}"
        return
    if low < 0:
        yield f"{prefix}low: a count cannot go below 0"
    if low > high:
        yield f"{prefix}low: {low} is above high, which is {high}"
    elif not low <= initial <= high:
        yield f"{prefix}initial: {initial} is not between low ({low}) and high ({high})"


def _meant(key: str, known: Any) -> str:
    likely = nearest(key, known)
    return f"; did you mean “{likely}”?" if likely else ""


def _found(value: Any) -> str:
    if value is None:
        return "null"
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, str):
        return f"“{_short(value)}”"
    if isinstance(value, dict | list):
        return "an object" if isinstance(value, dict) else "a list"
    return str(value)[:40]


def _short(text: str) -> str:
    plain = text.encode("utf-8", "replace").decode()
    return plain if len(plain) <= 60 else plain[:57] + "…"
