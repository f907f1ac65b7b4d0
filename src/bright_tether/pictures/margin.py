"""One column beside an axis: histogram and box."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPainterPath, QPen, QPolygonF

from bright_tether.core.shape.fences import Fences
from bright_tether.core.shape.histogram import Histogram
from bright_tether.live.scenes import Spread
from bright_tether.theme.tokens import Tokens

#: Where the box stands, below the bars whose tallest reaches 1.
_BOX, _BOX_HALF = -0.24, 0.11


class Pile(pg.GraphicsObject):
    """Bars of a histogram with the box below them; upright, or lying for a vertical axis."""

    def __init__(self, *, lying: bool = False) -> None:
        super().__init__()
        self._lying = lying
        self.bars, self.box = QPainterPath(), QPainterPath()
        self._beyond = QPolygonF()
        self._bounds = QRectF()
        self._fill, self._line = QBrush(), QPen()

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        soft = QColor(tokens.hues[0])
        soft.setAlpha(110)
        self._fill = QBrush(soft)
        self._line = QPen(QColor(tokens.ink), 1.3)
        self._line.setCosmetic(True)
        self.update()

    def put(self, counted: Histogram | None, fenced: Fences | None, beyond: np.ndarray) -> None:
        """Show bars and box; None hides them. beyond : (k,) values outside the fences, drawn as points."""
        self.prepareGeometryChange()
        self.bars, self.box, self._bounds = QPainterPath(), QPainterPath(), QRectF()
        if counted is not None:
            tall = max(int(counted.counts.max()), 1)
            for count, left, right in zip(
                (counted.counts / tall).tolist(),
                counted.edges[:-1].tolist(),
                counted.edges[1:].tolist(),
                strict=True,
            ):
                if count:
                    self.bars.addRect(self._area(left, right, 0, count))
        if fenced is not None:
            self.box.addRect(self._area(fenced.q1, fenced.q3, _BOX - _BOX_HALF, _BOX + _BOX_HALF))
            for start, end, low, high in (
                (fenced.median, fenced.median, _BOX - _BOX_HALF, _BOX + _BOX_HALF),
                (fenced.low_whisker, fenced.q1, _BOX, _BOX),
                (fenced.q3, fenced.high_whisker, _BOX, _BOX),
            ):
                self.box.moveTo(self._spot(start, low))
                self.box.lineTo(self._spot(end, high))
        self._beyond = QPolygonF()
        if counted is not None:
            low, high = float(counted.edges[0]), float(counted.edges[-1])
            self._beyond = QPolygonF([self._spot(one, _BOX) for one in beyond.tolist()])
            self._bounds = self._area(low, high, _BOX - _BOX_HALF, 1.0)
        self.update()

    def _spot(self, value: float, height: float) -> QPointF:
        return QPointF(height, value) if self._lying else QPointF(value, height)

    def _area(self, left: float, right: float, low: float, high: float) -> QRectF:
        return QRectF(self._spot(left, low), self._spot(right, high)).normalized()

    def boundingRect(self) -> QRectF:
        """Bars and box."""
        return self._bounds

    def paint(self, painter: QPainter, option: object, widget: object = None) -> None:
        """Bars, box, points beyond the fences."""
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self._fill)
        painter.drawPath(self.bars)
        painter.setPen(self._line)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(self.box)
        dot = QPen(self._line)
        dot.setWidthF(4)
        dot.setCosmetic(True)
        dot.setCapStyle(Qt.PenCapStyle.RoundCap)
        painter.setPen(dot)
        if not self._beyond.isEmpty():
            painter.drawPoints(self._beyond)


class Margin:
    """A plot beside an axis of another, on the same scale, with one pile in it."""

    def __init__(self, beside: pg.PlotItem, side: str) -> None:
        self._lying = side == "right"
        self.item = pg.PlotItem(enableMenu=False)
        self.item.hideButtons()
        self._across, self._along = ("left", "bottom") if self._lying else ("bottom", "left")
        self.item.hideAxis(self._across)
        self._blank(beside)
        self.item.setMouseEnabled(False, False)
        self.pile = Pile(lying=self._lying)
        self.item.addItem(self.pile)
        room = (_BOX - _BOX_HALF - 0.05, 1.05)
        if self._lying:
            self.item.setYLink(beside)
            self.item.setXRange(*room, padding=0)
        else:
            self.item.setXLink(beside)
            self.item.setYRange(*room, padding=0)

    def _blank(self, beside: pg.PlotItem) -> None:
        """Keep as much room as the axis of the other plot takes, so that no bar hangs out beyond it."""
        blank, axis = self.item.getAxis(self._along), beside.getAxis(self._along)
        blank.setTicks([])
        blank.setPen(None)

        def follow() -> None:
            size = axis.size()
            if self._lying and blank.height() != size.height():
                blank.setHeight(size.height())
            elif not self._lying and blank.width() != size.width():
                blank.setWidth(size.width())

        axis.geometryChanged.connect(follow)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.pile.restyle(tokens)

    def draw(self, shown: Spread | None) -> None:
        """Show how a column spreads; None hides it."""
        if shown is None:
            self.pile.put(None, None, np.zeros(0))
        else:
            self.pile.put(shown.counted, shown.fenced, shown.beyond)
