"""How long the whole answer takes: a call from start to end, and an edit in the window until its last finding is shown.

Beside each call stand the survey alone and a plain search of the same flow in one process, and a Python that does
nothing. Each row tells the pace of the machine meanwhile: how many times longer a plain loop took than it roughly does
on an ordinary desktop of our day; on a machine that many share, times are to be read with it.
Run: .venv/bin/python benchmarks/appraisal.py [calls|window|opening|huge]
"""

import os
import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator, Sequence
from compileall import compile_dir
from importlib.resources import files
from itertools import pairwise
from pathlib import Path
from typing import Any

os.environ["QT_QPA_PLATFORM"] = "offscreen"
sys.path.insert(0, str(Path(__file__).parent))

from large import large_flow, line, marsh, patterned
from reach import plain_search, timed

import mossy_bridge
from mossy_bridge.exchange.reading import read_flow
from mossy_bridge.exchange.rereading import reread
from mossy_bridge.exchange.saving import save_flow
from mossy_bridge.model.flow import Flow
from mossy_bridge.reach.survey.run import survey_flow

DEMO = Path(str(files("mossy_bridge.demo").joinpath("tidewick.mossy")))
SURVEYED = """
import sys
from mossy_bridge.exchange.reading import read_flow
from mossy_bridge.reach.survey.run import survey_flow
from mossy_bridge.terminal import prepare
prepare()
print("proven" if survey_flow(read_flow(sys.argv[1]), 100.0).decided else "not proven")
"""
ROUNDS, CALLS = 3, 7
EDITS = 6
LOOP, ORDINARY = (
    """
import time
def loop():
    total = 0
    for number in range(300_000):
        total += number * number
while True:
    began = time.perf_counter()
    loop()
    print(time.perf_counter() - began, flush=True)
    time.sleep(0.2)
""",
    0.018,
)
"""A plain loop, and about how many seconds it takes on an ordinary desktop."""


def main(part: str) -> None:
    """Prints the figures of a part, or of the first three."""
    folder = Path(tempfile.mkdtemp())
    if part in ("", "calls"):
        calls(folder)
    if part in ("", "window"):
        for flow in line(300), large_flow(1000), patterned(1000), large_flow(10000):
            window_edits(flow, folder)
    if part in ("", "opening"):
        opening(large_flow(10000), folder)
    if part == "huge":
        huge(folder)


def calls(folder: Path) -> None:
    """Whole calls of ``survey --format json``."""
    compile_dir(Path(mossy_bridge.__file__).parent, quiet=2)  # as the set-up does
    nothing = statistics.median(_seconds("-c", "pass") for _ in range(CALLS))
    print(f"{'whole calls, JSON':24}{'call':>9}{'goal':>8}{'survey':>9}{'plain':>9}  pace  states   (ms)")
    cases: list[tuple[str, Path, float]] = [("demo", DEMO, 300)]
    for flow, goal in ((line(300), 600), (marsh(400), 600), (large_flow(2000), 2000)):
        cases.append((flow.title, _saved(flow, folder), goal))
    for name, path, goal in cases:
        pace = Pace()
        command = "-m", "mossy_bridge", "survey", str(path), "--format", "json"
        call = statistics.median(_seconds(*command) for _ in range(CALLS))
        told_pace, flow = pace.told(), read_flow(path)
        alone = timed(lambda flow=flow: survey_flow(flow, 60.0))
        began = time.perf_counter()
        states, whole = plain_search(flow)
        plain = time.perf_counter() - began
        told = f"{states:,}{'' if whole else '+'}"
        print(f"{name:24}{call * 1e3:9.0f}{goal:8.0f}{alone * 1e3:9.0f}{plain * 1e3:9.0f}  {told_pace}  {told}")
    print(f"{'a Python that does nothing':24}{nothing * 1e3:7.0f}")


def window_edits(flow: Flow, folder: Path) -> None:
    """Edits of locks in the window, until the verdict is told, all findings are shown, and the map has followed;
    and the longest that the event loop stood still meanwhile, showing included."""
    path, pace = _saved(flow, folder), Pace()
    told, shown, followed, still, baseline = zip(*_edits(path), strict=True)
    print(
        f"window, {flow.title:16} pace {pace.told()}  "
        f"verdict {_median(told)}  all findings {_median(shown)}  map {_median(followed)}  "
        f"longest pause {max(still) * 1e3:.0f} ms (median {statistics.median(still) * 1e3:.0f}), "
        f"a survey alone after such an edit {_median(baseline)}"
    )


def _median(times: Sequence[float]) -> str:
    return f"{statistics.median(times) * 1e3:.0f} ms (worst {max(times) * 1e3:.0f})"


def _window(path: Path) -> Any:
    """A window in which a flow has been opened, and all of it shown."""
    from PyQt6.QtCore import QSettings
    from PyQt6.QtWidgets import QApplication

    from mossy_bridge.desk.app import make_application
    from mossy_bridge.desk.widgets.theme import Look
    from mossy_bridge.desk.window import Window

    app = QApplication.instance() or make_application()
    settings = QSettings(str(path.with_suffix(".ini")), QSettings.Format.IniFormat)
    window = Window(Look(app), settings)
    window.resize(1280, 800)
    window.files.open(path)
    window.show()
    _wait(window)
    return window


def _idle(window: Any) -> bool:
    """Whether findings and map are those of the flow as it is."""
    return bool(window.charted and window.map.complete) and not (window.surveyor.busy or window.map.busy)


