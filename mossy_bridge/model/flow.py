"""The values a flow is made of, field by field in the order of the flow file.

They only hold data. Whether a reference leads anywhere is asked by the checks; what a flow means is said
by the rules of play. Conditions and effects are kept as their canonical text.
"""

from functools import cached_property
from typing import Annotated, Any, Literal

from msgspec import Meta, Struct, field

FORMAT_VERSION = 1

Whole = Annotated[int, Meta(ge=-(2**63), le=2**63 - 1)]
Size = Annotated[float, Meta(ge=0)]
Rect = tuple[float, float, Size, Size]
"""x, y, width, height in plan units; x and y are the corner with the smallest values."""

Id = Annotated[str, Meta(pattern="^[a-z][a-z0-9_]*$", extra={"is": "id"})]
Condition = Annotated[
    str, Meta(description="a condition, such as: has clapper and at least 3 oil", extra={"is": "condition"})
]
Effect = Annotated[str, Meta(description="an effect, such as: add 2 oil", extra={"is": "effect"})]
Expectation = Annotated[
    str, Meta(pattern="^(works|fails|ends:[a-z][a-z0-9_]*|at:[a-z][a-z0-9_]*)$", extra={"is": "expectation"})
]

LevelKind = Literal["play", "screen", "board"]
FactKind = Literal["flag", "count", "choice"]
Lifetime = Literal["visit", "run", "profile"]
Status = Literal["planned", "draft", "ready"]
TriggerKind = Literal["touch", "press", "choose", "auto", "timer", "fail"]
DestinationKind = Literal["level", "next", "previous", "again", "back", "resume", "end"]
StepKind = Literal[
    "hold_player", "fade_out", "fade_in", "show_message", "tally", "load", "wait", "sound", "scene", "confirm"
]
PromiseKind = Literal["can", "never", "always_can", "within"]
Tint = Literal["", "reed", "tide", "sand", "heather", "clay", "slate"]
PLAYER = "player"


