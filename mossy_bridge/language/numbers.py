"""Numbers as they are typed and shown, and several things in words."""

import re
from collections.abc import Sequence

_LONGEST = 40


def number_in(text: str) -> float | None:
    """The number that was typed, whole where it can be, with a point or a comma; None where it is none."""
    text = text.strip().replace(",", ".").replace("−", "-")
    if len(text) > _LONGEST or not re.fullmatch(r"[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?", text, re.ASCII | re.IGNORECASE):
        return None
    value = float(text)
    return int(value) if value.is_integer() else value


def counted(number: int, word: str) -> str:
    """A number of things, such as 1 session or 2,000 sessions."""
    return f"{number:,} {word}{'' if number == 1 else 's'}"


def enumerated(names: Sequence[str], most: int = 5) -> str:
    """Names with commas between, and *and* before the last; of many more than ``most`` the first, and how many more."""
    if len(names) > most + 1:
        names = [*names[:most], f"{len(names) - most:,} more"]
    return " and ".join(filter(None, (", ".join(names[:-1]), *names[-1:])))


def number_text(value: float) -> str:
    """A number in full, so that typing it back gives the same one; a whole one without a point."""
    return str(int(value)) if float(value).is_integer() else repr(float(value))
