"""A whole log held against a flow in one pass, however long it is: each session explained and counted."""

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from mossy_bridge.play_logs.events import Event, PlaySession
from mossy_bridge.play_logs.explaining import Explained, Explainer, Impossible
from mossy_bridge.play_logs.reading import LogReader
from mossy_bridge.play_logs.statistics import Counting, Counts


class Judged(NamedTuple):
    """A session: what the flow makes of it, and what was counted in it."""

    explained: Explained
    counts: Counts


class Judging:
    """One session while it goes on."""

    def __init__(self, explainer: Explainer, session: PlaySession):
        self.following = explainer.follow(session)
        self._explainer, self._counting = explainer, Counting(explainer.flow)

    def take(self, event: Event) -> Impossible | None:
        """Takes the next event; tells where it is impossible."""
        self._counting.take(event)
        return self.following.take(event)

    def so_far(self) -> Judged:
        """What is known of it now."""
        return Judged(self.following.explained(), self._counting.counts)

    def ended(self) -> Judged:
        """The session is over."""
        self._explainer.ended(self.following)
        return self.so_far()


def judged_log(explainer: Explainer, file: str, lines: Iterable[bytes]) -> Iterator[Judged]:
    """The sessions in the lines of a log, each as soon as it is over; no event of them is kept."""
    reader = LogReader(file)
    judging: Judging | None = None
    for line in lines:
        event, ended = reader.read(line)
        if ended is not None and judging is not None:
            yield judging.ended()
        if reader.session is not None and (judging is None or judging.following.session is not reader.session):
            judging = Judging(explainer, reader.session)
        if event is not None and judging is not None:
            judging.take(event)
    if judging is not None:
        yield judging.ended()
