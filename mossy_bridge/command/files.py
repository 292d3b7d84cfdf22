"""Calls about flow files and level files: a flow made of a folder, held against its files, tidied; the schema."""

import sys
from pathlib import Path, PurePosixPath
from typing import TYPE_CHECKING

import click

from mossy_bridge.command.group import FILE, FOUND, NOTHING_WRONG, Unusable, cli, counting, level_files_of, read_file
from mossy_bridge.terminal import say, say_json

if TYPE_CHECKING:
    from mossy_bridge.level_files.contents import LevelFiles
    from mossy_bridge.level_files.taking import Extent
    from mossy_bridge.model.flow import Flow


@cli.command()
@click.argument("folder", type=click.Path(path_type=Path, exists=True, file_okay=False))
@click.option(
    "--reader",
    "reader_file",
    type=click.Path(path_type=Path, dir_okay=False),
    help="A file with the reader, or a list of them, by which the level files are read.",
)
@click.option(
    "--pattern", default="", help="Which files are levels; * stands for anything. Found by itself if left out."
)
@click.option("--title", default="", help="What the game is called; the folder's name if left out.")
@click.option("-o", "--out", type=click.Path(path_type=Path, dir_okay=False), help="Where to write it.")
def new(folder: Path, reader_file: Path | None, pattern: str, title: str, out: Path | None) -> None:
    """Make a flow of a folder's level files, in natural order, each leading on to the next; or with --reader, as the
    files say."""
    from mossy_bridge.exchange.saving import CannotSave, save_flow
    from mossy_bridge.model.ids import id_from

    title = title or folder.resolve().name.replace("_", " ").title()
    out = out or folder / f"{id_from(title, ())}.mossy"
    if out.exists():
        raise Unusable([f"{out}: is there already; choose another with --out"])
    home = out.resolve().parent
    if not folder.resolve().is_relative_to(home):
        raise Unusable([f"{out}: a flow lies in the folder of its level files, or above it"])
    inside = PurePosixPath(*folder.resolve().relative_to(home).parts)
    if reader_file:
        flow, left = _read_anew(folder, reader_file, title, home, inside, pattern)
    else:
        flow, left = _linked(folder, title, inside, pattern)
    try:
        save_flow(flow, out)
    except CannotSave as error:
        raise Unusable([str(error)]) from error
    say(f"{out}: {len(flow.levels)} levels")
    for line in left:
        say(line)


def _linked(folder: Path, title: str, inside: PurePosixPath, pattern: str) -> tuple["Flow", list[str]]:
    """A flow whose levels lead on to one another, and by which pattern they were found."""
    from mossy_bridge.exchange.folders import files_below, flow_from_folder, matching, naming_pattern

    files = files_below(folder)
    pattern = pattern or naming_pattern(files)
    chosen = matching(files, pattern) if pattern else []
    if not chosen:
        way_out = "name the level files with --pattern, such as maps/level_*.map"
        raise Unusable([f"{folder}: no file fits “{pattern or '*'}”; {way_out}"])
    named = [str(inside / file) for file in chosen]
    return flow_from_folder(title, named, str(inside / pattern)), [f"found by --pattern {pattern}"]


def _read_anew(
    folder: Path, reader_file: Path, title: str, home: Path, inside: PurePosixPath, pattern: str
) -> tuple["Flow", list[str]]:
    """A flow as its level files say, and what is left to be told of them."""
    from mossy_bridge.exchange.folders import files_below, matching
    from mossy_bridge.exchange.readers.new_flow import below, fitting, flow_from_level_files, readers_from_file
    from mossy_bridge.exchange.reading import CannotRead

    try:
        readers = readers_from_file(reader_file)
    except CannotRead as error:
        raise Unusable(error.problems) from error
    there = files_below(folder)
    files = [str(inside / file) for file in (matching(there, pattern) if pattern else there)]
    files = [file for file in files if (home / file).resolve() != reader_file.resolve()]
    chosen = fitting(readers, files)
    if not chosen:  # the reader may name them from their own folder
        readers = tuple(below(reader, inside) for reader in readers)
        chosen = fitting(readers, files)
    if not chosen:
        wanted = " or ".join(reader.files for reader in readers)
        raise Unusable([f"{folder}: no file fits {wanted}; change “files” in {reader_file}"])
    with counting("reading level files") as tell:
        flow, contents = flow_from_level_files(title, home, chosen, readers, tell)
    return flow, _left(flow, contents)


def _left(flow: "Flow", contents: "LevelFiles") -> list[str]:
    """What cannot be read of level files, and in what they differ from the flow."""
    from mossy_bridge.level_files.differences import compared
    from mossy_bridge.level_files.wording import told
    from mossy_bridge.model.patterns import resolved

    whole, readers = resolved(flow), {reader.id: reader for reader in flow.readers}
    faults = [f"{file}: {fault.told(readers)}" for file, found in contents.items() for fault in found.faults]
    return [*faults, *(told(whole, one) for one in compared(whole, contents).differences)]


@cli.command()
@FILE
@click.option("--take", type=click.Choice(["places", "all"]), help="Take over where things lie, or everything.")
def read(file: Path, take: "Extent | None") -> None:
    """Tell in what a flow and its level files differ, and take over what the files say."""
    from mossy_bridge.exchange.saving import CannotSave, replace_file
    from mossy_bridge.exchange.writing import flow_bytes
    from mossy_bridge.level_files.taking import take_over

    flow = read_file(file)
    if not flow.readers:
        raise Unusable([f"{file}: has no readers; they are made on the face Level files, or written under “readers”"])
    contents = level_files_of(flow, file.resolve().parent)
    if take:
        changed = take_over(flow, contents, take)
        try:
            if changed != flow:
                replace_file(file, flow_bytes(changed))
                say(f"{file} rewritten")
        except CannotSave as error:
            raise Unusable([str(error)]) from error
        flow = changed
    left = _left(flow, contents)
    for line in left:
        say(line)
    read_now = f"{len(contents)} file{'' if len(contents) == 1 else 's'} read"
    say(f"{read_now}, {len(left)} thing{'' if len(left) == 1 else 's'} left to look at" if left
        else f"{read_now}, no differences left")  # fmt: skip
    sys.exit(FOUND if left else NOTHING_WRONG)


@cli.command()
@FILE
def tidy(file: Path) -> None:
    """Rewrite a flow file in its canonical form."""
    from mossy_bridge.exchange.reading import CannotRead, file_bytes, flow_from_bytes
    from mossy_bridge.exchange.saving import CannotSave, replace_file
    from mossy_bridge.exchange.writing import flow_bytes

    try:
        before = file_bytes(file)
        after = flow_bytes(flow_from_bytes(before))
        if after == before:
            say(f"{file} is tidy already")
        else:
            replace_file(file, after)
            say(f"{file} rewritten")
    except CannotRead as error:
        raise Unusable(error.problems) from error
    except CannotSave as error:
        raise Unusable([str(error)]) from error


@cli.command()
@click.argument("what", type=click.Choice(["flow", "table"]), default="flow")
def schema(what: str) -> None:
    """Print the JSON Schema of flow files, or of the table that a game reads."""
    from mossy_bridge.exchange.schema import flow_schema, table_schema

    say_json(flow_schema() if what == "flow" else table_schema())
