"""What an edit does to others, told before it is made: exits that would lead elsewhere or nowhere, what would
lose its way, and who refers to what would go."""

from collections.abc import Callable, Collection, Iterator

from mossy_bridge.language.evaluation import Vocabulary, unknown_in_condition, unknown_in_effect
from mossy_bridge.language.naming import levels_named
from mossy_bridge.language.parsing import parse_condition, parse_effect
from mossy_bridge.model.flow import Deed, Destination, Exit, Flow, Level, Walk
from mossy_bridge.model.level_changes import LevelChanges, level_changes
from mossy_bridge.model.patterns import resolve_like, resolved
from mossy_bridge.model.sequence import STEPS, neighbours
from mossy_bridge.play.as_played import surely_play_alike
from mossy_bridge.play.edit_losses import Consequence, facts_changed, stranded, things_gone
from mossy_bridge.play.narration import named_move
from mossy_bridge.play.replay import replay
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import parse_move

__all__ = ["Consequence", "consequences"]
MOST_REPLAYED = 500
"""So many moves of recorded walks are replayed for one edit, since it waits for that; a survey replays the others."""


Origins = Callable[[str], Collection[str] | None]
"""For a screen or board the play levels that one may have come to it from, as far as that is known."""


def consequences(
    before: Flow, after: Flow, rules: Rules | None = None, origins: Origins = lambda _screen: None
) -> tuple[Consequence, ...]:
    """What is different for the rest of the flow, the gravest first: what leads nowhere or is cut off, then what leads
    elsewhere, then what refers to something that is gone or is another, then recorded walks that no longer work.
    ``rules`` are the rules of play of the flow before, ``resuming``, where they are at hand: that saves making them.
    Of what depends on where one comes from only what ``origins`` allows is told."""
    old = resolved(before)
    resolve_like(after, before)  # so that what has not changed is the very same
    new = resolved(after)
    changes = level_changes(old, new)
    found = [*_references(new, changes), *_codes(old, new, changes), *_meanings(old, new)]
    found = [*stranded(old, new, changes), *things_gone(old, new, changes), *facts_changed(old, new), *found]
    found += _walks(before, after, rules)
    if old.start != new.start or not _lead_alike(changes):
        was, now = _Leading(old), _Leading(new)
        edit = _Redirected(was, now, changes)
        found = [*_exits(edit, origins), *_start(old, new, was, now), *_tiles(old, was, now), *found]
    rank = {"nowhere": 0, "elsewhere": 1, "refers": 2, "walk": 3}
    return tuple(sorted(found, key=lambda one: rank[one.what]))


def _lead_alike(changes: LevelChanges) -> bool:
    """Whether destinations lead to the same levels, as far as that is written."""
    return changes.same_order and all(_as_target(was) == _as_target(now) for was, now in changes.changed)


def _as_target(level: Level) -> tuple[str, bool, list[str]]:
    """What decides whether and where the level can be entered."""
    return level.kind, level.ships, [spawn.id for spawn in level.spawns]


class _Leading:
    """Where exits lead in one flow, as far as that can be said without playing."""

    def __init__(self, flow: Flow):
        self.flow = flow
        self.beside = {kind: neighbours(flow, step) for kind, step in STEPS.items()}

    def enters(self, level_id: str, spawn: str) -> bool:
        level = self.flow.level(level_id)
        return bool(level and level.ships and (level.spawn(spawn) or (not spawn and level.kind != "play")))

    def target(self, base: str, to: Destination | None) -> str | None:
        """The level an exit leads to from a base level; "" for nowhere; None where only play decides."""
        if to is None:
            return ""
        if to.kind == "level":
            return to.level if self.enters(to.level, to.spawn) else ""
        if to.kind not in self.beside:
            return None
        found = self.beside[to.kind].get(base)
        if found is None:
            return self.target(base, to.otherwise)
        return found.id if self.enters(found.id, "") else ""

    def title(self, level_id: str) -> str:
        level = self.flow.level(level_id)
        return level.title if level else level_id


class _Redirected:
    """Which destinations of a flow may lead elsewhere after an edit, told without following each."""

    def __init__(self, was: _Leading, now: _Leading, changes: LevelChanges):
        self.was, self.now = was, now
        changed = (old for old, new in changes.changed if _as_target(old) != _as_target(new))
        self._entered = {level.id for level in (*changes.gone, *changes.new, *changed)}
        """The levels that can be entered otherwise than before, or not at all."""
        self.beside = {kind: set(self._other_neighbour(kind)) for kind in was.beside}
        """The levels that have another next or previous one, or one that can be entered otherwise."""

    def _other_neighbour(self, kind: str) -> Iterator[str]:
        before = self.was.beside[kind]
        for name, found in self.now.beside[kind].items():
            other = before.get(name)
            if _name(found) in self._entered or (found is not other and _name(found) != _name(other)):
                yield name

    def concerns(self, level: Level, exit_: Exit) -> bool:
        """Whether an exit of a level may lead elsewhere than before, if its destination is as it was."""
        for to in exit_.destinations:
            if to.level in self._entered if to.kind == "level" else level.id in self.beside.get(to.kind, ()):
                return True
        return False


