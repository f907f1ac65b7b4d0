"""What of y still goes with what of x the held columns do not tell; each point is still its row."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from PyQt6.QtGui import QFont

from bright_tether.claims.held import held_of
from bright_tether.live.cloud import Cloud
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.theme.tokens import Tokens


class HeldPicture(ScatterPicture):
    """What is left of y against what is left of x, about their means; the bright line has the slope held."""

    of_tether = False
    movable = False

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.bright, self.level = pg.PlotCurveItem(), pg.InfiniteLine(0, angle=0)
        for depth, item in ((-10, self.bright), (-20, self.level)):
            item.setZValue(depth)
            self.main.addItem(item, ignoreBounds=True)
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.bright.setPen(pg.mkPen(tokens.tether, width=3))
        self.level.setPen(pg.mkPen(tokens.hairline))
        super().restyle(tokens)

    def placed(self, points: Cloud | None) -> Cloud | None:
        """By what is left of both; rows without a value of a held column are not there."""
        line = None if points is None or self.findings.refusal is not None else held_of(self.findings)
        if points is None or line is None or line.held.held.slope is None:
            self.bright.setData([], [])
            return None
        at = self.findings.pairs.at[line.keep]
        place = np.full(self.findings.table.rows, -1)
        place[at] = np.arange(at.size)
        mine = place[points.at]
        wanted = (mine >= 0) & ~points.aside
        x, y = np.zeros(points.x.size), np.zeros(points.x.size)
        x[wanted], y[wanted] = line.held.x_left[mine[wanted]], line.held.y_left[mine[wanted]]
        ends = np.array([line.held.x_left.min(), line.held.x_left.max()])
        self.bright.setData(ends, ends * line.held.held.slope)
        return points.only(wanted, x, y)

    def placed_by(self) -> tuple[object, ...]:
        """The held columns too."""
        return *super().placed_by(), self.findings.tether.held.columns

    def axis_name(self, axis: str) -> str:
        """What the held columns leave of each."""
        if not self.findings.tied:
            return super().axis_name(axis)
        column = self.findings.x_column if axis == "x" else self.findings.y_column
        unit = f" ({column.unit})" if column.unit else ""
        return f"what is left of {column.short}{unit}"
