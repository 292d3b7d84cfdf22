"""That nobody gets stuck and nothing can be missed, shown from below.

For every rest of a state that can be come to (all that does not grow) a set of growing parts is worked out that every
state with that rest surely has: what all ways into it have in common. The state with exactly that much, the *poorest
bound*, need not be one that can be come to. But whatever can be done from it can be done from every state above it
(see :mod:`mossy_bridge.reach.growing`); so if an ending can be come to from each poorest bound, nobody is stuck, and
what can still be come to from it cannot have been lost. The answers here are *no* with this proof, or not known.
"""

from collections import deque
from collections.abc import Iterable, Iterator
from functools import reduce
from operator import or_

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Ended, Move, State
from mossy_bridge.reach.graph import Stopper
from mossy_bridge.reach.missing import Thing
from mossy_bridge.reach.richest import Rest, Richest
from mossy_bridge.reach.tracking import Tracking


class Step:
    """A move between rests: made in some richest state, so perhaps in others too."""

    __slots__ = ("fresh", "move", "target")

    def __init__(self, move: Move, target: Rest | None, fresh: bool):
        self.move, self.target, self.fresh = move, target, fresh


class Poorest:
    """The poorest bounds of one flow, and what follows from them."""

    def __init__(self, rules: Rules, tracking: Tracking, richest: Richest, stop: Stopper):
        self._rules, self._tracking, self._richest, self._stop = rules, tracking, richest, stop
        self._split = richest.splitting.split
        self._fresh = {(lv.id, e.id) for lv in rules.flow.levels for e in lv.exits if e.fresh}
        self.steps: dict[Rest, list[Step]] = {}
        self.bound: dict[Rest, int] = {}
        self.forced: dict[Rest, Rest] = {}
        self.sure: dict[Rest, list[Step]] = {}
        """The moves that every state with the rest can make, or has no need of any more."""
        self._asked: dict[Move, int] = {}
        self._before: dict[Rest, list[Rest]] = {}
        self.complete = richest.complete and self._gather() and self._bind()

    # -- steps and bounds ------------------------------------------------------------------------------

    def _gather(self) -> bool:
        for number, (rest, sets) in enumerate(self._richest.best.items()):
            if number % 32 == 0 and self._stop():
                return False
            found: dict[tuple[Move, Rest | None], Step] = {}
            for bits in sets:
                for step in self._steps(self._richest.splitting.joined(rest, bits)):
                    found[step.move, step.target] = step
            self.steps[rest] = list(found.values())
        return True

    def _steps(self, state: State) -> Iterator[Step]:
        forced = self._rules.sprung(state)
        for move, after in self._rules.moves(state):
            fresh = move.kind == "exit" and (move.level, move.thing) in self._fresh
            target = None if isinstance(after, Ended) else self._split(self._tracking.blanked(after))[0]
            if forced and target is not None:
                self.forced[self._split(state)[0]] = target
            yield Step(move, target, fresh)

    def _bind(self) -> bool:
        """The greatest sets that agree with every way in: a fixpoint from above."""
        start = self._rules.begin()
        if start is None:
            return False
        rest, bits = self._split(self._tracking.blanked(start))
        self.bound = {rest: bits}
        waiting = deque([rest])
        looked_at = 0
        while waiting:
            looked_at += 1
            if looked_at % 64 == 0 and self._stop():
                return False
            here = waiting.popleft()
            for step in self.steps.get(here, ()):
                if step.target is None:
                    continue
                poor = self._richest.splitting.joined(here, self.bound[here] | self._needed(step.move))
                after = self._split(self._tracking.blanked(self._made(step.move, poor)))[1]
                known = self.bound.get(step.target)
                new = after if known is None else known & after
                if new != known:
                    self.bound[step.target] = new
                    waiting.append(step.target)
        for rest, bits in self.bound.items():
            self.sure[rest] = list(self._steps(self._richest.splitting.joined(rest, bits)))
            for step in self.sure[rest]:
                if step.target is not None and not step.fresh:
                    self._before.setdefault(step.target, []).append(rest)
        return True

    def _needed(self, move: Move) -> int:
        """What everybody who makes the move surely has: what its conditions ask for."""
        if move not in self._asked:
            level = self._rules.levels[move.level]
            texts: list[str] = []
            if move.kind == "exit":
                exit_ = next(exit_.source for exit_ in level.exits if exit_.source.id == move.thing)
                texts += [exit_.trigger.when, exit_.opens]
                if exit_.to and exit_.to.kind == "level":
                    texts.append(self._rules.levels[exit_.to.level].source.opens)
            elif move.kind == "deed":
                texts += [deed.source.when for deed in level.deeds if deed.source.id == move.thing]
            elif move.kind == "tile":
                texts.append(self._rules.levels[level.tiles[move.thing].level].source.opens)
            self._asked[move] = reduce(or_, map(self._richest.splitting.surely, texts), 0)
        return self._asked[move]

    def _made(self, move: Move, state: State) -> State:
        """The state after a move, whether or not its conditions hold in this poor state."""
        rules, level = self._rules, self._rules.levels[state.place]
        if move.kind == "path":
            return state._replace(zone=move.end, arrived=False)
        if move.kind == "deed":
            return rules.do(next(deed for deed in level.deeds if deed.source.id == move.thing), state)
        if move.kind == "tile":
            return rules.arrive(state, rules.tile_landing(level.tiles[move.thing]))
        after = rules.fire(next(exit_ for exit_ in level.exits if exit_.source.id == move.thing), state)
        assert isinstance(after, State)
        return after

    # -- what follows ----------------------------------------------------------------------------------

    def _judged(self) -> Iterable[Rest]:
        return (rest for rest in self.bound if self._rules.levels[rest[0]].source.kind == "play")

    def nobody_stuck(self, some_ending: bool) -> bool:
        """Whether it is shown that no state is stuck."""
        if not self.complete or any(self._may_be_dead(rest) for rest in self.bound):
            return False
        if not some_ending:
            return True
        fine = self._backwards({r for r, steps in self.sure.items() if any(s.target is None for s in steps)})
        for rest in self._judged():
            if rest not in fine:
                if not self._leads_to(rest, fine):
                    return False
                fine |= self._backwards({rest})
        return True

    def _may_be_dead(self, rest: Rest) -> bool:
        """Whether some state with the rest may be on a screen or board without any move."""
        lasting = any(s.move.kind != "deed" or not self._may_be_spent(s.move) for s in self.sure[rest])
        if lasting or self._rules.levels[rest[0]].source.kind == "play":
            return False
        return not self._rules.resume_open(self._richest.splitting.joined(rest, self.bound[rest]))

    def _may_be_spent(self, move: Move) -> bool:
        """Whether a deed that the poorest can do may have been done already in a richer state."""
        return (move.level, move.thing) in self._richest.splitting.parts.deeds

    def _backwards(self, goals: set[Rest]) -> set[Rest]:
        """Every rest from which sure moves lead to one of the goals in the same run."""
        found, waiting = set(goals), list(goals)
        while waiting:
            for rest in self._before.get(waiting.pop(), ()):
                if rest not in found:
                    found.add(rest)
                    waiting.append(rest)
        return found

    def _leads_to(self, rest: Rest, fine: set[Rest]) -> bool:
        """Whether from the poorest bound, gathering what it can, an ending or a fine rest is come to."""
        for here, _, step in self._onward(rest):
            if step is not None and step.target is None:
                return True
            if here in fine:
                return True
        return False

    def _onward(self, rest: Rest) -> Iterator[tuple[Rest, int, Step | None]]:
        """Everything done from the poorest bound in the same run: the rests come to, and the moves made."""
        best: dict[Rest, list[int]] = {rest: [self.bound[rest]]}
        waiting = [(rest, self.bound[rest])]
        looked_at = 0
        while waiting:
            looked_at += 1
            if looked_at % 64 == 0 and self._stop():
                return
            here, bits = waiting.pop()
            if bits not in best[here]:
                continue
            yield here, bits, None
            state = self._richest.splitting.joined(here, bits)
            for move, after in self._rules.moves(state):
                fresh = move.kind == "exit" and (move.level, move.thing) in self._fresh
                if isinstance(after, Ended):
                    yield here, bits, Step(move, None, fresh)
                    continue
                if fresh:
                    continue
                there, more = self._split(self._tracking.blanked(after))
                yield here, bits, Step(move, there, fresh)
                others = best.setdefault(there, [])
                if not any(more | other == other for other in others):
                    best[there] = [other for other in others if other | more != more] + [more]
                    waiting.append((there, more))

    def nothing_loops(self) -> bool:
        """Whether it is shown that forced firing never goes in a circle."""
        if not self.complete:
            return False
        finished: set[Rest] = set()
        for start in self.forced:
            trail: set[Rest] = set()
            here: Rest | None = start
            while here is not None and here not in finished:
                if here in trail:
                    return False
                trail.add(here)
                here = self.forced.get(here)
            finished |= trail
        return True

    def never_missed(self) -> set[Thing]:
        """The levels and deeds that are shown never to be missed: wherever one may still be open, it can still
        be come to."""
        if not self.complete:
            return set()
        ghosts = Ghosts(self._rules.flow)
        maybe_open = ghosts.maybe_open(self.steps, next(iter(self.bound)))
        lost = 0
        done: dict[Rest, int] = {}
        for rest in self._judged():
            wanted = maybe_open[rest] & ~lost
            near = done.get(rest, 0)
            if wanted & ~near:
                possible = 0
                for here, _, step in self._onward(rest):
                    possible |= ghosts.at(here, step)
                if self._stop():
                    return set()
                for here in self._backwards({rest}):
                    done[here] = done.get(here, 0) | possible
                near = possible
            lost |= wanted & ~near
        return {thing for thing in ghosts.things if not lost & ghosts.bit[thing]}


