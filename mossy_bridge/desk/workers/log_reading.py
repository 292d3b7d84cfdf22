"""Reads play logs and holds them against the flow, beside the window."""

import os
import time
from collections.abc import Iterator, Sequence
from pathlib import Path

from msgspec import Struct

from mossy_bridge.desk.workers.background_task import Job
from mossy_bridge.model.flow import Flow
from mossy_bridge.play_logs.explaining import Explainer
from mossy_bridge.play_logs.judging import Judged, Judging, judged_log
from mossy_bridge.play_logs.possible_states import Stopped
from mossy_bridge.play_logs.reading import lines_of, sessions_of
from mossy_bridge.play_logs.retracing import walk_of
from mossy_bridge.reach.survey.budget import Cancelled
from mossy_bridge.reach.survey.gc_pause import gc_paused

TELL_EVERY = 0.1
"""Seconds between two words of how far it is."""


class LogsRead(Struct, frozen=True):
    """What some logs hold, as a flow sees it."""

    flow: Flow
    sessions: tuple[Judged, ...]
    heard: tuple[Judged, ...] = ()
    """Sessions that were listened to, judged again."""
    unreadable: tuple[str, ...] = ()
    """A sentence for each file that could not be read."""


class WalkFound(Struct, frozen=True):
    """The walk of a session; None where there is none that begins at the start."""

    moves: tuple[str, ...] | None
    up_to: int = 0
    """The line of the first impossible event, before which the walk ends; 0 if it goes to the end."""


def read_logs(flow: Flow, files: Sequence[Path], heard: Sequence[Judged], job: Job) -> LogsRead:
    """Judges all sessions of some files, and again those that were listened to; reports the share of the files that is
    done, from 0 to 1."""
    with gc_paused():
        return _read_logs(flow, files, heard, job)


def _read_logs(flow: Flow, files: Sequence[Path], heard: Sequence[Judged], job: Job) -> LogsRead:
    explainer = Explainer(flow, cancelled=job.cancelled)
    found: list[Judged] = []
    unreadable: list[str] = []
    told = _ReadingProgress(files, job)
    for file in files:
        try:
            with open(file, "rb") as log:
                lines = told.passing(lines_of(log))
                found.extend(judged_log(explainer, str(file), lines))
        except OSError as error:
            unreadable.append(f"{file}: {error.strerror or error}")
        except Stopped:
            raise Cancelled from None
    return LogsRead(flow, tuple(found), tuple(_again(explainer, one) for one in heard), tuple(unreadable))


def _again(explainer: Explainer, judged: Judged) -> Judged:
    """A session judged again; one of which not all events were kept stays as it was judged."""
    explained = judged.explained
    if len(explained.session.events) < explained.events:
        return judged
    judging = Judging(explainer, explained.session)
    for event in explained.session.events:
        judging.take(event)
    return judging.ended()


class _ReadingProgress:
    """Tells now and then how much of some files has been read, and stops when nobody wants to know."""

    def __init__(self, files: Sequence[Path], job: Job):
        self._all = max(1, sum(os.path.getsize(file) for file in files if file.is_file()))
        self._job, self._done, self._told = job, 0, 0.0

    def passing(self, lines: Iterator[bytes]) -> Iterator[bytes]:
        """The same lines."""
        for line in lines:
            self._done += len(line)
            yield line
            if time.monotonic() - self._told > TELL_EVERY:
                self._told = time.monotonic()
                self._job.report(min(1.0, self._done / self._all))
                if self._job.cancelled():
                    raise Cancelled


def walk_again(flow: Flow, judged: Judged, job: Job) -> WalkFound:
    """The moves of a session, read from its log again where its events were not kept; where the flow cannot explain
    it, those before the first impossible event. Raises OSError where the log is gone."""
    session, impossible = judged.explained.session, judged.explained.impossible
    if not session.events:
        with open(session.file, "rb") as log:
            again = (one for one in sessions_of(session.file, lines_of(log)) if one.first_line == session.first_line)
            session = next(again, session)
    up_to = impossible[0].event.line if impossible else 0
    if up_to:
        session.events = [event for event in session.events if event.line < up_to]
    try:
        return WalkFound(walk_of(Explainer(flow, cancelled=job.cancelled).states, session), up_to)
    except Stopped:
        raise Cancelled from None
