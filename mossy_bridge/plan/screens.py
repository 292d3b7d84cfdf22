"""Where the choices of a screen lie: one below the other in the middle, until somebody moves them.

A screen that nobody has laid out has no plan and its exits no areas; here it is given both, as it is shown. As soon as
a choice is moved that layout becomes the screen's own.
"""

from collections.abc import Iterator

from msgspec.structs import replace

from mossy_bridge.model.edits.levels import set_level, whole
from mossy_bridge.model.flow import Exit, Flow, Level, Plan, Rect

WIDTH, HEIGHT = 32.0, 18.0
"""The plan of a screen that has none."""
TITLE = 4.0
"""The part of it above the choices, for the screen's name and what it says."""
BUTTON_W, BUTTON_H, GAP, FOOT = 18.0, 2.4, 0.7, 0.8


def laid_out(level: Level, y_down: bool) -> Level:
    """A screen with a plan, and an area for each exit that has none; any other level as it is."""
    if level.kind != "screen":
        return level
    plan = (
        level.plan
        if level.plan and level.plan.width > 0 and level.plan.height > 0
        else Plan(width=WIDTH, height=HEIGHT)
    )
    bare = [exit_ for exit_ in level.exits if not (exit_.area[2] and exit_.area[3])]
    if plan is level.plan and not bare:
        return level
    places = dict(zip((exit_.id for exit_ in bare), _below_one_another(plan, len(bare), y_down), strict=True))
    return replace(level, plan=plan, exits=tuple(_placed(exit_, places.get(exit_.id)) for exit_ in level.exits))


def with_screen_laid_out(flow: Flow, key: str) -> Flow:
    """The flow with a screen laid out; the same flow where the level is no screen, or is laid out already."""
    level = whole(flow, key)
    shown = laid_out(level, flow.units.y == "down") if level else None
    if level is None or shown is None or shown is level:
        return flow
    return set_level(flow, key, plan=shown.plan, exits=shown.exits)


def _placed(exit_: Exit, area: Rect | None) -> Exit:
    return replace(exit_, area=area) if area else exit_


def _below_one_another(plan: Plan, count: int, y_down: bool) -> Iterator[Rect]:
    """Areas of one size, in order from the top, in the middle of the plan; lower where there are many."""
    title = min(TITLE, plan.height / 4)
    room = plan.height - title - min(FOOT, plan.height / 8)
    height = min(BUTTON_H, room / max(1, count) * 0.78)
    step = height + min(GAP, height * 0.28)
    first = title + max(0.0, (room - (count * step - (step - height))) / 2)
    width = min(BUTTON_W, plan.width * 0.8)
    for number in range(count):
        top = first + number * step
        y = top if y_down else plan.height - top - height
        yield (round((plan.width - width) / 2, 3), round(y, 3), round(width, 3), round(height, 3))
