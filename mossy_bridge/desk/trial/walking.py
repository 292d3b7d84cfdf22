"""Trial walks in the window: started, followed on the map, recorded, and carried over when the flow changes."""

from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.map.view import MapView
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.session.selection import Selection
from mossy_bridge.desk.trial.page import TrialPage
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.workers.background_task import BackgroundTask
from mossy_bridge.language.parsing import WrongWording, canonical_condition
from mossy_bridge.model.flow import Flow
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move, State
from mossy_bridge.play.trial import Trial, begun
from mossy_bridge.reach.queries.sample_routes import sample_routes
from mossy_bridge.reach.survey.budget import Budget
from mossy_bridge.reach.survey.result import Survey
from mossy_bridge.reach.survey.route_query import route_to
from mossy_bridge.reach.survey.verdicts import Verdict

SEARCH_SECONDS = 3.0


class Walking(QObject):
    """Keeps the walk under way, if any. ``begun`` and ``ended`` say when one is; ``searching`` says what is searched
    for before one can begin, or that nothing is any more ("")."""

    begun = pyqtSignal()
    ended = pyqtSignal()
    searching = pyqtSignal(str)

    def __init__(self, look: Look, map_view: MapView, selection: Selection, requests: Requests, person: Person):
        super().__init__(requests)
        self._map, self._selection, self._requests, self._person = map_view, selection, requests, person
        self.page = TrialPage(look)
        self._flow = Flow()
        self._folder: Path | None = None
        self._survey: Callable[[], Survey | None] = lambda: None
        self._task = BackgroundTask(self)
        self._task.done.connect(self._on_searched)
        self._task.failed.connect(lambda _: self.searching.emit(""))
        self.page.moved.connect(self._on_moved)
        self.page.keep_wanted.connect(self.keep)
        self.page.left.connect(self.leave)

    @property
    def trial(self) -> Trial | None:
        """The walk under way."""
        return self.page.trial

    def show_flow(self, flow: Flow, folder: Path | None, survey: Callable[[], Survey | None]) -> None:
        """Takes another flow; a walk under way is walked again in it, as far as it still can be."""
        self._flow, self._folder, self._survey = flow, folder, survey
        if self.busy:  # its route was to be one in the flow before
            self.give_up()
        if self.trial is None:
            return
        again = begun(Rules(flow, resuming=True, before=self.trial.rules))
        if again is None:
            self.leave()
            return
        self._show(again.follow(self.trial.moves))

    def begin(self, moves: Sequence[str] = ()) -> None:
        """Begins a walk at the start, and takes the moves."""
        survey = self._survey()
        trial = begun(Rules(self._flow, resuming=True, before=survey.rules if survey else None))
        if trial is None:
            self._person.tell("Trial walk", "The flow has no start yet: choose a level and make it the start.")
            return
        self._show(trial.follow(moves))
        self.begun.emit()
        self.page.setFocus()

    def begin_route(self, route: Sequence[Move]) -> None:
        """Begins a walk along a route."""
        self.begin([str(move) for move in route])

    def begin_here(self, brings: str = "shortest") -> None:
        """Begins a walk in the selected level, with what a real route brings there."""
        level, survey = self._selection.level_id, self._survey()
        routes = sample_routes(survey, level) if survey else {}
        if not routes:
            self._person.tell("Trial walk", "No route into that level is known; see what the survey says of it.")
            return
        self.begin_route(routes.get(brings, routes["shortest"]))

    def begin_with(self) -> None:
        """Begins a walk in the selected level, with a condition that is asked for: only if some playthrough comes
        there so."""
        level = self._selection.level_id
        when = self._person.ask("Start here with", "Which condition should hold there? For instance: at least 2 oil")
        if not when:
            return
        try:
            condition = canonical_condition(when)
        except WrongWording as error:
            self._person.tell("Start here with", str(error))
            return
        flow = self._flow
        self.searching.emit(f"Looking for a playthrough that brings “{condition}” there…")
        self._task.ask(lambda job: route_to(flow, level, frozenset(), condition, Budget(SEARCH_SECONDS, job.cancelled)))

    @property
    def busy(self) -> bool:
        """Whether a route is searched for, along which a walk is to begin."""
        return self._task.busy

    def give_up(self) -> None:
        """Gives up looking for a route."""
        self._task.cancel()
        self.searching.emit("")

    def _on_searched(self, verdict: Verdict) -> None:
        self.searching.emit("")
        if verdict.answer == "yes":
            self.begin_route(verdict.route)
        else:
            told = {"no": "No playthrough reaches it so.", "unknown": "No playthrough that does was found in time."}
            self._person.tell("Start here with", told[verdict.answer])

    def leave(self) -> None:
        """Ends the walk."""
        if self.trial is not None:
            self.page.end_live()
            self.page.trial = None
            self._map.end_walk()
            self.ended.emit()

    def keep(self) -> None:
        """Keeps the walk as a recorded one, which must reach where it is now."""
        trial = self.trial
        if trial is None or not trial.can_be_kept:
            return
        name = self._person.ask("Keep as a recorded walk", "What is it called? Every survey will walk it again.")
        if name:
            state = trial.now.state
            expect = f"ends:{state.ending}" if isinstance(state, Ended) else f"at:{state.place}"
            self._requests.upkeep.keep_walk(name, trial.moves, expect)

    def _show(self, trial: Trial) -> None:
        self.page.show_trial(trial, self._folder)
        self._on_moved(trial)

    def _on_moved(self, trial: Trial) -> None:
        state = trial.state
        ahead = set()
        for move, after in trial.rules.moves(state) if state else ():
            if isinstance(after, State) and move.kind in ("exit", "tile"):
                ahead.add(after.place)
        here = trial.last_state.place
        self._map.show_walk(here, ahead)
        if self._selection.level_id != here:
            self._selection.select(here)
