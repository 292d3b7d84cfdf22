"""The play-tests that the window knows of: sessions from log files and from games, narrowed and added up."""

import importlib
from collections.abc import Sequence
from pathlib import Path
from typing import Literal

from msgspec import Struct
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from mossy_bridge.appraisal.appraise import only_layout_differs
from mossy_bridge.desk.workers.background_task import BackgroundTask, Job
from mossy_bridge.desk.workers.game_listener import GameListener, Source
from mossy_bridge.desk.workers.log_reading import LogsRead, WalkFound, read_logs, walk_again
from mossy_bridge.model.flow import Flow
from mossy_bridge.play_logs.explaining import Answer
from mossy_bridge.play_logs.judging import Judged
from mossy_bridge.play_logs.live import LiveView
from mossy_bridge.play_logs.statistics import Statistics

Shown = Literal["", "time", "failures"]
"""What cards on the map are weighted by; "" while nothing is laid over it."""


SUMS_EVERY = 1000
"""Milliseconds between two sums of the sessions of games that are listened to."""
OVERLAID: tuple[Shown, ...] = ("", "time", "failures")


class Wanted(Struct, frozen=True):
    """Which sessions are looked at; "" is any."""

    build: str = ""
    player: str = ""
    answer: Answer | Literal[""] = ""

    def takes(self, judged: Judged) -> bool:
        """Whether it is one of them."""
        session = judged.explained.session
        return (
            self.build in ("", session.build)
            and self.player in ("", session.player)
            and self.answer in ("", judged.explained.answer)
        )


