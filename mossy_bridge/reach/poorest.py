"""What everybody has at least, and that nothing can be missed, shown from it.

For every rest of a state that can be come to (all that does not grow) a set of growing parts is worked out that every
state with that rest surely has: what all ways into it have in common. The state with exactly that much, the *poorest
bound*, need not be one that can be come to. But whatever can be done from it can be done from every state above it
(see :mod:`mossy_bridge.reach.growing`); so if an ending can be come to from each poorest bound, nobody is stuck, and
what can still be come to from it cannot have been lost. The answers here are *no* with this proof, or not known.
"""

from collections import deque
from collections.abc import Iterable, Iterator, Mapping
from functools import cached_property
from heapq import heappop, heappush
from itertools import count

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.effects import done
from mossy_bridge.reach.growing import Growing
from mossy_bridge.reach.joining import Joined
from mossy_bridge.reach.machine import ENDING, Row, Stopper
from mossy_bridge.reach.richest import Rest, Richest, gaining
from mossy_bridge.reach.tallies import Tallies, single

Step = tuple[int, Rest | None]
"""A row of the machine between rests: used in some richest state, so perhaps in others too. None where it leads into
an ending."""


class Poorest:
    """The poorest bounds of one flow, and what follows from them."""

    def __init__(self, machine: Joined, parts: Growing, richest: Richest, stop: Stopper):
        self._machine, self._parts, self._richest, self._stop = machine, parts, richest, stop
        self._moves, self._rows = machine.moves, machine.rows
        self._tallies = Tallies(machine, parts.bits)
        self._done = sum(bit for deed, bit in machine.layout.spent.items() if deed in parts.deeds)
        """The bits that say that a growing deed has been done."""
        self.steps: dict[Rest, list[Step]] = {}
        self.bound: dict[Rest, int] = {}
        self.forced: dict[Rest, Rest] = {}
        self.sure: dict[Rest, list[Step]] = {}
        """The moves that every state with the rest can make, or has no need of any more."""
        self._before: dict[Rest, list[Rest]] = {}
        self.complete = richest.complete and self._gather() and self._bind()

    # -- steps and bounds ------------------------------------------------------------------------------

    def _gather(self) -> bool:
        for number, (rest, sets) in enumerate(self._richest.best.items()):
            if number % 64 == 0 and self._stop():
                return False
            # with every deed undone, for a poorer state may still do those that the richest have done
            steps = (step for bits in sets for step in self._steps(rest, bits & ~self._done))
            found = [step for step in dict.fromkeys(steps) if step[1] is None or step[1] in self._richest.best]
            for row, target in found:
                if target is not None and self._rows[row].sprung:
                    self.forced[rest] = target
            self.steps[rest] = found
        return True

    def _steps(self, rest: Rest, bits: int) -> Iterator[Step]:
        for row, control, word in self._moves(rest[0], rest[1] | bits):
            target = None if control == ENDING else (control, word & ~self._parts.bits)
            yield row, target

    def _bind(self) -> bool:
        """The greatest sets that agree with every way in: a fixpoint from above."""
        start = self._machine.start
        if start is None:
            return False
        rest, bits = self._richest.split(*start)
        self.bound = {rest: bits}
        waiting = deque([rest])
        looked_at = 0
        while waiting:
            looked_at += 1
            if looked_at % 64 == 0 and self._stop():
                return False
            here = waiting.popleft()
            for row, target in self.steps.get(here, ()):
                if target is None:
                    continue
                # who makes the move surely has what its conditions ask for
                poor = here[1] | self.bound[here] | self._rows[row].asks.sure() & self._parts.bits
                after = done(self._rows[row].does, poor) & self._parts.bits
                known = self.bound.get(target)
                new = after if known is None else known & after
                if new != known:
                    self.bound[target] = new
                    waiting.append(target)
        for rest, bits in self.bound.items():
            self.sure[rest] = list(self._steps(rest, bits))
            for row, target in self.sure[rest]:
                if target is not None and not self._rows[row].fresh:
                    self._before.setdefault(target, []).append(rest)
        return True

    # -- what follows ----------------------------------------------------------------------------------

    def judged(self) -> Iterable[Rest]:
        """The rests in play levels."""
        return (rest for rest in self.bound if self._is_play(rest))

    def _is_play(self, rest: Rest) -> bool:
        return self._machine.in_play[rest[0]]

    @cached_property
    def fine(self) -> set[Rest]:
        """The rests from which, as the poorest bound shows, an ending can be come to in the same run."""
        if not self.complete:
            return set()
        found = self._backwards({r for r, steps in self.sure.items() if any(target is None for _, target in steps)})
        tries = iter(range(self._machine.limits.lower_bound_moves))
        for rest in self._last_first():
            if rest not in found and self._leads_to(rest, found, tries):
                found |= self._backwards({rest})
        return found

    def _last_first(self) -> Iterator[Rest]:
        """The start, to which many places lead back; then those last come to, mostly nearest to an ending."""
        yield next(iter(self.bound))
        yield from reversed(self.bound)

    def _leads_to(self, rest: Rest, fine: set[Rest], tries: Iterator[int]) -> bool:
        """Whether from the poorest bound, gathering what it can, an ending or a fine rest is come to."""
        for _, (here, step) in zip(tries, self._onward(rest, self.bound[rest]), strict=False):
            if here in fine or (step is not None and step[1] is None):
                return True
        return False

    def no_dead_screen(self) -> bool:
        """Whether it is shown that no state on a screen or board is without any move."""
        return self.complete and not any(self._may_be_dead(rest) for rest in self.bound)

    def _may_be_dead(self, rest: Rest) -> bool:
        """Whether some state with the rest may be on a screen or board without any move."""
        lasting = any(not self._may_be_spent(self._rows[row]) for row, _ in self.sure[rest])
        if lasting or self._machine.lasting[rest[0]] or self._is_play(rest):
            return False
        (control,) = self._machine.members[rest[0]]
        poorest = self._machine.machine.state(control, rest[1] | self.bound[rest])
        return not self._machine.rules.resume_open(poorest)

    def _may_be_spent(self, row: Row) -> bool:
        """Whether a move that the poorest can make may be a deed that a richer state has done already."""
        return row.move.kind == "deed" and (row.move.level, row.move.thing) in self._parts.deeds

    def _backwards(self, goals: set[Rest]) -> set[Rest]:
        """Every rest from which sure moves lead to one of the goals in the same run."""
        found, waiting = set(goals), list(goals)
        while waiting:
            for rest in self._before.get(waiting.pop(), ()):
                if rest not in found:
                    found.add(rest)
                    waiting.append(rest)
        return found

    def _onward(self, rest: Rest, begun: int) -> Iterator[tuple[Rest, Step | None]]:
        """Everything done from a rest in the same run by whoever has some growing bits at least: the rests come to, and
        the moves made. Bits that only deeds could have brought are not begun with unless the deeds are among them."""
        begun = self._tallies.told(rest[1] | begun) & self._parts.bits
        best: dict[Rest, list[int]] = {}
        order = count()
        waiting: list[tuple[int, int, int, Rest]] = []  # the richest first, so that most poorer ones are never touched

        def note(there: Rest, bits: int) -> None:
            others = best.setdefault(there, [])
            if not any(bits | other == other for other in others):
                best[there] = [other for other in others if other | bits != bits] + [bits]
                heappush(waiting, (-bits.bit_count(), next(order), bits, there))

        note(rest, begun)
        looked_at = 0
        while waiting:
            looked_at += 1
            if looked_at % 64 == 0 and self._stop():
                return
            _, _, bits, here = heappop(waiting)
            if bits not in best[here]:
                continue
            yield here, None
            group, word = here[0], here[1] | bits
            moves = self._moves(group, word)
            gains = gaining(self._machine, self._parts.bits, (group, word), moves)
            for row, _ in gains:
                yield here, (row, here)
            if gains:
                note(here, gains[-1][1] & self._parts.bits)
                continue
            for row, target, after in moves:
                if target == ENDING:
                    yield here, (row, None)
                elif not self._rows[row].fresh:
                    there, more = self._richest.split(target, after)
                    yield here, (row, there)
                    note(there, more)

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

    def never_missed(self, least: Mapping[Rest, Iterable[int]] | None) -> set[Thing]:
        """The levels and deeds that are shown never to be missed: wherever one may still be open, it can still
        be come to. Who is stuck misses nothing more; ``least`` are the smallest sets of growing bits with which one is
        not, for rests from which the poorest bound does not come to an ending, if they are known."""
        if not self.complete:
            return set()
        ghosts = Ghosts(self._machine)
        lost = 0
        possible: dict[Rest, int] = {}
        """For rests from which the poorest bound comes to an ending, what everybody there can still come to."""
        start = next(iter(self.bound))
        if self.bound[start] == self._machine.start[1] & self._parts.bits and not self._richest.anew:  # type: ignore[index]
            # from there everything that is come to at all can be come to
            around = self._backwards({start})
            if all(rest in around for rest in self.judged()):
                return set(ghosts.things)
            everything = 0
            for rest in self._richest.best:
                everything |= ghosts.at(rest, None)
            for row in self._richest.used:
                everything |= ghosts.at(start, (row, None))
            possible = dict.fromkeys(around, everything)
        maybe_open = self._maybe_open(ghosts)
        for rest in filter(self._is_play, self._last_first()):
            wanted = maybe_open[rest] & ~lost & ~possible.get(rest, 0)
            wanted = wanted and wanted & ~ghosts.shown_by(rest[1] | self.bound[rest])
            if wanted:
                fine = least is None or rest in self.fine
                begun = [0] if least is None or fine else least[rest]
                for bits in [self.bound[rest] | more for more in begun]:
                    found = 0
                    for here, step in self._onward(rest, bits):
                        found |= ghosts.at(here, step) | possible.get(here, 0)
                        if not wanted & ~found:
                            break
                    lost |= wanted & ~found
                    if self._stop():
                        return set()
                if fine:
                    for here in self._backwards({rest}):
                        possible[here] = possible.get(here, 0) | found
        return {thing for thing in ghosts.things if not lost & ghosts.bit[thing]}

    def _maybe_open(self, ghosts: "Ghosts") -> dict[Rest, int]:
        """For each rest what some way into it may have left open. Which places of a group are passed on the way
        matters, so places are not joined."""
        machine = self._machine.machine
        steps: dict[Rest, list[Step]] = {}
        best = self._richest.best
        for (group, word), sets in best.items():
            for control in self._machine.members[group]:
                steps[control, word] = [
                    (row, None if target == ENDING else (target, after & ~self._parts.bits))
                    for bits in sets
                    for row, target, after in machine.moves(control, word | bits & ~self._done)
                    if target == ENDING or (self._machine.group[target], after & ~self._parts.bits) in best
                ]
        begun, first = machine.start  # type: ignore[misc]
        found: dict[Rest, int] = {}
        for (control, word), bits in ghosts.maybe_open(steps, (begun, first & ~self._parts.bits)).items():
            rest = self._machine.group[control], word
            found[rest] = found.get(rest, 0) | bits
        return found


