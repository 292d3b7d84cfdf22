"""How soon the window shows what has changed in one of many level files, and how long it stands still meanwhile.

Beside it stands the work without a window, in this process: the file read, and the flow appraised again with it.
Run: .venv/bin/python benchmarks/level_files_shown.py [FILES]
"""

import os
import statistics
import sys
import time
from collections.abc import Callable
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"
sys.path.insert(0, str(Path(__file__).parent))

from level_files import game, level_file
from PyQt6.QtCore import QEventLoop, QSettings, QTimer
from PyQt6.QtWidgets import QApplication

from mossy_bridge.appraisal.appraise import appraise, default_budget
from mossy_bridge.desk.app import make_application
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.window import Window
from mossy_bridge.exchange.readers.store import LevelFileStore
from mossy_bridge.exchange.saving import save_flow
from mossy_bridge.level_files.taking import take_over

CHANGES, QUIET, MOST = 7, 0.3, 120.0
"""How many files are changed, seconds between two, and after which nothing is waited for any more."""


def waited(done: Callable[[], bool]) -> tuple[float, float]:
    """Seconds until something is so, and the longest pause of the window meanwhile."""
    begun = time.perf_counter()
    last, worst = begun, 0.0
    loop, beat = QEventLoop(), QTimer()

    def look() -> None:
        nonlocal last, worst
        now = time.perf_counter()
        worst, last = max(worst, now - last), now
        if now - begun > MOST or done():
            loop.quit()
        last = time.perf_counter()

    beat.timeout.connect(look)
    beat.start(1)
    loop.exec()
    beat.stop()
    return time.perf_counter() - begun, worst


def main(count: int) -> None:
    """Prints the figures."""
    folder, names, flow = game(count)
    store = LevelFileStore(folder)
    flow = take_over(flow, store.read(flow), "all")
    save_flow(flow, folder / "flow.mossy")

    def judged(before=None):  # type: ignore[no-untyped-def]
        return appraise(flow, folder, budget=default_budget(flow), level_files=store.read(flow), before=before)

    first = judged()
    (folder / names[3]).write_bytes(level_file(3, count, moved=8))
    began = time.perf_counter()
    judged(first)
    alone = time.perf_counter() - began
    (folder / names[3]).write_bytes(level_file(3, count))
    store.close()
    print(f"{count} levels, a file each{'goal':>46}")
    print(f"{'without a window: read, and appraised again':46}{alone * 1e3:9.0f} ms")
    window = Window(Look(make_application()), QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat))
    window.resize(1280, 800)
    window.show()
    window.files.open(folder / "flow.mossy")
    opened, pause = waited(lambda: window.result is not None and is_quiet(window))
    print(f"{'opened, files and survey shown':46}{opened * 1e3:9.0f} ms          longest pause {pause * 1e3:.0f} ms")
    times, pauses = [], []
    for number in range(7, 7 + CHANGES):
        end = time.perf_counter() + QUIET
        waited(lambda end=end: time.perf_counter() > end)
        (folder / names[number]).write_bytes(level_file(number, count, moved=8))
        shown, pause = waited(lambda at=f"hall_{number}.": is_found(window, at))
        QApplication.processEvents()
        times.append(shown)
        pauses.append(pause)
    print(f"{'one file changed, until it is shown':46}{statistics.median(times) * 1e3:9.0f} ms      200")
    print(f"{'the longest pause meanwhile':46}{max(pauses) * 1e3:9.0f} ms       50")
    print(f"shown against the work alone: {statistics.median(times) / alone:.1f}")
    window.surveyor.stop()
    window.reading.stop()
    window.hide()


def is_quiet(window: Window) -> bool:
    """Whether all is shown."""
    return not window.reading.busy and not window.surveyor.busy and window.map.complete


def is_found(window: Window, at: str) -> bool:
    """Whether a place that differs is among the findings shown."""
    found = window.result.findings if window.result else ()
    return any(one.check == "file-place-differs" and one.at[0].startswith(at) for one in found)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 1000)
