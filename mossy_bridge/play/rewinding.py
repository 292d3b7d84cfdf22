"""Which facts rewind, and which deeds are redone: what a restart takes back.

A restart (``again`` or ``back``, by an exit that is not ``fresh``) takes the facts that rewind back to what they were
at the rewind point. A deed that changes such a fact is *redone*: it can be done again if it was not spent there.
"""

from collections.abc import Iterable, Iterator, Sequence

from mossy_bridge.language.evaluation import Facts, Vocabulary, unknown_in_effect
from mossy_bridge.language.parsing import parse_effect
from mossy_bridge.model.flow import Deed, Exit, Fact, Flow
from mossy_bridge.play.state import NOTHING_REWINDS, DeedPlace, RewindPoint, State


def rewinding_facts(flow: Flow) -> frozenset[str]:
    """The ids of the facts that rewind."""
    return frozenset(fact.id for fact in flow.facts if fact.rewinds)


def redone_deeds(flow: Flow, words: Vocabulary) -> frozenset[DeedPlace]:
    """The deeds done once a run that a restart takes back: some effect of theirs changes a fact that rewinds."""
    rewinding = rewinding_facts(flow)
    if not rewinding:
        return frozenset()
    return frozenset((lv.id, deed.id) for lv in flow.levels for deed in lv.deeds if _redone(deed, rewinding, words))


def _redone(deed: Deed, rewinding: frozenset[str], words: Vocabulary) -> bool:
    effects = (effect for effect in map(parse_effect, deed.effects) if effect.fact in rewinding)
    return deed.repeats == "run" and any(not unknown_in_effect(effect, words) for effect in effects)


def lasting_effects(facts: Iterable[Fact], effects: Sequence[str]) -> Sequence[str]:
    """Those of some effects that change no fact that rewinds."""
    if not effects:
        return effects
    rewinding = {fact.id for fact in facts if fact.rewinds}
    return [text for text in effects if parse_effect(text).fact not in rewinding] if rewinding else effects


def rewinding_kinds(exit_: Exit) -> Iterator[str]:
    """The kinds of restarts that an exit may make and that take back: none, if it is ``fresh``."""
    return (to.kind for to in exit_.destinations if to.kind in ("again", "back") and not exit_.fresh)


class Rewinding:
    """Taking rewind points, and going back to them, in one flow."""

    def __init__(self, flow: Flow, words: Vocabulary):
        self._at = [at for at, fact in enumerate(flow.facts) if fact.rewinds]
        self.redone = redone_deeds(flow, words)

    def point(self, facts: Facts, spent: frozenset[DeedPlace]) -> RewindPoint:
        """The rewind point at a moment with these facts and deeds done."""
        if not self._at:
            return NOTHING_REWINDS
        return RewindPoint(tuple([facts[at] for at in self._at]), spent & self.redone)

    def back(self, state: State, point: RewindPoint) -> State:
        """The state with all that rewinds as it was at a rewind point."""
        if not self._at:
            return state
        facts = list(state.facts)
        for at, value in zip(self._at, point.facts, strict=True):
            facts[at] = value
        return state._replace(facts=tuple(facts), spent=state.spent - self.redone | point.spent)
