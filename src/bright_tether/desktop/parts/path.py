"""The tether path: a line with a knot for each step, bright as far as it has been walked."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer
from PyQt6.QtGui import QColor, QFont, QPainter, QPen
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QSizePolicy, QWidget

from bright_tether.desktop.session import Session
from bright_tether.pictures.sure import sure
from bright_tether.steps.catalogue import IDS, STEPS
from bright_tether.steps.step import Step
from bright_tether.theme.tokens import Tokens

_LINE_AT = 27
#: Up to this many rows doubts are judged at every step, for the badge.
BADGE_ROWS = 2000

#: Milliseconds for which the hand must rest before the badge follows it.
_REST = 100


class Knot(QAbstractButton):
    """One step on the path, with its stretch of line."""

    def __init__(self, step: Step, place: int, tokens: Tokens) -> None:
        super().__init__()
        self.step, self.tokens = step, tokens
        self._first, self._last = place == 0, place == len(STEPS) - 1
        self.badge = 0
        self.walked_before = self.walked_after = self.walked = False
        self.setCheckable(True)
        self.setAutoExclusive(True)  # one of nine: a screen reader calls it so
        self.setAccessibleName(f"Step {step.title}")
        self.setAccessibleDescription(f"step {place + 1} of {len(STEPS)} on the path")
        self.setToolTip(f"{step.title}  (Alt+{place + 1})")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        """Room for the knot and its word."""
        return QSize(92, 64)

    def focusInEvent(self, event: Any) -> None:
        """Tab goes along the path: one of several would else be the only one that it reaches."""
        super().focusInEvent(event)
        for knot in sure(self.parentWidget()).findChildren(Knot):
            knot.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def paintEvent(self, event: Any) -> None:
        """Line, knot, word."""
        t, painter = self.tokens, QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle = QPointF(self.width() / 2, _LINE_AT)
        dim = QColor(t.on_night_muted)
        for skip, walked, end in (
            (self._first, self.walked_before, 0),
            (self._last, self.walked_after, self.width()),
        ):
            if not skip:
                painter.setPen(QPen(QColor(t.tether) if walked else dim, 3 if walked else 1.5))
                painter.drawLine(middle, QPointF(end, _LINE_AT))
        here, bright = self.isChecked(), self.walked or self.isChecked()
        painter.setPen(QPen(QColor(t.tether) if bright else dim, 2))
        painter.setBrush(QColor(t.tether) if bright else QColor(t.night))
        painter.drawEllipse(middle, *((8, 8) if here else (5, 5)))
        if self.hasFocus() or self.underMouse():
            painter.setPen(QPen(QColor(t.on_night), 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(middle, 11.5, 11.5)
        if self.badge:
            self._paint_badge(painter, middle)
        font = QFont(self.font())
        font.setWeight(QFont.Weight.DemiBold if here else QFont.Weight.Normal)
        for size in (13, 12, 11, 10):  # as large as the stretch of the path allows
            font.setPixelSize(size)
            painter.setFont(font)
            if max(painter.fontMetrics().horizontalAdvance(step.title) for step in STEPS) <= self.width() - 3:
                break
        painter.setPen(QColor(t.on_night if here else t.on_night_muted))
        painter.drawText(self.rect().adjusted(0, 40, 0, 0), Qt.AlignmentFlag.AlignHCenter, self.step.title)

    def _paint_badge(self, painter: QPainter, middle: QPointF) -> None:
        """How many doubts with a clear sign nothing answers."""
        spot = middle + QPointF(12, -11)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(self.tokens.attention))
        painter.drawEllipse(spot, 8, 8)
        font = QFont(self.font())
        font.setPixelSize(10)
        font.setBold(True)
        painter.setFont(font)
        painter.setPen(QColor(self.tokens.on_night))
        painter.drawText(
            QRectF(spot.x() - 8, spot.y() - 8, 16, 16), Qt.AlignmentFlag.AlignCenter, str(self.badge)
        )


class Path(QWidget):
    """All knots in order."""

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self._session = session
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self._knots = [Knot(step, place, tokens) for place, step in enumerate(STEPS)]
        for knot in self._knots:
            knot.clicked.connect(lambda _, step=knot.step.id: session.show_step(step))
            row.addWidget(knot)
        session.step_changed.connect(self.show_step)
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.timeout.connect(self.show_attention)
        session.findings_changed.connect(self._follow)
        self.show_attention()
        self.show_step(session.step)

    def take_keys(self, step: str) -> None:
        """Let the keyboard stand on a step."""
        self._knots[IDS.index(step)].setFocus()

    def show_step(self, step: str) -> None:
        """Brighten the path as far as it has been walked."""
        furthest = max(IDS.index(walked) for walked in self._session.walked)
        for place, knot in enumerate(self._knots):
            knot.setChecked(knot.step.id == step)
            knot.walked = place <= furthest
            knot.walked_before, knot.walked_after = place <= furthest, place < furthest
            knot.update()

    def _follow(self) -> None:
        if self._session.moving:
            self._rest.start(_REST)
        else:
            self._rest.stop()
            self.show_attention()

    def show_attention(self) -> None:
        """Badge the step where something needs attention; long tables only once Doubts is walked to."""
        findings = self._session.findings
        place = IDS.index("doubts")
        knot = self._knots[place]
        asked = findings.table.rows <= BADGE_ROWS or self._session.step == "doubts"
        count = len(findings.unanswered) if asked and findings.refusal is None else 0
        if count != knot.badge:
            knot.badge = count
            said = f": {count} unanswered" if count else ""
            knot.setAccessibleDescription(f"step {place + 1} of {len(STEPS)} on the path{said}")
            knot.update()

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        for knot in self._knots:
            knot.tokens = tokens
            knot.update()
