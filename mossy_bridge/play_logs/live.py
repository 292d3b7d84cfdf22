"""Games that are being played: what they log is held against the flow as it comes, from several of them at once.

What is kept of each is bounded, however much and whatever it sends.
"""

from collections import deque
from collections.abc import Callable, Iterator

from msgspec import Struct

from mossy_bridge.model.flow import Flow
from mossy_bridge.play_logs.events import Event
from mossy_bridge.play_logs.explaining import Answer, Explainer, Impossible
from mossy_bridge.play_logs.judging import Judged, Judging
from mossy_bridge.play_logs.reading import LineSplitter, LogReader

MOST_GAMES = 16
"""So many games are listened to at once."""
MOST_ENDED, MOST_WRONG = 500, 200
"""So many sessions that are over, and so many impossible events, are kept; the latest."""
NAMELESS = "somebody"
KEPT_EVENTS = 20_000
"""So many events of a session are kept, to be walked again."""


class Player(Struct, frozen=True):
    """Who is playing, and how things are."""

    source: str
    """Where the log comes from: a file, or a connection."""
    name: str
    answer: Answer
    level: str = ""
    """Where the player is; "" before the first arrival and after an ending."""
    spawn: str = ""
    at: tuple[float, float] | None = None
    """Where on the plan, if the game tells."""
    seconds: float = 0.0
    trouble: str = ""
    """Why the latest impossible event cannot have happened."""
    ended: str = ""
    """The ending that was reached, if play stands there."""


class Wrong(Struct, frozen=True):
    """An impossible event, and who made it."""

    player: str
    impossible: Impossible
    number: int
    """How many there have been with it."""


class LiveView(Struct, frozen=True):
    """How things stand at a moment."""

    players: tuple[Player, ...] = ()
    wrong: tuple[Wrong, ...] = ()
    """The impossible events, the latest last."""
    ended: tuple[Judged, ...] = ()
    """The sessions that are over."""
    events: int = 0
    unread: int = 0
    """Lines that could not be read, and events of unknown kinds."""
    refused: int = 0
    """Games that were not listened to, since there were too many."""


class _Game:
    """One game that sends its log."""

    def __init__(self, source: str, explainer: Explainer):
        self.source, self._explainer = source, explainer
        self._splitter, self._reader = LineSplitter(), LogReader(source, KEPT_EVENTS)
        self._judging: Judging | None = None
        self.player = Player(source, NAMELESS, "yes")

    def take(self, data: bytes) -> Iterator[Event | Impossible | Judged]:
        """Takes some more of the log; tells each event, the impossible ones again with why, and what is over."""
        for line in self._splitter.feed(data):
            yield from self._take_line(line)

    def end(self) -> Iterator[Event | Impossible | Judged]:
        """Nothing more will come."""
        yield from self._take_line(self._splitter.last())
        if self._judging is not None:
            yield self._judging.ended()

    @property
    def unread(self) -> int:
        """What could not be read of the present session."""
        session = self._reader.session
        return session.unread_lines + session.unknown_events if session else 0

    def _take_line(self, line: bytes) -> Iterator[Event | Impossible | Judged]:
        event, ended = self._reader.read(line)
        if ended is not None and self._judging is not None:
            yield self._judging.ended()
        session = self._reader.session
        if session is not None and (self._judging is None or self._judging.following.session is not session):
            self._judging = Judging(self._explainer, session)
            name = session.player or session.name or NAMELESS
            self.player = Player(self.source, name, self._judging.following.answer)
        if event is not None and self._judging is not None:
            wrong = self._judging.take(event)
            self.player = _moved(self.player, event, self._judging.following.answer, wrong)
            yield event
            if wrong is not None:
                yield wrong


class LiveGames:
    """Holds several games against one flow as they are played. Raises :class:`Stopped` once it is ``cancelled``."""

    def __init__(self, flow: Flow, cancelled: Callable[[], bool] = lambda: False):
        self._explainer = Explainer(flow, cancelled=cancelled)
        self.flow = self._explainer.flow
        self._games: dict[str, _Game] = {}
        self._wrong: deque[Wrong] = deque(maxlen=MOST_WRONG)
        self._ended: deque[Judged] = deque(maxlen=MOST_ENDED)
        self._events = self._unread = self._refused = self._wrong_so_far = 0

    def begin(self, source: str) -> bool:
        """Another game begins to send; whether it is listened to."""
        if len(self._games) >= MOST_GAMES:
            self._refused += 1
            return False
        self._games[source] = _Game(source, self._explainer)
        return True

    def take(self, source: str, data: bytes) -> list[Wrong]:
        """Takes some more of what a game sends; returns what is impossible in it."""
        game = self._games[source]
        return self._told(game, game.take(data))

    def end(self, source: str) -> list[Wrong]:
        """A game sends nothing more."""
        game = self._games.pop(source)
        return self._told(game, game.end())

    def _told(self, game: _Game, news: Iterator[Event | Impossible | Judged]) -> list[Wrong]:
        found = []
        for one in news:
            if isinstance(one, Event):
                self._events += 1
            elif isinstance(one, Impossible):
                self._wrong_so_far += 1
                found.append(Wrong(game.player.name, one, self._wrong_so_far))
            else:
                self._ended.append(one)
                self._unread += one.explained.session.unread_lines + one.explained.session.unknown_events
        self._wrong.extend(found)
        return found

    def view(self) -> LiveView:
        """How things stand now."""
        unread = self._unread + sum(game.unread for game in self._games.values())
        players = tuple(game.player for game in self._games.values())
        return LiveView(players, tuple(self._wrong), tuple(self._ended), self._events, unread, self._refused)


def _moved(player: Player, event: Event, answer: Answer, wrong: Impossible | None) -> Player:
    """Where a player is after an event."""
    values, level, spawn, at, ended = event.values, player.level, player.spawn, player.at, player.ended
    if event.kind == "arrive":
        level, spawn, at, ended = values["level"], str(values.get("spawn", "")), None, ""
    elif event.kind == "at":
        at = (float(values["x"]), float(values["y"]))
    elif event.kind == "ending":
        level, spawn, at, ended = "", "", None, values["ending"]
    trouble = wrong.why if wrong else player.trouble
    seconds = max(player.seconds, event.t)
    return Player(player.source, player.name, answer, level, spawn, at, seconds, trouble, ended)
