"""The values a flow is made of, field by field in the order of the flow file.

They only hold data. Whether a reference leads anywhere is asked by the checks; what a flow means is said by the rules
of play. Conditions and effects are kept as their canonical text.
"""

from functools import cached_property
from typing import Annotated, Any, Literal

from msgspec import Meta, Struct, field

FORMAT_VERSION = 1

FARTHEST = 1_000_000
"""How far anything may lie from the origin of a plan or of the map, in units, and how large it may be."""
MOST = 1_000_000
"""The largest count."""
LONGEST_NAME, LONGEST_TEXT, LONGEST_NOTES, LONGEST_ID = 1_000, 10_000, 100_000, 100
"""Characters."""

Coordinate = Annotated[float, Meta(ge=-FARTHEST, le=FARTHEST)]
Size = Annotated[float, Meta(ge=0, le=FARTHEST)]
Measure = Annotated[float, Meta(gt=0, le=FARTHEST)]
"""A size or speed that cannot be 0."""
Rect = tuple[Coordinate, Coordinate, Size, Size]
"""x, y, width, height in plan units; x and y are the corner with the smallest values."""
Amount = Annotated[int, Meta(ge=0, le=MOST)]
Difficulty = Annotated[int, Meta(ge=-1_000, le=1_000)]
Cell = Annotated[float, Meta(ge=-10_000, le=10_000)]
Seconds = Annotated[float, Meta(ge=0, le=86_400)]
Minutes = Annotated[float, Meta(ge=0, le=100_000)]

