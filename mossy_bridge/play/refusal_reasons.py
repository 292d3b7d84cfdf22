"""Why a move is not possible in a state, in the designer's words."""

from mossy_bridge.language.wording import Wording
from mossy_bridge.play.board_cursor import tiles_in_reach
from mossy_bridge.play.compiled_level import ReadyExit, ReadyLevel
from mossy_bridge.play.destinations import Landing, Nowhere
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import Move, State

_NOWHERE = {
    "unconnected": "it has no destination yet",
    "no-level": "the level it leads to does not exist",
    "not-shipped": "the level it leads to does not ship",
    "no-spawn": "the level it leads to lacks the spawn point",
    "no-ending": "the ending it leads to does not exist",
    "not-play": "a restart is possible in play levels only",
    "runs-out": "it finds no level to lead to",
    "resume": "there is no saved game",
}


class Reasons:
    """Explains impossible moves of one flow."""

    def __init__(self, rules: Rules):
        self._rules = rules
        self._wording = Wording(rules.flow)

    def why_not(self, move: Move, state: State) -> str:
        """Why the move is impossible in the state; "" where it is possible."""
        if any(possible == move for possible, _ in self._rules.moves(state)):
            return ""
        if move.level != state.place:
            where = self._rules.levels[state.place].source.title
            return f"the player is in {where}, not there"
        forced = self._rules.sprung(state)
        if forced:
            return f"{forced.source.name or forced.source.id} fires by itself first"
        return self._in_level(move, state, self._rules.levels[state.place])

    def _in_level(self, move: Move, state: State, level: ReadyLevel) -> str:
        match move.kind:
            case "exit":
                found = next((e for e in level.exits if e.source.id == move.thing), None)
                return self.exit_closed(found, state) if found else "the level has no such exit"
            case "deed":
                return self._deed(move, state, level)
            case "path":
                return self._path(move, state, level)
            case "tile":
                return self._tile(move, state, level)

    def exit_closed(self, exit_: ReadyExit, state: State) -> str:
        """Why the exit cannot be set off now."""
        source = exit_.source
        target = self._rules.target(exit_, state)
        if isinstance(target, Nowhere):
            return _NOWHERE[target.reason]
        if not exit_.by_player:
            return "the player cannot set it off"
        for test, text in ((exit_.when, source.trigger.when), (exit_.opens, source.opens)):
            if not test(state):
                return self._wording.missing(text, state)
        if isinstance(target, Landing) and not self._rules.lets_in(exit_, state):
            level = self._rules.levels[target.level].source
            return f"{level.title} is locked: {self._wording.missing(level.opens, state)}"
        if source.trigger.kind == "auto":
            return "it fires by itself only, and never to resume a game"
        return f"it is in another zone{self._named_zone(source.zone, state)}"

    def _named_zone(self, zone: str, state: State) -> str:
        zones = self._rules.levels[state.place].source.zones
        return next((f" ({z.name or z.id})" for z in zones if z.id == zone), "")

    def _deed(self, move: Move, state: State, level: ReadyLevel) -> str:
        deed = next((d for d in level.deeds if d.source.id == move.thing), None)
        if deed is None:
            known = level.source.deed(move.thing)
            return "its zone does not exist" if known else "the level has no such deed"
        if (state.place, move.thing) in state.spent:
            return f"it has been done and cannot be done again in this {deed.source.repeats}"
        if not deed.when(state):
            return self._wording.missing(deed.source.when, state)
        return f"it is in another zone{self._named_zone(deed.source.zone, state)}"

    def _path(self, move: Move, state: State, level: ReadyLevel) -> str:
        way = next((w for w in level.ways if (w.start, w.end) == (move.thing, move.end)), None)
        if way is None:
            return "the level has no such path"
        if state.zone != way.start:
            return f"the player is not in its zone{self._named_zone(way.start, state)}"
        path = next(p for p in level.source.paths if {p.start, p.end} == {way.start, way.end})
        return self._wording.missing(path.when, state)

    def _tile(self, move: Move, state: State, level: ReadyLevel) -> str:
        tile = level.tiles.get(move.thing)
        if tile is None:
            return "the board has no such tile"
        open_tiles = frozenset(self._rules.open_tiles(state))
        if tile.id in open_tiles:
            return "the cursor cannot get there" if tile.id not in tiles_in_reach(level.source, open_tiles) else ""
        target = self._rules.levels.get(tile.level)
        if target is None or not target.source.ships or target.opens(state):
            return "it leads to no level that can be entered"
        return f"{target.source.title} is locked: {self._wording.missing(target.source.opens, state)}"
