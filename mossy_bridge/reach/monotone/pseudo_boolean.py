"""Pseudo-Boolean constraints: *tallies*, counts that only deeds done once add to, so that these determine them.

*At least three bells* is then a linear inequality over Boolean variables, one for each deed. A deed that is done has
added its share already, and does not add it again. So the precondition of such a deed asks for less by its share, *that
deed not counted*: a need consists of thresholds, and of deeds that do not count towards them since they come later. Of
two needs the one that consists of fewer of both is easier to meet. (Three bells after ringing one need two others
before; if that one has been rung already, three are needed.)

A tally that rewinds is one tally for each of its copies, which the copies of its deeds determine; what copies the one
copies the other, and what does not count towards it.

A lower bound, put together from several states, may show more of a tally than its deeds do; :meth:`Tallies.consistent`
makes of it a state that there might be.
"""

from collections.abc import Iterator, Mapping
from itertools import combinations, count

from msgspec import Struct

from mossy_bridge.language.parsing import parse_effect
from mossy_bridge.play.state import DeedPlace
from mossy_bridge.reach.monotone.antichain import MinimalSets
from mossy_bridge.reach.system.state_vector import BITS, Field, VectorLayout
from mossy_bridge.reach.system.transition_system import TransitionSystem
from mossy_bridge.reach.system.updates import Copy, single_bits, weakest_precondition


class Share(Struct, frozen=True):
    """What a deed adds to a tally: the bit of its having been done, the steps, and the bit that says in a need that
    the deed does not count; 0 if its having been done is not monotone."""

    deed: int
    steps: int
    apart: int


class Tally(Struct, frozen=True):
    """A count that only deeds done once add to, the steps it begins with, and the shares of deeds."""

    field: Field
    begun: int
    shares: tuple[Share, ...]

    @property
    def apart(self) -> int:
        """All bits of deeds that do not count."""
        return sum(share.apart for share in self.shares)

    def bits(self, vector: int, apart: int = 0) -> int:
        """Its bits, as the deeds in a vector determine them, those ``apart`` not counted."""
        return self._steps(self.begun + sum(s.steps for s in self.shares if vector & s.deed and not apart & s.apart))

    def _steps(self, steps: int) -> int:
        return ((1 << min(steps, self.field.width)) - 1) << self.field.offset

    def without(self, vector: int, wanted: int, apart: int, most: int) -> list[int] | None:
        """The minimal hitting sets: sets of deeds, none of them done in a vector, such that without all of them the
        threshold cannot be met; None if more than ``most`` would have to be tried."""
        left = [share for share in self.shares if share.apart and not share.apart & apart and not share.deed & vector]
        had = self.begun + sum(s.steps for s in self.shares if vector & s.deed and not apart & s.apart)
        found = MinimalSets()
        tried = 0
        for size in range(len(left) + 1):
            if not wanted & ~self._steps(had + sum(sorted(share.steps for share in left)[: len(left) - size])):
                continue  # not even without those that add most
            for chosen in combinations(left, size):
                tried += 1
                if tried > most:
                    return None
                deeds = sum(share.deed for share in chosen)
                others = had + sum(share.steps for share in left if not share.deed & deeds)
                if wanted & ~self._steps(others):
                    found.add(deeds)
        return found.elements


