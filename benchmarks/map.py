"""How readable the map is: what lies over what, and how often bridges cross, beside Graphviz's ``dot`` on the same
columns where that is installed; and how long the map of a large flow takes. Run: python benchmarks/map.py [LEVELS]"""

import os
import shutil
import statistics
import subprocess
import sys
import time
from itertools import pairwise
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"
sys.path.insert(0, str(Path(__file__).parent))
sys.path.insert(0, str(Path(__file__).parents[1]))

from large import KINDS

import mossy_bridge
from mossy_bridge.appraisal.appraise import appraise, default_budget
from mossy_bridge.desk.app import make_application
from mossy_bridge.desk.map.scene import MapScene
from mossy_bridge.exchange.reading import read_flow
from mossy_bridge.model.edits.levels import connect
from mossy_bridge.model.flow import Flow
from mossy_bridge.model.patterns import resolved
from tests.support.map_figures import (
    MADE_UP,
    crossings_of_bridges,
    crossings_of_lines,
    labels_over_something,
    made_up_flow,
    over_foreign_cards,
    under_labels,
)

DEMOS = Path(mossy_bridge.__file__).parent / "demo"
CURVE = 12
"""Points for each part of a curve of ``dot``."""
Point = tuple[float, float]


def main(levels: int) -> None:
    """Prints the figures."""
    make_application()
    flows = [(name, read_flow(DEMOS / f"{name}.mossy")) for name in ("tidewick", "tidewick_unfinished")]
    flows += [(f"made up, {count}", made_up_flow(count, seed)) for count, seed in MADE_UP]
    print(f"{'flow':22}{'bridges':>8}{'on cards':>9}{'labels':>7}{'under':>6}{'crossings':>10}{'dot':>6}{'ratio':>7}")
    ratios, sums = [], [0, 0]
    for name, flow in flows:
        scene = _scene(flow)
        ours, dots = crossings_of_bridges(scene), _crossings_by_dot(scene)
        counts = len(over_foreign_cards(scene)), len(labels_over_something(scene)), len(under_labels(scene))
        beside = f"{dots:6}{ours / max(1, dots):7.2f}" if dots is not None else "     -      -"
        print(f"{name:22}{len(scene.bridges):8}{counts[0]:9}{counts[1]:7}{counts[2]:6}{ours:10}{beside}")
        if dots is not None:
            ratios.append(ours / max(1, dots))
            sums = [sums[0] + ours, sums[1] + dots]
    if ratios:
        print(f"all together {sums[0]} against {sums[1]}: {sums[0] / max(1, sums[1]):.2f}; "
              f"median of ratios {statistics.median(ratios):.2f}")  # fmt: skip
    _time(KINDS["campaign"](levels))


def _scene(flow: Flow) -> MapScene:
    scene = MapScene()
    scene.show(resolved(flow), appraise(flow, budget=default_budget(flow)))
    return scene


def _time(flow: Flow) -> None:
    result = appraise(flow, budget=default_budget(flow))
    began = time.perf_counter()
    _ = result.levels_led_to, result.columns  # made beside the window
    print(f"{len(flow.levels)} levels: columns in order in {(time.perf_counter() - began) * 1e3:.0f} ms, of the survey "
          f"{result.survey.seconds * 1e3:.0f}")  # fmt: skip
    scene = MapScene()
    began, worst = time.perf_counter(), 0.0
    last = began
    for _ in scene.showing(flow, result):
        worst, last = max(worst, time.perf_counter() - last), time.perf_counter()
    whole = time.perf_counter() - began
    print(
        f"{len(flow.levels)} levels: all of the map made in {whole * 1e3:.0f} ms, at most {worst * 1e3:.1f} ms at once"
    )
    times = []
    for number in range(20):
        level = flow.levels[number * len(flow.levels) // 20]
        flow = connect(flow, level.id, level.exits[0].id, flow.levels[number * 37 % len(flow.levels)].id)
        began = time.perf_counter()
        scene.show(flow, result)
        times.append(time.perf_counter() - began)
    print(
        f"a crossing led elsewhere, shown in {statistics.median(times) * 1e3:.1f} ms (longest {max(times) * 1e3:.1f})"
    )


def _crossings_by_dot(scene: MapScene) -> int | None:
    """How often the lines cross that ``dot`` draws between cards of the same size in the same columns; None where it
    is not installed."""
    dot = shutil.which("dot")
    if dot is None:
        return None
    found = subprocess.run([dot, "-Tplain"], input=_graph(scene), capture_output=True, text=True, check=True)
    lines = [_flattened(line.split()) for line in found.stdout.splitlines() if line.startswith("edge l")]
    return crossings_of_lines(lines)


def _graph(scene: MapScene) -> str:
    columns: dict[int, list[str]] = {}
    at = {name: placed.column for name, placed in scene.layout.cards.items()}
    shelf = len(scene.layout.columns) - 1 if scene.layout.has_shelf else None
    at = {name: -1 if column == shelf else column for name, column in at.items()}
    for name, column in at.items():
        columns.setdefault(column, []).append(name)
    text = ["digraph {", "rankdir=LR; node [shape=box fixedsize=true width=1.5 height=0.96];"]
    order = sorted(columns)
    for column in order:
        text.append(f"{{rank=same; column{column + 1} [style=invis]; " + "; ".join(map(_node, columns[column])) + "}")
    text += [f"column{one + 1} -> column{two + 1} [style=invis];" for one, two in pairwise(order)]
    for bridge in scene.bridges.values():
        one, two = bridge.crossing.level, bridge.crossing.target
        if not bridge.quiet and bridge.crossing.kind != "broken" and one != two:
            first, last = (one, two) if at[one] <= at[two] else (two, one)
            text.append(f"{_node(first)} -> {_node(last)} [dir=none];")
    return "\n".join([*text, "}"])


def _node(name: str) -> str:
    return f"l_{name}"


def _flattened(words: list[str]) -> list[Point]:
    """The points of a line as ``dot -Tplain`` writes it: cubic curves, end to end."""
    count = int(words[3])
    numbers = [float(word) for word in words[4 : 4 + 2 * count]]
    points = list(zip(numbers[::2], numbers[1::2], strict=True))
    found = points[:1]
    for at in range(0, count - 1, 3):
        a, b, c, d = points[at : at + 4]
        for step in range(1, CURVE + 1):
            t = step / CURVE
            weights = (1 - t) ** 3, 3 * (1 - t) ** 2 * t, 3 * (1 - t) * t * t, t**3
            found.append(tuple(sum(w * p[axis] for w, p in zip(weights, (a, b, c, d), strict=True)) for axis in (0, 1)))  # type: ignore[arg-type]
    return found


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 2000)
