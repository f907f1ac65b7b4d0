"""A table that is too large to take in: what it holds, and how many of its rows to draw."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QSpinBox, QTableWidgetItem, QVBoxLayout, QWidget

from bright_tether.desktop.parts.entries import named
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.grids import figures_table
from bright_tether.desktop.parts.widgets import button, card, label
from bright_tether.desktop.session import Session, unreadable_file
from bright_tether.far.duck import DuckEngine
from bright_tether.far.engine import FarColumn
from bright_tether.far.place import Place
from bright_tether.far.share import USUAL, draw_share
from bright_tether.tables.writing import printable
from bright_tether.words import digits as d
from bright_tether.words.choices import FAR_KINDS

_MOST = 5_000_000
#: Place, its tables where it holds several, its columns, how many rows it has.
Found = tuple[Place, list[str], tuple[FarColumn, ...], int]


class FarTablePage(QWidget):
    """The columns of a table that stays where it is, and the share that is drawn of it."""

    done = pyqtSignal(bool)
    #: A file that is to be taken in whole, as any other.
    whole_wanted = pyqtSignal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("stagePage")
        self.setAccessibleName("A table that stays where it is")
        self._session, self._place = session, Place(Path())
        self._title = label(kind="heading", wrap=True, name="far table title")
        self._said = label(kind="quiet", wrap=True, name="far table says")
        self.tables = QComboBox()
        self.tables.setAccessibleName("Table of the database")
        self.tables.activated.connect(
            lambda _: self._look(Place(self._place.path, self.tables.currentText()))
        )
        self._tables = named("table", self.tables)
        self.rows = self._number("Rows of the share", USUAL, 100, _MOST)
        self.seed = self._number("Seed of the draw", 1, 0, 2**31 - 1)
        self.columns = figures_table("Columns of the whole table")
        self.take = button("Take a share", self.accept, "main", "Take a share of the rows")
        self.leave = button("Leave it", lambda: self.done.emit(False), name="Leave the table")
        self.whole = button("Take all of it in…", self._take_whole, name="Take all rows in")
        choices = QWidget()
        choices.setLayout(
            Flow(self._tables, named("rows drawn by chance", self.rows), named("seed", self.seed))
        )
        deeds = QHBoxLayout()
        deeds.addStretch()
        deeds.addWidget(self.leave)
        deeds.addWidget(self.whole)
        deeds.addWidget(self.take)
        box = QVBoxLayout()
        box.setContentsMargins(14, 10, 14, 12)
        box.addWidget(self._title)
        box.addWidget(self._said)
        box.addWidget(choices)
        box.addWidget(self.columns, 1)
        box.addLayout(deeds)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(card(box))

    def show_place(self, path: Path, put_up: Callable[[], object]) -> None:
        """Show a table once it is looked at. put_up : puts the page on the stage."""
        self._look(Place(path), put_up)

    def accept(self) -> None:
        """Draw the share and take it in."""
        if not self.take.isEnabled():
            return
        self.take.setEnabled(False)
        self._said.setText("Drawing the share…")
        place, rows, seed = self._place, self.rows.value(), self.seed.value()
        self._session.bring_in_made(lambda: draw_share(place, rows, seed, "t0"), self._end, small=False)

    def _take_whole(self) -> None:
        self.whole_wanted.emit(self._place.path)

    def _end(self, there: bool) -> None:
        self.take.setEnabled(True)
        self._said.setText("")
        if there:
            self.done.emit(True)

    def _look(self, place: Place, put_up: Callable[[], object] = lambda: None) -> None:
        def look() -> Found:
            tables = DuckEngine(place).tables()
            chosen = Place(place.path, place.table or tables[0]) if tables else place
            engine = DuckEngine(chosen)
            return chosen, tables, engine.columns(), engine.count()

        def show(found: Found | Exception) -> None:
            if isinstance(found, Exception):
                self._session.notice(unreadable_file(found))
                return
            self._show(*found)
            put_up()
            self.take.setFocus()

        self._session.off(look, show)

    def _show(self, place: Place, tables: list[str], columns: tuple[FarColumn, ...], rows: int) -> None:
        self._place = place
        self._title.setText(f"“{printable(place.name)}” stays where it is")
        self._said.setText(
            f"It has {d.grouped(rows)} rows and {d.count(len(columns), 'column')}. Every step is walked with a share "
            "of rows drawn by chance; Line has a view that goes through all rows for all that is a sum."
        )
        self.tables.clear()
        self.tables.addItems(tables)
        self.tables.setCurrentText(place.table)
        self._tables.setVisible(len(tables) > 1)
        self.whole.setVisible(place.path.is_file())
        self.rows.setValue(min(self.rows.value(), max(rows, 100)))
        self.columns.setColumnCount(2)
        self.columns.setHorizontalHeaderLabels(["column", "holds"])
        self.columns.setRowCount(len(columns))
        for at, column in enumerate(columns):
            for place_in, words in enumerate((printable(column.name), FAR_KINDS[column.kind])):
                self.columns.setItem(at, place_in, QTableWidgetItem(words))

    @staticmethod
    def _number(name: str, value: int, least: int, most: int) -> QSpinBox:
        box = QSpinBox()
        box.setAccessibleName(name)
        box.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        box.setRange(least, most)
        box.setValue(value)
        return box
