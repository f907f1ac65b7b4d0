"""The step Line: the picture with its equation."""

from __future__ import annotations

from PyQt6.QtGui import QFont, QGuiApplication
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from bright_tether.desktop.parts.pieces import button, card, label
from bright_tether.desktop.session import Session
from bright_tether.desktop.steps.points import connect_points
from bright_tether.look.tokens import Tokens
from bright_tether.pictures.line import LinePicture
from bright_tether.words.reading import Reading, Working, names_of
from bright_tether.words.readings.line import equation, equation_to_copy, line_reading
from bright_tether.words.workings.line import correlation_working, slope_working


class LineStep(QWidget):
    """Scatter, line, band and misses, under the equation."""

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__()
        self.setObjectName("stagePage")
        self._session = session
        self._equation = label(kind="heading", wrap=True, name="equation")
        self._unit = label(kind="quiet", name="slope unit")
        self._copy = button("Copy", self.copy_equation, name="Copy the equation with all its digits")
        self.picture = LinePicture(tokens, font, "Line picture")
        self.move_points = button("Move points", lambda: None, name="Move points by dragging")
        self.move_points.setCheckable(True)
        self.move_points.toggled.connect(self._free_points)
        self.move_points.setToolTip(
            "Dragging a point moves it. Without this, only a marked point can be dragged."
        )
        connect_points(self.picture, session)
        top = QHBoxLayout()
        top.addWidget(self._equation, 1)
        for widget in (self._unit, self._copy, self.move_points):
            top.addWidget(widget)
        column = QVBoxLayout()
        column.setContentsMargins(14, 10, 10, 10)
        column.addLayout(top)
        column.addWidget(self.picture, 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(card(column))

    extra = None

    def show_findings(self) -> None:
        """Bring equation and picture up to date."""
        findings = self._session.findings
        there = findings.refusal is None
        self._equation.setText(equation(findings) if there else "no line yet")
        self._copy.setVisible(there)
        unit = names_of(findings.x_column, findings.y_column).slope_unit if there else ""
        self._unit.setText(unit)
        self.picture.draw(findings, self._session.mark)

    def show_mark(self) -> None:
        """Ring the marked rows."""
        self.picture.show_mark(self._session.mark)

    def reading(self) -> Reading:
        """What this step says."""
        return line_reading(self._session.findings)

    def workings(self) -> tuple[Working, ...]:
        """What stands behind the figures."""
        findings = self._session.findings
        return (slope_working(findings), correlation_working(findings))

    def copy_equation(self) -> None:
        """Put the equation on the clipboard with enough digits to forecast from."""
        if self._session.findings.refusal is None:
            QGuiApplication.clipboard().setText(equation_to_copy(self._session.findings))

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.picture.restyle(tokens)

    def _free_points(self, free: bool) -> None:
        self.picture.free_to_move = free
