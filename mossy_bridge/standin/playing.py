"""The game as it is played: time, the walker, doors and boards, without a window."""

from typing import NamedTuple

from mossy_bridge.standin.engine import NONE, Move, State, Table
from mossy_bridge.standin.motion import Body, Ground, Will
from mossy_bridge.standin.session import Session

TELL_EVERY = 0.25
"""Seconds between two words of where the player is."""
REACH = 1.2
"""Plan units from which a deed can be done."""


class Option(NamedTuple):
    """Something the player can do by a key: what it is called, and the moves that do it."""

    words: str
    moves: tuple[Move, ...]


class Crossing:
    """An exit under way: its transition, and how far it is."""

    def __init__(self, move: Move, transition: Table | None):
        self.move, self.elapsed, self.done, self.confirmed = move, 0.0, False, False
        self._steps: list[Table] = transition["steps"] if transition else []
        self.seconds = float(transition["seconds"]) if transition else 0.0
        loads = [step["at"] + step["lasts"] for step in self._steps if step["do"] == "load"]
        self.arrives_at = max(loads, default=self.seconds)

    @property
    def waits(self) -> bool:
        """Whether it waits for a key."""
        asked = [step["at"] for step in self._steps if step["do"] == "confirm"]
        return not self.confirmed and bool(asked) and self.elapsed >= min(asked)

    @property
    def dark(self) -> float:
        """How dark it is, from 0 to 1."""
        shade = 0.0
        for step in sorted(self._steps, key=lambda step: step["at"]):
            if step["do"] in ("fade_out", "fade_in") and self.elapsed >= step["at"]:
                share = min(1.0, (self.elapsed - step["at"]) / step["lasts"]) if step["lasts"] else 1.0
                shade = share if step["do"] == "fade_out" else 1.0 - share
        return shade

    @property
    def messages(self) -> list[str]:
        """What is written on the screen now."""
        shown = [step for step in self._steps if step["do"] in ("show_message", "tally", "confirm")]
        return [
            step["text"] or {"tally": "Points are counted", "confirm": "Press a key"}.get(step["do"], "")
            for step in shown
            if step["at"] <= self.elapsed and (self.elapsed < step["at"] + step["lasts"] or self.waits)
        ]


