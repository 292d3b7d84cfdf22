"""Strict reading, part one: whether a tree of plain JSON values has the shape of a flow.

Finds every problem with its place in one pass; it builds nothing. What has passed here converts without
fail. References are not followed: a dangling one is no reading error.
"""

import math
import re
from collections import Counter
from collections.abc import Collection, Iterable, Iterator, Sequence
from functools import cache, lru_cache
from itertools import islice
from typing import Any, NamedTuple, get_args

import msgspec.inspect as mi

from mossy_bridge.language.parsing import WrongWording, parse_condition, parse_effect
from mossy_bridge.model.flow import LONGEST_ID, TAKEN, Destination, Fact, FileForm, Flow, Level, Path, Reader, Value
from mossy_bridge.model.ids import KEYWORDS, is_id, nearest

INTERNAL = frozenset({"set_here"})
LARGEST = 2**63 - 1
MOST_TOLD = 100
"""Of more problems than this only so many are told, and how many more there are."""
DEEPEST = 40
"""How many destinations may stand in one another, or objects and lists in a value to deliver."""
MOST_PASSED = 10_000
"""Of the plain values that have passed so many are remembered for each class."""
_PLAIN = (str, int, float, bool)
FORMS = get_args(FileForm)
LINE_BREAKS = "\n\r\t"
"""The control characters that notes and messages may have."""
_CONTROL = re.compile("[\x00-\x1f\x7f-\x9f]")
_HALVES = re.compile("[\ud800-\udfff]")


class Problem(NamedTuple):
    """Something wrong: its place and a sentence; for an unknown field those that there are."""

    at: str
    sentence: str
    known: Collection[str] = ()

    def told(self) -> str:
        """``place: sentence``, with the field that was probably meant."""
        likely = nearest(self.at.rpartition(".")[2], self.known) if self.known else None
        return f"{self.at or 'the file'}: {self.sentence}" + (f"; did you mean “{likely}”?" if likely else "")


class Ambiguous(dict[str, Any]):
    """A JSON object in which some keys stood more than once: ``twice``."""

    def __init__(self, items: Sequence[tuple[str, Any]]):
        super().__init__(items)
        times = Counter(key for key, _ in items)
        self.twice = tuple(sorted(key for key, number in times.items() if number > 1))


@cache
def required_fields(cls: type) -> tuple[str, ...]:
    """The fields of a class that may not be left out."""
    return tuple(name for name, field in struct_fields(cls).items() if field.required)


@cache
def _passed(_cls: type) -> set[tuple[str, type, Any]]:
    """Plain values, with their field, that have passed: the levels of a large flow have mostly the same ones. (1, 1.0
    and true are equal, so their types are looked at, too.)"""
    return set()


@lru_cache(maxsize=1)
def flow_type() -> mi.Type:
    """What msgspec knows of the shape of a flow."""
    return mi.type_info(Flow)


@cache
def struct_fields(cls: type) -> dict[str, mi.Field]:
    """What is known of each field of a class that a file has, by its name there."""
    return {field.encode_name: field for field in _struct_types()[cls].fields if field.name not in INTERNAL}


@lru_cache(maxsize=1)
def _struct_types() -> dict[type, mi.StructType]:
    """Every class that a flow is made of. To ask for each by itself takes as often as long."""
    found: dict[type, mi.StructType] = {}
    waiting = [flow_type()]
    while waiting:
        kind = waiting.pop()
        match kind:
            case mi.StructType() if kind.cls not in found:
                found[kind.cls] = kind
                waiting += [field.type for field in kind.fields]
            case mi.VarTupleType():
                waiting.append(kind.item_type)
            case mi.UnionType():
                waiting += kind.types
            case mi.DictType():
                waiting.append(kind.value_type)
            case mi.Metadata():
                waiting.append(kind.type)
    return found


