"""The step Strength: the ruler, and the pictures and tables behind the coefficients."""

from __future__ import annotations

from functools import cached_property
from typing import Any

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


class StrengthStep(StageOfViews):
    """Ruler above; below, one of several views."""

    step_id = "strength"

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__(session)
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
        self._pictures: dict[str, tuple[ScatterPicture, ...]] = {
            "products": (self.products, self.ranks),
            "comparisons": (self.comparisons,),
            "agreement": (self.differences,),
        }
        self._tables: dict[str, Any] = {
            "row-by-row": self.listing,
            "every-pair": self.grid,
            "critical": self.critical,
        }
        for picture in self._every_picture():
            connect_points(picture, session)
        self.comparisons.told.connect(self._compared.setText)
        self._tokens, self._font = tokens, font
        self.fill(
            lambda: _beside(self.products, self.ranks), lambda: stacked(self._compared, self.comparisons),
            lambda: stacked(self._agreed, self.differences), lambda: self.listing, lambda: self.grid,
            lambda: self.bent, lambda: self.critical,
        )  # fmt: skip
        heading = label("How strongly do they go together?", "heading")
        self.lay_out(heading, self.ruler, self.choice, self.pages, tall=self.pages)

    @cached_property
    def bent(self) -> BentPicture:
        """Both columns with what lies far out bent inward."""
        picture = BentPicture(self._tokens, self._font, "Far values bent")
        connect_points(picture, self._session)
        self._pictures["far-bent"] = (picture,)
        return picture

    @property
    def picture(self) -> ScatterPicture:
        """The picture on show, for what acts on it."""
        return self._pictures.get(self.view, (self.products,))[0]

    def show_findings(self) -> None:
        """Bring ruler and view up to date."""
        if not self.extra.refresh():  # else the ruler has followed it already
            self._show_luck()
        self._agreed.setText(agreement_note(self.findings))
        for picture in self._pictures.get(self.view, ()):
            picture.draw(self.findings, self._session.mark)
        if self.view in self._tables:
            self._tables[self.view].refresh()

    def show_mark(self) -> None:
        """Ring the marked rows."""
        for picture in self._pictures.get(self.view, ()):
            picture.show_mark(self._session.mark)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.ruler.restyle(tokens)
        for picture in self._every_picture():
            picture.restyle(tokens)
        self._tokens = self.grid.tokens = self.critical.tokens = tokens
        self.show_findings()

    def _every_picture(self) -> tuple[ScatterPicture, ...]:
        return tuple(picture for pictures in self._pictures.values() for picture in pictures)

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
