"""The view of the slope with other columns held: what is held, the table, and the picture asked for."""

from __future__ import annotations

from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QWidget

from bright_tether.desktop.parts.grids import column_of
from bright_tether.desktop.parts.held_columns import HeldColumns
from bright_tether.desktop.parts.held_forecasts import HeldForecasts
from bright_tether.desktop.session import Session
from bright_tether.desktop.steps.points import connect_points
from bright_tether.pictures.along import AlongPicture
from bright_tether.pictures.held import HeldPicture
from bright_tether.pictures.unseen import UnseenPicture
from bright_tether.theme.tokens import Tokens


class HeldPage(QWidget):
    """What is left of both columns, what was not measured, or the slope along a column."""

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__()
        self._session = session
        self.columns = HeldColumns(session)
        self.left = HeldPicture(tokens, font, "What is left of both")
        self.unseen = UnseenPicture(tokens, font, "What was not measured")
        self.along = AlongPicture(tokens, font, "Slope along a column")
        for picture in (self.left, self.along):
            connect_points(picture, session)
        self.ahead = HeldForecasts(session)
        self.columns.picture_chosen.connect(lambda _: self.refresh())
        box = column_of(self, self.columns, self.left, self.unseen, self.along, self.ahead)
        for at in range(1, 5):
            box.setStretch(at, 1)

    @property
    def _pictures(self) -> tuple[HeldPicture | UnseenPicture | AlongPicture, ...]:
        return self.left, self.unseen, self.along

    @property
    def _shown(self) -> HeldPicture | UnseenPicture | AlongPicture | None:
        """The picture asked for; None where it is the forecasts."""
        at = self.columns.shown.checkedId()
        return self._pictures[at] if at < len(self._pictures) else None

    def refresh(self) -> None:
        """Bring it up to date; what is not asked for is not drawn."""
        self.columns.refresh()
        shown = self._shown
        for picture in self._pictures:
            picture.setVisible(picture is shown)
        self.ahead.setVisible(shown is None)
        if shown is None:
            self.ahead.refresh()
        else:
            shown.draw(self._session.findings, self._session.mark)

    def show_mark(self) -> None:
        """Ring the marked rows."""
        shown = self._shown
        if isinstance(shown, HeldPicture | AlongPicture):
            shown.show_mark(self._session.mark)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        for picture in self._pictures:
            picture.restyle(tokens)
