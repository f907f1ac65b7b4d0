"""The forecast over its points: both intervals, marks to drag, and where nothing was measured."""

from __future__ import annotations

from collections.abc import Set

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont

from bright_tether.core.forecast import Forecasts
from bright_tether.core.shape.local import LocalBand
from bright_tether.live.findings import Findings
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.pictures.sure import sure
from bright_tether.theme.tokens import Tokens

_MOST_MARKS = 24


class ForecastPicture(ScatterPicture):
    """Line, interval for the mean (dark), interval for one case (light), a mark at each x, kept cases as diamonds.

    mark_moved : a mark under the hand: its place in the list, x on the line's own scale, let go or not.
    bandwidth_moved : half the window of the smooth under the hand, let go or not.
    """

    mark_moved = pyqtSignal(int, float, bool)
    bandwidth_moved = pyqtSignal(float, bool)
    movable = False

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        self._told: Forecasts | None = None
        self._beside: Forecasts | None = None
        super().__init__(tokens, font, name)
        self.bright = pg.PlotCurveItem()
        self.edges = {key: (pg.PlotCurveItem(), pg.PlotCurveItem()) for key in ("pi", "ci", "band", "spread")}
        self.bands = {key: pg.FillBetweenItem(*self.edges[key]) for key in ("pi", "ci")}
        self.beyond = [pg.LinearRegionItem(movable=False) for _ in range(2)]
        for depth, item in (
            *((-60, region) for region in self.beyond), (-32, self.bands["pi"]), (-31, self.bands["ci"]),
            *((-20, edge) for key in ("band", "spread") for edge in self.edges[key]), (-10, self.bright),
        ):  # fmt: skip
            item.setZValue(depth)
            self.main.addItem(item, ignoreBounds=True)
        self.smooth = pg.PlotCurveItem()
        self.smooth_edges = (pg.PlotCurveItem(), pg.PlotCurveItem())
        self.smooth_band = pg.FillBetweenItem(*self.smooth_edges)
        self.window_of = pg.LinearRegionItem(movable=False)
        for depth, item in ((-33, self.window_of), (-30, self.smooth_band), (-9, self.smooth)):
            item.setZValue(depth)
            self.main.addItem(item, ignoreBounds=True)
        self.reach = pg.InfiniteLine(0, angle=90, movable=True, label="bandwidth",
                                     labelOpts={"position": 0.06, "anchors": [(0, 0.5), (0, 0.5)]})  # fmt: skip
        self.reach.sigDragged.connect(lambda _: self._reached(last=False))
        self.reach.sigPositionChangeFinished.connect(lambda _: self._reached(last=True))
        self.main.addItem(self.reach, ignoreBounds=True)
        self._centre = 0.0
        self._reaching = False
        self.marks: list[pg.InfiniteLine] = []
        self.bars = pg.ErrorBarItem(x=np.zeros(0), y=np.zeros(0), top=np.zeros(0), bottom=np.zeros(0))
        self.main.addItem(self.bars, ignoreBounds=True)
        self.kept = pg.ScatterPlotItem(symbol="d", size=13)
        self.main.addItem(self.kept, ignoreBounds=True)
        self._held = False
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.bright.setPen(pg.mkPen(tokens.tether, width=3))
        for key, alpha in (("pi", 34), ("ci", 90)):
            soft = QColor(tokens.tether)
            soft.setAlpha(alpha)
            self.bands[key].setBrush(pg.mkBrush(soft))
            for edge in self.edges[key]:
                edge.setPen(pg.mkPen(None))
        for key, style in (("band", Qt.PenStyle.DotLine), ("spread", Qt.PenStyle.DashLine)):
            for edge in self.edges[key]:
                edge.setPen(pg.mkPen(tokens.muted, style=style))
        self.smooth.setPen(pg.mkPen(tokens.hues[1], width=2.4))
        soft = QColor(tokens.hues[1])
        soft.setAlpha(60)
        self.smooth_band.setBrush(pg.mkBrush(soft))
        for edge in self.smooth_edges:
            edge.setPen(pg.mkPen(None))
        soft.setAlpha(22)
        self.window_of.setBrush(pg.mkBrush(soft))
        for edge in self.window_of.lines:
            edge.setPen(pg.mkPen(None))
        self.reach.setPen(pg.mkPen(tokens.hues[1], width=1.6, style=Qt.PenStyle.DashLine))
        self.reach.setHoverPen(pg.mkPen(tokens.hues[1], width=3))
        self.reach.label.setColor(tokens.hues[1])
        shade = QColor(tokens.hues[-1])
        shade.setAlpha(34)
        for region in self.beyond:
            region.setBrush(pg.mkBrush(shade))
            for edge in region.lines:
                edge.setPen(pg.mkPen(None))
        self.bars.setData(pen=pg.mkPen(tokens.ink, width=2))
        self.kept.setPen(pg.mkPen(tokens.ink, width=2))
        self.kept.setBrush(pg.mkBrush(tokens.tether))
        super().restyle(tokens)

    def draw(self, findings: Findings, marked: Set[int]) -> None:
        """Show a tether with what is forecast."""
        there = findings.refusal is None
        self._told = findings.bands(findings.rules.level) if there else None
        self._beside = findings.bands_by_spread(findings.rules.level) if there else None
        super().draw(findings, marked)
        curves = [self.bright, *(edge for pair in self.edges.values() for edge in pair)]
        for curve in curves:
            curve.setData([], [])
        self.kept.setData(pos=np.array(findings.kept_points if there else (), float).reshape(-1, 2))
        for region in self.beyond:
            region.setVisible(there)
        self._draw_smooth(findings if there and findings.tether.forecast.local else None)
        if not there:
            self._put_marks(np.zeros(0))
            return
        band = sure(self._told)
        self.bright.setData(band.x, band.fitted)
        for key in ("ci", "pi", *(("band",) if findings.tether.forecast.band else ())):
            for side, edge in enumerate(self.edges[key]):
                edge.setData(band.x, getattr(band, key)[:, side])
        if self._beside is not None:
            for side, edge in enumerate(self.edges["spread"]):
                edge.setData(band.x, self._beside.pi[:, side])
        low, high = findings.pairs.ends_x
        far = (high - low) * 100
        self.beyond[0].setRegion((low - far, low))
        self.beyond[1].setRegion((high, high + far))
        x = np.array([inner for _, inner in findings.reached_x])
        forecasts = findings.forecasts(tuple(x.tolist()), findings.tether.forecast.mean_of)
        below, above = np.nan_to_num(np.abs(forecasts.pi - forecasts.fitted[:, None])).T
        self.bars.setData(x=x, y=forecasts.fitted, top=above, bottom=below,
                          beam=float(np.ptp(band.x)) / 60)  # fmt: skip
        self._put_marks(x)

    def _draw_smooth(self, findings: Findings | None) -> None:
        """The smooth with its band, and its window about the first x asked for."""
        found = None if findings is None else findings.local_band
        there = isinstance(found, LocalBand)
        for curve in (self.smooth, *self.smooth_edges):
            curve.setData([], [])
        self.window_of.setVisible(there)
        self.reach.setVisible(there)
        if findings is None or not isinstance(found, LocalBand):
            return
        self.smooth.setData(found.x, found.mean, connect="finite")
        for side, edge in enumerate(self.smooth_edges):
            known = np.isfinite(found.mean)  # a filled band bears no hole
            edge.setData(found.x[known], found.ci[known, side])
        at = [inner for _, inner in findings.placed_x] or [float(np.median(found.x))]
        self._centre = at[0]
        low, high = float(found.x[0]), float(found.x[-1])
        side = (
            1 if self._centre <= (low + high) / 2 else -1
        )  # the hand stays where there is room, and in sight
        room = max(high - self._centre if side > 0 else self._centre - low, 0.0)
        self.window_of.setRegion((self._centre - found.bandwidth, self._centre + found.bandwidth))
        if not self._reaching:
            self.reach.blockSignals(True)
            self.reach.setValue(self._centre + side * min(found.bandwidth, room))
            self.reach.blockSignals(False)

    def _reached(self, *, last: bool) -> None:
        self._reaching = self._moving = not last
        wide = abs(float(self.reach.value()) - self._centre)
        if wide > 0:
            self.bandwidth_moved.emit(wide, last)

    def extent(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Points, both intervals, and every x asked for."""
        (left, right), (low, high) = super().extent()
        band = self._told
        if band is None:
            return (left, right), (low, high)
        ends = band.pi if np.isfinite(band.pi).all() else band.ci
        if self._beside is not None and np.isfinite(self._beside.pi).all():
            ends = np.r_[ends, self._beside.pi]
        x, y = self.kept.getData()
        across, up = np.r_[band.x[[0, -1]], x], np.r_[ends.min(), ends.max(), y]
        return (
            (min(left, float(across.min())), max(right, float(across.max()))),
            (min(low, float(up.min())), max(high, float(up.max()))),
        )

    def _put_marks(self, x: np.ndarray) -> None:
        x = x[:_MOST_MARKS]
        while len(self.marks) > x.size:
            self.main.removeItem(self.marks.pop())
        while len(self.marks) < x.size:
            line = pg.InfiniteLine(0, angle=90, movable=True)
            line.setPen(pg.mkPen(self.tokens.ink, width=1.5))
            line.setHoverPen(pg.mkPen(self.tokens.ink, width=3))
            line.sigDragged.connect(lambda one: self._moved(one, last=False))
            line.sigPositionChangeFinished.connect(lambda one: self._moved(one, last=True))
            self.main.addItem(line, ignoreBounds=True)
            self.marks.append(line)
        if not self._held:
            for line, value in zip(self.marks, x.tolist(), strict=True):
                line.blockSignals(True)
                line.setValue(value)
                line.blockSignals(False)

    def _moved(self, line: pg.InfiniteLine, *, last: bool) -> None:
        self._held = self._moving = not last
        if line not in self.marks:
            return  # it went while the hand still held it
        self.mark_moved.emit(self.marks.index(line), float(line.value()), last)
