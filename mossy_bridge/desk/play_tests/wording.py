"""How play-tests are told in the window."""

from collections.abc import Mapping, Sequence

from mossy_bridge.language.numbers import counted
from mossy_bridge.model.addresses import title_of
from mossy_bridge.model.flow import Flow
from mossy_bridge.play_logs.events import MOVES, NAMED, Event
from mossy_bridge.play_logs.judging import Judged


def minutes_text(seconds: float) -> str:
    """A time, such as 1:05 or 2:03:04."""
    whole = round(seconds)
    hours, minutes = whole // 3600, whole // 60 % 60
    return f"{hours}:{minutes:02}:{whole % 60:02}" if hours else f"{minutes}:{whole % 60:02}"


def furthest(flow: Flow, order: Mapping[str, int], levels: Sequence[str]) -> str:
    """The furthest level of the order among some; screens and boards only where there is no other, "" for none."""
    known = {level for level in levels if level in order}
    proper = {level for level in known if flow.levels[order[level]].kind == "play"}
    return max(proper or known, key=order.__getitem__, default="")


def level_title(flow: Flow, level_id: str) -> str:
    """A level by code and name; by its id where the flow does not have it."""
    level = flow.level(level_id)
    if level is None:
        return level_id
    return f"{level.code} {level.title}".strip() if level.code != level.title else level.title


def event_words(flow: Flow, event: Event) -> str:
    """An event in words, its things by name where the flow has them."""
    values, kind = event.values, event.kind
    if kind == "arrive":
        level, spawn = flow.level(values["level"]), values.get("spawn")
        point = level.spawn(spawn) if level and isinstance(spawn, str) else None
        at = f" at {point.name or point.id}" if point else f" at {spawn}" if spawn else ""
        return f"arrival in {level_title(flow, values['level'])}{at}"
    if kind in MOVES and kind != "path":
        return f"{kind} {title_of(flow, '.'.join(values[key] for key in NAMED[kind]))}"
    if kind == "path":
        return f"path in {level_title(flow, values['level'])} from {values['from']} to {values['to']}"
    return " ".join(str(values[key]) for key in ("event", *NAMED.get(kind, ())))


def answers_told(sessions: Sequence[Judged]) -> str:
    """How many sessions there are, and what the flow makes of them."""
    answers = [one.explained.answer for one in sessions]
    parts = [f"{answers.count('yes'):,} explained by the flow"]
    parts += [f"{answers.count('no'):,} not"] if "no" in answers else []
    parts += [f"{answers.count('unknown'):,} unknown"] if "unknown" in answers else []
    return f"{counted(len(answers), 'session')}: {', '.join(parts)}"
