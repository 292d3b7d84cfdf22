"""When things happen in a transition, and edits of its steps that keep the rest in time. Seconds."""

from collections.abc import Sequence

from msgspec.structs import replace

from mossy_bridge.model.edits.levels import CannotEdit
from mossy_bridge.model.flow import CheckLimits, Step, StepKind, Transition

BLACK = 1e-6
"""Times nearer than this are the same."""


def end_of(step: Step) -> float:
    """When a step ends."""
    return step.at + step.lasts


def steps_of(transition: Transition, *kinds: StepKind) -> list[Step]:
    """The steps of some kinds, earliest first."""
    return sorted((step for step in transition.steps if step.do in kinds), key=lambda step: (step.at, end_of(step)))


def begins(transition: Transition) -> float:
    """When its first step begins."""
    return min((step.at for step in transition.steps), default=0.0)


def loaded(transition: Transition) -> float | None:
    """When the new level is in place: the end of the last load, None without one."""
    return max((end_of(step) for step in steps_of(transition, "load")), default=None)


def black_from(transition: Transition) -> float | None:
    """When the picture is black: the end of the first fade-out, None without one."""
    return min((end_of(step) for step in steps_of(transition, "fade_out")), default=None)


def shown_from(transition: Transition) -> float | None:
    """When the picture comes back: the beginning of the first fade-in, None without one."""
    return min((step.at for step in steps_of(transition, "fade_in")), default=None)


def control(transition: Transition) -> float | None:
    """When a held player has control again, None if never held."""
    return max((end_of(step) for step in steps_of(transition, "hold_player")), default=None)


def held_throughout(transition: Transition, start: float, end: float) -> bool:
    """Whether the player is held from ``start`` to ``end`` without a gap."""
    reached = start
    for step in steps_of(transition, "hold_player"):
        if step.at > reached + BLACK:
            break
        reached = max(reached, end_of(step))
    return reached >= end - BLACK and (end <= start + BLACK or reached > start + BLACK)


def reading_time(text: str, limits: CheckLimits) -> float:
    """How long a message must be shown to be read."""
    return limits.read_start + limits.read_per_word * len(text.split())


def with_step(transition: Transition, old: Step, new: Step) -> Transition:
    """The transition with one step changed."""
    done = False
    steps = []
    for step in transition.steps:
        steps.append(new if step is old and not done else step)
        done = done or step is old
    return replace(transition, steps=tuple(steps))


def delayed(transition: Transition, moment: float, by: float, but: Step | None = None) -> Transition:
    """The transition with all that begins at a moment or later put off, ``but`` one step; who is held over the moment
    is held longer."""
    steps: list[Step] = []
    for step in transition.steps:
        if step is but:
            steps.append(step)
        elif step.at >= moment - BLACK and not (step.do == "hold_player" and step.at <= begins(transition) + BLACK):
            steps.append(replace(step, at=_round(step.at + by)))
        elif step.do == "hold_player" and end_of(step) > moment + BLACK:
            steps.append(replace(step, lasts=_round(step.lasts + by)))
        else:
            steps.append(step)
    return replace(transition, steps=tuple(steps))


def step_at(transition: Transition, index: int) -> Step:
    """One of the steps. Raises :class:`CannotEdit` where there is none with the number."""
    if not 0 <= index < len(transition.steps):
        raise CannotEdit("that step is no longer there")
    return transition.steps[index]


def moved(transition: Transition, index: int, at: float) -> Transition:
    """The transition with one step beginning at another time."""
    step = step_at(transition, index)
    return with_step(transition, step, replace(step, at=_round(max(at, 0.0))))


def stretched(transition: Transition, index: int, lasts: float, alone: bool = False) -> Transition:
    """The transition with one step lasting longer or shorter. What begins when it ends, or later, keeps its distance,
    so that a load that waits for black still does; unless the step changes ``alone``."""
    step = step_at(transition, index)
    lasts = _round(max(lasts, 0.0))
    new = replace(step, lasts=lasts)
    if alone or step.do == "hold_player":
        return with_step(transition, step, new)
    rest = delayed(transition, end_of(step), lasts - step.lasts, but=step)
    return with_step(rest, step, new)


def without_step(transition: Transition, index: int) -> Transition:
    """The transition without one of its steps."""
    return replace(transition, steps=tuple(step for at, step in enumerate(transition.steps) if at != index))


def held_until(transition: Transition, end: float) -> Transition:
    """The transition with the player held once, from its beginning to ``end``."""
    others = tuple(step for step in transition.steps if step.do != "hold_player")
    start = min((step.at for step in others), default=0.0)
    hold = Step(do="hold_player", at=start, lasts=_round(max(end - start, 0.0)))
    return replace(transition, steps=(hold, *others))


def added(transition: Transition, steps: Sequence[Step]) -> Transition:
    """The transition with more steps, all in the order in which they begin."""
    return replace(transition, steps=tuple(sorted((*transition.steps, *steps), key=lambda step: step.at)))


def _round(seconds: float) -> float:
    rounded = round(float(seconds), 3)
    return int(rounded) if rounded.is_integer() else rounded
