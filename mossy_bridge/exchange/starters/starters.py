"""What a game can be like, and the small flow that one of its kind begins with."""

from pathlib import Path

from msgspec import Struct
from msgspec.structs import replace

from mossy_bridge.exchange.reading import flow_from_bytes
from mossy_bridge.model.flow import Flow

HERE = Path(__file__).parent


class Starter(Struct, frozen=True):
    """A shape of games, in a few words; ``name`` is that of its file, "" for a flow without levels."""

    name: str
    title: str
    about: str


STARTERS = (
    Starter("line", "A line of levels", "One after the other, each unlocked by completing the one before."),
    Starter("branches", "A line with branches", "Levels in order, ways back, and a side way that a key opens."),
    Starter("hub", "A hub", "One place with doors to all others, and a gate that opens when they are done."),
    Starter("worlds", "Worlds and pages", "A page of worlds, a page of levels for each, opened one by one."),
    Starter("zones", "One world in zones", "A single large level: its parts, what opens them, where one rests."),
    Starter("", "Nothing yet", "An empty flow."),
)


def starting_flow(starter: Starter, title: str) -> Flow:
    """The flow to begin with, called so."""
    if not starter.name:
        return Flow(title=title)
    flow = flow_from_bytes((HERE / f"{starter.name}.mossy").read_bytes())
    return replace(flow, title=title or flow.title)
