"""How quick the survey is, beside plain search on the rules and a bare graph of the same size.

Run: python benchmarks/reach.py [SECONDS OF BUDGET]. Each flow is surveyed in a process of its own, so that the
memory told is its own; times are medians of five. *Edit* is a survey after a single edit, *route* the mean time for
tracing one of its routes, *fewest* that for counting the fewest crossings to all levels. *Growth* is the power of the
number of levels that the time has grown with since the size before: 1.0 is in step.
"""

import math
import multiprocessing
import resource
import statistics
import sys
import time
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent))

import numpy as np
from large import KINDS, dials, failing, hub, sluices, spent, switches
from scipy.sparse import csr_array
from scipy.sparse.csgraph import breadth_first_order

from mossy_bridge.model.edits.levels import set_exit
from mossy_bridge.model.flow import Flow
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import State
from mossy_bridge.reach.survey.result import KINDS as KINDS_REACHED
from mossy_bridge.reach.survey.result import Survey
from mossy_bridge.reach.survey.run import survey_flow

MOST_PLAIN = 200_000
RUNS = 5
MOST_ROUTES = 300


@dataclass(frozen=True)
class Measured:
    """One line of the table; times in seconds, memory in megabytes."""

    floor: float
    levels: int
    plain_states: str
    plain: float
    states: int
    settled: str
    cold: float
    edit: float
    route: float
    fewest: float
    memory: float


def cases() -> dict[str, Callable[[], Flow]]:
    """Every flow that is measured, by what it is called."""
    found: dict[str, Callable[[], Flow]] = {}
    for kind, sizes in (("campaign", (10, 100, 1000, 10_000)), ("marsh", (9, 100, 1000)), ("chain", (5, 10, 15)),
                        ("boards", (10, 100, 1000))):  # fmt: skip
        for size in sizes:
            found[f"{kind} {size}"] = partial(KINDS[kind], size)
    for keys, locks in ((6, 3), (10, 5), (40, 10)):
        found[f"hub, {keys} keys, {locks} locks"] = partial(hub, keys, locks)
    for count in (3, 6):
        found[f"{count} dials of 10"] = partial(dials, count, 10)
    for count in (10, 20):
        found[f"{count} switches"] = partial(switches, count)
    for levels, count in ((100, 8), (1000, 12), (1000, 16)):
        found[f"sluices {levels}, {count}"] = partial(sluices, levels, count)
    for keys, doors in ((4, 8), (12, 24)):
        found[f"spent, {keys} keys, {doors} doors"] = partial(spent, keys, doors)
    found["campaign 1000, failing"] = lambda: failing(KINDS["campaign"](1000), share=2)
    found["spent, 12 keys, failing"] = lambda: failing(spent(12, 24))
    return found


def plain_search(flow: Flow) -> tuple[int, bool]:
    """States found by breadth-first search on the rules alone, and whether that was all of them."""
    rules = Rules(flow)
    start = rules.begin()
    found: set[State] = {start} if start else set()
    waiting = deque(found)
    while waiting and len(found) < MOST_PLAIN:
        for _, after in rules.moves(waiting.popleft()):
            if isinstance(after, State) and after not in found:
                found.add(after)
                waiting.append(after)
    return len(found), not waiting


def bare_graph(flow: Flow) -> Callable[[], object]:
    """Breadth-first search over levels alone, conditions left out: the floor."""
    number = {level.id: index for index, level in enumerate(flow.levels)}
    pairs = [
        (number[level.id], number[to.level])
        for level in flow.levels
        for exit_ in level.exits
        for to in exit_.destinations
        if to.kind == "level"
    ]
    rows, columns = np.array(pairs, dtype=np.int64).T
    graph = csr_array((np.ones(len(pairs), dtype=np.int8), (rows, columns)), shape=(len(number), len(number)))
    return lambda: breadth_first_order(graph, 0)


def timed(run: Callable[[], object]) -> float:
    """The median of five runs, in seconds."""
    times = []
    for _ in range(RUNS):
        began = time.perf_counter()
        run()
        times.append(time.perf_counter() - began)
    return statistics.median(times)


