"""The step Line: the picture with its equation."""

from __future__ import annotations

from PyQt6.QtGui import QFont, QGuiApplication
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from bright_tether.desktop.parts.change import ChangeOfX
from bright_tether.desktop.parts.flow import choice_of
from bright_tether.desktop.parts.line_tables import AlternativesTable, ErrorsView, VariationView
from bright_tether.desktop.parts.pieces import button, card, label, stacked
from bright_tether.desktop.parts.settings import LineSettings
from bright_tether.desktop.session import LINE_VIEWS, Session
from bright_tether.desktop.steps.points import connect_points
from bright_tether.look.tokens import Tokens
from bright_tether.pictures.alternatives import AlternativesPicture, FittedPicture
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
        self._copy = button("Copy", self.copy_equation, "small", name="Copy the equation with all its digits")
        self.picture = LinePicture(tokens, font, "Line picture")
        self.move_points = button("Move points", lambda: None, "small", name="Move points by dragging")
        self.move_points.setCheckable(True)
        self.move_points.toggled.connect(self._free_points)
        self.move_points.setToolTip(
            "Dragging a point moves it. Without this, only a marked point can be dragged."
        )
        connect_points(self.picture, session)
        self._settings = button("Settings…", self.open_settings, "small", name="Settings of the line")
        top = QHBoxLayout()
        top.addWidget(self._equation, 1)
        top.addWidget(self._unit)
        self.extra = ChangeOfX(session)
        self.errors, self.variation = ErrorsView(session, tokens), VariationView(session, tokens)
        self.others, self.other_lines = (
            AlternativesTable(session, tokens),
            AlternativesPicture(tokens, font, "Other lines picture"),
        )
        self.others.picked.connect(lambda: self.other_lines.choose(self.others.ticked()))
        self.fitted = FittedPicture(tokens, font, "Fitted against observed")
        for picture in (self.other_lines, self.fitted):
            connect_points(picture, session)
        self.views, self._choosers = QStackedWidget(), QButtonGroup(self)
        choice = choice_of(LINE_VIEWS, self._choosers, self.show_view)
        pages = (
            self.picture,
            self.errors,
            self.variation,
            stacked(self.others, self.other_lines),
            self.fitted,
        )
        for page in pages:
            self.views.addWidget(page)
        for widget in (self._copy, self.move_points, self._settings):
            choice.addWidget(widget)
        column = QVBoxLayout()
        column.setContentsMargins(14, 10, 10, 10)
        column.addLayout(top)
        column.addLayout(choice)
        column.addWidget(self.views, 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(card(column))

    def open_settings(self) -> None:
        """Say how the line is fitted and judged."""
        LineSettings(self._session, self.window()).show_by(self._settings)

    def show_view(self, name: str) -> None:
        """Show the line, or one of the tables and pictures beside it."""
        at = LINE_VIEWS.index(name)
        self._choosers.button(at).setChecked(True)
        self.views.setCurrentIndex(at)
        self._show_page()

    def show_findings(self) -> None:
        """Bring equation and picture up to date."""
        findings = self._session.findings
        there = findings.refusal is None
        self._equation.setText(equation(findings) if there else "no line yet")
        self._copy.setVisible(there)
        unit = names_of(findings.x_column, findings.y_column).slope_unit if there else ""
        self._unit.setText(unit)
        self.extra.refresh()
        self._show_page()

    def _show_page(self) -> None:
        findings, at = self._session.findings, self.views.currentIndex()
        if at == 0:
            self.picture.draw(findings, self._session.mark)
        elif at == 3:
            self.others.refresh()
            self.other_lines.chosen = self.others.ticked()
            self.other_lines.draw(findings, self._session.mark)
        elif at == 4:
            self.fitted.draw(findings, self._session.mark)
        else:
            self.views.currentWidget().refresh()

    def show_mark(self) -> None:
        """Ring the marked rows."""
        shown = {0: self.picture, 3: self.other_lines, 4: self.fitted}.get(self.views.currentIndex())
        if shown is not None:
            shown.show_mark(self._session.mark)

    @property
    def view(self) -> str:
        """The view on show."""
        return LINE_VIEWS[self.views.currentIndex()]

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
        for picture in (self.picture, self.other_lines, self.fitted):
            picture.restyle(tokens)
        self.errors.tokens = self.others.tokens = self.variation.bar.tokens = tokens
        self._show_page()

    def _free_points(self, free: bool) -> None:
        self.picture.free_to_move = free
