"""The ruler from −1 to +1: coefficients with their intervals and the values that count as evidence."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import msgspec
import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPainterPath, QPen, QTransform
from PyQt6.QtWidgets import QToolTip, QWidget
from pyqtgraph.graphicsItems.ScatterPlotItem import Symbols

from bright_tether.live.findings import Findings
from bright_tether.pictures.sure import sure
from bright_tether.study.figures import Figure, FigureAxes
from bright_tether.theme.tokens import SHAPES, Tokens
from bright_tether.words import digits as d
from bright_tether.words.grids.strength import COEFFICIENT_NAMES
from bright_tether.words.readings.strength import no_value

_ROW, _FOOT, _LABELS, _MARGIN = 42, 26, 128, 18
#: The least height of a row in a figure, of a line of words above or below the rows, and the size of a mark.
_LEAST_ROW, _WORDS, _MARK = 36, 18, 13
#: Pixels between words and a broken line.
_CLEAR = 4
#: More numbers than these stand at no ruler.
_MOST_PLACES = 40


class RulerRow(msgspec.Struct, frozen=True, kw_only=True):
    """One coefficient on the ruler.

    small : values drawn as small marks in their groups' looks. missing : why there is no interval.
    """

    name: str
    value: float | None
    ci: tuple[float, float] | None
    critical: float | None
    decides: bool
    missing: str = ""
    small: tuple[float | None, ...] = ()


def ruler_rows(findings: Findings) -> tuple[RulerRow, ...]:
    """The rows for one tether: r, ρ, τ, and r within groups where there are groups."""
    rows = []
    for coefficient, words in COEFFICIENT_NAMES.items():
        one = findings.in_force(coefficient)
        rows.append(
            RulerRow(name=words, value=one.value, ci=one.ci, critical=one.critical,
                     decides=findings.decider == coefficient, missing=no_value(one))
        )  # fmt: skip
    within = findings.within_groups
    if within is not None and len(within.groups) > 1:
        small = tuple(group.r for group in within.groups[: len(SHAPES)])
        name = f"r within {findings.grouping.short}" if findings.grouping else "r within groups"
        rows.append(
            RulerRow(name=name, value=within.r, ci=None, critical=None, decides=False, small=small,
                     missing="pooled: the small marks are the groups")
        )  # fmt: skip
    return tuple(rows)


def _name(row: RulerRow) -> str:
    return f"{row.name} · decides" if row.decides else row.name


class Ruler(QWidget):
    """Draws the rows; hover tells a row in full."""

    def __init__(self, tokens: Tokens, font: QFont) -> None:
        super().__init__()
        self._tokens, self._font = tokens, font
        self.rows: tuple[RulerRow, ...] = ()
        self._digits, self._alternative = 3, "two-sided"
        self.luck: np.ndarray | None = None
        self._figure: Figure | None = None
        self._axes = FigureAxes()
        self._reach, self._row = (-1.0, 1.0), float(_ROW)
        self.setAccessibleName("Ruler of coefficients")

    def draw(self, findings: Findings, luck: np.ndarray | None = None) -> None:
        """Show a tether. luck : counts of r under shuffling, in equal bins from −1 to +1."""
        self.rows = () if findings.refusal else ruler_rows(findings)
        self._digits, self._alternative = findings.rules.digits, findings.rules.alternative
        self.luck = luck
        self.setFixedHeight(self.sizeHint().height())
        self.setAccessibleDescription("; ".join(self.in_words(row) for row in self.rows))
        self.update()

    def dress(self, figure: Figure, axes: FigureAxes) -> None:
        """Stand in a figure: with its own ends, numbers and words, marks as large as they are wanted."""
        self._figure, self._axes = figure, axes
        low = -1.0 if axes.x.low is None else max(axes.x.low, -1.0)
        high = 1.0 if axes.x.high is None else min(axes.x.high, 1.0)
        self._reach = (low, high) if low < high else (-1.0, 1.0)

    def sizeHint(self) -> QSize:
        """A strip a row, and the numbers below."""
        return QSize(480, max(len(self.rows), 3) * _ROW + _FOOT)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self._tokens = tokens
        self.update()

    def in_words(self, row: RulerRow) -> str:
        """A row as it is told on hover."""
        words = f"{_name(row)} {d.coefficient(row.value, self._digits)}"
        if row.missing and not row.ci:
            words += f", {row.missing}"
        if row.ci:
            words += f", interval {self._interval(row)}"
        if row.critical is not None and row.critical <= 1:
            words += f", critical {self._limit(row.critical)}"
        return words

    def event(self, event: Any) -> bool:
        """Tell the row under the hand."""
        if event.type() == QEvent.Type.ToolTip:
            at = int(event.pos().y() // _ROW)
            if 0 <= at < len(self.rows):
                QToolTip.showText(event.globalPos(), self.in_words(self.rows[at]), self)
            return True
        return super().event(event)

    def paintEvent(self, event: Any) -> None:
        """Paint on the widget."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.paint(painter, QRectF(self.rect()))

    def paint(self, painter: QPainter, area: QRectF) -> None:
        """Paint into an area of any page."""
        self._ends = area.left() + _LABELS, area.right() - _MARGIN
        if not self.rows:
            return
        top = area.top()
        if self._figure is not None:
            top += _WORDS if self._axes.title else 0.0
            below = _FOOT + (_WORDS if self._axes.x.name else 0)
            self._row = min(max((area.bottom() - top - below) / len(self.rows), _LEAST_ROW), _ROW)
        foot = top + len(self.rows) * self._row
        if self.luck is not None:
            self._paint_luck(painter, top)
        for at, row in enumerate(self.rows):
            self._paint_row(painter, row, at, top + at * self._row)
        self._paint_scale(painter, foot)
        if self._figure is not None:
            self._paint_words(painter, area, top, foot)

    def _paint_scale(self, painter: QPainter, foot: float) -> None:
        t = self._tokens
        painter.setPen(QPen(QColor(t.faint), 1))
        painter.drawLine(QPointF(self._ends[0], foot), QPointF(self._ends[1], foot))
        self._write(painter, 11, QColor(t.muted))
        places = self._places()
        minor = 0 if self._figure is None else self._figure.minor
        for before, after in pairwise(places):
            painter.setPen(QPen(QColor(t.faint), 1))
            for part in range(1, minor + 1):
                x = self._at(before + (after - before) * part / (minor + 1))
                painter.drawLine(QPointF(x, foot), QPointF(x, foot + 2))
        for tick in places:
            x = self._at(tick)
            painter.setPen(QPen(QColor(t.faint), 1))
            painter.drawLine(QPointF(x, foot), QPointF(x, foot + 4))
            painter.setPen(QColor(t.muted))
            painter.drawText(
                QRectF(x - 30, foot + 5, 60, 16), Qt.AlignmentFlag.AlignHCenter, d.coefficient(tick, 2)
            )

    def _places(self) -> list[float]:
        """Where numbers stand: by hand, by step, or evenly."""
        (low, high), wish = self._reach, self._axes.x
        if wish.at:
            return [one for one in sorted(set(wish.at)) if low <= one <= high]
        if wish.step and (high - low) / wish.step <= _MOST_PLACES:
            first, last = np.ceil(low / wish.step - 1e-9), np.floor(high / wish.step + 1e-9)
            return [float(at * wish.step) for at in np.arange(first, last + 1)]
        return [float(one) for one in np.linspace(low, high, 9 if self._ends[1] - self._ends[0] > 380 else 5)]

    def _paint_words(self, painter: QPainter, area: QRectF, top: float, foot: float) -> None:
        """In a figure: its title, the name of the scale, the line all round."""
        t, middle = self._tokens, Qt.AlignmentFlag.AlignHCenter
        left, right = self._ends
        if self._axes.title:
            self._write(painter, 12, QColor(t.ink))
            painter.drawText(QRectF(area.left(), area.top(), area.width(), _WORDS), middle, self._axes.title)
        if self._axes.x.name:
            self._write(painter, 12, QColor(t.ink))
            painter.drawText(QRectF(left, foot + _FOOT - 4, right - left, _WORDS), middle, self._axes.x.name)
        if sure(self._figure).frame:
            painter.setPen(QPen(QColor(t.faint), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(left, top, right - left, foot - top))

    def _paint_row(self, painter: QPainter, row: RulerRow, at: int, top: float) -> None:
        t, middle, figure = self._tokens, top + self._row / 2, self._figure
        mark = _MARK if figure is None or not figure.dot else figure.pixels(figure.dot)
        self._paint_evidence(painter, row, top)
        hue = QColor(t.hues[min(at, len(t.hues) - 1)])
        self._write(painter, 12, QColor(t.ink), bold=True)
        name = painter.fontMetrics().elidedText(_name(row), Qt.TextElideMode.ElideRight, _LABELS - 8)
        painter.drawText(QRectF(0, top + 4, _LABELS, 18), Qt.AlignmentFlag.AlignLeft, name)
        self._write(painter, 11, QColor(t.muted))
        below = self._interval(row) if row.ci else row.missing.partition(":")[0]
        below = painter.fontMetrics().elidedText(below, Qt.TextElideMode.ElideRight, _LABELS - 6)
        painter.drawText(QRectF(0, top + 21, _LABELS, 16), Qt.AlignmentFlag.AlignLeft, below)
        for group, value in enumerate(row.small):
            if value is not None and self._inside(value):
                self._stamp(
                    painter, SHAPES[group], 0.6 * mark, QColor(t.hues[group]), self._at(value), middle + 9
                )
        if row.value is None or not self._inside(row.value):
            return
        if row.ci and (figure is None or "band" in figure.drawn):
            soft = QColor(hue)
            soft.setAlpha(70)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(soft)
            low, high = map(self._at, row.ci)
            painter.drawRoundedRect(QRectF(low, middle - 5, max(high - low, 2), 10), 5, 5)
        x = self._at(row.value)
        self._stamp(painter, SHAPES[min(at, len(SHAPES) - 1)], mark, hue, x, middle)
        self._write(painter, 13, QColor(t.ink), bold=True)
        text = d.coefficient(row.value, self._digits)
        left = min(x, self._at(row.ci[0])) if row.ci else x
        wide = painter.fontMetrics().horizontalAdvance(text)
        start = left - 12 - wide
        if start < self._ends[0] + 2:
            start = (max(x, self._at(row.ci[1])) if row.ci else x) + 12
        painter.drawText(QRectF(start, middle - 15, wide + 4, 20), Qt.AlignmentFlag.AlignVCenter, text)

    def _paint_evidence(self, painter: QPainter, row: RulerRow, top: float) -> None:
        """Shade where a value would count as evidence, and say from where."""
        t = self._tokens
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(t.paper))
        if row.critical is None or row.critical >= 1:
            return
        for side in (-1, 1):
            if self._alternative == {-1: "greater", 1: "less"}[side]:
                continue
            edge, end = self._at(side * row.critical), self._at(side)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawRect(QRectF(min(edge, end), top + 2, abs(end - edge), self._row - 4))
            if self._inside(side * row.critical):
                painter.setPen(QPen(QColor(t.muted), 1, Qt.PenStyle.DashLine))
                painter.drawLine(QPointF(edge, top + 2), QPointF(edge, top + self._row - 2))
        self._write(painter, 10, QColor(t.muted))
        text = f"critical {self._limit(row.critical)}"
        wide = painter.fontMetrics().horizontalAdvance(text)
        start, edge = self._at(sum(self._reach) / 2) - wide / 2, self._at(row.critical)
        if edge < start + wide + _CLEAR:  # of so many rows that the words would stand on the broken lines
            start = edge + _CLEAR
        painter.drawText(QPointF(start, top + self._row - 6), text)

    def _paint_luck(self, painter: QPainter, top: float) -> None:
        """The pile of r under shuffling, behind the first row."""
        luck = sure(self.luck)
        tall = float(luck.max()) or 1.0
        path = QPainterPath(QPointF(self._at(-1), top + self._row - 2))
        for at, count in enumerate(luck.tolist()):
            height = top + self._row - 2 - (self._row - 6) * count / tall
            for end in (at, at + 1):
                path.lineTo(QPointF(self._at(2 * end / luck.size - 1), height))
        path.lineTo(QPointF(self._at(1), top + self._row - 2))
        fill = QColor(self._tokens.hues[-1])
        fill.setAlpha(80)
        painter.fillPath(path, fill)

    def _at(self, value: float) -> float:
        (left, right), (low, high) = self._ends, self._reach
        return left + (min(max(value, low), high) - low) / (high - low) * (right - left)

    def _inside(self, value: float) -> bool:
        return self._reach[0] <= value <= self._reach[1]

    def _interval(self, row: RulerRow) -> str:
        low, high = sure(row.ci)
        return f"{d.coefficient(low, 2)} … {d.coefficient(high, 2)}"

    def _limit(self, critical: float) -> str:
        sign = {"two-sided": "±", "greater": "+", "less": "−"}[self._alternative]
        return sign + d.coefficient(critical, self._digits).lstrip("+")

    def _write(self, painter: QPainter, size: int, colour: QColor, *, bold: bool = False) -> None:
        font = QFont(self._font)
        font.setPixelSize(size)
        font.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
        painter.setFont(font)
        painter.setPen(colour)

    @staticmethod
    def _stamp(painter: QPainter, shape: str, size: float, hue: QColor, x: float, y: float) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(hue)
        painter.drawPath(QTransform.fromScale(size, size).map(Symbols[shape]).translated(x, y))
