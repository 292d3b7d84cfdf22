"""Calls that show something: the window, the demo, the pictures of the views."""

import sys
from pathlib import Path

import click

from mossy_bridge.command.group import Unusable, cli
from mossy_bridge.terminal import say


@cli.command("open")
@click.argument("file", type=click.Path(path_type=Path), required=False)
def open_(file: Path | None) -> None:
    """Open the program, with a flow if one is named."""
    from mossy_bridge.demo.showing import has_display

    if not has_display():
        raise Unusable(["There is no display here to open a window on; the other calls work without one."])
    from mossy_bridge.desk.app import run

    run(file)


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
