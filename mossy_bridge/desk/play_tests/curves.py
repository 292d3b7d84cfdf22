"""Play-tests as curves along the order: how many got how far, and how long levels took against what was meant."""

import math
from typing import Any, Literal

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from mossy_bridge.desk.widgets.plain_text import Label
from mossy_bridge.desk.widgets.theme import Look
from mossy_bridge.model.flow import Flow, Level
from mossy_bridge.play_logs.statistics import Statistics

HELP = {
    "far": "How many sessions got at least as far as each level. Bars: how many ended in it.",
    "time": "How long a stay took: the middle half of all as a bar, the median as a line. Diamonds: the minutes meant.",
}
Kind = Literal["far", "time"]
LONGEST_CODE = 8
"""Of longer names below a curve so many letters are shown."""


class Curve(QWidget):
    """One of them. ``chosen(level)`` follows a click on it. The package that plots is loaded when it is first needed:
    that takes half a second."""

    chosen = pyqtSignal(str)

    def __init__(self, look: Look, kind: Kind):
        super().__init__()
        self._look, self.kind = look, kind
        self._levels: list[Level] = []
        self._statistics = Statistics(Flow())
        self._outdated = True
        self.plot: Any = None
        help_line = Label(HELP[kind])
        help_line.setProperty("dim", True)
        help_line.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(4, 4, 4, 0)
        layout.setSpacing(2)
        layout.addWidget(help_line)
        look.changed.connect(self._draw)

    def show_statistics(self, statistics: Statistics) -> None:
        """Shows what other sessions add up to."""
        self._statistics = statistics
        self._levels = [level for level in statistics.flow.levels if level.kind == "play"]
        self._draw()

    def showEvent(self, event: Any) -> None:
        super().showEvent(event)
        if self._outdated:
            self._draw()

    def _draw(self) -> None:
        self._outdated = not self.isVisible()
        if self._outdated:
            return
        if self.plot is None:
            self._make_plot()
        self.plot.clear()
        self._dress()
        self._draw_far() if self.kind == "far" else self._draw_time()

    def _make_plot(self) -> None:
        import pyqtgraph

        self.plot = pyqtgraph.PlotWidget()
        self.plot.setAccessibleName(HELP[self.kind])
        self.plot.setMenuEnabled(False)
        self.plot.hideButtons()
        self.plot.setMouseEnabled(x=True, y=False)
        view = self.plot.getPlotItem().vb
        for changed in (view.sigXRangeChanged, view.sigResized):
            changed.connect(lambda *_: self._name_levels())
        self.plot.scene().sigMouseClicked.connect(self._on_clicked)
        layout = self.layout()
        if layout is not None:
            layout.addWidget(self.plot)

    def _dress(self) -> None:
        """The plot in the present colours, with levels below it."""
        c, count = self._look.colours, len(self._levels)
        self.plot.setBackground(c.card)
        self.plot.showGrid(x=False, y=True, alpha=0.15)
        for side, words in (("bottom", ""), ("left", "sessions" if self.kind == "far" else "minutes")):
            axis = self.plot.getAxis(side)
            axis.setLabel(words, color=c.dim)
            axis.enableAutoSIPrefix(False)
            axis.setPen(c.colour("line"))
            axis.setTextPen(c.colour("ink"))
            axis.setStyle(tickFont=self._look.font(-1.5))
        self.plot.setLimits(xMin=-0.7, xMax=max(count - 0.3, 0.3), yMin=0)
        self.plot.setXRange(-0.6, count - 0.4, padding=0)
        self._name_levels()

    def _name_levels(self) -> None:
        """Names as many of the levels in view as there is room for."""
        names = [level.code or level.title[:LONGEST_CODE] for level in self._levels]
        metrics = QFontMetricsF(self._look.font(-1.5))
        widest = max(map(metrics.horizontalAdvance, names), default=0.0) + 10
        view = self.plot.getPlotItem().vb
        first, last = view.viewRange()[0]
        every = max(1, math.ceil((last - first) * widest / max(view.width(), 1.0)))
        self.plot.getAxis("bottom").setTicks([list(enumerate(names))[::every]])

    def _draw_far(self) -> None:
        import pyqtgraph

        c, as_far = self._look.colours, self._statistics.as_far()
        heights = [as_far.get(level.id, 0) for level in self._levels]
        ended = [self._statistics.ended[level.id] for level in self._levels]
        edge = pyqtgraph.mkPen(c.colour("suspicious"))
        places = list(range(len(ended)))
        bars = pyqtgraph.BarGraphItem(x=places, height=ended, width=0.5, brush=c.colour("suspicious", 150), pen=edge)
        self.plot.addItem(bars)
        if heights:
            edges = [at - 0.5 for at in range(len(heights) + 1)]
            pen = pyqtgraph.mkPen(c.colour("route"), width=2.4)
            self.plot.plot(edges, heights, stepMode="center", pen=pen, fillLevel=0, brush=c.colour("route", 40))
        self.plot.setYRange(0, max([*heights, 1]) * 1.06, padding=0)

    def _draw_time(self) -> None:
        import pyqtgraph

        c, spreads = self._look.colours, self._statistics.spreads
        rows = [(at, spreads[level.id]) for at, level in enumerate(self._levels) if level.id in spreads]
        places = [at for at, _ in rows]
        low, median, high = ([spread[name] / 60 for _, spread in rows] for name in ("low", "median", "high"))
        edge, inside = pyqtgraph.mkPen(c.colour("route")), c.colour("route", 60)
        self.plot.addItem(pyqtgraph.BarGraphItem(x=places, y0=low, y1=high, width=0.5, brush=inside, pen=edge))
        ends = [end for at in places for end in (at - 0.3, at + 0.3)]
        heights = [minutes for minutes in median for _ in range(2)]
        self.plot.plot(ends, heights, connect="pairs", pen=pyqtgraph.mkPen(c.colour("route"), width=3))
        meant = [(at, level.minutes) for at, level in enumerate(self._levels) if level.minutes]
        if meant:
            pen = pyqtgraph.mkPen(c.colour("suspicious"), width=2)
            at, minutes = zip(*meant, strict=True)
            self.plot.plot(at, minutes, pen=None, symbol="d", symbolSize=11, symbolPen=pen,
                           symbolBrush=c.colour("card"))  # fmt: skip
        top = max([*high, *(minutes for _, minutes in meant)], default=1.0)
        self.plot.setYRange(0, top * 1.08, padding=0)

    def _on_clicked(self, event: Any) -> None:
        if event.button() == Qt.MouseButton.LeftButton and self._levels:
            at = round(self.plot.getPlotItem().vb.mapSceneToView(event.scenePos()).x())
            self.chosen.emit(self._levels[max(0, min(at, len(self._levels) - 1))].id)