class Ghosts:
    """Which levels may be unseen and which deeds undone, though no condition asks."""

    def __init__(self, joined: Joined):
        machine = joined.machine
        flow = machine.rules.flow
        deeds = [(lv.id, deed.id) for lv in flow.levels for deed in lv.deeds if deed.repeats == "run"]
        self.things: list[Thing] = [*(level.id for level in flow.levels), *deeds]
        self.bit: dict[Thing, int] = {thing: 1 << index for index, thing in enumerate(self.things)}
        self._all = (1 << len(self.things)) - 1
        levels = (1 << len(flow.levels)) - 1
        self._afresh = self._all if flow.progress == "run" else self._all & ~levels
        self._of_control = [self.bit[control.place] for control in machine.controls]
        self._of_group = [sum(self.bit[level] for level in levels) for levels in joined.levels]
        self._rows, self._joined_rows = machine.rows, joined.rows
        layout = machine.layout
        visited = {name: layout.seen.get(name, 0) | layout.done.get(name, 0) for name in layout.seen | layout.done}
        marks: dict[Thing, int] = visited | {deed: mark for deed, mark in layout.spent.items() if deed in self.bit}
        self._marks = {one: (mark, self.bit[thing]) for thing, mark in marks.items() for one in single(mark)}
        self._marking = sum(marks.values())
        self._last, self._shown = 0, 0
        """The word last asked about, and what it shows: the next one is mostly much like it."""

    def _deed(self, row: Row) -> int:
        return self.bit.get((row.move.level, row.move.thing), 0) if row.move.kind == "deed" else 0

    def shown_by(self, word: int) -> int:
        """The levels and deeds that a word itself says are not open any more."""
        for changed in single((word ^ self._last) & self._marking):
            mark, bit = self._marks[changed]
            self._shown = self._shown | bit if word & mark else self._shown & ~bit
        self._last = word
        return self._shown

    def at(self, rest: Rest, step: Step | None) -> int:
        """What being somewhere among joined places, and making a move, come to."""
        return self._of_group[rest[0]] | (self._deed(self._joined_rows[step[0]]) if step else 0)

    def maybe_open(self, steps: dict[Rest, list[Step]], start: Rest) -> dict[Rest, int]:
        """For each rest, places not joined, what some way into it may have left open: a fixpoint from below, over more
        ways than there may be."""
        found = {start: self._all & ~self._of_control[start[0]]}
        waiting = deque([start])
        while waiting:
            here = waiting.popleft()
            for number, target in steps.get(here, ()):
                if target is None:
                    continue
                row = self._rows[number]
                bits = (found[here] | (self._afresh if row.fresh else 0)) & ~self._deed(row)
                if row.crosses:
                    bits &= ~self._of_control[target[0]]
                known = found.get(target)
                if known is None or bits & ~known:
                    found[target] = bits | (known or 0)
                    waiting.append(target)
        return found
