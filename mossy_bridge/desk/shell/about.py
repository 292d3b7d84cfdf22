"""What the program is, in a few words."""

from mossy_bridge import __version__

ABOUT = (
    f"Mossy Bridge {__version__}\n\nLays out how a game moves from level to level, and proves that every level is "
    "reached and nobody gets stuck.\n\nFree software under the GNU General Public License, version 3 or later."
)
