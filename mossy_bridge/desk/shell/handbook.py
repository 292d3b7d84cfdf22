"""Help: the first steps with the keys of all actions, and what the program is."""

from mossy_bridge import __version__
from mossy_bridge.desk.shell.actions import Action

ABOUT = (
    f"Mossy Bridge {__version__}\n\nLays out how a game moves from level to level, and proves that every level is "
    "reached and nobody gets stuck.\n\nFree software under the GNU General Public License, version 3 or later."
)


def help_text(table: list[Action]) -> str:
    """The first steps, and the key of every action."""
    steps = (
        "Drag from a door on the map to a level, or to a spawn point in it, to lead the exit there; with Shift, "
        "there and back.\n"
        "Double-click a level to lay out its plan; Esc comes back.\n"
        "Drag beads of the strip into another order; Ctrl+D copies a level behind itself.\n"
        "Click a level or a bridge to see it on the bench; click a blank of its sentence to pick something else.\n"
        "The survey on the right says what is wrong; Repair mends it in one step that Ctrl+Z takes back.\n"
        "Drag the ground of the map to move it, turn the wheel to come closer; arrow keys step over the cards."
    )
    keys = "\n".join(f"{entry.keys}:  {entry.tip}" for entry in table)
    return f"{steps}\n\n{keys}"
