"""All rows of a table that stays where it is, as a density, with their line and that of the share."""

from __future__ import annotations

import pyqtgraph as pg
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QFont

from bright_tether.core.results import Refusal
from bright_tether.live.all_rows import AllRows
from bright_tether.live.cloud import Cloud
from bright_tether.live.findings import Findings
from bright_tether.pictures.density import ramp_of, shaded
from bright_tether.pictures.frame import number_axes, with_room
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d


class AllRowsPicture(ScatterPicture):
    """Cells the darker, the more pairs lie in them; the bright line is of all pairs, the thin one of the share."""

    movable = False

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        self.found: AllRows | None = None
        super().__init__(tokens, font, name)
        self.cells = pg.ImageItem(axisOrder="row-major")
        self.band_low, self.band_high = pg.PlotCurveItem(), pg.PlotCurveItem()
        self.band = pg.FillBetweenItem(self.band_low, self.band_high)
        self.bright, self.of_share = pg.PlotCurveItem(), pg.PlotCurveItem()
        for depth, item in ((-40, self.cells), (-30, self.band), (-20, self.bright), (-10, self.of_share)):
            item.setZValue(depth)
            self.main.addItem(item, ignoreBounds=True)
        self.legend = pg.LegendItem(offset=(10, 6), verSpacing=-2)
        self.legend.setParentItem(self.main.getViewBox())
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        soft = QColor(tokens.tether)
        soft.setAlpha(60)
        self.band.setBrush(pg.mkBrush(soft))
        self.bright.setPen(pg.mkPen(tokens.tether, width=3))
        self.of_share.setPen(pg.mkPen(tokens.ink, width=1.4, style=Qt.PenStyle.DashLine))
        super().restyle(tokens)
        self._paint_cells()

    def show_all(self, findings: Findings, found: AllRows | None) -> None:
        """Show all rows, or nothing while they are not known."""
        self.found = found if found is not None and found.far is not None else None
        self.draw(findings, frozenset())
        self._paint_cells()
        number_axes(self, self.found is not None)
        self.home()
        for curve in (self.bright, self.of_share, self.band_low, self.band_high):
            curve.setData([], [])
        if self.found is None or self.found.far is None:
            return
        pairs = d.count(self.found.far.pairs.n, "pair")
        self.setAccessibleDescription(
            f"{pairs} in cells: {self.axis_name('y')} against {self.axis_name('x')}"
        )
        band = self.found.far.band
        self.bright.setData(band.x, band.fitted)
        self.band_low.setData(band.x, band.ci[:, 0])
        self.band_high.setData(band.x, band.ci[:, 1])
        try:
            line = findings.plain_line
        except Refusal:
            return
        if line.slope is not None and line.intercept is not None:
            self.of_share.setData(band.x, line.intercept + line.slope * band.x)

    def placed(self, points: Cloud | None) -> Cloud | None:
        """No row by itself: all of them are cells."""
        return None

    def home(self) -> None:
        """Show all pairs, with room."""
        if self.found is not None:
            across, up = self.extent()
            self.main.setXRange(*with_room(*across), padding=0)
            self.main.setYRange(*with_room(*up), padding=0)

    def extent(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Where all pairs lie."""
        if self.found is None:
            return super().extent()
        left, right, low, high = self.found.ends
        return (left, right), (low, high)

    def _paint_cells(self) -> None:
        if not hasattr(self, "legend"):
            return
        self.legend.clear()
        self.legend.setLabelTextColor(self.tokens.ink)
        self.cells.setVisible(self.found is not None)
        if self.found is None or self.found.counts is None:
            return
        left, right, low, high = self.found.ends
        self.cells.setImage(shaded(self.found.counts, ramp_of(self.tokens)), autoLevels=False)
        self.cells.setRect(QRectF(left, low, (right - left) or 1.0, (high - low) or 1.0))
        self.legend.addItem(self.bright, "all rows")
        self.legend.addItem(self.of_share, "the share")
