"""What follows from exploring every state of the quotient: for flows with many levels joined there and back, and many
facts that change both ways."""

from collections.abc import Iterator

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph
from mossy_bridge.reach.explicit.frontier_search import frontier_search
from mossy_bridge.reach.survey.from_graph import answers_of_graph
from mossy_bridge.reach.survey.merge import merge
from mossy_bridge.reach.survey.result import Answers, Explored, Survey
from mossy_bridge.reach.system.program_graph import Stopper
from mossy_bridge.reach.system.routes import Loss


def answers_of_quotient(quotient: QuotientGraph, known: Survey, stop: Stopper) -> Answers:
    """Every answer from all states of the quotient; none if that is not so many fewer, or takes too long. Levels that
    may have been passed within a component are then asked about one after the other, each kept apart."""
    few = quotient.limits.quotient_factor * len(quotient.members) <= len(quotient.component)
    whole = _explored(quotient, stop) if few else None
    if whole is None:
        return Answers()
    answers = answers_of_graph(whole, known.things, stop)
    for one in _levels_apart(quotient, merge(known, answers), stop):
        answers = merge(answers, one)
    return answers


def _levels_apart(quotient: QuotientGraph, known: Survey, stop: Stopper) -> Iterator[Answers]:
    """For each level of which it is still unknown, whether it can be missed."""
    for level in known.undecided_losses(known.things):
        if not isinstance(level, str):
            continue
        explored = None if stop() else _explored(QuotientGraph(quotient.program, level), stop)
        if explored is None:
            return
        answers = answers_of_graph(explored, known.things, stop)
        losses: dict[Thing, Loss] = {thing: loss for thing, loss in answers.losses.items() if thing == level}
        yield Answers(missed={level: answers.missed[level]}, losses=losses)


def _explored(quotient: QuotientGraph, stop: Stopper) -> Explored | None:
    """All states of a quotient, if there is time for that."""
    graph = frontier_search(quotient, [quotient.start] if quotient.start else [], stop)
    return Explored(quotient.rules, graph) if graph.complete and quotient.start else None
