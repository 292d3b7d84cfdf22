"""Whether the steps of a transition come in time: the cut unseen, the player held, messages read."""

import math
from collections.abc import Callable, Iterator, Sequence
from functools import partial

from msgspec.structs import replace

from mossy_bridge.checks.finding import Found, Repair
from mossy_bridge.checks.inspection import Inspection, LocalInspection
from mossy_bridge.checks.registry import check, local_check
from mossy_bridge.language.parsing import parse_effect
from mossy_bridge.model import timing
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Exit, Flow, Level, Step, Transition
from mossy_bridge.model.timing import BLACK, end_of, steps_of

FADE, LOAD = 0.4, 0.5
"""Seconds that a fade and a load last where a repair adds one."""

SOME_TIME = 30.0
"""Seconds that a repair gives a timer."""


def _repair(transition: Transition, label: str, change: Callable[[Transition], Transition]) -> Repair:
    def edit(flow: Flow) -> Flow:
        changed = tuple(change(one) if one.id == transition.id else one for one in flow.transitions)
        return replace(flow, transitions=changed)

    return Repair(label, edit)


def _users(here: Inspection, transition: Transition) -> Iterator[tuple[Level, Exit]]:
    return iter(here.by_transition.get(transition.id, ()))


def _found(here: Inspection, transition: Transition, message: str, repair: Repair | None = None) -> Found:
    """A finding about a transition: its places are the transition, then the exits that use it."""
    users = (f"{level.id}.{exit_.id}" for level, exit_ in _users(here, transition))
    return Found((transition.id, *users), message, repair=repair)


def _told(seconds: float) -> str:
    return f"{round(seconds, 3):g} s"


def _title(transition: Transition) -> str:
    return transition.name or transition.id


@check("cut-in-view", "warning", "transitions", "The player sees one level turn into another.")
def cut_in_view(here: Inspection) -> Iterator[Found]:
    """The picture goes dark, but the level is exchanged before it is.

    Example: The load begins at 0.2 s, the picture is black at 0.8 s.
    To mend: Begin the load later; drag it on the deck.
    """
    for one in here.flow.transitions:
        black, loads = timing.black_from(one), steps_of(one, "load")
        if black is not None and loads and loads[0].at < black - BLACK:
            late = black - loads[0].at
            repair = _repair(one, "Load once the picture is black", partial(_put_off, moment=loads[0].at, by=late))
            message = f"{_title(one)} loads {_told(late)} before the picture is black."
            yield _found(here, one, message, repair)


def _put_off(transition: Transition, moment: float, by: float) -> Transition:
    """Puts off the load and what follows it, but not the fade-out that it waits for. The player is held no longer after
    all else than before."""
    fades = tuple(step for step in transition.steps if step.do == "fade_out")
    rest = replace(transition, steps=tuple(step for step in transition.steps if step.do != "fade_out"))
    later = timing.added(timing.delayed(rest, moment, by), fades)
    after = max(0.0, (timing.control(transition) or 0.0) - _last(transition))
    end = _last(later) + after
    return timing.held_until(later, end) if (timing.control(later) or 0.0) > end else later


def _last(transition: Transition) -> float:
    """When all steps but those that hold the player have ended."""
    return max((end_of(step) for step in transition.steps if step.do != "hold_player"), default=0.0)


@check("shown-too-early", "warning", "transitions", "The player sees the level being put together.")
def shown_too_early(here: Inspection) -> Iterator[Found]:
    """The picture comes back before the level is in place.

    Example: The fade in begins while the load goes on.
    To mend: Begin the fade in when the load ends.
    """
    for one in here.flow.transitions:
        shown, loaded = timing.shown_from(one), timing.loaded(one)
        if shown is not None and loaded is not None and shown < loaded - BLACK:
            repair = _repair(one, "Fade in once the level is loaded", partial(_shown_late, loaded=loaded))
            message = f"{_title(one)} fades in {_told(loaded - shown)} before the level is loaded."
            yield _found(here, one, message, repair)


