"""The line above a table: its name with what can be done with it, and the order in which it is shown."""

from __future__ import annotations

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from bright_tether.desktop.grid import Grid
from bright_tether.desktop.parts.menus import open_menu
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.tables.made import sources_of
from bright_tether.words import digits as d


class TableStrip(QWidget):
    """Name, size, order."""

    def __init__(self, session: Session, grid: Grid) -> None:
        super().__init__()
        self._session, self._grid = session, grid
        self.name = button("", self.open_menu, "link", "Table menu")
        self._size = label(kind="quiet", name="size of the table")
        self._order = label(kind="tag", name="order of the rows")
        self._back = button(
            "Table order", grid.deeds.show_in_table_order, "link", "Show the rows in table order"
        )
        self._keep = button(
            "Sort for good", grid.deeds.sort_as_shown, "link", "Sort the rows for good as shown"
        )
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        for piece in (self.name, self._size):
            row.addWidget(piece)
        row.addStretch()
        for piece in (self._order, self._back, self._keep):
            row.addWidget(piece)
        grid.ordered.connect(self.show_table)
        session.study_changed.connect(self.show_table)
        self.show_table()

    def show_table(self) -> None:
        """Bring the line up to date."""
        table, order = self._session.table, self._grid.grid.order
        self.name.setText(f"{table.name} ▾")
        self.name.setAccessibleDescription(table.name)
        sources = len(sources_of(table.recipe))
        of = f", made of {d.count(sources, 'table')}" if sources else ""
        self._size.setText(f"{d.count(table.rows, 'row')}, {d.count(len(table.columns), 'column')}{of}")
        shown = order.column is not None and table.has(order.column)
        if shown and order.column is not None:
            how = "falling" if order.falling else "rising"
            self._order.setText(f"shown by {table.column(order.column).short}, {how}")
        for piece in (self._order, self._back, self._keep):
            piece.setVisible(shown)

    def open_menu(self) -> None:
        """What can be done with the table as a whole."""
        spot = self.name.mapToGlobal(QPoint(0, self.name.height()))
        open_menu("Table menu", [self._grid.deeds.of_table(self.name)], spot, self)
