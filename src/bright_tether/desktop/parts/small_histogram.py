"""The small picture of one column."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen
from PyQt6.QtWidgets import QWidget

from bright_tether.core.results import Ints
from bright_tether.core.shape.histogram import Histogram
from bright_tether.core.summary import ColumnSummary
from bright_tether.theme.tokens import Tokens
from bright_tether.words.reading import there


class SmallHistogram(QWidget):
    """Bars, the box with its whiskers to the ends, and the marked rows' bars in front."""

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens = tokens
        self.setFixedHeight(78)
        self._counted: tuple[Histogram, Ints] | None = None
        self._summary: ColumnSummary | None = None

    def draw(self, counted: tuple[Histogram, Ints] | None, summary: ColumnSummary | None) -> None:
        """Show the counts of all rows and of the marked ones; None shows nothing."""
        self._counted, self._summary = counted, summary
        self.update()

    def paintEvent(self, event: Any) -> None:
        """Paint bars, then the box."""
        if self._counted is None or self._summary is None:
            return
        (counted, marked), s = self._counted, self._summary
        counts, edges = counted.counts, counted.edges
        painter, t = QPainter(self), self.tokens
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        wide, tall, top = self.width(), 54.0, float(counts.max())

        low, high, q1, q3, median = map(there, (s.min, s.max, s.q1, s.q3, s.median))

        def across(value: float) -> float:
            return (value - low) / (high - low) * (wide - 2) + 1

        painter.setPen(Qt.PenStyle.NoPen)
        for number, colour in ((counts, t.hues[0]), (marked, t.ink)):
            painter.setBrush(QColor(colour))
            for at, count in enumerate(number.tolist()):
                height = tall * count / top
                left = across(edges[at])
                painter.drawRect(QRectF(left, tall - height, across(edges[at + 1]) - left - 1, height))
        painter.setPen(QPen(QColor(t.muted), 1.4))
        painter.setBrush(QColor(t.card))
        middle = tall + 13
        painter.drawLine(round(across(low)), round(middle), round(across(high)), round(middle))
        painter.drawRect(QRectF(across(q1), middle - 6, max(across(q3) - across(q1), 2), 12))
        painter.setPen(QPen(QColor(t.ink), 2))
        painter.drawLine(round(across(median)), round(middle - 6), round(across(median)), round(middle + 6))
