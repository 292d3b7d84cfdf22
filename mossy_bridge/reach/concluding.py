"""What follows from the states that were looked at."""

from functools import partial

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.circles import route_into_circle
from mossy_bridge.reach.graph import Graph
from mossy_bridge.reach.machine import Stopper
from mossy_bridge.reach.missing import things_to_miss
from mossy_bridge.reach.promises import kept
from mossy_bridge.reach.routes import as_sure
from mossy_bridge.reach.verdicts import Answer, Survey, Verdict


def conclude(survey: Survey, stop: Stopper) -> None:
    """Every answer that the survey's graph gives; unknown is what states not looked at could decide."""
    conclude_ways(survey, stop)
    conclude_losses(survey)


def conclude_ways(survey: Survey, stop: Stopper) -> None:
    """What can be come to, loops and promises. Of what can be lost nothing is said yet."""
    graph = survey.graph
    _everything(survey, _otherwise(graph))
    for level, number in graph.first_in_levels().items():
        survey.levels[level] = Verdict("yes", partial(graph.route, number, into=level))
    for (kind, place), (number, row) in graph.uses().items():
        survey.group(kind)[place] = Verdict("yes", partial(graph.route, number, row.move))
    survey.crossed = graph.crossings()
    survey.stuck = Verdict("unknown")
    survey.missed = dict.fromkeys(things_to_miss(survey.flow), "unknown")
    circle = route_into_circle(survey.rules, graph, stop)
    survey.loops = _otherwise(graph) if circle is None else Verdict("yes", lambda: circle)
    survey.promises = {p.id: kept(p, graph) for p in survey.flow.promises}


def conclude_losses(survey: Survey) -> None:
    """What is stuck and what can be missed, where it is not known yet."""
    if survey.stuck.answer == "unknown":
        survey.stuck = into_stuck(survey) or _otherwise(survey.graph)
    if "unknown" in survey.missed.values():
        found = _missed(survey)
        survey.missed = {t: found[t] if known == "unknown" else known for t, known in survey.missed.items()}


def into_stuck(survey: Survey) -> Verdict | None:
    """With a route into the nearest state that is surely stuck, if one has been looked at: a shortest one, if it is
    known of all states as near whether they are."""
    graph, number = survey.graph, survey.sinking.first_stuck
    if number is None:
        return None
    sure = survey.settled or (survey.outlook is not None and survey.outlook.exact)
    return Verdict("yes", lambda: as_sure(graph.route(number), sure))


def _otherwise(graph: Graph) -> Verdict:
    return Verdict("no" if graph.complete else "unknown")


def _everything(survey: Survey, verdict: Verdict) -> None:
    """Says the same of everything that can be come to."""
    flow = survey.flow
    survey.levels = {level.id: verdict for level in flow.levels}
    survey.exits = {(level.id, exit_.id): verdict for level in flow.levels for exit_ in level.exits}
    survey.deeds = {(level.id, deed.id): verdict for level in flow.levels for deed in level.deeds}
    survey.tiles = {(level.id, tile.id): verdict for level in flow.levels for tile in level.tiles}
    survey.paths = {(level.id, path.start, path.end): verdict for level in flow.levels for path in level.paths}
    survey.endings = {ending.id: verdict for ending in flow.endings}


def _missed(survey: Survey) -> dict[Thing, Answer]:
    # Where much was not gone on from, hardly anything could be said, at great length.
    few = len(survey.graph) - survey.graph.looked_at <= survey.machine.limits.unexpanded_states
    lost = survey.missing.missed(survey.sinking.sound) if survey.settled or few else set()
    lost = {thing for thing in lost if survey.comes_to(thing) == "yes"}
    otherwise: Answer = "no" if survey.settled else "unknown"
    found: dict[Thing, Answer] = dict.fromkeys(survey.missing.things, otherwise)
    return found | dict.fromkeys(lost, "unknown") | dict.fromkeys(survey.graph.surely(lost), "yes")
