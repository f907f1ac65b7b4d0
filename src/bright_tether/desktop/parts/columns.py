"""The column at the cursor: its figures, its small picture, and what can be done with it."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from bright_tether.desktop.background import Work
from bright_tether.desktop.parts.small_histogram import SmallHistogram
from bright_tether.desktop.parts.widgets import button, label, put_in
from bright_tether.desktop.session import Session
from bright_tether.live.notes import Filled, Notes, notes_of
from bright_tether.pictures.sure import sure
from bright_tether.study import column_changes
from bright_tether.tables.cells import as_number
from bright_tether.tables.column import Column
from bright_tether.tables.formula import Draw
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.columns import formula_words, without_dust
from bright_tether.words.reading import there

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
        self._work = Work(self)
        self._work.done.connect(self._take)
        self._work.failed.connect(lambda error: session.notice(f"This could not be worked out: {error}."))
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
            self._work.drop()
            self.picture.draw(None, None)
            return
        self._kind.setCurrentText(column.kind)
        self._kind.setEnabled(column.formula is None)
        for field, limit in ((self._low, column.low), (self._high, column.high)):
            put_in(field, "" if limit is None else d.entered(limit))
            field.setEnabled(column.numeric)
        marked, session, column_id = self._session.mark, self._session, column.id
        memory = session.study.memory
        if session.in_place:
            self._work.drop()
            self._take(notes_of(memory, table, column_id, marked), column)
        else:
            self._work.start(lambda progress: notes_of(memory, table, column_id, marked), column)

    def _take(self, notes: Notes, column: Column) -> None:
        """Show the notes of a column, unless another one stands here by now."""
        table = self._session.table
        if self.column_id != column.id or not table.has(column.id) or table.column(column.id) is not column:
            return
        self._fill(1, column, notes.whole)
        if notes.marked is not None:
            self._fill(2, column, notes.marked)
        self._heads[2].setVisible(notes.marked is not None)
        self.picture.draw(notes.picture, notes.whole.summary)

    def open_work_out(self) -> None:
        """Work a column out from others."""
        from bright_tether.desktop.parts.work_out import WorkOut

        WorkOut(self._session, sure(self.window())).show_by(self.work_out)

    def open_draw(self) -> None:
        """Make a column at random."""
        from bright_tether.desktop.parts.draw_at_random import DrawAtRandom

        DrawAtRandom(self._session, sure(self.window())).show_by(self.draw_one)

    @property
    def _there(self) -> str | None:
        """The column's id, None where it is gone: of a long table that is told a little later."""
        return self.column_id if self._session.table.has(self.column_id) else None

    def _draw_again(self) -> None:
        if column := self._there:
            table = self._session.table.id
            self._session.do_made(lambda study: column_changes.draw_again(study, table, column))

    def delete(self) -> None:
        """Take the column out."""
        if column := self._there:
            session = self._session
            session.do(column_changes.delete_column(session.history.study, session.table.id, column))

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.picture.tokens = tokens
        self.picture.update()

    def _fill(self, place: int, column: Column, found: Filled) -> None:
        self._cells["n"][place].setText(d.grouped(found.n))
        self._cells["missing"][place].setText(d.grouped(found.missing))
        summary, digits = found.summary, self._session.findings.rules.digits
        if summary is None:
            return
        for name in _FIGURES[2:]:
            value = without_dust(getattr(summary, name), column, summary)
            as_it_is = name in ("min", "max", "sum") and value is not None
            self._cells[name][place].setText(
                d.entered(there(value)) if as_it_is else d.figure(value, digits + 1)
            )

    def _change_kind(self, kind: Any) -> None:
        if column := self._there:
            table = self._session.table.id
            self._session.do_made(lambda study: column_changes.change_kind(study, table, column, kind))

    def _change_range(self) -> None:
        if column := self._there:
            session = self._session
            low, high = as_number(self._low.text()), as_number(self._high.text())
            for field in (self._low, self._high):
                field.setModified(False)
            session.do(
                column_changes.change_range(session.history.study, session.table.id, column, low, high)
            )

    def _move(self, steps: int) -> None:
        if column := self._there:
            session = self._session
            session.do(column_changes.move_column(session.history.study, session.table.id, column, steps))
