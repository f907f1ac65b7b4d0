"""One doubt at full size: the residuals as an instrument."""

from __future__ import annotations

from collections.abc import Set

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QFont

from bright_tether.live.cloud import Cloud
from bright_tether.live.findings import Findings
from bright_tether.live.sketches import Sketch
from bright_tether.pictures.frame import between_bars
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.theme.tokens import Tokens

_MOST_CURVES = 6
#: Lines between more points than these would be a blot, and take long to paint.
_MOST_JOINED = 5000


class DoubtPicture(ScatterPicture):
    """Shows a sketch with its points as rows that can be marked."""

    of_tether = False

    movable = False

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.sketch: Sketch | None = None
        self._names = ("", "")
        self.bright = pg.InfiniteLine(0, angle=0)
        self.levels = [pg.InfiniteLine(0, angle=0) for _ in range(2)]
        self.curves = [pg.PlotCurveItem() for _ in range(_MOST_CURVES)]
        self.thread = pg.PlotCurveItem()
        self.bars = pg.BarGraphItem(x0=[], x1=[], y0=0, y1=[])
        for depth, item in (
            (-20, self.bars), (-16, self.thread), (-15, self.bright),
            *((-14, level) for level in self.levels), *((-12, curve) for curve in self.curves),
        ):  # fmt: skip
            item.setZValue(depth)
            self.main.addItem(item, ignoreBounds=True)
        self._shown: tuple[object, ...] = ()
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.bright.setPen(pg.mkPen(tokens.tether, width=3))
        for level in self.levels:
            level.setPen(pg.mkPen(tokens.muted, style=Qt.PenStyle.DashLine))
        for curve in self.curves:
            curve.setPen(pg.mkPen(tokens.ink, width=1.8))
        self.thread.setPen(pg.mkPen(tokens.faint))
        soft = QColor(tokens.hues[0])
        soft.setAlpha(120)
        self.bars.setOpts(brush=pg.mkBrush(soft), pen=between_bars(len(self.bars.opts["x0"]), tokens))
        super().restyle(tokens)

    def show_sketch(
        self, findings: Findings, sketch: Sketch, axes: tuple[str, str], marked: Set[int],
        what: tuple[object, ...],
    ) -> None:  # fmt: skip
        """Show residuals. what : mode and controls; another one makes the picture fit anew."""
        self.sketch, self._names = sketch, axes
        if what != self._shown:
            self._shown, self._ties = what, None
        self.draw(findings, marked)
        self._draw_rest()

    def let_go(self) -> None:
        """The sketch too."""
        super().let_go()
        self.sketch = None
        self.thread.setData([], [])

    @property
    def present(self) -> Sketch:
        """The sketch that is shown."""
        assert self.sketch is not None
        return self.sketch

    def placed(self, points: Cloud | None) -> Cloud | None:
        """By the sketch."""
        return None if self.sketch is None else self.findings.points_of(self.sketch)

    def axis_name(self, axis: str) -> str:
        """As the way of showing them has it."""
        return "" if self.sketch is None else self._names["xy".index(axis)]

    def home(self) -> None:
        """Points, or bars with their curve."""
        sketch = self.sketch
        if sketch is not None and sketch.bars is not None:
            edges, curve = sketch.bars.edges, sketch.curves[0][1]
            top = max(float(sketch.bars.counts.max()), float(np.max(curve)))
            self.main.setXRange(float(edges[0]), float(edges[-1]), padding=0.04)
            self.main.setYRange(0, top * 1.05, padding=0)
        else:
            super().home()

    def extent(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Points, levels and the bright line."""
        across, (low, high) = super().extent()
        sketch = self.present
        others = [*sketch.levels] + ([sketch.bright] if sketch.bright is not None else [])
        return across, (min([low, *others]), max([high, *others]))

    def _draw_rest(self) -> None:
        sketch = self.present
        self.bright.setVisible(sketch.bright is not None)
        if sketch.bright is not None:
            self.bright.setValue(sketch.bright)
        for at, level in enumerate(self.levels):
            level.setVisible(at < len(sketch.levels))
            if at < len(sketch.levels):
                level.setValue(sketch.levels[at])
        for at, curve in enumerate(self.curves):
            curve.setData(*(sketch.curves[at] if at < len(sketch.curves) else ([], [])), connect="finite")
        there = np.isfinite(sketch.y)
        joined = sketch.joined and sketch.x.size <= _MOST_JOINED
        self.thread.setData(*((sketch.x[there], sketch.y[there]) if joined else ([], [])))
        if sketch.bars is None:
            self.bars.setOpts(x0=[], x1=[], y0=0, y1=[])
        else:
            edges = sketch.bars.edges
            self.bars.setOpts(x0=edges[:-1], x1=edges[1:], y0=0, y1=sketch.bars.counts,
                              pen=between_bars(edges.size - 1, self.tokens))  # fmt: skip
        if sketch.bars is not None:
            self.home()
