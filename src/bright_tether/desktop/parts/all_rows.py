"""All rows of the table that the one on the stage is a share of."""

from __future__ import annotations

from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from bright_tether.desktop.parts.grids import column_of
from bright_tether.desktop.parts.long_run import LongRun
from bright_tether.desktop.parts.widgets import label
from bright_tether.desktop.session import Session
from bright_tether.live.all_rows import AllRows, all_rows, is_share
from bright_tether.pictures.all_rows import AllRowsPicture
from bright_tether.theme.tokens import Tokens


class AllRowsPart(QWidget):
    """The run through all rows, and what they look like."""

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__()
        self._session = session
        self.run = LongRun("all rows")
        self.run.ended.connect(self._take)
        self.picture = AllRowsPicture(tokens, font, "All rows picture")
        self.where = label("", "quiet", wrap=True, name="where all rows are")
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(self.where, 1)
        line.addWidget(self.run.stop)
        column_of(self, row, self.run, self.picture)

    def refresh(self) -> None:
        """Bring it up to date; what is asked anew is gone through anew."""
        findings = self._session.findings
        there = is_share(findings) and findings.numbers_tied
        source = findings.table.source
        self.where.setText("" if source is None else f"The whole table: {source.path}")
        self.run.follow(all_rows(findings) if there else None)
        self.picture.show_all(findings, self.outcome)

    @property
    def outcome(self) -> AllRows | None:
        """What is known of all rows."""
        found: AllRows | None = self.run.outcome
        return found

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.picture.restyle(tokens)

    def _take(self, outcome: AllRows) -> None:
        if self.isVisible():
            self.picture.show_all(self._session.findings, outcome)
            self._session.ask()
