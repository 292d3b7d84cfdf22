"""Shows the demo: in a window where there is a display, else as pictures and the survey's text."""

import os
import sys
import tempfile
import time
from collections.abc import Callable
from importlib.resources import files
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

import click

from mossy_bridge.appraisal.appraise import appraise, default_budget
from mossy_bridge.checks.reports.survey_report import survey_text
from mossy_bridge.exchange.reading import flow_from_bytes
from mossy_bridge.model.flow import Flow

if TYPE_CHECKING:
    from PyQt6.QtCore import QSettings
    from PyQt6.QtWidgets import QWidget

    from mossy_bridge.desk.widgets.theme import Look
    from mossy_bridge.desk.window import Window

SIZE = (1280, 800)


def show_demo() -> int:
    """Opens the demo in the program; without a display renders it to ``build/demo``. Returns the status."""
    if has_display():
        from mossy_bridge.desk.app import run

        run(demo="tidewick")
    out = Path("build/demo")
    click.echo(f"There is no display here, so the demo's views are rendered to {out} instead of opening a window.")
    for path in render_views(out):
        click.echo(f"  {path}")
    flow = demo_flow()
    found = appraise(flow, budget=default_budget(flow))
    click.echo("\n".join(survey_text(found.survey, found.findings)))
    return 0


def demo_flow() -> Flow:
    """Tidewick, in which all is well."""
    return flow_from_bytes(files("mossy_bridge.demo").joinpath("tidewick.mossy").read_bytes())


def has_display() -> bool:
    """Whether a window can be opened."""
    asked = os.environ.get("QT_QPA_PLATFORM", "")
    if asked:
        return asked not in ("offscreen", "minimal")
    return sys.platform != "linux" or bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))


class View(NamedTuple):
    """A picture: its name, the demo flow, the level and exit selected, the colours, and what else is done, which may
    bring another window to be pictured instead."""

    name: str
    demo: str = "tidewick"
    selected: tuple[str, str] = ("", "")
    colours: str = "light"
    then: Callable[["Window"], "QWidget | None"] = lambda _: None


def _facts(window: "Window") -> None:
    window.faces.turn_to(window.facts)
    _wait_until(lambda: not window.facts.busy)
    window.facts.grid.setCurrentIndex(window.facts.table.index(1, 4))


def _transitions(window: "Window") -> None:
    window.faces.turn_to(window.transitions)
    window.bench.crossing.deck.setFocus()
    window.bench.crossing.deck.choose(2)


def _tour(window: "Window") -> None:
    window.faces.turn_to(window.tour)
    window.tour.make.click()
    _wait_until(lambda: not window.tour.busy)


def _pace(window: "Window") -> None:
    window.faces.turn_to(window.pace)
    _wait_until(lambda: window.pace.table.rowCount() > 0)


def _play_tests(window: "Window") -> None:
    from mossy_bridge.demo.play_logs import write_made_up_log

    tests, face = window.play_tests, window.play_tests_face
    with tempfile.TemporaryDirectory() as folder:
        write_made_up_log(demo_flow(), Path(folder) / "play-tests.jsonl")
        tests.add([Path(folder) / "play-tests.jsonl"])
        _wait_until(lambda: bool(tests.all) and not tests.busy)
    window.faces.turn_to(face)
    answers = [judged.explained.answer for judged in face.table.sessions.rows]
    face.table.selectRow(answers.index("no"))
    _wait_until(lambda: face.details.list.isVisible())
    face.table.scrollTo(face.table.currentIndex())


def _boards(window: "Window") -> None:
    window.faces.turn_to(window.boards)
    _wait_until(lambda: not window.boards.busy)
    window.boards.progress.setCurrentIndex(1)
    window.boards.progress.activated.emit(1)
    window.boards.slider.setValue(6)


def _handbook(window: "Window") -> None:
    finding = next(one for one in window.result.findings if one.check == "spawn-in-exit") if window.result else None
    if finding:
        window.survey_column.choose(finding).meant.emit()


def _survey(window: "Window") -> None:
    window.survey_column.step(1)
    window.survey_column.step(1)


def _arrivals(window: "Window") -> None:
    window.faces.turn_to(window.arrivals)
    _wait_until(lambda: not window.arrivals.busy)
    window.arrivals.view.setCurrentIndex(window.arrivals.table.index(8, 1))
    window.arrivals.view.scrollTo(window.arrivals.table.index(12, 1))


