"""Points by appearance: one scatter item for each, so that a brush never has to be set point by point."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from PyQt6.QtGui import QColor

from bright_tether.live.cloud import MOST_GROUPS, Cloud
from bright_tether.look.tokens import SHAPES, Tokens


class Looks(pg.ScatterPlotItem):
    """Points that leave the mouse to the plot they stand in."""

    def mouseClickEvent(self, event) -> None:
        """Let the click through."""
        event.ignore()


class Points:
    """The points of a cloud in one plot: by group, hollow when set aside, ringed when marked."""

    def __init__(self, item: pg.PlotItem, size: int = 8) -> None:
        self._size = size
        self._groups = [self._scatter(item, shape) for shape in SHAPES[:MOST_GROUPS]]
        self._hollow = [self._scatter(item, shape) for shape in SHAPES[:MOST_GROUPS]]
        self._ring = self._scatter(item, "o")

    def _scatter(self, item: pg.PlotItem, shape: str) -> Looks:
        scatter = Looks(symbol=shape, size=self._size, pxMode=True)
        item.addItem(scatter)
        return scatter

    def restyle(self, tokens: Tokens) -> None:
        """Take the hues of a theme."""
        edge = QColor(tokens.card)
        for hue, full, hollow in zip(tokens.hues, self._groups, self._hollow, strict=True):
            full.setBrush(pg.mkBrush(hue), update=False)
            full.setPen(pg.mkPen(edge, width=0.8))
            hollow.setBrush(None, update=False)
            hollow.setPen(pg.mkPen(hue, width=1.4))
        self._ring.setBrush(None, update=False)
        self._ring.setPen(pg.mkPen(tokens.ink, width=2))
        self._ring.setSize(self._size + 6)

    def draw(self, cloud: Cloud | None, y: np.ndarray | None, marked: np.ndarray) -> None:
        """Put the points where they are; y in place of the cloud's where given. marked : (m,) bool."""
        if cloud is None:
            for scatter in (*self._groups, *self._hollow, self._ring):
                scatter.clear()
            return
        heights = cloud.y if y is None else y
        drawn = np.isfinite(heights)
        for i, (full, hollow) in enumerate(zip(self._groups, self._hollow, strict=True)):
            mine = drawn & (cloud.group == i)
            for scatter, wanted in ((full, mine & ~cloud.aside), (hollow, mine & cloud.aside)):
                if wanted.any() or len(scatter.data):
                    scatter.setData(cloud.x[wanted], heights[wanted])
        self.mark(cloud, heights, marked & drawn)

    def mark(self, cloud: Cloud, heights: np.ndarray, marked: np.ndarray) -> None:
        """Ring the marked points."""
        self._ring.setData(cloud.x[marked], heights[marked])
