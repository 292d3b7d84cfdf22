"""How quick the survey is, beside plain search on the rules and a bare graph of the same size.

Run: python benchmarks/reach.py [SECONDS OF BUDGET]. Each flow is surveyed in a process of its own, so that the
memory told is its own; times are medians of five. *Growth* is the power of the number of levels that the time has
grown with since the size before: 1.0 is in step.
"""

import math
import multiprocessing
import resource
import statistics
import sys
import time
from collections import deque
from collections.abc import Callable
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent))

import numpy as np
from large import KINDS, hub, spent, switches
from scipy.sparse import csr_array
from scipy.sparse.csgraph import breadth_first_order

from mossy_bridge.model.flow import Flow
from mossy_bridge.play.rules import Rules
from mossy_bridge.play.state import State
from mossy_bridge.reach.survey import surveyed

MOST_PLAIN = 200_000
RUNS = 5
Row = tuple[str, float, int, str, float, int, str, float, float]


def cases() -> dict[str, Callable[[], Flow]]:
    """Every flow that is measured, by what it is called."""
    found: dict[str, Callable[[], Flow]] = {}
    for kind, sizes in (("campaign", (10, 100, 1000, 10_000)), ("marsh", (9, 100, 1000)), ("chain", (5, 10, 15)),
                        ("boards", (10, 100, 1000))):  # fmt: skip
        for size in sizes:
            found[f"{kind} {size}"] = lambda kind=kind, size=size: KINDS[kind](size)  # type: ignore[misc]
    for keys, locks in ((6, 3), (10, 5), (40, 10)):
        found[f"hub, {keys} keys, {locks} locks"] = lambda keys=keys, locks=locks: hub(keys, locks)  # type: ignore[misc]
    for count in (10, 20):
        found[f"{count} switches"] = lambda count=count: switches(count)  # type: ignore[misc]
    for keys, doors in ((4, 8), (12, 24)):
        found[f"spent, {keys} keys, {doors} doors"] = lambda k=keys, d=doors: spent(k, d)  # type: ignore[misc]
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


def measured(name: str, budget: float) -> Row:
    """One line of the table."""
    flow = cases()[name]()
    floor = timed(bare_graph(flow))
    found = surveyed(flow, budget, quick=True)
    seconds = timed(lambda: surveyed(flow, budget, quick=True)) if found.seconds < budget / 2 else found.seconds
    memory = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    began = time.perf_counter()
    states, whole = plain_search(flow)
    plain = time.perf_counter() - began
    told = f"{states:,}" + ("" if whole else "+")
    how = "yes" if found.settled else "proven" if found.decided else "no"
    return name, floor, len(flow.levels), told, plain, len(found.graph), how, seconds, memory


def main(budget: float) -> None:
    """Prints the table."""
    print(f"budget {budget:g} s; plain search gives up at {MOST_PLAIN:,} states (+)")
    print(f"{'flow':26}{'levels':>7}{'floor ms':>10}{'plain ms':>11}{'states':>10}{'survey ms':>11}{'states':>9}"
          f"{'settled':>9}{'x plain':>9}{'MB':>6}{'growth':>8}")  # fmt: skip
    last: tuple[str, int, float] = ("", 0, 0.0)
    for name in cases():
        with multiprocessing.get_context("spawn").Pool(1) as pool:
            _, floor, levels, told, plain, states, settled, seconds, memory = pool.apply(measured, (name, budget))
        print(
            f"{name:26}{levels:>7}{floor * 1e3:>10.2f}{plain * 1e3:>11.0f}{told:>10}{seconds * 1e3:>11.0f}"
            f"{states:>9,}{settled:>9}{plain / seconds:>9.1f}{memory:>6.0f}{_growth(last, name, levels, seconds):>8}",
            flush=True,
        )
        last = (name, levels, seconds)


def _growth(last: tuple[str, int, float], name: str, levels: int, seconds: float) -> str:
    same_kind = last[0].split()[:1] == name.split()[:1] and levels > last[1]
    return f"{math.log(seconds / last[2]) / math.log(levels / last[1]):.2f}" if same_kind else ""


if __name__ == "__main__":
    main(float(sys.argv[1]) if len(sys.argv) > 1 else 6.0)
