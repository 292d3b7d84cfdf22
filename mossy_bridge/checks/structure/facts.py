"""Names in conditions and effects, and facts that are only changed or only asked."""

from collections.abc import Callable, Iterable, Iterator
from functools import cache
from itertools import repeat

from msgspec import Struct
from msgspec.structs import replace

from mossy_bridge.checks.finding import Found, Repair
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.registry import check
from mossy_bridge.language.asked import asked_by, conditions_of_level, effects_of_level
from mossy_bridge.language.evaluation import Unknown, unknown_in_condition, unknown_in_effect
from mossy_bridge.language.fact_uses import uses_of_facts
from mossy_bridge.language.parsing import parse_condition, parse_effect
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Deed, Exit, Flow, Level, Promise
from mossy_bridge.model.ids import nearest
from mossy_bridge.model.sequence import first_play_level

_Rename = Callable[[Flow, Callable[[str], str]], Flow]
"""Applies a change of wording to the part of the flow that holds the sentence."""


@check("unknown-name", "error", "structure", "Such a condition never holds, and such an effect does nothing.")
def unknown_name(here: Inspection) -> Iterator[Found]:
    """A condition or an effect names a fact, level or value that does not exist, or is of another kind.

    Example: A gate asks for the claper.
    To mend: Choose the right name; the nearest one is offered.
    """
    words = here.survey.rules.words

    @cache
    def unknown(text: str, is_effect: bool) -> tuple[Unknown, ...]:
        found = (
            unknown_in_effect(parse_effect(text), words)
            if is_effect
            else unknown_in_condition(parse_condition(text), words)
        )
        return tuple(found)

    def is_odd(level: Level) -> bool:
        conditions, effects = conditions_of_level(level), effects_of_level(level)
        return any(map(unknown, conditions, repeat(False))) or any(map(unknown, effects, repeat(True)))

    odd = here.level_results.where("unknown names", is_odd, "beside")
    for at, texts, are_effects, rename in _sentences(odd, here.flow.promises):
        said: set[str] = set()
        for text in texts:
            for one in unknown(text, are_effects):
                if one.name not in said:
                    said.add(one.name)
                    repair = _repair(here, one, rename) if _only_mends(here, at, one, are_effects) else None
                    yield Found((at,), _sentence(here, at, one, text), repair=repair)


def _sentence(here: Inspection, at: str, one: Unknown, text: str) -> str:
    flow = here.flow
    exists = any(fact.id == one.name for fact in flow.facts) and one.wanted in ("flag", "count", "choice")
    problem = f"which is no {one.wanted}" if exists else "which does not exist"
    if one.wanted == "value":
        name = next((fact.name or fact.id for fact in flow.facts if fact.id == one.fact), one.fact)
        problem = f"which {name} cannot be"
    return f"{here.title(at)} says “{text}”, but names “{one.name}”, {problem}."


def _repair(here: Inspection, one: Unknown, rename: _Rename) -> Repair | None:
    likely = nearest(one.name, here.survey.rules.words.names(one))
    if likely is None:
        return None

    def reworded(text: str) -> str:
        return (
            " ".join(likely if word == one.name else word for word in _spaced(text).split())
            .replace("( ", "(")
            .replace(" )", ")")
            .replace(" ,", ",")
        )

    return Repair(f"Read it as “{likely}”", lambda flow: rename(flow, reworded))


def _only_mends(here: Inspection, at: str, unknown: Unknown, in_effect: bool) -> bool:
    """Whether it may be read as the likely fact without giving rise to another fault: that a restart by its exit takes
    the effect back, or that a game begun again has left over what is now asked for."""
    likely = nearest(unknown.name, here.survey.rules.words.names(unknown))
    fact = here.survey.rules.words.facts.get(likely or "")
    if fact is None or fact.lifetime != "run":
        return True
    level_id, _, name = at.partition(".")
    level, first = here.flow.level(level_id), first_play_level(here.flow)
    exit_ = level.exit(name) if level else None
    undone = in_effect and fact.rewinds and exit_ is not None and _may_restart(here, exit_)
    uses = {use.use == "asked" for use in uses_of_facts(here.flow) if use.fact == fact.id}
    if (not in_effect) in uses:  # it is asked for, or changed, in other places as well
        return not undone
    screens = (level for level in here.flow.levels if level.kind == "screen")
    again = (one.to for level in screens for one in level.exits if one.to and not one.fresh)
    return not undone and not any(first and to.kind == "level" and to.level == first.id for to in again)


def _may_restart(here: Inspection, exit_: Exit) -> bool:
    """Whether an exit makes a restart, or leads to a screen from which one may be made, by way of others or not."""
    levels = {level.id: level for level in here.flow.levels}
    waiting, passed = [exit_], set[str]()
    while waiting:
        for to in waiting.pop().destinations:
            if to.kind in ("again", "back"):
                return True
            level = levels.get(to.level) if to.kind == "level" else None
            if level and level.kind != "play" and level.id not in passed:
                passed.add(level.id)
                waiting += level.exits
    return False


def _spaced(text: str) -> str:
    return text.replace("(", "( ").replace(")", " )").replace(",", " ,")


_Sentences = Iterator[tuple[str, tuple[str, ...], bool, _Rename]]
"""Places with conditions or effects: the texts, whether they are effects, and how to reword them."""


def _sentences(levels: Iterable[Level], promises: Iterable[Promise]) -> _Sentences:
    for level in levels:
        yield from _sentences_of(level)
    for promise in promises:
        yield promise.id, (promise.when,), False, _reword_promise(promise.id)