class Ghosts:
    """Which levels may be unseen and which deeds undone, though no condition asks."""

    def __init__(self, flow: Flow):
        deeds = [(lv.id, deed.id) for lv in flow.levels for deed in lv.deeds if deed.repeats == "run"]
        self.things: list[Thing] = [*(level.id for level in flow.levels), *deeds]
        self.bit: dict[Thing, int] = {thing: 1 << index for index, thing in enumerate(self.things)}
        self._all = (1 << len(self.things)) - 1
        levels = (1 << len(flow.levels)) - 1
        self._afresh = self._all if flow.progress == "run" else self._all & ~levels

    def at(self, rest: Rest, step: Step | None) -> int:
        """What being somewhere, and making a move, come to."""
        bits = self.bit[rest[0]]
        if step is not None and step.move.kind == "deed":
            bits |= self.bit.get((step.move.level, step.move.thing), 0)
        return bits

    def maybe_open(self, steps: dict[Rest, list[Step]], start: Rest) -> dict[Rest, int]:
        """For each rest what some way into it may have left open: a fixpoint from below, over more ways than
        there may be."""
        found = {start: self._all & ~self.bit[start[0]]}
        waiting = deque([start])
        while waiting:
            here = waiting.popleft()
            for step in steps.get(here, ()):
                if step.target is None:
                    continue
                bits = found[here] | (self._afresh if step.fresh else 0)
                if step.move.kind == "deed":
                    bits &= ~self.bit.get((step.move.level, step.move.thing), 0)
                elif step.move.kind != "path":
                    bits &= ~self.bit[step.target[0]]
                known = found.get(step.target)
                if known is None or bits & ~known:
                    found[step.target] = bits | (known or 0)
                    waiting.append(step.target)
        return found
