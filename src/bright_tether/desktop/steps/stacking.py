"""Several tables before they become one: which columns belong under one head, and what differs."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from itertools import zip_longest
from pathlib import Path

import msgspec
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from bright_tether.desktop.parts.grids import figures_table
from bright_tether.desktop.parts.questions import Questions
from bright_tether.desktop.parts.widgets import button, card, label
from bright_tether.desktop.session import Session, is_small, unreadable_file
from bright_tether.pictures.sure import sure
from bright_tether.study.making import add_parts, fresh_ids, stack_tables
from bright_tether.tables.clock import ORDERS, DateOrder
from bright_tether.tables.formula import FromOthers
from bright_tether.tables.made import sources_of
from bright_tether.tables.matching import Line, Place, could_go_with, date_order, dated, lines_of
from bright_tether.tables.read_plan import read_file
from bright_tether.tables.table import Stack, Table
from bright_tether.words.stacking import (
    OWN_COLUMN,
    column_words,
    date_question,
    line_words,
    mixed_words,
    one_words,
    stack_name,
    stack_words,
)


class StackPage(QWidget):
    """The tables, the columns of all of them, and what is to be said of both."""

    done = pyqtSignal(bool)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("stagePage")
        self.setAccessibleName("Several tables as one")
        self._session = session
        self._tables: list[Table] = []
        self._paths: list[Path] = []
        self._unread: list[str] = []
        self._same: dict[Place, Place] = {}
        #: What the table at hand is stacked of, where files could be put under it; its id.
        self._held: list[Table] = []
        self._onto = ""
        #: What looks at each file by itself, where these are files.
        self._look: Callable[[Sequence[Path]], object] = lambda paths: None
        self._title = label(kind="heading", wrap=True, name="stacking title")
        self._said = label(kind="quiet", wrap=True, name="stacking says")
        self._questions = Questions()
        self.table = figures_table("Columns of all tables")
        self.head = QLineEdit("file")
        self.head.setAccessibleName("Column that says which table")
        self.head.setMaximumWidth(160)
        self.one = button("One table", self.accept, "main", "One table of all")
        self.each = button("A table each…", self._each, name="A table each")
        self.more = button("", self.add, name="Add to the stacked table")
        deeds = QHBoxLayout()
        deeds.addWidget(label("which table a row is from stands in", "quiet"))
        deeds.addWidget(self.head)
        deeds.addStretch()
        deeds.addWidget(button("Leave them", self.leave, name="Leave the tables"))
        deeds.addWidget(self.each)
        deeds.addWidget(self.more)
        deeds.addWidget(self.one)
        box = QVBoxLayout()
        box.setContentsMargins(14, 10, 14, 12)
        box.addWidget(self._title)
        box.addWidget(self._said)
        box.addWidget(self._questions)
        box.addWidget(self.table, 1)
        box.addLayout(deeds)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(card(box))

    def show_files(
        self, paths: Sequence[Path], put_up: Callable[[], object], look: Callable[[Sequence[Path]], object]
    ) -> None:
        """Show files once they are read. look : looks at each by itself instead."""
        ids = fresh_ids(self._session.history.study, len(paths))

        def read() -> list[Table | Exception]:
            return [_read(path, table_id) for path, table_id in zip(paths, ids, strict=True)]

        def take(found: list[Table | Exception] | Exception) -> None:
            if isinstance(found, Exception):
                self._session.notice(unreadable_file(found))
                return
            self._unread = [unreadable_file(one) for one in found if isinstance(one, Exception)]
            self._paths, self._look = list(paths), look
            self._show([one for one in found if isinstance(one, Table)], put_up)

        small = all(is_small(path) for path in paths) and len(paths) < 20
        self._session.off(read, take, small=small)

    def show_tables(self, tables: Sequence[Table], put_up: Callable[[], object]) -> None:
        """Show tables of the study."""
        self._paths, self._unread = [], []
        self._show(list(tables), put_up)

    def _show(self, tables: list[Table], put_up: Callable[[], object]) -> None:
        if not tables:
            self._session.notice(" ".join(self._unread))
            return
        self._tables, self._same = tables, {}
        self._onto = self._session.table.id
        self._held = self._parts() if self._paths else []
        self.each.setVisible(bool(self._paths))
        self.more.setVisible(bool(self._held))
        self.more.setText(f"Add to {self._session.table.name}")
        self.head.setText("file" if self._paths else "table")
        self._fill()
        put_up()
        self.one.setFocus()

    @property
    def lines(self) -> tuple[Line, ...]:
        """The columns of all tables, as matched so far."""
        return lines_of(self._tables, self._same)

    def accept(self) -> None:
        """Make one table of all."""
        session = self._session
        now = session.history.study.tables
        if not self._paths and any(one is not other for one, other in zip_longest(self._tables, now)):
            self._show(list(now), lambda: None)
            session.notice("The tables have changed since they were put here: look once more.")
            return
        self._renumber()
        head = self.head.text().strip() or "file"
        name = stack_name([table.name for table in self._tables])
        session.do_and_show(*stack_tables(session.history.study, self._tables, self.lines, name, head))
        self.done.emit(True)

    def add(self) -> None:
        """Put the files under those that the table at hand is stacked of."""
        session, study = self._session, self._session.history.study
        self._held = self._parts()
        if not self._held:  # undone since
            session.notice("The table that they were to be added to is no longer there.")
            self.more.hide()
            return
        self._renumber()
        session.do(add_parts(study, self._onto, self._tables, self._grown_lines))
        self.done.emit(True)

    def _renumber(self) -> None:
        """Give files that were read ids that are still free: a table may have come in while they stood here."""
        study = self._session.history.study
        taken = {table.id for table in study.tables}
        if not self._paths or not any(table.id in taken for table in self._tables):
            return
        fresh = fresh_ids(study, len(self._tables))
        ids = {table.id: one for table, one in zip(self._tables, fresh, strict=True)}
        self._tables = [msgspec.structs.replace(table, id=ids[table.id]) for table in self._tables]
        self._same = {(ids[a], b): (ids[c], e) for (a, b), (c, e) in self._same.items()}

    @property
    def _grown_lines(self) -> tuple[Line, ...]:
        """The columns of the table at hand, and which columns of the files go with them: by any name they had."""
        stacked = self._session.history.study.table(self._onto)
        same = dict(self._same)
        for table in self._tables:
            for column in table.columns:
                for own in stacked.columns:
                    of = own.formula.of if isinstance(own.formula, FromOthers) else {}
                    names = {own.name} | {
                        part.column(of[part.id]).name for part in self._held if part.id in of
                    }
                    if of and column.name in names and (table.id, column.id) not in same:
                        same[table.id, column.id] = next(iter(of.items()))
        for own in stacked.columns:
            places = list(own.formula.of.items()) if isinstance(own.formula, FromOthers) else []
            same |= dict.fromkeys(places[1:], places[0]) if places else {}
        return lines_of([*self._held, *self._tables], same)

    def _parts(self) -> list[Table]:
        held = {table.id: table for table in self._session.history.study.tables}
        recipe = held[self._onto].recipe if self._onto in held else None
        parts = [held[one] for one in sources_of(recipe) if one in held] if isinstance(recipe, Stack) else []
        return parts

    def leave(self) -> None:
        """Leave the tables."""
        self.done.emit(False)

    def _each(self) -> None:
        self.done.emit(False)
        self._look(self._paths)

    def _fill(self) -> None:
        lines, tables = self.lines, self._tables
        self._questions.clear()
        waiting = self._ask_dates(lines)
        for line in lines:
            if len(line.of) < len(tables) and next(iter(line.of)) != tables[0].id:
                self._ask_line(line, lines)
        self._questions.fit()
        self._title.setText(stack_words(tables, lines) if len(tables) > 1 else one_words(tables[0]))
        mixed = [words for line in lines if (words := mixed_words(line, tables))]
        self._said.setText(" ".join([*self._unread, *mixed, *([waiting] if waiting else [])]))
        self._said.setVisible(bool(self._said.text()))
        self.one.setEnabled(not waiting and len(tables) > 1)
        self.more.setEnabled(not waiting)
        self._fill_table(lines)

    def _ask_dates(self, lines: Sequence[Line]) -> str:
        waiting = ""
        for line in lines:
            order = date_order(line, self._tables)
            if order == "ask":
                answers = [
                    button(one.capitalize(), partial(self._date, line, one), "small", f"{line.name}: {one}")
                    for one in ORDERS
                ]
                self._questions.ask(date_question(line, self._tables), "date question", *answers)
                waiting = f"Say first how the dates of {line.name} are written."
            elif order is not None:
                self._tables = dated(line, self._tables, order)
        return waiting

    def _date(self, line: Line, order: DateOrder) -> None:
        self._tables = dated(line, self._tables, order)
        self._fill()

    def _ask_line(self, line: Line, lines: Sequence[Line]) -> None:
        choice = QComboBox()
        choice.setAccessibleName(f"{line.name} goes with")
        choice.addItem(OWN_COLUMN, None)
        for one in could_go_with(line, lines):
            choice.addItem(one.name, next(iter(one.of.items())))
        choice.activated.connect(lambda _, of=line, c=choice: self._goes_with(of, c.currentData()))
        self._questions.ask(line_words(line, lines, self._tables), "column question", choice)

    def _goes_with(self, line: Line, place: Place | None) -> None:
        if place is not None:
            self._same |= dict.fromkeys(line.of.items(), place)
            self._fill()

    def _fill_table(self, lines: Sequence[Line]) -> None:
        tables = self._tables
        self.table.setColumnCount(len(lines) + 1)
        self.table.setRowCount(len(tables))
        self.table.setHorizontalHeaderLabels(["rows", *(line.name for line in lines)])
        self.table.setVerticalHeaderLabels([table.name for table in tables])
        for row, table in enumerate(tables):
            self._put(row, 0, f"{table.rows}")
            for at, line in enumerate(lines, 1):
                column = table.column(line.of[table.id]) if table.id in line.of else None
                self._put(row, at, column_words(column, line) if column else "–")
        sure(self.table.verticalHeader()).show()
        self.table.resizeColumnsToContents()

    def _put(self, row: int, column: int, text: str) -> None:
        item = QTableWidgetItem(text)
        item.setFlags(item.flags() & ~Qt.ItemFlag.ItemIsEditable)
        self.table.setItem(row, column, item)


def _read(path: Path, table_id: str) -> Table | Exception:
    try:
        return read_file(path, table_id)
    except Exception as error:  # each file that cannot be read is said beside those that can
        return error
