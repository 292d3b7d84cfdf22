"""Shows the demo: in a window where there is a display, else as pictures and the survey's text."""

import os
import sys
import time
from collections.abc import Callable
from importlib.resources import files
from pathlib import Path

import click

from mossy_bridge.checks.inspecting import inspected
from mossy_bridge.checks.report import survey_text
from mossy_bridge.exchange.reading import flow_from_bytes
from mossy_bridge.reach.survey import surveyed

SIZE = (1280, 800)


def show_demo() -> int:
    """Opens the demo in the program; without a display renders it to ``build/demo``. Returns the status."""
    if has_display():
        from mossy_bridge.desk.app import run

        return run(demo="tidewick")
    out = Path("build/demo")
    click.echo(f"There is no display here, so the demo's views are rendered to {out} instead of opening a window.")
    for path in render_views(out):
        click.echo(f"  {path}")
    flow = flow_from_bytes(files("mossy_bridge.demo").joinpath("tidewick.mossy").read_bytes())
    survey = surveyed(flow)
    click.echo("\n".join(survey_text(survey, inspected(survey, flow))))
    return 0


def has_display() -> bool:
    """Whether a window can be opened."""
    asked = os.environ.get("QT_QPA_PLATFORM", "")
    if asked:
        return asked not in ("offscreen", "minimal")
    return sys.platform != "linux" or bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))


def render_views(out: Path) -> list[Path]:
    """Renders each main view to a PNG in the folder, and returns their paths."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    from PyQt6.QtCore import QSettings
    from PyQt6.QtWidgets import QApplication

    from mossy_bridge.desk.app import make_application
    from mossy_bridge.desk.look import Look
    from mossy_bridge.desk.window import Window

    app = make_application()
    look = Look(app)
    out.mkdir(parents=True, exist_ok=True)
    settings = QSettings(str(out / ".settings.ini"), QSettings.Format.IniFormat)
    window = Window(look, settings)
    window.resize(*SIZE)
    window.show()
    made = []

    def settle() -> None:
        _wait_until(lambda: not window.surveyor.busy, app)
        for _ in range(3):
            QApplication.processEvents()

    def shot(name: str) -> None:
        settle()
        path = out / f"{name}.png"
        window.grab().save(str(path))
        made.append(path)

    def open_demo(name: str) -> None:
        window.document.take(window.document.flow)  # nothing to save between two pictures
        window.files.open_demo(name)
        settle()
        window.map.show_start()

    look.wear("light")
    shot("empty")
    open_demo("tidewick")
    window.selection.select("slipway")
    shot("map")
    window.selection.select("bell_sands", "east_gate")
    shot("crossing")
    window.selection.select("eel_sluice")
    shot("level")
    open_demo("tidewick_unfinished")
    window.selection.select("drip_cave")
    shot("survey")
    look.wear("dark")
    window.selection.select("salt_gate", "pan_arch")
    shot("dark")
    look.wear("light")
    window.surveyor.stop()
    window.close()
    return made


def _wait_until(done: Callable[[], bool], app: object, seconds: float = 30.0) -> None:
    from PyQt6.QtWidgets import QApplication

    end = time.monotonic() + seconds
    while not done():
        if time.monotonic() > end:
            raise TimeoutError("the survey did not end")
        QApplication.processEvents()
        time.sleep(0.005)
    del app
