"""What is asked of transitions and their steps."""

from collections.abc import Callable, Sequence
from typing import Any

from msgspec.structs import replace

from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.edit_door import EditDoor
from mossy_bridge.model import timing
from mossy_bridge.model.codes import InUse, next_text
from mossy_bridge.model.edits import levels as edits
from mossy_bridge.model.flow import Exit, Flow, Step, StepKind, Transition
from mossy_bridge.model.ids import id_from

FIRST_LASTS = {"load": 0.5, "fade_out": 0.4, "fade_in": 0.4, "show_message": 2.0, "confirm": 2.0, "scene": 4.0}
"""Seconds that a new step lasts at first; others a second."""

FADE = Transition(id="fade", name="Fade", steps=(
    Step(do="hold_player", lasts=1.6), Step(do="fade_out", lasts=0.5), Step(do="load", at=0.6, lasts=0.4),
    Step(do="fade_in", at=1.1, lasts=0.5),
))  # fmt: skip
"""A plain one, in which no check finds anything."""


class TransitionRequests:
    """Edits the document as asked."""

    def __init__(self, document: Document, door: EditDoor):
        self._document, self._door = document, door

    def _change(self, what: str, name: str, change: Callable[[Transition], Transition]) -> bool:
        def edit(flow: Flow) -> Flow:
            return replace(flow, transitions=tuple(change(t) if t.id == name else t for t in flow.transitions))

        return self._door.edit(f"{what} of {self._title(name)}", edit)

    def rename(self, name: str, text: str) -> None:
        """Calls a transition otherwise."""
        self._change("change the name", name, lambda t: replace(t, name=text))

    def move_step(self, name: str, index: int, at: float) -> None:
        """Lets a step begin at another time."""
        self._change("move a step", name, lambda t: timing.moved(t, index, at))

    def stretch_step(self, name: str, index: int, lasts: float, alone: bool = False) -> None:
        """Lets a step last longer or shorter."""
        self._change("stretch a step", name, lambda t: timing.stretched(t, index, lasts, alone))

    def set_step(self, name: str, index: int, **values: Any) -> None:
        """Changes fields of a step."""

        def change(transition: Transition) -> Transition:
            step = timing.step_at(transition, index)
            return timing.with_step(transition, step, replace(step, **values))

        self._change("change a step", name, change)

    def add_step(self, name: str, kind: StepKind) -> None:
        """Adds a step at the end; holding the player begins at the beginning."""

        def change(transition: Transition) -> Transition:
            lasts = transition.seconds if kind == "hold_player" else FIRST_LASTS.get(kind, 1.0)
            at = 0.0 if kind in ("hold_player", "fade_out") else transition.seconds
            step = Step(do=kind, at=at, lasts=lasts or 1.0, text="…" if kind == "show_message" else "")
            return replace(transition, steps=(*transition.steps, step))

        self._change("add a step", name, change)

    def remove_step(self, name: str, index: int) -> None:
        """Removes a step."""
        self._change("remove a step", name, lambda t: timing.without_step(t, index))

    def remove(self, name: str) -> None:
        """Removes a transition. Exits that used it have none then."""

        def edit(flow: Flow) -> Flow:
            places = [(lv.id, e.id) for lv in flow.levels for e in lv.exits if e.transition == name]
            kept = tuple(one for one in flow.transitions if one.id != name)
            return replace(edits.set_exits(flow, places, transition=""), transitions=kept)

        self._door.edit(f"remove the transition {self._title(name)}", edit)

    def paste(self, transitions: Sequence[Transition], step: str = "paste") -> None:
        """Adds copies of transitions, with names of their own."""

        def edit(flow: Flow) -> Flow:
            for one in transitions:
                taken = [other.name for other in flow.transitions]
                name = (
                    next_text(one.name or one.id, "", "", InUse(taken)) if (one.name or one.id) in taken else one.name
                )
                new = id_from(name or one.id, {other.id for other in flow.transitions}, "transition")
                flow = replace(flow, transitions=(*flow.transitions, replace(one, id=new, name=name)))
            return flow

        self._door.edit(step, edit)

    def fade_everywhere(self) -> None:
        """Gives every crossing into a level that has no transition the same plain fade."""

        def edit(flow: Flow) -> Flow:
            bare = [(level.id, exit_.id) for level in flow.levels for exit_ in level.exits if _is_bare(exit_)]
            new = id_from(FADE.name, {one.id for one in flow.transitions}, "transition")
            flow = replace(flow, transitions=(*flow.transitions, replace(FADE, id=new)))
            return edits.set_exits(flow, bare, transition=new)

        self._door.edit("give every crossing a fade", edit)

    def _title(self, name: str) -> str:
        return next((t.name or t.id for t in self._document.flow.transitions if t.id == name), name)

    def own_copy(self, name: str, level: str, exit_: str) -> None:
        """Gives one crossing a copy of a shared transition, for itself."""

        def edit(flow: Flow) -> Flow:
            shared = flow.transition(name)
            if shared is None:
                return flow
            new_id = id_from(f"{name}_{level}", {one.id for one in flow.transitions}, "transition")
            title = flow.level(level)
            copy = replace(shared, id=new_id, name=f"{shared.name or name}, {title.title if title else level}")
            flow = replace(flow, transitions=(*flow.transitions, copy))
            return edits.set_exit(flow, level, exit_, transition=new_id)

        self._door.edit("copy a transition for one crossing", edit)


def _is_bare(exit_: Exit) -> bool:
    return not exit_.transition and any(to.kind != "end" for to in exit_.destinations)
