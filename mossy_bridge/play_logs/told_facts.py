"""What is left of what is possible when a log tells the value of a fact.

The fact has it then, or just before or after, or within, the nearest move on either side: an event of a fact may stand
on either side of what changed it.
"""

from collections.abc import Iterator

from mossy_bridge.language.evaluation import Change, Facts, FactValue
from mossy_bridge.play.state import Ended, Move, State
from mossy_bridge.play_logs.events import Event
from mossy_bridge.play_logs.possible_states import Logged, Over, Possibility, PossibleStates, left

Earlier = set[Possibility] | None
"""How things could stand before the latest move; None where that is not known."""


class ToldFacts:
    """Tells it of one flow."""

    def __init__(self, states: PossibleStates):
        self._states, self._rules = states, states.rules
        self._places = {fact.id: at for at, fact in enumerate(states.flow.facts)}

    def after(self, event: Event, possible: set[Possibility], earlier: Earlier, logged: Logged) -> set[Possibility]:
        """How things can stand then. Of a next move that is not logged things stand as behind it; whether one that is
        follows is not waited for, and the move before is not retraced: these forbid nothing."""
        at, value = self._places.get(event.values["fact"]), event.values["value"]
        if at is None:
            return set()
        found: set[Possibility] = set()
        for one in self._states.silently(possible, logged):
            if self._has_about_now(one, at, value, logged):
                found.add(one)
            moves = self._states.silent_moves(one, logged)
            found.update(then for move, then in moves if self._passes(one, move, then, at, value))
        if not found.issuperset(possible):
            found |= self._allowed_by_earlier(possible, earlier, logged, at, value)
        return found

    def _allowed_by_earlier(
        self, possible: set[Possibility], earlier: Earlier, logged: Logged, at: int, value: FactValue
    ) -> set[Possibility]:
        """Those to which the move before may have led while the fact had the value."""
        if earlier is None:
            return possible
        around = self._states.silently(earlier, logged)
        played = [one for one in around if isinstance(one.state, State)]
        if any(self._has_about_now(one, at, value) for one in played):
            return possible
        # Somebody may have reached an ending that was not logged, and played on.
        start = self._states.flow.start.level if len(played) < len(around) else ""
        return {one for one in possible if left(one.state).place == start}

    def _has_about_now(self, one: Possibility, at: int, value: FactValue, logged: Logged | None = None) -> bool:
        """Whether the fact has the value now, or in the course of some next move; of those that are ``logged`` only, if
        that is given."""
        state = one.state
        if left(state).facts[at] == value or one.owed:  # an arrival that is to be logged comes before any move
            return left(state).facts[at] == value
        if isinstance(state, Over):
            again = self._rules.quit(state.left)
            return again is not None and again.facts[at] == value
        moves = self._states.moves_in(state)
        taken = ((move, after) for move, after in moves if logged is None or move.kind in logged)
        return any(facts[at] == value for move, after in taken for facts in self._trail(state, move, after))

    def _passes(self, one: Possibility, move: Move, then: Possibility, at: int, value: FactValue) -> bool:
        """Whether the fact has the value before a move, or in the course of it."""
        state = one.state
        assert isinstance(state, State)
        after = Ended(then.state.ending) if isinstance(then.state, Over) else then.state
        return state.facts[at] == value or any(facts[at] == value for facts in self._trail(state, move, after))

    def _trail(self, state: State, move: Move, after: State | Ended) -> Iterator[Facts]:
        """The facts after each single effect of a move."""
        level, facts = self._rules.levels[state.place], state.facts
        changes: tuple[Change, ...] = ()
        if move.kind == "exit":
            changes = self._rules.exit(move).changes
        elif move.kind == "deed":
            changes = next(deed.changes for deed in level.deeds if deed.source.id == move.thing)
        for change in changes:
            facts = change(facts)
            yield facts
        if isinstance(after, State):
            if move.kind in ("exit", "tile"):
                facts = self._rules.before_arrival(facts)
                for change in self._rules.levels[after.place].on_arrival:
                    facts = change(facts)
                    yield facts
            yield after.facts
