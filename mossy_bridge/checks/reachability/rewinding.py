"""What failing takes back: facts for which it makes no difference, what is changed in vain, and what comes twice."""

from collections.abc import Iterator

from mossy_bridge.checks.finding import Found, Repair, known
from mossy_bridge.checks.inspection import Inspection
from mossy_bridge.checks.registry import check
from mossy_bridge.language.asked import effects_of
from mossy_bridge.language.fact_edits import set_fact
from mossy_bridge.language.parsing import parse_effect
from mossy_bridge.language.tree import Effect
from mossy_bridge.model.flow import Flow
from mossy_bridge.play.rewinding import rewinding_facts


@check("rewind-idle", "hint", "reachability", "Failing makes no difference to it, though it says so.")
def rewind_idle(here: Inspection) -> Iterator[Found]:
    """All states were looked at: the fact goes back when the player fails, but no failing ever changes it.

    Example: The rope goes back, but one cannot fail between finding and using it.
    To mend: Let it be kept, or add the failing that was meant.
    """
    if not here.survey.settled or not rewinding_facts(here.flow):
        return
    restarts = here.restarts
    for fact in (fact for fact in here.flow.facts if fact.rewinds):
        if not restarts.may_change(fact.id):
            why = "no restart ever changes it" if restarts.any else "nobody is ever sent back by failing"
            name = _name(here.flow, fact.id)
            yield Found((fact.id,), f"{name} goes back when the player fails, but {why}.", repair=_kept(name, fact.id))


def _kept(name: str, fact: str) -> Repair:
    return Repair(f"Let {name} be kept", lambda flow: set_fact(flow, fact, rewinds=False))


@check("lives-come-back", "warning", "reachability", "What is lost or gained so is given back at once.")
def lives_come_back(here: Inspection) -> Iterator[Found]:
    """What an exit or deed changes is taken back by the very failing that it belongs to.

    Example: Drowning costs a life, and lives go back on failing.
    To mend: Let the fact be kept when the player fails.
    """
    if not rewinding_facts(here.flow):
        return
    for one in here.restarts.in_vain():
        at = f"{one.move.level}.{one.move.thing}"
        fact = _name(here.flow, one.fact)
        message = (
            f"{here.title(at)} changes {fact}, which failing then takes back: {fact} is as if nothing had happened."
        )
        yield Found((at, one.fact), message, known(one.route))


@check("rewind-half", "warning", "reachability", "What lasts can be had over and over by failing.")
def rewind_half(here: Inspection) -> Iterator[Found]:
    """A deed changes something that goes back on failing and something that is kept, and can be done again after
    failing.

    Example: The flask goes back, the point for it stays: one can drown for points.
    To mend: Let both go back, or neither.
    """
    if not rewinding_facts(here.flow):
        return
    halves = _half_taken_back(here.flow)
    if not halves:
        return
    for (level, name), route in here.restarts.done_again():
        for fact in halves.get((level, name), ()):
            at = f"{level}.{name}"
            kept = f"{_name(here.flow, fact)} is kept, so it can be had over and over"
            message = f"{here.title(at)} can be done again after failing, but {kept}."
            yield Found((at, fact), message, known(route))


def _half_taken_back(flow: Flow) -> dict[tuple[str, str], list[str]]:
    """For deeds that change something that rewinds the facts that they change, too, and more so each time, and that
    are kept."""
    rewinding, lowered = rewinding_facts(flow), _lowered(flow)
    lasting = {fact.id for fact in flow.facts if fact.lifetime != "visit" and not fact.rewinds}
    found: dict[tuple[str, str], list[str]] = {}
    for level in flow.levels:
        for deed in level.deeds:
            effects = [parse_effect(text) for text in deed.effects]
            if deed.repeats == "run" and any(effect.fact in rewinding for effect in effects):
                more = [effect.fact for effect in effects if effect.fact in lasting and _adds_up(effect, lowered)]
                found.update({(level.id, deed.id): list(dict.fromkeys(more))} if more else {})
    return found


def _adds_up(effect: Effect, lowered: set[str]) -> bool:
    """Whether an effect changes more, made twice: it counts, or gives what is taken away elsewhere."""
    return effect.verb in ("add", "take") or (effect.verb in ("gain", "raise") and effect.fact in lowered)


def _lowered(flow: Flow) -> set[str]:
    """The facts that some effect takes away."""
    return {
        effect.fact
        for effect in map(parse_effect, effects_of(flow))
        if effect.verb in ("lose", "take", "lower", "set", "clear")
    }


def _name(flow: Flow, fact_id: str) -> str:
    return next(fact.name or fact.id for fact in flow.facts if fact.id == fact_id)
