"""Edits of facts: made, changed, merged into one another, removed. Conditions and effects follow where they must."""

from collections.abc import Callable
from typing import Any

from msgspec.structs import replace

from mossy_bridge.language import tree as t
from mossy_bridge.language.parsing import parse_condition, parse_effect
from mossy_bridge.model.edits.levels import CannotEdit
from mossy_bridge.model.flow import Deed, Exit, Fact, FactKind, Flow, Level
from mossy_bridge.model.ids import id_from


def add_fact(flow: Flow, name: str, kind: FactKind = "flag") -> tuple[Flow, str]:
    """The flow with one more fact, and its id."""
    if not name.strip():
        raise CannotEdit("a fact needs a name")
    new_id = id_from(name, {fact.id for fact in flow.facts}, "fact")
    values = ("first", "second") if kind == "choice" else ()
    return replace(flow, facts=(*flow.facts, Fact(id=new_id, name=name.strip(), kind=kind, values=values))), new_id


def fact_of(flow: Flow, fact_id: str) -> Fact:
    """The fact with that id."""
    found = next((fact for fact in flow.facts if fact.id == fact_id), None)
    if found is None:
        raise CannotEdit(f"there is no fact “{fact_id}”")
    return found


def set_fact(flow: Flow, fact_id: str, **values: Any) -> Flow:
    """The flow with a fact changed. What does not fit its kind any more is at its default again."""
    new = replace(fact_of(flow, fact_id), **values)
    if new.rewinds and new.lifetime != "run":
        if values.get("rewinds"):
            raise CannotEdit(
                f"only what lasts a run can go back when the player fails; {new.name or new.id} lasts a {new.lifetime}"
            )
        new = replace(new, rewinds=False)
    if "kind" in values:
        names = (new.values or ("first", "second")) if new.kind == "choice" else ()
        new = Fact(id=new.id, name=new.name, kind=new.kind, lifetime=new.lifetime, rewinds=new.rewinds, values=names)
    if new.kind == "count" and all(type(number) is int for number in (new.low, new.high, new.first)):
        if new.low > new.high:
            raise CannotEdit(f"{new.name or new.id} cannot be at least {new.low} and at most {new.high}")
        first = min(max(int(new.first), new.low), new.high)
        new = replace(new, initial=first if first or new.low or new.initial is not None else None)
    if new.kind == "choice":
        if not new.values:
            raise CannotEdit(f"{new.name or new.id} needs a value to begin with")
        if new.initial not in new.values:
            new = replace(new, initial=None)
    return replace(flow, facts=tuple(new if fact.id == fact_id else fact for fact in flow.facts))


def set_rewinding(flow: Flow, rewinds: bool) -> Flow:
    """The flow in which the keys and points, all flags and counts that last a run, go back when the player fails; or
    nothing does."""

    def changed(fact: Fact) -> Fact:
        goes_back = rewinds and fact.lifetime == "run" and (fact.kind != "choice" or fact.rewinds)
        return fact if fact.rewinds == goes_back else replace(fact, rewinds=goes_back)

    return replace(flow, facts=tuple(map(changed, flow.facts)))


def remove_fact(flow: Flow, fact_id: str) -> Flow:
    """The flow without a fact, and without the effects that change it. Conditions that ask for it stay as they are."""
    fact_of(flow, fact_id)
    flow = replace(flow, facts=tuple(fact for fact in flow.facts if fact.id != fact_id))
    return _reworded(flow, lambda text: text, lambda text: "" if parse_effect(text).fact == fact_id else text)


def merge_facts(flow: Flow, gone: str, kept: str) -> Flow:
    """The flow with one fact in the place of two of the same kind: whatever speaks of the one speaks of the other."""
    one, other = fact_of(flow, gone), fact_of(flow, kept)
    if one.kind != other.kind:
        raise CannotEdit(f"{one.name or one.id} is a {one.kind} and {other.name or other.id} a {other.kind}")
    strange = sorted(set(one.values) - set(other.values))
    if strange:
        raise CannotEdit(f"{other.name or other.id} cannot be {strange[0]}, as {one.name or one.id} can")
    flow = replace(flow, facts=tuple(fact for fact in flow.facts if fact.id != gone))
    return _reworded(
        flow,
        lambda text: t.condition_text(_renamed(parse_condition(text), gone, kept)),
        lambda text: t.effect_text(_renamed_effect(parse_effect(text), gone, kept)),
    )


def _renamed_effect(effect: t.Effect, old: str, new: str) -> t.Effect:
    return t.Effect(effect.verb, new if effect.fact == old else effect.fact, effect.number, effect.value)


def _renamed(tree: t.Condition, old: str, new: str) -> t.Condition:
    match tree:
        case t.Has(fact, wanted):
            return t.Has(new if fact == old else fact, wanted)
        case t.Count(bound, number, fact):
            return t.Count(bound, number, new if fact == old else fact)
        case t.Is(fact, value, wanted):
            return t.Is(new if fact == old else fact, value, wanted)
        case t.Not(part):
            return t.Not(_renamed(part, old, new))
        case t.SomeOf(bound, number, parts):
            return t.SomeOf(bound, number, tuple(_renamed(part, old, new) for part in parts))
        case t.All(parts):
            return t.All(tuple(_renamed(part, old, new) for part in parts))
        case t.AnyOf(parts):
            return t.AnyOf(tuple(_renamed(part, old, new) for part in parts))
        case _:
            return tree


def _reworded(flow: Flow, condition: Callable[[str], str], effect: Callable[[str], str]) -> Flow:
    """The flow with every condition and effect put anew, patterns included; empty effects are left out."""

    def effects(texts: tuple[str, ...]) -> tuple[str, ...]:
        return tuple(new for new in map(effect, texts) if new)

    def of_deed(deed: Deed) -> Deed:
        return replace(deed, when=condition(deed.when), effects=effects(deed.effects))

    def of_exit(exit_: Exit) -> Exit:
        trigger = replace(exit_.trigger, when=condition(exit_.trigger.when))
        return replace(exit_, trigger=trigger, opens=condition(exit_.opens), effects=effects(exit_.effects))

    def of_level(level: Level) -> Level:
        new = replace(
            level,
            opens=condition(level.opens),
            on_arrival=effects(level.on_arrival),
            paths=tuple(replace(path, when=condition(path.when)) for path in level.paths),
            deeds=tuple(map(of_deed, level.deeds)),
            exits=tuple(map(of_exit, level.exits)),
        )
        return level if new == level else new

    return replace(
        flow,
        levels=tuple(map(of_level, flow.levels)),
        patterns=tuple(map(of_level, flow.patterns)),
        promises=tuple(replace(promise, when=condition(promise.when)) for promise in flow.promises),
    )
