"""Canonical writing: a flow to the one text that stands for it.

Two-space indent; keys in the order of the model; fields at their default left out; a list or object whose
one-line form fits, with its indentation and key, in 100 characters stands on one line.
"""

import json
from functools import cache
from typing import Any

from msgspec.structs import fields

from mossy_bridge.exchange.shape import INTERNAL
from mossy_bridge.model.flow import Flow, Level, Value

WIDTH = 100


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
    if isinstance(value, tuple):
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
            written[key] = tree_of(part)
    return written


def flow_text(flow: Flow) -> str:
    """The text of the flow's file, with one newline at the end."""
    return json_text(tree_of(flow)) + "\n"


def flow_bytes(flow: Flow) -> bytes:
    """The bytes of the flow's file."""
    return flow_text(flow).encode("utf-8")


def json_text(tree: Any) -> str:
    """Any plain JSON values laid out as in a flow file."""
    return _laid_out(tree, indent=0, lead=0)


def _laid_out(value: Any, indent: int, lead: int) -> str:
    """The value's text; ``lead`` characters (indentation and key) already stand before it on its line."""
    if not isinstance(value, dict | list):
        return _scalar(value)
    line = _one_line(value)
    if not value or lead + len(line) <= WIDTH:
        return line
    inner = " " * (indent + 2)
    if isinstance(value, dict):
        keys = [f"{inner}{_scalar(key)}: " for key in value]
        rows = [k + _laid_out(v, indent + 2, len(k)) for k, v in zip(keys, value.values(), strict=True)]
    else:
        rows = [inner + _laid_out(part, indent + 2, indent + 2) for part in value]
    opening, closing = "{}" if isinstance(value, dict) else "[]"
    return f"{opening}\n" + ",\n".join(rows) + f"\n{' ' * indent}{closing}"


def _one_line(value: Any) -> str:
    if isinstance(value, dict):
        return "{" + ", ".join(f"{_scalar(key)}: {_one_line(part)}" for key, part in value.items()) + "}"
    if isinstance(value, list):
        return "[" + ", ".join(map(_one_line, value)) + "]"
    return _scalar(value)


def _scalar(value: Any) -> str:
    return _number(value) if isinstance(value, float) else json.dumps(value, ensure_ascii=False)


def _number(value: float) -> str:
    """The shortest text that reads as the same number; a whole one without a point."""
    if value.is_integer() and abs(value) < 2**63:
        return str(int(value))
    mantissa, exponent, power = repr(value).partition("e")
    return f"{mantissa}e{int(power)}" if exponent else mantissa
