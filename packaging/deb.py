"""Builds a Debian package that brings its libraries along: Debian's own are too old.

Run: .venv/bin/python packaging/deb.py FOLDER [WHEEL]
"""

import hashlib
import os
import shutil
import subprocess
import sys
import tempfile
from datetime import UTC, datetime
from email.utils import format_datetime
from pathlib import Path

from share_tree import NAME, ROOT, SITE, make_share_tree, releases, version

MAINTAINER = "The founders of Mossy Bridge <founders@mossy-bridge.example>"
LIBRARIES = (
    "libc6", "libdbus-1-3", "libegl1", "libfontconfig1", "libgl1", "libglib2.0-0", "libxcb-cursor0", "libxcb-icccm4",
    "libxcb-image0", "libxcb-keysyms1", "libxcb-render-util0", "libxcb-shape0", "libxcb-xkb1", "libxkbcommon-x11-0",
    "zlib1g", "fonts-dejavu-core",
)  # fmt: skip
"""What the libraries of Qt that are brought along take from the system."""
PYTHON = sys.version_info[:2]
"""The wheels of the libraries are made for one Python."""
LAUNCHER = f"""#!/usr/bin/python3 -I
\"\"\"Starts Mossy Bridge with the libraries that it brings along, and with no others.\"\"\"

import sys

sys.path[1:1] = ["/usr/lib/{NAME}"]

from mossy_bridge.__main__ import main

main()
"""
AFTER = f"""#!/bin/sh
set -e
if [ "$1" = configure ] && command -v py3compile >/dev/null; then
    py3compile -p {NAME} /usr/lib/{NAME}
fi
"""
BEFORE = f"""#!/bin/sh
set -e
if command -v py3clean >/dev/null; then
    py3clean -p {NAME}
fi
find /usr/lib/{NAME} -depth -name __pycache__ -type d -exec rm -rf {{}} + 2>/dev/null || true
"""
COPYRIGHT = f"""Format: https://www.debian.org/doc/packaging-manuals/copyright-format/1.0/
Upstream-Name: Mossy Bridge
Source: {SITE}

Files: *
Copyright: 2026 the founders of Mossy Bridge
License: GPL-3+
 On Debian systems, the whole text is in /usr/share/common-licenses/GPL-3.
 Each library below /usr/lib/{NAME} has its own licence in its .dist-info folder.
"""


def build_wheel(out: Path) -> Path:
    """The wheel of the program."""
    before = set(out.glob("*.whl"))
    shutil.rmtree(ROOT / "build" / "lib", ignore_errors=True)  # modules that are gone would be taken along
    _pip("wheel", "--no-deps", "--wheel-dir", str(out), str(ROOT))
    [wheel] = set(out.glob(f"mossy_bridge-{version()}-*.whl")) or before
    return wheel


def build_deb(out: Path, wheel: Path) -> Path:
    """The package, of a wheel and of the libraries that are pinned."""
    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder)
        library = root / "usr" / "lib" / NAME
        constraints = str(ROOT / "constraints.txt")
        _pip("install", "--target", str(library), "--no-compile", "--constraint", constraints, str(wheel))
        shutil.rmtree(library / "bin", ignore_errors=True)  # its scripts name the Python that built the package
        _write(root / "usr" / "bin" / NAME, LAUNCHER, 0o755)
        make_share_tree(root / "usr" / "share")
        _finish_share(root / "usr" / "share")
        _write(root / "DEBIAN" / "control", _control(root))
        _write(root / "DEBIAN" / "postinst", AFTER, 0o755)
        _write(root / "DEBIAN" / "prerm", BEFORE, 0o755)
        installed = sorted(path for path in (root / "usr").rglob("*") if path.is_file())
        sums = (f"{hashlib.md5(path.read_bytes()).hexdigest()}  {path.relative_to(root)}\n" for path in installed)
        _write(root / "DEBIAN" / "md5sums", "".join(sums))
        _settle_modes(root)
        path = out / f"{NAME}_{version()}_{_architecture()}.deb"
        subprocess.run(["dpkg-deb", "--root-owner-group", "-Zxz", "-z2", "--build", root, path], check=True)
        return path


def _control(root: Path) -> str:
    size = sum(path.stat().st_size for path in root.rglob("*") if path.is_file()) // 1024
    major, minor = PYTHON
    python = f"python3 (>= {major}.{minor}), python3 (<< {major}.{minor + 1})"
    return f"""Package: {NAME}
Version: {version()}
Section: devel
Priority: optional
Architecture: {_architecture()}
Maintainer: {MAINTAINER}
Installed-Size: {size}
Depends: {", ".join((python, *LIBRARIES))}
Homepage: {SITE}
Description: lay out the flow of a game's levels and prove it sound
 Level designers lay out the sequence of a game's levels as a graph: what ends a
 level, where its exits lead, where the player appears, what unlocks what.
 .
 After every edit the program proves that each level is reachable, each exit
 leads somewhere valid, and nobody gets stuck.
"""


def _finish_share(share: Path) -> None:
    """What Debian wants besides: copyright, list of changes, compressed pages."""
    documents = share / "doc" / NAME
    _write(documents / "copyright", COPYRIGHT)
    entries = [
        f"{NAME} ({one.version}) stable; urgency=medium\n\n"
        + "".join(f"  * {line}\n" for line in one.lines)
        + f"\n -- {MAINTAINER}  {format_datetime(datetime.fromisoformat(one.date).replace(tzinfo=UTC))}\n"
        for one in releases()
    ]
    _write(documents / "changelog", "\n".join(entries))
    for path in (documents / "changelog", *sorted((share / "man" / "man1").iterdir())):
        subprocess.run(["gzip", "-9n", path], check=True)


def _architecture() -> str:
    done = subprocess.run(["dpkg", "--print-architecture"], capture_output=True, text=True, check=True)
    return done.stdout.strip()


def _pip(*words: str) -> None:
    call = [sys.executable, "-m", "pip", "--quiet", "--disable-pip-version-check", *words]
    subprocess.run(call, check=True, env={**os.environ, "PYTHONDONTWRITEBYTECODE": "1"})


def _write(path: Path, text: str, mode: int = 0o644) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text(text, "utf-8")
    path.chmod(mode)


def _settle_modes(root: Path) -> None:
    """Only what is to be run may be, and nobody but root writes."""
    runnable = {root / "usr" / "bin" / NAME, root / "DEBIAN" / "postinst", root / "DEBIAN" / "prerm"}
    for path in root.rglob("*"):
        path.chmod(0o755 if path.is_dir() or path in runnable else 0o644)


def main(out: Path, wheel: Path | None = None) -> None:
    """Builds both."""
    out.mkdir(parents=True, exist_ok=True)
    print(build_deb(out, wheel or build_wheel(out)))


if __name__ == "__main__":
    main(*map(Path, sys.argv[1:]))
