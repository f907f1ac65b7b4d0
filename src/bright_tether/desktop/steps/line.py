"""The step Line: the picture with its equation."""

from __future__ import annotations

from PyQt6.QtGui import QFont, QGuiApplication
from PyQt6.QtWidgets import QHBoxLayout

from bright_tether.desktop.parts.change_of_x import ChangeOfX
from bright_tether.desktop.parts.held_columns import HeldColumns
from bright_tether.desktop.parts.line_tables import AlternativesTable, ErrorsView, VariationView
from bright_tether.desktop.parts.other_choices import OtherChoicesPart
from bright_tether.desktop.parts.settings import LineSettings
from bright_tether.desktop.parts.widgets import button, label, stacked
from bright_tether.desktop.session import Session
from bright_tether.desktop.steps.points import connect_points
from bright_tether.desktop.steps.stage import StageOfViews
from bright_tether.live.other_choices import OtherChoices
from bright_tether.pictures.alternatives import AlternativesPicture, FittedPicture
from bright_tether.pictures.held import HeldPicture
from bright_tether.pictures.line import LinePicture
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.pictures.sure import sure
from bright_tether.pictures.unseen import UnseenPicture
from bright_tether.theme.tokens import Tokens
from bright_tether.words.reading import names_of
from bright_tether.words.readings.line import equation, equation_to_copy


class LineStep(StageOfViews):
    """Scatter, line, band and residuals, under the equation."""

    step_id = "line"

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__(session)
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
        self._settings = button("Settings…", self.open_settings, "small", name="Settings of the line")
        top = QHBoxLayout()
        top.addWidget(self._equation, 1)
        top.addWidget(self._unit)
        top.addWidget(self._copy)
        top.addWidget(self.move_points)
        top.addWidget(self._settings)
        self.extra = ChangeOfX(session)
        self.errors, self.variation = ErrorsView(session, tokens), VariationView(session, tokens)
        self.others, self.other_lines = (
            AlternativesTable(session, tokens),
            AlternativesPicture(tokens, font, "Other lines picture"),
        )
        self.others.picked.connect(lambda: self.other_lines.choose(self.others.ticked()))
        self.fitted = FittedPicture(tokens, font, "Fitted against observed")
        self.held, self.held_picture = HeldColumns(session), HeldPicture(tokens, font, "What is left of both")
        self.unseen = UnseenPicture(tokens, font, "What was not measured")
        self.ways = OtherChoicesPart(session, tokens, font)
        self.held.picture_chosen.connect(lambda _: self.show_findings())
        self._pictures: dict[str, ScatterPicture] = {
            "line": self.picture, "other-lines": self.other_lines, "fitted": self.fitted, "held": self.held_picture,
        }  # fmt: skip
        for picture in self._pictures.values():
            connect_points(picture, session)
        for page in (
            self.picture,
            self.errors,
            self.variation,
            stacked(self.others, self.other_lines),
            self.fitted,
            stacked(self.held, self.held_picture, self.unseen),
            self.ways,
        ):
            self.pages.addWidget(page)
        self.lay_out(top, self.choice, self.pages, tall=self.pages)

    def open_settings(self) -> None:
        """Say how the line is fitted and judged."""
        LineSettings(self._session, sure(self.window())).show_by(self._settings)

    def show_findings(self) -> None:
        """Bring equation and view up to date."""
        findings = self.findings
        there = findings.refusal is None
        self._equation.setText(equation(findings) if there else "no line yet")
        self._copy.setVisible(there)
        unit = names_of(findings.x_column, findings.y_column).slope_unit if there else ""
        self._unit.setText(unit)
        self.extra.refresh()
        self.move_points.setVisible(self.view == "line")
        if self.view == "errors":
            self.errors.refresh()
        elif self.view == "variation":
            self.variation.refresh()
        elif self.view == "held":
            self.held.refresh()
            unseen = self.held.shown.checkedId() == 1
            self.unseen.setVisible(unseen)
            self.held_picture.setVisible(not unseen)
            if unseen:
                self.unseen.draw(findings)
        elif self.view == "other-choices":
            self.ways.refresh()
        elif self.view == "other-lines":
            self.others.refresh()
            self.other_lines.chosen = self.others.ticked()
        if self.view in self._pictures:
            self._pictures[self.view].draw(findings, self._session.mark)

    def run_so_far(self) -> OtherChoices | None:
        """The ways, where they are shown and worked out."""
        return self.ways.outcome if self.view == "other-choices" else None

    def show_mark(self) -> None:
        """Ring the marked rows."""
        if self.view in self._pictures:
            self._pictures[self.view].show_mark(self._session.mark)

    def copy_equation(self) -> None:
        """Put the equation on the clipboard with enough digits to forecast from."""
        if self.findings.refusal is None:
            sure(QGuiApplication.clipboard()).setText(equation_to_copy(self.findings))

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        for picture in self._pictures.values():
            picture.restyle(tokens)
        self.unseen.restyle(tokens)
        self.ways.restyle(tokens)
        self.errors.tokens = self.others.tokens = self.variation.bar.tokens = tokens
        self.show_findings()

    def _free_points(self, free: bool) -> None:
        self.picture.free_to_move = free
