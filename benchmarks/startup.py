"""How long the program takes to answer and to appear, beside a Python that does nothing.

Run: .venv/bin/python benchmarks/startup.py [ROUNDS]
"""

import os
import statistics
import subprocess
import sys
import time
from importlib.resources import files

DEMO = str(files("mossy_bridge.demo").joinpath("tidewick.mossy"))
WINDOW = """
import time
began = time.perf_counter()
from pathlib import Path
from PyQt6.QtCore import QSettings
from mossy_bridge.desk.app import make_application
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.window import Window
app = make_application()
window = Window(Look(app), QSettings("/dev/null", QSettings.Format.IniFormat))
window.resize(1280, 800)
window.files.open_demo()
window.show()
app.processEvents()
window.grab()
painted = time.perf_counter() - began
while window.result is None or window.surveyor.busy:
    app.processEvents()
print(painted, time.perf_counter() - began)
window.surveyor.stop()
"""


def seconds(*command: str) -> float:
    """Wall-clock seconds of a process from start to end."""
    began = time.perf_counter()
    subprocess.run([sys.executable, *command], stdout=subprocess.DEVNULL, check=True)
    return time.perf_counter() - began


def window_seconds() -> tuple[float, float]:
    """Seconds to the first paint, and to the first verdict, of the demo in an offscreen window."""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    told = subprocess.run([sys.executable, "-c", WINDOW], env=environment, capture_output=True, check=True, text=True)
    first, verdict = told.stdout.split()
    return float(first), float(verdict)


def main() -> None:
    """Prints the median of some rounds, and the ratio to the baseline."""
    rounds = int(sys.argv[1]) if len(sys.argv) > 1 else 5
    baseline = statistics.median(seconds("-c", "import json, re, typing") for _ in range(rounds))
    survey = statistics.median(seconds("-m", "mossy_bridge", "survey", DEMO) for _ in range(rounds))
    windows = [window_seconds() for _ in range(rounds)]
    rows = (
        ("a Python that imports three modules", baseline),
        ("survey of the demo, process start to end", survey),
        ("window: first paint", statistics.median(first for first, _ in windows)),
        ("window: first verdict", statistics.median(verdict for _, verdict in windows)),
    )
    for name, value in rows:
        print(f"{name:42} {value * 1000:7.0f} ms   {value / baseline:6.1f} x")


if __name__ == "__main__":
    main()
