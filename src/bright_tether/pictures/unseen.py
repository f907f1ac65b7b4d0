"""How strongly something unmeasured would have to go with x and y: curves of what it leaves of the slope."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFont

from bright_tether.core.line.unseen import to_alpha, to_share
from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings
from bright_tether.live.held import UnseenLine
from bright_tether.pictures.board import Board
from bright_tether.pictures.points import Looks
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d

#: Strengths with x that a curve is drawn at; 0 and 1 themselves are none.
_PLACES = np.linspace(0.002, 0.998, 250)
#: Shares of the slope that are left along the thin curves.
_LEFT = (0.75, 0.5, 0.25)


class UnseenPicture(Board):
    """Along the bright curve nothing of the slope is left, along the dashed one it comes into doubt.

    Shapes are unseen columns as strong as those held.
    """

    has_tether = True

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.main = self.add_plot(0, 0)
        self.nothing, self.doubt = pg.PlotCurveItem(connect="finite"), pg.PlotCurveItem(connect="finite")
        self.thin = [pg.PlotCurveItem(connect="finite") for _ in _LEFT]
        self.sticks = Looks("o", 9)
        self.labels: list[pg.TextItem] = []
        for item in (*self.thin, self.nothing, self.doubt, self.sticks):
            self.main.addItem(item)
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        super().restyle(tokens)
        self.nothing.setPen(pg.mkPen(tokens.tether, width=3))
        self.doubt.setPen(pg.mkPen(tokens.ink, width=1.6, style=Qt.PenStyle.DashLine))
        for curve in self.thin:
            curve.setPen(pg.mkPen(tokens.faint))
        self.sticks.style(pg.mkPen(tokens.card, width=0.8), pg.mkBrush(tokens.hues[0]), 10)

    def draw(self, findings: Findings, *_: object) -> None:
        """Show what there is."""
        for label in self.labels:
            self.main.removeItem(label)
        self.labels = []
        line = None
        if findings.refusal is None:
            try:
                line = findings.unseen_line
            except Refusal:
                line = None
        self._draw_curves(line)
        x, y = (findings.x_column.short, findings.y_column.short) if findings.tied else ("x", "y")
        self.name(self.main, f"share taken up of what is left of {x}, %", f"and of what is left of {y}, %")
        self.main.setXRange(0, 100, padding=0.01)
        self.main.setYRange(0, 100, padding=0.01)

    def _draw_curves(self, line: UnseenLine | None) -> None:
        curves = (self.nothing, self.doubt, *self.thin)
        if line is None or not line.unseen.t:
            for curve in curves:
                curve.setData([], [])
            self.sticks.put(np.zeros(0), np.zeros(0))
            self.setAccessibleDescription("nothing to show")
            return
        one = line.unseen
        heights = [to_share(one.t, one.df, _PLACES, 0.0), to_alpha(one.t, one.df, one.alpha, _PLACES)]
        heights += [to_share(one.t, one.df, _PLACES, left) for left in _LEFT]
        for curve, height in zip(curves, heights, strict=True):
            curve.setData(100 * _PLACES, 100 * height)
        for at, (left, height) in enumerate(zip(_LEFT, heights[2:], strict=True)):
            self._say(f"{100 * left:g} % left", height, self.tokens.muted, 0.2 + 0.1 * at)
        self._say("nothing left", heights[0], self.tokens.tether_ink, 0.75)
        self._say("in doubt", heights[1], self.tokens.ink, 0.55)
        sticks = [(name, stick) for name, stick in line.yardsticks if stick.possible]
        self.sticks.put(100 * np.array([stick.with_x for _, stick in sticks]),
                        100 * np.array([stick.with_y for _, stick in sticks]))  # fmt: skip
        for name, stick in sticks:
            x, y = 100 * stick.with_x, 100 * stick.with_y
            self._put(f"like {name}", x, y, self.tokens.ink, (1.0 if x > 60 else 0.0, 1.0))
        yardsticks = [
            f"like {name}: {d.percent(stick.with_x)} and {d.percent(stick.with_y)}" for name, stick in sticks
        ]
        alike = f"nothing left at {d.percent(one.to_nothing)} alike"
        self.setAccessibleDescription("; ".join([alike, *yardsticks]))

    def _say(self, words: str, height: np.ndarray, colour: str, share: float) -> None:
        """What a curve says, at a place along the part of it that is in view."""
        there = np.flatnonzero(np.isfinite(height))
        if there.size > 5:
            at = there[int(share * (there.size - 1))]
            label = self._put(words, 100 * _PLACES[at], 100 * height[at], colour, (0.5, 0.5))
            label.fill = pg.mkBrush(self.tokens.card)

    def _put(self, words: str, x: float, y: float, colour: str, anchor: tuple[float, float]) -> pg.TextItem:
        label = pg.TextItem(words, color=colour, anchor=anchor)
        font = QFont(self.own_font)
        font.setPixelSize(11)
        label.setFont(font)
        label.setPos(x, y)
        self.main.addItem(label, ignoreBounds=True)
        self.labels.append(label)
        return label
