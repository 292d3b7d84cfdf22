"""Numbers as they are typed and shown."""

import re

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


def number_text(value: float) -> str:
    """A number in full, so that typing it back gives the same one; a whole one without a point."""
    return str(int(value)) if float(value).is_integer() else repr(float(value))
