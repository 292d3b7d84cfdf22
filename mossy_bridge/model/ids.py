"""Ids: which are allowed, how one is made from a name, and which existing one was probably meant."""

import difflib
import re
import unicodedata
from collections.abc import Collection, Iterable

LONGEST_STEM = 80
"""Characters of a name that its id is made of; there must be room for a number, and for an ending such as ``_2``."""
ID_SHAPE = re.compile(r"[a-z][a-z0-9_]*")
KEYWORDS = frozenset(
    [
        "or",
        "and",
        "not",
        "always",
        "never",
        "has",
        "lacks",
        "at",
        "least",
        "most",
        "exactly",
        "is",
        "seen",
        "done",
        "of",
        "gain",
        "lose",
        "add",
        "take",
        "set",
        "to",
        "raise",
        "lower",
        "turn",
        "clear",
    ]
)


def is_id(text: str) -> bool:
    """Whether the text can be an id: right shape, and no keyword of conditions or effects."""
    return bool(ID_SHAPE.fullmatch(text)) and text not in KEYWORDS


def id_from(name: str, taken: Collection[str], fallback: str = "level") -> str:
    """A new id made from a display name, unlike all that are taken."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    stem = re.sub(r"[^a-z0-9]+", "_", plain).strip("_")
    if not stem or not stem[0].isalpha():
        stem = f"{fallback}_{stem}".rstrip("_")
    return free_id(stem[:LONGEST_STEM].rstrip("_"), taken)


def free_id(stem: str, taken: Collection[str]) -> str:
    """The stem itself, or with the first number behind it that makes it free."""
    if is_id(stem) and stem not in taken:
        return stem
    number = 2
    while f"{stem}_{number}" in taken:
        number += 1
    return f"{stem}_{number}"


def nearest(text: str, names: Iterable[str]) -> str | None:
    """The name most like the text, or None if none is like it at all."""
    found = difflib.get_close_matches(text, list(names), n=1, cutoff=0.55)
    return found[0] if found else None
