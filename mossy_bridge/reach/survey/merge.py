"""The one place where the answers of stages are put together."""

from collections.abc import Mapping
from dataclasses import replace
from typing import TypeVar

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.explicit.promises import PromiseVerdict
from mossy_bridge.reach.survey.result import Answer, Answers, Verdict
from mossy_bridge.reach.system.routes import is_shortest

Key = TypeVar("Key")
A = TypeVar("A", bound=Answers)


def merge(first: A, second: Answers) -> A:
    """What ``first`` says, and where that is unknown, what ``second`` does. Of two routes that may not be the shortest
    the shorter one is taken."""
    return replace(
        first,
        levels=_filled(first.levels, second.levels),
        exits=_filled(first.exits, second.exits),
        deeds=_filled(first.deeds, second.deeds),
        paths=_filled(first.paths, second.paths),
        tiles=_filled(first.tiles, second.tiles),
        endings=_filled(first.endings, second.endings),
        stuck=_shorter(first.stuck, second.stuck),
        loops=second.loops if first.loops.answer == "unknown" else first.loops,
        missed=_missed(first.missed, second.missed),
        losses={**second.losses, **first.losses},
        promises=_promises(first.promises, second.promises),
        crossed={**second.crossed, **first.crossed} if second.crossed else first.crossed,
    )


def _filled(first: Mapping[Key, Verdict], second: Mapping[Key, Verdict]) -> Mapping[Key, Verdict]:
    if not first or not second:
        return first or second
    return {**first, **second, **{key: verdict for key, verdict in first.items() if verdict.answer != "unknown"}}


def _missed(first: Mapping[Thing, Answer], second: Mapping[Thing, Answer]) -> Mapping[Thing, Answer]:
    if not first or not second:
        return first or second
    return {**first, **second, **{thing: answer for thing, answer in first.items() if answer != "unknown"}}


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
