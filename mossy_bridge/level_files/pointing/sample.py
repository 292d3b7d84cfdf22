"""A level file as a tree of nodes, whatever its form: what is pointed at when rules are made."""

import re
from collections.abc import Iterator
from functools import cached_property
from typing import Literal

from msgspec import Struct

from mossy_bridge.model.flow import FileForm

NodeKind = Literal["element", "object", "list", "text", "number", "truth", "nothing", "line"]
MOST_NODES = 5_000
"""A sample shows so many nodes at most, and says that there are more."""
LONGEST_VALUE = 200
DEEPEST_FIELD = 3
"""So far below a thing is looked for what can be taken of it."""
LONGEST_LIST = 6
"""Values of longer lists have no meaning by their place."""
MOST_PROPERTIES = 24
"""Longer lists of what is told apart by a name are no properties of a thing."""
PLAIN_KEY = re.compile("[A-Za-z_][A-Za-z0-9_]*")


class SampleNode(Struct, frozen=True, array_like=True):
    """An element, a value of JSON, or a line."""

    kind: NodeKind
    parent: int
    """Its number in the sample; -1 at the root."""
    name: str
    """The element's name with its prefix, or the key; "" for what stands in a list, and for lines."""
    line: int
    """From 1; 0 where that is not known."""
    text: str = ""
    """Its own text: of an element what stands directly in it, of a value the value, of a line the line."""
    attributes: dict[str, str] = {}


class Sample(Struct, frozen=True, array_like=True, dict=True):
    """The nodes of one file, each behind its parent, in the order of the file."""

    file: str
    form: FileForm
    nodes: tuple[SampleNode, ...]
    cut: bool = False
    """Whether there are more than are shown."""

    @cached_property
    def children(self) -> tuple[tuple[int, ...], ...]:
        """The children of each node, by number."""
        found: list[list[int]] = [[] for _ in self.nodes]
        for number, node in enumerate(self.nodes):
            if node.parent >= 0:
                found[node.parent].append(number)
        return tuple(map(tuple, found))

    @cached_property
    def fields(self) -> tuple[dict[str, str], ...]:
        """What can be taken of each node: its text by the expression that finds it from there."""
        return tuple(dict(_fields(self, number, DEEPEST_FIELD)) for number in range(len(self.nodes)))

    def in_list(self, number: int) -> bool:
        """Whether a node stands in a list, and so has no name."""
        parent = self.nodes[number].parent
        return parent >= 0 and self.nodes[parent].kind == "list"


def quoted(text: str, form: FileForm) -> str | None:
    """A text as a literal of an expression; None where the form cannot say it."""
    if form == "json":
        escaped = text.replace("\\", "\\\\").replace("'", "\\'")
        return f"'{escaped}'" if escaped.isprintable() else None
    if "'" not in text:
        return f"'{text}'"
    return None if '"' in text else f'"{text}"'


def member(name: str) -> str:
    """The step to a member of an object."""
    return f".{name}" if PLAIN_KEY.fullmatch(name) else f"[{quoted(name, 'json') or '*'}]"


def _fields(sample: Sample, number: int, depth: int) -> Iterator[tuple[str, str]]:
    if sample.form == "xml":
        yield from _element_fields(sample, number, depth)
    elif sample.form == "json":
        for path, text in _value_fields(sample, number, depth):
            yield f"${path}", text


def _element_fields(sample: Sample, number: int, depth: int) -> Iterator[tuple[str, str]]:
    node = sample.nodes[number]
    for name, text in node.attributes.items():
        yield f"@{name}", text
    if node.text and not sample.children[number]:
        yield ".", node.text
    by_name: dict[str, list[int]] = {}
    for child in sample.children[number] if depth else ():
        by_name.setdefault(sample.nodes[child].name, []).append(child)
    for name, alike in by_name.items():
        steps = {alike[0]: name} if len(alike) == 1 else _named_elements(sample, name, alike)
        for child, step in steps.items():
            for path, text in _element_fields(sample, child, depth - 1):
                yield (step if path == "." else f"{step}/{path}"), text


def _named_elements(sample: Sample, name: str, alike: list[int]) -> dict[int, str]:
    """Steps to elements of one name that an attribute tells apart, such as the name of a property."""
    if len(alike) > MOST_PROPERTIES:
        return {}
    for key in sample.nodes[alike[0]].attributes:
        texts = [sample.nodes[child].attributes.get(key) for child in alike]
        if None not in texts and len(set(texts)) == len(texts):
            steps = {child: quoted(text or "", "xml") for child, text in zip(alike, texts, strict=True)}
            return {child: f"{name}[@{key}={literal}]" for child, literal in steps.items() if literal}
    return {}


def _value_fields(sample: Sample, number: int, depth: int) -> Iterator[tuple[str, str]]:
    node = sample.nodes[number]
    if node.kind not in ("object", "list"):
        yield "", node.text
        return
    if not depth:
        return
    children = sample.children[number]
    if node.kind == "object":
        steps = {child: member(sample.nodes[child].name) for child in children}
    elif all(sample.nodes[child].kind == "object" for child in children):
        steps = _named_objects(sample, children)
    else:
        steps = {child: f"[{at}]" for at, child in enumerate(children)} if len(children) <= LONGEST_LIST else {}
    for child, step in steps.items():
        for path, text in _value_fields(sample, child, depth - 1):
            yield step + path, text


def _named_objects(sample: Sample, alike: tuple[int, ...]) -> dict[int, str]:
    """Steps to objects of a list that a member tells apart."""
    if len(alike) > MOST_PROPERTIES:
        return {}
    members = [
        {sample.nodes[c].name: sample.nodes[c].text for c in sample.children[child] if sample.nodes[c].kind == "text"}
        for child in alike
    ]
    for key in members[0] if members else ():
        texts = [known.get(key) for known in members]
        if None not in texts and len(set(texts)) == len(texts):
            literals = [quoted(text or "", "json") for text in texts]
            named = zip(alike, literals, strict=True)
            return {child: f"[?@{member(key)} == {literal}]" for child, literal in named if literal}
    return {}
