"""A walk in lines for a person: where the player is and what the game remembers."""

from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, State


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
        old = f" (was {_value(before.facts[index])})" if before and changed else ""
        told.append(f"{fact.id} {_value(value)}{old}")
    return f"; {', '.join(told)}" if told else ""


def _value(value: object) -> str:
    return {True: "yes", False: "no"}[value] if isinstance(value, bool) else str(value)
