"""What moves do to state vectors: the updates by exits, deeds, tiles and arrivals."""

from collections.abc import Iterable, Iterator, Sequence
from collections.abc import Set as AbstractSet

from mossy_bridge.language.evaluation import unknown_in_effect
from mossy_bridge.language.parsing import parse_effect
from mossy_bridge.play.compiled_level import ReadyDeed, ReadyExit
from mossy_bridge.play.destinations import Landing
from mossy_bridge.play.rewinding import lasting_effects
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move
from mossy_bridge.reach.system.cone_of_influence import ConeOfInfluence, Location
from mossy_bridge.reach.system.rewind_updates import RewindUpdates
from mossy_bridge.reach.system.state_vector import CopyName, VectorLayout
from mossy_bridge.reach.system.updates import Assign, Update, UpdatePart, sequence, update_part


class MoveUpdates:
    """The updates by the moves of one flow."""

    def __init__(self, rules: Rules, cone: ConeOfInfluence, layout: VectorLayout):
        self._rules, self._layout = rules, layout
        self.rewind = RewindUpdates(rules, cone, layout)
        spent = sum(bit for deed, bit in layout.spent.items() if deed in rules.deeds_per_visit)
        self.visiting = self._afresh(("visit",)).then(Assign(spent, 0))
        """What every arrival does."""
        self._arriving_plainly = sequence([self.visiting])
        self._arriving: dict[str, Update] = {}
        self._restarting: dict[str, Update] = {}
        self._takes_back = cone.points.any
        self._anew = self._new_run()

    def take_over(self, before: "MoveUpdates", touched: AbstractSet[str]) -> None:
        """Takes over the updates by arrivals at all levels but those that an edit may have changed, where all bits mean
        the same."""
        for new, old in ((self._arriving, before._arriving), (self._restarting, before._restarting)):
            new.update(old)
            for name in touched:
                new.pop(name, None)

    def arriving(self, place: str) -> Update:
        """The update by an arrival at a level."""
        if place not in self._arriving:
            effects = self._rules.levels[place].source.on_arrival
            plainly = not effects and place not in self._layout.seen  # as mostly
            self._arriving[place] = self._arriving_plainly if plainly else sequence(self._on_arrival(place, effects))
        return self._arriving[place]

    def _restarted(self, place: str) -> Update:
        """The update by an arrival in a restart that takes back."""
        if place not in self._restarting:
            effects = lasting_effects(self._rules.flow.facts, self._rules.levels[place].source.on_arrival)
            self._restarting[place] = sequence(self._on_arrival(place, effects))
        return self._restarting[place]

    def by_exit(self, here: Location, there: Location, exit_: ReadyExit, target: Landing) -> Update:
        """The update by an exit into a level."""
        fresh, effects = exit_.source.fresh, exit_.source.effects
        if not self._takes_back:
            arriving = self.arriving(target.level)
            if not effects and not fresh and not (exit_.source.completes and here.place in self._layout.done):
                return arriving
            return sequence([*self._leaving(here, effects, exit_.source.completes, fresh), *arriving])
        takes_back = bool(target.restart) and not fresh
        back_to: CopyName | None = None
        if takes_back:  # what rewinds is overwritten, so effects on it make no difference
            again = target.restart == "again"
            back_to = self.rewind.source_of_point(here) if again else self.rewind.source_of_origin(here)
            effects = tuple(lasting_effects(self._rules.flow.facts, effects))
        leaving = self._leaving(here, effects, exit_.source.completes, fresh)
        parts: list[UpdatePart] = [*self.rewind.on_leaving(here, there, back_to), *leaving]
        parts += self._restarted(target.level) if takes_back else self.arriving(target.level)
        parts += self.rewind.on_arriving(here, there, takes_back)
        return sequence(parts)

    def _leaving(self, here: Location, effects: Sequence[str], completes: bool, fresh: bool) -> Iterator[UpdatePart]:
        """What an exit does before the arrival, but for rewind points."""
        yield from self._parts(effects)
        if completes and here.place in self._layout.done:
            yield Assign(0, self._layout.done[here.place])
        if fresh:
            yield self._anew

    def by_tile(self, here: Location, there: Location) -> Update:
        """The update by choosing a tile."""
        before, after = self.rewind.on_leaving(here, there, None), self.rewind.on_arriving(here, there, False)
        return sequence([*before, *self.arriving(there.place), *after])

    def by_deed(self, here: Location, deed: ReadyDeed) -> Update:
        """The update by a deed."""
        spent = self._layout.spent.get((here.place, deed.source.id), 0)
        parts = [*self._parts(deed.source.effects), Assign(0, spent)]
        return sequence([*parts, self.rewind.at_checkpoint(here)] if deed.checkpoint else parts)

    def effects_of(self, move: Move) -> Update:
        """What the effects of a deed or an exit do, of themselves."""
        return sequence(self._parts(self._effects(move)))

    def facts_changed_by(self, move: Move) -> list[str]:
        """The facts that the effects of a deed or an exit are about, each once."""
        return list(dict.fromkeys(parse_effect(effect).fact for effect in self._effects(move)))

    def _effects(self, move: Move) -> Sequence[str]:
        level = self._rules.levels[move.level].source
        thing = level.exit(move.thing) if move.kind == "exit" else level.deed(move.thing)
        return thing.effects if thing else ()

    def _parts(self, effects: Iterable[str]) -> Iterator[UpdatePart]:
        vocabulary, layout = self._rules.words, self._layout
        for effect in map(parse_effect, effects):
            if effect.fact in layout.facts and not unknown_in_effect(effect, vocabulary):
                field = layout.facts[effect.fact]
                yield update_part(effect, field, field.bits(vocabulary.facts[effect.fact].first))

    def _afresh(self, lifetimes: tuple[str, ...]) -> Assign:
        found = Assign()
        for fact in self._rules.flow.facts:
            if fact.lifetime in lifetimes and fact.id in self._layout.facts:
                field = self._layout.facts[fact.id]
                found = found.then(Assign(field.mask, field.bits(fact.first)))
        return found

    def _on_arrival(self, place: str, effects: Sequence[str]) -> Iterator[UpdatePart]:
        yield self.visiting.then(Assign(0, self._layout.seen.get(place, 0)))
        yield from self._parts(effects)

    def _new_run(self) -> Assign:
        layout = self._layout
        gone = sum(layout.spent.values())
        if self._rules.flow.progress == "run":
            gone += sum(layout.seen.values()) + sum(layout.done.values())
        return self._afresh(("run", "visit")).then(Assign(gone, 0))
