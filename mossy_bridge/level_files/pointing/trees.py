"""Expressions that find things in XML and JSON: by names and what tells apart, never by position."""

from collections.abc import Collection, Iterator, Sequence
from itertools import product

from msgspec import Struct

from mossy_bridge.level_files.pointing.sample import Sample, member, quoted
from mossy_bridge.level_files.pointing.telling_apart import (
    Place,
    Test,
    above,
    build_of,
    holder_tests,
    like,
    own_fields,
    path_of,
    sort_tests,
)

Holder = tuple[int, Test | None]
"""How far up a named holder is, and what it is tested for."""


class NodePattern(Struct, frozen=True):
    """An expression, and the nodes that it finds in the samples."""

    each: str
    finds: frozenset[Place]


def node_patterns(
    samples: Sequence[Sample], pointed: Sequence[Place], others: Collection[Place], levels: Collection[str]
) -> list[NodePattern]:
    """Expressions that find everything pointed at, the likeliest first. ``others`` are known to be something else."""
    kindred = _kindred(samples, pointed)
    tests: list[Test | None] = [*sort_tests(samples, pointed, kindred, others, levels), None]
    holders: list[Holder | None] = [*holder_tests(samples, pointed), *_parents(samples, pointed, kindred), None]
    if tests[0] is not None:
        holders = [*(one for one in holders if one is None), *(one for one in holders if one is not None)]
    written = _element_expression if samples[0].form == "xml" else _value_expression
    found: dict[str, NodePattern] = {}
    for test, holder in product(tests, holders):
        for each in written(samples, pointed, test, holder):
            reached = frozenset(place for place in kindred if _passes(samples, pointed, place, test, holder))
            if reached.issuperset(pointed):
                found.setdefault(each, NodePattern(each, reached))
    clear = [one for one in found.values() if not one.finds & set(others)]
    return clear + [one for one in found.values() if one not in clear]


def _kindred(samples: Sequence[Sample], pointed: Sequence[Place]) -> list[Place]:
    """All nodes of the same build as one of those pointed at; of roots of XML, only roots."""
    builds = {build_of(samples[sample], number) for sample, number in pointed}
    roots_only = samples[0].form == "xml" and _are_roots(samples, pointed)
    return [
        (at, number)
        for at, sample in enumerate(samples)
        for number in range(1 if roots_only else len(sample.nodes))
        if any(like(sample, number, build) for build in builds)
    ]


def _are_roots(samples: Sequence[Sample], places: Sequence[Place]) -> bool:
    return all(samples[sample].nodes[number].parent < 0 for sample, number in places)


def _parents(samples: Sequence[Sample], pointed: Sequence[Place], kindred: Sequence[Place]) -> Iterator[Holder]:
    """The element directly above, where its name tells apart."""
    if samples[0].form == "xml":
        names = {_parent_name(samples, place) for place in pointed}
        if len(names) == 1 and "" not in names and names != {_parent_name(samples, place) for place in kindred}:
            yield 1, None


def _parent_name(samples: Sequence[Sample], place: Place) -> str:
    parent = above(samples, place, 1)
    return samples[parent[0]].nodes[parent[1]].name if parent else ""


def _passes(
    samples: Sequence[Sample], pointed: Sequence[Place], place: Place, test: Test | None, holder: Holder | None
) -> bool:
    if test and own_fields(samples, place).get(test.field) not in test.texts:
        return False
    if holder is None:
        return True
    up, wanted = holder
    found, first = above(samples, place, up), above(samples, pointed[0], up)
    if found is None or first is None:
        return False
    if samples[0].form == "xml" and _chain(samples, place, up) != _chain(samples, pointed[0], up):
        return False
    return wanted is None or own_fields(samples, found).get(wanted.field) in wanted.texts


def _chain(samples: Sequence[Sample], place: Place, up: int) -> tuple[str, ...]:
    """The names of the elements above, the nearest last."""
    found = [above(samples, place, step) for step in range(up, 0, -1)]
    return tuple(samples[one[0]].nodes[one[1]].name for one in found if one)


# -- as XPath ------------------------------------------------------------------------------------------


def _element_expression(
    samples: Sequence[Sample], pointed: Sequence[Place], test: Test | None, holder: Holder | None
) -> Iterator[str]:
    names = dict.fromkeys(samples[sample].nodes[number].name for sample, number in pointed)
    if len(names) > 1 and (test or holder):
        return
    condition = _xml_condition(test)
    if condition is None:
        return
    if holder:
        up, wanted = holder
        steps = list(_chain(samples, pointed[0], up))
        held = _xml_condition(wanted)
        if held is not None:
            yield f"//{steps[0]}{held}/{'/'.join([*steps[1:], *names])}{condition}"
    elif _are_roots(samples, pointed):
        yield " | ".join(f"/{name}{condition}" for name in names)
    else:
        yield " | ".join(f"//{name}{condition}" for name in names)


def _xml_condition(test: Test | None) -> str | None:
    if test is None:
        return ""
    literals = [quoted(text, "xml") for text in test.texts]
    field = test.field if test.field.startswith("@") else f"normalize-space({test.field})"
    return None if None in literals else f"[{' or '.join(f'{field}={literal}' for literal in literals)}]"


# -- as JSONPath ---------------------------------------------------------------------------------------


def _value_expression(
    samples: Sequence[Sample], pointed: Sequence[Place], test: Test | None, holder: Holder | None
) -> Iterator[str]:
    paths = {path_of(samples[sample], number) for sample, number in pointed}
    if len(paths) > 1:
        return
    sample, number = samples[pointed[0][0]], pointed[0][1]
    tests: dict[int, Test | None] = {number: test}
    if holder and (held := above(samples, pointed[0], holder[0])):
        tests[held[1]] = holder[1]
    steps: list[str] = []
    while (parent := sample.nodes[number].parent) >= 0:
        condition = _json_condition(tests.get(number))
        if condition is None or (condition and not sample.in_list(number)):
            return  # only what stands in a list can be tested
        steps.append((condition or "[*]") if sample.in_list(number) else member(sample.nodes[number].name))
        number = parent
    if not tests.get(number):
        yield "$" + "".join(reversed(steps))


def _json_condition(test: Test | None) -> str | None:
    if test is None:
        return ""
    literals = [quoted(text, "json") for text in test.texts]
    field = test.field.replace("$", "@", 1)
    return None if None in literals else f"[?{' || '.join(f'{field} == {literal}' for literal in literals)}]"
