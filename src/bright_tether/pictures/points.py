"""Points by appearance: one item for each, so that a brush never has to be set point by point."""

from __future__ import annotations

import math

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QBrush, QPaintEngine, QPainter, QPen, QPixmap, QTransform
from pyqtgraph.graphicsItems.ScatterPlotItem import Symbols
from pyqtgraph.Qt.internals import PrimitiveArray

from bright_tether.live.cloud import MOST_GROUPS, Cloud
from bright_tether.pictures.sure import sure
from bright_tether.theme.tokens import SHAPES, Tokens

_PIXELS = (QPaintEngine.Type.Raster, QPaintEngine.Type.X11, QPaintEngine.Type.OpenGL2)


class Looks(pg.GraphicsObject):
    """Points of one look, drawn as one stamp in many places; the mouse is left to the plot."""

    def __init__(self, shape: str, size: float) -> None:
        super().__init__()
        self.x, self.y = np.zeros(0), np.zeros(0)
        self._shape, self._size = shape, size
        self._pen, self._brush = QPen(Qt.PenStyle.NoPen), QBrush(Qt.BrushStyle.NoBrush)
        self._stamps: dict[float, QPixmap] = {}
        self._bounds = QRectF()
        self.setVisible(False)
        self._places = PrimitiveArray(QPainter.PixmapFragment, 10)

    def style(self, pen: QPen, brush: QBrush, size: float) -> None:
        """Take another look."""
        self._pen, self._brush, self._size = pen, brush, size
        self._stamps = {}
        self.update()

    def resize(self, size: float) -> None:
        """Draw them in another size. size : across, in pixels."""
        self.style(self._pen, self._brush, size)

    def put(self, x: np.ndarray, y: np.ndarray) -> None:
        """Put the points at these places, in data units."""
        if not (x.size or self.x.size):
            return
        self.setVisible(x.size > 0)
        self.prepareGeometryChange()
        self.x, self.y = x, y
        self._bounds = QRectF()
        if x.size:
            left, low = float(x.min()), float(y.min())
            self._bounds = QRectF(left, low, float(x.max()) - left, float(y.max()) - low)
        self.update()

    def boundingRect(self) -> QRectF:
        """The points, with room for half a stamp around the outermost."""
        wide, tall = self.pixelVectors()
        room = self._size + 2
        across, up = (room * vector.length() if vector is not None else 0.0 for vector in (wide, tall))
        return self._bounds.adjusted(-across, -up, across, up)

    def viewTransformChanged(self) -> None:
        """Follow the view."""
        self.prepareGeometryChange()

    def paint(self, painter: QPainter, option: object, widget: object = None) -> None:
        """Stamp every point in view; as shapes where the page is not made of pixels."""
        if not self.x.size:
            return
        to_page = painter.transform()
        across = self.x * to_page.m11() + to_page.dx()
        down = self.y * to_page.m22() + to_page.dy()
        painter.resetTransform()
        if sure(painter.paintEngine()).type() not in _PIXELS:
            self._draw_shapes(painter, across, down)
            return
        page, room = painter.viewport(), self._size
        seen = (
            (across > -room) & (across < page.width() + room) & (down > -room) & (down < page.height() + room)
        )
        if not seen.all():
            across, down = across[seen], down[seen]
        ratio = sure(painter.device()).devicePixelRatioF()
        stamp = self._stamp(ratio)
        self._places.resize(across.size)
        places = self._places.ndarray()
        places[:, 0], places[:, 1] = across, down
        places[:, 2:] = (0, 0, stamp.width(), stamp.height(), 1 / ratio, 1 / ratio, 0, 1)
        painter.drawPixmapFragments(*self._places.drawargs(), stamp)  # type: ignore[call-arg]

    def _draw_shapes(self, painter: QPainter, across: np.ndarray, down: np.ndarray) -> None:
        painter.setPen(self._pen)
        painter.setBrush(self._brush)
        path = QTransform.fromScale(self._size, self._size).map(Symbols[self._shape])
        for x, y in zip(across.tolist(), down.tolist(), strict=True):
            painter.drawPath(path.translated(x, y))

    def _stamp(self, ratio: float) -> QPixmap:
        if ratio not in self._stamps:
            side = math.ceil((self._size + self._pen.widthF() + 3) * ratio)
            stamp = QPixmap(side, side)
            stamp.fill(Qt.GlobalColor.transparent)
            painter = QPainter(stamp)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.translate(side / 2, side / 2)
            painter.scale(ratio, ratio)
            painter.setPen(self._pen)
            painter.setBrush(self._brush)
            painter.drawPath(QTransform.fromScale(self._size, self._size).map(Symbols[self._shape]))
            painter.end()
            self._stamps[ratio] = stamp
        return self._stamps[ratio]


class Points:
    """The points of a cloud in one plot: by group, hollow when set aside, ringed when marked."""

    def __init__(self, item: pg.PlotItem, size: float = 8) -> None:
        self._size = size
        self._groups = [self._scatter(item, shape) for shape in SHAPES[:MOST_GROUPS]]
        self._hollow = [self._scatter(item, shape) for shape in SHAPES[:MOST_GROUPS]]
        self._ring = self._scatter(item, "o")

    def _scatter(self, item: pg.PlotItem, shape: str) -> Looks:
        scatter = Looks(shape, self._size)
        item.addItem(scatter)
        return scatter

    def hide(self) -> None:
        """Show none of them, whatever is drawn later."""
        for scatter in (*self._groups, *self._hollow, self._ring):
            scatter.hide()

    def resize(self, size: float, tokens: Tokens) -> None:
        """Draw them in another size. size : across, in pixels."""
        self._size = size
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the hues of a theme."""
        edge, none = pg.mkPen(tokens.card, width=0.8), QBrush(Qt.BrushStyle.NoBrush)
        for hue, full, hollow in zip(tokens.hues, self._groups, self._hollow, strict=True):
            full.style(edge, pg.mkBrush(hue), self._size)
            hollow.style(pg.mkPen(hue, width=1.4), none, self._size)
        self._ring.style(pg.mkPen(tokens.ink, width=2), none, self._size + 6)

    def draw(self, cloud: Cloud | None, y: np.ndarray | None, marked: np.ndarray) -> None:
        """Put the points where they are; y in place of the cloud's where given. marked : (m,) bool."""
        if cloud is None:
            for scatter in (*self._groups, *self._hollow, self._ring):
                scatter.put(np.zeros(0), np.zeros(0))
            return
        heights = cloud.y if y is None else y
        drawn = np.isfinite(heights)
        for i, (full, hollow) in enumerate(zip(self._groups, self._hollow, strict=True)):
            mine = drawn & (cloud.group == i)
            for scatter, wanted in ((full, mine & ~cloud.aside), (hollow, mine & cloud.aside)):
                scatter.put(cloud.x[wanted], heights[wanted])
        self.mark(cloud, heights, marked & drawn)

    def mark(self, cloud: Cloud, heights: np.ndarray, marked: np.ndarray) -> None:
        """Ring the marked points, (m,) bool or their places."""
        self._ring.put(cloud.x[marked], heights[marked])