class Value(Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """An immutable part of a flow. Changing one makes a new one: ``msgspec.structs.replace``."""


class Start(Value, frozen=True, kw_only=True):
    """Where the program starts."""

    level: str = ""
    spawn: str = ""


class Units(Value, frozen=True, kw_only=True):
    """The unit of plans, and which way y grows."""

    name: str = "tile"
    y: Literal["down", "up"] = "down"


class Walker(Value, frozen=True, kw_only=True):
    """The player's body and movement: plan units, and seconds for ``tick``."""

    width: float = 0.8
    height: float = 1.6
    speed: float = 6.0
    jump_height: float = 3.0
    gravity: float = 30.0
    tick: float = 0.0166667
    view: Literal["side", "top"] = "side"


class Limits(Value, frozen=True, kw_only=True):
    """Thresholds of checks: seconds, and plan units for ``return_distance``."""

    transition_seconds: float = 6.0
    read_start: float = 0.5
    read_per_word: float = 0.25
    held_after: float = 0.5
    flash_seconds: float = 0.15
    return_distance: float = 12.0


class Region(Value, frozen=True, kw_only=True):
    """A named group of levels. ``tint`` tells it from its neighbours on strip and map."""

    id: Id
    name: str = ""
    tint: Tint = ""


class Ending(Value, frozen=True, kw_only=True):
    """A way the game can end."""

    id: Id
    name: str = ""


class Fact(Value, frozen=True, kw_only=True):
    """Something the game remembers. ``initial`` is None where the file leaves it to the kind."""

    id: Id
    name: str = ""
    kind: FactKind
    lifetime: Lifetime = "run"
    values: tuple[Id, ...] = ()
    low: Whole = 0
    high: Whole = 9
    initial: bool | Whole | str | None = None

    @property
    def first(self) -> bool | int | str:
        """The value the fact starts with."""
        if self.initial is not None:
            return self.initial
        if self.kind == "flag":
            return False
        return 0 if self.kind == "count" else self.values[0]


class Step(Value, frozen=True, kw_only=True):
    """One step of a transition: begins ``at`` seconds after the exit is set off."""

    do: StepKind
    at: Size = 0
    lasts: Size = 0
    text: str = ""


class Transition(Value, frozen=True, kw_only=True):
    """The timed steps between an exit being set off and the player having control again."""

    id: Id
    name: str = ""
    steps: tuple[Step, ...] = ()

    @property
    def seconds(self) -> float:
        """When its last step ends."""
        return max((step.at + step.lasts for step in self.steps), default=0.0)


class Plan(Value, frozen=True, kw_only=True):
    """The floor plan of a level, in plan units. ``solids`` cannot be walked through."""

    width: Size = 0
    height: Size = 0
    picture: str = ""
    solids: tuple[Rect, ...] = ()


class Zone(Value, frozen=True, kw_only=True):
    """A part of a level that can be walked freely."""

    id: Id
    name: str = ""


class Path(Value, frozen=True, kw_only=True, rename={"start": "from", "end": "to"}):
    """A way from one zone to another, or both ways."""

    start: str
    end: str
    both_ways: bool = False
    when: Condition = "always"


class Spawn(Value, frozen=True, kw_only=True):
    """A named place where the player can appear; feet at x, y."""

    id: Id
    name: str = ""
    x: float = 0
    y: float = 0
    faces: Literal["left", "right", "up", "down"] = "right"
    zone: str = ""


class Deed(Value, frozen=True, kw_only=True):
    """Something the player can do in a level that the game remembers."""

    id: Id
    name: str = ""
    x: float = 0
    y: float = 0
    zone: str = ""
    when: Condition = "always"
    effects: tuple[Effect, ...] = ()
    repeats: Literal["run", "visit", "always"] = "run"
    checkpoint: str = ""
    saves: bool = False


class Trigger(Value, frozen=True, kw_only=True):
    """What sets an exit off."""

    kind: TriggerKind = "touch"
    by: tuple[str, ...] = (PLAYER,)
    when: Condition = "always"
    seconds: Size = 0
    armed_on_arrival: bool = True


class Destination(Value, frozen=True, kw_only=True):
    """Where an exit leads. ``otherwise`` is used where the kind finds nothing."""

    kind: DestinationKind = "level"
    level: str = ""
    spawn: str = ""
    ending: str = ""
    otherwise: "Destination | None" = None

    def chain(self) -> "tuple[Destination, ...]":
        """This destination, its ``otherwise``, the one behind that, and so on."""
        found: list[Destination] = []
        here: Destination | None = self
        while here is not None:
            found.append(here)
            here = here.otherwise
        return tuple(found)


class Exit(Value, frozen=True, kw_only=True):
    """A way out of a level. ``to`` is None while it is not connected."""

    id: Id
    name: str = ""
    area: Rect = (0, 0, 0, 0)
    zone: str = ""
    trigger: Trigger = field(default_factory=Trigger)
    opens: Condition = "always"
    completes: bool = False
    fresh: bool = False
    effects: tuple[Effect, ...] = ()
    transition: str = ""
    to: Destination | None = None

    @property
    def destinations(self) -> tuple[Destination, ...]:
        """Every destination the exit may use, in the order they are tried."""
        return self.to.chain() if self.to else ()


class Tile(Value, frozen=True, kw_only=True):
    """An entry on a board."""

    id: Id
    col: Whole = 0
    row: Whole = 0
    level: str = ""
    spawn: str = ""
    left: str = ""
    right: str = ""
    up: str = ""
    down: str = ""

    @property
    def neighbours(self) -> tuple[str, ...]:
        """The tiles the cursor can step to from here."""
        return tuple(name for name in (self.left, self.right, self.up, self.down) if name)


class Level(Value, frozen=True, kw_only=True):
    """Any place where the player can be. ``set_here`` (never in the file) names the fields a level with a
    pattern sets itself; it is empty in a level without one."""

    id: Id
    code: str = ""
    name: str = ""
    kind: LevelKind = "play"
    region: str = ""
    pattern: str = ""
    ships: bool = True
    status: Status = "draft"
    file: str = ""
    opens: Condition = "always"
    copied_from: str = ""
    ticked: tuple[str, ...] = ()
    unreviewed: tuple[str, ...] = ()
    minutes: Size = 0
    difficulty: Whole = 0
    notes: str = ""
    plan: Plan | None = None
    zones: tuple[Zone, ...] = ()
    paths: tuple[Path, ...] = ()
    cast: tuple[str, ...] = ()
    on_arrival: tuple[Effect, ...] = ()
    spawns: tuple[Spawn, ...] = ()
    deeds: tuple[Deed, ...] = ()
    exits: tuple[Exit, ...] = ()
    tiles: tuple[Tile, ...] = ()
    first_tile: str = ""
    cursor: Literal["free", "open", "any"] = "free"
    set_here: frozenset[str] = frozenset()

    @property
    def title(self) -> str:
        """What the level is called in sentences."""
        return self.name or self.code or self.id

    def spawn(self, name: str) -> Spawn | None:
        """The named spawn point, the first one if no name is given, or None."""
        if not name:
            return self.spawns[0] if self.spawns else None
        return next((spawn for spawn in self.spawns if spawn.id == name), None)

    def exit(self, name: str) -> Exit | None:
        """The exit with that id, or None."""
        return next((exit_ for exit_ in self.exits if exit_.id == name), None)

    def deed(self, name: str) -> Deed | None:
        """The deed with that id, or None."""
        return next((deed for deed in self.deeds if deed.id == name), None)


class Promise(Value, frozen=True, kw_only=True):
    """Something the designer requires of the flow."""

    id: Id
    name: str = ""
    kind: PromiseKind
    level: str = ""
    ending: str = ""
    when: Condition = "always"
    avoiding: tuple[str, ...] = ()
    crossings: Whole = 0


class Walk(Value, frozen=True, kw_only=True):
    """A recorded walk and what it is expected to come to."""

    id: Id
    name: str = ""
    moves: tuple[str, ...] = ()
    expect: Expectation = "works"


class ChecklistItem(Value, frozen=True, kw_only=True):
    """Something every level of the named kinds must have."""

    id: Id
    text: str = ""
    kinds: tuple[LevelKind, ...] = ()


class TrialSetting(Value, frozen=True, kw_only=True):
    """A value that is for testing only, and the one to deliver in its place."""

    at: str = ""
    ships_as: Any = None
    why: str = ""


class Waiver(Value, frozen=True, kw_only=True):
    """A finding the designer has accepted."""

    check: str = ""
    at: str = ""
    why: str = ""


class MapPlace(Value, frozen=True, kw_only=True):
    """Where a hand-moved card stands, in map units."""

    x: float = 0
    y: float = 0


class Flow(Value, frozen=True, kw_only=True, dict=True):
    """The whole document: how a game moves from level to level."""

    mossy_bridge: int = FORMAT_VERSION
    title: str = ""
    start: Start = field(default_factory=Start)
    progress: Literal["run", "profile"] = "run"
    saving: Literal["arrival", "deed", "never"] = "arrival"
    units: Units = field(default_factory=Units)
    walker: Walker = field(default_factory=Walker)
    limits: Limits = field(default_factory=Limits)
    actors: tuple[Id, ...] = (PLAYER,)
    regions: tuple[Region, ...] = ()
    endings: tuple[Ending, ...] = ()
    facts: tuple[Fact, ...] = ()
    transitions: tuple[Transition, ...] = ()
    patterns: tuple[Level, ...] = ()
    levels: tuple[Level, ...] = ()
    promises: tuple[Promise, ...] = ()
    walks: tuple[Walk, ...] = ()
    checklist: tuple[ChecklistItem, ...] = ()
    trial_settings: tuple[TrialSetting, ...] = ()
    waivers: tuple[Waiver, ...] = ()
    map: dict[str, MapPlace] = field(default_factory=dict)

    def level(self, name: str) -> Level | None:
        """The level with that id, or None."""
        return self._by_id.get(name)

    @cached_property
    def _by_id(self) -> dict[str, Level]:
        """The levels by id, made when first asked for: thousands of exits ask for theirs."""
        return {level.id: level for level in reversed(self.levels)}

    def transition(self, name: str) -> Transition | None:
        """The transition with that id, or None."""
        return next((item for item in self.transitions if item.id == name), None)
