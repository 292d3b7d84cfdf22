"""Levels and the things in them as sentences: the level itself, deeds, spawn points, paths, the way in."""

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from msgspec.structs import replace

from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.sentences.popups import Choice
from mossy_bridge.desk.sentences.sentence import Sentence
from mossy_bridge.language.wording import Wording
from mossy_bridge.model.edits.levels import PATTERN, owner, whole
from mossy_bridge.model.flow import PLAYER, Deed, Flow, Level, Path, Spawn, Zone
from mossy_bridge.plan.laying import Part

KINDS = (Choice("play", "level"), Choice("screen", "screen"), Choice("board", "board"))
STATUSES = (Choice("planned", "planned"), Choice("draft", "draft"), Choice("ready", "ready"))
REPEATS = (Choice("run", "once a run"), Choice("visit", "once a visit"), Choice("always", "as often as one likes"))
MOST_SAID = 24
"""Of more zones or paths than this not all are said at once."""
FACES = tuple(Choice(way, way) for way in ("left", "right", "up", "down"))


def told(choices: Sequence[Choice], name: str) -> str:
    """What a choice is called."""
    return next((choice.text for choice in choices if choice.id == name), name)


class LevelSentence(Sentence):
    """Says what a level is: its kind, region, whether it ships, when it opens, what it takes from a pattern."""

    def __init__(self, requests: Requests, ask: Callable[[str, str], str | None]):
        super().__init__("Level", requests.upkeep)
        self._requests, self._ask = requests, ask

    def say(self, flow: Flow, key: str, level: Level) -> None:
        """Says another level, with what it takes from its pattern."""
        self.begin(flow)
        levels, wording = self._requests.levels, Wording(flow)
        pattern = key.startswith(PATTERN)
        at = f"levels.{key}" if not pattern and not level.pattern else ""

        def place(field: str) -> str:
            return f"{at}.{field}" if at else ""

        self.text("A pattern for a" if pattern else "A")
        self.pick("the kind", told(KINDS, level.kind), KINDS, level.kind, lambda kind: levels.set(key, kind=kind))
        if not pattern:
            self._say_region(flow, key, level)
            self.text(", which")
            self.toggle("whether it ships", "ships" if level.ships else "does not ship",
                        lambda: levels.set(key, ships=not level.ships), place("ships"))  # fmt: skip
            self.text("and is")
            self.pick("the status", level.status, STATUSES, level.status, lambda name: levels.set(key, status=name))
        self.text("; it opens")
        opens = wording.condition(level.opens)
        self.condition("when it opens", opens if level.opens in ("always", "never") else f"when {opens}", level.opens,
                       lambda text: levels.set(key, opens=text), at=place("opens"))  # fmt: skip
        self.text("; on arrival:")
        effects = ", ".join(map(wording.effect, level.on_arrival)) or "nothing changes"
        self.effects("what changes on arrival", effects, level.on_arrival,
                     lambda new: levels.set(key, on_arrival=new), place("on_arrival"))  # fmt: skip
        self._say_measures(key, level, place)
        if not pattern:
            self._say_pattern(flow, level)
        self.text(".")
        self.finish()

    def _say_region(self, flow: Flow, key: str, level: Level) -> None:
        regions = [Choice("", "no region"), *(Choice(r.id, r.name or r.id) for r in flow.regions)]
        known = any(region.id == level.region for region in regions)
        shown = told(regions, level.region) if known else f"{level.region} (missing)"
        self.text("in")
        self.pick("the region", shown, regions, level.region, lambda name: self._requests.levels.set(key, region=name),
                  not known, offers=[("New region…", self._new_region)])  # fmt: skip

    def _new_region(self) -> None:
        name = self._ask("New region", "What is it called?")
        if name:
            self._requests.levels.new_region(name)

    def _say_measures(self, key: str, level: Level, place: Callable[[str], str]) -> None:
        levels = self._requests.levels
        actors = [Choice(name, name) for name in self._flow.actors if name != PLAYER]
        if actors or level.cast:
            self.text(";")
            self.tick("who roams here", ", ".join(level.cast) or "nobody else", actors, level.cast,
                      lambda names: levels.set(key, cast=names), at=place("cast"))  # fmt: skip
            self.text("roam here" if len(level.cast) > 1 else "roams here")
        self.text("; about")
        self.type_number(
            "the minutes",
            f"{level.minutes:g} minutes",
            level.minutes,
            lambda value: levels.set(key, minutes=value),
            (Level, "minutes"),
            place("minutes"),
        )
        self.text("at difficulty")
        self.type_number(
            "the difficulty",
            str(level.difficulty),
            level.difficulty,
            lambda value: levels.set(key, difficulty=value),
            (Level, "difficulty"),
            place("difficulty"),
        )
        self.text("; file")
        self.type_text("the file", level.file or "none", level.file, lambda text: levels.set(key, file=text),
                       (Level, "file"), at=place("file"))  # fmt: skip

    def _say_pattern(self, flow: Flow, level: Level) -> None:
        patterns = [Choice("", "no pattern"), *(Choice(p.id, p.name or p.id) for p in flow.patterns)]
        known = any(pattern.id == level.pattern for pattern in patterns)
        shown = told(patterns, level.pattern) if known else f"{level.pattern} (missing)"
        self.text("; based on")
        self.pick("the pattern", shown, patterns, level.pattern, self._requests.upkeep.base_on, not known,
                  offers=[("New pattern from this level…", self._new_pattern)])  # fmt: skip

    def _new_pattern(self) -> None:
        name = self._ask("New pattern", "What is it called?")
        if name:
            self._requests.upkeep.make_pattern(name)


