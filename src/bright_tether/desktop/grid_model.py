"""What the grid shows: the table of the tether on the stage, cell by cell."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont

from bright_tether.desktop.row_order import RowOrder
from bright_tether.desktop.session import Session
from bright_tether.study import cell_changes
from bright_tether.study.asides import NO_ASIDES
from bright_tether.study.edits import Edit
from bright_tether.study.study import Study
from bright_tether.tables.cells import Cell
from bright_tether.tables.column import Column, shown
from bright_tether.tables.decimals import usual_decimals
from bright_tether.tables.made import origin_of
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.columns import head_words

#: What stands below a column's name in its head.
NOTE_ROLE = Qt.ItemDataRole.UserRole + 1
_SPARE_ROWS, _SPARE_COLUMNS = 1, 1
#: Rows whose looks are looked up together.
_AT_ONCE = 64
_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
_READ_ONLY = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
_EDITABLE = _READ_ONLY | Qt.ItemFlag.ItemIsEditable


class GridModel(QAbstractTableModel):
    """The table of the tether on the stage, without a number row and column to grow into."""

    #: A row above all others went, so that every case stands one row higher.
    rows_went_up = pyqtSignal()

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self._session, self.tokens = session, tokens
        #: The table that is shown: a page of cells asks for it some thousand times.
        self._table = session.table
        self.order = RowOrder()
        #: Rows that there will be when what was typed below the last one stands.
        self._promised = 0
        self._shape = self._wanted_shape()
        self._asides = NO_ASIDES
        self._decimals: dict[str, tuple[object, int | None]] = {}
        self._memory = session.study.memory
        #: How many cells of a column were missing when they were last counted, and the column that is gone through.
        self._missing: dict[tuple[str, str], int] = {}
        self._looked_up: dict[str, Column] = {}
        #: Of rows by id, whether they are marked and set aside. Some are looked up at a time: a look among a million
        #: for each cell lets go of the interpreter as often, and waits for it while something else is worked out.
        self._looks: dict[int, tuple[bool, bool]] = {}
        session.study_changed.connect(self.refresh)
        session.mark_changed.connect(self.repaint)
        session.busy_changed.connect(self._keep_promise)
        self.refresh()

    def refresh(self) -> None:
        """Match the study."""
        if self._memory is not self._session.study.memory:  # another study, whose columns may be called alike
            self._memory = self._session.study.memory
            for kept in (self._missing, self._looked_up, self._decimals):
                kept.clear()
        self._table = self._session.table
        self.order.match(self._table)
        self._asides = self._session.tether.asides
        self._resize(*self._wanted_shape())
        self.repaint()
        self.headerDataChanged.emit(Qt.Orientation.Horizontal, 0, self._shape[1] - 1)

    def _keep_promise(self) -> None:
        if self._promised and self._session.turns.idle:
            self._promised = 0
            self._resize(*self._wanted_shape())

    def _resize(self, rows: int, columns: int) -> None:
        """Grow or shrink at the end, so that the cursor and an open cell stay where they are."""
        root, (had_rows, had_columns) = QModelIndex(), self._shape
        if rows > had_rows:
            self.beginInsertRows(root, had_rows, rows - 1)
        elif rows < had_rows:
            self.beginRemoveRows(root, rows, had_rows - 1)
        self._shape = (rows, had_columns)
        if rows != had_rows:
            (self.endInsertRows if rows > had_rows else self.endRemoveRows)()
        if columns > had_columns:
            self.beginInsertColumns(root, had_columns, columns - 1)
        elif columns < had_columns:
            self.beginRemoveColumns(root, columns, had_columns - 1)
        self._shape = (rows, columns)
        if columns != had_columns:
            (self.endInsertColumns if columns > had_columns else self.endRemoveColumns)()

    def repaint(self) -> None:
        """Look at every visible cell again."""
        self._looks.clear()
        self.dataChanged.emit(self.index(0, 0), self.index(self._shape[0] - 1, self._shape[1] - 1))

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Rows, and one to grow into."""
        return self._shape[0]

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """Columns, and one to grow into."""
        return self._shape[1]

    def column(self, at: int) -> Column | None:
        """The column at a place, None in the spare one."""
        columns = self._table.columns
        return columns[at] if at < len(columns) else None

    def row_id(self, at: int) -> int | None:
        """The id of what a row shows, None in the spare one."""
        ids = self._table.row_ids
        return int(ids[self.order.place(at)]) if at < ids.size else None

    def row_ids(self, rows: NDArray[np.int64]) -> NDArray[np.int64]:
        """The ids of what these rows show, (n,), none of them a spare one."""
        found: NDArray[np.int64] = self._table.row_ids[self.order.places(rows)]
        return found

    def row_of(self, row_id: int) -> int | None:
        """The row that shows the case with this id; None where it is gone."""
        at = self._table.places([row_id])
        return self.order.row(int(at[0])) if at.size else None

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        """Text, alignment and look of a cell."""
        column, row = self.column(index.column()), self.row_id(index.row())
        if column is None or row is None:
            return None
        if role == Qt.ItemDataRole.EditRole:
            return shown(column.cell(self.order.place(index.row()), row))
        if role == Qt.ItemDataRole.DisplayRole:
            return self._text(column, column.cell(self.order.place(index.row()), row))
        if role == Qt.ItemDataRole.TextAlignmentRole and column.numeric and row not in column.strays:
            return _RIGHT
        marked, aside = self._look(row, index.row())
        if role == Qt.ItemDataRole.BackgroundRole and marked:
            return QColor(self.tokens.tether_soft)
        if role == Qt.ItemDataRole.ForegroundRole:
            if row in column.strays:
                return QColor(self.tokens.attention)
            return QColor(self.tokens.on_soft if marked else self.tokens.muted) if marked or aside else None
        if role == Qt.ItemDataRole.FontRole and aside:
            font = QFont()
            font.setItalic(True)
            font.setStrikeOut(True)
            return font
        if role == Qt.ItemDataRole.ToolTipRole:
            if aside:
                return f"set aside: {self._asides.reason_of(row)}"
            return "text in a number column: it counts as missing" if row in column.strays else None
        return None

    def _text(self, column: Column, cell: Cell) -> str:
        """A cell with the decimals its column was written with, so that the points stand in line."""
        if not isinstance(cell, float):
            return shown(cell)
        kept = self._decimals.get(column.id)
        if kept is None or kept[0] is not column.cells:
            kept = self._decimals[column.id] = (column.cells, usual_decimals(column))
        return d.fixed(cell, kept[1]) if kept[1] is not None else d.entered(cell)

    def _look(self, row: int, at: int) -> tuple[bool, bool]:
        """Of a row by id, which is shown at a place; those around it are looked up with it."""
        found = self._looks.get(row)
        if found is None:
            first = at - at % _AT_ONCE
            ids = self.row_ids(np.arange(first, min(first + _AT_ONCE, self._table.rows)))
            both = (one.hold(ids).tolist() for one in (self._session.mark, self._asides.row_ids))
            self._looks.update(zip(ids.tolist(), zip(*both, strict=True), strict=True))
            found = self._looks[row]
        return found

    def setData(self, index: QModelIndex, value: object, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Put a typed text; the table grows where it stands beyond it."""
        text = str(value)
        beyond = index.row() >= self._session.table.rows or self.column(index.column()) is None
        if role != Qt.ItemDataRole.EditRole or (beyond and not text.strip()):
            return False
        if index.column() > len(self._session.table.columns):
            return False  # the place went while the field stood open
        if index.row() >= self._table.rows and not self._session.in_place:
            self._promised = max(self._promised, index.row() + 1)  # the cursor goes on below it meanwhile
            self._resize(*self._wanted_shape())
        self.put(index.row(), index.column(), lambda: [[text]], lambda edit: self._name_columns())
        return True

    def put(
        self,
        row: int,
        column: int,
        block: Callable[[], list[list[str]]],
        then: Callable[[Edit | None], object] = lambda edit: None,
        *,
        small: bool | None = None,
    ) -> None:
        """Put texts with the first at a cell: that of this case and column, wherever they stand by then.

        then, small : as ``Changing.do_made`` has them.
        """
        table, place = self._session.table, self.order.place(row)
        row_id, held = self.row_id(row), self.column(column)

        def make(study: Study) -> Edit | None:
            now, at, across = study.table(table.id), place, column
            if row_id is not None:
                at = next(iter(now.places([row_id]).tolist()))
            if held is not None:
                across = next(i for i, one in enumerate(now.columns) if one.id == held.id)
            texts = block()
            return cell_changes.type_block(study, table.id, at, across, texts) if texts else None

        self._session.do_made(make, then, small=small)

    def _name_columns(self) -> None:
        """Let a first row that plainly holds names be the names; the cursor stays with the row it was in."""
        session = self._session
        named = cell_changes.names_typed(session.history.study, session.table.id)
        if named is not None:
            session.do(named)
            session.tell("The first row names the columns now; undo makes it a row again.")
            self.rows_went_up.emit()

    def headerData(
        self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole
    ) -> Any:
        """Column names with the axis they are tied to; row numbers."""
        if orientation == Qt.Orientation.Vertical:
            if role == Qt.ItemDataRole.DisplayRole:
                place = self.order.place(section)
                return str(place + 1) if place < self._table.rows else "+"
            return self._origin(section) if role == Qt.ItemDataRole.ToolTipRole else None
        column = self.column(section)
        tether = self._session.tether
        if role == Qt.ItemDataRole.DisplayRole:
            if column is None:
                return "+"
            axis = {tether.x: "x · ", tether.y: "y · "}.get(column.id, "")
            return axis + column.name
        if role == NOTE_ROLE and column:
            return self._note(column)
        if role == Qt.ItemDataRole.FontRole and column and column.id in (tether.x, tether.y):
            font = QFont()
            font.setWeight(QFont.Weight.DemiBold)
            return font
        if role == Qt.ItemDataRole.ToolTipRole and column:
            how = column.kind if column.measured else "worked out"
            return f"{column.name}: {how}; drag it onto an axis, double-click to rename it"
        return None

    def _origin(self, section: int) -> str | None:
        """Where a row of a made table comes from."""
        row, study = self.row_id(section), self._session.study
        found = origin_of(self._session.table, row) if row is not None else None
        source = next((one for one in study.tables if found and one.id == found[0]), None)
        if found is None or source is None:
            return None
        places = source.places([found[1]])
        return f"from {source.name}, row {int(places[0]) + 1}" if places.size else None

    def _note(self, column: Column) -> str:
        """The kind of a column, how many cells are missing, and whether it orders what is shown."""
        key = self._table.id, column.id
        if column.counted or self._session.in_place:
            self._missing[key] = column.missing
        else:
            self._look_up(column)
        ordered = {True: " ↓", False: " ↑"}[self.order.falling]
        words = head_words(column, self._missing.get(key, 0))
        return words + (ordered if column.id == self.order.column else "")

    def _look_up(self, column: Column) -> None:
        """Have a long column gone through; its head says then how many are missing, and until then how many were."""
        if self._looked_up.get(column.id) is column:
            return
        self._looked_up[column.id] = column

        def take(found: object) -> None:
            if column.counted and self._looked_up.get(column.id) is column:
                del self._looked_up[column.id]
            self.headerDataChanged.emit(Qt.Orientation.Horizontal, 0, self.columnCount() - 1)

        self._session.off(lambda: column.missing, take)

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        """Every cell can be typed into, but for those that are worked out."""
        column = self.column(index.column())
        return _READ_ONLY if column and column.formula else _EDITABLE

    def _wanted_shape(self) -> tuple[int, int]:
        table = self._session.table
        spare = _SPARE_ROWS if table.recipe is None else 0  # rows of others grow there
        return max(table.rows, self._promised) + spare, len(table.columns) + _SPARE_COLUMNS
