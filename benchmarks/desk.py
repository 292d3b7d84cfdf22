"""How quick the window is with a large flow, on Qt's raster engine. Run: python benchmarks/desk.py [LEVELS]"""

import os
import resource
import statistics
import sys
import tempfile
import time
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"
sys.path.insert(0, str(Path(__file__).parent))

from large import large_flow
from PyQt6.QtCore import QEventLoop, QPointF, QSettings, QTimer
from PyQt6.QtGui import QColor, QPainter, QPixmap
from PyQt6.QtWidgets import QApplication

from mossy_bridge.desk.app import make_application
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.desk.window import Window
from mossy_bridge.exchange.saving import save_flow
from mossy_bridge.model.edits.levels import set_exit, set_level

Times = list[float]


def main(levels: int) -> None:
    """Prints the figures."""
    folder = Path(tempfile.mkdtemp())
    flow = large_flow(levels)
    path = folder / "large.mossy"
    save_flow(flow, path)
    exits = sum(len(level.exits) for level in flow.levels)
    print(f"{levels} levels, {exits} exits, file {path.stat().st_size / 1e6:.1f} MB")
    window = Window(Look(make_application()), QSettings(str(folder / "s.ini"), QSettings.Format.IniFormat))
    window.resize(1280, 800)
    window.show()
    QApplication.processEvents()
    baseline = _baseline()
    print(f"{'baseline: one picture of the map drawn':44} {baseline * 1e3:8.2f} ms")
    opened = _timed(lambda: (window.files.open(path), QApplication.processEvents()))
    _say("open, until the window shows it", [opened], baseline)
    end = time.monotonic() + 120
    while window.surveyor.busy and time.monotonic() < end:
        QApplication.processEvents()
        time.sleep(0.005)
    _settle(window)
    for words, scale in (("near", 0.8), ("from afar", 0.3), ("from very far", 0.03)):
        window.map.zoom(scale / window.map.scale)
        _settle(window)
        _say(f"pan a frame, {words}", _panned(window), baseline)
    window.map.zoom(0.8 / window.map.scale)
    _settle(window)
    _say("zoom a frame, out to very far and back", _zoomed(window), baseline)
    window.map.zoom(0.8 / window.map.scale)
    _settle(window)
    _say("edit, until it is shown: rename a level", _edited(window, flow.levels[levels // 2].id, "name"), baseline)
    _say("edit, until it is shown: another code", _edited(window, flow.levels[levels // 2].id, "code"), baseline)
    _say("select another level", _selected(window), baseline)
    told, shown, still = _surveyed(window)
    _say("edit of a lock, until the verdict is told", told, baseline)
    _say("edit of a lock, until all of the survey is shown", shown, baseline)
    _say("longest the window stood still meanwhile", still, baseline)
    print(f"{'most memory used':44} {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:8.0f} MB")
    window.surveyor.stop()


def _say(what: str, times: Times, baseline: float) -> None:
    middle = statistics.median(times)
    most = f", worst {max(times) * 1e3:7.2f} ms of {len(times)}" if len(times) > 1 else ""
    print(f"{what:44} {middle * 1e3:8.2f} ms{most}, {middle / baseline:6.1f} x baseline")


def _timed(run: object) -> float:
    began = time.perf_counter()
    run()
    return time.perf_counter() - began


def _baseline() -> float:
    """Drawing one picture of the map's size onto another: what a frame takes at the least."""
    one, other = QPixmap(980, 350), QPixmap(980, 350)
    one.fill(QColor("white"))

    def draw() -> None:
        painter = QPainter(other)
        painter.drawPixmap(0, 0, one)
        painter.end()

    return statistics.median([_timed(draw) for _ in range(50)])


def _settle(window: Window) -> None:
    window.map.repaint()
    while not window.map.complete:
        window.map.repaint()


def _panned(window: Window) -> Times:
    times = []
    for step in range(240):
        way = QPointF(14, 3) if step % 120 < 60 else QPointF(-14, -3)
        at = QPointF(*window.map.where()[1:]) + way / window.map.scale
        times.append(_timed(lambda at=at: (window.map.centre_on(at), window.map.repaint())))
    return times


def _zoomed(window: Window) -> Times:
    factors = [0.93] * 45 + [1 / 0.93] * 45
    return [_timed(lambda f=f: (window.map.zoom(f), window.map.repaint())) for f in factors]


def _edited(window: Window, level: str, field: str) -> Times:
    times = []
    for number in range(15):
        change = {field: f"{field} {number}"}
        times.append(
            _timed(
                lambda change=change: (
                    window.requests.door.edit("measure", lambda flow: set_level(flow, level, **change)),
                    window.repaint(),
                )
            )
        )
        window.surveyor.stop()
    return times


def _surveyed(window: Window) -> tuple[Times, Times, Times]:
    """After edits of locks: when the verdict is told, when all is shown, and the longest pause between two events
    while the survey went on (not when its results are shown)."""
    told, shown, still = [], [], []
    tick, loop = QTimer(), QEventLoop()
    last, pauses = [0.0], [0.0]

    def note() -> None:
        now = time.perf_counter()
        pauses.append(now - last[0])
        last[0] = now

    tick.timeout.connect(note)
    window.surveyor.judged.connect(loop.quit)
    window.surveyor.appraised.connect(loop.quit)
    for number in range(8):
        level = window.document.flow.levels[len(window.document.flow.levels) // 2 + number]
        exit_ = level.exits[-1]
        lock = "never" if exit_.opens == "always" else "always"
        began = time.perf_counter()
        window.requests.door.edit(
            "measure", lambda flow, lv=level, ex=exit_, to=lock: set_exit(flow, lv.id, ex.id, opens=to)
        )
        QApplication.processEvents()
        pauses[:] = [0.0]
        last[0] = time.perf_counter()
        tick.start(1)
        loop.exec()
        told.append(time.perf_counter() - began)
        tick.stop()
        still.append(max(pauses))
        loop.exec()
        shown.append(time.perf_counter() - began)
    return told, shown, still


def _selected(window: Window) -> Times:
    names = [level.id for level in window.document.flow.levels][100:130]
    return [_timed(lambda n=n: (window.selection.select(n), QApplication.processEvents())) for n in names]


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 2000)
