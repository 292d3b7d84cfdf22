"""A saved game by ids, so that it outlives a table in which places have changed."""

from typing import Any

from mossy_bridge.standin.engine import NONE, Origin, Rewind, Saved, State, Table


class Ids:
    """Writes states of one table by ids, and reads what such ids mean in it; what is not there any more is dropped, and
    what is new begins at its initial value."""

    def __init__(self, table: Table):
        self.table = table
        self._rewinding = [at for at, fact in enumerate(table["facts"]) if fact["rewinds"]]

    def written(self, state: State) -> dict[str, Any]:
        """What lasts of a state."""
        return {
            "facts": self._facts_by_id(state.facts),
            "seen": self._levels_by_id(state.seen),
            "done": self._levels_by_id(state.done),
            "saved": self._saved_by_id(state.saved),
        }

    def read(self, kept: dict[str, Any]) -> State:
        """A state to begin anew from, with what was kept."""
        seen, done = self._levels_of(kept["seen"]), self._levels_of(kept["done"])
        return State(NONE, NONE, self._facts_of(kept["facts"]), seen, done, saved=self._saved_of(kept["saved"]))

    def value(self, fact: int, value: int) -> bool | int | str:
        """A value as a flow writes it."""
        known = self.table["facts"][fact]
        if known["kind"] == "flag":
            return bool(value)
        return str(known["values"][value]) if known["kind"] == "choice" else value

    def _facts_by_id(self, facts: tuple[int, ...]) -> dict[str, Any]:
        return {self.table["facts"][at]["id"]: self.value(at, value) for at, value in enumerate(facts)}

    def _facts_of(self, kept: dict[str, Any]) -> tuple[int, ...]:
        """Values by id; what is not there, or does not fit any more, begins anew."""
        found = []
        for fact in self.table["facts"]:
            value = kept.get(fact["id"], fact["initial"])
            if fact["kind"] == "choice" and isinstance(value, str):
                value = fact["values"].index(value) if value in fact["values"] else fact["initial"]
            found.append(min(max(int(value), fact["low"]), fact["high"]))
        return tuple(found)

    def _levels_by_id(self, levels: frozenset[int]) -> list[str]:
        return [self.table["levels"][level]["id"] for level in sorted(levels)]

    def _place(self, level: str) -> int:
        return next((at for at, one in enumerate(self.table["levels"]) if one["id"] == level), NONE)

    def _levels_of(self, kept: list[str]) -> frozenset[int]:
        return frozenset(place for level in kept if (place := self._place(level)) != NONE)

    def _spawn_by_id(self, level: int, spawn: int) -> str:
        return str(self.table["levels"][level]["spawns"][spawn]["id"]) if spawn != NONE else ""

    def _spawn_of(self, level: int, kept: str) -> int:
        spawns = self.table["levels"][level]["spawns"]
        return next((at for at, one in enumerate(spawns) if one["id"] == kept), 0 if spawns else NONE)

    def _deeds_by_id(self, spent: frozenset[tuple[int, int]]) -> list[list[str]]:
        levels = self.table["levels"]
        return [[levels[level]["id"], levels[level]["deeds"][deed]["id"]] for level, deed in sorted(spent)]

    def _deeds_of(self, kept: list[list[str]]) -> frozenset[tuple[int, int]]:
        known = {
            (level["id"], deed["id"]): (at, number)
            for at, level in enumerate(self.table["levels"])
            for number, deed in enumerate(level["deeds"])
        }
        return frozenset(known[level, deed] for level, deed in kept if (level, deed) in known)

    def _saved_by_id(self, saved: Saved | None) -> dict[str, Any] | None:
        if saved is None:
            return None
        origin = saved.origin
        return {
            "level": self.table["levels"][saved.level]["id"],
            "respawn": self._spawn_by_id(saved.level, saved.respawn),
            "facts": self._facts_by_id(saved.facts),
            "seen": self._levels_by_id(saved.seen),
            "done": self._levels_by_id(saved.done),
            "spent": self._deeds_by_id(saved.spent),
            "origin": origin and {
                "level": self.table["levels"][origin.level]["id"],
                "respawn": self._spawn_by_id(origin.level, origin.respawn),
                "rewind": self._rewind_by_id(origin.rewind),
            },
        }  # fmt: skip

    def _saved_of(self, kept: dict[str, Any] | None) -> Saved | None:
        place = self._place(kept["level"]) if kept else NONE
        if kept is None or place == NONE:
            return None
        origin = kept["origin"]
        left = self._place(origin["level"]) if origin else NONE
        return Saved(
            place,
            self._spawn_of(place, kept["respawn"]),
            self._facts_of(kept["facts"]),
            self._levels_of(kept["seen"]),
            self._levels_of(kept["done"]),
            self._deeds_of(kept["spent"]),
            Origin(left, self._spawn_of(left, origin["respawn"]), self._rewind_of(origin["rewind"]))
            if left != NONE
            else None,
        )

    def _rewind_by_id(self, point: Rewind) -> dict[str, Any]:
        """What a restart goes back to; of a table in which nothing rewinds, nothing."""
        facts = {
            self.table["facts"][at]["id"]: self.value(at, value)
            for at, value in zip(self._rewinding, point.facts, strict=True)
        }
        return {"facts": facts, "spent": self._deeds_by_id(point.spent)}

    def _rewind_of(self, kept: dict[str, Any]) -> Rewind:
        if not self._rewinding:
            return Rewind()
        facts = self._facts_of(kept["facts"])
        return Rewind(tuple(facts[at] for at in self._rewinding), self._deeds_of(kept["spent"]))
