"""Why an event cannot have happened, in words, and what was to be expected instead."""

from collections.abc import Iterable

from mossy_bridge.play.narration import told_value
from mossy_bridge.play.refusal_reasons import Reasons
from mossy_bridge.play.state import State
from mossy_bridge.play_logs.events import MOVES, Event
from mossy_bridge.play_logs.possible_states import Over, Possibility, PossibleStates, left, move_of

THINGS = {"exit": "exits", "deed": "deeds", "tile": "tiles"}


class WhyImpossible:
    """Tells it of one flow."""

    def __init__(self, states: PossibleStates):
        self._states, self._flow, self._reasons = states, states.flow, Reasons(states.rules)
        self._facts = {fact.id: at for at, fact in enumerate(states.flow.facts)}

    def why(self, event: Event, possible: set[Possibility]) -> str:
        """Why an event cannot have happened where things can stand like this, each a reason to begin a sentence."""
        unknown = self._unknown(event)
        if unknown:
            return unknown
        states = [one.state for one in possible if isinstance(one.state, State)]
        owing = next((one.state for one in possible if one.owed), None)
        if owing is not None:
            return self._owed(owing)
        if event.kind in MOVES and states:
            there = [state for state in states if state.place == event.values["level"]] or states
            wanted = move_of(event)
            return self._reasons.why_not(wanted, there[0]) if wanted else "it is no move"
        if event.kind == "arrive" and states:
            return self._elsewhere(states)
        if event.kind == "fact":
            return self._otherwise(event, possible)
        return "nothing that was logged before leads to it"

    def _owed(self, state: State | Over) -> str:
        """What was to be logged first."""
        if isinstance(state, Over):
            name = next((one.name for one in self._flow.endings if one.id == state.ending), "")
            return f"the ending {name or state.ending} was to be logged first"
        spawn = self._states.rules.levels[state.place].source.spawn(state.respawn) if state.respawn else None
        by = f", at {spawn.name or spawn.id}," if spawn else ""
        return f"an arrival in {self._title(state.place)}{by} was expected"

    def _elsewhere(self, states: Iterable[State]) -> str:
        """Where the player is, and can get to from there."""
        states = list(states)
        afters = [after for state in states for _, after in self._states.moves_in(state)]
        ways = {after.place for after in afters if isinstance(after, State) and after.arrived}
        leads = f"; from there one gets to {', '.join(sorted(map(self._title, ways)))}" if ways else ""
        return f"the player is in {self._title(states[0].place)}{leads}"

    def _otherwise(self, event: Event, possible: Iterable[Possibility]) -> str:
        """What a fact is instead."""
        at = self._facts[event.values["fact"]]
        had = sorted({told_value(left(one.state).facts[at]) for one in possible})
        return f"it is {' or '.join(had)} there, and no move makes it so"

    def _title(self, place: str) -> str:
        return self._states.rules.levels[place].source.title

    def _unknown(self, event: Event) -> str:
        """What the flow does not have of what an event names."""
        values = event.values
        level = self._flow.level(values["level"]) if isinstance(values.get("level"), str) else None
        if "level" in values and level is None:
            return f"the flow has no level {values['level']}"
        if event.kind in THINGS and level is not None:
            name = values[event.kind]
            if all(thing.id != name for thing in getattr(level, THINGS[event.kind])):
                return f"{level.title} has no {event.kind} {name}"
        if event.kind == "fact" and values["fact"] not in self._facts:
            return f"the flow has no fact {values['fact']}"
        if event.kind == "ending" and all(ending.id != values["ending"] for ending in self._flow.endings):
            return f"the flow has no ending {values['ending']}"
        return ""
