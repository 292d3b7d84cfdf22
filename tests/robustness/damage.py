"""Damaged flow files: bytes, tokens, nesting, sizes, and fields with values of the wrong kind.

Each is made from a seed. Whatever it is, reading refuses it in words or takes it; what is taken is surveyed, checked,
repaired and written, and reads back the same.

Run: python -m tests.robustness.damage [COUNT] [FIRST SEED]
"""

import json
import sys
import time
from copy import deepcopy
from importlib.resources import files
from random import Random

from mossy_bridge.checks.runner import inspected
from mossy_bridge.exchange.reading import CannotRead, flow_from_bytes
from mossy_bridge.exchange.rereading import reread
from mossy_bridge.exchange.validation import MOST_TOLD
from mossy_bridge.exchange.writing import flow_bytes
from mossy_bridge.model.edits.levels import CannotEdit
from mossy_bridge.reach.survey.run import survey_flow
from tests.support.random_flows import MAKERS

DEMOS = [
    files("mossy_bridge.demo").joinpath(f"{name}.mossy").read_bytes() for name in ("tidewick", "tidewick_unfinished")
]
RUBBISH = [
    None, True, False, 0, 1, -1, 0.5, -0.0, 1e-320, 1e6, 1_000_001, -1e6, 1e7, 1e300, 2**63, -(2**70), 10**400, "", " ", "x",
    "has", "low-tide", "1st", "höhe", "²", "１２", "a\nb", "a\tb", "\x00", "\x1b[31m", "\u202e", "<img src='/dev/zero'>", "../../etc",
    "/dev/zero", "n" * 101, "n" * 1001, "n" * 10_001, "9" * 5000, "has f0", "not " * 300 + "has f0", "(" * 90 + "has f0" + ")" * 90,
    "at least 1000000 n0", "at least 1000001 n0", "exactly 1 of (has f0)", "exit la.x0", "ends:", "levels.la.name", [], {}, [[]],
    [0, 0, 1, 1], [0, 0, -1, 1], [1e6, 1e6, 1e6, 1e6], [0, 0, 1e300, 1], {"id": "a"}, ["a", "a"], {"level": "la"}, {"kind": "end"},
    "la", "lb", "nowhere", "e0", "f0", "n0", "p", "always", "never", "gain f0", "set nobody to 1", "play", "board", "screen",
]  # fmt: skip
PLAUSIBLE = [
    True, False, 0, 1, 2, 3, 1_000_000, 0.001, 0.5, 86_400.0, 999_999.5, -1e6, "", "la", "lb", "lc", "nowhere", "e0", "gone", "f0", "n0",
    "p", "q", "low", "high", "always", "never", "has f0", "lacks f1", "at least 1 nobody", "at least 1000000 n0", "seen la", "gain f0",
    "set nobody to 1", "add 1000000 n0", "clear c0", "play", "screen", "board", "level", "next", "back", "resume", "touch", "auto",
    "run", "visit", "profile", "up", "top", "n" * 1000, "<b>&amp;</b>", "‮ ☂", "../x", "²", [], [0, 0, 1e6, 1e6], [-1e6, -1e6, 0, 0],
]  # fmt: skip
TOKENS = [b'"', b"{", b"}", b"[", b"]", b",", b":", b"null", b"NaN", b"1e999", b"-", b"\\u", b"\\ud800", b"\xff", b"\xef\xbb\xbf", b"\x00",
          b"[" * 3000, b'{"a":' * 3000, b"9" * 5000, b"//", b"'"]  # fmt: skip
SLOW = 6.0
"""Seconds that no file may take."""


