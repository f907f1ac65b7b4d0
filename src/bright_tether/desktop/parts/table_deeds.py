"""What can be done with the rows, the columns and the whole of a table: from menus, keys and the list of actions."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from typing import Any, Protocol

from PyQt6.QtWidgets import QWidget

from bright_tether.desktop.actions import Deed
from bright_tether.desktop.parts.renaming import AskName
from bright_tether.desktop.session import Session
from bright_tether.pictures.sure import sure
from bright_tether.study import cell_changes, column_changes, row_changes, table_changes
from bright_tether.study.edits import Edit, PutRows
from bright_tether.study.study import Study
from bright_tether.tables.made import sources_of
from bright_tether.tables.row_ids import NO_ROWS, RowIds
from bright_tether.words.said import listed


class Shown(Protocol):
    """A grid, as far as its deeds need it. grid : its model."""

    grid: Any

    def rows_at_hand(self) -> RowIds: ...
    def column_at_hand(self) -> str | None: ...
    def currentIndex(self) -> Any: ...
    def setCurrentIndex(self, index: Any) -> None: ...
    def rename(self, section: int) -> None: ...
    def show_by(self, column_id: str | None, *, falling: bool = False) -> None: ...
    def choose_rows(self, rows: Iterable[int], column: int) -> None: ...


class TableDeeds:
    """Deeds at the cursor of a grid. grid : which one is at hand, None where none is."""

    def __init__(self, session: Session, grid: Callable[[], Shown | None]) -> None:
        self._session, self._grid = session, grid

    def of_rows(self) -> tuple[Deed, ...]:
        """Rows put in, taken out, moved, made the names."""
        held, single = self._has_rows, lambda: len(self._rows()) == 1 and self._session.table.rows > 1
        return (
            Deed("Insert a row above", "Ctrl+Shift+I", partial(self._insert_row, 0), held),
            Deed("Insert a row below", "Ctrl+I", partial(self._insert_row, 1), held),
            Deed("Move the rows up", "Alt+Shift+Up", partial(self._move_rows, -1), held),
            Deed("Move the rows down", "Alt+Shift+Down", partial(self._move_rows, 1), held),
            Deed("Delete the rows", "Ctrl+Del", lambda: self.delete_rows(self._rows()), held),
            Deed("Make this row the names of the columns", "", self._name_columns, single),
        )

    def of_columns(self) -> tuple[Deed, ...]:
        """Columns put in, taken out, moved, renamed, drawn again, and the order of the rows by one."""
        held, ordered = self._has_column, lambda: self._ordered() is not None
        return (
            Deed("Rename the column", "F2", self._rename_column, held),
            Deed("Insert a column to the left", "Alt+Shift+C", partial(self._insert_column, 0), held),
            Deed("Insert a column to the right", "Alt+C", partial(self._insert_column, 1), held),
            Deed("Move the column left", "Alt+Shift+Left", partial(self._move_column, -1), held),
            Deed("Move the column right", "Alt+Shift+Right", partial(self._move_column, 1), held),
            Deed("Delete the column", "Alt+Shift+Del", self._delete_column, held),
            Deed("Draw the column again", "", self._draw_again, self._is_drawn),
            Deed("Show the rows by this column, rising", "Alt+Shift+R", partial(self._show_by, False), held),
            Deed("Show the rows by this column, falling", "Alt+Shift+F", partial(self._show_by, True), held),
            Deed("Show the rows in table order", "", self.show_in_table_order, ordered),
            Deed("Sort the rows by this column for good, rising", "", partial(self._sort, False), held),
            Deed("Sort the rows by this column for good, falling", "", partial(self._sort, True), held),
        )

    def of_table(self, beside: QWidget) -> tuple[Deed, ...]:
        """The table as a whole. beside : where a name is asked for."""
        session = self._session
        others = [one for one in session.study.tables if one.id != session.table.id]
        several = lambda: len(session.study.tables) > 1  # noqa: E731
        return (
            Deed("Call this table something else…", "", partial(self._rename_table, beside)),
            Deed("Copy this table", "", self._double_table),
            Deed("Start another table", "Ctrl+Shift+N", self._start_table),
            Deed(
                "Stack the tables as one…",
                "",
                lambda: self._window_of(beside).opening.stack_tables(),
                several,
            ),
            Deed("Join another table to this by an identifier…", "", partial(self._join, beside), several),
            Deed("Let this table go", "", self._drop_table, several),
            *(Deed(f"Go to the table {one.name}", "", partial(self._go_to, one.id)) for one in others),
        )

    def show_in_table_order(self) -> None:
        """Show the rows as the table has them."""
        grid = self._grid()
        if grid is not None:
            grid.show_by(None)

    def sort_as_shown(self) -> None:
        """Make the order in which the rows are shown that of the table."""
        grid = self._grid()
        column = self._ordered()
        if grid is not None and column is not None:
            falling = grid.grid.order.falling
            grid.show_by(None)
            self._sort_by(column, falling)

    def _ordered(self) -> str | None:
        grid = self._grid()
        column: str | None = grid.grid.order.column if grid is not None else None
        return column

    def _rows(self) -> RowIds:
        grid = self._grid()
        return grid.rows_at_hand() if grid is not None else NO_ROWS

    def _has_rows(self) -> bool:
        return bool(self._rows())

    def _column(self) -> str | None:
        grid = self._grid()
        return grid.column_at_hand() if grid is not None else None

    def _has_column(self) -> bool:
        return self._column() is not None

    def _is_drawn(self) -> bool:
        from bright_tether.tables.formula import Draw

        column = self._column()
        return column is not None and isinstance(self._session.table.column(column).formula, Draw)

    def _insert_row(self, after: int) -> None:
        session, grid = self._session, self._grid()
        if grid is None or self._made("put in") or self._held_by_view("put in between"):
            return
        table, places = session.table.id, session.table.places(self._rows())
        beside = int(session.table.row_ids[places[-1 if after else 0]])
        column = max(grid.currentIndex().column(), 0)

        def make(study: Study) -> Edit:
            at = next(iter(study.table(table).places([beside]).tolist()))
            return row_changes.add_rows(study, table, 1, at + after)

        def choose(edit: Edit | None) -> None:
            if isinstance(edit, PutRows):
                grid.choose_rows(edit.row_ids, column)

        session.do_made(make, choose)

    def delete_rows(self, rows: RowIds) -> None:
        """Take these rows out, unless they come from other tables."""
        table = self._session.table.id
        if rows and not self._made("taken out"):
            self._session.do_made(lambda study: row_changes.delete_rows(study, table, rows))

    def _move_rows(self, steps: int) -> None:
        session, grid = self._session, self._grid()
        if grid is None or self._made("moved") or self._held_by_view("moved"):
            return
        table, rows, column = session.table.id, self._rows(), grid.currentIndex().column()
        session.do_made(
            lambda study: row_changes.move_rows(study, table, rows, steps),
            lambda edit: grid.choose_rows(rows, column),
        )

    def _held_by_view(self, what: str) -> bool:
        if self._ordered() is None:
            return False
        self._session.offer(
            f"The rows are shown in the order of a column, so none can be {what} by hand.",
            {"Show them in table order": self.show_in_table_order},
        )
        return True

    def _name_columns(self) -> None:
        session = self._session
        if self._made("made names"):
            return
        table, row = session.table.id, int(self._rows().ids[0])

        def say(edit: Edit | None) -> None:
            if edit is None:
                session.notice("This row is blank: there is nothing in it to call the columns by.")

        session.do_made(lambda study: cell_changes.name_columns(study, table, row), say)

    def _rename_column(self) -> None:
        grid = self._grid()
        if grid is not None:
            grid.rename(grid.currentIndex().column())

    def _insert_column(self, after: int) -> None:
        session, grid = self._session, self._grid()
        column = self._column()
        if grid is None or column is None:
            return
        at = [one.id for one in session.table.columns].index(column) + after
        session.do(column_changes.insert_column(session.history.study, session.table.id, at))
        grid.setCurrentIndex(grid.grid.index(max(grid.currentIndex().row(), 0), at))

    def _move_column(self, steps: int) -> None:
        session, grid, column = self._session, self._grid(), self._column()
        if grid is None or column is None:
            return
        session.do(column_changes.move_column(session.history.study, session.table.id, column, steps))
        at = [one.id for one in session.table.columns].index(column)
        grid.setCurrentIndex(grid.grid.index(max(grid.currentIndex().row(), 0), at))

    def _delete_column(self) -> None:
        session, column = self._session, self._column()
        if column is None:
            return
        edit = column_changes.delete_column(session.history.study, session.table.id, column)
        if edit is None:
            session.notice("The last column stays: a table has at least one. Clear its cells instead.")
        session.do(edit)

    def _draw_again(self) -> None:
        session, column = self._session, self._column()
        if column is not None:
            table = session.table.id
            session.do_made(lambda study: column_changes.draw_again(study, table, column))

    def _show_by(self, falling: bool) -> None:
        grid = self._grid()
        if grid is not None:
            grid.show_by(self._column(), falling=falling)

    def _sort(self, falling: bool) -> None:
        grid, column = self._grid(), self._column()
        if grid is not None and column is not None:
            grid.show_by(None)
            self._sort_by(column, falling)

    def _sort_by(self, column: str, falling: bool) -> None:
        session = self._session
        if self._made("put in another order"):
            return
        table, name = session.table.id, session.table.column(column).short
        order = f"the order of {name}, {'falling' if falling else 'rising'}"

        def say(edit: Edit | None) -> None:
            session.tell(
                f"The table stands in {order} now. Whatever goes by row order follows it: neighbours, the row before, "
                "running totals."
                if edit is not None
                else f"The rows stand in {order} already."
            )

        session.do_made(lambda study: row_changes.sort_rows(study, table, column, falling=falling), say)

    def _rename_table(self, beside: QWidget) -> None:
        session, table = self._session, self._session.table

        def take(name: str) -> None:
            session.do(table_changes.rename_table(session.history.study, table.id, name))

        AskName("Call this table", table.name, take, beside).show_by(beside)

    @staticmethod
    def _window_of(beside: QWidget) -> Any:
        return beside.window()

    def _join(self, beside: QWidget) -> None:
        from bright_tether.desktop.parts.joining import JoinPanel

        JoinPanel(self._session, sure(beside.window())).show_by(beside)

    def _made(self, what: str) -> bool:
        """Say so where the rows of the table at hand come from others, and can only be changed there."""
        table, study = self._session.table, self._session.history.study
        names = [one.name for one in study.tables if one.id in sources_of(table.recipe)]
        if table.recipe is None:
            return False
        self._session.notice(
            f"The rows of “{table.name}” come from {listed(names) or 'tables that are gone'}: they are {what} there."
        )
        return True

    def _double_table(self) -> None:
        session = self._session
        table = session.table.id
        session.do_made_and_show(lambda study: table_changes.double_table(study, table))

    def _start_table(self) -> None:
        session = self._session
        session.do_and_show(*table_changes.start_table(session.history.study))
        session.show_step("gather")

    def _drop_table(self) -> None:
        session = self._session
        session.do(table_changes.drop_table(session.history.study, session.table.id))

    def _go_to(self, table_id: str) -> None:
        tied = [one.id for one in self._session.study.tethers if one.table == table_id]
        if tied:
            self._session.show_tether(tied[0])
        else:
            from bright_tether.study.changes import add_tether

            self._session.do_and_show(*add_tether(self._session.history.study, table_id))
