"""What each check finds, an example, and how to mend it, as the checks themselves say."""

import inspect

from msgspec import Struct

from mossy_bridge.checks.registry import Check

EXAMPLE, MEND = "Example: ", "To mend: "


class Explanation(Struct, frozen=True):
    """What a check says of itself."""

    meaning: str
    example: str
    mend: str


def explained(check: Check) -> Explanation:
    """What a check says of itself in the words above its code: what it finds; a line that begins with ``Example:``; one
    that begins with ``To mend:``. Raises ``ValueError`` where one of them is missing."""
    said = inspect.getdoc(check.function) or ""
    paragraphs = [one for part in said.split("\n\n") for one in _with_breaks(part)]
    meaning = paragraphs[0] if paragraphs else ""
    example = next((one for one in paragraphs if one.startswith(EXAMPLE)), "")
    mend = next((one for one in paragraphs if one.startswith(MEND)), "")
    if not (meaning and example and mend):
        raise ValueError(f"the check {check.slug} does not say what it finds, an example, and how to mend it")
    return Explanation(meaning, example.removeprefix(EXAMPLE), mend.removeprefix(MEND))


def _with_breaks(part: str) -> list[str]:
    """The paragraphs of a block, each on one line; an example and the way out begin one of their own."""
    found: list[str] = []
    for line in part.splitlines():
        if not found or line.startswith((EXAMPLE, MEND)):
            found.append(line)
        else:
            found[-1] = f"{found[-1]} {line}"
    return [one for one in found if one]