def problems(tree: Any) -> list[str]:
    """Every way in which the tree is not a flow, each as ``place: sentence``; of very many the first, and how many
    more there are."""
    return _listed(_problems(tree, flow_type(), ""))


def problems_in(value: Any, kind: mi.Type, at: str) -> Iterator[Problem]:
    """Every way in which plain values are not of a kind, at some place of the file."""
    return _problems(value, kind, at)


def field_problem(value: Any, cls: type, name: str) -> str:
    """Why a value cannot stand in a field of a class, as reading it would say; "" where it can."""
    first = next(_problems(value, struct_fields(cls)[name].type, ""), None)
    return first.sentence if first else ""


def _listed(found: Iterator[Problem]) -> list[str]:
    told = [problem.told() for problem in islice(found, MOST_TOLD)]
    more = sum(1 for _ in found)
    return [*told, f"the file: {more:,} more problem{'s' if more > 1 else ''} like these"] if more else told


def _problems(value: Any, kind: mi.Type, at: str) -> Iterator[Problem]:
    match kind:  # the commonest first
        case mi.StructType():
            return _in_struct(value, kind.cls, at)
        case mi.UnionType():
            return _in_union(value, kind, at)
        case mi.VarTupleType():
            return _in_list(value, kind.item_type, at)
        case mi.TupleType():
            return _in_numbers(value, kind, at)
        case mi.Metadata():
            return _in_wording(value, kind, at)
        case mi.DictType():
            return _in_map(value, kind, at)
        case mi.AnyType():
            return _in_any(value, at)
        case _:
            problem = _plain_problem(value, kind)
            return iter([Problem(at, problem)] if problem else [])


def _in_struct(value: Any, cls: type, at: str) -> Iterator[Problem]:
    if not isinstance(value, dict):
        yield Problem(at, f"expected an object {{…}}, found {_found(value)}")
        return
    prefix = f"{at}." if at else ""
    if getattr(value, "twice", ()):
        yield from _standing_twice(value, prefix)
    fields, passed = struct_fields(cls), _passed(cls)
    for key, item in value.items():
        plain = item.__class__ in _PLAIN
        if plain and (key, item.__class__, item) in passed:
            continue
        if key not in fields:
            yield Problem(f"{prefix}{_short(key)}", "unknown field", fields)
        elif not plain:
            yield from _problems(item, fields[key].type, f"{prefix}{key}")
        else:
            found = list(_problems(item, fields[key].type, f"{prefix}{key}"))
            yield from found
            if not found and len(passed) < MOST_PASSED:
                passed.add((key, item.__class__, item))
    for name in required_fields(cls):
        if name not in value:
            yield Problem(f"{prefix}{name}", "is missing")
    if cls in WITH_RULES:
        yield from extra_rules(value, cls, prefix)


def _standing_twice(value: Any, prefix: str) -> Iterator[Problem]:
    for key in getattr(value, "twice", ()):
        yield Problem(f"{prefix}{_short(key)}", "stands twice in the same object; remove one")


def _in_list(value: Any, item: mi.Type, at: str) -> Iterator[Problem]:
    if not isinstance(value, list):
        yield Problem(at, f"expected a list […], found {_found(value)}")
        return
    for index, part in enumerate(value):
        yield from _problems(part, item, f"{at}[{index}]")
    yield from twins(value, item, at)


def twins(parts: Sequence[Any], item: mi.Type, at: str) -> Iterator[Problem]:
    """The parts of a list, plain values or not, that have the id of an earlier one, or are the same path."""
    inner = item.type if isinstance(item, mi.Metadata) else item
    if isinstance(inner, mi.StructType) and inner.cls is Path:
        pairs = ((_part(part, "from", "start"), _part(part, "to", "end")) for part in parts)
        yield from _same((f"{one} to {other}" for one, other in pairs), at, "", "a path")
    elif isinstance(inner, mi.StructType) and "id" in struct_fields(inner.cls):
        yield from _same((_part(part, "id", "id") for part in parts), at, ".id")
    elif isinstance(item, mi.Metadata) and (item.extra or {}).get("is") == "id":
        yield from _same(parts, at, "")


