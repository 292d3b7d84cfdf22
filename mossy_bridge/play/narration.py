"""A walk in lines for a person: where the player is and what the game remembers."""

from collections.abc import Sequence

from mossy_bridge.model.addresses import title_of
from mossy_bridge.play.replay import play
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move, State


def told_start(rules: Rules, state: State) -> str:
    """The line before the first move."""
    return f"start: {_where(rules, state)}{_facts(rules, None, state, brief=False)}"


def told_step(rules: Rules, number: int, move: str, before: State | Ended, after: State | Ended, brief: bool) -> str:
    """The line of one move and the state after it."""
    if isinstance(after, Ended):
        name = next((e.name for e in rules.flow.endings if e.id == after.ending), "")
        return f"{number}. {move}: ends with {name or after.ending} ({after.ending})"
    earlier = before if isinstance(before, State) else None
    return f"{number}. {move}: {_where(rules, after)}{_facts(rules, earlier, after, brief)}"


def _where(rules: Rules, state: State) -> str:
    level = rules.levels[state.place].source
    spawn = level.spawn(state.respawn)
    at = f", respawn {spawn.id}" if spawn else ""
    zone = f", zone {state.zone}" if state.zone else ""
    return f"in {level.title} ({level.id}{at}{zone})"


def _facts(rules: Rules, before: State | None, after: State, brief: bool) -> str:
    told = []
    for index, fact in enumerate(rules.flow.facts):
        value = after.facts[index]
        changed = before is not None and before.facts[index] != value
        if brief and not changed:
            continue
        old = f" (was {told_value(before.facts[index])})" if before and changed else ""
        told.append(f"{fact.id} {told_value(value)}{old}")
    return f"; {', '.join(told)}" if told else ""


def told_value(value: object) -> str:
    """A fact's value in words."""
    return {True: "yes", False: "no"}[value] if isinstance(value, bool) else str(value)


def told_route(rules: Rules, route: Sequence[Move]) -> list[tuple[str, str]]:
    """The moves of a route, each with its short place and what it does, in the designer's words."""
    state: State | Ended | None = rules.begin()
    lines: list[tuple[str, str]] = []
    for move, taken in zip(route, play(rules, map(str, route)), strict=False):
        place = move.level if move.kind == "path" else f"{move.level}.{move.thing}"
        lines.append((place, f"{named_move(rules, move)}{what_it_did(rules, state, taken.after)}"))
        state = taken.after
    return lines


def named_move(rules: Rules, move: Move) -> str:
    """A move in the designer's words."""
    if move.kind == "path":
        zones = {zone.id: zone.name or zone.id for zone in rules.levels[move.level].source.zones}
        return f"{rules.levels[move.level].source.title}: to {zones.get(move.end, move.end)}"
    return title_of(rules.flow, f"{move.level}.{move.thing}")


def what_it_did(rules: Rules, before: State | Ended | None, after: State | Ended | None) -> str:
    """Where a move has led, and what it has changed."""
    if after is None:
        return " (impossible)"
    if isinstance(after, Ended):
        name = next((e.name for e in rules.flow.endings if e.id == after.ending), "")
        return f" → the end: {name or after.ending}"
    told = []
    for index, fact in enumerate(rules.flow.facts):
        if isinstance(before, State) and before.facts[index] != after.facts[index]:
            told.append(f"{fact.name or fact.id} {told_value(after.facts[index])}")
    changed = f" ({', '.join(told)})" if told else ""
    moved = isinstance(before, State) and before.place != after.place
    return (f" → {rules.levels[after.place].source.title}" if moved else "") + changed