def damaged(seed):
    """The bytes of a seed."""
    pick = Random(seed)
    maker = pick.choice(MAKERS)
    data = pick.choice(DEMOS) if pick.random() < 0.1 else flow_bytes(maker(seed))
    kind = pick.choice(["bytes", "tokens", "cut", "nested", "doubled", *["fields"] * 6, *["plausible"] * 8])
    if kind in ("fields", "plausible"):
        tree = json.loads(data)
        for _ in range(pick.choice([1, 1, 1, 2, 4])):
            spoil(tree, pick, RUBBISH if kind == "fields" else PLAUSIBLE)
        return json.dumps(tree, ensure_ascii=pick.random() < 0.5).encode("utf-8", "surrogatepass")
    if kind == "doubled":
        tree = json.loads(data)
        for key in [key for key in tree if isinstance(tree[key], list) and tree[key]]:
            if pick.random() < 0.5:
                tree[key] = tree[key] * pick.choice([2, 2, 20])
        return json.dumps(tree).encode()
    if kind == "nested":
        inner = json.dumps(pick.choice(RUBBISH[:20]))
        deep = pick.choice([5, 45, 900, 20_000])
        return (
            data.rstrip()[:-1]
            + b', "trial_settings": [{"ships_as": '
            + b"[" * deep
            + inner.encode()
            + b"]" * deep
            + b"}]}"
        )
    for _ in range(pick.choice([1, 1, 2, 5])):
        at = pick.randrange(len(data))
        if kind == "cut":
            data = data[:at] or b" "
        elif kind == "tokens":
            data = data[:at] + pick.choice(TOKENS) + data[at + pick.choice([0, 0, 1, 5]) :]
        else:
            data = data[:at] + bytes([pick.randrange(256)]) + data[at + pick.choice([0, 1]) :]
    return data


def spoil(tree, pick, rubbish):
    """Puts something that does not belong there in a random place of a tree."""
    here = tree
    while True:
        keys = list(here) if isinstance(here, dict) else list(range(len(here)))
        if not keys:
            break
        key = pick.choice(keys)
        if isinstance(here[key], dict | list) and here[key] and pick.random() < 0.8:
            here = here[key]
            continue
        alike = [one for one in rubbish if type(one) is type(here[key])]
        here[key] = deepcopy(
            pick.choice(alike if alike and pick.random() < (0.7 if rubbish is RUBBISH else 0.95) else rubbish)
        )
        return
    if isinstance(here, dict):
        here[pick.choice(["id", "name", "kind", "levels", "new"])] = deepcopy(pick.choice(RUBBISH))
    else:
        here.append(deepcopy(pick.choice(RUBBISH)))


def refused_or_sound(data):
    """Reads the bytes; the flow if they are one. Raises AssertionError where something is not as promised."""
    began = time.monotonic()
    try:
        flow = flow_from_bytes(data)
    except CannotRead as error:
        assert 0 < len(error.problems) <= MOST_TOLD + 1, len(error.problems)
        assert all(isinstance(problem, str) and 0 < len(problem) < 2000 for problem in error.problems)
        return None
    written = flow_bytes(flow)
    assert flow_from_bytes(written) == flow, "reads back as another flow"
    assert flow_bytes(flow_from_bytes(written)) == written, "is not canonical"
    assert reread(flow, type(flow)()) == flow, "an edit would make it another flow"
    survey = survey_flow(flow, 0.4)
    for finding in inspected(survey, flow):
        assert finding.message
        if finding.repair:
            try:
                repaired = reread(finding.repair.edit(flow), flow)
            except (CannotEdit, CannotRead):
                continue
            assert flow_from_bytes(flow_bytes(repaired)) == repaired, finding
    taken = time.monotonic() - began
    assert taken < SLOW, f"took {taken:.1f} s"
    return flow


def main(count=50_000, first=0):
    """Tries so many, and prints what came of it."""
    taken = refused = 0
    faults = []
    for seed in range(first, first + count):
        try:
            flow = refused_or_sound(damaged(seed))
        except Exception as error:  # noqa: BLE001 - whatever it is, it is told with its seed
            faults.append((seed, f"{type(error).__name__}: {error}"[:300]))
            print(f"seed {seed}: {faults[-1][1]}", flush=True)
            continue
        taken, refused = taken + (flow is not None), refused + (flow is None)
    print(f"{count} damaged files: {taken} taken and surveyed, {refused} refused in words, {len(faults)} faults")
    return len(faults)


if __name__ == "__main__":
    sys.exit(min(1, main(*map(int, sys.argv[1:]))))