class ThingSentence(Sentence):
    """Says a deed or a spawn point of a level."""

    def __init__(self, requests: Requests):
        super().__init__("Thing", requests.upkeep)
        self._requests = requests
        self._at = ""
        """The long place of the thing, up to the name of a field; "" where the level takes it from a pattern."""

    def _place(self, field: str) -> str:
        return f"{self._at}{field}" if self._at else ""

    def say(self, flow: Flow, key: str, level: Level, part: Part) -> None:
        """Says another thing."""
        self.begin(flow)
        thing: Any = next((t for t in getattr(level, part.group) if t.id == part.name), None)

        def change(what: str, **values: Any) -> None:
            self._requests.plans.set(key, part, what, **values)

        own = owner(flow, key)
        written = own is not None and any(t.id == part.name for t in getattr(own, part.group))
        self._at = f"levels.{key}.{part.group}.{part.name}." if written and not key.startswith(PATTERN) else ""
        if isinstance(thing, Deed):
            self._say_deed(level, thing, change, Wording(flow))
        elif isinstance(thing, Spawn):
            self._say_spawn(level, thing, change)
        self.finish()

    def _zone(self, level: Level, thing: Any, change: Callable[..., None]) -> None:
        if level.zones or thing.zone:
            zones = [Choice("", "any zone"), *(Choice(zone.id, zone.name or zone.id) for zone in level.zones)]
            known = any(zone.id == thing.zone for zone in zones)
            self.text("in")
            self.pick("the zone", told(zones, thing.zone), zones, thing.zone,
                      lambda name: change("the zone", zone=name), not known, self._place("zone"))  # fmt: skip

    def _say_spawn(self, level: Level, spawn: Spawn, change: Callable[..., None]) -> None:
        self.text("The player can appear at")
        self.type_text("the name", spawn.name or spawn.id, spawn.name, lambda text: change("the name", name=text),
                       (Spawn, "name"))  # fmt: skip
        self._zone(level, spawn, change)
        self.text(", facing")
        self.pick(
            "where it faces",
            spawn.faces,
            FACES,
            spawn.faces,
            lambda way: change("the facing", faces=way),
            at=self._place("faces"),
        )
        self.text(".")

    def _say_deed(self, level: Level, deed: Deed, change: Callable[..., None], wording: Wording) -> None:
        self.text("The player can")
        self.type_text("the name", deed.name or deed.id, deed.name, lambda text: change("the name", name=text),
                       (Deed, "name"))  # fmt: skip
        self._zone(level, deed, change)
        self.text(",")
        self.pick("how often", told(REPEATS, deed.repeats), REPEATS, deed.repeats,
                  lambda name: change("how often it repeats,", repeats=name), at=self._place("repeats"))  # fmt: skip
        self.text(", when")
        self.condition("when it can be done", wording.condition(deed.when), deed.when,
                       lambda text: change("the condition", when=text), at=self._place("when"))  # fmt: skip
        self.text("; then:")
        effects = ", ".join(map(wording.effect, deed.effects)) or "nothing changes"
        self.effects(
            "what it changes",
            effects,
            deed.effects,
            lambda new: change("the effects", effects=new),
            self._place("effects"),
        )
        self.text("; it is")
        points = [
            Choice("", "no checkpoint"),
            *(Choice(s.id, f"a checkpoint at {s.name or s.id}") for s in level.spawns),
        ]
        known = any(point.id == deed.checkpoint for point in points)
        self.pick(
            "the checkpoint",
            told(points, deed.checkpoint),
            points,
            deed.checkpoint,
            lambda name: change("the checkpoint", checkpoint=name),
            not known,
            self._place("checkpoint"),
        )
        self.text("and")
        self.toggle("whether it saves", "saves the game" if deed.saves else "does not save the game",
                    lambda: change("saving", saves=not deed.saves), self._place("saves"))  # fmt: skip
        self.text(".")