class Tallies:
    """The tallies among the monotone bits of a flow, and what they are needed for."""

    def __init__(self, system: TransitionSystem, monotone: int):
        self._layout, self._transitions, self._monotone = system.layout, system.transitions, monotone
        self._most = system.limits.deed_sets
        flow, layout = system.rules.flow, system.layout
        fields = {
            name: field for name, field in layout.facts.items() if field.mask & monotone and field.coding == "unary"
        }
        shares: dict[str, dict[DeedPlace, int]] = {}
        for level in flow.levels:
            for deed in level.deeds if fields else ():
                place = level.id, deed.id
                counted = deed.repeats == "run" and place in layout.spent
                for effect in map(parse_effect, deed.effects) if counted else ():
                    if effect.verb == "add" and effect.fact in fields:
                        steps = shares.setdefault(effect.fact, {})
                        steps[place] = steps.get(place, 0) + effect.number
        free = count(layout.width * BITS)
        self._all: list[Tally] = []
        self._copies: list[list[Tally]] = []
        """The copies of each tally that rewinds."""
        for fact in flow.facts:
            found = []
            begun = fields[fact.id].bits(fact.first).bit_count() if fact.id in shares else 0
            for field, spent in _copies_of(fact.id, layout) if fact.id in shares else ():
                apart = (1 << next(free) if spent[place] & monotone else 0 for place in shares[fact.id])
                pairs = zip(shares[fact.id].items(), apart, strict=True)
                whole = tuple(Share(spent[place], steps, bit) for (place, steps), bit in pairs)
                found.append(Tally(field, begun, whole))
            self._all += found
            self._copies += [found] if len(found) > 1 else []
        self._whole: dict[Copy, Copy] = {}
        """Copying parts of updates that copy what does not count, too."""
        self.apart = sum(tally.apart for tally in self._all)
        """All bits that say in a need that a deed does not count; they lie above all others."""

    def consistent(self, vector: int) -> int:
        """The vector with every tally as the deeds in it determine."""
        vector &= ~self.apart
        for tally in self._all:
            vector = vector & ~tally.field.mask | tally.bits(vector)
        return vector

    def meets(self, vector: int, need: int) -> bool:
        """Whether a vector meets a need."""
        if need & self.apart:
            for tally in self._all:
                if need & tally.apart:
                    vector = vector & ~tally.field.mask | tally.bits(vector, need)
        return not need & ~self.apart & ~vector

    def missing_sets(self, vector: int, need: int) -> list[int] | None:
        """The minimal hitting sets of what a vector lacks of a need: it cannot be met without at least one bit of each;
        empty if it is met already; None where there are too many."""
        if self.meets(vector, need):
            return []
        found = []
        for tally in self._all if need & self.apart else ():
            wanted = need & tally.field.mask if need & tally.apart else 0
            need &= ~wanted
            if wanted & ~tally.bits(vector, need):
                more = tally.without(vector, wanted, need, self._most)
                if more is None:
                    return None
                found += more
        return found + list(single_bits(need & ~self.apart & ~vector))

    def regress(self, transition: int, need: int) -> int | None:
        """What is needed before a transition for a need to be met after it: the weakest precondition; None where there
        is none."""
        update = self._transitions[transition].update
        if not self._all:
            return weakest_precondition(update, need) if update else need
        if self._copies and any(isinstance(part, Copy) for part in update):
            whole = tuple(self._with_apart(part) if isinstance(part, Copy) else part for part in update)
            left = weakest_precondition(whole, need)
            return None if left is None else self._possible(left)
        deed = self._deed(transition)
        kept = need & self.apart
        need &= ~self.apart
        for tally in self._all if deed & self._monotone else ():
            for share in tally.shares:
                if share.deed == deed:
                    wanted = need & tally.field.mask
                    need &= ~wanted
                    if not kept & share.apart:
                        wanted = wanted >> share.steps & tally.field.mask
                        kept |= share.apart
                    kept |= wanted
        left = weakest_precondition(update, need)
        return None if left is None else self._possible(left | kept)

    def _with_apart(self, part: Copy) -> Copy:
        """A copying part that also copies which deeds do not count."""
        if part not in self._whole:
            moves, targets = list(part.moves), part.targets
            for copies in self._copies:
                sources = {tally.field.mask: tally for tally in copies}
                for tally in copies:
                    if tally.field.mask & part.targets:
                        targets |= tally.apart
                        source = sources[part.copied_from(tally.field.mask)]
                        for one, other in zip(source.shares, tally.shares, strict=True):
                            moves.append((one.apart, other.apart.bit_length() - one.apart.bit_length()))
            self._whole[part] = Copy(tuple(moves), targets)
        return self._whole[part]

    def _deed(self, transition: int) -> int:
        move = self._transitions[transition].move
        return self._layout.spent.get((move.level, move.thing), 0) if move.kind == "deed" else 0

    def _possible(self, need: int) -> int | None:
        """The need, without deeds not counted for tallies of which nothing is wanted; None if all other deeds together
        do not meet it."""
        for tally in self._all if need & self.apart else ():
            if not need & tally.field.mask:
                need &= ~tally.apart
            elif need & tally.apart and need & tally.field.mask & ~tally.bits(-1, need):
                return None
        return need


def _copies_of(fact: str, layout: VectorLayout) -> Iterator[tuple[Field, Mapping[DeedPlace, int]]]:
    """The fields of a fact, one for each copy if it rewinds, with the bits of the deeds that go with it."""
    yield layout.facts[fact], layout.spent
    for name, copy in layout.copies.items():
        if name != "now" and fact in copy.facts:
            yield copy.facts[fact], copy.spent
