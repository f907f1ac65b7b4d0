"""The step Strength: the ruler, and the pictures and tables behind the coefficients."""

from __future__ import annotations

from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QStackedWidget, QVBoxLayout, QWidget

from bright_tether.desktop.parts.flow import choice_of
from bright_tether.desktop.parts.listing import ListingView
from bright_tether.desktop.parts.pieces import card, label, stacked
from bright_tether.desktop.parts.shuffle import Shuffle
from bright_tether.desktop.parts.tables import CriticalView, PairGrid
from bright_tether.desktop.session import STRENGTH_VIEWS, Session
from bright_tether.desktop.steps.points import connect_points
from bright_tether.look.tokens import Tokens
from bright_tether.pictures.planes import (
    ComparisonsPicture,
    DifferencesPicture,
    ProductsPicture,
    RanksPicture,
)
from bright_tether.pictures.ruler import Ruler
from bright_tether.words.reading import Reading, Working
from bright_tether.words.readings.strength import strength_reading
from bright_tether.words.workings.strength import strength_workings


class StrengthStep(QWidget):
    """Ruler above; below, one of several views."""

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__()
        self.setObjectName("stagePage")
        self._session = session
        self.ruler = Ruler(tokens, font)
        self.extra = Shuffle(session)
        self.extra.changed.connect(self._show_luck)
        self.products = ProductsPicture(tokens, font, "Products picture")
        self.ranks = RanksPicture(tokens, font, "Ranks picture")
        self.comparisons = ComparisonsPicture(tokens, font, "Comparisons picture")
        self.differences = DifferencesPicture(tokens, font, "Differences picture")
        self.listing, self.grid = ListingView(session), PairGrid(session, tokens)
        self.critical = CriticalView(session, tokens)
        self._compared = label(kind="quiet", wrap=True, name="comparisons of one row")
        self._agreed = label(kind="quiet", wrap=True, name="agreement note")
        for picture in (self.products, self.ranks, self.comparisons, self.differences):
            connect_points(picture, session)
        self.comparisons.told.connect(self._compared.setText)
        self.views, self._choosers = QStackedWidget(), QButtonGroup(self)
        choice = choice_of(STRENGTH_VIEWS, self._choosers, self.show_view)
        for page in (
            _beside(self.products, self.ranks),
            stacked(self._compared, self.comparisons),
            stacked(self._agreed, self.differences),
            self.listing,
            self.grid,
            self.critical,
        ):
            self.views.addWidget(page)
        column = QVBoxLayout()
        column.setContentsMargins(14, 10, 10, 10)
        column.addWidget(label("How strongly do they go together?", "heading"))
        column.addWidget(self.ruler)
        column.addLayout(choice)
        column.addWidget(self.views, 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(card(column))

    @property
    def view(self) -> str:
        """The view on show."""
        return STRENGTH_VIEWS[self.views.currentIndex()]

    @property
    def picture(self):
        """The picture on show, for what acts on it."""
        return {"Comparisons": self.comparisons, "Agreement": self.differences}.get(self.view, self.products)

    def show_view(self, name: str) -> None:
        """Show one of the views below the ruler."""
        at = STRENGTH_VIEWS.index(name)
        self._choosers.button(at).setChecked(True)
        self.views.setCurrentIndex(at)
        self._show_below()

    def show_findings(self) -> None:
        """Bring ruler and view up to date."""
        self.extra.refresh()
        self._show_luck()
        self._show_below()

    def show_mark(self) -> None:
        """Ring the marked rows."""
        for picture in self._pictures():
            picture.show_mark(self._session.mark)

    def reading(self) -> Reading:
        """What this step says."""
        return strength_reading(self._session.findings)

    def workings(self) -> tuple[Working, ...]:
        """What stands behind the figures."""
        return strength_workings(self._session.findings)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.ruler.restyle(tokens)
        for picture in (self.products, self.ranks, self.comparisons, self.differences):
            picture.restyle(tokens)
        self.grid.tokens = self.critical.tokens = tokens
        self._show_below()

    def _pictures(self):
        return {
            "Products and ranks": (self.products, self.ranks),
            "Comparisons": (self.comparisons,),
            "Agreement": (self.differences,),
        }.get(self.view, ())

    def _show_luck(self) -> None:
        result = self.extra.result
        self.ruler.draw(self._session.findings, None if result is None else result.piled)

    def _show_below(self) -> None:
        findings, session = self._session.findings, self._session
        x, y = (findings.x_column, findings.y_column) if findings.tied else (None, None)
        if x is not None and x.unit != y.unit:
            self._agreed.setText(
                f"Agreement asks for two columns in one unit: {x.short} is in {x.unit or 'no unit'}, "
                f"{y.short} in {y.unit or 'no unit'}. The picture is right only if they measure one thing."
            )
        else:
            self._agreed.setText(
                "Each pair's difference against its mean: the line is the mean difference, the broken lines "
                "hold most single differences, each with its interval."
            )
        for picture in self._pictures():
            picture.draw(findings, session.mark)
        if self.views.currentWidget() in (self.listing, self.grid, self.critical):
            self.views.currentWidget().refresh()


def _beside(*widgets: QWidget) -> QWidget:
    held = QWidget()
    row = QHBoxLayout(held)
    row.setContentsMargins(0, 0, 0, 0)
    for widget in widgets:
        row.addWidget(widget, 1)
    return held
