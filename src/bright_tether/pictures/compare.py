"""Lines side by side: a line and a band for each group, and their slopes on one scale."""

from __future__ import annotations

from collections.abc import Set
from itertools import zip_longest
from typing import Any, NamedTuple

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QPainter, QPen, QTransform
from PyQt6.QtWidgets import QWidget
from pyqtgraph.graphicsItems.ScatterPlotItem import Symbols

from bright_tether.claims.compare import deciding
from bright_tether.core.forecast import forecast
from bright_tether.core.results import Floats, Interval
from bright_tether.live.cloud import MOST_GROUPS, Cloud
from bright_tether.live.comparison import Comparison
from bright_tether.live.findings import Findings
from bright_tether.live.scenes import FOREIGN, ComparePoints
from bright_tether.pictures.frame import with_room
from bright_tether.pictures.strip import StripPicture
from bright_tether.pictures.sure import sure
from bright_tether.theme.tokens import SHAPES, Tokens
from bright_tether.words import digits as d
from bright_tether.words.axes import even_places
from bright_tether.words.reading import there
from bright_tether.words.readings.compare import comparison_of

#: What the ladder's rungs draw.
RUNGS = ("a line each", "parallel", "one line for all")
#: Of the height of points and lines, what a band may reach beyond them before it leaves the picture.
_BAND_ROOM = 0.25


class _Curve(NamedTuple):
    """One group's line at x, (60,). heights : the line's, and the two ends of its band where it has one."""

    x: Floats
    heights: Floats


