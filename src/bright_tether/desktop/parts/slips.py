"""Likely slips, quietly: one line each, one action to mend it, one to leave it."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QFrame, QHBoxLayout, QVBoxLayout

from bright_tether.desktop.parts.widgets import button, emptied, label
from bright_tether.desktop.session import Session
from bright_tether.study import changes, column_changes
from bright_tether.tables.slips import Slip
from bright_tether.words import digits as d
from bright_tether.words.slips import mend_words, slip_sentence

_MOST_SHOWN = 3


class SlipList(QFrame):
    """Hidden while there is nothing to say."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("beware")
        self.setAccessibleName("Likely slips")
        self._session = session
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(12, 6, 8, 6)
        self._column.setSpacing(2)
        self._shown: tuple[Slip, ...] | None = None

    def show_slips(self) -> None:
        """List the slips of the table at hand."""
        slips = self._session.findings.slips
        if slips is self._shown:
            return
        self._shown = slips
        emptied(self._column)
        table = self._session.findings.table
        for slip in slips[:_MOST_SHOWN]:
            row = QHBoxLayout()
            sentence = slip_sentence(slip, table)
            row.addWidget(label(sentence, wrap=True, name="likely slip"), 1)
            row.addWidget(button("Show", partial(self._show, slip), "link", f"Show: {sentence}"))
            words = mend_words(slip)
            row.addWidget(button(words, partial(self._mend, slip), "link", f"{words}: {sentence}"))
            row.addWidget(button("Leave it", partial(self._leave, slip), "link", f"Leave: {sentence}"))
            self._column.addLayout(row)
        if len(slips) > _MOST_SHOWN:
            self._column.addWidget(label(f"and {d.count(len(slips) - _MOST_SHOWN, 'other likely slip')}"))
        self.setVisible(bool(slips))

    def _show(self, slip: Slip) -> None:
        self._session.mark_rows(frozenset(slip.rows))

    def _mend(self, slip: Slip) -> None:
        session = self._session
        session.do(changes.mend_slip(session.history.study, session.table.id, slip))

    def _leave(self, slip: Slip) -> None:
        session = self._session
        session.do(column_changes.dismiss_slip(session.history.study, session.table.id, slip))
