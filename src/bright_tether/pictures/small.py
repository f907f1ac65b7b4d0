"""A picture of the residuals at the size of a card: drawn at once, without instruments."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any
from weakref import ref

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPen, QPixmap
from PyQt6.QtWidgets import QSizePolicy, QWidget

from bright_tether.core.results import Ints
from bright_tether.live.sketches import MOST_ON_CARD, Sketch
from bright_tether.pictures.frame import between_bars
from bright_tether.pictures.sure import sure
from bright_tether.study.figures import Figure
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d

Scale = Callable[[Any], Any]
_NONE: Ints = np.zeros(0, np.int64)


class SmallPlot(QWidget):
    """Points, curves, bars and levels with the ends of both scales."""

    def __init__(self, tokens: Tokens, font: QFont) -> None:
        super().__init__()
        self._tokens, self._font = tokens, font
        self._sketch: Sketch | None = None
        self._across = ""
        self._ringed = _NONE
        #: What was painted last of all but the rings, the sketch it shows, and how.
        self._kept: tuple[ref[Sketch], tuple[object, ...], QPixmap] | None = None
        self._line, self._dot = 0.0, 4.0
        self._drawn: tuple[str, ...] = ("points", "line")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumHeight(60)

    def draw(self, sketch: Sketch | None, marked: Ints = _NONE, across: str = "") -> None:
        """Show a sketch. marked : (k,) places among the pairs, rising. across : the name of the axis below."""
        self._sketch, self._across = sketch, across
        ringed = _NONE if sketch is None or not marked.size else sketch.of_pairs(marked)
        self._ringed = ringed if sketch is None else ringed[np.isfinite(sketch.y[ringed])]
        self.update()

    def dress(self, figure: Figure) -> None:
        """Draw lines and points as they are wanted in a figure."""
        self._line = figure.pixels(figure.line)
        self._dot = figure.pixels(figure.dot) or self._dot
        self._drawn = figure.drawn

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self._tokens = tokens
        self.update()

    def paintEvent(self, event: Any) -> None:
        """Paint on the widget."""
        sketch = self._sketch
        if sketch is None or not sketch.x.size:
            return
        painter = QPainter(self)
        painter.drawPixmap(0, 0, self._still(sketch))
        if self._ringed.size:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._rings(painter, sketch, *self._placed(painter, sketch, QRectF(self.rect())))
        painter.end()

    def _still(self, sketch: Sketch) -> QPixmap:
        """All but the rings, painted once: rows are marked, and steps walked to, more often than a line changes."""
        looks = (
            self._tokens,
            self._across,
            self.size(),
            self.devicePixelRatioF(),
            self._line,
            self._dot,
            self._drawn,
        )
        if self._kept is None or self._kept[0]() is not sketch or self._kept[1] != looks:
            image = QPixmap(self.size() * self.devicePixelRatioF())
            image.setDevicePixelRatio(self.devicePixelRatioF())
            image.fill(Qt.GlobalColor.transparent)
            painter = QPainter(image)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self.paint(painter, QRectF(self.rect()))
            painter.end()
            self._kept = ref(sketch), looks, image
        return self._kept[2]

    def _placed(self, painter: QPainter, sketch: Sketch, whole: QRectF) -> tuple[QRectF, Scale, Scale]:
        """Where the plot stands, and where in it values stand, across and up."""
        font = QFont(self._font)
        font.setPixelSize(10)
        painter.setFont(font)
        left, right, low, high = sketch.small.ends
        beside = max(painter.fontMetrics().horizontalAdvance(d.figure(end, 2)) for end in (low, high))
        area = whole.adjusted(max(34, beside + 6), 4, -6, -16)

        def across(values: Any) -> Any:
            return area.left() + (values - left) / (right - left) * area.width()

        def up(values: Any) -> Any:
            return area.bottom() - (values - low) / (high - low) * area.height()

        return area, across, up

    def paint(self, painter: QPainter, whole: QRectF) -> None:
        """Paint into an area of any page, without what is marked."""
        sketch, t = self._sketch, self._tokens
        if sketch is None or not sketch.x.size:
            return
        area, across, up = self._placed(painter, sketch, whole)
        self._scales(painter, area, sketch.small.ends)
        painter.setClipRect(area.adjusted(-3, -3, 3, 3))
        if sketch.bars is not None:
            self._bars(painter, sketch, across, up)
        lined = "line" in self._drawn
        painter.setPen(QPen(QColor(t.muted), self._line or 1, Qt.PenStyle.DashLine))
        for level in sketch.levels if lined else ():
            painter.drawLine(QPointF(area.left(), up(level)), QPointF(area.right(), up(level)))
        if sketch.bright is not None and lined:
            painter.setPen(QPen(QColor(t.tether), self._line or 2))
            painter.drawLine(
                QPointF(area.left(), up(sketch.bright)), QPointF(area.right(), up(sketch.bright))
            )
        if sketch.bars is None and "points" in self._drawn:
            self._points(painter, sketch, across, up)
        painter.setPen(QPen(QColor(t.ink), self._line or 1.5))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for x, y in sketch.curves if lined else ():
            turns = np.flatnonzero(np.diff(np.isfinite(y), prepend=False, append=False))
            for start, end in turns.reshape(-1, 2).tolist():  # it stops where nothing was measured
                part = slice(start, end)
                places = across(np.asarray(x)[part]), up(np.asarray(y)[part])
                painter.drawPolyline(pg.functions.arrayToQPolygonF(*places))

    def _scales(self, painter: QPainter, area: QRectF, ends: tuple[float, float, float, float]) -> None:
        t, (left, right, low, high) = self._tokens, ends
        painter.setPen(QPen(QColor(t.faint), 1))
        painter.drawLine(area.bottomLeft(), area.bottomRight())
        painter.drawLine(area.bottomLeft(), area.topLeft())
        painter.setPen(QColor(t.muted))
        edge = Qt.AlignmentFlag
        sketch = sure(self._sketch)
        if sketch.bars is None:  # the ends of the values, not of the room around them
            left, right = sketch.small.values
        for value, place, align in (
            (left, QRectF(area.left() - 4, area.bottom() + 2, 80, 14), edge.AlignLeft),
            (right, QRectF(area.right() - 76, area.bottom() + 2, 80, 14), edge.AlignRight),
        ):
            painter.drawText(place, align, d.figure(value, 2))
        for value, top in ((high, area.top() - 2), (low, area.bottom() - 12)):
            painter.drawText(QRectF(area.left() - 84, top, 80, 14), edge.AlignRight, d.figure(value, 2))
        taken = (
            max(painter.fontMetrics().horizontalAdvance(d.figure(value, 2)) for value in (left, right)) + 2
        )
        taken = max(taken, 40)
        middle = QRectF(area.left() + taken, area.bottom() + 2, max(area.width() - 2 * taken, 10), 14)
        name = painter.fontMetrics().elidedText(
            self._across, Qt.TextElideMode.ElideRight, int(middle.width())
        )
        painter.drawText(middle, edge.AlignHCenter, name)

    def _bars(self, painter: QPainter, sketch: Sketch, across: Scale, up: Scale) -> None:
        soft = QColor(self._tokens.hues[0])
        soft.setAlpha(120)
        edges, counts = across(sure(sketch.bars).edges), up(sure(sketch.bars).counts.astype(float))
        painter.setPen(between_bars(counts.size, self._tokens))
        painter.setBrush(soft)
        base = float(up(0.0))
        for start, end, top in zip(edges[:-1].tolist(), edges[1:].tolist(), counts.tolist(), strict=True):
            painter.drawRect(QRectF(QPointF(start, top), QPointF(end, base)))

    def _points(self, painter: QPainter, sketch: Sketch, across: Scale, up: Scale) -> None:
        t = self._tokens
        x, y = across(sketch.small.x), up(sketch.small.y)
        if sketch.joined and sketch.x.size <= MOST_ON_CARD:
            painter.setPen(QPen(QColor(t.faint), 1))
            painter.drawPolyline(pg.functions.arrayToQPolygonF(x, y))
        dot = QPen(QColor(t.hues[0]), self._dot)
        dot.setCapStyle(Qt.PenCapStyle.RoundCap)
        painter.setPen(dot)
        painter.drawPoints(pg.functions.arrayToQPolygonF(x, y))

    def _rings(self, painter: QPainter, sketch: Sketch, area: QRectF, across: Scale, up: Scale) -> None:
        """Ring what is marked."""
        painter.setClipRect(area.adjusted(-3, -3, 3, 3))
        painter.setPen(QPen(QColor(self._tokens.ink), 1.5))
        x, y = sketch.x[self._ringed], sketch.y[self._ringed]
        for spot in map(QPointF, across(x).tolist(), up(y).tolist()):
            painter.drawEllipse(spot, 4.5, 4.5)


class Titled(QWidget):
    """A small plot under a question and its verdict, for a page."""

    def __init__(self, plot: SmallPlot, question: str, verdict: str, tokens: Tokens, font: QFont) -> None:
        super().__init__()
        self._plot, self._tokens, self._font = plot, tokens, font
        self._words = (question, verdict)
        plot.setParent(self)

    def paint(self, painter: QPainter, whole: QRectF) -> None:
        """Question, verdict, plot."""
        font = QFont(self._font)
        font.setPixelSize(12)
        font.setWeight(QFont.Weight.DemiBold)
        painter.setFont(font)
        left, right = Qt.AlignmentFlag.AlignLeft, Qt.AlignmentFlag.AlignRight
        for words, side, colour in zip(
            self._words, (left, right), (self._tokens.ink, self._tokens.muted), strict=True
        ):
            painter.setPen(QColor(colour))
            painter.drawText(QRectF(whole.left() + 4, whole.top(), whole.width() - 8, 18), side, words)
        self._plot.paint(painter, whole.adjusted(0, 22, 0, 0))