class PlayTests(QObject):
    """Keeps them. ``changed()`` follows every other set of sessions, ``progressed()`` while logs are read, ``lived()``
    news of games that are listened to, ``overlaid()`` another wish of what is shown over map and plans; ``walked(moves,
    line)`` brings a walk that was asked for, ``failed(title, why)`` what could not be done."""

    changed = pyqtSignal()
    progressed = pyqtSignal()
    lived = pyqtSignal()
    overlaid = pyqtSignal()
    walked = pyqtSignal(object, int)
    failed = pyqtSignal(str, str)

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self.flow = Flow()
        """The flow that they were judged by, its patterns filled in."""
        self.files: tuple[Path, ...] = ()
        self.progress: float | None = None
        """How much of the files has been read, while that is under way."""
        self.sessions: tuple[Judged, ...] = ()
        """Those that are wanted."""
        self.statistics = Statistics(Flow())
        self.wanted = Wanted()
        self.shown: Shown = ""
        self.live = LiveView()
        self._read: tuple[Judged, ...] = ()
        self._heard: tuple[Judged, ...] = ()
        """Those of games that are listened to no more."""
        self._present = Flow()
        self._reading, self._adding, self._walking = (BackgroundTask(self) for _ in range(3))
        self._reading.reported.connect(self._on_progress)
        self._reading.done.connect(self._on_read)
        self._reading.failed.connect(lambda _: self._on_progress(None))
        self._adding.done.connect(self._on_added)
        self._walking.done.connect(self._on_walk)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(SUMS_EVERY)
        self._soon.timeout.connect(self._narrow)
        self.listener = GameListener(self)
        self.listener.told.connect(self._on_live)
        self.listener.began.connect(self.lived)
        self.listener.ended.connect(self._on_listened)

    # -- what there is ---------------------------------------------------------------------------------

    @property
    def all(self) -> tuple[Judged, ...]:
        """Every session, wanted or not."""
        return (*self._read, *self._heard, *self.live.ended)

    @property
    def is_outdated(self) -> bool:
        """Whether the flow has changed since they were judged."""
        return bool(self.all) and self.flow != self._present and not only_layout_differs(self.flow, self._present)

    def show_flow(self, flow: Flow) -> None:
        """The flow is now another one, its patterns filled in; sessions stay judged by the one before until that is
        asked for."""
        self._present = flow

    def forget(self) -> None:
        """Forgets all sessions, and listens no more."""
        self.listener.stop()
        self._reading.cancel()
        self.files, self._read, self._heard, self.progress, self.live = (), (), (), None, LiveView()
        self.wanted = Wanted()
        self.show("")
        self._narrow()
        self.lived.emit()

    def stop(self) -> None:
        """Gives up all that is under way."""
        self.listener.stop()  # what was heard until now would be added up: that is given up, too
        self._soon.stop()
        for task in (self._reading, self._adding, self._walking):
            task.stop()

    # -- reading ---------------------------------------------------------------------------------------

    @property
    def busy(self) -> bool:
        """Whether logs are read or added up, or a walk is looked for."""
        return self._reading.busy or self._adding.busy or self._walking.busy

    @property
    def is_walking(self) -> bool:
        """Whether the walk of a session is looked for."""
        return self._walking.busy

    def add(self, files: Sequence[Path]) -> None:
        """Reads more logs; all are judged by the flow as it is now."""
        self.files = tuple(dict.fromkeys((*self.files, *files)))
        self.judge_anew()

    def judge_anew(self) -> None:
        """Judges all logs by the flow as it is now."""
        flow, files, heard = self._present, self.files, self._heard
        self.progress = 0.0
        self._reading.ask(lambda job: read_logs(flow, files, heard, job))
        self.progressed.emit()

    def cancel(self) -> None:
        """Gives up reading; what was read before stays."""
        self._reading.cancel()
        self.files = tuple({Path(one.explained.session.file): None for one in self._read})
        self._on_progress(None)

    def _on_progress(self, share: float | None) -> None:
        self.progress = share
        self.progressed.emit()

    def _on_read(self, found: LogsRead) -> None:
        self.flow, self._read, self._heard = found.flow, found.sessions, found.heard
        self._on_progress(None)
        self._narrow()
        if self._read:
            self.show(self.shown or "time")
        if found.unreadable:
            self.failed.emit("Not read", "\n".join(found.unreadable))

    # -- narrowing -------------------------------------------------------------------------------------

    def want(self, wanted: Wanted) -> None:
        """Looks at other sessions."""
        self.wanted = wanted
        self._narrow()

    def _narrow(self) -> None:
        wanted, flow = tuple(filter(self.wanted.takes, self.all)), self.flow
        self._adding.ask(lambda _: _added_up(flow, wanted))

    def _on_added(self, found: tuple[tuple[Judged, ...], Statistics]) -> None:
        self.sessions, self.statistics = found
        self.changed.emit()

    def show(self, shown: Shown) -> None:
        """Lays something else over map and plans."""
        if shown != self.shown:
            self.shown = shown
            self.overlaid.emit()

    # -- walking again ---------------------------------------------------------------------------------

    def walk(self, judged: Judged) -> None:
        """Looks for the walk of a session."""
        flow = self.flow
        self._walking.ask(lambda job: _walk(flow, judged, job))

    def _on_walk(self, found: WalkFound | str) -> None:
        if isinstance(found, str):
            self.failed.emit("Not walked again", found)
        elif found.moves is None:
            why = "It goes on from a game that was played before, or is too long: no walk from the start shows it."
            self.failed.emit("Not walked again", why)
        else:
            self.walked.emit(found.moves, found.up_to)

    # -- listening -------------------------------------------------------------------------------------

    def listen(self, source: Source) -> None:
        """Listens to games, and holds them against the flow as it is now; what was listened to before is left."""
        if self.listener.busy:
            self.listener.stop()
        self.live = LiveView()
        if not self.all:
            self.flow = self._present
        self.listener.listen(self._present, source)
        self._narrow()

    def _on_live(self, view: LiveView) -> None:
        before, latest = self.live.ended, view.ended
        news = len(before) != len(latest) or (bool(latest) and latest[-1] is not before[-1])
        self.live = view
        if news and not self._soon.isActive():
            self._soon.start()
        self.lived.emit()

    def _on_listened(self, why: str) -> None:
        self._heard += self.live.ended
        self.live = LiveView()
        self._narrow()
        self.lived.emit()
        if why:
            self.failed.emit("Not listening", why)


def _added_up(flow: Flow, wanted: tuple[Judged, ...]) -> tuple[tuple[Judged, ...], Statistics]:
    """The sessions and what they add up to, worked out whole; and what plots it loaded, which takes long, too."""
    statistics = Statistics(flow, (one.counts for one in wanted))
    if statistics.spreads:
        importlib.import_module("pyqtgraph")
    return wanted, statistics


def _walk(flow: Flow, judged: Judged, job: Job) -> WalkFound | str:
    try:
        return walk_again(flow, judged, job)
    except OSError as error:
        return f"{judged.explained.session.file}: {error.strerror or error}"
