"""The points with the lines that the slope makes at low, middle and high values of another column, or in its levels."""

from __future__ import annotations

from collections.abc import Set

import numpy as np
import pyqtgraph as pg
from PyQt6.QtGui import QColor, QFont

from bright_tether.claims.along import along_of, slope_along_claim
from bright_tether.live.findings import Findings
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.theme.tokens import Tokens
from bright_tether.words.readings.along import place_name

#: The most lines that are drawn, and how strong the first of several values is.
_MOST, _FAINT = 6, 90
#: How far along its line the words of the last stand, and by how much those of the others stand apart from them.
_FIRST, _APART = 0.87, 0.16
#: How much of the points below them the words cover.
_GROUND = 215


class AlongPicture(ScatterPicture):
    """One line a place, its words framed in its colour upon it; of numbers the stronger the higher."""

    movable = False

    def __init__(self, tokens: Tokens, font: QFont, name: str) -> None:
        super().__init__(tokens, font, name)
        self.lines = [pg.PlotCurveItem() for _ in range(_MOST)]
        self.labels = [pg.TextItem(anchor=(0.5, 0.5)) for _ in range(_MOST)]
        for items, height in ((self.lines, -10), (self.labels, 20)):
            for item in items:
                item.setZValue(height)
                self.main.addItem(item, ignoreBounds=True)
        self.restyle(tokens)

    def draw(self, findings: Findings, marked: Set[int]) -> None:
        """The points, then the lines."""
        super().draw(findings, marked)
        line = along_of(findings) if findings.refusal is None else None
        small = QFont(self.own_font)
        small.setPixelSize(11)
        claim = None if line is None else slope_along_claim(line, findings.rules.alpha)
        places = () if line is None else line.along.places[:_MOST]
        ends = (
            np.array([0.0, 0.0])
            if line is None
            else np.array([findings.pairs.x.min(), findings.pairs.x.max()])
        )
        for at, (curve, label) in enumerate(zip(self.lines, self.labels, strict=True)):
            one = places[at] if at < len(places) else None
            there = one is not None and one.intercept is not None and one.slope.slope is not None
            label.setVisible(there)
            if (
                one is None
                or line is None
                or claim is None
                or one.intercept is None
                or one.slope.slope is None
            ):
                curve.setData([], [])
                continue
            heights = one.intercept + one.slope.slope * ends
            curve.setData(ends, heights)
            colour = self._colour(at, len(places), category=bool(line.levels))
            curve.setPen(pg.mkPen(colour, width=2.4))
            label.setFont(small)
            name = place_name(line, claim.at[at])
            last = at == len(places) - 1  # the column is named once, at the line of its highest value
            label.setText(f"{line.short} {name}" if line.levels or last else name, color=self.tokens.ink)
            ground = QColor(self.tokens.card)
            ground.setAlpha(_GROUND)
            label.fill, label.border = pg.mkBrush(ground), pg.mkPen(colour, width=1.2)
            share = _FIRST - _APART * (len(places) - 1 - at)  # lines that lie close keep their words apart
            label.setPos(
                float(ends[0] + share * np.ptp(ends)), float(heights[0] + share * (heights[1] - heights[0]))
            )

    def _colour(self, at: int, many: int, *, category: bool) -> QColor:
        if category:
            return QColor(self.tokens.hues[at % len(self.tokens.hues)])
        colour = QColor(self.tokens.tether)
        colour.setAlpha(255 if many < 2 else round(_FAINT + (255 - _FAINT) * at / (many - 1)))
        return colour
