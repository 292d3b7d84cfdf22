"""XML level files. Entities are never expanded, no document type is loaded, and nothing is fetched."""

import re
from collections.abc import Iterator
from functools import lru_cache
from typing import Any

from lxml import etree

from mossy_bridge.exchange.readers.forms import Damaged, WrongExpression
from mossy_bridge.level_files.pointing.sample import SampleNode

_ATTRIBUTE = re.compile("@[A-Za-z_][A-Za-z0-9_.-]*")
DEFAULT_PREFIX = "d"
"""Stands for the default namespace of a file, which XPath 1.0 has no name for."""


class XmlDocument:
    """A parsed XML file."""

    def __init__(self, data: bytes):
        parser = etree.XMLParser(
            resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False, collect_ids=False
        )
        try:
            self._root = etree.fromstring(data, parser)
        except etree.XMLSyntaxError as error:
            line, column = error.position
            raise Damaged(f"is no well-formed XML: {_plain(error.msg)}", line, column) from error
        declared: Any = self._root.getroottree().docinfo.internalDTD
        if declared is not None and any(True for _ in declared.iterentities()):
            raise Damaged("declares entities in its document type, which is not read", 1)
        self._namespaces: dict[str, str] | None = None
        self._numbers: dict[Any, int] = {}

    def things(self, each: str) -> Iterator[Any]:
        """The elements that a path finds."""
        found = self._evaluated(each, self._root)
        if not isinstance(found, list):
            raise WrongExpression(f"“{each}” finds a {_kind(found)}, not elements")
        for node in found:
            if not isinstance(node, etree._Element):
                raise WrongExpression(f"“{each}” finds {_kind(node)}s, not elements")
            yield node

    def taken(self, thing: Any, expression: str) -> str | None:
        """The text of what a path finds from an element."""
        if _ATTRIBUTE.fullmatch(expression):  # by far the commonest, and quicker so
            value: str | None = thing.get(expression[1:])
            return value
        found = self._evaluated(expression, thing)
        if isinstance(found, list):
            if not found:
                return None
            found = found[0]
        if isinstance(found, etree._Element):
            return "".join(str(part) for part in found.itertext()).strip()
        if isinstance(found, bool):
            return "true" if found else "false"
        return f"{found:.15g}" if isinstance(found, float) else str(found)

    def place(self, thing: Any) -> tuple[int, int]:
        """The line of an element."""
        return thing.sourceline or 0, 0

    def nodes(self) -> Iterator[SampleNode]:
        """All elements."""
        prefixes: dict[str, str] = {}
        for prefix, space in self.namespaces.items():
            prefixes.setdefault(space, prefix)

        def named(tag: str) -> str:
            name = etree.QName(tag)
            return f"{prefixes[name.namespace]}:{name.localname}" if name.namespace in prefixes else name.localname

        for number, element in enumerate(self._root.iter(etree.Element)):
            self._numbers[element] = number
            above = element.getparent()
            parent = -1 if above is None else self._numbers[above]
            attributes = {named(str(key)): str(text) for key, text in element.attrib.items()}
            text = (element.text or "").strip()
            yield SampleNode("element", parent, named(str(element.tag)), element.sourceline or 0, text, attributes)

    def number(self, thing: Any) -> int:
        """The place of an element among all."""
        if thing not in self._numbers:
            self._numbers = {element: number for number, element in enumerate(self._root.iter(etree.Element))}
        return self._numbers[thing]

    def _evaluated(self, expression: str, node: Any) -> Any:
        spaces = self.namespaces if ":" in expression else {}
        try:
            return _path(expression, tuple(spaces.items()))(node)
        except etree.XPathError as error:
            known = f"; the file declares {', '.join(spaces) or 'no prefixes'}" if "prefix" in str(error) else ""
            raise WrongExpression(f"“{expression}” fails here: {_plain(str(error))}{known}") from error

    @property
    def namespaces(self) -> dict[str, str]:
        """The prefixes that the file declares anywhere, the first of each."""
        if self._namespaces is None:
            found: dict[str, str] = {}
            for node in self._root.iter(etree.Element):
                for prefix, space in node.nsmap.items():
                    found.setdefault(prefix or DEFAULT_PREFIX, space)
            self._namespaces = found
        return self._namespaces


@lru_cache(maxsize=512)
def _path(expression: str, namespaces: tuple[tuple[str, str], ...]) -> Any:
    # Without regular expressions, which lxml would add to XPath and which cannot be stopped.
    return etree.XPath(expression, namespaces=dict(namespaces), regexp=False)


def check_path(expression: str) -> None:
    """Raises :class:`WrongExpression` where a path does not parse."""
    try:
        etree.XPath(expression, regexp=False)
    except etree.XPathSyntaxError as error:
        raise WrongExpression(f"“{expression}” is no XPath 1.0: {_plain(str(error))}") from error


def _kind(value: object) -> str:
    if isinstance(value, bool):
        return "truth value"
    return "number" if isinstance(value, float) else "text"


def _plain(message: str | None) -> str:
    text = (message or "it cannot be read").partition(", line ")[0].partition(", use XML_PARSE_HUGE")[0].strip()
    return text[:1].lower() + text[1:]
