"""Several plots on one board: pictures of results rather than of rows."""

from __future__ import annotations

import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFont

from bright_tether.pictures.frame import plot, restyle_plot
from bright_tether.theme.tokens import Tokens


class Board(pg.GraphicsLayoutWidget):
    """An empty board that plots are put on. Dragging pans, the wheel zooms."""

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setFrameShape(self.Shape.NoFrame)
        self.ci.layout.setContentsMargins(0, 0, 6, 0)
        self.tokens, self.own_font = tokens, font
        self.plots: list[pg.PlotItem] = []
        #: The plot whose axes can be chosen for a figure.
        self.main: pg.PlotItem

    def add_plot(self, row: int, column: int, rows: int = 1, columns: int = 1) -> pg.PlotItem:
        """One more plot, in a cell of the board."""
        new = plot(self.tokens, self.own_font)
        self.addItem(new, row, column, rows, columns)
        self.plots.append(new)
        return new

    def name(self, item: pg.PlotItem, x: str, y: str) -> None:
        """Say what the axes of a plot show."""
        item.getAxis("bottom").name(x, self.tokens)
        item.getAxis("left").name(y, self.tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.tokens = tokens
        self.setBackground(tokens.card)
        for item in self.plots:
            restyle_plot(item, tokens, self.own_font)
