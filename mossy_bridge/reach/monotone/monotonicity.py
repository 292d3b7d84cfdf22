"""Monotonicity: which bits of a state vector only ever become set, and only ever enable more.

A flag that effects only gain, a count that they only raise, a level having been seen or completed, a deed having been
done: where every condition that bears on a move asks for its presence and none for its absence, a state with more of it
enables every move that a state with less does, and reaches states that again have at least as much. (In a
well-structured transition system, Finkel and Schnoebelen 2001, this is the compatibility of the order with the
transitions.) Precisely: let two states agree in their discrete part, and let the monotone bits of the greater include
those of the lesser. Then each move of the lesser is enabled in the greater and leads to a state at least as great, or
is a deed that the greater has done already, and then it leads to a state no greater than the greater state as it
stands.

What rewinds may be lost by a restart, but with all of a state's rewind points counted in (the copies in the vector),
this too leads from a greater state to a greater one. To have done a deed implies having its gains in each copy, as a
restart takes back both.

There are five exceptions. Whatever decides whether an exit is *forced* is not monotone, since a forced exit takes
all other moves away. Facts of a visit are not, since they fall. Deeds done once that also change something else, are
checkpoints or save are not. And a count that deeds done once add to must have no other change, nor outlive the run:
only then having done the deed shows in the count. Nor may such a count last where the deed is taken back, for then
it can be added to over and over.
"""

from collections import defaultdict
from collections.abc import Collection, Container, Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from mossy_bridge.language import tree as t
from mossy_bridge.language.parsing import parse_condition, parse_effect
from mossy_bridge.model.flow import Deed, Fact, Flow
from mossy_bridge.play.state import DeedPlace
from mossy_bridge.reach.system.cone_of_influence import ConeOfInfluence
from mossy_bridge.reach.system.program_graph import ProgramGraph

Name = tuple[Literal["fact", "seen", "done"], str]
Source = Literal["deed of a run", "deed taken back", "deed of a visit", "other"]


@dataclass(frozen=True)
class MonotoneParts:
    """The monotone parts of one flow, and their bits in its vectors."""

    facts: frozenset[str]
    seen: frozenset[str]
    done: frozenset[str]
    deeds: frozenset[DeedPlace]
    bits: int

    def positive_in(self, condition: str) -> bool:
        """Whether a condition asks for monotone parts only, never for their absence."""
        groups = {"fact": self.facts, "seen": self.seen, "done": self.done}
        return all(positive or name not in groups[what] for (what, name), positive in _asked_by(condition))


def monotone_parts(program: ProgramGraph, also: Iterable[str] = (), but: Container[str] = frozenset()) -> MonotoneParts:
    """The monotone parts of a flow, and of some more conditions, ``but`` for some facts."""
    flow, layout = program.rules.flow, program.layout
    texts = {*program.cone.written, *also}  # no move depends on the conditions of promises
    against = {name for text in texts for name, positive in _asked_by(text) if not positive}
    against |= {name for text in program.cone.forcing_conditions() for name, _ in _asked_by(text)}
    changes = _changes(flow, program.cone)
    monotone_codings = {name for name, field in layout.facts.items() if field.coding in ("bit", "unary")}
    facts = frozenset(
        f.id
        for f in flow.facts
        if f.id in monotone_codings
        and f.id not in but
        and ("fact", f.id) not in against
        and _monotone(f, changes[f.id])
    )
    seen = frozenset(name for name in layout.seen if ("seen", name) not in against)
    done = frozenset(name for name in layout.done if ("done", name) not in against)
    deeds = frozenset(
        (lv.id, deed.id) for lv in flow.levels for deed in lv.deeds if _only_grows(deed, facts, layout.facts.keys())
    )
    bits = sum(layout.facts[name].mask for name in facts) + sum(layout.seen[name] for name in seen)
    bits += sum(layout.done[name] for name in done) + sum(layout.spent[name] for name in deeds if name in layout.spent)
    for copy in (copy for name, copy in layout.copies.items() if name != "now"):
        bits += sum(field.mask for name, field in copy.facts.items() if name in facts)
        bits += sum(bit for deed, bit in copy.spent.items() if deed in deeds)
    return MonotoneParts(facts, seen, done, deeds, bits)