def _shown_late(transition: Transition, loaded: float) -> Transition:
    """The fade-in once the level is loaded; the load itself stays where it is. What else begins then or later waits as
    long, and who is held is held longer."""
    by = loaded - (timing.shown_from(transition) or 0.0)
    before = tuple(
        step for step in transition.steps if step.do in ("load", "fade_out") or step.at < loaded - by - BLACK
    )
    rest = replace(transition, steps=tuple(step for step in transition.steps if step not in before))
    later = timing.added(timing.delayed(rest, loaded - by, by), before)
    held = timing.control(transition)
    return later if held is None else timing.held_until(later, max(held, *(end_of(s) for s in later.steps)))


@check("player-loose", "warning", "transitions", "The exit can be set off twice.")
def player_loose(here: Inspection) -> Iterator[Found]:
    """The player is not held from the first step to the end of the load.

    Example: In the half second before the load one can walk into the gate again.
    To mend: Hold the player for the whole time.
    """
    for one in here.flow.transitions:
        loaded = timing.loaded(one)
        if loaded is None or timing.held_throughout(one, timing.begins(one), loaded):
            continue
        end = max(end_of(step) for step in steps_of(one, "load", "fade_in"))
        repair = _repair(one, "Hold the player until the level is shown", partial(timing.held_until, end=end))
        counting = [(level, exit_) for level, exit_ in _users(here, one) if _counts(exit_)]
        message = f"{_title(one)} does not hold the player from its beginning until the level is loaded"
        if counting:
            names = here.title(f"{counting[0][0].id}.{counting[0][1].id}")
            found = _found(here, one, f"{message}; {names} may count twice.", repair)
            yield replace(found, severity="error")
        else:
            yield _found(here, one, f"{message}.", repair)


def _counts(exit_: Exit) -> bool:
    return any(parse_effect(text).verb in ("add", "take") for text in exit_.effects)


@check("player-stuck", "error", "transitions", "The player waits for nothing.")
def player_stuck(here: Inspection) -> Iterator[Found]:
    """The player is held longer than anything else goes on.

    Example: All is over at 2 s, control returns at 5 s.
    To mend: End the hold where the last step ends.
    """
    for one in here.flow.transitions:
        control, last = timing.control(one), _last(one)
        if control is None or control <= last + here.flow.limits.held_after + BLACK:
            continue
        repair = _repair(one, "Let go of the player at the end", partial(timing.held_until, end=last))
        message = f"{_title(one)} holds the player for {_told(control - last)} after all else has ended."
        yield _found(here, one, message, repair)


@check("never-black-out", "error", "transitions", "The picture comes back though it never went.")
def never_black_out(here: Inspection) -> Iterator[Found]:
    """The picture comes back without having gone.

    Example: A fade in without a fade out.
    To mend: Add the fade out, or remove the fade in.
    """
    for one in here.flow.transitions:
        if steps_of(one, "fade_in") and not steps_of(one, "fade_out"):

            def change(transition: Transition) -> Transition:
                start = timing.begins(transition)
                later = timing.delayed(transition, start, FADE)
                return timing.added(later, [Step(do="fade_out", at=start, lasts=FADE)])

            repair = _repair(one, "Begin with a fade-out", change)
            yield _found(here, one, f"{_title(one)} fades in, but never out.", repair)


@check("never-back", "error", "transitions", "The picture stays black.")
def never_back(here: Inspection) -> Iterator[Found]:
    """The picture goes dark and does not come back.

    Example: A fade out without a fade in.
    To mend: Add the fade in.
    """
    for one in here.flow.transitions:
        if steps_of(one, "fade_out") and not steps_of(one, "fade_in"):

            def change(transition: Transition) -> Transition:
                start = max(end_of(step) for step in transition.steps if step.do != "hold_player")
                new = timing.added(transition, [Step(do="fade_in", at=start, lasts=FADE)])
                return timing.held_until(new, start + FADE) if timing.control(new) is not None else new

            repair = _repair(one, "End with a fade-in", change)
            yield _found(here, one, f"{_title(one)} fades out, but never in.", repair)


