"""The step Strength: the ruler, and the pictures and tables behind the coefficients."""

from __future__ import annotations

from functools import cached_property

from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from bright_tether.desktop.parts.grids import CriticalView, PairGrid
from bright_tether.desktop.parts.listing import ListingView
from bright_tether.desktop.parts.shuffle import Shuffle
from bright_tether.desktop.parts.widgets import label, stacked
from bright_tether.desktop.session import Session
from bright_tether.desktop.steps.points import connect_points
from bright_tether.desktop.steps.stage import StageOfViews
from bright_tether.pictures.bent import BentPicture
from bright_tether.pictures.planes import (
    ComparisonsPicture,
    DifferencesPicture,
    ProductsPicture,
    RanksPicture,
)
from bright_tether.pictures.ruler import Ruler
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.theme.tokens import Tokens
from bright_tether.words.readings.agreement import agreement_note

#: Of each view: the pictures, or the table, that it is made of; each is made when it is first shown.
_PICTURES = {
    "products": ("products", "ranks"),
    "comparisons": ("comparisons",),
    "agreement": ("differences",),
    "far-bent": ("bent",),
}
_TABLES = {"row-by-row": "listing", "every-pair": "grid", "critical": "critical"}


class StrengthStep(StageOfViews):
    """Ruler above; below, one of several views."""

    step_id = "strength"

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__(session)
        self.ruler = Ruler(tokens, font)
        self.extra = Shuffle(session)
        self.extra.changed.connect(self._show_luck)
        self._compared = label(kind="quiet", wrap=True, name="comparisons of one row")
        self._agreed = label(kind="quiet", wrap=True, name="agreement note")
        self._tokens, self._font = tokens, font
        self.fill(
            lambda: _beside(self.products, self.ranks), lambda: stacked(self._compared, self.comparisons),
            lambda: stacked(self._agreed, self.differences), lambda: self.listing, lambda: self.grid,
            lambda: self.bent, lambda: self.critical,
        )  # fmt: skip
        heading = label("How strongly do they go together?", "heading")
        self.lay_out(heading, self.ruler, self.choice, self.pages, tall=self.pages)

    @cached_property
    def products(self) -> ProductsPicture:
        """Products of standardised values, as areas."""
        return connect_points(ProductsPicture(self._tokens, self._font, "Products picture"), self._session)

    @cached_property
    def ranks(self) -> RanksPicture:
        """Both columns as ranks."""
        return connect_points(RanksPicture(self._tokens, self._font, "Ranks picture"), self._session)

    @cached_property
    def comparisons(self) -> ComparisonsPicture:
        """The comparisons of one row with every other."""
        picture = connect_points(
            ComparisonsPicture(self._tokens, self._font, "Comparisons picture"), self._session
        )
        picture.told.connect(self._compared.setText)
        return picture

    @cached_property
    def differences(self) -> DifferencesPicture:
        """Differences of both columns against their means."""
        return connect_points(
            DifferencesPicture(self._tokens, self._font, "Differences picture"), self._session
        )

    @cached_property
    def bent(self) -> BentPicture:
        """Both columns with what lies far out bent inward."""
        return connect_points(BentPicture(self._tokens, self._font, "Far values bent"), self._session)

    @cached_property
    def listing(self) -> ListingView:
        """What each row adds."""
        return ListingView(self._session)

    @cached_property
    def grid(self) -> PairGrid:
        """Every pair of columns."""
        return PairGrid(self._session, self._tokens)

    @cached_property
    def critical(self) -> CriticalView:
        """Critical values by n and level."""
        return CriticalView(self._session, self._tokens)

    @property
    def picture(self) -> ScatterPicture:
        """The picture on show, for what acts on it."""
        shown = self._shown
        return shown[0] if shown else self.products

    @property
    def _shown(self) -> tuple[ScatterPicture, ...]:
        """The pictures of the view."""
        pictures: tuple[ScatterPicture, ...] = tuple(
            getattr(self, name) for name in _PICTURES.get(self.view, ())
        )
        return pictures

    def show_findings(self) -> None:
        """Bring ruler and view up to date."""
        if not self.extra.refresh():  # else the ruler has followed it already
            self._show_luck()
        self._agreed.setText(agreement_note(self.findings))
        for picture in self._shown:
            picture.draw(self.findings, self._session.mark)
        if self.view in _TABLES:
            getattr(self, _TABLES[self.view]).refresh()

    def show_mark(self) -> None:
        """Ring the marked rows."""
        for picture in self._shown:
            picture.show_mark(self._session.mark)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self._tokens = tokens
        self.ruler.restyle(tokens)
        for picture in self.made(*(name for names in _PICTURES.values() for name in names)):
            picture.restyle(tokens)
        for table in self.made("grid", "critical"):
            table.tokens = tokens
        self.show_findings()

    def _show_luck(self) -> None:
        result = self.extra.result
        self.ruler.draw(self.findings, None if result is None else result.piled)


def _beside(*widgets: QWidget) -> QWidget:
    held = QWidget()
    row = QHBoxLayout(held)
    row.setContentsMargins(0, 0, 0, 0)
    for widget in widgets:
        row.addWidget(widget, 1)
    return held
