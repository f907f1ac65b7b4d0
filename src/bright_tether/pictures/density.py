"""Many points as a density: each small cell of the page the darker, the more points lie in it."""

from __future__ import annotations

from typing import Literal

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QImage, QPainter

from bright_tether.live.cloud import DENSE_ABOVE, Cloud, Rising
from bright_tether.pictures.points import Points
from bright_tether.theme.tokens import Tokens

_CELL = 2.0  # pixels
Kind = Literal["in play", "marked", "set aside"]
_AT_ONCE = 1 << 16
#: What the counts were made of: the points, the view, the cells across and up.
Seen = tuple[Rising, tuple[float, float, float, float], int, int]


class Density(pg.GraphicsObject):
    """Counts points in the cells of the view: when it is painted, and only if points or view are others by then."""

    def __init__(self, item: pg.PlotItem, kind: Kind = "in play") -> None:
        super().__init__()
        self.setZValue({"set aside": -19, "in play": -18, "marked": -17}[kind])  # lines and curves lie on it
        self._kind: Kind = kind
        self._points: Rising | None = None
        self._box = item.getViewBox()
        self._ramp = np.zeros((256, 4), np.ubyte)
        self._seen: Seen | None = None
        self._counts, self._image = np.zeros((0, 0), np.int64), QImage()
        self.setVisible(False)
        item.addItem(self, ignoreBounds=True)

    def restyle(self, tokens: Tokens) -> None:
        """Take the hue of a theme."""
        self._ramp = ramp_of(tokens, self._kind)
        self._seen = None
        self.update()

    def put(self, points: Rising | None) -> None:
        """Take other points; none hides the picture."""
        if points is not self._points:
            self._points = points
            self.setVisible(points is not None and points.x.size > 0)
            self.update()

    @property
    def counts(self) -> np.ndarray:
        """Points in each cell of the view, (up, across), from the lowest row."""
        self._count()
        return self._counts

    def boundingRect(self) -> QRectF:
        """What is in view."""
        (left, right), (low, high) = self._box.viewRange()
        return QRectF(left, low, right - left, high - low)

    def viewTransformChanged(self) -> None:
        """Follow the view."""
        self.prepareGeometryChange()

    def paint(self, painter: QPainter, option: object, widget: object = None) -> None:
        """Paint the counts."""
        self._count()
        if self._image.width():
            painter.drawImage(self.boundingRect(), self._image)

    def _count(self) -> None:
        points, size = self._points, self._box.size()
        (left, right), (low, high) = self._box.viewRange()
        wide, tall = int(size.width() / _CELL), int(size.height() / _CELL)
        if points is None or wide < 2 or tall < 2 or right <= left or high <= low:
            self._seen, self._counts, self._image = None, np.zeros((0, 0), np.int64), QImage()
            return
        seen = points, (left, right, low, high), wide, tall
        if self._seen is not None and self._seen[0] is points and self._seen[1:] == seen[1:]:
            return
        self._seen = seen
        self._counts = _counted(points, seen[1], wide, tall)
        colours = shaded(self._counts, self._ramp)
        self._image = QImage(colours.tobytes(), wide, tall, 4 * wide, QImage.Format.Format_RGBA8888).copy()


def _counted(points: Rising, view: tuple[float, float, float, float], wide: int, tall: int) -> np.ndarray:
    """Points in each cell of the view, (tall, wide), some columns at once: few enough points for the cache."""
    left, right, low, high = view
    ends = np.searchsorted(points.x, np.linspace(left, right, wide + 1))  # x rises: columns come in runs
    ends[-1] = np.searchsorted(points.x, right, side="right")
    counts = np.empty((wide, tall), np.int64)
    first = 0
    while first < wide:
        last = max(int(np.searchsorted(ends, ends[first] + _AT_ONCE, side="right")) - 1, first + 1)
        up = points.y[ends[first] : ends[last]] - low
        up *= tall / (high - low)
        np.clip(up, -1, tall, out=up)
        up += 1  # a cell below and one above each column take what lies out of view
        cells = np.repeat(np.arange(last - first) * (tall + 2), np.diff(ends[first : last + 1]))
        cells += up.astype(np.int64)
        found = np.bincount(cells, minlength=(last - first) * (tall + 2))
        counts[first:last] = found.reshape(-1, tall + 2)[:, 1:-1]
        first = last
    return counts.T


def ramp_of(tokens: Tokens, kind: Kind = "in play") -> np.ndarray:
    """The colours from no point to the most, (256, 4): the hue of a theme, then ink; of marked points ink alone.

    Of those set aside a grey that stays faint.
    """
    hue = QColor({"in play": tokens.hues[0], "marked": tokens.ink, "set aside": tokens.muted}[kind])
    ink = QColor(tokens.ink)
    stops = [(hue, 0), (hue, 70), (hue, 255), (ink, 255)]
    if kind == "set aside":
        stops = [(hue, 0), (hue, 40), (hue, 110), (hue, 140)]
    table = [(c.red(), c.green(), c.blue(), alpha) for c, alpha in stops]
    ramp = pg.ColorMap(np.array([0.0, 0.01, 0.75, 1.0]), np.array(table, np.ubyte))
    found: np.ndarray = ramp.getLookupTable(nPts=256, alpha=True)
    return found


def shaded(counts: np.ndarray, ramp: np.ndarray) -> np.ndarray:
    """Cells in colour by the logarithm of their counts, (up, across, 4)."""
    shade = np.log1p(counts)
    shade *= 255 / (float(shade.max()) or 1.0)
    return np.ascontiguousarray(ramp[shade.astype(np.uint8)])


def ring(points: Points, dense: Density, cloud: Cloud, heights: np.ndarray, marked: np.ndarray) -> None:
    """Ring the marked points, (m,) bool, at these heights; where they are many, as a density of their own."""
    many = np.count_nonzero(marked) > DENSE_ABOVE
    dense.put(cloud.marked_by_x(marked & np.isfinite(heights), heights) if many else None)
    points.mark(cloud, heights, np.zeros_like(marked) if many else marked)