@check("message-unreadable", "warning", "transitions", "Hardly anybody can read so fast.")
def message_unreadable(here: Inspection) -> Iterator[Found]:
    """A message stands for less time than reading it takes, at so many words a second.

    Example: Twelve words in one second.
    To mend: Let it stand longer, say less, or wait for the player.
    """
    for one in here.flow.transitions:
        short = list(_unreadable(here, one))
        if short:
            step, least = short[0]
            label = f"Show it for {_told(least)}" if len(short) == 1 else f"Show all {len(short)} long enough"
            message = f"{_title(one)} shows “{step.text}” for {_told(step.lasts)}; reading it takes {_told(least)}."
            found = _found(here, one, message, _repair(one, label, partial(_all_readable, here)))
            yield replace(found, steps=_numbers(one, [step for step, _ in short]))


def _numbers(transition: Transition, steps: Sequence[Step]) -> tuple[int, ...]:
    return tuple(number for number, step in enumerate(transition.steps) if any(step is one for one in steps))


def _unreadable(here: Inspection, transition: Transition) -> Iterator[tuple[Step, float]]:
    """The messages that are shown too briefly, with how long it takes to read them."""
    for step in steps_of(transition, "show_message"):
        least = timing.reading_time(step.text, here.flow.limits)
        if step.lasts < least - BLACK:
            yield step, least


def _all_readable(here: Inspection, transition: Transition) -> Transition:
    longer = transition
    while short := next(_unreadable(here, longer), None):
        longer = _longer(longer, *short)
    # messages shown at one time have each put off the end, and so held the player too long
    after, end = timing.control(longer), max(end_of(step) for step in longer.steps if step.do != "hold_player")
    held_too_long = after is not None and after > end + here.flow.limits.held_after
    return timing.held_until(longer, end) if held_too_long else longer


def _longer(transition: Transition, old: Step, lasts: float) -> Transition:
    """A message shown longer; what comes after it waits, and the player with it."""
    message = next(step for step in transition.steps if step == old)
    by = lasts - message.lasts
    rest = replace(transition, steps=tuple(step for step in transition.steps if step is not message))
    longer = replace(message, lasts=math.ceil(lasts * 1000 - BLACK) / 1000)
    return timing.added(timing.delayed(rest, end_of(message), by), [longer])


@check("message-left-over", "warning", "transitions", "It stands in the way of play.")
def message_left_over(here: Inspection) -> Iterator[Found]:
    """A message still stands when a held player has control again.

    Example: The tide's warning covers the first jump.
    To mend: End it with the hold.
    """
    for one in here.flow.transitions:
        control = timing.control(one)
        last = max((end_of(step) for step in steps_of(one, "show_message")), default=0.0)
        if control is not None and last > control + BLACK:
            repair = _repair(one, "Hold the player until it is gone", partial(timing.held_until, end=last))
            message = f"{_title(one)} still shows a message {_told(last - control)} after the player has control again."
            late = [step for step in steps_of(one, "show_message") if end_of(step) > control + BLACK]
            yield replace(_found(here, one, message, repair), steps=_numbers(one, late))


@check("flash", "hint", "transitions", "A moment of black looks like a fault of the picture.")
def flash(here: Inspection) -> Iterator[Found]:
    """The picture comes back almost as soon as it was gone.

    Example: Black for a twentieth of a second.
    To mend: Keep it dark longer.
    """
    for one in here.flow.transitions:
        black, shown, least = timing.black_from(one), timing.shown_from(one), here.flow.limits.flash_seconds
        if black is not None and shown is not None and -BLACK <= shown - black < least - BLACK:
            repair = _repair(one, f"Stay black for {_told(least)}",
                             partial(timing.delayed, moment=shown, by=least - (shown - black)))  # fmt: skip
            yield _found(here, one, f"{_title(one)} is black for {_told(shown - black)} only.", repair)


@check("long-transition", "hint", "transitions", "Nobody likes to wait, least of all the tenth time.")
def long_transition(here: Inspection) -> Iterator[Found]:
    """The transition takes longer than the flow's limit, and neither shows a scene nor waits for the player.

    Example: Six seconds between two rooms.
    To mend: Shorten it.
    """
    for one in here.flow.transitions:
        if one.seconds > here.flow.limits.transition_seconds and not steps_of(one, "scene", "confirm"):
            most = _told(here.flow.limits.transition_seconds)
            message = f"{_title(one)} takes {_told(one.seconds)}; more than {most} is long."
            yield _found(here, one, message)