class ZonesSentence(Sentence):
    """Says a level's zones and the paths between them."""

    def __init__(self, requests: Requests, ask: Callable[[str, str], str | None]):
        super().__init__("Zones and paths", requests.upkeep)
        self._requests, self._ask = requests, ask
        self._key, self._from = "", 0
        """Of very many paths, from which on some are said."""

    def say(self, flow: Flow, key: str, level: Level) -> None:
        """Says another level's zones and paths."""
        self.begin(flow)
        zones = [Choice(zone.id, zone.name or zone.id) for zone in level.zones]
        self.text("Zones:" if zones else "One zone, all of it walked freely.")
        if key != self._key or self._from >= len(level.paths):
            self._key, self._from = key, 0
        for zone in level.zones[:MOST_SAID]:
            part = Part("zones", zone.id)
            self.type_text(
                f"the zone {zone.id}",
                zone.name or zone.id,
                zone.name,
                partial(self._rename_part, key, part),
                (Zone, "name"),
            )
        self.pick("zones", "+ zone", [Choice(f"-{z.id}", f"remove {z.text}") for z in zones], "",
                  lambda name: self._remove_zone(key, name[1:]),
                  offers=[("New zone…", lambda: self._new_zone(key))])  # fmt: skip
        wording = Wording(flow)
        for index, path in list(enumerate(level.paths))[self._from : self._from + MOST_SAID]:
            self._say_path(key, level, zones, index, path, wording)
        if len(level.paths) > MOST_SAID:
            self.pick("which paths are shown", f"and {len(level.paths) - MOST_SAID:,} more paths",
                      lambda: self._named_paths(zones, level), str(self._from), self._say_from)  # fmt: skip
        if len(zones) > 1:
            self.pick("paths", "+ path", lambda: self._not_joined(zones, level), "",
                      lambda pair: self._new_path(key, level, pair))  # fmt: skip
        self.finish()

    def _not_joined(self, zones: list[Choice], level: Level) -> list[Choice]:
        joined = {(path.start, path.end) for path in level.paths}
        pairs = ((a, b) for a in zones for b in zones if a is not b and (a.id, b.id) not in joined)
        return [Choice(f"{a.id} {b.id}", f"from {a.text} to {b.text}") for a, b in pairs]

    def _named_paths(self, zones: list[Choice], level: Level) -> list[Choice]:
        names = {zone.id: zone.text for zone in zones}
        return [Choice(str(index), f"from {names.get(p.start, p.start)} to {names.get(p.end, p.end)}")
                for index, p in enumerate(level.paths)]  # fmt: skip

    def _say_from(self, index: str) -> None:
        self._from = int(index)
        level = whole(self._flow, self._key)
        if level:
            self.say(self._flow, self._key, level)

    def _say_path(self, key: str, level: Level, zones: list[Choice], index: int, path: Path, wording: Wording) -> None:
        def change(**values: Any) -> None:
            paths = tuple(replace(p, **values) if i == index else p for i, p in enumerate(level.paths))
            self._requests.levels.set(key, paths=paths)

        self.text(f"From {told(zones, path.start)} to {told(zones, path.end)}")
        ways = [Choice("one", "one way"), Choice("both", "both ways"), Choice("remove", "remove this path")]

        def turn(name: str) -> None:
            if name == "remove":
                rest = tuple(p for i, p in enumerate(level.paths) if i != index)
                self._requests.levels.set(key, paths=rest)
            else:
                change(both_ways=name == "both")

        self.pick(f"path {index}", "both ways" if path.both_ways else "one way", ways,
                  "both" if path.both_ways else "one", turn)  # fmt: skip
        self.text("when")
        self.condition(f"path {index} condition", wording.condition(path.when), path.when,
                       lambda text: change(when=text))  # fmt: skip
        self.text(";")

    def _new_zone(self, key: str) -> None:
        name = self._ask("New zone", "What is it called?")
        if name:
            self._requests.plans.new_zone(key, name)

    def _rename_part(self, key: str, part: Part, name: str) -> None:
        self._requests.plans.set(key, part, "the name", name=name)

    def _remove_zone(self, key: str, zone: str) -> None:
        self._requests.plans.remove_zone(key, zone)

    def _new_path(self, key: str, level: Level, pair: str) -> None:
        start, _, end = pair.partition(" ")
        self._requests.levels.set(key, paths=(*level.paths, Path(start=start, end=end)))
