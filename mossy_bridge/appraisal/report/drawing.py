"""Plans and transitions as SVG, in dark lines on light: pieces for a page, without anything that refers elsewhere."""

import math
from collections.abc import Iterable
from xml.sax.saxutils import escape, quoteattr

from mossy_bridge.appraisal.report.contents import ReportTransition
from mossy_bridge.model.flow import Level, Rect
from mossy_bridge.plan.doors import has_area

PLAN_WIDTH, PLAN_HEIGHT = 420.0, 170.0
"""The most that a plan takes, in points."""
INK, DIM, SKY, STONE, MOSS, SLATE, OCHRE = "#22241f", "#5c5c51", "#e9edf0", "#a6aa96", "#3f6c2e", "#35568c", "#8a5a08"
NAME, LETTER, MOST_SHIFTS = 7.0, 3.9, 6
"""How high names are and about how wide their letters, in points, and how often one is moved out of another's way."""
BAR, NAME_WIDTH, SECONDS_WIDTH = 15.0, 150.0, 300.0
STEP_COLOURS = {"hold_player": "#b9bdb0", "fade_out": INK, "fade_in": "#74786d", "load": MOSS, "show_message": OCHRE}


def plan_size(level: Level) -> tuple[float, float] | None:
    """How large a plan is drawn, in points; None where there is none."""
    plan = level.plan
    if plan is None or plan.width <= 0 or plan.height <= 0:
        return None
    scale = min(PLAN_WIDTH / plan.width, PLAN_HEIGHT / plan.height)
    return plan.width * scale, plan.height * scale


def plan_svg(level: Level, y_down: bool) -> str:
    """The plan of a level: ground, doors, spawn points, deeds, with their names; "" where there is none."""
    size, plan = plan_size(level), level.plan
    if size is None or plan is None:
        return ""
    scale = size[0] / plan.width
    height = plan.height

    def box(rect: Rect) -> tuple[float, float, float, float]:
        x, y, wide, high = rect
        top = y if y_down else height - y - high
        return x * scale, top * scale, wide * scale, high * scale

    def point(x: float, y: float) -> tuple[float, float]:
        return x * scale, (y if y_down else height - y) * scale

    names = _Names(size)
    parts = [f'<rect width="{size[0]:.2f}" height="{size[1]:.2f}" fill="{SKY}"/>']
    parts += [_rect(box(solid), STONE) for solid in plan.solids]
    for exit_ in level.exits:
        if has_area(exit_):
            x, y, wide, high = box(exit_.area)
            wide, high = max(wide, 5.0), max(high, 7.0)
            parts.append(_door(x, y, wide, high))
            names.put(x + wide / 2, y - 3, exit_.name or exit_.id, MOSS)
    for spawn in level.spawns:
        x, y = point(spawn.x, spawn.y)
        parts.append(f'<path d="M{x:.2f} {y:.2f}l-3.5 -7h7z" fill="{SLATE}"/>')
        names.put(x, y - 9, spawn.name or spawn.id, SLATE)
    for deed in level.deeds:
        x, y = point(deed.x, deed.y)
        parts.append(f'<path d="M{x:.2f} {y - 8:.2f}l4 4l-4 4l-4 -4z" fill="#fff" stroke="{OCHRE}"/>')
        names.put(x, y - 10, deed.name or deed.id, OCHRE)
    return _svg(size, [*parts, *names.written], f"The plan of {level.title}")


class _Names:
    """Names beside things, each within the plan and clear of those before it, as far as there is room."""

    def __init__(self, size: tuple[float, float]):
        self._size = size
        self._taken: list[tuple[float, float, float]] = []
        self.written: list[str] = []

    def put(self, x: float, y: float, name: str, colour: str) -> None:
        """Writes a name above a point."""
        half = len(name) * LETTER / 2
        x = min(max(x, half + 1), max(self._size[0] - half - 1, half + 1))
        y = max(y, NAME)
        for _ in range(MOST_SHIFTS):
            if not any(
                abs(y - other) < NAME and abs(x - middle) < half + reach for middle, other, reach in self._taken
            ):
                break
            y = y - NAME if y > 2 * NAME else y + 3 * NAME
        self._taken.append((x, y, half))
        self.written.append(_text(x, y, name, colour))


def transitions_svg(transitions: Iterable[ReportTransition]) -> str:
    """All transitions on one scale of seconds."""
    shown = list(transitions)
    longest = max([1.0, *(one.transition.seconds for one in shown)])
    parts, top = [], 2.0
    for one in shown:
        parts.append(_text(NAME_WIDTH - 6, top + 10, one.name[:26], INK, "end", 8))
        for step in one.transition.steps:
            left, wide = (NAME_WIDTH + value / longest * SECONDS_WIDTH for value in (step.at, step.at + step.lasts))
            parts.append(_rect((left, top + 2, max(wide - left, 1.2), BAR - 5), STEP_COLOURS.get(step.do, SLATE), 0.75))
        end = NAME_WIDTH + one.transition.seconds / longest * SECONDS_WIDTH
        parts.append(_text(end + 4, top + 10, f"{one.transition.seconds:g} s, {one.used}×", DIM, "start", 8))
        top += BAR
    return _svg((NAME_WIDTH + SECONDS_WIDTH + 80, top + 4), parts, "Transitions on one scale") if shown else ""


def _svg(size: tuple[float, float], parts: Iterable[str], title: str) -> str:
    wide, high = map(math.ceil, size)
    place = f'width="{wide}" height="{high}" viewBox="0 0 {wide} {high}"'
    head = f'<svg xmlns="http://www.w3.org/2000/svg" {place} role="img">'
    return f"{head}<title>{escape(title)}</title>{''.join(parts)}</svg>"


def _door(x: float, y: float, wide: float, high: float) -> str:
    place = f'x="{x:.2f}" y="{y:.2f}" width="{wide:.2f}" height="{high:.2f}"'
    return f'<rect {place} rx="2.5" fill="#fff" stroke="{MOSS}" stroke-width="1.2"/>'


def _rect(box: tuple[float, float, float, float], colour: str, opacity: float = 1.0) -> str:
    x, y, wide, high = box
    see = f' fill-opacity="{opacity:g}"' if opacity < 1 else ""
    return f'<rect x="{x:.2f}" y="{y:.2f}" width="{wide:.2f}" height="{high:.2f}" fill={quoteattr(colour)}{see}/>'


def _text(x: float, y: float, text: str, colour: str, anchor: str = "middle", size: float = 7) -> str:
    where = f'x="{x:.2f}" y="{max(y, size):.2f}" text-anchor="{anchor}"'
    return f'<text {where} font-family="sans-serif" font-size="{size:g}" fill="{colour}">{escape(text)}</text>'
