"""Endings of a flow."""

from msgspec.structs import replace

from mossy_bridge.model.flow import Ending, Flow
from mossy_bridge.model.ids import id_from


def add_ending(flow: Flow, name: str) -> tuple[Flow, str]:
    """The flow with a new ending at the end, and its id."""
    new = Ending(id=id_from(name, {ending.id for ending in flow.endings}, "ending"), name=name)
    return replace(flow, endings=(*flow.endings, new)), new.id
