"""All rows of the table that the one on the stage is a share of."""

from __future__ import annotations

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QWidget

from bright_tether.desktop.parts.entries import named
from bright_tether.desktop.parts.grids import column_of, figures_table, fill_grid
from bright_tether.desktop.parts.long_run import LongRun
from bright_tether.desktop.parts.widgets import label
from bright_tether.desktop.session import Session
from bright_tether.far.share import place_of
from bright_tether.far.through import WHERE_IT_IS, Through
from bright_tether.live.all_rows import AllRows, Closer, all_rows, closer_look, is_share
from bright_tether.pictures.all_rows import AllRowsPicture
from bright_tether.pictures.sure import sure
from bright_tether.theme.tokens import Tokens
from bright_tether.words.causes import unreadable
from bright_tether.words.grids.all_rows import all_rows_grids

#: Height of the table below the picture; milliseconds until a hand that zooms counts as resting.
_TABLE, _SOON = 168, 300


class AllRowsPart(QWidget):
    """The run through all rows, and what they look like."""

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__()
        self._session, self._tokens = session, tokens
        self.run = LongRun("all rows")
        self.run.ended.connect(self._take)
        self.closer = LongRun("a closer look", still=True)
        self.closer.ended.connect(self._take_closer)
        self.picture = AllRowsPicture(tokens, font, "All rows picture")
        self._looked = QTimer(self)
        self._looked.setSingleShot(True)
        self._looked.setInterval(_SOON)
        self._looked.timeout.connect(self._look_closer)
        sure(self.picture.main.getViewBox()).sigRangeChanged.connect(lambda *_: self._looked.start())
        self.where = label("", "quiet", wrap=True, name="where all rows are")
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        self.scheduler = QLineEdit()
        self.scheduler.setAccessibleName("Dask scheduler that goes through all rows")
        self.scheduler.setPlaceholderText("this machine")
        self.scheduler.setToolTip(
            "The address of a Dask scheduler, such as tcp://localhost:8786, has a cluster do it."
        )
        self.scheduler.setFixedWidth(190)
        self.scheduler.editingFinished.connect(self._changed)
        self._cluster = named("gone through by", self.scheduler)
        line.addWidget(self.where, 1)
        line.addWidget(self._cluster)
        line.addWidget(self.run.stop)
        line.addWidget(self.closer.stop)
        self.table = figures_table("All rows and the share")
        self.table.setFixedHeight(_TABLE)
        sure(self.table.verticalHeader()).hide()
        column_of(self, row, self.run, self.picture, self.closer, self.table)

    def refresh(self) -> None:
        """Bring it up to date; what is asked anew is gone through anew."""
        findings = self._session.findings
        there = is_share(findings) and findings.numbers_tied
        source = findings.table.source
        self.where.setText("" if source is None else f"The whole table: {source.path}")
        place = place_of(findings.table)
        self._cluster.setVisible(place is not None and place.in_parts)
        self.run.follow(all_rows(findings) if there else None)
        self._show()
        self._looked.start()

    @property
    def outcome(self) -> AllRows | None:
        """What is known of all rows."""
        found: AllRows | None = self.run.outcome
        return found

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self._tokens = tokens
        self.picture.restyle(tokens)

    def _changed(self) -> None:
        address = self.scheduler.text().strip()
        self._session.through = Through("dask", address) if address else WHERE_IT_IS
        if self.isVisible():
            self._session.ask()

    def _look_closer(self) -> None:
        """Have the pairs in view counted by themselves, where much less than all of them is in view."""
        findings, ends = self._session.findings, self.picture.looked_into
        # by the time that the hand rests another table may be on the stage
        there = self.isVisible() and is_share(findings) and findings.numbers_tied
        self.closer.follow(None if ends is None or not there else closer_look(findings, ends))
        self.picture.show_closer(self.closer.outcome)

    def _take_closer(self, outcome: Closer) -> None:
        self.picture.show_closer(outcome)
        if outcome.refused is not None:
            self.closer.say(unreadable(outcome.refused))

    def _take(self, outcome: AllRows) -> None:
        if self.isVisible():
            self._session.ask()  # the share's own figures are made beside, and then all is shown

    def _show(self) -> None:
        findings, found = self._session.findings, self.outcome
        self.picture.show_all(findings, found)
        grids = () if found is None else all_rows_grids(findings, found)
        self.table.setVisible(bool(grids))
        fill_grid(self.table, grids[0] if grids else None, self._tokens)
