"""Which stage answers what, and in what order: a first look, proofs, random walks, the quotient, every state.

Each stage is asked only for what those before have left unknown, and has its share of the budget.
"""

from dataclasses import dataclass, fields, replace

from mossy_bridge.play.rules import Rules
from mossy_bridge.reach.abstraction.must_reachability import MustReachability
from mossy_bridge.reach.abstraction.quotient_graph import QuotientGraph
from mossy_bridge.reach.explicit.explore import explore, glance
from mossy_bridge.reach.explicit.frontier_search import frontier_search
from mossy_bridge.reach.limits import Limits
from mossy_bridge.reach.monotone.monotonicity import monotone_parts
from mossy_bridge.reach.monotone.prover import Prover
from mossy_bridge.reach.survey.budget import Budget
from mossy_bridge.reach.survey.from_graph import answers_of_graph, losses_of_graph, reachability_of_graph
from mossy_bridge.reach.survey.from_proofs import answers_of_must_reachability, answers_of_proofs
from mossy_bridge.reach.survey.from_quotient import answers_of_quotient
from mossy_bridge.reach.survey.from_random_walks import answers_of_random_walks
from mossy_bridge.reach.survey.merge import merge
from mossy_bridge.reach.survey.result import Explored, Survey
from mossy_bridge.reach.system.program_graph import PackedState, ProgramGraph, Stopper


def survey_rules(rules: Rules, budget: Budget, before: Survey | None, limits: Limits) -> Survey:
    """Every verdict about a flow, within the budget; what was compiled for an earlier survey is used again."""
    return _by_stages(rules, budget, before, limits).completed()


def _by_stages(rules: Rules, budget: Budget, before: Survey | None, limits: Limits) -> Survey:
    program = ProgramGraph(rules, before=before.program if before else None, limits=limits)
    searching = budget.until(limits.search_end)
    all_at_once = at_once(program, searching)
    graph = (explore if all_at_once else glance)(program, starts_of(program), searching)
    explored = Explored(rules, graph)
    things = program.things
    budget.check()
    answers = reachability_of_graph(explored, things, budget.until(1.0))
    begun = Survey(flow=rules.flow, rules=rules, program=program, explored=explored)
    survey = merge(begun, answers)
    budget.check()
    if survey.settled:
        return merge(survey, losses_of_graph(explored, things, survey))
    return _Reasoning(program, budget, glanced=not all_at_once).about(survey)


def starts_of(program: ProgramGraph) -> list[PackedState]:
    """Where a search begins; nowhere, if the flow has no start."""
    return [program.start] if program.start else []


def at_once(program: ProgramGraph, stop: Stopper) -> bool:
    """Whether it is best to explore every state at once: there cannot be too many, and nothing is monotone that would
    spare it."""
    vectors, most = program.layout.possible_vectors, program.limits.states_at_once
    if vectors * len(program.rules.flow.levels) > most or monotone_parts(program).bits:
        return False
    return program.compile_all(stop) and vectors * program.count <= most


@dataclass(frozen=True)
class _Reasoning:
    """The stages after a first look. Where that was only a glance, every state may be explored at last."""

    program: ProgramGraph
    budget: Budget
    glanced: bool

    def about(self, survey: Survey) -> Survey:
        """The survey with what these stages answer."""
        quotient, must = None, None
        proving = self._until(self.program.limits.proofs_end)
        if self.program.compile_all(proving):
            quotient = QuotientGraph(self.program)
            survey = _by_proofs(survey, Prover(quotient, proving))
            if survey.decided:
                return survey
            must = MustReachability(self.program, quotient.constants)
            survey = merge(survey, answers_of_must_reachability(must, survey))
        survey = merge(survey, losses_of_graph(survey.explored, survey.things, survey))
        self.budget.check()
        if not survey.decided:
            survey = merge(
                survey, answers_of_random_walks(self.program, survey, self._until(self.program.limits.walks_end))
            )
            if must:  # once more: now more endings may be known
                survey = merge(survey, answers_of_must_reachability(must, survey))
        if quotient and not survey.decided:
            exploring = self.budget.until(self.program.limits.quotient_end)
            survey = merge(survey, answers_of_quotient(quotient, survey, exploring))
        self.budget.check()
        return self._by_every_state(survey) if self.glanced and not survey.decided else survey

    def _until(self, share: float) -> Stopper:
        """Until a share of the budget is spent; or nearly all, if nothing comes after."""
        return self.budget.until(share if self.glanced else self.program.limits.last_end)

    def _by_every_state(self, survey: Survey) -> Survey:
        """The answers from all states, as far as there is time; what was known before stays where these say nothing."""
        limits, starts = self.program.limits, starts_of(self.program)
        searching = self.budget.until(limits.search_end)
        graph = frontier_search(self.program, starts, searching, most_states=limits.explored_states)
        explored = Explored(survey.rules, graph, survey.prover)
        answers = merge(answers_of_graph(explored, survey.things, self.budget.until(1.0)), survey)
        self.budget.check()
        return replace(survey, explored=explored, **{f.name: getattr(answers, f.name) for f in fields(answers)})


def _by_proofs(survey: Survey, prover: Prover) -> Survey:
    """The survey with what proofs answer."""
    explored = Explored(survey.rules, survey.graph, prover)
    answers = answers_of_proofs(explored, prover, survey)
    return merge(replace(survey, explored=explored, prover=prover), answers)
