"""A scatter with the residuals in a strip below it, on the same x."""

from __future__ import annotations

from collections.abc import Set

import numpy as np
import pyqtgraph as pg
from PyQt6.QtGui import QFont

from bright_tether.core.results import Floats
from bright_tether.live.scenes import Strip
from bright_tether.pictures.density import Density, ring
from bright_tether.pictures.frame import keep_time, number_axes, plot, restyle_plot, with_room
from bright_tether.pictures.points import Points
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.theme.tokens import Tokens


class StripPicture(ScatterPicture):
    """Points above, their residuals below; what is marked is ringed in both."""

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.strip = plot(tokens, font)
        self.strip.setXLink(self.main)
        self.level = pg.InfiniteLine(0, angle=0)
        self.level.setZValue(-10)
        self.strip.addItem(self.level)
        self.below = Points(self.strip, size=6)
        self.below_dense, self.below_marked = Density(self.strip), Density(self.strip, "marked")
        self.addItem(self.strip, row=1, col=0)
        number_axes(self, False)
        self.ci.layout.setRowStretchFactor(0, 3)
        self.ci.layout.setRowStretchFactor(1, 1)
        self._below: Strip | None = None
        self._lend_hand(self.strip, lambda: self.residuals, movable=False)

    @property
    def residuals(self) -> Floats | None:
        """Heights in the strip, (m,), NaN where a point has none; None where nothing is below."""
        return None if self._below is None else self._below.heights

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        restyle_plot(self.strip, tokens, self.own_font)
        self.below.restyle(tokens)
        super().restyle(tokens)

    def densities(self) -> tuple[Density, ...]:
        """Those of the residuals too."""
        return (*super().densities(), self.below_dense, self.below_marked)

    def without_strip(self) -> None:
        """The points alone, with the name of x below them: for a figure of a paper."""
        self.removeItem(self.strip)
        self.ci.layout.setRowStretchFactor(1, 0)
        self.main.getAxis("bottom").name(self.axis_name("x"), self.tokens, shown=True)

    def let_go(self) -> None:
        """The residuals too."""
        super().let_go()
        self.put_below(None)

    def put_below(self, strip: Strip | None) -> None:
        """Show the residuals of the points; None shows none. While the hand moves the range stays."""
        self._below = strip
        dense = None if strip is None else strip.dense
        self.below_dense.put(dense)
        if strip is None or dense is not None:
            self.below.draw(None, None, np.zeros(0, bool))
        else:
            self.below.draw(self.cloud, strip.heights, self.mask())
        if strip is None:
            self.below_marked.put(None)
            return
        self._ring_below()
        if not self._moving:
            self.strip.setYRange(*with_room(-strip.largest, strip.largest, 0.08), padding=0)

    def name_strip(self, *, main_too: bool) -> None:
        """The x axis is named once, below the residuals. main_too : also above, where nothing is below."""
        x = self.axis_name("x")
        self.main.getAxis("left").name(self.axis_name("y"), self.tokens)
        self.main.getAxis("bottom").name(x, self.tokens, shown=main_too)
        self.strip.getAxis("bottom").name(x, self.tokens)
        self.strip.getAxis("left").name("residual", self.tokens)
        for item in (self.main, self.strip):
            keep_time(item, self.clock("x"))

    def show_mark(self, marked: Set[int]) -> None:
        """Ring these rows in both plots."""
        super().show_mark(marked)
        self._ring_below()

    def _ring_below(self) -> None:
        if self.cloud is not None and self.residuals is not None:
            ring(self.below, self.below_marked, self.cloud, self.residuals, self.mask())