def _part(value: Any, key: str, name: str) -> Any:
    return value.get(key) if isinstance(value, dict) else getattr(value, name, None)


def _same(keys: Iterable[Any], at: str, field: str, what: str = "the id") -> Iterator[Problem]:
    names = [(index, key) for index, key in enumerate(keys) if isinstance(key, str)]
    if len({key for _, key in names}) == len(names):
        return  # as nearly always
    first: dict[str, int] = {}
    for index, key in names:
        if key in first:
            yield Problem(f"{at}[{index}]{field}", f"{what} “{_short(key)}” is already used by {at}[{first[key]}]")
        first.setdefault(key, index)


def _in_numbers(value: Any, kind: mi.TupleType, at: str) -> Iterator[Problem]:
    if not isinstance(value, list) or len(value) != len(kind.item_types):
        yield Problem(at, f"expected {len(kind.item_types)} numbers: x, y, width, height")
        return
    if all(map(fits, value, kind.item_types)):
        return
    for index, (part, item) in enumerate(zip(value, kind.item_types, strict=True)):
        yield from _problems(part, item, f"{at}[{index}]")


def fits(value: Any, kind: mi.Type) -> bool:
    """Whether a value is surely a number within the bounds of its kind; of most numbers nothing else need be asked."""
    if not isinstance(kind, mi.FloatType) or value.__class__ not in (int, float) or kind.gt is not None:
        return False
    return kind.ge is not None and kind.le is not None and bool(kind.ge <= value <= kind.le)


def _in_map(value: Any, kind: mi.DictType, at: str) -> Iterator[Problem]:
    if not isinstance(value, dict):
        yield Problem(at, f"expected an object {{…}}, found {_found(value)}")
        return
    yield from _standing_twice(value, f"{at}.")
    for key, item in value.items():
        yield from _problems(key, kind.key_type, f"{at}.{_short(key)}")
        yield from _problems(item, kind.value_type, f"{at}.{_short(key)}")


def _in_union(value: Any, kind: mi.UnionType, at: str) -> Iterator[Problem]:
    if value is None:
        if not kind.includes_none or len(kind.types) > 2:
            yield Problem(at, "may not be null; leave it out instead")
        return
    others = [one for one in kind.types if not isinstance(one, mi.NoneType)]
    if len(others) == 1:
        yield from _problems(value, others[0], at)
    elif not isinstance(value, bool | int | float | str):
        yield Problem(at, f"expected yes or no, a whole number or a word, found {_found(value)}")


def _in_wording(value: Any, kind: mi.Metadata, at: str) -> Iterator[Problem]:
    role = (kind.extra or {}).get("is")
    if not isinstance(value, str) or role is None:
        yield from _problems(value, kind.type, at)
    elif role == "id":
        yield from _id_problem(value, at)
    elif role in ("prose", "file text"):
        if problem := _plain_problem(value, kind.type, LINE_BREAKS):
            yield Problem(at, problem)
    elif role == "expectation":
        if _plain_problem(value, kind.type):
            yield Problem(at, f"“{_short(value)}” is not one of works, fails, ends:ENDING, at:LEVEL")
    else:
        try:
            (parse_condition if role == "condition" else parse_effect)(value)
        except WrongWording as error:
            yield Problem(at, f"in “{_short(value)}”: {error}")


def _id_problem(value: str, at: str) -> Iterator[Problem]:
    if value in KEYWORDS:
        yield Problem(at, f"“{value}” is a keyword of conditions and cannot be an id")
    elif not is_id(value):
        yield Problem(at, f"“{_short(value)}” is not an id (a small letter, then small letters, digits and _)")
    elif len(value) > LONGEST_ID:
        yield Problem(at, f"“{_short(value)}” is longer than {LONGEST_ID} characters, which no id may be")


