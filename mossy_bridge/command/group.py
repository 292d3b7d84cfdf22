"""The group of all calls, and what they share: reading a flow, progress, and refusing what cannot be used."""

import contextlib
import sys
import time
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import IO, TYPE_CHECKING, Any

import click

from mossy_bridge import __version__
from mossy_bridge.terminal import UNUSABLE, say

if TYPE_CHECKING:
    from mossy_bridge.level_files.contents import LevelFiles
    from mossy_bridge.model.flow import Flow

NOTHING_WRONG, FOUND = 0, 1
FILE = click.argument("file", type=click.Path(path_type=Path))


class Unusable(click.ClickException):
    """The input cannot be used: one line a problem on standard error, status 2."""

    exit_code = UNUSABLE

    def __init__(self, problems: Sequence[str]):
        super().__init__("\n".join(problems))

    def show(self, file: IO[Any] | None = None) -> None:
        """Writes the problems to standard error, or to the file."""
        del file
        say(self.message, err=True)


@click.group(context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="mossy-bridge")
def cli() -> None:
    """Lay out the flow of a game's levels, and prove that every level is reached and nobody gets stuck."""


def read_file(file: Path) -> "Flow":
    from mossy_bridge.exchange.reading import CannotRead, read_flow

    try:
        return read_flow(file)
    except CannotRead as error:
        raise Unusable(error.problems) from error


def level_files_of(flow: "Flow", folder: Path) -> "LevelFiles":
    """What the flow's level files hold."""
    if not flow.readers:
        return {}
    from mossy_bridge.exchange.readers.store import LevelFileStore
    from mossy_bridge.model.patterns import resolved

    store = LevelFileStore(folder)
    with counting("reading level files") as tell:
        found = store.read(resolved(flow), progress=tell)
    store.close()
    return found


def delivered_flow(flow: "Flow") -> "Flow":
    from mossy_bridge.exchange.reading import CannotRead
    from mossy_bridge.exchange.shipping_values import delivered

    try:
        return delivered(flow)
    except CannotRead as error:
        raise Unusable(error.problems) from error


@contextlib.contextmanager
def progress(label: str, seconds: float) -> Iterator[Callable[[], bool]]:
    """A bar on standard error that fills with the time allowed; only on a terminal. Yields what is to be called
    now and then; it always says False: go on."""
    if not sys.stderr.isatty():
        yield lambda: False
        return
    began, steps = time.monotonic(), 100
    with click.progressbar(length=steps, label=label, file=sys.stderr, show_eta=False, show_percent=False) as bar:

        def tick() -> bool:
            done = min(steps, int((time.monotonic() - began) / max(seconds, 0.1) * steps))
            bar.update(done - bar.pos)
            return False

        yield tick


@contextlib.contextmanager
def counting(label: str) -> Iterator[Callable[[int, int], None]]:
    """A bar on standard error that fills as things are done; only on a terminal. Yields what is to be told how many
    are done, and of how many."""
    if not sys.stderr.isatty():
        yield lambda _done, _all: None
        return
    with click.progressbar(length=1, label=label, file=sys.stderr, show_eta=False) as bar:

        def tell(done: int, of: int) -> None:
            bar.length = max(of, 1)
            bar.update(done - bar.pos)

        yield tell


def names(text: str) -> list[str]:
    return [name.strip() for name in text.split(",") if name.strip()]


def known_slugs(only: str) -> list[str]:
    from mossy_bridge.checks.runner import known_checks
    from mossy_bridge.model.ids import nearest

    wanted = names(only)
    known = known_checks()
    problems = []
    for slug in wanted:
        if slug not in known:
            likely = nearest(slug, known)
            problems.append(f"--only: there is no check “{slug}”" + (f"; did you mean “{likely}”?" if likely else ""))
    if problems:
        raise Unusable(problems)
    return wanted
