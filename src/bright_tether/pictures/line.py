"""The fitted line over its points, with the interval band and the residuals on the same x."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from PyQt6.QtGui import QColor, QFont

from bright_tether.core.forecast import Forecasts
from bright_tether.live.findings import Findings
from bright_tether.pictures.density import Density, ring
from bright_tether.pictures.frame import plot, restyle_plot, with_room
from bright_tether.pictures.points import Points
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.theme.tokens import Tokens

#: Above this many points a thread from each to the line is a smear.
_MOST_THREADS = 400


class LinePicture(ScatterPicture):
    """Scatter, bright line and band above; the residuals below on the same x axis."""

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.band_low, self.band_high = pg.PlotCurveItem(), pg.PlotCurveItem()
        self.band = pg.FillBetweenItem(self.band_low, self.band_high)
        self.threads = pg.PlotCurveItem(connect="pairs")
        self.bright = pg.PlotCurveItem()
        for depth, item in ((-30, self.band), (-20, self.threads), (-10, self.bright)):
            item.setZValue(depth)
            self.main.addItem(item)
        self.strip = plot(tokens, font)
        self.strip.setXLink(self.main)
        self.level = pg.InfiniteLine(0, angle=0)
        self.level.setZValue(-10)
        self.strip.addItem(self.level)
        self.below = Points(self.strip, size=6)
        self.below_dense, self.below_marked = Density(self.strip), Density(self.strip, marked=True)
        self.addItem(self.strip, row=1, col=0)
        self.ci.layout.setRowStretchFactor(0, 3)
        self.ci.layout.setRowStretchFactor(1, 1)
        self.residuals: np.ndarray | None = None
        self._lend_hand(self.strip, lambda: self.residuals, movable=False)
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        soft = QColor(tokens.tether)
        soft.setAlpha(60)
        self.band.setBrush(pg.mkBrush(soft))
        for edge in (self.band_low, self.band_high):
            edge.setPen(pg.mkPen(None))
        self.bright.setPen(pg.mkPen(tokens.tether, width=3))
        self.level.setPen(pg.mkPen(tokens.tether, width=2))
        self.threads.setPen(pg.mkPen(tokens.faint))
        restyle_plot(self.strip, tokens, self.own_font)
        for part in (self.below, self.below_dense, self.below_marked):
            part.restyle(tokens)
        super().restyle(tokens)

    def let_go(self) -> None:
        """The residuals too."""
        super().let_go()
        self.residuals = None
        self.below_dense.put(None)
        self.below_marked.put(None)
        self.below.draw(None, None, np.zeros(0, bool))

    def draw(self, findings: Findings, marked: frozenset[int]) -> None:
        """Show a tether with its line, or its points alone where there is none."""
        if findings.refusal is None:
            self._draw_line(findings.band)
        else:
            for curve in (self.bright, self.band_low, self.band_high, self.threads):
                curve.setData([], [])
            self.residuals = None
        super().draw(findings, marked)
        self._draw_residuals()

    def _draw_line(self, band: Forecasts) -> None:
        self.bright.setData(band.x, band.fitted)
        self.band_low.setData(band.x, band.ci[:, 0])
        self.band_high.setData(band.x, band.ci[:, 1])

    def _draw_residuals(self) -> None:
        points, findings = self.cloud, self.findings
        if points is None or findings.refusal is not None:
            self.below.draw(None, None, np.zeros(0, bool))
            self.below_dense.put(None)
            self.below_marked.put(None)
            return
        rows, strip = findings.rows, findings.residual_strip
        self.residuals = strip.heights
        if rows.x.size <= _MOST_THREADS:
            self.threads.setData(np.repeat(rows.x, 2), np.stack((rows.y, rows.fitted), axis=1).ravel())
        else:
            self.threads.setData([], [])
        self.below_dense.put(strip.dense)
        if strip.dense is None:
            self.below.draw(points, self.residuals, self.mask())
        else:
            self.below.draw(None, None, np.zeros(0, bool))
        self._ring_below()
        if not self._moving:
            self.strip.setYRange(*with_room(-strip.largest, strip.largest, 0.08), padding=0)

    def name_axes(self) -> None:
        """The x axis is named once, below the residuals."""
        x = self.axis_name("x")
        self.main.getAxis("left").name(self.axis_name("y"), self.tokens)
        self.main.getAxis("bottom").name(x, self.tokens, shown=False)
        self.strip.getAxis("bottom").name(x, self.tokens)
        self.strip.getAxis("left").name("residual", self.tokens)

    def show_mark(self, marked: frozenset[int]) -> None:
        """Ring these rows in both plots."""
        super().show_mark(marked)
        self._ring_below()

    def _ring_below(self) -> None:
        if self.cloud is not None and self.residuals is not None:
            mask = self.mask() & np.isfinite(self.residuals)
            ring(self.below, self.below_marked, self.cloud, self.residuals, mask)

    def extent(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Points and line."""
        (left, right), (low, high) = super().extent()
        if self.findings.refusal is None:
            band = self.findings.band
            left, right = min(left, float(band.x[0])), max(right, float(band.x[-1]))
            low, high = min(low, float(band.ci.min())), max(high, float(band.ci.max()))
        return (left, right), (low, high)
