"""The fitted line over its points, with the interval band and the residuals on the same x."""

from __future__ import annotations

from collections.abc import Set

import numpy as np
import pyqtgraph as pg
from PyQt6.QtGui import QColor, QFont

from bright_tether.core.forecast import Forecasts
from bright_tether.live.findings import Findings
from bright_tether.pictures.strip import StripPicture
from bright_tether.theme.tokens import Tokens

#: Above this many points a thread from each to the line is a smear.
_MOST_THREADS = 400


class LinePicture(StripPicture):
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
        super().restyle(tokens)

    def draw(self, findings: Findings, marked: Set[int]) -> None:
        """Show a tether with its line, or its points alone where there is none."""
        if findings.refusal is None:
            self._draw_line(findings.band)
        else:
            for curve in (self.bright, self.band_low, self.band_high, self.threads):
                curve.setData([], [])
        super().draw(findings, marked)
        self._draw_residuals()

    def _draw_line(self, band: Forecasts) -> None:
        self.bright.setData(band.x, band.fitted)
        self.band_low.setData(band.x, band.ci[:, 0])
        self.band_high.setData(band.x, band.ci[:, 1])

    def _draw_residuals(self) -> None:
        findings = self.findings
        if self.cloud is None or findings.refusal is not None:
            self.put_below(None)
            return
        rows = findings.rows
        if rows.x.size <= _MOST_THREADS:
            self.threads.setData(np.repeat(rows.x, 2), np.stack((rows.y, rows.fitted), axis=1).ravel())
        else:
            self.threads.setData([], [])
        self.put_below(findings.residual_strip)

    def name_axes(self) -> None:
        """The x axis is named once, below the residuals."""
        self.name_strip(main_too=False)

    def extent(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Points and line."""
        (left, right), (low, high) = super().extent()
        if self.findings.refusal is None:
            band = self.findings.band
            left, right = min(left, float(band.x[0])), max(right, float(band.x[-1]))
            low, high = min(low, float(band.ci.min())), max(high, float(band.ci.max()))
        return (left, right), (low, high)