@check("no-load", "error", "transitions", "The next level is never put in place.")
def no_load(here: Inspection) -> Iterator[Found]:
    """A transition that is used by a crossing never loads the next level.

    Example: Fade out, fade in, and nothing between.
    To mend: Add the load.
    """
    for one in here.flow.transitions:
        if not one.steps or steps_of(one, "load"):
            continue
        for level, exit_ in _users(here, one):
            if any(_leaves(level, to.kind, to.level) for to in exit_.destinations):
                at = f"{level.id}.{exit_.id}"
                message = f"{here.title(at)} leads to another level by {_title(one)}, which loads none."
                yield _found(here, one, message, _repair(one, "Load while the picture is black", _with_load))
                break


def _leaves(level: Level, kind: str, target: str) -> bool:
    return kind in ("next", "previous", "back", "resume") or (kind == "level" and target not in ("", level.id))


def _with_load(transition: Transition) -> Transition:
    black = timing.black_from(transition)
    at = timing.begins(transition) if black is None else black
    loading = timing.added(timing.delayed(transition, at, LOAD), [Step(do="load", at=at, lasts=LOAD)])
    end = max(end_of(step) for step in loading.steps if step.do != "hold_player")
    held = timing.held_until(loading, max(end, timing.control(transition) or 0.0))
    shown = timing.shown_from(held)
    return held if shown is None or shown >= at + LOAD - BLACK else _shown_late(held, at + LOAD)


@check("transition-unused", "hint", "transitions", "It may be left over, or the exit it was for names another.")
def transition_unused(here: Inspection) -> Iterator[Found]:
    """No exit uses the transition.

    Example: The slow fade, after all gates use the quick one.
    To mend: Use it, or remove it.
    """
    for one in here.flow.transitions:
        if not any(True for _ in _users(here, one)):

            def edit(flow: Flow, gone: str = one.id) -> Flow:
                return replace(flow, transitions=tuple(other for other in flow.transitions if other.id != gone))

            yield _found(here, one, f"No exit uses {_title(one)}.", Repair("Remove it", edit))


@check("transition-empty", "warning", "transitions", "The player sees one level turn into another.")
def transition_empty(here: Inspection) -> Iterator[Found]:
    """A crossing's transition has no step at all.

    Example: A new transition that nobody has filled.
    To mend: Add its steps; the repair takes the usual ones.
    """
    for one in here.flow.transitions:
        for level, exit_ in _users(here, one) if not one.steps else ():
            if any(_leaves(level, to.kind, to.level) for to in exit_.destinations):
                at = f"{level.id}.{exit_.id}"
                message = f"{here.title(at)} leads to another level by {_title(one)}, which has no step."
                yield Found((at,), message, repair=_repair(one, "Make it a plain fade", partial(_plain_fade, here)))


def _plain_fade(here: Inspection, transition: Transition) -> Transition:
    """Out, load, in, the player held; black for no shorter than a flash."""
    load = max(LOAD, here.flow.limits.flash_seconds)
    steps = (
        Step(do="hold_player", lasts=2 * FADE + load),
        Step(do="fade_out", lasts=FADE),
        Step(do="load", at=FADE, lasts=load),
        Step(do="fade_in", at=FADE + load, lasts=FADE),
    )
    return replace(transition, steps=steps)


@local_check("timer-zero", "warning", "transitions", "The time is out before it has begun.")
def timer_zero(here: LocalInspection) -> Iterator[Found]:
    """An exit fires after a time of 0 seconds.

    Example: The tide comes in after 0 s.
    To mend: Set the time.
    """
    for level, exit_ in here.exits():
        if exit_.trigger.kind == "timer" and exit_.trigger.seconds == 0:
            at = f"{level.id}.{exit_.id}"
            message = f"{here.title(at)} is set off at once: it waits for no time."
            yield Found((at,), message, repair=_given_time(level.id, exit_))


def _given_time(level: str, exit_: Exit) -> Repair:
    trigger = replace(exit_.trigger, seconds=SOME_TIME)
    return Repair(f"Give it {SOME_TIME:g} s", lambda flow: edits.set_exit(flow, level, exit_.id, trigger=trigger))
