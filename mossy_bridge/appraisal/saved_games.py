"""Saved games of one version of a flow, resumed in another: which no longer can be, or leave the player stuck."""

from collections.abc import Callable, Iterable, Iterator
from typing import Literal

from msgspec import Struct

from mossy_bridge.language.evaluation import FactValue
from mossy_bridge.model.flow import Fact
from mossy_bridge.play.destinations import Landing
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import NOTHING_REWINDS, Ended, Move, Origin, RewindPoint, Saved, State
from mossy_bridge.reach.queries.sample_routes import sample_routes
from mossy_bridge.reach.survey.result import Survey
from mossy_bridge.reach.survey.verdicts import Route

MOST_STATES = 20_000
"""So many states of each version are looked at one by one."""
Resumes = Literal["yes", "no", "unknown"]
Why = Literal["", "gone", "does not ship", "stuck"]


class SavedGame(Struct, frozen=True):
    """Saved games with one respawn point, and whether all of them can be resumed."""

    level: str
    respawn: str
    resumes: Resumes
    why: Why = ""
    route: Route = ()
    """A route in the old version after which such a game is saved."""


def saved_games(old: Survey, new: Survey, cancelled: Callable[[], bool] = lambda: False) -> list[SavedGame]:
    """For each level and respawn point in which the old version can save, whether the new one resumes what was saved
    there; exact where the old one's states are few enough to be looked at one by one, else by the shortest, fullest and
    poorest routes, of which one that fails is enough."""
    if old.flow.saving == "never":
        return []
    games = _Games(old, cancelled)
    carrying = _Carrying(games.rules, Rules(new.flow))
    at: dict[tuple[str, str], dict[Saved, Route]] = {}
    for saved, route in games.saved.items():
        at.setdefault((saved.level, saved.respawn), {})[saved] = route
    before = _Endings(games.rules, (_resumed(games.rules, saved) for saved in games.saved), cancelled)
    carried = {saved: carrying.carried(saved) for saved in games.saved}
    resumed = {saved: _resumed(carrying.new, game) for saved, game in carried.items() if isinstance(game, Saved)}
    after = _Endings(carrying.new, resumed.values(), cancelled)

    def judged(saved: Saved) -> tuple[Resumes, Why]:
        game = carried[saved]
        if not isinstance(game, Saved):
            return "no", game
        ends = after.ends(resumed[saved])
        if new.some_ending and ends == "no" and before.ends(_resumed(games.rules, saved)) == "yes":
            return "no", "stuck"
        return ("unknown" if ends == "unknown" else "yes"), ""

    return [_summed_up(place, [(judged(saved), route) for saved, route in found.items()], games.complete)
            for place, found in at.items()]  # fmt: skip


def _summed_up(place: tuple[str, str], found: list[tuple[tuple[Resumes, Why], Route]], complete: bool) -> SavedGame:
    """The worst of the games saved at one place."""
    for (resumes, why), route in found:
        if resumes == "no":
            return SavedGame(*place, resumes, why, route)
    known = complete and all(answer == "yes" for (answer, _), _ in found)
    return SavedGame(*place, "yes" if known else "unknown", route=found[0][1])


class _Games:
    """The games that can be saved, each with a route after which it is."""

    def __init__(self, survey: Survey, cancelled: Callable[[], bool]):
        self.rules = Rules(survey.flow, resuming=True)
        self._cancelled = cancelled
        self.saved: dict[Saved, Route] = {}
        self._came: dict[State, tuple[State | None, Move | None]] = {}
        """For each state the one before it, and the move between."""
        self.complete = self._explore()
        if not self.complete:
            for level in survey.flow.levels:
                for route in sample_routes(survey, level.id).values():
                    self._follow(route)

    def _explore(self) -> bool:
        """Looks at all states; whether there were not too many."""
        waiting: list[State] = []

        def reach(after: State, before: State | None, move: Move | None) -> None:
            self._note(after.saved, before, move)
            bare = after._replace(saved=None)
            if bare not in self._came:
                self._came[bare] = before, move
                waiting.append(bare)

        begun = self.rules.begin()
        if begun is not None:
            reach(begun, None, None)
        for state in waiting:  # grows on the way: breadth first
            if len(self._came) > MOST_STATES or self._cancelled():
                return False
            for move, after in self.rules.moves(state):
                if isinstance(after, State):
                    reach(after, state, move)
        return True

    def _note(self, saved: Saved | None, before: State | None, move: Move | None) -> None:
        """Notes a saved game with the route to it."""
        if saved is None or saved in self.saved:
            return
        moves = [move] if move else []
        while before is not None:
            before, made = self._came[before]
            moves += [made] if made else []
        self.saved[saved] = tuple(reversed(moves))

    def _follow(self, route: Route) -> None:
        state = self.rules.begin()
        for number, move in enumerate(route):
            after = next((after for made, after in self.rules.moves(state) if made == move), None) if state else None
            if not isinstance(after, State):
                return
            if after.saved is not None:
                self.saved.setdefault(after.saved, route[: number + 1])
            state = after._replace(saved=None)