Name = Annotated[str, Meta(max_length=LONGEST_NAME)]
Text = Annotated[str, Meta(max_length=LONGEST_TEXT)]
"""A text of one line."""
Message = Annotated[str, Meta(max_length=LONGEST_TEXT, extra={"is": "prose"})]
Notes = Annotated[str, Meta(max_length=LONGEST_NOTES, extra={"is": "prose"})]
Id = Annotated[str, Meta(pattern="^[a-z][a-z0-9_]*$", max_length=LONGEST_ID, extra={"is": "id"})]
Condition = Annotated[
    str,
    Meta(
        description="a condition, such as: has clapper and at least 3 oil",
        max_length=LONGEST_TEXT,
        extra={"is": "condition"},
    ),
]
Effect = Annotated[
    str, Meta(description="an effect, such as: add 2 oil", max_length=LONGEST_TEXT, extra={"is": "effect"})
]
FileText = Annotated[str, Meta(max_length=LONGEST_TEXT, extra={"is": "file text"})]
"""A text as a level file may have it, in which line breaks and tabs can stand."""
Expectation = Annotated[
    str,
    Meta(
        pattern="^(works|fails|ends:[a-z][a-z0-9_]*|at:[a-z][a-z0-9_]*)$",
        max_length=LONGEST_TEXT,
        extra={"is": "expectation"},
    ),
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
FileForm = Literal["xml", "json", "text"]
ThingKind = Literal["plan", "solid", "exit", "spawn", "deed"]
PLAYER = "player"


class Value(Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """An immutable part of a flow. Changing one makes a new one: ``msgspec.structs.replace``."""


class Start(Value, frozen=True, kw_only=True):
    """Where the program starts."""

    level: Text = ""
    spawn: Text = ""


class Units(Value, frozen=True, kw_only=True):
    """The unit of plans, and which way y grows."""

    name: Name = "tile"
    y: Literal["down", "up"] = "down"


class Walker(Value, frozen=True, kw_only=True):
    """The player's body and movement: plan units, and seconds for ``tick``."""

    width: Measure = 0.8
    height: Measure = 1.6
    speed: Measure = 6.0
    jump_height: Measure = 3.0
    gravity: Measure = 30.0
    tick: Measure = 0.0166667
    view: Literal["side", "top"] = "side"


class CheckLimits(Value, frozen=True, kw_only=True):
    """Thresholds of checks: seconds, and plan units for ``return_distance``."""

    transition_seconds: Seconds = 6.0
    read_start: Seconds = 0.5
    read_per_word: Seconds = 0.25
    held_after: Seconds = 0.5
    flash_seconds: Seconds = 0.15
    return_distance: Size = 12.0


class Region(Value, frozen=True, kw_only=True):
    """A named group of levels. ``tint`` tells it from its neighbours on strip and map."""

    id: Id
    name: Name = ""
    tint: Tint = ""


class Ending(Value, frozen=True, kw_only=True):
    """A way the game can end."""

    id: Id
    name: Name = ""


class Fact(Value, frozen=True, kw_only=True):
    """Something the game remembers. ``initial`` is None where the file leaves it to the kind."""

    id: Id
    name: Name = ""
    kind: FactKind
    lifetime: Lifetime = "run"
    rewinds: bool = False
    """Whether a restart takes it back to what it was at the last arrival or checkpoint."""
    values: tuple[Id, ...] = ()
    low: Amount = 0
    high: Amount = 9
    initial: bool | Amount | Text | None = None

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
    at: Seconds = 0
    lasts: Seconds = 0
    text: Message = ""


class Transition(Value, frozen=True, kw_only=True):
    """The timed steps between an exit being set off and the player having control again."""

    id: Id
    name: Name = ""
    steps: tuple[Step, ...] = ()

    @property
    def seconds(self) -> float:
        """When its last step ends."""
        return max((step.at + step.lasts for step in self.steps), default=0.0)


class Plan(Value, frozen=True, kw_only=True):
    """The floor plan of a level, in plan units. ``solids`` cannot be walked through."""

    width: Size = 0
    height: Size = 0
    picture: Text = ""
    solids: tuple[Rect, ...] = ()


class Zone(Value, frozen=True, kw_only=True):
    """A part of a level that can be walked freely."""

    id: Id
    name: Name = ""


class Path(Value, frozen=True, kw_only=True, rename={"start": "from", "end": "to"}):
    """A way from one zone to another, or both ways."""

    start: Text
    end: Text
    both_ways: bool = False
    when: Condition = "always"


class Spawn(Value, frozen=True, kw_only=True):
    """A named place where the player can appear; feet at x, y."""

    id: Id
    name: Name = ""
    x: Coordinate = 0
    y: Coordinate = 0
    faces: Literal["left", "right", "up", "down"] = "right"
    zone: Text = ""


class Deed(Value, frozen=True, kw_only=True):
    """Something the player can do in a level that the game remembers."""

    id: Id
    name: Name = ""
    x: Coordinate = 0
    y: Coordinate = 0
    zone: Text = ""
    when: Condition = "always"
    effects: tuple[Effect, ...] = ()
    repeats: Literal["run", "visit", "always"] = "run"
    checkpoint: Text = ""
    saves: bool = False


class Trigger(Value, frozen=True, kw_only=True):
    """What sets an exit off."""

    kind: TriggerKind = "touch"
    by: tuple[Text, ...] = (PLAYER,)
    when: Condition = "always"
    seconds: Seconds = 0
    armed_on_arrival: bool = True


class Destination(Value, frozen=True, kw_only=True):
    """Where an exit leads. ``otherwise`` is used where the kind finds nothing."""

    kind: DestinationKind = "level"
    level: Text = ""
    spawn: Text = ""
    ending: Text = ""
    otherwise: "Destination | None" = None

    def chain(self) -> "tuple[Destination, ...]":
        """This destination, its ``otherwise``, the one behind that, and so on."""
        if self.otherwise is None:
            return (self,)  # as nearly always
        found: list[Destination] = []
        here: Destination | None = self
        while here is not None:
            found.append(here)
            here = here.otherwise
        return tuple(found)


class Exit(Value, frozen=True, kw_only=True):
    """A way out of a level. ``to`` is None while it is not connected."""

    id: Id
    name: Name = ""
    area: Rect = (0, 0, 0, 0)
    zone: Text = ""
    trigger: Trigger = field(default_factory=Trigger)
    opens: Condition = "always"
    completes: bool = False
    fresh: bool = False
    effects: tuple[Effect, ...] = ()
    transition: Text = ""
    to: Destination | None = None

    @property
    def destinations(self) -> tuple[Destination, ...]:
        """Every destination the exit may use, in the order they are tried."""
        return self.to.chain() if self.to else ()


class Tile(Value, frozen=True, kw_only=True):
    """An entry on a board."""

    id: Id
    col: Cell = 0
    row: Cell = 0
    level: Text = ""
    spawn: Text = ""
    left: Text = ""
    right: Text = ""
    up: Text = ""
    down: Text = ""
    locked: Literal["shown", "dimmed", "hidden"] = "shown"
    """How the game shows it while it is locked; it makes no difference to play."""

    @property
    def neighbours(self) -> tuple[str, ...]:
        """The tiles the cursor can step to from here."""
        return tuple(name for name in (self.left, self.right, self.up, self.down) if name)


class Level(Value, frozen=True, kw_only=True):
    """Any place where the player can be. ``set_here`` (never in the file) names the fields a level with a
    pattern sets itself; it is empty in a level without one."""

    id: Id
    code: Name = ""
    name: Name = ""
    kind: LevelKind = "play"
    region: Text = ""
    pattern: Text = ""
    ships: bool = True
    status: Status = "draft"
    file: Text = ""
    opens: Condition = "always"
    copied_from: Text = ""
    ticked: tuple[Text, ...] = ()
    unreviewed: tuple[Text, ...] = ()
    minutes: Minutes = 0
    difficulty: Difficulty = 0
    notes: Notes = ""
    plan: Plan | None = None
    zones: tuple[Zone, ...] = ()
    paths: tuple[Path, ...] = ()
    cast: tuple[Text, ...] = ()
    on_arrival: tuple[Effect, ...] = ()
    spawns: tuple[Spawn, ...] = ()
    deeds: tuple[Deed, ...] = ()
    exits: tuple[Exit, ...] = ()
    tiles: tuple[Tile, ...] = ()
    first_tile: Text = ""
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
        for spawn in self.spawns:  # asked for by thousands of exits, each many times: in a third of the time of next()
            if spawn.id == name:
                return spawn
        return None

    def exit(self, name: str) -> Exit | None:
        """The exit with that id, or None."""
        return next((exit_ for exit_ in self.exits if exit_.id == name), None)

    def deed(self, name: str) -> Deed | None:
        """The deed with that id, or None."""
        return next((deed for deed in self.deeds if deed.id == name), None)


class Promise(Value, frozen=True, kw_only=True):
    """Something the designer requires of the flow."""

    id: Id
    name: Name = ""
    kind: PromiseKind
    level: Text = ""
    ending: Text = ""
    when: Condition = "always"
    avoiding: tuple[Text, ...] = ()
    crossings: Amount = 0


class Walk(Value, frozen=True, kw_only=True):
    """A recorded walk and what it is expected to reach."""

    id: Id
    name: Name = ""
    moves: tuple[Text, ...] = ()
    expect: Expectation = "works"


class ChecklistItem(Value, frozen=True, kw_only=True):
    """Something every level of the named kinds must have."""

    id: Id
    text: Text = ""
    kinds: tuple[LevelKind, ...] = ()


class Rule(Value, frozen=True, kw_only=True):
    """What makes one kind of thing out of a level file: ``each`` says what is one, ``take`` what is read of it, by the
    names of :data:`TAKEN`. A value taken that begins with ``=`` is that text itself."""

    makes: ThingKind
    each: FileText
    anchor: Literal["corner", "centre", "foot"] = "corner"
    """What x and y are: the corner with the smallest of both, the centre, or the middle of the lower edge."""
    complete: bool = False
    """Whether it finds every thing of its kind that there is."""
    take: dict[Text, FileText] = field(default_factory=dict)


TAKEN: dict[ThingKind, tuple[str, ...]] = {
    "plan": ("width", "height", "picture"),
    "solid": ("x", "y", "width", "height"),
    "exit": ("id", "name", "x", "y", "width", "height", "level", "spawn", "trigger", "opens"),
    "spawn": ("id", "name", "x", "y", "width", "height", "faces"),
    "deed": ("id", "name", "x", "y", "width", "height", "gains"),
}
"""What can be taken of each kind of thing."""


class Reader(Value, frozen=True, kw_only=True):
    """How level files are read: which, of what form, and by which rules."""

    id: Id
    name: Name = ""
    files: Text
    """Which files of levels; ``*`` stands for anything within a name, ``**`` for any folders."""
    form: FileForm
    scale: Measure = 1.0
    """Plan units for one unit of the file."""
    y: Literal["down", "up"] = "down"
    """How y grows in the file."""
    follow: Literal["nothing", "places"] = "nothing"
    """What a file that changed changes by itself."""
    words: dict[FileText, Text] = field(default_factory=dict)
    """What texts of the files that name a destination mean: a level, ``level.spawn``, ``next``, ``previous``,
    ``again``, ``back``, ``resume`` or ``end:ID``."""
    rules: tuple[Rule, ...] = ()


class TrialSetting(Value, frozen=True, kw_only=True):
    """A value that is for testing only, and the one to deliver in its place."""

    at: Text = ""
    ships_as: Any = None
    why: Text = ""


class Waiver(Value, frozen=True, kw_only=True):
    """A finding the designer has accepted."""

    check: Text = ""
    at: Text = ""
    why: Text = ""


class MapPlace(Value, frozen=True, kw_only=True):
    """Where a hand-moved card stands, in map units."""

    x: Coordinate = 0
    y: Coordinate = 0


class Flow(Value, frozen=True, kw_only=True, dict=True):
    """The whole document: how a game moves from level to level."""

    mossy_bridge: int = FORMAT_VERSION
    title: Name = ""
    start: Start = field(default_factory=Start)
    progress: Literal["run", "profile"] = "run"
    saving: Literal["arrival", "deed", "never"] = "arrival"
    units: Units = field(default_factory=Units)
    walker: Walker = field(default_factory=Walker)
    limits: CheckLimits = field(default_factory=CheckLimits)
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
    readers: tuple[Reader, ...] = ()
    trial_settings: tuple[TrialSetting, ...] = ()
    waivers: tuple[Waiver, ...] = ()
    map: dict[Id, MapPlace] = field(default_factory=dict)

    def level(self, name: str) -> Level | None:
        """The level with that id, or None."""
        place = self._places.get(name)
        return None if place is None else self.levels[place]

    def place_of(self, name: str) -> int | None:
        """The place of the level with that id in the order, from 0, or None."""
        return self._places.get(name)

    @cached_property
    def _places(self) -> dict[str, int]:
        """The places of levels by id, worked out when first asked for: thousands of exits ask for theirs."""
        ids = [level.id for level in reversed(self.levels)]  # so that of twins the first is found
        return dict(zip(ids, reversed(range(len(ids))), strict=True))

    def share_places(self, other: "Flow") -> None:
        """Finds levels as another flow does, which has the same ids in the same order."""
        if "_places" in other.__dict__:
            self.__dict__["_places"] = other._places

    def transition(self, name: str) -> Transition | None:
        """The transition with that id, or None."""
        return next((item for item in self.transitions if item.id == name), None)
