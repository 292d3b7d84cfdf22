"""What the program notes of its own doings: lines in a file on this computer, for whoever wants to know what went
wrong. Names that users gave stand in brackets, so that they can be left out of what is sent to somebody."""

import logging
import platform
import re
from logging.handlers import RotatingFileHandler
from pathlib import Path

from PyQt6.QtCore import QT_VERSION_STR

import mossy_bridge

LOG = logging.getLogger("mossy_bridge")
FILE = "what-happened.log"
BYTES, FILES = 256 * 1024, 3
"""A file no larger than that, and so many older ones."""
BEGINS, ENDS = "⟨", "⟩"
LEFT_OUT = f"{BEGINS}…{ENDS}"


def keep_happenings(folder: Path) -> None:
    """Notes from now on what happens. Where the folder cannot be written nothing is noted, and all else goes on."""
    logging.raiseExceptions = False
    try:
        folder.mkdir(parents=True, exist_ok=True)
        handler = RotatingFileHandler(folder / FILE, maxBytes=BYTES, backupCount=FILES, encoding="utf-8", delay=True)
    except OSError:
        return
    handler.setFormatter(logging.Formatter("%(asctime)s  %(message)s", "%Y-%m-%d %H:%M:%S"))
    LOG.addHandler(handler)
    LOG.setLevel(logging.INFO)
    LOG.propagate = False
    LOG.info("Mossy Bridge %s begins: Python %s, Qt %s, %s", mossy_bridge.__version__, platform.python_version(),
             QT_VERSION_STR, platform.platform())  # fmt: skip


def happenings(folder: Path) -> str:
    """All that is noted in a folder, the oldest first."""
    texts = []
    for number in (*range(FILES, 0, -1), 0):
        file = folder / (f"{FILE}.{number}" if number else FILE)
        try:
            texts.append(file.read_text("utf-8", errors="replace"))
        except OSError:
            continue
    return "".join(texts)


def named(text: object) -> str:
    """A name or a path, marked as one."""
    return f"{BEGINS}{' '.join(str(text).replace(BEGINS, '(').replace(ENDS, ')').split())}{ENDS}"


def without_names(text: str) -> str:
    """The text with every name left out."""
    return re.sub(f"{BEGINS}[^{ENDS}\n]*{ENDS}", LEFT_OUT, text)
