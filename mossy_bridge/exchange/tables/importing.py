"""A flow made of tables: of crossings alone, with a table of levels, or of all that an export writes."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any, get_args

from msgspec import Struct

from mossy_bridge.exchange.reading import CannotRead, flow_from_tree
from mossy_bridge.exchange.tables.cells import CannotImport, Table, TableRow, rows_of
from mossy_bridge.exchange.tables.exporting import DEEDS, EXITS, FACTS, LEVELS, SPAWNS
from mossy_bridge.language.asked import conditions_of, effects_of
from mossy_bridge.language.parsing import parse_condition, parse_effect
from mossy_bridge.language.tree import Count, Effect, Has, Is, atoms
from mossy_bridge.level_files.destinations import BY_THEMSELVES, END
from mossy_bridge.model.flow import (
    Deed,
    Exit,
    Fact,
    FactKind,
    Flow,
    Level,
    LevelKind,
    Plan,
    Spawn,
    Status,
    Trigger,
    TriggerKind,
)
from mossy_bridge.model.ids import id_from, is_id

NEEDED = {
    "levels": ("id",),
    "exits": ("from", "to"),
    "spawns": ("level", "id"),
    "deeds": ("level", "id"),
    "facts": ("id",),
}
COUNTS = frozenset(["add", "take", "set", "raise", "lower"])
Tree = dict[str, Any]


class Imported(Struct, frozen=True):
    """A flow made of tables, and what was added to what they say, in sentences."""

    flow: Flow
    told: tuple[str, ...] = ()


def imported(title: str, tables: Mapping[str, Table], known: Iterable[Level] = ()) -> Imported:
    """The flow that tables (``levels``, ``exits``, ``spawns``, ``deeds``, ``facts``) hold. Crossings may name levels
    that are ``known``; of these only what is new is in it. Raises
    :class:`~mossy_bridge.exchange.tables.cells.CannotImport` with everything that is not understood."""
    return _Import(tables, known).made(title)


class _Import:
    """Makes one flow; notes what is wrong and what it adds."""

    def __init__(self, tables: Mapping[str, Table], known: Iterable[Level]):
        self._tables = tables
        self._known = {level.id: level for level in known}
        self._problems: list[str] = []
        self._told: list[str] = []
        self._levels: dict[str, Tree] = {}
        self._called: dict[str, str] = {}
        """The ids of levels by whatever they can be called by."""
        self._endings: dict[str, Tree] = {}
        self._regions: dict[str, Tree] = {}
        self._transitions: dict[str, Tree] = {}

    def made(self, title: str) -> Imported:
        """The flow."""
        for cells in self._rows("levels", LEVELS):
            self._add_level(cells)
        self._call_levels()
        for level in self._known.values():
            self._levels[level.id] = _bare(level.id, level.kind)
            self._called |= {text: level.id for text in (level.name, level.code, level.id) if text}
        facts = [self._fact(cells) for cells in self._rows("facts", FACTS)]
        exits = list(self._rows("exits", EXITS))
        for cells in exits:
            self._add_level_called(cells.text("from"), cells, "from")
        for cells in exits:
            self._add_exit(cells)
        for kind, headings in (("spawns", SPAWNS), ("deeds", DEEDS)):
            for cells in self._rows(kind, headings):
                self._add_thing(kind, cells)
        self._add_landings()
        if self._problems:
            raise CannotImport(self._problems)
        tree: Tree = {
            "mossy_bridge": 1, "title": title, "start": {"level": next(iter(self._levels), "")},
            "endings": list(self._endings.values()), "regions": list(self._regions.values()), "facts": facts,
            "transitions": list(self._transitions.values()), "levels": list(self._levels.values()),
        }  # fmt: skip
        try:
            flow = flow_from_tree(tree)
            missing = [fact for fact in _facts_used(flow) if fact["id"] not in {known["id"] for known in facts}]
            if "facts" in self._tables:
                self._told += [f"the fact {fact['id']} is not in the table of facts" for fact in missing]
            elif missing:
                self._told += [f"the fact {one['id']} is only named: it is made a {one['kind']}" for one in missing]
                flow = flow_from_tree({**tree, "facts": missing})
        except CannotRead as error:
            raise CannotImport(error.problems) from error
        return Imported(flow, tuple(self._told))

    def _rows(self, kind: str, headings: Sequence[str]) -> Iterator[TableRow]:
        table = self._tables.get(kind)
        return rows_of(table, headings, NEEDED[kind], self._problems) if table else iter(())

    # -- levels ----------------------------------------------------------------------------------------

    def _add_level(self, cells: TableRow) -> None:
        name = cells.text("id")
        if not is_id(name):
            cells.wrong("id", f"“{name[:40]}” is not an id (a small letter, then small letters, digits and _)")
            return
        if name in self._levels:
            cells.wrong("id", f"the id “{name}” stands twice")
            return
        level = _bare(name, "play")
        for field in ("code", "name", "file", "notes"):
            level[field] = cells.fitting(field, cells.text(field), Level, field, "")
        level["kind"] = self._one_of(cells, "kind", get_args(LevelKind), "play")
        level["status"] = self._one_of(cells, "status", get_args(Status), "draft")
        for field in ("minutes", "difficulty"):
            level[field] = cells.fitting(field, cells.number_in(field), Level, field, 0)
        level["opens"], level["on_arrival"] = cells.condition("opens"), cells.effects("on_arrival")
        level["ships"] = cells.is_yes("ships", otherwise=True)
        size = {field: cells.fitting(field, cells.number_in(field), Plan, field, 0) for field in ("width", "height")}
        level["plan"] = size if any(size.values()) else None
        level["region"] = self._named(self._regions, cells.text("region"), "region")
        self._levels[name] = level

    def _one_of(self, cells: TableRow, heading: str, known: Sequence[str], otherwise: str) -> str:
        text = cells.text(heading).lower()
        if text and text not in known:
            cells.wrong(heading, f"“{text[:40]}” is not one of {', '.join(known)}")
        return text if text in known else otherwise

    def _named(self, group: dict[str, Tree], text: str, fallback: str) -> str:
        """The id of something that tables only name; it is made when first named."""
        if not text:
            return ""
        known = next((name for name, one in group.items() if text in (name, one["name"])), None)
        if known:
            return known
        new = text if is_id(text) else id_from(text, group, fallback)
        group[new] = {"id": new, "name": "" if new == text else text}
        return new

    def _call_levels(self) -> None:
        for field in ("name", "code", "id"):  # the surest last
            for level in self._levels.values():
                if level[field]:
                    self._called[level[field]] = level["id"]

    def _add_level_called(self, text: str, cells: TableRow, heading: str) -> str:
        """The id of a level; where there is no table of levels it is made when first named."""
        if text in self._called:
            return self._called[text]
        if not text:
            cells.wrong(heading, "is empty; it must name a level")
            return ""
        if "levels" in self._tables:
            cells.wrong(heading, f"no level is called “{text[:40]}”")
            return ""
        new = text if is_id(text) else id_from(text, self._levels)
        name = "" if new == text else text
        self._levels[new] = {**_bare(new, "play"), "name": name}
        self._called[text] = self._called[new] = new
        return new

    # -- exits -----------------------------------------------------------------------------------------

    def _add_exit(self, cells: TableRow) -> None:
        level = self._levels.get(self._called.get(cells.text("from"), ""))
        if level is None:
            return  # already said
        taken = {exit_["id"] for exit_ in level["exits"]}
        to = self._destination(cells)
        text = cells.text("exit") or (f"to {cells.text('to')}" if to else "exit")
        new = text if is_id(text) and text not in taken else id_from(text, taken, "exit")
        if text in taken:
            cells.wrong("exit", f"the exit “{text[:40]}” stands twice in this level")
        area = [cells.number_in(field) for field in ("x", "y", "width", "height")]
        kinds = get_args(TriggerKind)
        kind = self._one_of(cells, "trigger", kinds, "touch" if area[2] and area[3] else "choose")
        seconds = cells.fitting("seconds", cells.number_in("seconds"), Trigger, "seconds", 0)
        name = cells.text("name") or ("" if new == text else text)
        level["exits"].append({
            "id": new, "name": cells.fitting("name", name, Exit, "name", ""), "zone": cells.text("zone"),
            "area": cells.fitting("x", area, Exit, "area", [0, 0, 0, 0]),
            "trigger": {"kind": kind, "when": cells.condition("when"), "seconds": seconds},
            "opens": cells.condition("opens"), "completes": cells.is_yes("completes"), "fresh": cells.is_yes("fresh"),
            "effects": cells.effects("effects"),
            "transition": self._named(self._transitions, cells.text("transition"), "transition"), "to": to,
        })  # fmt: skip

    def _destination(self, cells: TableRow) -> Tree | None:
        text = cells.text("to")
        if not text:
            return None
        if text.startswith(END):
            return {"kind": "end", "ending": self._named(self._endings, text.removeprefix(END).strip(), "ending")}
        if text in BY_THEMSELVES and text not in self._called:
            return {"kind": text}
        if "levels" in self._tables and text not in self._called and is_id(text):
            self._told.append(f"{cells.text('from')} leads to “{text}”, which no level is called")
            return {"level": text, "spawn": cells.text("spawn")}
        return {"level": self._add_level_called(text, cells, "to"), "spawn": cells.text("spawn")}

    # -- spawn points and deeds ------------------------------------------------------------------------

    def _add_thing(self, kind: str, cells: TableRow) -> None:
        level = self._levels.get(self._called.get(cells.text("level"), ""))
        if level is None:
            cells.wrong("level", f"no level is called “{cells.text('level')[:40]}”")
            return
        name = cells.text("id")
        if not is_id(name) or any(one["id"] == name for one in level[kind]):
            cells.wrong("id", f"“{name[:40]}” " + ("stands twice in this level" if is_id(name) else "is not an id"))
            return
        cls = Spawn if kind == "spawns" else Deed
        thing: Tree = {"id": name, "name": cells.fitting("name", cells.text("name"), cls, "name", "")}
        for field in ("x", "y"):
            thing[field] = cells.fitting(field, cells.number_in(field), cls, field, 0)
        thing["zone"] = cells.text("zone")
        if kind == "spawns":
            thing["faces"] = self._one_of(cells, "faces", ("left", "right", "up", "down"), "right")
        else:
            thing["repeats"] = self._one_of(cells, "repeats", ("run", "visit", "always"), "run")
            thing |= {"when": cells.condition("when"), "effects": cells.effects("effects"),
                      "checkpoint": cells.text("checkpoint"), "saves": cells.is_yes("saves")}  # fmt: skip
        level[kind].append(thing)

    def _add_landings(self) -> None:
        """Without a table of spawn points, those that crossings name are made, and one for each play level."""
        if "spawns" in self._tables:
            return
        for level in self._levels.values():
            for exit_ in level["exits"]:
                to = exit_["to"] or {}
                target = self._levels.get(to.get("level", ""))
                if target and to.get("spawn"):
                    text = to["spawn"]
                    old = self._known[target["id"]].spawns if target["id"] in self._known else ()
                    points = {**{p.id: p.name for p in old}, **{p["id"]: p["name"] for p in target["spawns"]}}
                    known = next((one for one, name in points.items() if text in (one, name)), None)
                    to["spawn"] = known or _new_spawn(target, text)
        made = (level for level in self._levels.values() if level["id"] not in self._known)
        bare = [level for level in made if level["kind"] == "play" and not level["spawns"]]
        for level in bare:
            level["spawns"].append({"id": "start_point", "name": "Start point"})
        if bare:
            self._told.append(f"{len(bare)} levels have no spawn point: each gets a Start point")

    # -- facts -----------------------------------------------------------------------------------------

    def _fact(self, cells: TableRow) -> Tree:
        fact: Tree = {"id": cells.fitting("id", cells.text("id"), Fact, "id", "fact"), "name": cells.text("name")}
        kind = fact["kind"] = self._one_of(cells, "kind", get_args(FactKind), "flag")
        fact["lifetime"] = self._one_of(cells, "lifetime", ("visit", "run", "profile"), "run")
        fact["rewinds"] = cells.is_yes("rewinds")
        if kind == "count":
            fact |= {"low": cells.number_in("low"), "high": cells.number_in("high", 9)}
            fact["initial"] = cells.number_in("initial", fact["low"])
        elif kind == "choice":
            fact["values"] = [
                part.strip() for part in cells.text("values").replace(";", ",").split(",") if part.strip()
            ]
            if cells.text("initial"):
                fact["initial"] = cells.text("initial")
        else:
            fact["initial"] = cells.is_yes("initial")
        return fact


def _bare(level_id: str, kind: str) -> Tree:
    return {"id": level_id, "kind": kind, "exits": [], "spawns": [], "deeds": []}


def _new_spawn(level: Tree, text: str) -> str:
    new = text if is_id(text) else id_from(text, {one["id"] for one in level["spawns"]}, "spawn")
    level["spawns"].append({"id": new, "name": "" if new == text else text})
    return new


def _facts_used(flow: Flow) -> list[Tree]:
    """A fact for each that is named, of the kind that its use shows."""
    found: dict[str, Tree] = {}
    for text in conditions_of(flow):
        for atom in atoms(parse_condition(text)):
            if isinstance(atom, Has):
                found.setdefault(atom.fact, {"id": atom.fact, "kind": "flag"})
            elif isinstance(atom, Count):
                _count(found, atom.fact, atom.number)
            elif isinstance(atom, Is):
                _value(found, atom.fact, atom.value)
    for effect in map(parse_effect, effects_of(flow)):
        _use(found, effect)
    return list(found.values())


def _use(found: dict[str, Tree], effect: Effect) -> None:
    if effect.verb in COUNTS:
        _count(found, effect.fact, effect.number)
    elif effect.verb == "turn":
        _value(found, effect.fact, effect.value)
    else:
        found.setdefault(effect.fact, {"id": effect.fact, "kind": "flag"})


def _count(found: dict[str, Tree], name: str, number: int) -> None:
    fact = found.setdefault(name, {"id": name, "kind": "count", "high": 9})
    if fact["kind"] == "count":
        fact["high"] = max(fact["high"], number)


def _value(found: dict[str, Tree], name: str, value: str) -> None:
    fact = found.setdefault(name, {"id": name, "kind": "choice", "values": []})
    if fact["kind"] == "choice" and value not in fact["values"]:
        fact["values"].append(value)
