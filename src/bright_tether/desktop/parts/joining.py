"""Another table's columns brought to this one by an identifier: counted before it is done."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from PyQt6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QWidget

from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import IN_PLACE_ROWS, Session
from bright_tether.study.making import join_tables
from bright_tether.tables.made import likely_keys, matches
from bright_tether.tables.table import Join, Table
from bright_tether.words.stacking import join_words

T = TypeVar("T")


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
    def _small(self) -> bool:
        return max(self._table.rows, self._second.rows) <= IN_PLACE_ROWS

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
        join = self.join
        self._session.do_made_and_show(lambda study: join_tables(study, join), small=self._small)
        self.close()

    def _choose_other(self) -> None:
        self.theirs.clear()
        for column in self._second.columns:
            self.theirs.addItem(column.name, column.id)
        first, second = self._table, self._second

        def take(keys: tuple[str, str]) -> None:
            for field, key in zip((self.mine, self.theirs), keys, strict=True):
                field.setCurrentIndex(max(field.findData(key), 0))
            self._count()

        self._ask(lambda: likely_keys(first, second), take)

    def _count(self) -> None:
        first, second, join = self._table, self._second, self.join

        def make() -> tuple[str, int]:
            found = matches(join, {first.id: first, second.id: second})
            return join_words(found, first, second), found.matched

        def take(counted: tuple[str, int]) -> None:
            said, matched = counted
            self.said.setText(said)
            self.do.setEnabled(matched > 0)

        self._ask(make, take)

    def _ask(self, make: Callable[[], T], take: Callable[[T], None]) -> None:
        """Of long tables beside the window; they are joined when it is known what that comes to."""
        self.said.setText("Holding the identifiers against each other …")
        self.do.setEnabled(False)
        self._session.try_out(make, take, self, small=self._small)
