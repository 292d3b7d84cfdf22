"""What can always be come to, whatever the facts: along moves that ask for nothing, or for what is certain.

From a place such moves can be made in every state that is there. So whatever they lead to from all places can never be
missed, and if they lead to an ending from all, nobody is stuck; however many states there are. Nor can a level be
missed through which every way to an ending leads. Places are taken from
the compiled flow: all that moves might lead to, whatever those ask.
"""

import numpy as np

from mossy_bridge.play.state import Thing
from mossy_bridge.reach.certain import Certain
from mossy_bridge.reach.groups import layers_between, strong_groups
from mossy_bridge.reach.machine import ENDING, Machine, Row


class Regardless:
    """What is always possible in one flow, all of whose controls are compiled."""

    def __init__(self, machine: Machine, certain: Certain):
        self._machine, self._certain = machine, certain
        self._rows = [row for row, never in zip(machine.rows, certain.never, strict=True) if not never]
        flow = machine.rules.flow
        self.things: list[Thing] = [
            *(level.id for level in flow.levels),
            *((level.id, deed.id) for level in flow.levels for deed in level.deeds if deed.repeats == "run"),
        ]
        self._bit: dict[Thing, int] = {thing: 1 << at for at, thing in enumerate(self.things)}
        self._end = 1 << len(self.things)
        self._sure = [self._sure_rows(control) for control in range(len(machine.controls))]
        self._in_play = list(map(machine.in_play, range(len(machine.controls))))
        everywhere = -1
        for bits, judged in zip(self._possible(), self._in_play, strict=True):
            everywhere &= bits if judged else -1
        self.never_missed = {thing for thing, bit in self._bit.items() if everywhere & bit}
        self.on_every_way = self._on_every_way()
        """The levels through which every way to an ending leads: never missed, if an ending is come to at all. If none
        is, nobody is called stuck for want of one, and what is said of who is not stuck means nothing."""
        self.nothing_loops = self._no_forced_circle()
        self.nobody_stuck = bool(everywhere & self._end) and not self._some_screen_may_be_dead()

    def _on_every_way(self) -> set[Thing]:
        controls = self._machine.controls
        into: dict[str, set[str]] = {}
        ending = set()
        begun = {self._machine.rules.flow.start.level}
        """Where a run may begin, so that nothing before need have been seen."""
        for row in self._rows:
            here = controls[row.control].place
            if row.target == ENDING:
                ending.add(here)
            elif row.fresh:
                begun.add(controls[row.target].place)
            elif controls[row.target].place != here:
                into.setdefault(controls[row.target].place, set()).add(here)
        found: set[Thing] = set()
        while len(ending) == 1 and not ending <= found:
            (last,) = ending
            found.add(last)
            ending = set() if last in begun else into.get(last, set())
        return found

    def _no_forced_circle(self) -> bool:
        """Whether forced moves, whatever they ask, lead from no place back to it."""
        forced = [(row.control, row.target) for row in self._rows if row.sprung and row.target != ENDING]
        source = np.array([one for one, _ in forced], dtype=np.int32)
        target = np.array([other for _, other in forced], dtype=np.int32)
        groups = strong_groups(len(self._machine.controls), source, target, self._machine.limits)
        return not (groups[source] == groups[target]).any()

    def _sure_rows(self, control: int) -> list[Row]:
        """The rows that can be used in every state with the control."""
        numbers = self._machine.rows_of(control)
        rows = [self._machine.rows[number] for number in numbers if not self._certain.never[number]]
        if rows and rows[0].sprung:
            return rows[:1] if self._certain.holds(rows[0]) else []
        return [row for row in rows if self._certain.holds(row, self._spent(row))]

    def _spent(self, row: Row) -> int:
        """Whether a deed has been done does not matter: it stays where it is, and its place is gone on from anyway."""
        return self._machine.layout.spent.get((row.move.level, row.move.thing), 0) if row.move.kind == "deed" else 0

    def _possible(self) -> list[int]:
        """For each control what sure moves in the same run lead to, as bits."""
        machine = self._machine
        found = [self._bit[control.place] for control in machine.controls]
        pairs = []
        for control, rows in enumerate(self._sure):
            for row in rows:
                if row.target == ENDING:
                    found[control] |= self._end
                elif row.move.kind == "deed":
                    found[control] |= self._bit.get((row.move.level, row.move.thing), 0)
                elif not row.fresh:
                    pairs.append((control, row.target))
        source = np.array([one for one, _ in pairs], dtype=np.int32)
        target = np.array([other for _, other in pairs], dtype=np.int32)
        groups = strong_groups(len(found), source, target, machine.limits)
        of_group = [0] * (int(groups.max(initial=-1)) + 1)
        for bits, group in zip(found, groups.tolist(), strict=True):
            of_group[group] |= bits
        for above, below in layers_between(groups, source, target, machine.limits):
            for one, other in zip(above.tolist(), below.tolist(), strict=True):
                of_group[one] |= of_group[other]
        return [of_group[group] for group in groups.tolist()]

    def _some_screen_may_be_dead(self) -> bool:
        lasting = [any(row.move.kind != "deed" for row in rows) for rows in self._sure]
        return any(not judged and not lasts for judged, lasts in zip(self._in_play, lasting, strict=True))
