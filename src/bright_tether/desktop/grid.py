"""The table as a grid: typed into, pasted into, its column heads dragged onto axes."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Iterable
from functools import cache, partial
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import (
    QEvent,
    QItemSelection,
    QItemSelectionModel,
    QItemSelectionRange,
    QPoint,
    Qt,
    pyqtSignal,
)
from PyQt6.QtGui import QColor, QGuiApplication, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import (
    QAbstractItemDelegate,
    QAbstractItemView,
    QHeaderView,
    QLineEdit,
    QStyledItemDelegate,
    QTableView,
)

from bright_tether.desktop.grid_model import NOTE_ROLE, GridModel
from bright_tether.desktop.heads import ColumnHeads, blind_to_choice
from bright_tether.desktop.parts.copying import copy_text
from bright_tether.desktop.parts.menus import open_menu
from bright_tether.desktop.parts.table_deeds import TableDeeds
from bright_tether.desktop.session import Session
from bright_tether.pictures.sure import sure
from bright_tether.study import cell_changes, changes
from bright_tether.tables.row_ids import RowIds
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d

#: So many cells are copied at once.
_FEW_CELLS = 20_000
#: So many characters of a clipboard are read at once.
_FEW_TEXTS = 60_000


class CellEditor(QStyledItemDelegate):
    """The field of a cell; Enter takes what was typed and goes down."""

    entered = pyqtSignal()

    def eventFilter(self, field: Any, event: Any) -> bool:
        """Catch Enter before the field keeps it."""
        if (
            isinstance(event, QKeyEvent)
            and event.type() == QEvent.Type.KeyPress
            and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        ):
            self.commitData.emit(field)
            self.closeEditor.emit(field, QAbstractItemDelegate.EndEditHint.NoHint)
            self.entered.emit()
            return True
        return super().eventFilter(field, event)


class Grid(QTableView):
    """The grid view: Enter goes down, Tab right; blocks are copied, pasted and cleared."""

    head_let_go = pyqtSignal(str, QPoint)
    head_carried = pyqtSignal(QPoint)
    #: The rows are shown in another order.
    ordered = pyqtSignal()

    def __init__(self, session: Session, tokens: Tokens, name: str = "Table") -> None:
        super().__init__()
        self._session = session
        self.setAccessibleName(name)
        self.grid = GridModel(session, tokens)
        self.setModel(self.grid)
        self.grid.rows_went_up.connect(self._follow_up)
        self.deeds = TableDeeds(session, lambda: self)
        self.heads = ColumnHeads(self)
        self.setHorizontalHeader(self.heads)
        blind_to_choice(self.heads)
        self.heads.let_go.connect(self._head_let_go)
        self.heads.carried.connect(self.head_carried)
        self.heads.rename_wanted.connect(self.rename)
        self.heads.ink = QColor(tokens.muted)
        for head in (self.heads, sure(self.verticalHeader())):
            head.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.heads.customContextMenuRequested.connect(self._open_head_menu)
        sure(self.verticalHeader()).customContextMenuRequested.connect(self._open_row_menu)
        rows = sure(self.verticalHeader())
        rows.setDefaultSectionSize(26)
        rows.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        rows.setDefaultAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        rows.setMinimumWidth(44)
        rows.sectionClicked.connect(self._mark_selected)
        self._editor = CellEditor(self)
        self._editor.entered.connect(lambda: self._step(1, 0))
        self.setItemDelegate(self._editor)
        trigger = QAbstractItemView.EditTrigger
        self.setEditTriggers(trigger.DoubleClicked | trigger.AnyKeyPressed | trigger.EditKeyPressed)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setCornerButtonEnabled(False)
        self._fitted: tuple[str, ...] | None = None
        #: Row and column from which Tab went on along a row: Enter then goes to the start of the next.
        self._began: tuple[int, int] | None = None
        self.fit_columns()
        session.study_changed.connect(self.fit_columns)

    def fit_columns(self) -> None:
        """Give each column the width of its head; once for a set of columns."""
        ids = tuple(f"{self._session.table.id}{c.id}{c.name}" for c in self._session.table.columns)
        if ids != self._fitted:
            self._fitted = ids
            wide = self.heads.fontMetrics().horizontalAdvance
            for at in range(self.grid.columnCount()):
                first = (self.grid.index(row, at) for row in range(min(40, self.grid.rowCount())))
                texts = [str(self.grid.headerData(at, Qt.Orientation.Horizontal)) + "   "]
                texts.append(str(self.grid.headerData(at, Qt.Orientation.Horizontal, NOTE_ROLE) or ""))
                texts += [str(self.grid.data(index) or "") for index in first]
                self.setColumnWidth(at, max(84, max(map(wide, texts)) + 22) if at < len(ids) else 60)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.grid.tokens = tokens
        self.heads.ink = QColor(tokens.muted)
        self.grid.repaint()

    def column_at_hand(self) -> str | None:
        """The id of the column the cursor stands in."""
        column = self.grid.column(self.currentIndex().column()) if self.currentIndex().isValid() else None
        return column.id if column else None

    def rows_at_hand(self) -> RowIds:
        """The rows of the selected cells."""
        return RowIds(self.grid.row_ids(self._chosen()[0]))

    def _blocks(self) -> list[QItemSelectionRange]:
        held = sure(self.selectionModel()).selection()
        return [held[at] for at in range(held.count())]

    def _ids(self, block: QItemSelectionRange) -> NDArray[np.int64]:
        return self.grid.row_ids(np.arange(block.top(), min(block.bottom() + 1, self._session.table.rows)))

    def _chosen(self) -> tuple[NDArray[np.int64], list[int]]:
        """The rows and the columns of the selected cells, rising, those to grow into left out."""
        table = self._session.table
        blocks = self._blocks()
        rows = [np.arange(one.top(), min(one.bottom() + 1, table.rows)) for one in blocks]
        columns = {at for one in blocks for at in range(one.left(), one.right() + 1)}
        whole = np.concatenate(rows) if len(rows) > 1 else rows[0] if rows else np.empty(0, np.int64)
        return RowIds(whole).ids, sorted(at for at in columns if at < len(table.columns))

    def show_row(self, row_id: int) -> None:
        """Bring a row into view."""
        at = self.grid.row_of(row_id)
        if at is not None:
            self.scrollTo(self.grid.index(at, 0), QAbstractItemView.ScrollHint.PositionAtCenter)

    def show_by(self, column_id: str | None, *, falling: bool = False) -> None:
        """Show the rows in the order of a column, or as the table has them; the cursor stays on its case."""
        table, order = self._session.table, self.grid.order
        if column_id is None:
            self._reorder(lambda: order.as_it_stands(table))
            return

        def take(places: NDArray[np.int64]) -> None:
            if self._session.table is table:
                self._reorder(lambda: order.by(table, column_id, places, falling=falling))
            elif self._session.table.has(column_id):  # something else was changed meanwhile
                self.show_by(column_id, falling=falling)

        self._session.try_out(lambda: table.order_by(column_id, falling=falling), take, self)

    def _reorder(self, change: Callable[[], None]) -> None:
        at = self.currentIndex()
        row = self.grid.row_id(at.row()) if at.isValid() else None
        change()
        self.grid.refresh()
        self.ordered.emit()
        if row is not None:
            self.choose_rows([row], at.column())

    def choose_rows(self, rows: Iterable[int], column: int) -> None:
        """Put the cursor on these cases, by id, in a column."""
        shown = self.grid.order.rows(self._session.table.places(rows)).tolist()
        if not shown:
            return
        flag = QItemSelectionModel.SelectionFlag
        first = self.grid.index(shown[0], max(column, 0))
        self.setCurrentIndex(first)
        last = self.grid.index(shown[-1], max(column, 0))
        sure(self.selectionModel()).select(QItemSelection(first, last), flag.ClearAndSelect)

    def contextMenuEvent(self, event: Any) -> None:
        """What can be done at the cell: its row, its column, its table."""
        by_keys = event.reason() == event.Reason.Keyboard
        at = self.currentIndex() if by_keys else self.indexAt(event.pos())
        if at.isValid() and not sure(self.selectionModel()).isSelected(at):
            self.setCurrentIndex(at)
        spot = self.visualRect(at).bottomLeft() if by_keys else event.pos()
        groups = (self.deeds.of_rows(), self.deeds.of_columns())
        open_menu("Table menu", groups, sure(self.viewport()).mapToGlobal(spot), self)

    def _open_head_menu(self, spot: QPoint) -> None:
        section = self.heads.logicalIndexAt(spot)
        if self.grid.column(section) is not None:
            self.setCurrentIndex(self.grid.index(max(self.currentIndex().row(), 0), section))
            open_menu("Column menu", (self.deeds.of_columns(),), self.heads.mapToGlobal(spot), self)

    def _open_row_menu(self, spot: QPoint) -> None:
        heads = sure(self.verticalHeader())
        section = heads.logicalIndexAt(spot)
        row = self.grid.row_id(section) if section >= 0 else None
        if row is not None:
            if row not in self.rows_at_hand():
                self.selectRow(section)
            open_menu("Row menu", (self.deeds.of_rows(),), heads.mapToGlobal(spot), self)

    def _follow_up(self) -> None:
        at = self.currentIndex()
        if at.row() > 0:
            self.setCurrentIndex(self.grid.index(at.row() - 1, at.column()))

    def rename(self, section: int) -> None:
        """Type another name for a column, in its head."""
        column = self.grid.column(section)
        if column is None:
            return
        field = QLineEdit(column.name, self.heads.viewport())
        field.setAccessibleName("Column name")
        field.setGeometry(self.heads.sectionViewportPosition(section), 0,
                          max(self.heads.sectionSize(section), 160), self.heads.height())  # fmt: skip
        field.selectAll()
        field.show()
        field.setFocus()
        table_id = self._session.table.id

        def take() -> None:
            field.blockSignals(True)
            session = self._session
            if session.table.id == table_id and session.table.has(column.id):
                session.do(changes.rename_column(session.history.study, table_id, column.id, field.text()))
            field.deleteLater()
            self.setFocus()

        field.editingFinished.connect(take)

    def keyPressEvent(self, event: Any) -> None:
        """Enter down, Space marks, Delete clears; copy and paste blocks."""
        keys: dict[QKeySequence.StandardKey, Callable[[], None]] = {
            QKeySequence.StandardKey.Copy: self.copy_block,
            QKeySequence.StandardKey.Paste: self.paste_block,
        }
        for key, run in keys.items():
            if event.matches(key):
                run()
                return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._step(1, 0)
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.clear_block()
        elif event.key() == Qt.Key.Key_Space and not event.modifiers():
            self._mark_selected()
        elif event.text().isprintable() and event.text() and self._worked_out():
            return
        else:
            super().keyPressEvent(event)

    def _worked_out(self) -> bool:
        """Whether the cell at the cursor is worked out, and so takes nothing that is typed; that is said."""
        column = self.grid.column(self.currentIndex().column())
        if column is None or column.formula is None:
            return False
        how = "is worked out, so its cells cannot be typed into: change what it is made from"
        if column.measured:
            how = "comes from other tables: its cells are changed there"
        self._session.notice(f"{column.short} {how}.")
        return True

    def copy_block(self) -> None:
        """Put the selected cells on the clipboard, tabs between."""
        rows, columns = self._chosen()
        if not rows.size or not columns:
            return
        table = self._session.table
        places, small = self.grid.order.places(rows), rows.size * len(columns) <= _FEW_CELLS

        def make() -> str:
            text = io.StringIO()
            writer = csv.writer(text, delimiter="\t", lineterminator="\n")
            for lot in np.array_split(
                places, places.size // _FEW_CELLS + 1
            ):  # other threads get their turn between
                cells = [table.columns[at].written(lot, table.row_ids[lot]) for at in columns]
                writer.writerows(zip(*cells, strict=True))
            return text.getvalue()

        told = f"Copied: {d.count(rows.size, 'row')} of {d.count(len(columns), 'column')}."
        copy_text(self._session, make, told=told, small=small)

    def paste_block(self) -> None:
        """Put the clipboard's cells with the first one at the cursor."""
        held = sure(sure(QGuiApplication.clipboard()).mimeData())
        page, text = held.html() if held.hasHtml() else "", held.text()

        @cache
        def block() -> list[list[str]]:
            return (_table_in(page) if page else []) or block_of(text)

        few = len(page) + len(text) <= _FEW_TEXTS
        if few and not block():
            return
        at, session = self.currentIndex(), self._session
        row, column = (at.row(), at.column()) if at.isValid() else (0, 0)
        if self.grid.order.column is not None and not (few and len(block()) == 1):
            session.offer(
                "The rows are shown in the order of a column, so several cannot be pasted at once.",
                {"Show them in table order": partial(self.show_by, None)},
            )
            return
        self.grid.put(row, column, block, small=few and session.in_place)

    def clear_block(self) -> None:
        """Blank the selected cells; whole rows selected by their heads are taken out."""
        session, table = self._session, self._session.table
        blocks = self._blocks()
        across = self.grid.columnCount() - 1
        whole = [one for one in blocks if one.left() == 0 and one.right() == across]
        if whole:
            self.deeds.delete_rows(RowIds(np.concatenate([self._ids(one) for one in whole])))
            return
        cells = [
            (self._ids(one), column.id)
            for one in blocks
            for column in table.columns[one.left() : one.right() + 1]
        ]
        session.do_made(
            lambda study: cell_changes.clear_cells(
                study, table.id, [(row, column) for rows, column in cells for row in rows.tolist()]
            )
        )

    def _step(self, down: int, right: int) -> None:
        at = self.currentIndex()
        began = self._began if self._began is not None and self._began[0] == at.row() else None
        self._began = None
        row = min(at.row() + down, self.grid.rowCount() - 1)
        column = began[1] if began is not None else min(at.column() + right, self.grid.columnCount() - 1)
        self.setCurrentIndex(self.grid.index(row, column))

    def closeEditor(self, editor: Any, hint: Any) -> None:
        """Remember where a row of values was begun that Tab goes along."""
        at = self.currentIndex()
        onward = hint == QAbstractItemDelegate.EndEditHint.EditNextItem
        if onward and (self._began is None or self._began[0] != at.row()):
            self._began = at.row(), at.column()
        super().closeEditor(editor, hint)

    def _mark_selected(self) -> None:
        rows = self.rows_at_hand()
        self._session.mark_rows(self._session.mark ^ rows if rows <= self._session.mark else rows)

    def _head_let_go(self, section: int, spot: QPoint) -> None:
        column = self.grid.column(section)
        if column:
            self.head_let_go.emit(column.id, spot)


def block_of(text: str) -> list[list[str]]:
    """The cells of a pasted text: tabs between, else the separator that cuts it evenly."""
    from bright_tether.tables.delimited import guess_separator

    lines = text.strip("\r\n")
    if not lines:
        return []
    separator = "\t" if "\t" in lines else guess_separator(lines)
    if separator == "," and all(line.count(",") <= 1 and _is_number(line) for line in lines.splitlines()):
        return [[line] for line in lines.splitlines()]
    return list(csv.reader(io.StringIO(lines), delimiter=separator))


def _is_number(text: str) -> bool:
    from bright_tether.tables.cells import as_number

    return as_number(text) is not None


def _table_in(page: str) -> list[list[str]]:
    """The table of a page that was copied; what reads pages is loaded when there is one."""
    from bright_tether.tables.html_table import table_of

    return table_of(page)
