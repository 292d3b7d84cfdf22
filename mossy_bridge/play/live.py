"""The live walk: the flow played in real time on its plans, by keys, to check that doors, landings and jumps are right.

Immutable and of a fixed time step: the same keys always lead the same way.
"""

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from typing import Any

from mossy_bridge.model.flow import Exit
from mossy_bridge.plan.boxes import Box, box, height_of, stones_of
from mossy_bridge.plan.walker import Body, Keys, moved
from mossy_bridge.play.compiled_level import ReadyDeed, ReadyExit
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move, State

NEAR = 1.0
"""Plan units: how near the walker's middle must be to a deed to do it."""


@dataclass(frozen=True)
class Live:
    """A moment of a live walk. ``waits`` are the seconds that a transition still takes, ``crossing`` the exit it
    belongs to; ``moves`` is what has been done so far; ``fell`` how often the walker has fallen out of a plan."""

    rules: Rules
    state: State | Ended
    body: Body
    waits: float = 0.0
    crossing: Exit | None = None
    inside: frozenset[str] = frozenset()
    """The doors whose area the walker is in; one is set off by walking into it."""
    there_for: float = 0.0
    """Seconds in this level."""
    held: Keys = field(default_factory=Keys)
    moves: tuple[Move, ...] = ()
    fell: int = 0

    @property
    def y_down(self) -> bool:
        """Which way y grows in plans."""
        return self.rules.flow.units.y == "down"


def placed(rules: Rules, state: State | Ended, **kept: Any) -> Live:
    """A live walk with the player just put down at the respawn point, in doors or out of them."""
    here = Live(rules, state, Body(0, 0), **kept)
    if isinstance(state, Ended):
        return here
    level = rules.levels[state.place].source
    spawn = level.spawn(state.respawn)
    body = Body(spawn.x, height_of(spawn.y, here.y_down)) if spawn else Body(0, 0)
    here = replace(here, body=body)
    return replace(here, inside=_doors_at(here))


def walkable(rules: Rules, state: State | Ended) -> bool:
    """Whether there is a plan to walk in."""
    plan = rules.levels[state.place].source.plan if isinstance(state, State) else None
    return plan is not None and plan.width > 0 and plan.height > 0


def step(live: Live, keys: Keys) -> Live:
    """The walk one tick later."""
    tick = live.rules.flow.walker.tick
    if isinstance(live.state, Ended) or not walkable(live.rules, live.state):
        return live
    if live.waits > 0:
        waits = max(live.waits - tick, 0.0)
        return replace(live, waits=waits, crossing=live.crossing if waits else None, held=keys)
    forced = live.rules.sprung(live.state)
    if forced:
        return _fired(live, forced)
    level = live.rules.levels[live.state.place].source
    assert level.plan is not None
    stones = stones_of(level.plan, live.y_down)
    room = stones.room
    body = moved(live.body, keys, live.rules.flow.walker, room, stones.all)
    pressed = keys.act and not live.held.act
    live = replace(live, body=body, there_for=live.there_for + tick, held=keys)
    if body.height < room.low - live.rules.flow.walker.height:
        return placed(live.rules, live.state, moves=live.moves, fell=live.fell + 1)
    return _set_off(live, pressed)


def played(live: Live, inputs: Iterable[tuple[int, Keys]]) -> Live:
    """The walk after recorded keys: each held for so many ticks."""
    for ticks, keys in inputs:
        for _ in range(ticks):
            live = step(live, keys)
    return live


def _area(live: Live, exit_: Exit) -> Box:
    return box(exit_.area, live.y_down)


def _doors_at(live: Live) -> frozenset[str]:
    """The doors whose area the body is in."""
    if not isinstance(live.state, State):
        return frozenset()
    body = live.body.box(live.rules.flow.walker)
    exits = live.rules.levels[live.state.place].source.exits
    return frozenset(e.id for e in exits if e.trigger.kind in ("touch", "press") and _area(live, e).shares(body))


def _set_off(live: Live, pressed: bool) -> Live:
    """What the walker sets off where it now is: a door walked into or pressed, a timer that has run out, a deed."""
    state = live.state
    assert isinstance(state, State)
    level = live.rules.levels[state.place]
    before, live = live.inside, replace(live, inside=_doors_at(live))
    for exit_ in level.exits:
        trigger = exit_.source.trigger
        in_area = exit_.source.id in live.inside
        walked_in = trigger.kind == "touch" and in_area and exit_.source.id not in before
        pushed = trigger.kind == "press" and in_area and pressed
        run_out = trigger.kind == "timer" and live.there_for >= trigger.seconds
        if (walked_in or pushed or run_out) and _open(live, exit_):
            return _fired(live, exit_)
    if pressed:
        for deed in level.deeds:
            if _near(live, deed) and live.rules.can_do(deed, _in_zone(live, deed.source.zone)):
                move = Move("deed", state.place, deed.source.id)
                return replace(live, state=live.rules.do(deed, state), moves=(*live.moves, move))
    return live


def _in_zone(live: Live, zone: str) -> State:
    """The state, with the player in a zone: on a plan one is where one walks."""
    assert isinstance(live.state, State)
    return live.state._replace(zone=zone or live.state.zone, arrived=False)


def _open(live: Live, exit_: ReadyExit) -> bool:
    return live.rules.is_open(exit_, _in_zone(live, exit_.source.zone))


def _near(live: Live, deed: ReadyDeed) -> bool:
    return live.body.box(live.rules.flow.walker).distance(deed.source.x, height_of(deed.source.y, live.y_down)) <= NEAR


def _fired(live: Live, exit_: ReadyExit) -> Live:
    assert isinstance(live.state, State)
    move = Move("exit", live.state.place, exit_.source.id)
    after = live.rules.fire(exit_, live.state)
    seconds = next((one.seconds for one in live.rules.flow.transitions if one.id == exit_.source.transition), 0.0)
    return placed(live.rules, after, waits=seconds, crossing=exit_.source, moves=(*live.moves, move), fell=live.fell,
                  held=live.held)  # fmt: skip
