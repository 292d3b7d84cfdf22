"""All that can be set, each with its default, and where it is kept: a text file that one can read and copy."""

from collections.abc import Iterator

from msgspec import Struct
from PyQt6.QtCore import QObject, QSettings, pyqtSignal

Value = str | int
ORGANISATION, APPLICATION = "mossy-bridge", "Mossy Bridge"
"""By which Qt finds the file."""
GROUP = "preferences"
"""The section of the file that holds them."""


class Preference(Struct, frozen=True):
    """One thing to set. It is one of ``choices`` (value and words), or a number from ``low`` to ``high``, or a text."""

    key: str
    title: str
    default: Value
    about: str
    choices: tuple[tuple[str, str], ...] = ()
    low: int = 0
    high: int = 0
    unit: str = ""

    def accepts(self, value: object) -> bool:
        """Whether it can be set to a value."""
        if self.choices:
            return value in dict(self.choices)
        if isinstance(self.default, int):
            return isinstance(value, int) and self.low <= value <= self.high
        return isinstance(value, str)

    def words(self, value: Value) -> str:
        """A value as it is shown."""
        return dict(self.choices).get(str(value)) or f"{value} {self.unit}".strip() or "none"


PREFERENCES = (
    Preference("look", "Colours", "desktop", "Light or dark; as the desktop is, they change with it.",
               (("desktop", "as the desktop"), ("light", "light"), ("dark", "dark"))),
    Preference("contrast", "Contrast", "desktop", "High contrast has black or white words and strong lines.",
               (("desktop", "as the desktop"), ("usual", "usual"), ("high", "high"))),
    Preference("text_size", "Text size", 100, "Of the desktop's own size.", low=80, high=250, unit="%"),
    Preference("motion", "Motion", "usual", "With less of it nothing moves or folds by itself.",
               (("usual", "usual"), ("less", "less"))),
    Preference("journal", "Unsaved work", "kept", "Kept beside the program, to be taken up again after a crash; "
               "takes effect at the next start.", (("kept", "kept"), ("dropped", "not kept"))),
    Preference("windows", "A second start", "one program", "Opens its flow in a window of the program that runs "
               "already, or runs by itself.", (("one program", "one program"), ("own", "a program of its own"))),
    Preference("port", "Port for games", 47821, "Games that are listened to connect here, from this machine only.",
               low=1024, high=65535),
    Preference("editor", "Editor of level files", "", "The command that opens a level file; {file} stands for its "
               "name. Without one, the desktop's own program for it does."),
)  # fmt: skip


class Preferences(QObject):
    """What is set. ``changed(key)`` follows every change."""

    changed = pyqtSignal(str)

    def __init__(self, settings: QSettings, parent: QObject | None = None):
        super().__init__(parent)
        self._settings = settings
        self._known = {one.key: one for one in PREFERENCES}

    @property
    def file(self) -> str:
        """The file that keeps them."""
        return self._settings.fileName()

    def value(self, key: str) -> Value:
        """What something is set to; its default if it is not set, or if somebody has written there what cannot be."""
        one = self._known[key]
        found = self._settings.value(f"{GROUP}/{key}")
        if isinstance(one.default, int) and isinstance(found, str) and found.strip().isdigit():
            found = int(found)
        return found if one.accepts(found) else one.default

    def default(self, key: str) -> Value:
        """What something is while nobody has set it."""
        return self._known[key].default

    def text(self, key: str) -> str:
        """What a text or a choice is set to."""
        return str(self.value(key))

    def number(self, key: str) -> int:
        """What a number is set to."""
        return int(self.value(key))

    def set(self, key: str, value: Value) -> None:
        """Sets something. Raises ValueError for what it cannot be."""
        one = self._known[key]
        if not one.accepts(value):
            raise ValueError(f"{one.title} cannot be {value!r}")
        if value == self.value(key):
            return
        if value == one.default:
            self._settings.remove(f"{GROUP}/{key}")
        else:
            self._settings.setValue(f"{GROUP}/{key}", value)
        self.changed.emit(key)

    def all(self) -> Iterator[tuple[Preference, Value]]:
        """Everything that can be set, and what it is set to."""
        for one in PREFERENCES:
            yield one, self.value(one.key)


def preferences_of_user() -> Preferences:
    """The preferences of whoever calls, without a window."""
    return Preferences(QSettings(ORGANISATION, APPLICATION))
