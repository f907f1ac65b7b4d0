"""Another table's columns brought to this one by an identifier: counted before it is done."""

from __future__ import annotations

from PyQt6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QWidget

from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.study.making import join_tables
from bright_tether.tables.made import likely_keys, matches
from bright_tether.tables.table import Join, Table
from bright_tether.words.stacking import join_words


class JoinPanel(Popup):
    """The other table, the identifier in both, and what would be found."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(f"Join another table to {session.table.name}", parent, 460)
        self._session, self._table = session, session.table
        self.other, self.mine, self.theirs = QComboBox(), QComboBox(), QComboBox()
        lines = QGridLayout()
        for at, (words, field) in enumerate((
            ("the other table", self.other), ("identifier here", self.mine), ("identifier there", self.theirs),
        )):  # fmt: skip
            field.setAccessibleName(words)
            lines.addWidget(label(words, "quiet"), at, 0)
            lines.addWidget(field, at, 1)
        for table in session.history.study.tables:
            if table.id != self._table.id:
                self.other.addItem(table.name, table.id)
        for column in self._table.columns:
            self.mine.addItem(column.name, column.id)
        self.loose = QCheckBox("capitals and small letters are alike")
        self.matched_only = QCheckBox("only rows that find their case")
        self.said = label(wrap=True, name="join says")
        self.said.setMinimumHeight(70)
        self.box.addLayout(lines)
        for piece in (self.loose, self.matched_only):
            piece.setAccessibleName(piece.text())
            piece.toggled.connect(lambda _: self._count())
            self.box.addWidget(piece)
        self.box.addWidget(self.said)
        self.do = button("Join them", self.accept, "main")
        self.box.addWidget(self.do)
        self.other.activated.connect(lambda _: self._choose_other())
        self.mine.activated.connect(lambda _: self._count())
        self.theirs.activated.connect(lambda _: self._count())
        self._choose_other()

    @property
    def _second(self) -> Table:
        return self._session.history.study.table(self.other.currentData())

    @property
    def join(self) -> Join:
        """What is chosen."""
        return Join(
            first=self._table.id, second=self.other.currentData(), first_key=self.mine.currentData(),
            second_key=self.theirs.currentData(), loose=self.loose.isChecked(),
            matched_only=self.matched_only.isChecked(),
        )  # fmt: skip

    def accept(self) -> None:
        """Make the joined table."""
        session = self._session
        session.do_and_show(*join_tables(session.history.study, self.join))
        self.close()

    def _choose_other(self) -> None:
        self.theirs.clear()
        for column in self._second.columns:
            self.theirs.addItem(column.name, column.id)
        mine, theirs = likely_keys(self._table, self._second)
        self.mine.setCurrentIndex(max(self.mine.findData(mine), 0))
        self.theirs.setCurrentIndex(max(self.theirs.findData(theirs), 0))
        self._count()

    def _count(self) -> None:
        first, second = self._table, self._second
        found = matches(self.join, {first.id: first, second.id: second})
        self.said.setText(join_words(found, first, second))
        self.do.setEnabled(found.matched > 0)
