"""Whether a flow can explain what was logged: session by session, event by event.

An event that no possible state allows is impossible, and everything is taken up again at the next arrival. Where the
states are too many the answer is unknown, which accuses nobody.
"""

from collections.abc import Callable
from typing import Literal

from msgspec import Struct

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.state import State
from mossy_bridge.play_logs.events import Event, PlaySession
from mossy_bridge.play_logs.impossible import WhyImpossible
from mossy_bridge.play_logs.possible_states import MOST_STATES, Over, Possibility, PossibleStates, TooMany, left
from mossy_bridge.play_logs.told_facts import ToldFacts

Answer = Literal["yes", "no", "unknown"]


class Impossible(Struct, frozen=True):
    """An event that no state allows."""

    event: Event
    level: str
    """Where the player was before, as far as that is known."""
    why: str


class Explained(Struct, frozen=True):
    """What a flow makes of a session: ``yes`` where it can explain all of it."""

    session: PlaySession
    answer: Answer
    impossible: tuple[Impossible, ...] = ()
    events: int = 0
    seconds: float = 0.0
    levels: tuple[str, ...] = ()
    """Where it arrived, in order."""


class Following:
    """One session while it goes on: takes its events in order, and knows what the flow makes of them so far."""

    def __init__(self, explainer: "Explainer", session: PlaySession, kept: frozenset[State] | None):
        self.session = session
        self._states, self._told_facts, self._why = explainer.states, explainer.told_facts, explainer.why
        self._possible: set[Possibility] = set()
        self._before: tuple[set[Possibility] | None, set[Possibility] | None] = None, None
        """How things could stand before the latest two events, for a move may be logged with its arrival behind it;
        None where that is not known, as before a game has begun."""
        self._given_up = False
        """Whether there are too many states to go on."""
        self._lost = False
        """Whether nothing is known of where the player is, until the next arrival."""
        self._impossible: list[Impossible] = []
        self._events, self._seconds = 0, 0.0
        self._levels: list[str] = []
        try:
            self._possible = self._begun(kept)
        except TooMany:
            self._given_up = True

    def _begun(self, kept: frozenset[State] | None) -> set[Possibility]:
        """How things can stand when the session begins."""
        states, session = self._states, self.session
        if session.new or (kept is None and not states.lasts()):
            return states.fresh(session.logged)
        before = states.reachable() if kept is None else kept
        fresh = states.fresh(session.logged) if kept is None else set()
        return states.after_quitting(before, session.logged) | fresh

    @property
    def answer(self) -> Answer:
        """What the flow makes of it so far."""
        return "no" if self._impossible else "unknown" if self._given_up else "yes"

    @property
    def lasting(self) -> frozenset[State] | None:
        """The states it may have come to; None where they are not known."""
        unknown = self._given_up or self._lost
        return None if unknown else frozenset(left(one_way.state) for one_way in self._possible)

    def take(self, event: Event) -> Impossible | None:
        """Takes the next event; tells where it is impossible."""
        self._events += 1
        self._seconds = max(self._seconds, event.t)
        if event.kind == "arrive":
            self._levels.append(event.values["level"])
        if self._given_up or event.kind in ("at", "end"):
            return None
        try:
            return self._taken(event)
        except TooMany:
            self._given_up = True
            return None

    def _taken(self, event: Event) -> Impossible | None:
        if self._lost:
            self._take_up(event)
            return None
        after = self._after(event)
        if after:
            self._possible = after
            return None
        places = (one.state.place for one in self._possible if isinstance(one.state, State))
        wrong = Impossible(event, next(places, ""), self._why.why(event, self._possible))
        self._impossible.append(wrong)
        self._lost = True
        try:
            self._take_up(event)
        except TooMany:
            self._given_up = True
        return wrong

    def _after(self, event: Event) -> set[Possibility]:
        """How things can stand once an event has happened."""
        logged = self.session.logged
        if event.kind == "fact":
            first, second = self._before
            earlier = None if first is None or second is None else first | second
            return self._told_facts.after(event, self._possible, earlier, logged)
        begins = event.kind in ("quit", "resume") or any(isinstance(one.state, Over) for one in self._possible)
        follows = event.kind == "arrive" and "exit" in logged
        self._before = (None, None) if begins else (self._before[1] if follows else self._possible, self._possible)
        return self._states.after(event, self._possible, logged)

    def _take_up(self, event: Event) -> None:
        """Goes on from everything that can be so just after an arrival."""
        self._possible = self._states.just_arrived(event)
        self._before = None, None
        self._lost = not self._possible

    def explained(self) -> Explained:
        """What the flow makes of it so far, and where it led."""
        return Explained(self.session, self.answer, tuple(self._impossible), self._events, self._seconds,
                         tuple(self._levels))  # fmt: skip


class Explainer:
    """Explains sessions of one flow. Those of one player are given in the order in which they were played."""

    def __init__(self, flow: Flow, most: int = MOST_STATES, cancelled: Callable[[], bool] = lambda: False):
        self.states = PossibleStates(flow, most, cancelled)
        self.flow = self.states.flow
        self.told_facts, self.why = ToldFacts(self.states), WhyImpossible(self.states)
        self._kept: dict[str, frozenset[State] | None] = {}
        """What the latest session of each player may have left."""

    def follow(self, session: PlaySession) -> Following:
        """Begins to follow a session; :meth:`ended` is to be told when it is over."""
        return Following(self, session, self._kept.get(session.player) if session.player else None)

    def ended(self, following: Following) -> None:
        """A session is over: what its player's next one begins with is known."""
        player = following.session.player
        if player:
            self._kept[player] = following.lasting

    def explain(self, session: PlaySession) -> Explained:
        """What the flow makes of a session of which all events are kept."""
        following = self.follow(session)
        for event in session.events:
            following.take(event)
        self.ended(following)
        return following.explained()
