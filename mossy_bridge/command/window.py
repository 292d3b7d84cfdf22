"""Calls that show something: the window, the demo, the pictures of the views."""

import sys
from pathlib import Path

import click

from mossy_bridge.command.group import Unusable, cli
from mossy_bridge.terminal import say, say_json


@cli.command("open")
@click.argument("files", type=click.Path(path_type=Path), nargs=-1)
@click.option("--own", is_flag=True, help="In a program of its own, also where one runs already.")
def open_(files: tuple[Path, ...], own: bool) -> None:
    """Open the program, with the flows that are named, each in a window."""
    from mossy_bridge.demo.showing import has_display

    if not has_display():
        raise Unusable(["There is no display here to open a window on; the other calls work without one."])
    from mossy_bridge.desk.app import run

    run(files, own=own)


@cli.command()
@click.option("--format", "form", type=click.Choice(["text", "json"]), default="text", show_default=True)
def settings(form: str) -> None:
    """Print all that can be set in the program, what it is set to, its default, and the file that keeps it."""
    from mossy_bridge.desk.settings.preferences import preferences_of_user

    kept = preferences_of_user()
    if form == "json":
        told = {one.key: {"value": value, "default": one.default, "title": one.title} for one, value in kept.all()}
        say_json({"file": kept.file, "settings": told})
        return
    say(f"# {kept.file}")
    for one, value in kept.all():
        usual = "" if value == one.default else f", usually {one.words(one.default)}"
        say(f"{one.key} = {value}    # {one.title}: {one.words(value)}{usual}")


@cli.command()
@click.option(
    "--log", type=click.Path(path_type=Path), help="Write made-up play-tests of the demo to this file instead."
)
def demo(log: Path | None) -> None:
    """Open the program with the demo flow; without a display, render its views instead."""
    from mossy_bridge.demo.showing import demo_flow, show_demo

    if log is None:
        sys.exit(show_demo())
    from mossy_bridge.demo.play_logs import SESSIONS, write_made_up_log

    try:
        write_made_up_log(demo_flow(), log)
    except OSError as error:
        raise Unusable([f"{log}: {error.strerror or error}"]) from error
    say(f"{log}: {SESSIONS} made-up play-tests of Tidewick, of which the flow cannot explain two")


@cli.command()
@click.option("-o", "--out", type=click.Path(path_type=Path), default=Path("docs/screenshots"), show_default=True)
def shots(out: Path) -> None:
    """Render the pictures of every main view from the demo flow."""
    from mossy_bridge.demo.showing import render_views

    for path in render_views(out):
        say(path)
