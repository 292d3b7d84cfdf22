"""How long a play log takes to be explained, the whole call, beside parsing the same lines.

Made-up play-tests of the demo: all that the stand-in logs, and a tenth of the events as arrivals and endings alone,
which leaves open what happened in between.
Run: .venv/bin/python -m benchmarks.play_logs [EVENTS]
"""

import json
import resource
import subprocess
import sys
import tempfile
import time
from importlib.resources import files
from itertools import cycle, islice
from pathlib import Path
from typing import Any

from mossy_bridge.demo.play_logs import made_up_log
from mossy_bridge.demo.showing import demo_flow

DEMO = str(files("mossy_bridge.demo").joinpath("tidewick.mossy"))
SEEDS = 40
"""So many logs are made up and repeated."""


def main(events: int = 1_000_000) -> None:
    """Prints the figures."""
    made = [event for seed in range(SEEDS) for event in made_up_log(demo_flow(), seed)]
    bare = [_bare(event) for event in made if event["event"] in ("begin", "arrive", "quit", "ending", "end")]
    with tempfile.TemporaryDirectory() as folder:
        for label, chosen, most in (("all", made, events), ("arrivals", bare, events // 10)):
            log = Path(folder) / f"{label}.jsonl"
            with open(log, "w", encoding="utf-8") as file:
                file.writelines(json.dumps(event) + "\n" for event in islice(cycle(chosen), most))
            _measure(label, log)


def _bare(event: dict[str, Any]) -> dict[str, Any]:
    return {**event, "logs": ["arrive", "ending"]} if event["event"] == "begin" else event


def _measure(label: str, log: Path) -> None:
    began = time.perf_counter()
    with open(log, "rb") as lines:
        parsed = sum("event" in json.loads(line) for line in lines)
    plain = time.perf_counter() - began
    began = time.perf_counter()
    call = [sys.executable, "-m", "mossy_bridge", "logs", DEMO, str(log), "--format", "json"]
    told = json.loads(subprocess.run(call, capture_output=True, check=False).stdout)
    took = time.perf_counter() - began
    answers = [session["explained"] for session in told["sessions"]]
    memory = resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss // 1024
    print(
        f"{label}: {parsed:,} events in {len(answers):,} sessions, {answers.count('no'):,} not explained, "
        f"{answers.count('unknown'):,} unknown: {took:.1f} s, {memory} MB; parsed alone {plain:.1f} s, "
        f"ratio {took / plain:.1f}"
    )


if __name__ == "__main__":
    main(*map(int, sys.argv[1:2]))