def _sentences_of(level: Level) -> _Sentences:
    conditions = (level.opens, *(path.when for path in level.paths))
    yield level.id, conditions, False, _reword_level(level.id)
    yield level.id, level.on_arrival, True, _reword_level(level.id)
    for deed in level.deeds:
        at, rename = f"{level.id}.{deed.id}", _reword_thing(level, "deeds", deed)
        yield at, (deed.when,), False, rename
        yield at, deed.effects, True, rename
    for exit_ in level.exits:
        at, rename = f"{level.id}.{exit_.id}", _reword_thing(level, "exits", exit_)
        yield at, (exit_.trigger.when, exit_.opens), False, rename
        yield at, exit_.effects, True, rename


def _reword_level(level_id: str) -> _Rename:
    def rename(flow: Flow, reworded: Callable[[str], str]) -> Flow:
        level = flow.level(level_id)
        if level is None:
            return flow
        return edits.set_level(
            flow,
            level_id,
            opens=reworded(level.opens),
            paths=tuple(replace(path, when=reworded(path.when)) for path in level.paths),
            on_arrival=tuple(map(reworded, level.on_arrival)),
        )

    return rename


def _reword_thing(level: Level, group: str, thing: Deed | Exit) -> _Rename:
    def rename(flow: Flow, reworded: Callable[[str], str]) -> Flow:
        def change(old: Deed | Exit) -> Deed | Exit:
            new = replace(old, effects=tuple(map(reworded, old.effects)))
            if isinstance(new, Deed):
                return replace(new, when=reworded(new.when))
            trigger = replace(new.trigger, when=reworded(new.trigger.when))
            return replace(new, opens=reworded(new.opens), trigger=trigger)

        return edits.change_thing(flow, level.id, group, thing.id, change)

    return rename


def _reword_promise(promise_id: str) -> _Rename:
    def rename(flow: Flow, reworded: Callable[[str], str]) -> Flow:
        promises = tuple(replace(p, when=reworded(p.when)) if p.id == promise_id else p for p in flow.promises)
        return replace(flow, promises=promises)

    return rename


class _Used(Struct, frozen=True):
    """The facts that conditions ask, those that effects change (``clear`` changes nothing), and the levels of which is
    asked whether they are done."""

    read: frozenset[str]
    changed: frozenset[str]
    done: frozenset[str]


def _used(here: Inspection) -> _Used:
    """What all of the flow uses."""
    alike: dict[_Used, _Used] = {}  # of a hundred thousand levels most use the same

    def used_by(level: Level) -> _Used | None:
        used = _used_by(level)
        return alike.setdefault(used, used) if used else None

    found = {used for _, used in here.level_results.each("uses", used_by)}
    promised = asked_by(promise.when for promise in here.flow.promises)
    return _Used(
        promised.facts.union(*(used.read for used in found)),
        frozenset().union(*(used.changed for used in found)),
        promised.done.union(*(used.done for used in found)),
    )


def _used_by(level: Level) -> _Used | None:
    asked, changed = asked_by(conditions_of_level(level)), _changed_by(level)
    return _Used(asked.facts, changed, asked.done) if asked.facts or asked.done or changed else None


def _changed_by(level: Level) -> frozenset[str]:
    effects = map(parse_effect, effects_of_level(level))
    return frozenset(effect.fact for effect in effects if effect.verb != "clear")


@check("fact-never-changed", "warning", "structure", "What asks for it always gets the same answer.")
def fact_never_changed(here: Inspection) -> Iterator[Found]:
    """Something asks for the fact, but nothing ever changes it.

    Example: The tide is asked for, and nothing turns it.
    To mend: Add the deed that changes it, or ask for something else.
    """
    used = _used(here)
    for fact in here.flow.facts:
        if fact.id in used.read and fact.id not in used.changed:
            yield Found((fact.id,), f"{fact.name or fact.id} is asked for, but nothing ever changes it.")


@check("fact-never-read", "hint", "structure", "It makes no difference to the flow.")
def fact_never_read(here: Inspection) -> Iterator[Found]:
    """The fact is changed, but nothing asks for it.

    Example: Shells are counted, and nothing depends on them.
    To mend: Ask for it somewhere, or remove it.
    """
    used = _used(here)
    for fact in here.flow.facts:
        if fact.id in used.changed and fact.id not in used.read:
            yield Found((fact.id,), f"{fact.name or fact.id} is changed, but no condition asks for it.")


@check("nothing-completes", "warning", "structure", "The condition that asks for it can never hold.")
def nothing_completes(here: Inspection) -> Iterator[Found]:
    """A condition asks whether a level is done, but no exit of it completes it.

    Example: The tile waits until Gull Stair is done; its gate does not complete it.
    To mend: Let the exit that ends the level complete it.
    """
    asked = _used(here).done
    for level in here.flow.levels if asked else ():
        if level.id in asked and not any(exit_.completes for exit_ in level.exits):
            message = f"Some condition asks whether {level.title} is completed, but none of its exits completes it."
            yield Found((level.id,), message, repair=_completing(level))


def _completing(level: Level) -> Repair | None:
    if len(level.exits) != 1:
        return None
    exit_ = level.exits[0]
    return Repair(
        f"Let {exit_.name or exit_.id} complete it",
        lambda flow: edits.set_exit(flow, level.id, exit_.id, completes=True),
    )
