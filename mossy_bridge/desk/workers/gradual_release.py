"""Releases large results bit by bit: freed at once, those of a survey of ten thousand levels would block the window for
a tenth of a second."""

import threading
import time

PAUSE = 0.005
"""Seconds between parts, in which the window can breathe."""
OUR_OWN = "mossy_bridge."


def parts_of(result: object) -> list[object]:
    """The collections that a result holds, itself and through other objects of the program; what is in collections is
    left to them."""
    found: list[object] = []
    known: set[int] = set()
    waiting = [result]
    while waiting:
        one = waiting.pop()
        if id(one) in known:
            continue
        known.add(id(one))
        if type(one).__module__.startswith(OUR_OWN) and hasattr(one, "__dict__"):
            waiting += vars(one).values()
        elif isinstance(one, dict | list | set | tuple):
            found.append(one)
    return found


def let_go(parts: list[object]) -> threading.Thread:
    """Gives up the parts, one after the other, beside the window. Whoever else holds one keeps it whole."""

    def work() -> None:
        while parts:
            parts.pop()
            time.sleep(PAUSE)

    thread = threading.Thread(target=work, daemon=True, name="letting go")
    thread.start()
    return thread
