"""The terminal: whatever it can show, and whatever it is sent.

Nothing that users have named reaches a terminal as a command to it; a character it cannot show is written as an escape;
streams that are closed or full end the program with a sentence, and Ctrl+C at any moment with none but that.
"""

import gc
import json
import os
import re
import signal
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from types import FrameType
from typing import Any, NoReturn

import click

INTERRUPTED, UNUSABLE = 130, 2
LOADED = 100_000
"""So many new objects are let be before garbage is looked for: nothing that is loaded at the start is any."""
_CONTROL = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f]")


def say(text: object, err: bool = False, nl: bool = True) -> None:
    """Prints words; control characters, but for tabs and line breaks, as escapes."""
    click.echo(_CONTROL.sub(lambda found: f"\\x{ord(found[0]):02x}", str(text)), err=err, nl=nl)


def say_json(values: Any) -> None:
    """Prints values as JSON, which stays JSON whatever the terminal can show."""
    import msgspec  # only whoever prints JSON waits for it

    text = msgspec.json.format(msgspec.json.encode(values), indent=2).decode()
    plain = (sys.stdout.encoding or "").lower().replace("-", "") != "utf8"
    if not text.isascii() or "\x7f" in text:
        text = re.sub("[^\x00-\x7e]" if plain else "[\x7f-\x9f]", _escaped, text)
    click.echo(text)


def _escaped(found: re.Match[str]) -> str:
    """A character as JSON writes it in ASCII."""
    return json.dumps(found[0])[1:-1] if found[0] != "\x7f" else "\\u007f"


def prepare() -> None:
    """Makes the streams fit for use, lets Ctrl+C end the program at once, and looks for garbage seldom. To be called
    before anything is loaded that takes long."""
    gc.set_threshold(LOADED)
    signal.signal(signal.SIGINT, _end_now)
    for name, mode in (("stdin", "r"), ("stdout", "w"), ("stderr", "w")):
        stream = getattr(sys, name)
        if stream is None:  # closed by who started the program
            setattr(sys, name, open(os.devnull, mode, encoding="utf-8"))  # noqa: SIM115 - open as long as the program
        elif mode == "w" and hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="backslashreplace")


def _end_now(_number: int, _frame: FrameType | None) -> NoReturn:
    shown_again = b"\x1b[?25h\n" if os.isatty(2) else b""  # a progress bar hides the cursor
    os.write(2, shown_again + b"interrupted\n")
    os._exit(INTERRUPTED)


@contextmanager
def ended_at_once() -> Iterator[None]:
    """Ends the process with what it was asked for. To take apart all that was loaded would take longer than a small
    survey; with a window it is done all the same, for Qt writes its settings then."""
    status = 0
    try:
        yield
    except SystemExit as error:
        if not isinstance(error.code, int):
            raise
        status = error.code
    if "PyQt6" not in sys.modules:
        sys.stdout.flush()
        sys.stderr.flush()
        os._exit(status)
    sys.exit(status)


@contextmanager
def plain_endings() -> Iterator[None]:
    """Whatever goes wrong inside ends the program with a sentence and a status, and never with a traceback."""
    try:
        yield
        sys.stdout.flush()
    except click.ClickException as error:
        _let_go_of_output()
        error.show()
        sys.exit(error.exit_code)
    except (click.Abort, KeyboardInterrupt):
        say("interrupted", err=True)
        sys.exit(INTERRUPTED)
    except SystemExit as error:
        if not _flushed():
            sys.exit(UNUSABLE)
        raise error
    except BrokenPipeError:  # whoever reads has enough
        _let_go_of_output()
        sys.exit(0)
    except OSError as error:
        _let_go_of_output()
        say(f"{error.filename or 'The output'}: {error.strerror or error}", err=True)
        sys.exit(UNUSABLE)
    except Exception as error:
        _let_go_of_output()
        say(f"Something went wrong inside the program ({type(error).__name__}: {error}).", err=True)
        say("With MOSSY_BRIDGE_DETAILS=1 it tells where; please say so to its makers.", err=True)
        if os.environ.get("MOSSY_BRIDGE_DETAILS"):
            raise
        sys.exit(UNUSABLE)


def _flushed() -> bool:
    """Writes what waits to be written; whether that could be done."""
    try:
        sys.stdout.flush()
    except BrokenPipeError:
        _let_go_of_output()
    except OSError as error:
        _let_go_of_output()
        say(f"The output could not be written: {error.strerror or error}", err=True)
        return False
    return True


def _let_go_of_output() -> None:
    """What could not be written is given up, or it would be tried once more at the very end."""
    try:
        sys.stdout.flush()
    except (OSError, ValueError):
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, sys.stdout.fileno())