def edited(flow: Flow, number: int) -> Flow:
    """The flow with the last exit of a level locked, or unlocked again."""
    level = flow.levels[number % len(flow.levels)]
    if not level.exits:
        return edited(flow, number + 1)
    lock = f"has {flow.facts[0].id}" if flow.facts and flow.facts[0].kind == "flag" else f"seen {flow.levels[0].id}"
    last = level.exits[-1]
    return set_exit(flow, level.id, last.id, opens=lock if last.opens == "always" else "always")


def after_edits(flow: Flow, before: Survey, budget: float) -> float:
    """The median time of a survey after one more edit."""
    times = []
    for number in range(RUNS):
        flow = edited(flow, len(flow.levels) // 2 + number)
        began = time.perf_counter()
        before = survey_flow(flow, budget, before=before)
        times.append(time.perf_counter() - began)
    return statistics.median(times)


def tracing(survey: Survey) -> float:
    """The mean time for tracing a route, of some from all over the flow."""
    found = [verdict for kind in KINDS_REACHED for verdict in survey.verdicts(kind).values() if verdict.answer == "yes"]
    some = found[:: max(1, len(found) // MOST_ROUTES)]
    began = time.perf_counter()
    for verdict in some:
        verdict.trace()
    return (time.perf_counter() - began) / max(1, len(some))


def measured(name: str, budget: float) -> Measured:
    """One line of the table."""
    flow = cases()[name]()
    floor = timed(bare_graph(flow))
    found = survey_flow(flow, budget)
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    quick = found.seconds < budget / 2
    cold = timed(lambda: survey_flow(flow, budget)) if quick else found.seconds
    edit = after_edits(flow, found, budget)
    route = tracing(found)
    began = time.perf_counter()
    _ = found.crossings
    fewest = time.perf_counter() - began
    began = time.perf_counter()
    states, whole = plain_search(flow)
    plain = time.perf_counter() - began
    told = f"{states:,}" + ("" if whole else "+")
    how = "yes" if found.settled else "proven" if found.decided else "no"
    return Measured(floor, len(flow.levels), told, plain, len(found.graph), how, cold, edit, route, fewest, memory)


def main(budget: float) -> None:
    """Prints the table."""
    print(f"budget {budget:g} s; plain search gives up at {MOST_PLAIN:,} states (+); times in milliseconds")
    print(f"{'flow':24}{'levels':>7}{'floor':>8}{'plain':>8}{'states':>10}{'survey':>8}{'states':>10}{'settled':>8}"
          f"{'edit':>7}{'route':>8}{'fewest':>8}{'x plain':>9}{'MB':>6}{'growth':>7}")  # fmt: skip
    last: tuple[str, int, float] = ("", 0, 0.0)
    for name in cases():
        with multiprocessing.get_context("spawn").Pool(1) as pool:
            m = pool.apply(measured, (name, budget))
        print(
            f"{name:24}{m.levels:>7}{m.floor * 1e3:>8.2f}{m.plain * 1e3:>8.0f}{m.plain_states:>10}{m.cold * 1e3:>8.0f}"
            f"{m.states:>10,}{m.settled:>8}{m.edit * 1e3:>7.0f}{m.route * 1e3:>8.2f}{m.fewest * 1e3:>8.0f}"
            f"{m.plain / m.cold:>9.1f}{m.memory:>6.0f}{_growth(last, name, m.levels, m.cold):>7}",
            flush=True,
        )
        last = (name, m.levels, m.cold)


def _growth(last: tuple[str, int, float], name: str, levels: int, seconds: float) -> str:
    same_kind = last[0].split()[:1] == name.split()[:1] and levels > last[1]
    return f"{math.log(seconds / last[2]) / math.log(levels / last[1]):.2f}" if same_kind else ""


if __name__ == "__main__":
    main(float(sys.argv[1]) if len(sys.argv) > 1 else 6.0)