def _resumed(rules: Rules, saved: Saved) -> State:
    """The state in which a saved game is resumed."""
    state = State("", "", saved.facts, saved.seen, saved.done, saved.spent, "", saved.origin, True)
    return rules.arrive(state, Landing(saved.level, saved.respawn))._replace(saved=None)


class _Carrying:
    """Carries saved games over to the new version."""

    def __init__(self, old: Rules, new: Rules):
        self.new = new
        self._places = {fact.id: at for at, fact in enumerate(old.flow.facts)}
        self._old_facts = {fact.id: fact for fact in old.flow.facts}
        self._rewinding = [fact.id for fact in old.flow.facts if fact.rewinds]
        self._levels = {level.id: level for level in new.flow.levels}
        self._deeds = {(level.id, deed.id) for level in new.flow.levels for deed in level.deeds}

    def carried(self, saved: Saved) -> Saved | Why:
        """The saved game as the new version takes it; why it cannot."""
        level = self._levels.get(saved.level)
        if level is None or not (saved.respawn == "" or any(spawn.id == saved.respawn for spawn in level.spawns)):
            return "gone"
        if not level.ships:
            return "does not ship"
        facts = tuple(self._value(fact, self._had(fact, saved.facts)) for fact in self.new.flow.facts)
        known = frozenset(self._levels)
        seen, done = saved.seen & known, saved.done & known
        origin = self._origin(saved.origin)
        return Saved(saved.level, saved.respawn, facts, seen, done, saved.spent & self._deeds, origin)

    def _had(self, fact: Fact, facts: tuple[FactValue, ...]) -> FactValue | None:
        """What a fact was; None where it was not the same kind of thing."""
        before = self._old_facts.get(fact.id)
        if before is None or (before.kind, before.lifetime) != (fact.kind, fact.lifetime):
            return None
        return facts[self._places[fact.id]]

    def _value(self, fact: Fact, had: FactValue | None) -> FactValue:
        if had is None or (fact.kind == "choice" and had not in fact.values):
            return fact.first
        return max(fact.low, min(int(had), fact.high)) if fact.kind == "count" else had

    def _origin(self, origin: Origin | None) -> Origin | None:
        level = self._levels.get(origin.level) if origin else None
        if origin is None or level is None or (origin.respawn and level.spawn(origin.respawn) is None):
            return None
        had = dict(zip(self._rewinding, origin.rewind_point.facts, strict=True))
        facts = tuple(self._value(fact, self._had_at_point(fact, had)) for fact in self.new.flow.facts if fact.rewinds)
        spent = origin.rewind_point.spent & self._deeds & self.new.rewinding.redone
        return Origin(origin.level, origin.respawn, RewindPoint(facts, spent) if facts else NOTHING_REWINDS)

    def _had_at_point(self, fact: Fact, had: dict[str, FactValue]) -> FactValue | None:
        before = self._old_facts.get(fact.id)
        alike = before is not None and (before.kind, before.lifetime) == (fact.kind, fact.lifetime)
        return had.get(fact.id) if alike else None


class _Endings:
    """From which of some states, and of all that follow from them, an ending is reachable without beginning a new
    run."""

    def __init__(self, rules: Rules, states: Iterable[State], cancelled: Callable[[], bool]):
        self._rules = rules
        before: dict[State, list[State]] = {}
        ending: list[State] = []
        waiting = list(dict.fromkeys(states))
        before.update({state: [] for state in waiting})
        self._complete = True
        for state in waiting:  # grows on the way
            if len(before) > MOST_STATES or cancelled():
                self._complete = False
                break
            for after in self._nexts(state):
                if isinstance(after, Ended):
                    ending.append(state)
                elif after not in before:
                    before[after] = [state]
                    waiting.append(after)
                else:
                    before[after].append(state)
        self._ending: set[State] = set()
        while ending:
            state = ending.pop()
            if state not in self._ending:
                self._ending.add(state)
                ending.extend(before[state])

    def _nexts(self, state: State) -> Iterator[State | Ended]:
        """What moves lead to, but for those into a new run."""
        for move, after in self._rules.moves(state):
            fresh = move.kind == "exit" and self._rules.exit(move).source.fresh
            if isinstance(after, Ended):
                yield after
            elif not fresh:
                yield after._replace(saved=None)

    def ends(self, state: State) -> Resumes:
        """Whether an ending is reachable; on screens and boards that is not asked."""
        if state in self._ending or self._rules.levels[state.place].source.kind != "play":
            return "yes"
        if not self._complete:
            return "unknown"
        return "no"
