"""Words for the destinations that only play decides."""

from collections.abc import Mapping

BY_PLAY: Mapping[str, str] = {
    "next": "the next level of the order", "previous": "the previous level of the order", "again": "this level again",
    "back": "the level last played", "resume": "the saved game",
}  # fmt: skip
"""By the kind of the destination."""
