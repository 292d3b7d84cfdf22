"""What is asked of play-tests: logs to read, games to listen to, minutes to take over."""

from collections.abc import Sequence

from mossy_bridge.desk.dialogs.person import Person
from mossy_bridge.desk.play_tests.level_table import Measured
from mossy_bridge.desk.play_tests.play_tests import OVERLAID, PlayTests
from mossy_bridge.desk.requests.requests import Requests
from mossy_bridge.desk.session.stand_in import StandInCommand
from mossy_bridge.desk.settings.preferences import Preferences


class PlayTestCommands:
    """Carries it out, asking the person."""

    def __init__(self, play_tests: PlayTests, requests: Requests, stand_in: StandInCommand, person: Person,
                 preferences: Preferences):  # fmt: skip
        self._tests, self._requests, self._stand_in = play_tests, requests, stand_in
        self._person, self._preferences = person, preferences

    @property
    def is_listening(self) -> bool:
        """Whether a game is listened to."""
        return self._tests.listener.busy

    @property
    def has_sessions(self) -> bool:
        """Whether there are any play-tests."""
        return bool(self._tests.all)

    def add(self) -> None:
        """Reads logs that are asked for."""
        files = self._person.log_paths()
        if files:
            self._tests.add(files)

    def listen_or_stop(self) -> None:
        """Listens to a game that is asked for, or no more."""
        if self._tests.listener.busy:
            self._tests.listener.stop()
            return
        source = self._person.heard(self._preferences.number("port"), self._stand_in.log)
        if isinstance(source, int) and source:  # 0 is any that is free
            self._preferences.set("port", source)
        if source is not None:
            self._tests.listen(source)

    def lay_over(self) -> None:
        """Lays over map and plans what comes next: nothing, use and time, use and failures."""
        self._tests.show(OVERLAID[(OVERLAID.index(self._tests.shown) + 1) % len(OVERLAID)])

    def take_minutes(self, measured: Sequence[Measured]) -> None:
        """Takes measured minutes over."""
        self._requests.levels.take_minutes({one.level: one.minutes for one in measured})
