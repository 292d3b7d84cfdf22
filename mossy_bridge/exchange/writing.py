"""Canonical writing: a flow to the one text that stands for it.

Two-space indent; keys in the order of the model; fields at their default left out; a list or object whose
one-line form fits, with its indentation and key, in 100 characters stands on one line.
"""

import json
import re
from functools import cache
from typing import Any

from msgspec.structs import fields

from mossy_bridge.exchange.validation import INTERNAL
from mossy_bridge.model.flow import Flow, Level, Value

WIDTH = 100
_ENCODER = json.JSONEncoder(ensure_ascii=False, separators=(", ", ": "))
_MARK = r'"\u0000'
"""What begins a number that is written as a text first; no text of a flow has such a character."""
_POWER = re.compile(r'"\\u0000([^"]*)"')


@cache
def _fields(cls: type[Value]) -> tuple[tuple[str, str, Any, bool], ...]:
    """Name, name in the file, default and whether it is required, of each field that is written."""
    return tuple(
        (info.name, info.encode_name, None if info.required else _default(info), info.required)
        for info in fields(cls)
        if info.name not in INTERNAL
    )


def _default(info: Any) -> Any:
    return info.default_factory() if callable(info.default_factory) else info.default


def tree_of(value: Any) -> Any:
    """Plain JSON values for a part of a flow, or for the whole."""
    if isinstance(value, Value):
        return _object(value)
    if isinstance(value, tuple | list):
        return [tree_of(part) for part in value]
    if isinstance(value, dict):
        return {key: tree_of(part) for key, part in value.items()}
    return value


def _object(value: Value) -> dict[str, Any]:
    kept = value.set_here if isinstance(value, Level) else frozenset()
    written: dict[str, Any] = {}
    for name, key, default, required in _fields(type(value)):
        part = getattr(value, name)
        if required or name in kept or part != default or key == "mossy_bridge":
            written[key] = part if isinstance(part, str) else tree_of(part)
    return written


def flow_text(flow: Flow) -> str:
    """The text of the flow's file, with one newline at the end."""
    return json_text(tree_of(flow)) + "\n"


def flow_bytes(flow: Flow) -> bytes:
    """The bytes of the flow's file."""
    return flow_text(flow).encode("utf-8")


def json_text(tree: Any) -> str:
    """Any plain JSON values laid out as in a flow file."""
    return _laid_out(_with_short_numbers(tree), indent=0, lead=0)


def _laid_out(value: Any, indent: int, lead: int) -> str:
    """The value's text; ``lead`` characters (indentation and key) already stand before it on its line."""
    line = _one_line(value)
    if not value or not isinstance(value, dict | list) or lead + len(line) <= WIDTH:
        return line
    inner = " " * (indent + 2)
    if isinstance(value, dict):
        keys = [f"{inner}{_one_line(key)}: " for key in value]
        rows = [k + _laid_out(v, indent + 2, len(k)) for k, v in zip(keys, value.values(), strict=True)]
    else:
        rows = [inner + _laid_out(part, indent + 2, indent + 2) for part in value]
    opening, closing = "{}" if isinstance(value, dict) else "[]"
    return f"{opening}\n" + ",\n".join(rows) + f"\n{' ' * indent}{closing}"


def _one_line(value: Any) -> str:
    text = _ENCODER.encode(value)
    return _POWER.sub(r"\1", text) if _MARK in text else text


def _with_short_numbers(value: Any) -> Any:
    """The values with every number as the shortest text tells it: a whole one without a point, and a power of ten
    without noughts before it, which the encoder cannot write and is told as a marked text."""
    if isinstance(value, dict):
        return {key: _with_short_numbers(part) for key, part in value.items()}
    if isinstance(value, list):
        return [_with_short_numbers(part) for part in value]
    if not isinstance(value, float):
        return value
    if value.is_integer() and abs(value) < 2**63:
        return int(value)
    mantissa, exponent, power = repr(value).partition("e")
    return f"\0{mantissa}e{int(power)}" if exponent else value
