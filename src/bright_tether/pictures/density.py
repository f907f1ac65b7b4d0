"""Many points as a density: each small cell of the page the darker, the more points lie in it."""

from __future__ import annotations

import itertools
from typing import Literal

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QImage, QPainter

from bright_tether.live.cloud import DENSE_ABOVE, Cloud, Rising
from bright_tether.pictures.counting import counter
from bright_tether.pictures.points import Points
from bright_tether.theme.tokens import Tokens

_CELL = 2.0  # pixels
Kind = Literal["in play", "marked", "set aside"]
_AT_ONCE = 1 << 16
#: So few points in a cell and this many to each side of it are seen as a dot of three cells, so dark, corners less.
_FEW, _FAR, _LONE, _CORNER = 2, 3, 170, 30
#: More points than this are counted beside the interface thread.
_AT_LEISURE = 200_000
#: Left, right, low and high end.
View = tuple[float, float, float, float]
#: What the counts were made of: the points, the view, the cells across and up.
Seen = tuple[Rising, View, int, int]


class Density(pg.GraphicsObject):
    """Counts points in the cells of the view: when it is painted, and only if points or view are others by then.

    Of very many the last picture stands, in its place, until they are counted beside the interface thread.
    """

    def __init__(self, item: pg.PlotItem, kind: Kind = "in play") -> None:
        super().__init__()
        self.setZValue({"set aside": -19, "in play": -18, "marked": -17}[kind])  # lines and curves lie on it
        self._kind: Kind = kind
        self._points: Rising | None = None
        self._box = item.getViewBox()
        self._ramp = np.zeros((256, 4), np.ubyte)
        self._seen: Seen | None = None
        self._counts, self._image = np.zeros((0, 0), np.int64), QImage()
        self._on_paper = False
        self.setVisible(False)
        item.addItem(self, ignoreBounds=True)

    def restyle(self, tokens: Tokens) -> None:
        """Take the hue of a theme."""
        self._ramp = ramp_of(tokens, self._kind)
        self._colour()
        self.update()

    def put(self, points: Rising | None) -> None:
        """Take other points; none hides the picture."""
        if points is not self._points:
            self._points = points
            self.setVisible(points is not None and points.x.size > 0)
            self.update()

    def forget(self) -> None:
        """Let go of the last picture: what comes next is of another kind."""
        self._seen, self._counts, self._image = None, np.zeros((0, 0), np.int64), QImage()

    def on_paper(self, paper: bool) -> None:
        """Whether it is painted once and for all, and has to be right at once."""
        self._on_paper = paper

    @property
    def counts(self) -> np.ndarray:
        """Points in each cell of the view, (up, across), from the lowest row."""
        self._bring_up(at_once=True)
        return self._counts

    def boundingRect(self) -> QRectF:
        """What is in view."""
        return _rect(_view(self._box))

    def viewTransformChanged(self) -> None:
        """Follow the view."""
        self.prepareGeometryChange()

    def paint(self, painter: QPainter, option: object, widget: object = None) -> None:
        """Paint the counts."""
        self._bring_up(at_once=self._on_paper)
        if self._image.width() and self._seen is not None:
            painter.drawImage(_rect(self._seen[1]), self._image)

    def take(self, seen: Seen, counts: np.ndarray) -> None:
        """The counts of some points in a view: kept where these are still the points."""
        if seen[0] is self._points:
            self._seen, self._counts = seen, counts
            self._colour()
            self.update()

    def _bring_up(self, *, at_once: bool) -> None:
        points, size = self._points, self._box.size()
        view = left, right, low, high = _view(self._box)
        wide, tall = int(size.width() / _CELL), int(size.height() / _CELL)
        if points is None or wide < 2 or tall < 2 or right <= left or high <= low:
            self.forget()
            return
        seen = points, view, wide, tall
        if self._seen is not None and self._seen[0] is points and self._seen[1:] == seen[1:]:
            return
        if at_once or points.x.size <= _AT_LEISURE:
            self._seen, self._counts = seen, _counted(points, view, wide, tall)
            self._colour()
        else:
            counter().ask(self, seen, lambda: _counted(*seen))

    def _colour(self) -> None:
        if self._counts.size:
            tall, wide = self._counts.shape
            colours = shaded(self._counts, self._ramp)
            self._image = QImage(
                colours.tobytes(), wide, tall, 4 * wide, QImage.Format.Format_RGBA8888
            ).copy()


def _view(box: pg.ViewBox) -> View:
    (left, right), (low, high) = box.viewRange()
    return left, right, low, high


def _rect(view: View) -> QRectF:
    left, right, low, high = view
    return QRectF(left, low, right - left, high - low)


def _counted(points: Rising, view: View, wide: int, tall: int) -> np.ndarray:
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
    """Cells in colour by the logarithm of their counts, (up, across, 4); who stands alone is a dot that can be seen."""
    shade = np.log1p(counts)
    shade *= 255 / (float(shade.max()) or 1.0)
    shades = shade.astype(np.uint8)
    up, across = np.nonzero(_alone(counts))
    for above, beside in itertools.product((-1, 0, 1), repeat=2):
        cells = np.clip(up + above, 0, counts.shape[0] - 1), np.clip(across + beside, 0, counts.shape[1] - 1)
        shades[cells] = np.maximum(shades[cells], _CORNER if above and beside else _LONE)
    return np.ascontiguousarray(ramp[shades])


def _alone(counts: np.ndarray) -> np.ndarray:
    """Which cells hold the only points far and wide, (up, across)."""
    sums = np.pad(counts, ((_FAR + 1, _FAR), (_FAR + 1, _FAR))).cumsum(axis=0).cumsum(axis=1)
    side = 2 * _FAR + 1
    around = sums[side:, side:] - sums[:-side, side:] - sums[side:, :-side] + sums[:-side, :-side]
    alone: np.ndarray = (counts > 0) & (around <= _FEW)
    return alone


def ring(points: Points, dense: Density, cloud: Cloud, heights: np.ndarray, marked: np.ndarray) -> None:
    """Ring the marked points, (m,) bool, at these heights; where they are many, as a density of their own."""
    places = np.flatnonzero(marked)
    places = places[np.isfinite(heights[places])]
    many = places.size > DENSE_ABOVE
    dense.put(cloud.marked_by_x(marked & np.isfinite(heights), heights) if many else None)
    points.mark(cloud, heights, places[:0] if many else places)
