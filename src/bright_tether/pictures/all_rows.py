"""All rows of a table that stays where it is, as a density, with their line and that of the share."""

from __future__ import annotations

import pyqtgraph as pg
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QFont

from bright_tether.core.results import Ints, Refusal
from bright_tether.live.all_rows import AllRows, Closer
from bright_tether.live.cloud import Cloud
from bright_tether.live.findings import Findings
from bright_tether.pictures.density import ramp_of, shaded
from bright_tether.pictures.frame import number_axes, with_room
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.pictures.sure import sure
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d

#: Ends of x and of y.
Ends = tuple[float, float, float, float]
#: From this share of all rows on, across and up, their own cells are fine enough.
_MUCH = 0.7


class AllRowsPicture(ScatterPicture):
    """Cells the darker, the more pairs lie in them; the bright line is of all pairs, the thin one of the share."""

    movable = False

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        self.found: AllRows | None = None
        super().__init__(tokens, font, name)
        self._closer: Closer | None = None
        self.cells, self.close_cells = (pg.ImageItem(axisOrder="row-major") for _ in range(2))
        self.band_low, self.band_high = pg.PlotCurveItem(), pg.PlotCurveItem()
        self.band = pg.FillBetweenItem(self.band_low, self.band_high)
        self.bright, self.of_share = pg.PlotCurveItem(), pg.PlotCurveItem()
        for depth, item in enumerate(
            (self.cells, self.close_cells, self.band, self.bright, self.of_share), -40
        ):
            item.setZValue(depth)
            self.main.addItem(item, ignoreBounds=True)
        sure(self.main.getViewBox()).sigRangeChanged.connect(lambda *_: self._cover())
        self.legend = pg.LegendItem(offset=(10, 6), verSpacing=-2)
        self.legend.setParentItem(self.main.getViewBox())
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        soft = QColor(tokens.tether)
        soft.setAlpha(60)
        self.band.setBrush(pg.mkBrush(soft))
        self.bright.setPen(pg.mkPen(tokens.tether, width=3))
        ground = QColor(tokens.card)
        ground.setAlpha(225)
        self.legend.setBrush(pg.mkBrush(ground))  # it may lie on the darkest cells
        self.of_share.setPen(pg.mkPen(tokens.ink, width=1.4, style=Qt.PenStyle.DashLine))
        super().restyle(tokens)
        self._paint_cells()

    def show_all(self, findings: Findings, found: AllRows | None) -> None:
        """Show all rows, or nothing while they are not known."""
        if found is not self.found:
            self._closer = None
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

    @property
    def looked_into(self) -> Ends | None:
        """The view, where it shows much less than all rows."""
        if self.found is None:
            return None
        (left, right), (low, high) = self.main.viewRange()
        across, up = ((end - start) or 1.0 for start, end in self.extent())
        if (right - left) > _MUCH * across and (high - low) > _MUCH * up:
            return None
        return left, right, low, high

    def show_closer(self, closer: Closer | None) -> None:
        """Show what is in view in cells of its own."""
        self._closer = closer if closer is not None and closer.counts is not None else None
        self._paint_cells()

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

    def _cover(self) -> None:
        """The closer look stands instead of all cells where it reaches over all that is in view."""
        covered = False
        if self._closer is not None:
            left, right, low, high = self._closer.ends
            (first, last), (down, up) = self.main.viewRange()
            covered = left <= first and last <= right and low <= down and up <= high
        self.close_cells.setVisible(self._closer is not None)
        self.cells.setVisible(self.found is not None and not covered)

    def _put(self, image: pg.ImageItem, counts: Ints, ends: Ends) -> None:
        left, right, low, high = ends
        image.setImage(shaded(counts, ramp_of(self.tokens)), autoLevels=False)
        image.setRect(QRectF(left, low, (right - left) or 1.0, (high - low) or 1.0))

    def _paint_cells(self) -> None:
        if not hasattr(self, "legend"):
            return
        self.legend.clear()
        self.legend.setLabelTextColor(self.tokens.ink)
        self.cells.setVisible(self.found is not None)
        if self.found is None or self.found.counts is None:
            return
        self._put(self.cells, self.found.counts, self.found.ends)
        self._cover()
        if self._closer is not None and self._closer.counts is not None:
            self._put(self.close_cells, self._closer.counts, self._closer.ends)
        self.legend.addItem(self.bright, "all rows")
        self.legend.addItem(self.of_share, "the share")
