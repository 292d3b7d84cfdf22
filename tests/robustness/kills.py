"""The program killed (SIGKILL) at random moments, while it is edited and while it saves.

A program of its own edits and saves, and says before and after what it does. Whenever it is killed, the file is a
version that was saved, whole; its backup is one, too; and the journal holds everything that was done a second before.

Run: python -m tests.robustness.kills [COUNT] [FIRST SEED]
"""

import os
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from random import Random

from mossy_bridge.exchange.journal import read_journal
from mossy_bridge.exchange.reading import read_flow
from mossy_bridge.exchange.saving import TEMPORARY, backup_of, clear_leftovers

ROOT = Path(__file__).parents[2]
WRITER = """
import os, sys, time
os.environ["QT_QPA_PLATFORM"] = "offscreen"
from pathlib import Path
from PyQt6.QtCore import QCoreApplication
from msgspec.structs import replace
from mossy_bridge.desk.session.document import Document
from mossy_bridge.desk.session.crash_recovery import Recovery
from mossy_bridge.exchange.versions import Versions
from mossy_bridge.model.edits.levels import set_level
from mossy_bridge.model.flow import Flow, Level
app = QCoreApplication([])
folder, saving = Path(sys.argv[1]), sys.argv[2] == "saving"
document = Document()
recovery = Recovery(document, folder / "recovery")
versions = Versions(folder / "versions")
levels = tuple(Level(id=f"l{n}", name="Level " * 20, notes="marsh " * 200) for n in range(150))
path = folder / "flow.mossy"
document.take(Flow(title="0", levels=levels))
if path.exists():
    document.open(path)
number = int(document.flow.title) + 1
def say(*words):
    print(*words, f"{time.monotonic():.4f}", flush=True)
say("ready", number)
while True:
    flow = replace(document.flow, title=str(number))
    document.make("title", set_level(flow, f"l{number % 150}", name=f"n {number}"))
    say("edited", number)
    if saving or number % 40 == 0:
        say("saving", number)
        versions.keep(path, document.save(path))
        say("saved", number)
    number += 1
    end = time.monotonic() + (0.001 if saving else 0.02)
    while time.monotonic() < end:
        app.processEvents()
        time.sleep(0.001)
"""


class Outcome:
    """What was seen of one kill."""

    def __init__(self, lines):
        self.last = {"edited": 0, "saving": 0, "saved": 0}
        self.times = {}
        for line in lines:
            word, number, when = line.split()
            self.last[word] = int(number)
            self.times[word, int(number)] = float(when)

    @property
    def inside(self):
        """Whether the kill came in the middle of a save."""
        return self.last["saving"] > self.last["saved"]


def killed(folder, seed, saving):
    """Lets the writer run in the folder and kills it; what it had said. The kill is likely to come inside a save."""
    pick = Random(seed)
    program = subprocess.Popen([sys.executable, "-c", WRITER, str(folder), "saving" if saving else "editing"], cwd=ROOT,
                               stdout=subprocess.PIPE, text=True)  # fmt: skip
    lines = []
    while not lines or not lines[-1].startswith("ready"):
        lines.append(program.stdout.readline())
        assert lines[-1], "the writer ended by itself"
    wait = pick.choice([1, 1, 2, 3]) if saving else 0
    while wait and (line := program.stdout.readline()):
        lines.append(line)
        wait -= line.startswith("saving")
    time.sleep(pick.uniform(0, 0.12) if saving else pick.uniform(0.05, 2.2))
    program.kill()
    when = time.monotonic()
    lines += [line for line in program.stdout.read().splitlines(keepends=True) if line.endswith("\n")]
    program.stdout.close()
    program.wait()
    return Outcome(lines), when


def looked_at(folder, outcome, when):
    """Sees that nothing is lost. Raises AssertionError where something is."""
    path = folder / "flow.mossy"
    last = outcome.last
    if last["saved"]:
        flow = read_flow(path)
        assert last["saved"] <= int(flow.title) <= last["saving"], (flow.title, last)
        name = flow.level(f"l{int(flow.title) % 150}").name
        assert (len(flow.levels), name) == (150, f"n {flow.title}"), (len(flow.levels), name, flow.title)
    if backup_of(path).exists():
        assert int(read_flow(backup_of(path)).title) <= max(last["saving"], last["edited"])
    for version in (folder / "versions").rglob("*.gz"):
        assert version.stat().st_size > 0
    journals = list((folder / "recovery").glob("*.journal"))
    held = max((int(read_journal(journal).flow.title) for journal in journals), default=0)
    safe = max(held, int(read_flow(path).title) if path.exists() else 0)
    old = [number for (word, number), at in outcome.times.items() if word == "edited" and at < when - 1.0]
    assert safe >= max(old, default=0), f"of edit {max(old)} nothing is left: journal {held}, file {safe}"
    clear_leftovers(folder)
    clear_leftovers(folder / "versions")
    assert not list(folder.glob(f"{TEMPORARY}*")), "leftovers are not cleared"
    for file in (folder / "recovery").glob("*"):
        file.unlink()


def main(count=1000, first=0):
    """Kills so many times, half of them while saving, and prints what came of it."""
    inside = faults = 0
    with tempfile.TemporaryDirectory() as name:
        for seed in range(first, first + count):
            folder = Path(name) / str(seed // 50)
            folder.mkdir(exist_ok=True)
            try:
                outcome, when = killed(folder, seed, saving=seed % 10 < 7)
                inside += outcome.inside
                looked_at(folder, outcome, when)
            except Exception as error:  # noqa: BLE001 - whatever it is, it is told with its seed
                faults += 1
                print(f"seed {seed}: {type(error).__name__}: {error}", flush=True)
    print(f"{count} kills, {inside} of them inside a save: {faults} faults")
    return faults


if __name__ == "__main__":
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    sys.exit(min(1, main(*map(int, sys.argv[1:]))))
