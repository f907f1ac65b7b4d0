"""The column at the cursor: its figures, its small picture, and what can be done with it."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from bright_tether.core.summary import ColumnSummary, summarise
from bright_tether.desktop.parts.small_histogram import SmallHistogram
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.pictures.sure import sure
from bright_tether.study import column_changes
from bright_tether.tables.cells import as_number
from bright_tether.tables.column import Column
from bright_tether.tables.formula import Draw
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.columns import formula_words, without_dust

_KINDS = ("number", "category", "date", "text", "label")
_FIGURES = ("n", "missing", "mean", "sd", "min", "q1", "median", "q3", "max", "sum")


class ColumnNotes(QWidget):
    """Figures of one column, of all rows and of the marked ones."""

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self._session = session
        self.column_id: str | None = None
        self._title = label(kind="tag", name="column at the cursor")
        self._formula = label(kind="quiet", wrap=True, name="column formula")
        self.picture = SmallHistogram(tokens)
        self._grid = QGridLayout()
        self._grid.setVerticalSpacing(1)
        self._heads = (label("", "quiet"), label("all rows", "quiet"), label("marked", "quiet"))
        for place, head in enumerate(self._heads):
            self._grid.addWidget(
                head, 0, place, Qt.AlignmentFlag.AlignRight if place else Qt.AlignmentFlag.AlignLeft
            )
        self._cells: dict[str, tuple[QLabel, QLabel, QLabel]] = {}
        for at, name in enumerate(_FIGURES, 1):
            line = (label(name, "quiet"), label(kind="value", name=f"column {name}"), label(kind="quiet"))
            for place, piece in enumerate(line):
                side = Qt.AlignmentFlag.AlignRight if place else Qt.AlignmentFlag.AlignLeft
                self._grid.addWidget(piece, at, place, side)
            self._cells[name] = line
        self._kind = QComboBox()
        self._kind.addItems(_KINDS)
        self._kind.setAccessibleName("Column kind")
        self._kind.textActivated.connect(self._change_kind)
        self._low, self._high = QLineEdit(), QLineEdit()
        for field, name in ((self._low, "Lowest possible"), (self._high, "Highest possible")):
            field.setAccessibleName(name)
            field.setPlaceholderText("no limit")
            field.editingFinished.connect(self._change_range)
        settings = QGridLayout()
        for place, (words, widget) in enumerate(
            (("kind", self._kind), ("possible from", self._low), ("up to", self._high))
        ):
            settings.addWidget(label(words, "quiet"), 0, place)
            settings.addWidget(widget, 1, place)
        deeds = QHBoxLayout()
        deeds.addWidget(button("◂", lambda: self._move(-1), name="Move the column left", kind="small"))
        deeds.addWidget(button("▸", lambda: self._move(1), name="Move the column right", kind="small"))
        deeds.addWidget(button("Delete", self.delete, name="Delete the column", kind="small"))
        deeds.addStretch()
        deeds.setSpacing(4)
        self.work_out = button(
            "Work out…", self.open_work_out, kind="small", name="Work out a column from others"
        )
        self.draw_one = button("Random…", self.open_draw, kind="small", name="Make a column at random")
        deeds.addWidget(self.work_out)
        deeds.addWidget(self.draw_one)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 6, 0, 0)
        self.again = button("Draw again", self._draw_again, "small", "Draw the column at the cursor again")
        for piece in (self._title, self._formula):
            box.addWidget(piece)
        box.addWidget(self.again, 0, Qt.AlignmentFlag.AlignLeft)
        box.addWidget(self.picture)
        box.addLayout(settings)
        box.addLayout(deeds)
        box.addLayout(self._grid)

    def show_column(self, column_id: str | None) -> None:
        """Show the column with this id, or nothing where it is gone."""
        table = self._session.table
        self.column_id = column_id if table.has(column_id) else None
        column = table.column(self.column_id) if self.column_id else None
        self._title.setText(f"Column {column.name}" if column else "No column at the cursor")
        self._formula.setVisible(bool(column and column.formula))
        self._formula.setText(formula_words(column, self._session.study) if column and column.formula else "")
        self.again.setVisible(bool(column and isinstance(column.formula, Draw)))
        for line in self._cells.values():
            line[1].setText("")
            line[2].setText("")
        if column is None:
            self.picture.draw(np.zeros(0), np.zeros(0), None)
            return
        self._kind.setCurrentText(column.kind)
        self._kind.setEnabled(column.formula is None)
        for field, limit in ((self._low, column.low), (self._high, column.high)):
            field.setText("" if limit is None else d.entered(limit))
            field.setEnabled(column.numeric)
        marked = (
            np.isin(table.row_ids, list(self._session.mark))
            if self._session.mark
            else np.zeros(table.rows, bool)
        )
        summary = self._fill(1, column, np.ones(table.rows, bool))
        if marked.any():
            self._fill(2, column, marked)
        self._heads[2].setVisible(bool(marked.any()))
        numbers = column.numbers
        finite = np.isfinite(numbers)
        self.picture.draw(numbers[finite], numbers[finite & marked], summary)

    def open_work_out(self) -> None:
        """Work a column out from others."""
        from bright_tether.desktop.parts.work_out import WorkOut

        WorkOut(self._session, sure(self.window())).show_by(self.work_out)

    def open_draw(self) -> None:
        """Make a column at random."""
        from bright_tether.desktop.parts.draw_at_random import DrawAtRandom

        DrawAtRandom(self._session, sure(self.window())).show_by(self.draw_one)

    def _draw_again(self) -> None:
        if self.column_id:
            session = self._session
            session.do(column_changes.draw_again(session.history.study, session.table.id, self.column_id))

    def delete(self) -> None:
        """Take the column out."""
        if self.column_id:
            session = self._session
            session.do(column_changes.delete_column(session.history.study, session.table.id, self.column_id))

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.picture.tokens = tokens
        self.picture.update()

    def _fill(self, place: int, column: Column, rows: np.ndarray) -> ColumnSummary | None:
        if not column.numeric:
            filled = [text for text in column.cells[rows].tolist() if text]
            self._cells["n"][place].setText(d.grouped(len(filled)))
            self._cells["missing"][place].setText(d.grouped(int(rows.sum()) - len(filled)))
            return None
        values = column.cells[rows]
        finite = values[np.isfinite(values)]
        summary = summarise(finite)
        digits = self._session.findings.rules.digits
        for name in _FIGURES:
            if name == "n":
                text = d.grouped(summary.n)
            elif name == "missing":
                text = d.grouped(values.size - finite.size)
            else:
                value = without_dust(getattr(summary, name), column, summary)
                text = (
                    d.entered(value)
                    if name in ("min", "max", "sum") and value is not None
                    else d.figure(value, digits + 1)
                )
            self._cells[name][place].setText(text)
        return summary

    def _change_kind(self, kind: Any) -> None:
        if self.column_id:
            session = self._session
            session.do(
                column_changes.change_kind(session.history.study, session.table.id, self.column_id, kind)
            )

    def _change_range(self) -> None:
        if self.column_id:
            session = self._session
            low, high = as_number(self._low.text()), as_number(self._high.text())
            session.do(
                column_changes.change_range(
                    session.history.study, session.table.id, self.column_id, low, high
                )
            )

    def _move(self, steps: int) -> None:
        if self.column_id:
            session = self._session
            session.do(
                column_changes.move_column(session.history.study, session.table.id, self.column_id, steps)
            )
