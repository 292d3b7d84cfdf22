"""What random walks find: what is reachable, what is stuck, and what can be missed. They exclude nothing."""

from typing import Any

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.explicit.random_walks import RandomWalk, random_walks
from mossy_bridge.reach.survey.merge import merge
from mossy_bridge.reach.survey.result import Answers, Survey
from mossy_bridge.reach.survey.verdicts import UNKNOWN, Verdict
from mossy_bridge.reach.system.program_graph import ProgramGraph, Stopper
from mossy_bridge.reach.system.routes import Loss, Route, SomeRoute
from mossy_bridge.reach.system.things import KINDS


def answers_of_random_walks(program: ProgramGraph, known: Survey, stop: Stopper) -> Answers:
    """What walks find that is unknown, until little is new or the stop."""
    found = Answers()
    route_into_trap: Route | None = None
    without_news = 0
    for walk in random_walks(program, stop):
        now = merge(known, found)
        news = _reached(walk, now)
        now = merge(now, news)
        losses = _losses(walk, now)
        news = merge(news, Answers(missed=dict.fromkeys(losses, "yes"), losses=losses))
        route_into_trap = route_into_trap or walk.stuck()
        if route_into_trap and now.some_ending and now.stuck.answer == "unknown":
            news = merge(news, Answers(stuck=Verdict("yes", SomeRoute, (route_into_trap,))))
        found = merge(found, news)
        now = merge(now, news)
        without_news = 0 if _says_something(news) else without_news + 1
        if now.stuck.answer != "unknown" and not now.undecided_losses(now.things):
            break
        if without_news == program.limits.walks_without_news:
            break
    return found


def _reached(walk: RandomWalk, known: Answers) -> Answers:
    """What a walk has reached that was not known to be reachable."""
    found: dict[str, dict[Any, Verdict]] = {kind: {} for kind in KINDS}
    for kind, name, trace in walk.found():
        if name not in known.verdicts(kind):
            found[kind].setdefault(name, Verdict("yes", trace))
    return Answers.about_reaching(found)


def _losses(walk: RandomWalk, known: Survey) -> dict[Thing, Loss]:
    """What a walk has found to be missed of which that was not known."""
    undecided = {thing for thing in known.undecided_losses(known.things) if known.reaches(thing) == "yes"}
    return {thing: loss for thing, loss in walk.losses().items() if thing in undecided} if undecided else {}


def _says_something(news: Answers) -> bool:
    return bool(news.losses) or news.stuck is not UNKNOWN or any(news.verdicts(kind) for kind in KINDS)
