"""What logs tell, as plain values, text and Markdown."""

from collections.abc import Iterator, Sequence
from typing import Any

from mossy_bridge.language.numbers import counted
from mossy_bridge.play_logs.events import MOVES
from mossy_bridge.play_logs.explaining import Explained
from mossy_bridge.play_logs.statistics import Statistics

MOST_UNUSED = 40


def log_values(explained: Sequence[Explained], statistics: Statistics) -> dict[str, Any]:
    """One object with all sessions and counts."""
    return {
        "sessions": [_session_values(one) for one in explained],
        "levels": statistics.levels(),
        **{f"{kind}s": statistics.things(kind) for kind in MOVES},
        "unused": statistics.unused(),
    }


def _session_values(one: Explained) -> dict[str, Any]:
    session = one.session
    return {
        "session": session.name,
        "file": session.file,
        "first_line": session.first_line,
        "player": session.player,
        "build": session.build,
        "events": one.events,
        "explained": one.answer,
        "impossible": [
            {"line": wrong.event.line, "event": wrong.event.values, "level": wrong.level, "why": wrong.why}
            for wrong in one.impossible
        ],
        "unknown_events": session.unknown_events,
        "unread_lines": session.unread_lines,
        "seconds": one.seconds,
        "levels": list(one.levels),
    }


def log_text(explained: Sequence[Explained], statistics: Statistics) -> Iterator[str]:
    """The same as lines of text: first what the flow cannot explain."""
    yield from _verdict(explained)
    for one in explained:
        for wrong in one.impossible:
            yield f"{one.session.file}, line {wrong.event.line}: {event_text(wrong.event.values)}: {wrong.why}"
        unread, unknown = one.session.unread_lines, one.session.unknown_events
        if unread or unknown:
            lines, events = counted(unread, "line"), counted(unknown, "unknown event")
            yield f"{one.session.file}: passed over {lines} that cannot be read and {events}"
    yield ""
    for level, told in statistics.levels().items():
        if told["arrivals"]:
            seconds = told["seconds"]
            took = f", {seconds['median']:g} s ({seconds['low']:g} to {seconds['high']:g})" if seconds else ""
            failed = f", failed {counted(told['failures'], 'time')}" if told["failures"] else ""
            ended = f", {counted(told['ended'], 'session')} ended there" if told["ended"] else ""
            arrived = f"{counted(told['arrivals'], 'arrival')} in {counted(told['sessions'], 'session')}"
            yield f"{level}: {arrived}{took}{failed}{ended}"
    yield from _as_far(statistics)
    unused = statistics.unused()
    if unused:
        more = f" and {len(unused) - MOST_UNUSED} more" if len(unused) > MOST_UNUSED else ""
        yield f"never used: {', '.join(unused[:MOST_UNUSED])}{more}"


def _as_far(statistics: Statistics) -> Iterator[str]:
    """How many got how far along the order."""
    as_far = statistics.as_far()
    if any(as_far.values()):
        yield "got at least as far as: " + ", ".join(f"{level} {count}" for level, count in as_far.items())


def _verdict(explained: Sequence[Explained]) -> Iterator[str]:
    answers = [one.answer for one in explained]
    yield (f"{counted(len(answers), 'session')}: {answers.count('yes')} explained by the flow, "
           f"{answers.count('no')} not, {answers.count('unknown')} unknown")  # fmt: skip


def event_text(values: dict[str, Any]) -> str:
    names = (str(value) for key, value in values.items() if key not in ("event", "t"))
    return f"{values['event']} {' '.join(names)}".strip()


def log_markdown(explained: Sequence[Explained], statistics: Statistics) -> Iterator[str]:
    """The same as Markdown."""
    yield "# Play logs"
    yield ""
    yield from _verdict(explained)
    wrong = [(one, event) for one in explained for event in one.impossible]
    if wrong:
        yield ""
        yield "| file | line | event | why not |"
        yield "|---|---|---|---|"
        for one, told in wrong:
            cells = (one.session.file, str(told.event.line), event_text(told.event.values), told.why)
            yield f"| {' | '.join(cell.replace('|', '&#124;') for cell in cells)} |"
    yield ""
    yield "| level | arrivals | sessions | got as far | seconds (median) | failures | ended |"
    yield "|---|---|---|---|---|---|---|"
    for level, told in statistics.levels().items():
        median = f"{told['seconds']['median']:g}" if told["seconds"] else ""
        as_far = "" if told["as_far"] is None else told["as_far"]
        row = (level, told["arrivals"], told["sessions"], as_far, median, told["failures"], told["ended"])
        yield f"| {' | '.join(map(str, row))} |"
    unused = statistics.unused()
    if unused:
        yield ""
        yield f"Never used: {', '.join(f'`{one}`' for one in unused)}"
