"""How long level files take: read for the first time, held against the flow, unchanged, and one of them changed.

Beside it stands a plain parse of all files, one after the other, in this process: no rules, nothing compared.
Run: .venv/bin/python benchmarks/level_files.py [FILES]
"""

import os
import sys
import tempfile
import time
import xml.etree.ElementTree as ElementTree
from collections.abc import Callable
from pathlib import Path

os.environ["XDG_CACHE_HOME"] = tempfile.mkdtemp()

from mossy_bridge.exchange.readers.store import LevelFileStore
from mossy_bridge.exchange.reading import flow_from_tree
from mossy_bridge.level_files.differences import Comparison, compared
from mossy_bridge.level_files.taking import take_over
from mossy_bridge.model.flow import Flow

THINGS, BYTES = 50, 100_000
BOX = {"x": "@x", "y": "@y", "width": "@w", "height": "@h"}
READER = {
    "id": "maps", "files": "levels/*.xml", "form": "xml", "scale": 0.0625,
    "rules": [
        {"makes": "plan", "each": "/map", "take": {"width": "@w", "height": "@h"}},
        {"makes": "solid", "each": "//thing[@kind='rock']", "take": BOX},
        {"makes": "exit", "each": "//thing[@kind='gate']", "take": {"id": "@name", **BOX, "level": "@to"}},
        {"makes": "spawn", "each": "//thing[@kind='start']", "take": {"id": "@name", "x": "@x", "y": "@y"}},
        {"makes": "deed", "each": "//thing[@kind='pickup']", "take": {"id": "@name", "x": "@x", "y": "@y"}},
    ],
}  # fmt: skip


def level_file(number: int, files: int, moved: int = 0) -> bytes:
    """A file of about 100 KB with 50 things, and much that no rule asks for."""
    tall = {"rock": 32, "gate": 112}
    kinds = ["rock", "gate", "start", "gate", *["rock", "pickup", "pickup"] * THINGS][:THINGS]
    things = [
        f'<thing kind="{kind}" name="{kind}_{at}" to="hall_{(number + 2 - at) % files}" x="{at * 20 + moved}" '
        f'y="{256 - tall.get(kind, 0) * (kind != "rock")}" w="{1024 if at == 0 else 8}" h="{tall.get(kind, 0)}"/>'
        for at, kind in enumerate(kinds)
    ]
    tile = '<tile at="{}" look="moss"/>'
    tiles = "\n".join(tile.format(at) for at in range((BYTES - sum(map(len, things))) // 31))
    return f'<map w="1024" h="288">\n{"".join(things)}\n<layer>{tiles}</layer></map>'.encode()


def timed(name: str, work: Callable[[], object], goal: float = 0) -> float:
    """Prints how long some work takes."""
    began = time.perf_counter()
    work()
    seconds = time.perf_counter() - began
    print(f"{name:46}{seconds * 1000:9.0f} ms" + (f"{goal * 1000:9.0f}" if goal else ""))
    return seconds


def game(count: int) -> tuple[Path, list[str], Flow]:
    """A folder with so many level files, their names, and a flow whose levels they are."""
    folder = Path(tempfile.mkdtemp())
    (folder / "levels").mkdir()
    names = [f"levels/hall_{number}.xml" for number in range(count)]
    for number, name in enumerate(names):
        (folder / name).write_bytes(level_file(number, count))
    levels = [{"id": f"hall_{number}", "name": f"Hall {number}", "file": name} for number, name in enumerate(names)]
    flow = flow_from_tree({"mossy_bridge": 1, "start": {"level": "hall_0"}, "readers": [READER], "levels": levels})
    return folder, names, flow


def main(count: int) -> None:
    """Prints all figures."""
    folder, names, flow = game(count)
    print(f"{count} files of {(folder / names[0]).stat().st_size:,} bytes, {THINGS} things each{'goal':>38}")
    plain = timed("plain parse of all, nothing asked", lambda: [ElementTree.parse(folder / name) for name in names])
    store = LevelFileStore(folder)
    whole = take_over(flow, store.read(flow), "all")

    latest: Comparison | None = None

    def look(of: LevelFileStore, judged: Flow = whole) -> None:
        nonlocal latest
        latest = compared(judged, of.read(judged), latest)
        assert not latest.differences, latest.differences[0]

    for path in Path(os.environ["XDG_CACHE_HOME"]).rglob("*.kept"):
        path.unlink()
    cold = LevelFileStore(folder)
    first = timed("read and compared for the first time", lambda: look(cold), 5.0)
    timed("unchanged: read and compared", lambda: look(cold), 0.3)
    (folder / names[7]).write_bytes(level_file(7, count, moved=8))
    timed("one changed: read", lambda: cold.read(whole), 0.2)
    timed("one changed: compared", lambda: compared(whole, cold.read(whole), latest))
    latest = None
    (folder / names[7]).write_bytes(level_file(7, count))
    cold.read(whole)
    timed("unchanged, in a new process that kept them", lambda: look(LevelFileStore(folder)), 0.3)
    print(f"first time against the plain parse: {first / plain:.2f}")
    for one in store, cold:
        one.close()


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 1000)
