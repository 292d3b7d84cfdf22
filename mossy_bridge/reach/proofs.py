"""What can be said of a flow whose states are too many to look at each: what is come to at all, by the richest
states, and that nobody gets stuck, nothing is missed and nothing loops, by the poorest bounds."""

from collections.abc import Iterator

from mossy_bridge.model.flow import Path, Promise
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move, State
from mossy_bridge.reach.graph import Stopper
from mossy_bridge.reach.growing import growing
from mossy_bridge.reach.missing import Thing
from mossy_bridge.reach.poorest import Poorest
from mossy_bridge.reach.richest import richest
from mossy_bridge.reach.tracking import Tracking

Route = tuple[Move, ...]


class Proofs:
    """Answers without looking at every state. Where ``complete``, what has no route here can not be come to."""

    def __init__(self, rules: Rules, tracking: Tracking, stop: Stopper):
        self._rules = rules
        self._parts = growing(rules)
        self._found = richest(rules, tracking, self._parts, stop)
        self.complete = self._found.complete
        poorest = Poorest(rules, tracking, self._found, stop)
        self.nobody_stuck = poorest.nobody_stuck(bool(self._found.ended))
        self.nothing_loops = poorest.nothing_loops()
        self.never_missed: set[Thing] = poorest.never_missed()

    @property
    def states(self) -> int:
        """How many states were kept."""
        return len(self._found.states)

    def _kept(self, level: str) -> Iterator[tuple[int, State]]:
        """The states of a level that no other surpasses."""
        best, split = self._found.best, self._found.splitting.split
        for number, state in enumerate(self._found.states):
            if state.place == level:
                rest, bits = split(state)
                if bits in best[rest]:
                    yield number, state

    def to_level(self, level: str) -> Route | None:
        """A route into the level."""
        number = self._found.entered.get(level)
        return None if number is None else tuple(self._found.route(number))

    def by_move(self, move: Move) -> Route | None:
        """A route that ends with the move."""
        number = self._found.moved.get(move)
        return None if number is None else (*self._found.route(number), move)

    def to_ending(self, ending: str) -> Route | None:
        """A route into the ending."""
        found = self._found.ended.get(ending)
        return None if found is None else (*self._found.route(found[0]), found[1])

    def by_path(self, level: str, path: Path) -> Route | None:
        """A route that ends with walking one path, told from others between the same zones by its condition."""
        if not {path.start, path.end} <= {zone.id for zone in self._rules.levels[level].source.zones}:
            return None
        holds = self._rules.words.test(path.when)
        for number, state in self._kept(level):
            if self._rules.sprung(state) is not None or not holds(state):
                continue
            ends = {path.start: path.end, **({path.end: path.start} if path.both_ways else {})}
            if state.zone in ends:
                return (*self._found.route(number), Move("path", level, state.zone, ends[state.zone]))
        return None

    def holds_somewhere(self, level: str, condition: str) -> bool:
        """Whether a condition written in some level holds in a state of this level. Exact where complete, for
        such conditions only ever ask for what grows."""
        holds = self._rules.words.test(condition)
        return any(holds(state) for _, state in self._kept(level))

    def promised(self, promise: Promise) -> Route | bool | None:
        """For promises about what can be come to: a route there, None where there is none; False where this
        cannot be said."""
        if promise.kind not in ("can", "never") or promise.avoiding or not self._parts.asks_for(promise.when):
            return False
        holds = self._rules.words.test(promise.when)
        for number, state in self._kept(promise.level) if promise.level else ():
            if holds(state):
                return tuple(self._found.route(number))
        if promise.ending:
            return False
        return None