def _name(level: Level | None) -> str:
    return level.id if level else ""


def _exits(edit: _Redirected, origins: Origins) -> Iterator[Consequence]:
    for level in edit.was.flow.levels:
        for exit_ in level.exits:
            if not edit.concerns(level, exit_):
                continue
            present = edit.now.flow.level(level.id)
            after = present.exit(exit_.id) if present else None
            if after is None or after.to != exit_.to:
                continue
            if level.kind == "play" or exit_.to is None or exit_.to.kind == "level":
                yield from _moved(edit.was, edit.now, level, exit_, level.id)
    yield from _from_screens(edit, origins)


def _moved(was: _Leading, now: _Leading, level: Level, exit_: Exit, base: str) -> Iterator[Consequence]:
    led, leads = was.target(base, exit_.to), now.target(base, exit_.to)
    if led == leads or led is None:
        return
    place, name = f"{level.id}.{exit_.id}", f"{level.title}: {exit_.name or exit_.id}"
    if leads == "":
        yield Consequence("nowhere", place, f"{name} would lead nowhere; now it leads to {was.title(led)}.")
    elif leads is not None:
        told = f"instead of to {was.title(led)}" if led else "instead of nowhere"
        yield Consequence("elsewhere", place, f"{name} would lead to {now.title(leads)} {told}.")


def _from_screens(edit: _Redirected, origins: Origins) -> Iterator[Consequence]:
    """Exits of screens that lead to the next or previous level, from each level they may have come from."""
    old, was, now = edit.was.flow, edit.was, edit.now
    for level in old.levels:
        for exit_ in level.exits if level.kind != "play" else ():
            if exit_.to is None or exit_.to.kind not in ("next", "previous"):
                continue
            beside = (was.beside[exit_.to.kind], now.beside[exit_.to.kind])
            possible = origins(level.id)
            for base in old.levels:
                if base.id not in edit.beside[exit_.to.kind] or base.kind != "play":
                    continue
                if possible is not None and base.id not in possible:
                    continue
                ends = [found.id if (found := side.get(base.id)) else "" for side in beside]
                if ends[0] != ends[1]:
                    names = was.title(ends[0]), now.title(ends[1])
                    told = [name or "where it otherwise leads" for name in names]
                    sentence = f"{level.title}: {exit_.name or exit_.id} would, after {base.title}, lead to {told[1]} instead of {told[0]}."  # noqa: E501
                    yield Consequence("elsewhere", f"{level.id}.{exit_.id}", sentence)


def _start(old: Flow, new: Flow, was: _Leading, now: _Leading) -> Iterator[Consequence]:
    if old.start.level and was.enters(old.start.level, old.start.spawn):
        if not now.enters(new.start.level, new.start.spawn):
            yield Consequence("nowhere", old.start.level, f"The game could not start: {was.title(old.start.level)}.")
        elif new.start.level != old.start.level:
            yield Consequence("elsewhere", new.start.level, f"The game would start in {now.title(new.start.level)}.")


def _tiles(old: Flow, was: _Leading, now: _Leading) -> Iterator[Consequence]:
    for level in old.levels:
        for tile in level.tiles if now.flow.level(level.id) else ():
            if was.enters(tile.level, tile.spawn) and not now.enters(tile.level, tile.spawn):
                sentence = f"{level.title}: tile {tile.id} would open nothing; now it opens {was.title(tile.level)}."
                yield Consequence("nowhere", f"{level.id}.{tile.id}", sentence)


def _references(new: Flow, changes: LevelChanges) -> Iterator[Consequence]:
    gone = {level.id: level.title for level in changes.gone}
    if not gone:
        return
    for place, name, condition in _conditions(new):
        for level_id in levels_named(condition):
            if level_id in gone:
                yield Consequence("refers", place, f"{name} asks about {gone[level_id]} (“{condition}”).")
    for promise in new.promises:
        for level_id in {promise.level, *promise.avoiding} & gone.keys():
            name = promise.name or promise.id
            yield Consequence("refers", promise.id, f"The promise “{name}” is about {gone[level_id]}.")


