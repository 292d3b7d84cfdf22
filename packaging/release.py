"""Builds a release and checks all of it: wheel, Debian package, what the desktop reads.

Run: ./mossy release [FOLDER]
"""

import hashlib
import subprocess
import sys
import tempfile
import venv
from pathlib import Path

from deb import build_deb, build_wheel
from share_tree import ROOT, make_share_tree, releases, validate, version

COMPLETE = """
from mossy_bridge.desk.handbook.pages import FOLDER, handbook
from mossy_bridge.exchange.starters.starters import STARTERS, starting_flow
lacking = [page.name for page in handbook([]).values() if "This page is not there" in page.text]
pictures = list((FOLDER.parent / "screenshots").glob("*.png"))
if lacking or not pictures or not all(starting_flow(one, "").levels for one in STARTERS[:-1]):
    raise SystemExit(f"what was installed is not complete: {lacking}, {len(pictures)} pictures")
"""
"""Asks an installed package for its handbook and for the flows to begin with."""


def problems() -> list[str]:
    """What is to be put right before anything is built."""
    found = []
    latest = releases()[0]
    if latest.version != version():
        found.append(f"CHANGELOG.md begins with {latest.version}, and mossy_bridge/__init__.py says {version()}")
    if not latest.lines:
        found.append(f"CHANGELOG.md says nothing of {latest.version}")
    changed = subprocess.run(["git", "status", "--porcelain"], cwd=ROOT, capture_output=True, text=True, check=True)
    if changed.stdout.strip():
        found.append("there are changes that are not committed")
    return found


def try_wheel(wheel: Path) -> None:
    """Installs the wheel by itself and proves the demo with it."""
    with tempfile.TemporaryDirectory() as folder:
        place = Path(folder)
        venv.create(place / "env", with_pip=True)
        program = place / "env" / "bin"
        pinned = str(ROOT / "constraints.txt")
        pip = [str(program / "python"), "-m", "pip", "--quiet", "--disable-pip-version-check"]
        subprocess.run([*pip, "install", "--constraint", pinned, str(wheel)], check=True)
        said = subprocess.run([program / "mossy-bridge", "--version"], capture_output=True, text=True, check=True)
        if version() not in said.stdout:
            raise SystemExit(f"the wheel says it is {said.stdout.strip()}")
        [flow] = (place / "env" / "lib").glob("python*/site-packages/mossy_bridge/demo/tidewick.mossy")
        subprocess.run([program / "mossy-bridge", "survey", flow], cwd=place, stdout=subprocess.DEVNULL, check=True)
        subprocess.run([program / "python", "-I", "-c", COMPLETE], cwd=place, check=True)


def main(out: Path) -> int:
    """Builds into a folder; the exit status."""
    found = problems()
    for problem in found:
        print(f"release: {problem}", file=sys.stderr)
    if found:
        return 1
    out.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        share = Path(folder) / "share"
        make_share_tree(share)
        if not validate(share, print):
            return 1
    wheel = build_wheel(out)
    try_wheel(wheel)
    print(f"{wheel.name}: installs by itself, and proves the demo")
    package = build_deb(out, wheel)
    subprocess.run(["dpkg-deb", "--info", package], stdout=subprocess.DEVNULL, check=True)
    lines = [f"{hashlib.sha256(path.read_bytes()).hexdigest()}  {path.name}\n" for path in (wheel, package)]
    (out / "SHA256SUMS").write_text("".join(lines), "utf-8")
    print(f"{package.name}\n{out / 'SHA256SUMS'}")
    return 0


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1]) if len(sys.argv) > 1 else ROOT / "dist"))
