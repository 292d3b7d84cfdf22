"""Whether a tree of plain JSON values surely has the shape of a flow, as nearly every file has: told in less than half
the time that :mod:`mossy_bridge.exchange.validation` takes to look for what is wrong.

Each kind of value is compiled into a function once. The rules are those of validation, asked for each value that is
not known to have passed; so what passes here has no problems there. The reverse need not be so.
"""

from collections.abc import Callable, Sequence
from functools import cache
from typing import Any

import msgspec.inspect as mi

from mossy_bridge.exchange.validation import (
    DEEPEST,
    MOST_PASSED,
    WITH_RULES,
    extra_rules,
    fits,
    flow_type,
    problems_in,
    required_fields,
    struct_fields,
    twins,
)
from mossy_bridge.model.flow import Destination, Level, Path

Check = Callable[[Any], bool]
"""Whether a value surely has no problem."""


def surely_valid(tree: Any) -> bool:
    """Whether plain values are surely a flow."""
    return _check_of(flow_type())(tree) and not any(pattern.get("pattern") for pattern in tree.get("patterns", ()))


def _check_of(kind: mi.Type) -> Check:
    match kind:
        case mi.StructType():
            return _struct(kind.cls)
        case mi.VarTupleType():
            return _list(kind.item_type)
        case mi.TupleType():
            return _numbers(kind)
        case mi.UnionType() if len(kind.types) == 2 and kind.includes_none:
            check = _check_of(next(one for one in kind.types if not isinstance(one, mi.NoneType)))
            return lambda value: value is None or check(value)
        case mi.DictType() | mi.AnyType():
            return lambda value: _has_no_problem(value, kind)
        case _:
            return _plain(kind)


def _has_no_problem(value: Any, kind: mi.Type) -> bool:
    return next(problems_in(value, kind, ""), None) is None


def _plain(kind: mi.Type) -> Check:
    """For values without parts. Those that have passed are remembered by their class, for 1, 1.0 and true are equal."""
    passed: dict[type, set[Any]] = {str: set(), int: set(), float: set(), bool: set()}

    def check(value: Any) -> bool:
        known = passed.get(value.__class__)
        if known is None:
            return _has_no_problem(value, kind)
        if value in known:
            return True
        right = _has_no_problem(value, kind)
        if right and len(known) < MOST_PASSED:
            known.add(value)
        return right

    return check


def _numbers(kind: mi.TupleType) -> Check:
    """For an area or the like: so many numbers, each within its bounds."""
    kinds = kind.item_types
    return lambda value: value.__class__ is list and len(value) == len(kinds) and all(map(fits, value, kinds))


def _list(item: mi.Type) -> Check:
    part, distinct = _check_of(item), _distinct(item)

    def check(value: Any) -> bool:
        return value.__class__ is list and all(map(part, value)) and (len(value) < 2 or distinct(value))

    return check


def _distinct(item: mi.Type) -> Check:
    """Whether no two parts of a list are twins."""

    def check(parts: Sequence[Any]) -> bool:
        return next(twins(parts, item, ""), None) is None

    def check_ids(parts: Sequence[Any]) -> bool:
        return len({part.get("id") for part in parts}) == len(parts)

    inner = item.type if isinstance(item, mi.Metadata) else item
    has_id = isinstance(inner, mi.StructType) and inner.cls is not Path and "id" in struct_fields(inner.cls)
    return check_ids if has_id else check


@cache
def _struct(cls: type) -> Check:
    checks: dict[str, Check] = {}
    required = frozenset(required_fields(cls))

    def check(value: Any) -> bool:
        if value.__class__ is not dict or not required <= value.keys():  # with a key twice it is of another class
            return False
        if not checks:  # not before, for a class may have parts of its own kind
            checks.update((name, _check_of(field.type)) for name, field in struct_fields(cls).items())
        for key, item in value.items():
            part = checks.get(key)
            if part is None or not part(item):
                return False
        return True

    if cls is Destination:
        return lambda value: _is_shallow(value) and check(value)
    if cls in WITH_RULES and cls is not Level:  # a level may only be no pattern that has a pattern
        return lambda value: check(value) and next(extra_rules(value, cls, ""), None) is None
    return check


def _is_shallow(destination: Any) -> bool:
    """Whether no more destinations stand in one another than may."""
    depth = 0
    while destination.__class__ is dict and depth < DEEPEST:
        destination, depth = destination.get("otherwise"), depth + 1
    return depth < DEEPEST
