"""Calls that hold what was played against a flow: from logs, and while it is played."""

import contextlib
import signal
import sys
import threading
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import TYPE_CHECKING

import click

from mossy_bridge.command.group import FILE, FOUND, NOTHING_WRONG, Unusable, cli, read_file
from mossy_bridge.terminal import say, say_json

if TYPE_CHECKING:
    from mossy_bridge.play_logs.live import LiveGames, Wrong

PORT = click.IntRange(0, 65535)


@cli.command()
@FILE
@click.argument("logs", nargs=-1, required=True, type=click.Path(path_type=Path))
@click.option("--format", "form", type=click.Choice(["text", "json", "markdown"]), default="text", show_default=True)
def logs(file: Path, logs: tuple[Path, ...], form: str) -> None:
    """Hold play logs against the flow: whether it can explain what was played, and what was used how often."""
    from mossy_bridge.play_logs.explaining import Explained, Explainer
    from mossy_bridge.play_logs.judging import judged_log
    from mossy_bridge.play_logs.reading import lines_of
    from mossy_bridge.play_logs.report import log_markdown, log_text, log_values
    from mossy_bridge.play_logs.statistics import Statistics

    flow = read_file(file)
    explainer = Explainer(flow)
    counted, explained = Statistics(explainer.flow), list[Explained]()
    for path in logs:
        try:
            with open(path, "rb") as log:
                for judged in judged_log(explainer, str(path), lines_of(log)):
                    counted.add(judged.counts)
                    explained.append(judged.explained)
        except OSError as error:
            raise Unusable([f"{path}: {error.strerror or error}"]) from error
    if form == "json":
        say_json(log_values(explained, counted))
    else:
        for line in log_text(explained, counted) if form == "text" else log_markdown(explained, counted):
            say(line)
    sys.exit(FOUND if any(one.answer == "no" for one in explained) else NOTHING_WRONG)


@cli.command()
@FILE
@click.option("--port", type=PORT, help="Listen to games that connect to this port of this machine; 0 takes any.")
@click.option("--log", type=click.Path(path_type=Path), help="Follow a log file that grows instead.")
def listen(file: Path, port: int | None, log: Path | None) -> None:
    """Hold games against the flow while they are played. Tells where players are and what is impossible; Ctrl+C ends
    it, with what it all adds up to."""
    from mossy_bridge.play_logs.listening import CannotListen, follow_file, listen_to_port
    from mossy_bridge.play_logs.live import LiveGames

    if (port is None) == (log is None):
        raise Unusable(["either --port or --log must say what to listen to"])
    live = LiveGames(read_file(file))
    ears = _Teller(live)
    try:
        with _until_ended() as ended:
            if log is not None:
                say(f"following {log}; Ctrl+C ends it", err=True)
                follow_file(log, ears, ended)
            else:
                listen_to_port(port or 0, ears, ended, _say_port)
    except CannotListen as error:
        raise Unusable([str(error)]) from error
    sys.exit(_sum_up(live))


def _say_port(port: int) -> None:
    say(f"listening to port {port} of this machine; Ctrl+C ends it", err=True)


@contextlib.contextmanager
def _until_ended() -> Iterator[Callable[[], bool]]:
    """Says whether Ctrl+C was pressed, or the program was asked to end; both end nothing else meanwhile."""
    ended = threading.Event()
    numbers = (signal.SIGINT, signal.SIGTERM)
    before = [signal.signal(number, lambda *_: ended.set()) for number in numbers]
    try:
        yield ended.is_set
    finally:
        for number, handler in zip(numbers, before, strict=True):
            signal.signal(number, handler)


class _Teller:
    """Tells what games do, as they do it."""

    def __init__(self, live: "LiveGames"):
        self._live = live
        self._where: dict[str, str] = {}

    def begin(self, source: str) -> bool:
        """Lets a game begin, if there are not too many."""
        begun = self._live.begin(source)
        say(f"{source} begins to log" if begun else f"{source} is not listened to: there are too many games", err=True)
        return begun

    def take(self, source: str, data: bytes) -> None:
        """Tells what is impossible, and where the player is now."""
        self._tell(self._live.take(source, data))
        player = next(player for player in self._live.view().players if player.source == source)
        if player.level and self._where.get(source) != player.level:
            say(f"{player.name} is in {player.level}")
        self._where[source] = player.level

    def end(self, source: str) -> None:
        """Tells that a game is over."""
        self._tell(self._live.end(source))
        say(f"{source} logs nothing more", err=True)

    def _tell(self, wrong: "list[Wrong]") -> None:
        from mossy_bridge.play_logs.report import event_text

        for one in wrong:
            event = one.impossible.event
            say(f"{one.player}, line {event.line}: {event_text(event.values)}: {one.impossible.why}")


def _sum_up(live: "LiveGames") -> int:
    """Prints what all sessions add up to. Returns the status."""
    from mossy_bridge.play_logs.report import log_text
    from mossy_bridge.play_logs.statistics import Statistics

    ended = live.view().ended
    explained = [judged.explained for judged in ended]
    say("\n".join(log_text(explained, Statistics(live.flow, (judged.counts for judged in ended)))))
    return FOUND if any(one.answer == "no" for one in explained) else NOTHING_WRONG
