"""The step Line: the picture with its equation."""

from __future__ import annotations

from functools import cached_property

from PyQt6.QtGui import QFont, QGuiApplication
from PyQt6.QtWidgets import QHBoxLayout

from bright_tether.desktop.parts.all_rows import AllRowsPart
from bright_tether.desktop.parts.change_of_x import ChangeOfX
from bright_tether.desktop.parts.held_page import HeldPage
from bright_tether.desktop.parts.line_tables import AlternativesTable, ErrorsView, VariationView
from bright_tether.desktop.parts.other_choices import OtherChoicesPart
from bright_tether.desktop.parts.settings import LineSettings
from bright_tether.desktop.parts.widgets import button, label, stacked
from bright_tether.desktop.session import Session
from bright_tether.desktop.steps.points import connect_points
from bright_tether.desktop.steps.stage import StageOfViews
from bright_tether.live.all_rows import AllRows
from bright_tether.live.findings import Findings
from bright_tether.live.other_choices import OtherChoices
from bright_tether.pictures.alternatives import AlternativesPicture, FittedPicture
from bright_tether.pictures.line import LinePicture
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.pictures.sure import sure
from bright_tether.theme.tokens import Tokens
from bright_tether.words.reading import names_of
from bright_tether.words.readings.line import equation, equation_to_copy


class LineStep(StageOfViews):
    """Scatter, line, band and residuals, under the equation; the other views are made when they are first shown."""

    step_id = "line"

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__(session)
        self._tokens, self._font = tokens, font
        self._equation = label(kind="heading", wrap=True, name="equation")
        self._unit = label(kind="quiet", name="slope unit")
        self._copy = button("Copy", self.copy_equation, "small", name="Copy the equation with all its digits")
        self.picture = connect_points(LinePicture(tokens, font, "Line picture"), session)
        self.move_points = button("Move points", lambda: None, "small", name="Move points by dragging")
        self.move_points.setCheckable(True)
        self.move_points.toggled.connect(self._free_points)
        self.move_points.setToolTip(
            "Dragging a point moves it. Without this, only a marked point can be dragged."
        )
        self._settings = button("Settings…", self.open_settings, "small", name="Settings of the line")
        top = QHBoxLayout()
        top.addWidget(self._equation, 1)
        for widget in (self._unit, self._copy, self.move_points, self._settings):
            top.addWidget(widget)
        self._change = ChangeOfX(session)
        self.extra = self._change
        self.fill(
            lambda: self.picture, lambda: self.errors, lambda: self.variation,
            lambda: stacked(self.others, self.other_lines), lambda: self.fitted, lambda: self.held_page,
            lambda: self.ways, lambda: self.all_rows,
        )  # fmt: skip
        self.lay_out(top, self.choice, self.pages, tall=self.pages)

    @cached_property
    def errors(self) -> ErrorsView:
        """Every kind of standard errors."""
        return ErrorsView(self._session, self._tokens)

    @cached_property
    def variation(self) -> VariationView:
        """The table of sums of squares."""
        return VariationView(self._session, self._tokens)

    @cached_property
    def others(self) -> AlternativesTable:
        """The lines that could stand instead."""
        table = AlternativesTable(self._session, self._tokens)
        table.picked.connect(lambda: self.other_lines.choose(table.ticked()))
        return table

    @cached_property
    def other_lines(self) -> AlternativesPicture:
        """Those lines, drawn."""
        return connect_points(
            AlternativesPicture(self._tokens, self._font, "Other lines picture"), self._session
        )

    @cached_property
    def fitted(self) -> FittedPicture:
        """Fitted against observed."""
        return connect_points(
            FittedPicture(self._tokens, self._font, "Fitted against observed"), self._session
        )

    @cached_property
    def held_page(self) -> HeldPage:
        """The slope with other columns held."""
        return HeldPage(self._session, self._tokens, self._font)

    @cached_property
    def ways(self) -> OtherChoicesPart:
        """Every other way to make the analysis."""
        return OtherChoicesPart(self._session, self._tokens, self._font)

    @cached_property
    def all_rows(self) -> AllRowsPart:
        """All rows of the table that this is a share of."""
        return AllRowsPart(self._session, self._tokens, self._font)

    def open_settings(self) -> None:
        """Say how the line is fitted and judged."""
        LineSettings(self._session, sure(self.window())).show_by(self._settings)

    def show_findings(self) -> None:
        """Bring equation and view up to date."""
        findings = self.findings
        there = findings.refusal is None
        if self.view == "all-rows":
            self.all_rows.refresh()
        self._equation.setText(equation(self._told) if there else "no line yet")
        self._copy.setVisible(there)
        unit = names_of(findings.x_column, findings.y_column).slope_unit if there else ""
        self._unit.setText(unit)
        self.extra = None if self.view == "all-rows" else self._change  # which tells of the line of the share
        self._change.refresh()
        self.move_points.setVisible(self.view == "line")
        if self.view == "errors":
            self.errors.refresh()
        elif self.view == "variation":
            self.variation.refresh()
        elif self.view == "held":
            self.held_page.refresh()
        elif self.view == "other-choices":
            self.ways.refresh()
        elif self.view == "other-lines":
            self.others.refresh()
            self.other_lines.chosen = self.others.ticked()
        shown = self._shown
        if shown is not None:
            shown.draw(findings, self._session.mark)

    @property
    def _told(self) -> Findings:
        """Whose line stands above the view: that of all rows where these are shown and known."""
        found = self.all_rows.outcome if self.view == "all-rows" else None
        return self.findings if found is None or found.far is None else found.far

    @property
    def _shown(self) -> ScatterPicture | None:
        """The picture of the view, where it is nothing but points."""
        if self.view == "other-lines":
            return self.other_lines
        return self.picture if self.view == "line" else self.fitted if self.view == "fitted" else None

    def run_so_far(self) -> OtherChoices | AllRows | None:
        """The ways, or all rows, where they are shown and worked out."""
        if self.view == "all-rows":
            return self.all_rows.outcome
        return self.ways.outcome if self.view == "other-choices" else None

    def show_mark(self) -> None:
        """Ring the marked rows."""
        shown = self._shown
        if shown is not None:
            shown.show_mark(self._session.mark)
        elif self.view == "held":
            self.held_page.show_mark()

    def copy_equation(self) -> None:
        """Put the equation on the clipboard with enough digits to forecast from."""
        if self.findings.refusal is None:
            sure(QGuiApplication.clipboard()).setText(equation_to_copy(self._told))

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme; what is not made yet is made in them."""
        self._tokens = tokens
        for part in self.made("picture", "other_lines", "fitted", "held_page", "ways", "all_rows"):
            part.restyle(tokens)
        for table in self.made("errors", "others"):
            table.tokens = tokens
        for view in self.made("variation"):
            view.bar.tokens = tokens
        self.show_findings()

    def _free_points(self, free: bool) -> None:
        self.picture.free_to_move = free
