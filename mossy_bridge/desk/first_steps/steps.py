"""What the seven steps ask for, and how one sees that each is done."""

from collections.abc import Callable

from msgspec import Struct

from mossy_bridge.desk.shell.desk_parts import DeskParts
from mossy_bridge.model.edits.levels import connect
from mossy_bridge.model.flow import Flow

LEVEL, HATCH, WRONG = "net_loft", "hatch", "gull_stair"
"""The exit of the demo that everything behind it hangs by, and where it is led instead of on to the next level."""
COPIED = "bell_sands"
FIRST_MOVES = ("exit title.begin", "deed slipway.take_oil")


class Glance(Struct, frozen=True):
    """How the desk stands: ``errors`` are the broken things that a survey of this very flow has found, None while that
    is under way; ``moves`` those of a trial walk."""

    flow: Flow
    level: str
    check: str
    errors: int | None
    moves: int

    @property
    def leads_right(self) -> bool:
        """Whether the exit leads where it did at first."""
        level = self.flow.level(LEVEL)
        exit_ = level.exit(HATCH) if level else None
        return bool(exit_ and exit_.to and exit_.to.kind == "next")


class FirstStep(Struct, frozen=True):
    """One step: what to do, what has changed then, how it is known to be done, and how it is done for somebody who
    only looks on. ``{verdict}`` stands for the line at the top."""

    title: str
    task: str
    seen: str
    is_done: Callable[[Glance, Flow], bool]
    """Of how the desk stands, and the flow as it was at first."""
    do: Callable[[DeskParts], object]


def _more(now: Glance, first: Flow) -> bool:
    return len(now.flow.levels) > len(first.levels)


def _lead_wrong(desk: DeskParts) -> None:
    desk.requests.door.edit("lead the roof hatch astray", lambda flow: connect(flow, LEVEL, HATCH, WRONG), shown=True)


def _copy(desk: DeskParts) -> None:
    desk.selection.select(COPIED)
    desk.clipboard.duplicate()


def _join(desk: DeskParts) -> None:
    copies = [level.id for level in desk.document.flow.levels if level.copied_from]
    if copies:
        desk.requests.crossings.there_and_back(COPIED, copies[-1])


STEPS = (
    FirstStep(
        "Look at a level",
        "Click 1-5 Net Loft, on the strip at the top or on the map.",
        "The bench below shows it: its plan, the ways in, the ways out. The line at the top says that all is well.",
        lambda now, _: now.level == LEVEL,
        lambda desk: desk.selection.select(LEVEL),
    ),
    FirstStep(
        "Break something",
        "Its roof hatch leads on to 2-1 Salt Gate. Click “Roof hatch” among the ways out, then the blue “the next "
        "level of the order”, and choose 1-4 Gull Stair instead; or drag it there on the map. Then press “Do it”.",
        "The verdict has changed at once: “{verdict}”.",
        lambda now, _: bool(now.errors) and not now.leads_right,
        _lead_wrong,
    ),
    FirstStep(
        "Ask why",
        "Press F8: the next finding, in the list on the right.",
        "It says what is wrong in a sentence, and strip and map show the place. F8 again goes on to the next one.",
        lambda now, _: bool(now.check),
        lambda desk: desk.survey_column.step(1),
    ),
    FirstStep(
        "Take it back",
        "Press Ctrl+Z. Whatever you do can be undone, step by step.",
        "All is well again: “{verdict}”.",
        lambda now, _: now.errors == 0 and now.leads_right,
        lambda desk: desk.document.undo(),
    ),
    FirstStep(
        "Make a level",
        "Click 1-2 Bell Sands, and copy it with Ctrl+D.",
        "The copy has the next free name and number. Nothing leads to it yet: “{verdict}”.",
        lambda now, first: _more(now, first) and bool(now.errors),
        _copy,
    ),
    FirstStep(
        "Join it",
        "With the copy selected press Ctrl+J, and choose Bell Sands: a door and a place to arrive are made in both.",
        "Now it is reached: “{verdict}”.",
        lambda now, first: _more(now, first) and now.errors == 0,
        _join,
    ),
    FirstStep(
        "Play it",
        "Press F6 for a trial walk, and click a move or two: a new game, the oil in The Slipway.",
        "This is the flow as a player meets it: what is possible now, what is not and why. F6 again leaves the walk.",
        lambda now, _: now.moves >= len(FIRST_MOVES),
        lambda desk: desk.walking.begin(FIRST_MOVES),
    ),
)
CLOSING = ("That was all.", "The demo is yours to break; nothing of it is kept unless you save it. F1 opens the "
           "handbook, Ctrl+Space finds anything that can be done. Now begin with your own game.")  # fmt: skip