def _wait(window: Any) -> None:
    """Until nothing is done beside the window any more. Looking for that again and again without a rest would take half
    of the time from what is waited for."""
    from PyQt6.QtCore import QEventLoop, QTimer

    loop, look = QEventLoop(), QTimer()
    look.timeout.connect(lambda: loop.quit() if _idle(window) else None)
    look.start(10)
    loop.exec()


def _edits(path: Path) -> Iterator[tuple[float, ...]]:
    from PyQt6.QtCore import QEventLoop, QTimer
    from PyQt6.QtWidgets import QApplication

    from mossy_bridge.model.edits.levels import set_exit

    window = _window(path)
    told, loop, tick = [0.0], QEventLoop(), QTimer()
    beats: list[float] = []
    window.surveyor.judged.connect(lambda *_: told.append(time.perf_counter()))
    window.surveyor.appraised.connect(loop.quit)
    tick.timeout.connect(lambda: beats.append(time.perf_counter()))
    for number in range(EDITS):
        level = window.document.flow.levels[len(window.document.flow.levels) // 2 + number]
        exit_ = level.exits[-1]
        lock = "never" if exit_.opens == "always" else "always"

        def edit(flow: Flow, level: str = level.id, name: str = exit_.id, lock: str = lock) -> Flow:
            return set_exit(flow, level, name, opens=lock)

        before, flow = window.result.survey, reread(edit(window.document.flow), window.document.flow)
        alone = _once(lambda flow=flow, before=before: survey_flow(flow, 60.0, before=before))
        told.clear()
        beats[:] = [began := time.perf_counter()]
        tick.start(1)
        window.requests.door.edit("measure", edit, shown=True)
        loop.exec()
        for _ in range(20):  # what is shown is painted by the events that follow
            QApplication.processEvents()
            beats.append(time.perf_counter())
        shown = time.perf_counter() - began
        _wait(window)
        followed = time.perf_counter() - began
        tick.stop()
        pauses = [after - before for before, after in pairwise(beats)]
        yield (told[0] if told else began + shown) - began, shown, followed, max(pauses), alone
    window.surveyor.stop()
    window.hide()
    QApplication.processEvents()


def opening(flow: Flow, folder: Path) -> None:
    """Opening a flow in a window that stands: until the verdict is told, and all findings are shown."""
    from PyQt6.QtCore import QEventLoop
    from PyQt6.QtWidgets import QApplication

    path, demo = _saved(flow, folder), Path(shutil.copy(DEMO, folder))
    window, loop, told = _window(demo), QEventLoop(), [0.0]
    window.surveyor.judged.connect(lambda *_: told.append(time.perf_counter()))
    window.surveyor.appraised.connect(loop.quit)
    verdicts, findings, pace = [], [], Pace()
    for _ in range(ROUNDS):
        began = time.perf_counter()
        window.files.open(path)
        loop.exec()
        findings.append(time.perf_counter() - began)
        verdicts.append(told[-1] - began)
        _wait(window)
        window.files.open(demo)
        _wait(window)
    print(f"opening, {flow.title:15} pace {pace.told()}  verdict {_median(verdicts)}  all findings {_median(findings)}")
    window.surveyor.stop()
    window.hide()
    QApplication.processEvents()


def huge(folder: Path) -> None:
    """A campaign of 100,000 levels: when it is proven, then the whole call, and how much memory it takes."""
    path = _saved(large_flow(100_000), folder)
    print(f"campaign of 100,000: {path.stat().st_size / 1e6:.0f} MB")
    pace, began = Pace(), time.perf_counter()
    told = subprocess.check_output([sys.executable, "-P", "-c", SURVEYED, str(path)], text=True).strip()
    print(f"read and surveyed: {time.perf_counter() - began:.1f} s, {told} (goal: 20 s, proven), pace {pace.told()}")
    command = [sys.executable, "-m", "mossy_bridge", "survey", str(path), "--budget", "100"]
    pace, began = Pace(), time.perf_counter()
    child = subprocess.Popen(command, stdout=subprocess.DEVNULL)
    _, _, used = os.wait4(child.pid, 0)
    seconds = time.perf_counter() - began
    print(f"all findings, as text: {seconds:.1f} s, pace {pace.told()}, {used.ru_maxrss / 1024:.0f} MB (goal: 2,048)")


class Pace:
    """How fast the machine is from now on until it is told, by another process that measures a plain loop now and
    then."""

    def __init__(self) -> None:
        self._measuring = subprocess.Popen([sys.executable, "-c", LOOP], stdout=subprocess.PIPE, text=True)

    def told(self) -> str:
        """How many times longer than on an ordinary desktop the loop takes, in the middle."""
        self._measuring.terminate()
        measured, _ = self._measuring.communicate()
        return f"{statistics.median(map(float, measured.split())) / ORDINARY:.1f}"


def _saved(flow: Flow, folder: Path) -> Path:
    path = folder / f"{flow.title.replace(' ', '_')}.mossy"
    save_flow(flow, path)
    return path


def _seconds(*command: str) -> float:
    began = time.perf_counter()
    subprocess.run([sys.executable, "-P", *command], stdout=subprocess.DEVNULL, check=False)
    return time.perf_counter() - began


def _once(run: Callable[[], object]) -> float:
    began = time.perf_counter()
    run()
    return time.perf_counter() - began


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "")
