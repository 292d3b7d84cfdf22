"""Damaged files opened in one window, one straight after the other, each looked at on every face.

Run: python -m tests.robustness.openings [COUNT] [FIRST SEED]
"""

import os
import sys
import tempfile
from pathlib import Path

from PyQt6.QtWidgets import QApplication

from mossy_bridge.exchange.reading import CannotRead, flow_from_bytes
from tests.robustness.clicks import Clicker
from tests.robustness.damage import damaged


def readable(first):
    """Damaged files that can be read all the same, by their seeds."""
    seed = first
    while True:
        data = damaged(seed)
        try:
            flow = flow_from_bytes(data)
        except CannotRead:
            flow = None
        if flow is not None:
            yield seed, data
        seed += 1


def opened(clicker, seed, data):
    """Opens the bytes as a file and looks round. Raises AssertionError where something goes wrong."""
    path = clicker.folder / "damaged.mossy"
    path.write_bytes(data)
    assert clicker.window.files.open(path), clicker.person.told
    window, flow = clicker.window, clicker.window.document.flow
    levels = [level.id for level in flow.levels]
    for number in range(min(3, len(levels))):
        level = flow.level(levels[number])
        window.selection.select(level.id, level.exits[0].id if level.exits and number else "")
        window.faces.turn((seed + number) % len(window.faces.buttons))
        QApplication.processEvents()
        window.grab()
    if levels:
        window.navigation.open_plan(levels[seed % len(levels)])
        window.grab()
        window.navigation.close_plan()
    if seed % 4 == 0:  # sometimes the survey is waited for, sometimes the next file cuts it off
        clicker.settle()
        window.grab()
    assert not clicker.faults, clicker.faults


def main(count=2000, first=0):
    """Opens so many, and prints what came of it."""
    faults, seed = 0, first
    with tempfile.TemporaryDirectory() as folder:
        clicker = Clicker(first, Path(folder))
        files = readable(first)
        for _ in range(count):
            seed, data = next(files)
            try:
                opened(clicker, seed, data)
            except Exception as error:  # noqa: BLE001 - whatever it is, it is told with its seed
                faults += 1
                print(f"seed {seed}: {type(error).__name__}: {str(error)[:500]}", flush=True)
                clicker.faults.clear()
        clicker.stop()
    print(f"{count} damaged files opened in one window, of {seed - first + 1} made: {faults} faults")
    return faults


if __name__ == "__main__":
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    sys.exit(min(1, main(*map(int, sys.argv[1:]))))
