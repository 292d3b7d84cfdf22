"""Names of files that are suggested, and lists of what is told of them."""

from collections.abc import Sequence
from importlib.resources import files
from pathlib import Path

from mossy_bridge.desk.session.document import Document

DEMO = Path(str(files("mossy_bridge.demo")))
"""Where the demo flows and their level files lie."""
MOST_PROBLEMS = 12


def suggested(document: Document, ending: str) -> Path:
    """A file of the flow's name beside its level files."""
    name = document.title.lower().replace(" ", "_").replace("/", "_") or "flow"
    home = document.folder
    return (home if home and home != DEMO else Path.cwd()) / f"{name}{ending}"


def listed(problems: Sequence[str]) -> str:
    """Some sentences, one a line, and how many more there are."""
    shown = problems[:MOST_PROBLEMS]
    more = [f"and {len(problems) - MOST_PROBLEMS} more"] if len(problems) > MOST_PROBLEMS else []
    return "\n".join([*shown, *more])
