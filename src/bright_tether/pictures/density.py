"""Many points as a density: each small cell of the page the darker, the more points lie in it."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor

from bright_tether.live.cloud import DENSE_ABOVE, Cloud
from bright_tether.pictures.points import Points
from bright_tether.theme.tokens import Tokens

_CELL = 2.0  # pixels
_NONE, _NOWHERE = np.zeros(0), np.zeros(0, np.int64)


class Density(pg.ImageItem):
    """Counts points in the cells of the view, again whenever the view moves."""

    def __init__(self, item: pg.PlotItem, *, marked: bool = False) -> None:
        super().__init__(axisOrder="row-major")
        self.setZValue(-7 if marked else -8)
        self._marked = marked
        self._x, self._y = _NONE, _NONE
        self._given: tuple[np.ndarray, np.ndarray, np.ndarray] = (_NONE, _NONE, _NOWHERE)
        self._box = item.getViewBox()
        item.addItem(self, ignoreBounds=True)
        self._box.sigRangeChanged.connect(lambda *_: self.count())
        self._box.sigResized.connect(lambda *_: self.count())
        self.hide()

    def restyle(self, tokens: Tokens) -> None:
        """Take the hue of a theme: from faint to full, then to ink; of marked points ink alone."""
        hue, ink = QColor(tokens.ink if self._marked else tokens.hues[0]), QColor(tokens.ink)
        stops = [(hue, 0), (hue, 70), (hue, 255), (ink, 255)]
        table = [(c.red(), c.green(), c.blue(), alpha) for c, alpha in stops]
        ramp = pg.ColorMap(np.array([0.0, 0.01, 0.75, 1.0]), np.array(table, np.ubyte))
        self.setLookupTable(ramp.getLookupTable(nPts=256, alpha=True))

    def put(self, x: np.ndarray, y: np.ndarray, places: np.ndarray) -> None:
        """Take other points: those of x and y, (m,), at these places, along which x rises; none hides the picture.

        The same arrays again change nothing.
        """
        given = (x, y, places)
        if all(one is held for one, held in zip(given, self._given, strict=True)):
            return
        if not places.size and not self.isVisible():
            return
        self._given = given
        self._x, self._y = x[places], y[places]
        self.setVisible(bool(places.size))
        self.count()

    def clear(self) -> None:
        """Hide the picture."""
        self.put(_NONE, _NONE, _NOWHERE)

    def count(self) -> None:
        """Count the points in view by cells."""
        if not self._x.size:
            return
        (left, right), (low, high) = self._box.viewRange()
        size = self._box.size()
        wide, tall = int(size.width() / _CELL), int(size.height() / _CELL)
        if wide < 2 or tall < 2 or right <= left or high <= low:
            return
        first, last = np.searchsorted(self._x, (left, right))
        x, y = self._x[first:last], self._y[first:last]
        down = (y - low) * (tall / (high - low))
        inside = (down >= 0) & (down < tall)
        across = (x - left) * (wide / (right - left))
        if not inside.all():
            across, down = across[inside], down[inside]
        cells = down.astype(np.int32) * wide + np.minimum(across.astype(np.int32), wide - 1)
        counts = np.bincount(cells, minlength=wide * tall).reshape(tall, wide)
        shown = np.log1p(counts).astype(np.float32)
        self.setImage(shown, autoLevels=False, levels=(0, float(shown.max()) or 1.0))
        self.setRect(QRectF(left, low, right - left, high - low))


def ring(points: Points, dense: Density, cloud: Cloud, heights: np.ndarray, marked: np.ndarray) -> None:
    """Ring the marked points, (m,) bool, at these heights; where they are many, as a density of their own."""
    many = np.count_nonzero(marked) > DENSE_ABOVE
    if many:
        dense.put(cloud.x, heights, cloud.in_rising_x(marked & np.isfinite(heights)))
    else:
        dense.clear()
    points.mark(cloud, heights, np.zeros_like(marked) if many else marked)
