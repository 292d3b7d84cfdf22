"""The expressions of readers: XPath 1.0 for XML, JSONPath (RFC 9535) for JSON, regular expressions for text."""

import re
from collections.abc import Iterator, Mapping
from typing import Any

from mossy_bridge.exchange.readers.forms import Damaged, ParsedFile, WrongExpression
from mossy_bridge.model.flow import FileForm

LITERAL = "="
"""Begins a value that is not read but meant as it stands."""
_NAME = "[A-Za-z_][A-Za-z0-9_.-]*"
_KEY = "[A-Za-z_][A-Za-z0-9_]*"
PLAIN: dict[FileForm, re.Pattern[str]] = {
    "xml": re.compile(rf"@{_NAME}|(//?)?{_NAME}(//?{_NAME})*(\[@{_NAME}='[A-Za-z0-9 _.-]*'\])?(/@{_NAME})?"),
    "json": re.compile(rf"\$(\.\.?{_KEY}|\[(0|[1-9][0-9]{{0,8}})\]|\[\*\]|\[\?@\.{_KEY} == '[A-Za-z0-9 _.-]*'\])*"),
}
"""Expressions so simple that they are right without asking the libraries, which take long to load."""


def parsed(form: FileForm, data: bytes) -> ParsedFile:
    """A file of some form. Raises :class:`Damaged`."""
    if form == "xml":
        from mossy_bridge.exchange.readers.xml_form import XmlDocument

        return XmlDocument(data)
    if form == "json":
        from mossy_bridge.exchange.readers.json_form import JsonDocument

        return JsonDocument(text_of(data))
    from mossy_bridge.exchange.readers.text_form import TextDocument

    return TextDocument(text_of(data))


def text_of(data: bytes) -> str:
    """The text of a file in UTF-8, with or without a byte order mark. Raises :class:`Damaged`."""
    if b"\0" in data[:4096]:
        raise Damaged("is no text, but binary data")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        start = data.rfind(b"\n", 0, error.start) + 1
        line, column = data.count(b"\n", 0, error.start) + 1, error.start - start + 1
        raise Damaged("is not UTF-8 text", line, column) from error


def wrong_expressions(form: FileForm, rule: Mapping[str, Any]) -> Iterator[tuple[str, str]]:
    """What is wrong with the expressions among the plain values of a rule: the field, and a sentence."""
    each, take = rule.get("each"), rule.get("take", {})
    if not isinstance(each, str) or not isinstance(take, dict):
        return  # already said
    try:
        check_each(form, each)
    except WrongExpression as error:
        yield "each", str(error)
        return
    for key, expression in take.items():
        if isinstance(expression, str) and not expression.startswith(LITERAL):
            try:
                _check_take(form, each, expression)
            except WrongExpression as error:
                yield f"take.{key}", str(error)


def check_each(form: FileForm, expression: str) -> None:
    """Raises :class:`WrongExpression` where an expression does not parse."""
    if form in PLAIN and PLAIN[form].fullmatch(expression):
        return
    if form == "xml":
        from mossy_bridge.exchange.readers.xml_form import check_path

        check_path(expression)
    elif form == "json":
        from mossy_bridge.exchange.readers.json_form import query

        query(expression)
    else:
        from mossy_bridge.exchange.readers.text_form import pattern

        pattern(expression)


def group_names(each: str) -> list[str]:
    """The named groups of a regular expression, in their order; none where it does not parse."""
    from mossy_bridge.exchange.readers.text_form import pattern

    try:
        return list(pattern(each).groupindex)
    except WrongExpression:
        return []


def _check_take(form: FileForm, each: str, expression: str) -> None:
    if form != "text":
        check_each(form, expression)
        return
    groups = group_names(each)
    if expression not in groups:
        named = f"it has {', '.join(groups)}" if groups else "it has none; write (?P<name>…)"
        raise WrongExpression(f"“{expression}” is no named group of “each”; {named}")