class Playing:
    """Plays a session in time. Keys have names: ``left``, ``right``, ``up``, ``down``, ``jump``, ``enter``, ``escape``,
    and ``1`` to ``9``."""

    def __init__(self, session: Session):
        self.session = session
        self.keys: set[str] = set()
        """Those that are held."""
        self.body = Body(0.0, 0.0)
        self.crossing: Crossing | None = None
        self.at_tile, self.chosen = 0, 0
        """The tile of a board, and the choice of a screen, that is pointed at."""
        self.ground: Ground | None = None
        """The plan walked on; None on boards, screens and where there is none."""
        self._touched: set[int] = set()
        """The exits whose areas the body is in, and which it has to leave before they fire again."""
        self._possible_for: dict[int, float] = {}
        self._told_at = 0.0
        self._arrive()

    # -- time ------------------------------------------------------------------------------------------

    def advance(self, seconds: float) -> None:
        """Lets so much time pass."""
        if self.crossing:
            self._cross(seconds)
        elif self.session.state is not None:
            self._walk(seconds)
            self._count_timers(seconds)
            self._fire_forced()

    def _cross(self, seconds: float) -> None:
        crossing = self.crossing
        if crossing is None:
            return
        crossing.elapsed += 0.0 if crossing.waits else seconds
        if not crossing.done and crossing.elapsed >= crossing.arrives_at:
            crossing.done = True
            self.session.play(crossing.move)
            self._arrive()
        if crossing.done and crossing.elapsed >= crossing.seconds and not crossing.waits:
            self.crossing = None

    def _fire_forced(self) -> None:
        """Fires what fires by itself: one exit a moment, for some flows do so for ever."""
        forced = self.session.forced() if self.crossing is None else None
        if forced:
            self._begin(forced)

    def _begin(self, move: Move) -> None:
        """Makes a move: at once, or by way of a transition."""
        if move.kind == "exit":
            number = self.session.level["exits"][move.thing]["transition"]
            transition = self.session.table["transitions"][number] if number != NONE else None
            self.crossing = Crossing(move, transition)
            self._cross(0.0)
            return
        before = self.session.state
        self.session.play(move)
        if move.kind == "tile" or (before and self.session.state and before.level != self.session.state.level):
            self._arrive()

    def _arrive(self) -> None:
        """Puts the walker where the session has arrived."""
        state = self.session.state
        self.chosen, self._possible_for = 0, {}
        self.ground = None
        if state is None:
            return
        level = self.session.level
        self.at_tile = max(level["first_tile"], 0)
        plan = level["plan"]
        if level["kind"] == "play" and plan and plan["width"] > 0 and plan["height"] > 0:
            y_down = self.session.table["units"]["y"] == "down"
            self.ground = Ground(plan, self.session.table["walker"], y_down)
            spawn = level["spawns"][state.respawn] if state.respawn != NONE else {"x": 1.0, "y": 0.0}
            self.body = Body(spawn["x"], self.ground.height_of(spawn["y"]))
            self._touched = set(self._met())

    # -- walking ---------------------------------------------------------------------------------------

    def _walk(self, seconds: float) -> None:
        if self.ground is None:
            return
        across = ("right" in self.keys) - ("left" in self.keys)
        upwards = ("up" in self.keys) - ("down" in self.keys)
        jumps = "up" in self.keys or "jump" in self.keys
        self.body = self.ground.moved(self.body, Will(across, upwards, jumps), seconds)
        met = set(self._met())
        for number in sorted(met - self._touched):
            if self.session.level["exits"][number]["trigger"] == "touch":
                moves = self._with_paths(Move("exit", number))
                if moves:
                    self._touched = met
                    self._make(moves)
                    return
        self._touched = met
        self._told_at += seconds
        if self._told_at >= TELL_EVERY:
            self._told_at = 0.0
            self.session.stands_at(self.body.x, self.ground.y_of(self.body.height))

    def _met(self) -> list[int]:
        """The exits whose areas the body is in."""
        if self.ground is None:
            return []
        here = self.ground.body_box(self.body)
        exits = enumerate(self.session.level["exits"])
        return [number for number, exit_ in exits if self.ground.box(exit_["area"]).meets(here)]

    def _count_timers(self, seconds: float) -> None:
        """Fires what waits for time to pass, once it could have been fired for so long."""
        possible = {move.thing for move in self.session.moves() if move.kind == "exit"}
        for number, exit_ in enumerate(self.session.level["exits"]):
            if exit_["trigger"] != "timer":
                continue
            self._possible_for[number] = self._possible_for.get(number, 0.0) + seconds if number in possible else 0.0
            if number in possible and self._possible_for[number] >= exit_["seconds"]:
                self._begin(Move("exit", number))
                return

    def _with_paths(self, wanted: Move) -> tuple[Move, ...]:
        """The move, behind the paths by which one gets into its zone; nothing where it is not possible."""
        start = self.session.state
        waiting: list[tuple[State, tuple[Move, ...]]] = [(start, ())] if start else []
        known = {start.zone} if start else set()
        while waiting:
            state, way = waiting.pop(0)
            moves = self.session.game.moves(state)
            if wanted in moves:
                return (*way, wanted)
            for move in moves:
                after = self.session.game.play(state, move) if move.kind == "path" else None
                if isinstance(after, State) and after.zone not in known:
                    known.add(after.zone)
                    waiting.append((after, (*way, move)))
        return ()

    def _make(self, moves: tuple[Move, ...]) -> None:
        for move in moves:
            self._begin(move)

    # -- what can be chosen ----------------------------------------------------------------------------

    def options(self) -> list[Option]:
        """What can be done by a key here and now."""
        if self.session.state is None or self.crossing:
            return []
        found = []
        level = self.session.level
        for number, exit_ in enumerate(level["exits"]):
            if exit_["trigger"] in ("touch", "press") and self.ground and not self._is_here(number, exit_):
                continue
            if exit_["trigger"] not in ("auto", "timer") and (moves := self._with_paths(Move("exit", number))):
                found.append(Option(exit_["name"] or exit_["id"], moves))
        for number, deed in enumerate(level["deeds"]):
            if self._is_near(deed) and (moves := self._with_paths(Move("deed", number))):
                found.append(Option(deed["name"] or deed["id"], moves))
        return found

    def _is_here(self, number: int, exit_: Table) -> bool:
        """Whether the player is where an exit is to be pressed; one that is to be touched is not offered, unless it has
        no area."""
        if not exit_["area"][2] or not exit_["area"][3]:
            return True
        return exit_["trigger"] == "press" and number in self._met()

    def _is_near(self, deed: Table) -> bool:
        if self.ground is None or not (deed["x"] or deed["y"]):
            return True
        here = self.ground.body_box(self.body)
        height = self.ground.height_of(deed["y"])
        return here.left - REACH <= deed["x"] <= here.right + REACH and here.low - REACH <= height <= here.high + REACH

    def open_tiles(self) -> set[int]:
        """The tiles that can be chosen."""
        return {move.thing for move in self.session.moves() if move.kind == "tile"}

    # -- keys ------------------------------------------------------------------------------------------

    def press(self, key: str) -> None:
        """A key is pressed."""
        self.keys.add(key)
        if self.crossing:
            self.crossing.confirmed = self.crossing.confirmed or self.crossing.waits
        elif self.session.state is None or key == "escape":
            self.session.quit()
            self._arrive()
        elif key == "enter":
            self._choose()
        elif key.isdecimal():
            self._pick(int(key) - 1)
        else:
            self._point(key)

    def release(self, key: str) -> None:
        """A key is let go."""
        self.keys.discard(key)

    def _choose(self) -> None:
        if not self.session.level["tiles"]:
            self._pick(self.chosen)
        elif self.at_tile in self.open_tiles():
            self._begin(Move("tile", self.at_tile))

    def _pick(self, number: int) -> None:
        options = self.options()
        if 0 <= number < len(options):
            self._make(options[number].moves)

    def _point(self, key: str) -> None:
        """Moves the cursor of a board, or what is chosen of a screen."""
        level = self.session.level
        if key in ("left", "right", "up", "down") and level["tiles"]:
            self.at_tile = self._beside(level, key)
        elif key in ("up", "down") and self.ground is None and (count := len(self.options())):
            self.chosen = (self.chosen + (1 if key == "down" else -1)) % count

    def _beside(self, level: Table, way: str) -> int:
        """The tile that the cursor gets to: by its link; with a free cursor the nearest in that direction."""
        tiles = level["tiles"]
        here = tiles[self.at_tile]
        linked = here[way]
        if linked != NONE:
            may = level["cursor"] != "open" or linked in self.open_tiles()
            return int(linked) if may else self.at_tile
        if level["cursor"] != "free":
            return self.at_tile
        sign, along, beside = {"left": (-1, "col", "row"), "right": (1, "col", "row"), "up": (-1, "row", "col"),
                               "down": (1, "row", "col")}[way]  # fmt: skip
        ahead = [
            (abs(one[along] - here[along]) + 2 * abs(one[beside] - here[beside]), number)
            for number, one in enumerate(tiles)
            if sign * (one[along] - here[along]) > 0
        ]
        return min(ahead)[1] if ahead else self.at_tile
