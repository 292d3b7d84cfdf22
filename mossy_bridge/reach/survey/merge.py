"""The one place where the answers of stages are put together."""

from collections.abc import Mapping
from dataclasses import replace
from typing import TypeVar

from mossy_bridge.reach.explicit.promises import PromiseVerdict
from mossy_bridge.reach.survey.result import Answers
from mossy_bridge.reach.survey.verdicts import Verdict, Verdicts
from mossy_bridge.reach.system.routes import is_shortest

Key = TypeVar("Key")
Value = TypeVar("Value")
A = TypeVar("A", bound=Answers)


def merge(first: A, second: Answers) -> A:
    """What ``first`` says, and where it says nothing, what ``second`` does. Of two routes that may not be the shortest
    the shorter one is taken."""
    return replace(
        first,
        levels=_reached(first.levels, second.levels),
        exits=_reached(first.exits, second.exits),
        deeds=_reached(first.deeds, second.deeds),
        paths=_reached(first.paths, second.paths),
        tiles=_reached(first.tiles, second.tiles),
        endings=_reached(first.endings, second.endings),
        stuck=_shorter(first.stuck, second.stuck),
        loops=second.loops if first.loops.answer == "unknown" else first.loops,
        missed=_filled(first.missed, second.missed),
        losses=_filled(first.losses, second.losses),
        promises=_promises(first.promises, second.promises),
        crossed=_filled(first.crossed, second.crossed),
    )


def _reached(first: Mapping[Key, Verdict], second: Mapping[Key, Verdict]) -> Mapping[Key, Verdict]:
    return second.overlaid(first) if isinstance(second, Verdicts) else _filled(first, second)


def _filled(first: Mapping[Key, Value], second: Mapping[Key, Value]) -> Mapping[Key, Value]:
    return {**second, **first} if first and second else first or second


def _shorter(one: Verdict, other: Verdict) -> Verdict:
    """The verdict that says something; with the shorter route if both do."""
    if one.answer != other.answer or one.answer != "yes":
        return other if one.answer == "unknown" else one
    return Verdict("yes", lambda: min(one.route, other.route, key=lambda route: (len(route), not is_shortest(route))))


def _promises(
    first: Mapping[str, PromiseVerdict], second: Mapping[str, PromiseVerdict]
) -> Mapping[str, PromiseVerdict]:
    found = dict(first)
    for name, other in second.items():
        known = found.get(name)
        if known is None or (other.holds != "unknown" and not is_final(known)):
            found[name] = other
    return found


def is_final(known: PromiseVerdict) -> bool:
    """Whether nothing better can be said: it is known, and shown by a shortest route if by any."""
    return known.holds != "unknown" and (known.route is None or is_shortest(known.route))
