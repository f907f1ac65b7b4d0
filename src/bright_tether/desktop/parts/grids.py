"""Small tables of figures: every two columns, and critical values."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QBrush, QColor, QFont, QKeySequence
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QButtonGroup,
    QHBoxLayout,
    QHeaderView,
    QMenu,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from bright_tether.core.strength.screen import looked_at
from bright_tether.desktop.parts.copying import copy_grids
from bright_tether.desktop.parts.hints import term_hint
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import IN_PLACE_ROWS, Session
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.study.pins import Grid
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.grids.screen import LETTERS

#: Letters that a cell has room for; a longer text is told in full to who rests on it.
_SHORT = 24


class FiguresTable(QTableWidget):
    """A table that is read; Ctrl+C copies what is marked in it, or all of it with its heads."""

    #: What it was filled with last, and in which colours.
    filled: tuple[Grid | None, Tokens | None] | None = None

    def keyPressEvent(self, event: Any) -> None:
        """Copy."""
        if event.matches(QKeySequence.StandardKey.Copy):
            copy_grids((self.grid(),))
        else:
            super().keyPressEvent(event)

    def contextMenuEvent(self, event: Any) -> None:
        """What can be done with a table."""
        menu = QMenu(self)
        menu.setAccessibleName("This table")
        menu.aboutToHide.connect(menu.deleteLater)
        for words, run in (
            ("Copy\tCtrl+C", lambda: copy_grids((self.grid(),))),
            ("Copy or write…", self.write_out),
        ):
            sure(menu.addAction(words)).triggered.connect(run)
        menu.popup(event.globalPos())

    def write_out(self) -> None:
        """Choose what stands in it, in which form, and where it goes."""
        from bright_tether.desktop.parts.table_out import TableOut

        TableOut((self.grid(),), sure(self.window()).session, self).show_by(self)  # type: ignore[attr-defined]

    def grid(self) -> Grid:
        """What it shows: the marked cells where more than one is marked, else everything."""
        marked = {(one.row(), one.column()) for one in self.selectedIndexes()}
        every = len(marked) < 2
        rows = [r for r in range(self.rowCount()) if every or any(at[0] == r for at in marked)]
        columns = [c for c in range(self.columnCount()) if every or any(at[1] == c for at in marked)]
        heads = tuple(self._text(self.horizontalHeaderItem(c)) for c in columns)
        filled = self.filled[0] if self.filled else None
        if filled is not None:  # its cells still know what they stand for
            cells = tuple(tuple(filled.rows[r][c] for c in columns) for r in rows)
        else:
            cells = tuple(tuple(self._text(self.item(r, c)) for c in columns) for r in rows)
        return Grid(title=self.accessibleName(), heads=heads, rows=cells)

    @staticmethod
    def _text(item: QTableWidgetItem | None) -> str:
        return "" if item is None else " ".join(item.text().split())


def figures_table(name: str) -> FiguresTable:
    """A table that is read, not typed in."""
    table = FiguresTable()
    table.setAccessibleName(name)
    table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
    sure(table.horizontalHeader()).setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
    return table


def cell(text: str, *, bold: bool = False) -> QTableWidgetItem:
    """One figure, in the middle of its cell."""
    item = QTableWidgetItem()
    _put(item, text)
    item.setTextAlignment(Qt.AlignmentFlag.AlignCenter)
    if bold:
        font = QFont()
        font.setBold(True)
        item.setFont(font)
    return item


def _put(item: QTableWidgetItem, text: str) -> None:
    item.setText(text)
    item.setToolTip(text if len(text) > _SHORT else "")


class PairGrid(QWidget):
    """A coefficient, n and p for every two columns; a click opens or makes that tether."""

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self._session, self.tokens = session, tokens
        self.coefficient = "pearson"
        self.table = figures_table("Every pair of columns")
        self.table.cellActivated.connect(self._open)
        self.table.cellClicked.connect(self._open)
        row, group = QHBoxLayout(), QButtonGroup(self)
        for name, letter in LETTERS.items():
            chooser = button(letter, partial(self._choose, name), "small", f"Every pair by {name}")
            chooser.setCheckable(True)
            chooser.setChecked(name == self.coefficient)
            group.addButton(chooser)
            row.addWidget(chooser)
        self._said = label("", "quiet", wrap=True)
        row.addWidget(self._said, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(row)
        box.addWidget(self.table, 1)

    def refresh(self) -> None:
        """Bring the grid up to date."""
        findings = self._session.findings
        columns = findings.number_columns
        self.table.clear()
        if findings.table.rows > IN_PLACE_ROWS and self.coefficient != "pearson":
            self._said.setText("This table is long: choose r, or tie the two columns to see their ρ and τ.")
            return
        by_rows = (
            " Each p takes rows for cases; What goes with y? judges by case." if findings.case_decides else ""
        )
        self._said.setText(
            f"pairs complete for each two; a shaded cell has p ≤ α. Click one to open its tether.{by_rows}"
        )
        names = [column.short for column in columns]
        self.table.setRowCount(max(len(columns) - 1, 0))
        self.table.setColumnCount(max(len(columns) - 1, 0))
        self.table.setVerticalHeaderLabels(names[1:])
        self.table.setHorizontalHeaderLabels(names[:-1])
        sure(self.table.verticalHeader()).setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        sure(self.table.verticalHeader()).setDefaultSectionSize(44)
        digits, alpha = findings.rules.digits, findings.rules.alpha
        for one in findings.every_pair(self.coefficient):
            text = f"{d.coefficient(one.value, digits)}\nn = {d.grouped(one.n)}, {d.p_value(one.p)}"
            item = cell(text)
            item.setToolTip(f"{names[one.first]} and {names[one.second]}: click to open this tether")
            if one.p is not None and one.p <= alpha:
                soft = QColor(self.tokens.hues[0 if (one.value or 0) > 0 else 2])
                soft.setAlpha(40)
                item.setBackground(QBrush(soft))
            self.table.setItem(one.second - 1, one.first, item)

    def _choose(self, name: str) -> None:
        self.coefficient = name
        self.refresh()

    def _open(self, row: int, column: int) -> None:
        """Put the tether of these two columns on the stage, tied now where there is none yet."""
        columns = self._session.findings.number_columns
        if column > row:
            return
        session, x, y = self._session, columns[column].id, columns[row + 1].id
        table = session.tether.table
        for tether in session.study.tethers:
            if tether.table == table and {tether.x, tether.y} == {x, y}:
                session.show_tether(tether.id)
                return
        among = looked_at(session.findings.every_pair(self.coefficient))
        edit, tether_id = changes.tie(session.history.study, session.tether, x=x, y=y, among=among)
        session.tether_id = tether_id
        session.do(edit)


class CriticalView(QWidget):
    """Critical values around the present n, the present cell marked."""

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self._session, self.tokens = session, tokens
        self.table = figures_table("Critical values")
        sure(self.table.verticalHeader()).hide()
        self._said = label("", "quiet", wrap=True)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(self._said)
        box.addWidget(self.table, 1)

    def refresh(self) -> None:
        """Bring the table up to date."""
        findings = self._session.findings
        self.table.clear()
        if findings.refusal:
            self._said.setText("")
            return
        critical, rules = findings.critical_table, findings.rules
        sides = "two-sided" if rules.alternative == "two-sided" else f"one-sided ({rules.alternative})"
        self._said.setText(
            f"The size a coefficient must reach, {sides}. r and ρ rest on t with n − 2 df; "
            f"τ on the normal curve without ties.{' Not for cases of several rows.' if findings.case_decides else ''}"
        )
        heads = ["n", "df"]
        heads += [f"r, ρ\nα {alpha:g}" for alpha in critical.alphas]
        heads += [f"τ\nα {alpha:g}" for alpha in critical.alphas]
        self.table.setColumnCount(len(heads))
        self.table.setRowCount(len(critical.n))
        self.table.setHorizontalHeaderLabels(heads)
        present = critical.alphas.index(rules.alpha)
        soft = QBrush(QColor(self.tokens.tether_soft))
        for row, n in enumerate(critical.n):
            texts = [str(n), str(critical.df[row])]
            texts += [f"{value:.4f}" for value in (*critical.r[row], *critical.tau[row])]
            for place, text in enumerate(texts):
                mine = row == critical.present and place in (2 + present, 2 + present + len(critical.alphas))
                item = cell(text, bold=mine or (row == critical.present and place < 2))
                if mine:
                    item.setBackground(soft)
                    item.setForeground(QBrush(QColor(self.tokens.on_soft)))
                self.table.setItem(row, place, item)


def column_of(widget: QWidget, *parts: QWidget) -> QVBoxLayout:
    """Lay widgets one under the other in another, without margins."""
    box = QVBoxLayout(widget)
    box.setContentsMargins(0, 0, 0, 0)
    for part in parts:
        box.addWidget(part)
    return box


def _of_one_shape(one: Grid | None, other: Grid) -> bool:
    """Whether nothing but the texts of two tables can differ."""
    return one is not None and (one.heads, len(one.rows), one.strong) == (
        other.heads, len(other.rows), other.strong
    )  # fmt: skip


def fill_grid(table: FiguresTable, grid: Grid | None, tokens: Tokens | None = None) -> None:
    """Show a table of figures; its row in force on the soft ground of the theme. None empties it."""
    before, table.filled = table.filled, (grid, tokens)
    if before == table.filled:
        return
    if grid is not None and before is not None and _of_one_shape(before[0], grid) and before[1] == tokens:
        for row, texts in enumerate(grid.rows):
            for place, text in enumerate(texts):
                _put(sure(table.item(row, place)), text)
        return
    table.clear()
    table.setColumnCount(len(grid.heads) if grid else 0)
    table.setRowCount(len(grid.rows) if grid else 0)
    if grid is None:
        return
    table.setHorizontalHeaderLabels(list(grid.heads))
    for place, text in enumerate(grid.heads):
        sure(table.horizontalHeaderItem(place)).setToolTip(term_hint(text))
    head = sure(table.horizontalHeader())
    for place in range(len(grid.heads) - 1):
        head.setSectionResizeMode(place, QHeaderView.ResizeMode.ResizeToContents)
    head.setSectionResizeMode(len(grid.heads) - 1, QHeaderView.ResizeMode.Stretch)
    for row, texts in enumerate(grid.rows):
        for place, text in enumerate(texts):
            item = cell(text, bold=row == grid.strong)
            if row == grid.strong and tokens is not None:
                item.setBackground(QBrush(QColor(tokens.tether_soft)))
                item.setForeground(QBrush(QColor(tokens.on_soft)))
            table.setItem(row, place, item)
