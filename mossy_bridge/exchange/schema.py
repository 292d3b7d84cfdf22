"""The JSON Schemas (draft 2020-12) of flow files, generated from the model classes, and of game tables."""

from importlib.resources import files
from typing import Any

import msgspec

from mossy_bridge.model.flow import Flow

DRAFT = "https://json-schema.org/draft/2020-12/schema"


def flow_schema() -> dict[str, Any]:
    """The schema as plain values."""
    schema = msgspec.json.schema(Flow)
    for part in schema["$defs"].values():
        part.get("properties", {}).pop("set_here", None)
        part.pop("description", None)
    schema["$defs"]["Flow"]["required"] = ["mossy_bridge"]
    schema["$defs"]["Fact"]["properties"]["initial"] = {"type": ["boolean", "integer", "string"]}
    for name in ("Flow", "Level", "Trigger", "Exit"):
        for field in schema["$defs"][name]["properties"].values():
            field.pop("default", None)
    whole = {"$schema": DRAFT, "title": "Mossy Bridge flow", **schema}
    plain: dict[str, Any] = msgspec.json.decode(msgspec.json.encode(whole))  # defaults as lists, not tuples
    return plain


def table_schema() -> dict[str, Any]:
    """The schema of the table that a game reads, as plain values."""
    text = files("mossy_bridge.exchange.game").joinpath("table.schema.json").read_bytes()
    schema: dict[str, Any] = msgspec.json.decode(text)
    return schema
