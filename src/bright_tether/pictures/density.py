"""Many points as a density: each small cell of the page the darker, the more points lie in it."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor

from bright_tether.theme.tokens import Tokens

#: From this many points on they are drawn as a density.
DENSE_ABOVE = 20_000
_CELL = 2.0  # pixels


class Density(pg.ImageItem):
    """Counts points in the cells of the view, again whenever the view moves."""

    def __init__(self, item: pg.PlotItem) -> None:
        super().__init__(axisOrder="row-major")
        self.setZValue(-8)
        self._x = self._y = np.zeros(0, np.float32)
        self._box = item.getViewBox()
        item.addItem(self, ignoreBounds=True)
        self._box.sigRangeChanged.connect(lambda *_: self.count())
        self._box.sigResized.connect(lambda *_: self.count())
        self.hide()

    def restyle(self, tokens: Tokens) -> None:
        """Take the hue of a theme: from faint to full, then to ink."""
        hue, ink = QColor(tokens.hues[0]), QColor(tokens.ink)
        stops = [(hue, 0), (hue, 70), (hue, 255), (ink, 255)]
        table = [(c.red(), c.green(), c.blue(), alpha) for c, alpha in stops]
        ramp = pg.ColorMap(np.array([0.0, 0.01, 0.75, 1.0]), np.array(table, np.ubyte))
        self.setLookupTable(ramp.getLookupTable(nPts=256, alpha=True))

    def put(self, x: np.ndarray, y: np.ndarray) -> None:
        """Take other points, (m,); none hides the picture."""
        self._x, self._y = x, y
        order = np.argsort(x)
        self._x, self._y = x[order], y[order]
        self.setVisible(bool(x.size))
        self.count()

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
