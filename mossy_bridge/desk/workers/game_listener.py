"""Listens to games beside the window."""

import time
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from mossy_bridge.desk.workers.background_task import BackgroundTask, Job
from mossy_bridge.model.flow import Flow
from mossy_bridge.play_logs.listening import CannotListen, follow_file, listen_to_port
from mossy_bridge.play_logs.live import LiveGames, LiveView
from mossy_bridge.play_logs.possible_states import Stopped
from mossy_bridge.reach.survey.budget import Cancelled

TELL_EVERY = 0.1
"""Seconds between two words of how things stand: games log faster than the window can show."""
Source = int | Path
"""A port, or a log file that grows."""


class GameListener(QObject):
    """Listens to one source at a time. ``told(view)`` says how things stand, ``began()`` that listening has begun,
    ``ended(why)`` that it is over, "" if it was asked for."""

    told = pyqtSignal(object)
    began = pyqtSignal()
    ended = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self.source: Source | None = None
        """What is listened to, if anything; a port that is known to be open."""
        self.flow = Flow()
        """The flow that games are held against."""
        self._task = BackgroundTask(self)
        self._task.reported.connect(self._on_reported)
        self._task.done.connect(self._on_done)
        self._task.failed.connect(lambda _: self._end(""))

    @property
    def busy(self) -> bool:
        """Whether somebody listens."""
        return self._task.busy

    def listen(self, flow: Flow, source: Source) -> None:
        """Begins to listen to a port or file; what was listened to before is left."""
        self.source, self.flow = source, flow
        self._task.ask(lambda job: _listen(flow, source, job))

    def stop(self) -> None:
        """Listens no more."""
        self._task.stop()
        if self.source is not None:
            self._end("")

    def _on_reported(self, told: object) -> None:
        if isinstance(told, LiveView):
            self.told.emit(told)
        else:
            if isinstance(told, int):
                self.source = told
            self.began.emit()

    def _on_done(self, why: object) -> None:
        self._end(str(why))

    def _end(self, why: str) -> None:
        self.source = None
        self.ended.emit(why)


class _LiveReports:
    """Passes on what games send, and tells now and then how things stand."""

    def __init__(self, games: LiveGames, job: Job):
        self._games, self._job = games, job
        self._told, self._news = 0.0, False

    def begin(self, source: str) -> bool:
        """A game begins to send."""
        self._news = True
        return self._games.begin(source)

    def take(self, source: str, data: bytes) -> None:
        """A game sends."""
        self._games.take(source, data)
        self._news = True
        self.tell()

    def end(self, source: str) -> None:
        """A game sends nothing more."""
        self._games.end(source)
        self._news = True

    def tell(self) -> bool:
        """Tells what is new, unless it was told just now; whether nobody wants to know any more."""
        if self._news and time.monotonic() - self._told > TELL_EVERY:
            self._told, self._news = time.monotonic(), False
            self._job.report(self._games.view())
        return self._job.cancelled()


def _listen(flow: Flow, source: Source, job: Job) -> str:
    """Listens until nobody wants to know; why it cannot be done, if it cannot."""
    ears = _LiveReports(LiveGames(flow, job.cancelled), job)
    try:
        if isinstance(source, int):
            listen_to_port(source, ears, ears.tell, job.report)
        else:
            job.report(source)
            follow_file(source, ears, ears.tell)
    except CannotListen as error:
        return str(error)
    except Stopped:
        pass
    raise Cancelled