def _level_files(window: "Window") -> None:
    window.faces.turn_to(window.level_files)


def _trial(window: "Window") -> None:
    window.walking.begin()
    for _ in range(6):
        window.walking.page.choose(1)


def _reader(window: "Window") -> "QWidget":
    from mossy_bridge.desk.pointing.workshop import ReaderWorkshop
    from mossy_bridge.desk.session.naming import DEMO

    flow = window.document.flow
    files = [level.file for level in flow.levels if level.file]
    workshop = ReaderWorkshop(window, window.look, DEMO, flow, files, flow.readers[0])
    workshop.show()
    workshop.draft.look_at("tidewick/shore/slipway.xml")
    _wait_until(lambda: not workshop.draft.busy)
    workshop.sample.choose(workshop.draft.here.of("exit")[0].node if workshop.draft.here else 0)
    workshop.rules.list.setCurrentRow(2)
    return workshop


VIEWS = (
    View("empty", ""),
    View("map", selected=("slipway", "")),
    View("crossing", selected=("bell_sands", "east_gate")),
    View("level", selected=("eel_sluice", "")),
    View("plan", selected=("eel_sluice", "wicket"), then=lambda window: window.navigation.open_plan("eel_sluice")),
    View("facts", selected=("bell_sands", ""), then=_facts),
    View("transitions", selected=("bell_sands", "east_gate"), then=_transitions),
    View("tour", selected=("bell_sands", ""), then=_tour),
    View("pace", selected=("bell_sands", ""), then=_pace),
    View("play-tests", selected=("eel_sluice", ""), then=_play_tests),
    View("boards", selected=("town_page", ""), then=_boards),
    View("arrivals", selected=("bell_sands", ""), then=_arrivals),
    View("trial", selected=("title", ""), then=_trial),
    View("reader", selected=("slipway", ""), then=_reader),
    View("level-files", "tidewick_unfinished", ("gull_stair", ""), then=_level_files),
    View("game", selected=("title", ""), then=lambda window: window.faces.turn_to(window.game)),
    View("survey", "tidewick_unfinished", ("drip_cave", ""), then=_survey),
    View("handbook", "tidewick_unfinished", ("pan_row", ""), then=_handbook),
    View("dark", "tidewick_unfinished", ("salt_gate", "pan_arch"), "dark"),
)


def render_views(out: Path) -> list[Path]:
    """Renders each main view to a PNG in the folder, and returns their paths."""
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    from PyQt6.QtCore import QSettings

    from mossy_bridge.desk.app import make_application
    from mossy_bridge.desk.widgets.theme import Look

    look = Look(make_application())
    out.mkdir(parents=True, exist_ok=True)
    settings = QSettings(str(out / ".settings.ini"), QSettings.Format.IniFormat)
    return [_rendered(look, settings, out / f"{view.name}.png", view) for view in VIEWS]


def _rendered(look: "Look", settings: "QSettings", path: Path, view: View) -> Path:
    from PyQt6.QtCore import QEvent
    from PyQt6.QtWidgets import QApplication

    from mossy_bridge.desk.window import Window

    look.wear(view.colours)
    window = Window(look, settings)
    window.resize(*SIZE)
    window.show()
    if view.demo:
        window.files.open_demo(view.demo)
    _wait_until(lambda: not window.reading.busy)
    _wait_until(lambda: not window.surveyor.busy and not window.map.busy)
    window.map.show_start()
    window.selection.select(*view.selected)
    shown = view.then(window) or window
    _wait_until(lambda: not window.surveyor.busy and not window.map.busy)
    _wait_until(lambda: window.map.complete or not window.map.isVisible())
    shown.grab().save(str(path))
    if shown is not window:
        shown.close()
    window.surveyor.stop()
    window.reading.stop()
    window.hide()  # closing would ask whether to save what was done for the picture
    window.deleteLater()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)  # else the next look is put on this one, too
    return path


def _wait_until(done: Callable[[], bool], seconds: float = 30.0) -> None:
    from PyQt6.QtWidgets import QApplication

    end = time.monotonic() + seconds
    QApplication.processEvents()
    while not done():
        if time.monotonic() > end:
            raise TimeoutError("the survey did not end")
        QApplication.processEvents()
        time.sleep(0.005)
    QApplication.processEvents()