def _in_any(value: Any, at: str, deep: int = 0) -> Iterator[Problem]:
    yield from _standing_twice(value, f"{at}.")
    if isinstance(value, dict | list):
        if deep == DEEPEST:
            yield Problem(at, f"is nested more than {DEEPEST} deep")
            return
        for key, part in value.items() if isinstance(value, dict) else enumerate(value):
            problem = _text_problem(key, LINE_BREAKS) if isinstance(key, str) else None
            inside = f"{at}.{_short(str(key))}"
            yield from [Problem(inside, problem)] if problem else _in_any(part, inside, deep + 1)
    elif (problem := _number_problem(value) or _text_problem(value, LINE_BREAKS)) is not None:
        yield Problem(at, problem)


def _plain_problem(value: Any, kind: mi.Type, allowed: str = "") -> str | None:
    """Why a value is none of a plain kind; of control characters a text may have those allowed."""
    match kind:
        case mi.BoolType():
            return None if isinstance(value, bool) else f"expected true or false, found {_found(value)}"
        case mi.LiteralType(values):
            if isinstance(value, str) and value in values:
                return None
            return f"{_found(value)} is not one of {', '.join(map(str, values))}"
        case mi.StrType(pattern=pattern, max_length=longest):
            if not isinstance(value, str):
                return f"expected text, found {_found(value)}"
            if longest is not None and len(value) > longest:
                return f"is longer than {longest:,} characters"
            return _text_problem(value, allowed) or (_pattern_problem(value, pattern) if pattern else None)
        case mi.IntType():
            if not _is_number(value) or not math.isfinite(value) or value != int(value):
                return f"expected a whole number, found {_found(value)}"
            return _number_problem(value) or _beyond(value, kind)
        case mi.FloatType():
            if not _is_number(value):
                return f"expected a number, found {_found(value)}"
            return _number_problem(value) or _beyond(value, kind)
    raise TypeError(f"no rule for {kind}")


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _beyond(value: float, kind: mi.IntType | mi.FloatType) -> str | None:
    """Why a number is out of the bounds of its kind."""
    if kind.gt is not None and value <= kind.gt:
        return f"must be above {kind.gt:,.0f}"
    if kind.ge == 0 and value < 0:
        return "may not be negative"
    if kind.ge is not None and value < kind.ge:
        return f"may not be below {kind.ge:,.0f}".replace("-", "−")
    return f"may not be above {kind.le:,.0f}" if kind.le is not None and value > kind.le else None


def _pattern_problem(value: str, pattern: str) -> str | None:
    return None if re.search(pattern, value) else f"“{_short(value)}” does not have the expected form"


def _number_problem(value: Any) -> str | None:
    if isinstance(value, float) and not math.isfinite(value):
        return "is no number"
    too_large = _is_number(value) and isinstance(value, int) and not -LARGEST - 1 <= value <= LARGEST
    return "the number is too large (it must fit in 64 bits)" if too_large else None


def _text_problem(value: Any, allowed: str = "") -> str | None:
    if not isinstance(value, str) or (value.isascii() and value.isprintable()):
        return None
    if _HALVES.search(value):
        return "the text holds half a character (a lone surrogate) and cannot be saved"
    control = next((found[0] for found in _CONTROL.finditer(value) if found[0] not in allowed), None)
    if control in (*LINE_BREAKS,):
        return "the text may have one line only, and no tabs"
    return None if control is None else f"the text holds a control character (U+{ord(control):04X})"


def rules_broken(value: Value, prefix: str) -> Iterator[Problem]:
    """What is wrong with a value beyond the kinds of its fields."""
    if isinstance(value, Fact):
        known = struct_fields(Fact).values()
        tree = {field.encode_name: getattr(value, field.name) for field in known}
        tree = {key: list(part) if isinstance(part, tuple) else part for key, part in tree.items()}
        yield from _fact_rules({key: part for key, part in tree.items() if part is not None}, prefix)
    elif isinstance(value, Reader):
        rules = [{"makes": rule.makes, "each": rule.each, "take": rule.take} for rule in value.rules]
        yield from _reader_rules({"form": value.form, "rules": rules}, prefix)
    elif isinstance(value, Level | Destination):
        yield from extra_rules({"pattern": getattr(value, "pattern", "")}, type(value), prefix)


