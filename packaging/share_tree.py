"""What a desktop reads of the program: entry, kinds of files, icons, pages of the manual, completion.

Run: .venv/bin/python packaging/share_tree.py FOLDER
"""

import os
import re
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import NamedTuple

os.environ["QT_QPA_PLATFORM"] = "offscreen"


from click.shell_completion import get_completion_class
from click_man.core import write_man_pages
from jinja2 import Environment, StrictUndefined
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QGuiApplication, QImage, QPainter
from PyQt6.QtSvg import QSvgRenderer

from mossy_bridge import __version__
from mossy_bridge.command import cli

HERE = Path(__file__).resolve().parent
ROOT = HERE.parent
NAME = "mossy-bridge"
SITE = "https://mossy-bridge.example"
"""Where the project lives. The name is reserved for examples: put the real one here before the first publication."""
ID, DEVELOPER = "example.mossy_bridge.mossy_bridge", "example.mossy_bridge"
ICON = ROOT / "mossy_bridge" / "desk" / "icons" / f"{NAME}.svg"
FLOW_ICON = "application-vnd.mossy-bridge.flow+json"
MIME_TABLE = Path("/usr/share/mime/packages/freedesktop.org.xml")
SIZES = (16, 22, 24, 32, 48, 64, 128, 256, 512)
PICTURES = (
    ("map.png", "Levels on the map, and one of them on the bench"),
    ("crossing.png", "A crossing as a bridge between two plans"),
    ("survey.png", "Findings in plain sentences, with repairs"),
    ("trial.png", "A trial walk, move by move"),
)
COMPLETION = {
    "bash": f"bash-completion/completions/{NAME}",
    "zsh": f"zsh/vendor-completions/_{NAME}",
    "fish": f"fish/vendor_completions.d/{NAME}.fish",
}


class Release(NamedTuple):
    """A release as the list of changes has it."""

    version: str
    date: str
    lines: tuple[str, ...]


def version() -> str:
    """The version, from the one place where it stands."""
    return __version__


def releases() -> list[Release]:
    """The releases, the latest first."""
    text = (ROOT / "CHANGELOG.md").read_text("utf-8")
    heads = re.split(r"^## (\S+) \((\d{4}-\d\d-\d\d)\)$", text, flags=re.MULTILINE)[1:]
    return [
        Release(number, date, tuple(_entries(body)))
        for number, date, body in zip(heads[::3], heads[1::3], heads[2::3], strict=True)
    ]


def _entries(body: str) -> Iterator[str]:
    for entry in re.split(r"^\* ", body, flags=re.MULTILINE)[1:]:
        yield " ".join(entry.split())


def make_share_tree(out: Path) -> None:
    """Writes everything below a folder, as it is to lie below ``/usr/share``."""
    _copy(HERE / f"{NAME}.desktop", out / "applications" / f"{NAME}.desktop")
    _copy(HERE / f"{NAME}.mime.xml", out / "mime" / "packages" / f"{NAME}.xml")
    template = Environment(autoescape=True, undefined=StrictUndefined, keep_trailing_newline=True)
    metainfo = template.from_string((HERE / "metainfo.xml.j2").read_text("utf-8")).render(
        id=ID, developer=DEVELOPER, site=SITE, pictures=PICTURES, releases=releases()
    )
    _write(out / "metainfo" / f"{ID}.metainfo.xml", metainfo)
    _icons(out / "icons" / "hicolor")
    man = out / "man" / "man1"
    man.mkdir(parents=True)
    _write_pages(man)
    for shell, name in COMPLETION.items():
        complete = get_completion_class(shell)
        assert complete is not None
        _write(out / name, complete(cli, {}, NAME, "_MOSSY_BRIDGE_COMPLETE").source() + "\n")


def _write_pages(out: Path) -> None:
    """The manual, a page a call. Each is named by its first sentence, whole."""
    for command in cli.commands.values():
        command.short_help = re.split(r"(?<=\.) ", " ".join((command.help or "").split()))[0]
    cli.short_help = cli.help
    write_man_pages(NAME, cli, version=version(), target_dir=str(out))
    for page in out.iterdir():
        page.write_text(page.read_text("utf-8").replace(".SH COMMANDS\n.PP\n", ".SH COMMANDS\n"), "utf-8")


def _icons(out: Path) -> None:
    application = QGuiApplication.instance() or QGuiApplication(sys.argv[:1])
    for source, place in ((ICON, f"apps/{NAME}"), (HERE / "mossy-flow.svg", f"mimetypes/{FLOW_ICON}")):
        _copy(source, out / "scalable" / f"{place}.svg")
        drawn = QSvgRenderer(str(source))
        for size in SIZES:
            image = QImage(size, size, QImage.Format.Format_ARGB32)
            image.fill(0)
            painter = QPainter(image)
            drawn.render(painter, QRectF(0, 0, size, size))
            painter.end()
            path = out / f"{size}x{size}" / f"{place}.png"
            path.parent.mkdir(parents=True, exist_ok=True)
            if not image.save(str(path)):
                raise OSError(f"{path} cannot be written")
    _copy(HERE / f"{NAME}-symbolic.svg", out / "symbolic" / "apps" / f"{NAME}-symbolic.svg")
    del application


def _copy(source: Path, out: Path) -> None:
    out.parent.mkdir(parents=True, exist_ok=True)
    shutil.copyfile(source, out)


def _write(out: Path, text: str) -> None:
    out.parent.mkdir(parents=True, exist_ok=True)
    out.write_text(text, "utf-8")


def validate(share: Path, say: Callable[[str], object]) -> bool:
    """Has each file looked at by the validator of its kind; whether none complains."""
    with tempfile.TemporaryDirectory() as folder:
        grammar = Path(folder) / "mime-info.dtd"
        grammar.write_text(_mime_grammar(), "utf-8")
        calls = [
            ["desktop-file-validate", share / "applications" / f"{NAME}.desktop"],
            ["appstreamcli", "validate", "--no-net", share / "metainfo" / f"{ID}.metainfo.xml"],
            ["xmllint", "--noout", "--dtdvalid", grammar, share / "mime" / "packages" / f"{NAME}.xml"],
            *(["mandoc", "-Tlint", "-Wwarning", page] for page in sorted((share / "man" / "man1").iterdir())),
            *(["xmllint", "--noout", icon] for icon in sorted((share / "icons").rglob("*.svg"))),
            ["bash", "-n", share / COMPLETION["bash"]],
        ]
        sound = True
        for call in calls:
            done = subprocess.run(list(map(str, call)), capture_output=True, text=True, check=False)
            if done.returncode:
                sound = False
                say(f"{call[0]}: {call[-1]}\n{done.stdout}{done.stderr}")
    say(f"{len(calls)} files of the desktop looked at by their validators: {'sound' if sound else 'NOT sound'}")
    return sound


def _mime_grammar() -> str:
    """The grammar of kinds of files, as the desktop's own table of them has it."""
    text = MIME_TABLE.read_text("utf-8")
    return text[text.index("<!DOCTYPE mime-info [") + len("<!DOCTYPE mime-info [") : text.index("]>")]


def main(out: Path) -> int:
    """Makes the tree and has it looked at; the exit status."""
    make_share_tree(out)
    return 0 if validate(out, print) else 1


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1])))
