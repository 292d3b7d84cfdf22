"""The program's colours: stone, moss, slate, ochre and brick, light and dark."""

from dataclasses import dataclass, replace
from functools import cached_property

from PyQt6.QtGui import QColor

from mossy_bridge.model.flow import Tint


@dataclass(frozen=True)
class Colours:
    """Every colour the program paints with, by what it stands for."""

    ground: str
    column: str
    panel: str
    bench: str
    card: str
    line: str
    ink: str
    dim: str
    sky: str
    stone: str
    sound: str
    """Moss green: reached, works."""
    route: str
    """Slate blue: chosen, leads on."""
    suspicious: str
    """Ochre."""
    broken: str
    """Brick."""
    sound_wash: str
    route_wash: str
    suspicious_wash: str
    broken_wash: str
    on_sound: str

    def colour(self, name: str, alpha: int = 255) -> QColor:
        """A colour of the table, by name."""
        made = self._made.get((name, alpha))
        if made is None:
            made = QColor(getattr(self, name))
            made.setAlpha(alpha)
            self._made[name, alpha] = made
        return made

    @cached_property
    def _made(self) -> dict[tuple[str, int], QColor]:
        """The colours asked for so far: painting asks for thousands a frame."""
        return {}

    def tint(self, name: Tint, alpha: int = 255) -> QColor:
        """The colour of a region's tint; without one, that of lines."""
        if not name:
            return self.colour("line", alpha)
        hue, saturation = TINTS[name]
        found = QColor.fromHsv(hue, saturation, 150 if QColor(self.ground).lightness() > 128 else 190)
        found.setAlpha(alpha)
        return found


TINTS: dict[str, tuple[int, int]] = {
    "reed": (82, 120), "tide": (190, 120), "sand": (42, 120), "heather": (300, 80), "clay": (16, 130),
    "slate": (220, 110),
}  # fmt: skip
"""Hue and saturation of each tint."""

LIGHT = Colours(
    ground="#e2ded2", column="#eae6db", panel="#f3f0e7", bench="#f8f5ec", card="#fcfbf6", line="#cdc7b6",
    ink="#22241f", dim="#5c5c51", sky="#dfe4e7", stone="#9a9e89", sound="#3f6c2e", route="#35568c",
    suspicious="#8a5a08", broken="#9e3024", sound_wash="#e4edda", route_wash="#e0e7f1",
    suspicious_wash="#f4e5c9", broken_wash="#f7e1dc", on_sound="#ffffff",
)  # fmt: skip
DARK = Colours(
    ground="#1f211c", column="#272a24", panel="#2b2e27", bench="#262922", card="#353930", line="#4d5246",
    ink="#edeadf", dim="#b9b7a8", sky="#3b434a", stone="#727864", sound="#95c47b", route="#9cb8e8",
    suspicious="#e3b55f", broken="#f29484", sound_wash="#2f3d29", route_wash="#2d3849",
    suspicious_wash="#453a22", broken_wash="#4a2d28", on_sound="#1c2217",
)  # fmt: skip
LIGHT_HIGH = replace(
    LIGHT, ground="#ffffff", column="#f4f4f4", panel="#ffffff", bench="#ffffff", card="#ffffff", line="#3a3a3a",
    ink="#000000", dim="#262626", sky="#e8edf0", stone="#5d6150", sound="#1d4a0e", route="#10336e",
    suspicious="#5e3b00", broken="#7c140a", sound_wash="#e6f2dc", route_wash="#dfe8f6",
    suspicious_wash="#fbeccd", broken_wash="#fbe3de",
)  # fmt: skip
"""High contrast on white."""
DARK_HIGH = replace(
    DARK, ground="#000000", column="#0d0d0d", panel="#000000", bench="#000000", card="#0a0a0a", line="#c8c8c8",
    ink="#ffffff", dim="#ececec", sky="#1f262c", stone="#a9af9c", sound="#b4ee98", route="#bcd3ff",
    suspicious="#ffd37c", broken="#ffb3a6", sound_wash="#17260f", route_wash="#152238",
    suspicious_wash="#332608", broken_wash="#3a1712", on_sound="#000000",
)  # fmt: skip
"""High contrast on black."""