class ComparePicture(StripPicture):
    """Points and lines by group, residuals below; the lines of a lower rung on demand."""

    movable = False

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.rung = RUNGS[0]
        self._curves: list[_Curve | None] = []
        self.lines = [pg.PlotCurveItem() for _ in range(MOST_GROUPS)]
        self.edges = [(pg.PlotCurveItem(), pg.PlotCurveItem()) for _ in range(MOST_GROUPS)]
        self.bands = [pg.FillBetweenItem(*pair) for pair in self.edges]
        for line, band in zip(self.lines, self.bands, strict=True):
            for depth, item in ((-30, band), (-10, line)):
                item.setZValue(depth)
                self.main.addItem(item, ignoreBounds=True)
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.level.setPen(pg.mkPen(tokens.muted))
        for hue, line, band in zip(tokens.hues, self.lines, self.bands, strict=True):
            line.setPen(pg.mkPen(hue, width=2.5))
            soft = QColor(hue)
            soft.setAlpha(36)
            band.setBrush(pg.mkBrush(soft))
        super().restyle(tokens)

    def placed(self, points: Cloud | None) -> Cloud | None:
        """The points of every group; those of another table cannot be marked."""
        found = self._found()
        return points if found is None else found.points

    def _found(self) -> ComparePoints | None:
        return None if comparison_of(self.findings) is None else self.findings.compare_points

    def draw(self, findings: Findings, marked: Set[int]) -> None:
        """Show a tether with the lines it is compared with."""
        comparison, level = comparison_of(findings), findings.rules.level
        self._curves = [self._curve(at, comparison, level) for at in range(MOST_GROUPS)]
        super().draw(findings, marked)
        found = self._found()
        for at in range(MOST_GROUPS):
            self._draw_group(at)
        self.strip.setVisible(comparison is not None)
        self.put_below(None if found is None or self.cloud is None else found.strip)

    def axis_name(self, axis: str) -> str:
        """Both responses, or the columns of both tethers, where there are two."""
        comparison = comparison_of(self.findings)
        if axis == "y" and comparison is not None and comparison.source == "responses":
            return " and ".join(group.name for group in comparison.groups)
        own, other = super().axis_name(axis), self.findings.other
        if comparison is None or comparison.source != "tethers" or other is None:
            return own
        theirs = (other.x_column if axis == "x" else other.y_column).name
        return own if theirs == own else f"{own} and {theirs}"

    def row_in_words(self, at: int) -> str:
        """A row with its group and value."""
        points = self.seen
        if points.row_ids[at] == FOREIGN or comparison_of(self.findings) is None:
            return f"{points.groups[points.group[at]]}" if points.groups else super().row_in_words(at)
        name = points.groups[points.group[at]]
        x, y = d.entered(float(points.x[at])), d.entered(float(points.y[at]))
        return f"row {points.at[at] + 1}, {name}: {self.findings.x_column.short} {x}, {y}"

    def name_axes(self) -> None:
        """The x axis is named below the residuals."""
        self.name_strip(main_too=comparison_of(self.findings) is None)

    def extent(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Points and lines; bands too, as far as they do not press the points together."""
        across, (low, high) = super().extent()
        shown = [curve.heights for curve in self._curves if curve is not None]
        if shown:
            lines = np.concatenate(([low, high], *(one[0] for one in shown)))
            bands = np.concatenate([one.ravel() for one in shown])
            low, high = float(np.nanmin(lines)), float(np.nanmax(lines))
            room = (high - low) * _BAND_ROOM
            low = max(low - room, min(low, float(np.nanmin(bands))))
            high = min(high + room, max(high, float(np.nanmax(bands))))
        return across, (low, high)

    def _curve(self, at: int, comparison: Comparison | None, level: float) -> _Curve | None:
        """What is drawn of one group on the rung that is shown."""
        if comparison is None or at >= len(comparison.groups) or comparison.groups[at].fit is None:
            return None
        group = comparison.groups[at]
        x = np.linspace(float(group.pairs.x.min()), float(group.pairs.x.max()), 60)
        if self.rung == RUNGS[0] or comparison.units_differ:
            band = forecast(sure(group.fit), x, level=level, errors=group.errors)
            return _Curve(x, np.stack((band.fitted, band.ci[:, 0], band.ci[:, 1])))
        rungs = comparison.ladder
        if rungs.common_slope is None:
            return None
        if self.rung == RUNGS[1]:
            lined = [one for one in comparison.groups if one.fit is not None and one.errors is not None]
            height = rungs.heights[lined.index(group)] if group in lined else 0.0
            return _Curve(x, (height + rungs.common_slope * x)[None])
        return _Curve(x, (there(rungs.one_intercept) + there(rungs.one_slope) * x)[None])

    def _draw_group(self, at: int) -> None:
        curve = self._curves[at]
        drawn = [] if curve is None else list(curve.heights)
        for item, heights in zip_longest((self.lines[at], *self.edges[at]), drawn):
            if heights is None or curve is None:
                item.setData([], [])
            else:
                item.setData(curve.x, heights)


class SlopesScale(QWidget):
    """Slopes with intervals on one scale, the difference on its own about 0, and a margin to drag.

    margin_moved : the margin under the hand; margin_set : where it was let go.
    """

    margin_set = pyqtSignal(float)

    def __init__(self, tokens: Tokens, font: QFont) -> None:
        super().__init__()
        self._tokens, self._font = tokens, font
        self._findings: Findings | None = None
        self._made: Comparison | None = None
        self._dragged: float | None = None
        self.setAccessibleName("Slopes on one scale")
        self.setMouseTracking(True)

    def sizeHint(self) -> QSize:
        """A strip a group with their scale; where two are subtracted, one for the difference with its own."""
        groups = 0 if self._made is None else min(len(self._made.groups), 8)
        subtracted = self._made is not None and deciding(self._made) is not None
        return QSize(400, 26 * groups + (96 if subtracted else 30))

    def draw(self, findings: Findings) -> None:
        """Show a comparison."""
        comparison = comparison_of(findings)
        # slopes in different units have no scale in common
        self._findings, self._made = (
            findings,
            None if comparison is None or comparison.units_differ else comparison,
        )
        self.setFixedHeight(self.sizeHint().height() if self._made else 0)
        self.update()

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self._tokens = tokens
        self.update()

    @property
    def margin(self) -> float | None:
        """The margin shown: under the hand, or in force."""
        return self._dragged if self._dragged is not None else sure(self._findings).tether.compare.margin

    def paintEvent(self, event: Any) -> None:
        """Paint on the widget."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.paint(painter, QRectF(self.rect()))

    def paint(self, painter: QPainter, area: QRectF) -> None:
        """Paint at the top left of any page, as wide as the widget."""
        if self._made is None:
            return
        t, font = self._tokens, QFont(self._font)
        font.setPixelSize(11)
        painter.setFont(font)
        lined = [(at, group, group.line.slope, group.judged.ci_slope)
                 for at, group in enumerate(self._made.groups[:8])
                 if group.line is not None and group.line.slope is not None
                 and group.judged is not None and group.judged.ci_slope]  # fmt: skip
        top = 4.0
        if lined:
            ends = [end for *_, ci in lined for end in ci]
            self._span = with_room(min(ends), max(ends), 0.06)
            for at, group, slope, ci in lined:
                self._row(painter, top, group.name, slope, ci,
                          t.hues[min(at, MOST_GROUPS - 1)], SHAPES[min(at, MOST_GROUPS - 1)])  # fmt: skip
                top += 26
            self._scale(painter, top)
        one = deciding(self._made)
        if one is not None and one.ci is not None:
            margin = self.margin or 0.0
            reach = max(abs(one.ci[0]), abs(one.ci[1]), abs(margin)) * 1.15 or 1.0
            self._span = (-reach, reach)
            top += 26
            if margin:
                soft = QColor(t.hues[3])
                soft.setAlpha(50)
                left, right = self._x(-margin), self._x(margin)
                painter.fillRect(QRectF(left, top - 2, right - left, 28), soft)
                painter.setPen(QPen(QColor(t.hues[3]), 2))
                for edge in (left, right):
                    painter.drawLine(QPointF(edge, top - 2), QPointF(edge, top + 26))
            painter.setPen(QPen(QColor(t.muted), 1, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(self._x(0), top - 2), QPointF(self._x(0), top + 26))
            self._row(painter, top, "difference", there(one.difference), one.ci, t.ink, "d")
            self._difference_top = top
            self._scale(painter, top + 26)

    def mousePressEvent(self, event: Any) -> None:
        """Take hold of the margin."""
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: Any) -> None:
        """Drag the margin."""
        if (
            self._made is None
            or not event.buttons() & Qt.MouseButton.LeftButton
            or not hasattr(self, "_difference_top")
        ):
            return
        left, right = 118.0, self.width() - 14.0
        share = (event.position().x() - left) / (right - left)
        value = abs(self._span[0] + share * (self._span[1] - self._span[0]))
        self._dragged = float(f"{value:.2g}")
        self.update()

    def mouseReleaseEvent(self, event: Any) -> None:
        """Let the margin go where it is."""
        if self._dragged:
            value, self._dragged = self._dragged, None
            self.margin_set.emit(value)

    def _row(
        self, painter: QPainter, top: float, name: str, value: float, ci: Interval, hue: str, shape: str
    ) -> None:
        t = self._tokens
        painter.setPen(QColor(t.ink))
        text = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, 108)
        painter.drawText(QRectF(0, top, 112, 24), Qt.AlignmentFlag.AlignVCenter, text)
        colour, middle = QColor(hue), top + 12
        painter.setPen(QPen(colour, 3))
        painter.drawLine(QPointF(self._x(ci[0]), middle), QPointF(self._x(ci[1]), middle))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour)
        painter.drawPath(QTransform.fromScale(12, 12).map(Symbols[shape]).translated(self._x(value), middle))

    def _scale(self, painter: QPainter, top: float) -> None:
        t, (low, high) = self._tokens, self._span
        painter.setPen(QPen(QColor(t.faint), 1))
        painter.drawLine(QPointF(self._x(low), top), QPointF(self._x(high), top))
        painter.setPen(QColor(t.muted))
        for value, decimals in even_places(low, high):
            place = QRectF(self._x(value) - 40, top + 2, 80, 14)
            painter.drawText(place, Qt.AlignmentFlag.AlignHCenter, d.fixed(value, decimals))

    def _x(self, value: float) -> float:
        left, right = 118.0, self.width() - 30.0
        low, high = self._span
        return left + (value - low) / (high - low) * (right - left)