WITH_RULES = (Fact, Destination, Level, Reader)
"""The classes with rules beyond the kinds of their fields."""


def extra_rules(value: dict[str, Any], cls: type[Value] | type, prefix: str) -> Iterator[Problem]:
    """What is wrong with an object of one of ``WITH_RULES`` beyond the kinds of its fields."""
    if cls is Fact:
        yield from _fact_rules(value, prefix)
    elif cls is Reader:
        yield from _reader_rules(value, prefix)
    elif cls is Destination and prefix.count(".otherwise") >= DEEPEST:
        yield Problem(f"{prefix.rstrip('.')}", f"has more than {DEEPEST} destinations in one another")
    elif cls is Level and prefix.startswith("patterns[") and value.get("pattern"):
        yield Problem(f"{prefix}pattern", "a pattern cannot have a pattern")


def _reader_rules(reader: dict[str, Any], prefix: str) -> Iterator[Problem]:
    """What is wrong with the expressions of a reader, and with what its rules take."""
    form: Any = reader.get("form")
    rules = reader.get("rules", [])
    if form not in FORMS or not isinstance(rules, list):
        return  # already said
    from mossy_bridge.exchange.readers.expressions import wrong_expressions  # only flows with readers need it

    for index, rule in enumerate(rules):
        makes: Any = rule.get("makes") if isinstance(rule, dict) else None
        if makes not in list(TAKEN):  # it need not be a word
            continue
        known = TAKEN[makes]
        at = f"{prefix}rules[{index}]."
        take = rule.get("take", {})
        for key in take if isinstance(take, dict) else ():
            if key not in known:
                yield Problem(f"{at}take.{_short(key)}", f"cannot be taken of {_a(makes)}", known)
        yield from (Problem(f"{at}{field}", sentence) for field, sentence in wrong_expressions(form, rule))


def _a(makes: str) -> str:
    return f"an {makes}" if makes == "exit" else f"a {makes}"


def _fact_rules(fact: dict[str, Any], prefix: str) -> Iterator[Problem]:
    kind, initial = fact.get("kind"), fact.get("initial")
    lifetime = fact.get("lifetime", "run")
    if fact.get("rewinds") is True and lifetime in ("visit", "profile"):
        yield Problem(f"{prefix}rewinds", f"only a fact that lasts a run can rewind; this one lasts a {lifetime}")
    if kind == "count":
        yield from _count_rules(fact, prefix)
    elif kind == "choice":
        values = fact.get("values", [])
        if values == []:
            yield Problem(f"{prefix}values", "a choice needs at least one value")
        elif isinstance(values, list) and "initial" in fact and initial not in values:
            yield Problem(f"{prefix}initial", f"{_found(initial)} is none of the choice's values")
    elif kind == "flag" and "initial" in fact and not isinstance(initial, bool):
        yield Problem(f"{prefix}initial", f"expected true or false, found {_found(initial)}")


def _count_rules(fact: dict[str, Any], prefix: str) -> Iterator[Problem]:
    low, high, initial = fact.get("low", 0), fact.get("high", 9), fact.get("initial", 0)
    amount = struct_fields(Fact)["low"].type
    if any(_plain_problem(number, amount) for number in (low, high)):
        return  # already said
    if problem := _plain_problem(initial, amount):
        yield Problem(f"{prefix}initial", problem)
    elif low > high:
        yield Problem(f"{prefix}low", f"{low} is above high, which is {high}")
    elif not low <= initial <= high:
        yield Problem(f"{prefix}initial", f"{initial} is not between low ({low}) and high ({high})")


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
