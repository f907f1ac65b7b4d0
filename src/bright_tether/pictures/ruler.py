"""The ruler from −1 to +1: coefficients with their intervals and the values that count as evidence."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFont, QPainter, QPainterPath, QPen, QTransform
from PyQt6.QtWidgets import QToolTip, QWidget
from pyqtgraph.graphicsItems.ScatterPlotItem import Symbols

from bright_tether.live.findings import Findings
from bright_tether.pictures.sure import sure
from bright_tether.theme.tokens import SHAPES, Tokens
from bright_tether.words import digits as d
from bright_tether.words.grids.strength import COEFFICIENT_NAMES
from bright_tether.words.readings.strength import no_value

_ROW, _FOOT, _LABELS, _MARGIN = 42, 26, 128, 18


@dataclass(frozen=True, slots=True, kw_only=True)
class RulerRow:
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
        self.setAccessibleName("Ruler of coefficients")

    def draw(self, findings: Findings, luck: np.ndarray | None = None) -> None:
        """Show a tether. luck : counts of r under shuffling, in equal bins from −1 to +1."""
        self.rows = () if findings.refusal else ruler_rows(findings)
        self._digits, self._alternative = findings.rules.digits, findings.rules.alternative
        self.luck = luck
        self.setFixedHeight(self.sizeHint().height())
        self.setAccessibleDescription("; ".join(self.in_words(row) for row in self.rows))
        self.update()

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
        t = self._tokens
        self._ends = area.left() + _LABELS, area.right() - _MARGIN
        foot = area.top() + len(self.rows) * _ROW
        if not self.rows:
            return
        if self.luck is not None:
            self._paint_luck(painter, area.top())
        for at, row in enumerate(self.rows):
            self._paint_row(painter, row, at, area.top() + at * _ROW)
        painter.setPen(QPen(QColor(t.faint), 1))
        painter.drawLine(QPointF(self._ends[0], foot), QPointF(self._ends[1], foot))
        self._write(painter, 11, QColor(t.muted))
        for tick in np.linspace(-1, 1, 9 if self._ends[1] - self._ends[0] > 380 else 5):
            x = self._at(float(tick))
            painter.setPen(QPen(QColor(t.faint), 1))
            painter.drawLine(QPointF(x, foot), QPointF(x, foot + 4))
            painter.setPen(QColor(t.muted))
            text = d.coefficient(float(tick), 2)
            painter.drawText(QRectF(x - 30, foot + 5, 60, 16), Qt.AlignmentFlag.AlignHCenter, text)

    def _paint_row(self, painter: QPainter, row: RulerRow, at: int, top: float) -> None:
        t, middle = self._tokens, top + _ROW / 2
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
            if value is not None:
                self._stamp(painter, SHAPES[group], 8, QColor(t.hues[group]), self._at(value), middle + 9)
        if row.value is None:
            return
        if row.ci:
            soft = QColor(hue)
            soft.setAlpha(70)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(soft)
            low, high = map(self._at, row.ci)
            painter.drawRoundedRect(QRectF(low, middle - 5, max(high - low, 2), 10), 5, 5)
        x = self._at(row.value)
        self._stamp(painter, SHAPES[min(at, len(SHAPES) - 1)], 13, hue, x, middle)
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
            painter.drawRect(QRectF(min(edge, end), top + 2, abs(end - edge), _ROW - 4))
            painter.setPen(QPen(QColor(t.muted), 1, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(edge, top + 2), QPointF(edge, top + _ROW - 2))
        self._write(painter, 10, QColor(t.muted))
        text = f"critical {self._limit(row.critical)}"
        middle = self._at(0)
        wide = painter.fontMetrics().horizontalAdvance(text)
        painter.drawText(QPointF(middle - wide / 2, top + _ROW - 6), text)

    def _paint_luck(self, painter: QPainter, top: float) -> None:
        """The pile of r under shuffling, behind the first row."""
        luck = sure(self.luck)
        tall = float(luck.max()) or 1.0
        path = QPainterPath(QPointF(self._at(-1), top + _ROW - 2))
        for at, count in enumerate(luck.tolist()):
            height = top + _ROW - 2 - (_ROW - 6) * count / tall
            for end in (at, at + 1):
                path.lineTo(QPointF(self._at(2 * end / luck.size - 1), height))
        path.lineTo(QPointF(self._at(1), top + _ROW - 2))
        fill = QColor(self._tokens.hues[-1])
        fill.setAlpha(80)
        painter.fillPath(path, fill)

    def _at(self, value: float) -> float:
        left, right = self._ends
        return left + (value + 1) / 2 * (right - left)

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
    def _stamp(painter: QPainter, shape: str, size: int, hue: QColor, x: float, y: float) -> None:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(hue)
        painter.drawPath(QTransform.fromScale(size, size).map(Symbols[shape]).translated(x, y))