def _meanings(old: Flow, new: Flow) -> Iterator[Consequence]:
    """Conditions and effects that meant something and would mean nothing any more, because a fact is another."""
    new_facts = {fact.id: fact for fact in new.facts}
    changed = [fact.id for fact in old.facts if new_facts.get(fact.id) != fact]
    if not changed:
        return
    was, now = Vocabulary(old), Vocabulary(new)
    for place, name, text in _naming(_conditions(new), changed):
        tree = parse_condition(text)
        if unknown_in_condition(tree, now) and not unknown_in_condition(tree, was):
            yield Consequence("refers", place, f"{name} asks “{text}”, which could never hold.")
    for place, name, text in _naming(_effects(new), changed):
        effect = parse_effect(text)
        if unknown_in_effect(effect, now) and not unknown_in_effect(effect, was):
            yield Consequence("refers", place, f"{name} says “{text}”, which would do nothing.")


def _naming(found: Iterator[tuple[str, str, str]], facts: list[str]) -> Iterator[tuple[str, str, str]]:
    """Those that may name one of the facts; reading them all would take long."""
    return (one for one in found if any(fact in one[2] for fact in facts))


def _effects(flow: Flow) -> Iterator[tuple[str, str, str]]:
    """Every effect with its short place and what it belongs to, in words."""
    for level in flow.levels:
        yield from ((level.id, f"{level.title}, on arrival,", text) for text in level.on_arrival)
        things: tuple[Deed | Exit, ...] = (*level.deeds, *level.exits)
        for thing in things:
            name = f"{level.title}: {thing.name or thing.id}"
            yield from ((f"{level.id}.{thing.id}", name, text) for text in thing.effects)


def _conditions(flow: Flow) -> Iterator[tuple[str, str, str]]:
    """Every condition with its short place and what it belongs to, in words."""
    for level in flow.levels:
        yield level.id, level.title, level.opens
        for path in level.paths:
            yield level.id, f"{level.title}: the path {path.start} to {path.end}", path.when
        for deed in level.deeds:
            yield f"{level.id}.{deed.id}", f"{level.title}: {deed.name or deed.id}", deed.when
        for exit_ in level.exits:
            for condition in (exit_.trigger.when, exit_.opens):
                yield f"{level.id}.{exit_.id}", f"{level.title}: {exit_.name or exit_.id}", condition
    for promise in flow.promises:
        yield promise.id, f"The promise “{promise.name or promise.id}”", promise.when


def _codes(old: Flow, new: Flow, changes: LevelChanges) -> Iterator[Consequence]:
    if all(was.code == now.code for was, now in changes.changed):
        return
    before = {level.id: level.code for level in old.levels}
    holders: dict[str, Level] = {}
    for level in new.levels:
        if level.code and before.get(level.id) == level.code:
            holders.setdefault(level.code.casefold(), level)
    for level in new.levels:
        twin = holders.get(level.code.casefold()) if level.code else None
        if twin and level.id in before and before[level.id] != level.code:
            yield Consequence("refers", twin.id, f"{twin.title} has the code {level.code} already.")


def _walks(old: Flow, new: Flow, rules: Rules | None) -> Iterator[Consequence]:
    if not old.walks or surely_play_alike(old, new):
        return
    walks = _replayed(old, new)
    if not walks:
        return
    rules = rules or Rules(old, resuming=True)
    after = Rules(new, resuming=True, before=rules)
    for walk in walks:
        now = replay(after, walk)
        if not now.holds and replay(rules, walk).holds:
            name, move = walk.name or walk.id, now.stopped_at
            where = f" at move {move + 1} ({_move_words(rules, walk.moves[move])})" if move is not None else ""
            yield Consequence("walk", walk.id, f"The recorded walk “{name}” would no longer work{where}.")


def _move_words(rules: Rules, text: str) -> str:
    move = parse_move(text)
    return named_move(rules, move) if move else text


def _replayed(old: Flow, new: Flow) -> list[Walk]:
    """The walks that are tried, in their order: all, if that does not take long; else first those that make a move in a
    level that is changed or gone."""
    changes = level_changes(old, new)
    levels = {level.id for level in (*changes.gone, *(was for was, _ in changes.changed))}
    touched = {
        walk.id: any(move.partition(" ")[2].partition(".")[0] in levels for move in walk.moves) for walk in old.walks
    }
    chosen: set[str] = set()
    left = MOST_REPLAYED
    for walk in sorted(old.walks, key=lambda walk: not touched[walk.id]):
        if len(walk.moves) <= left:
            left -= len(walk.moves)
            chosen.add(walk.id)
    return [walk for walk in old.walks if walk.id in chosen]