@lru_cache(maxsize=10_000)
def _asked_by(condition: str) -> tuple[tuple[Name, bool], ...]:
    return tuple(_asked(parse_condition(condition)))


def _asked(tree: t.Condition, positive: bool = True) -> Iterator[tuple[Name, bool]]:
    """What a condition asks to be present (True) and to be absent (False)."""
    match tree:
        case t.Has(fact, wanted):
            yield ("fact", fact), positive == wanted
        case t.Count(bound, _, fact):
            yield ("fact", fact), positive == (bound == "at least") and bound != "exactly"
            if bound == "exactly":
                yield ("fact", fact), False
        case t.Is(fact):
            yield ("fact", fact), False
        case t.Visited(what, level):
            yield (what, level), positive
        case t.Not(part):
            yield from _asked(part, not positive)
        case t.SomeOf(bound, _, parts):
            for part in parts:
                if bound != "at most":
                    yield from _asked(part, positive)
                if bound != "at least":
                    yield from _asked(part, not positive)
        case t.All(parts) | t.AnyOf(parts):
            for part in parts:
                yield from _asked(part, positive)


def _changes(flow: Flow, cone: ConeOfInfluence) -> dict[str, set[tuple[str, Source]]]:
    """The verbs that change each fact, and what they belong to."""
    found: dict[str, set[tuple[str, Source]]] = defaultdict(set)
    taken_back, lasting = _effects_of_deeds(flow, cone.points.redone) if cone.points.redone else ((), cone.effects)
    for effect in map(parse_effect, taken_back):
        again: Source = "deed of a run" if effect.fact in cone.points.facts else "deed taken back"
        found[effect.fact].add((effect.verb, again))
    sources: dict[str, Source] = {"always": "other", "run": "deed of a run", "visit": "deed of a visit"}
    for repeats, effects in {**lasting, "other": cone.effects["other"]}.items():
        for effect in map(parse_effect, effects):
            found[effect.fact].add((effect.verb, sources.get(repeats, "other")))
    return found


def _effects_of_deeds(
    flow: Flow, redone: Container[DeedPlace]
) -> tuple[Collection[str], Mapping[str, Collection[str]]]:
    """The effects of deeds that a restart takes back, and those of all others by how often they are repeated."""
    taken_back: set[str] = set()
    lasting: dict[str, set[str]] = defaultdict(set)
    for level in flow.levels:
        for deed in level.deeds:
            (taken_back if (level.id, deed.id) in redone else lasting[deed.repeats]).update(deed.effects)
    return taken_back, lasting


_ADDED_AGAIN: set[tuple[str, Source]] = {("add", "deed of a visit"), ("add", "deed taken back")}


def _monotone(fact: Fact, changes: set[tuple[str, Source]]) -> bool:
    if fact.lifetime == "visit" or fact.kind == "choice":
        return False
    if fact.kind == "flag":
        return all(verb == "gain" for verb, _ in changes)
    if any(verb not in ("add", "raise") for verb, _ in changes) or not changes.isdisjoint(_ADDED_AGAIN):
        return False
    return ("add", "deed of a run") not in changes or (changes == {("add", "deed of a run")} and fact.lifetime == "run")


def _only_grows(deed: Deed, facts: frozenset[str], tracked: Container[str]) -> bool:
    """Whether having done a deed, which is done once a run, can only help."""
    if deed.repeats != "run" or deed.checkpoint or deed.saves:
        return False
    return all(effect.fact in facts or effect.fact not in tracked for effect in map(parse_effect, deed.effects))
