"""The slope with columns held over many samples, above the slope alone on the same samples."""

from __future__ import annotations

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QFont

from bright_tether.core.rehearse.held import HeldDraws
from bright_tether.core.special import special
from bright_tether.live.findings import Findings
from bright_tether.pictures.board import Board
from bright_tether.pictures.frame import number_axes, with_room
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.reading import names_of
from bright_tether.words.said import listed

_BARS = 81


class HeldSamplesPicture(Board):
    """Two piles on one scale: what is aimed at dashed, one's own slope bright, theory's curve on the upper."""

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.main, self.below = self.add_plot(0, 0), self.add_plot(1, 0)
        self.below.setXLink(self.main)
        self.bars = [pg.BarGraphItem(x0=[], x1=[], y0=0, y1=[]) for _ in range(2)]
        self.aims, self.own = ([pg.InfiniteLine(0, angle=90) for _ in range(2)] for _ in range(2))
        self.theory = pg.PlotCurveItem()
        for plot, *items in zip((self.main, self.below), self.bars, self.aims, self.own, strict=True):
            for item in items:
                plot.addItem(item)
        self.main.addItem(self.theory)
        self.restyle(tokens)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        super().restyle(tokens)
        for bars, hue in zip(self.bars, (tokens.hues[0], tokens.muted), strict=True):
            soft = QColor(hue)
            soft.setAlpha(120)
            bars.setOpts(brush=pg.mkBrush(soft), pen=pg.mkPen(tokens.card))
        for line in self.aims:
            line.setPen(pg.mkPen(tokens.ink, width=1.6, style=Qt.PenStyle.DashLine))
        for line in self.own:
            line.setPen(pg.mkPen(tokens.tether, width=3))
        self.theory.setPen(pg.mkPen(tokens.ink, width=1.8))

    def draw(self, findings: Findings, drawn: HeldDraws | None) -> None:
        """Show what has been drawn."""
        shown = drawn is not None and drawn.done > 1
        for line in (*self.aims, *self.own):
            line.setVisible(shown)
        self.theory.setData([], [])
        number_axes(self, shown)
        if drawn is None or not shown:
            for bars in self.bars:
                bars.setOpts(x0=[], x1=[], y0=0, y1=[])
            self.setAccessibleDescription("No samples drawn yet")
            return
        names = names_of(findings.x_column, findings.y_column)
        held = listed(one.short for one in findings.held_cells)
        low, high = np.quantile(np.concatenate((drawn.held, drawn.alone)), (0.0005, 0.9995)).tolist()
        edges = np.linspace(*with_room(low, high if high > low else low + 1.0), _BARS + 1)
        line = findings.held_line.held
        for at, (title, values, aim, own) in enumerate((
            (f"slope with {held} held", drawn.held, drawn.truth, line.held.slope),
            ("slope alone", drawn.alone, drawn.alone_truth, line.slope_alone),
        )):  # fmt: skip
            counts = np.histogram(values, edges)[0]
            self.bars[at].setOpts(x0=edges[:-1], x1=edges[1:], y0=0, y1=counts)
            self.aims[at].setValue(aim)
            self.own[at].setVisible(own is not None)
            self.own[at].setValue(own or 0.0)
            plot, top = self.plots[at], float(counts.max())
            if at == 0 and not drawn.by_rows:
                below = np.asarray(special.ndtr((edges - drawn.truth) / drawn.formula), np.float64)
                expected = np.diff(below) * drawn.done
                self.theory.setData((edges[:-1] + edges[1:]) / 2, expected)
                top = max(top, float(expected.max()))
            self.name(plot, f"{title} ({names.slope_unit})" if names.slope_unit else title, "samples")
            plot.setYRange(0, 1.08 * top, padding=0)
        self.main.setXRange(float(edges[0]), float(edges[-1]), padding=0)
        means = [d.figure(float(one.mean()), 4) for one in (drawn.held, drawn.alone)]
        self.setAccessibleDescription(
            f"{d.grouped(drawn.done)} samples: slope with {held} held {means[0]} on average, alone {means[1]}"
        )
