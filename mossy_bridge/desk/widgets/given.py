"""Qt's type stubs allow None in many places where Qt never hands it over; this says so in one place."""

from typing import TypeVar

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QKeyEvent

T = TypeVar("T")


def given(value: T | None) -> T:
    """What Qt has handed over. Raises TypeError if that was nothing after all."""
    if value is None:
        raise TypeError("Qt has handed over nothing")
    return value


def is_key_override(event: QEvent | None, key: Qt.Key) -> bool:
    """Whether a widget is asked if it wants a key for itself, before a menu gets it."""
    return isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride and event.key() == key
