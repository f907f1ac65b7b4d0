"""The column at the cursor: its figures, its small picture, and what can be done with it."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QGridLayout, QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from bright_tether.core.summary import ColumnSummary, summarise
from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.small_histogram import SmallHistogram
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.pictures.sure import sure
from bright_tether.study import column_changes
from bright_tether.study.changes import tether_name
from bright_tether.tables.cells import as_number
from bright_tether.tables.column import Column
from bright_tether.tables.computed import BadFormula, expression
from bright_tether.tables.formula import Draw, Expression, OfTether
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d

_KINDS = ("number", "category", "date", "text", "label")
_FIGURES = ("n", "missing", "mean", "sd", "min", "q1", "median", "q3", "max", "sum")
TEMPLATES = {
    "log to base 10": "log10({0})", "natural log": "log({0})", "square root": "sqrt({0})",
    "square": "{0}**2", "reciprocal": "1/{0}", "difference of two": "{0} - {1}", "ratio of two": "{0}/{1}",
    "rank": "rank({0})", "z, in sd from the mean": "z({0})", "the row before": "lag({0})",
    "change from the row before": "change({0})", "running total": "total({0})",
}  # fmt: skip
_DRAWS = {
    "uniform": ("evenly likely from a to b", "from a", "to b"),
    "normal": ("normal", "mean a", "sd b"),
    "whole": ("whole numbers from a to b", "from a", "to b"),
    "evenly": ("even steps from a to b, shuffled", "from a", "to b"),
    "running": ("running total of normal steps", "mean step a", "sd b"),
    "line": ("a + b·x + noise", "a", "b"),
}


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
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 0)
        for piece in (self._title, self._formula):
            column.addWidget(piece)
        column.addWidget(self.picture)
        column.addLayout(settings)
        column.addLayout(deeds)
        column.addLayout(self._grid)

    def show_column(self, column_id: str | None) -> None:
        """Show the column with this id, or nothing where it is gone."""
        table = self._session.table
        self.column_id = column_id if table.has(column_id) else None
        column = table.column(self.column_id) if self.column_id else None
        self._title.setText(f"Column {column.name}" if column else "No column at the cursor")
        self._formula.setVisible(bool(column and column.formula))
        self._formula.setText(formula_words(column, self._session) if column and column.formula else "")
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
        WorkOut(self._session, sure(self.window())).show_by(self.work_out)

    def open_draw(self) -> None:
        """Make a column at random."""
        DrawAtRandom(self._session, sure(self.window())).show_by(self.draw_one)

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
                value = getattr(summary, name)
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


def formula_words(column: Column, session: Session) -> str:
    """What a computed column is worked out from."""
    formula = column.formula
    if isinstance(formula, Expression):
        return f"worked out: {formula.text}"
    if isinstance(formula, OfTether):
        tethers = {one.id: one for one in session.study.tethers}
        if formula.tether not in tethers:
            return "kept from a line that is gone"
        named = tether_name(session.study, tethers[formula.tether])
        return f"from the line {named}: {formula.what.replace('cooks_d', 'Cook’s distance')}, live"
    if formula is None:
        return ""
    words, first, second = _DRAWS[formula.kind]
    noise = f", noise sd {d.entered(formula.c)}" if formula.kind == "line" else ""
    return (
        f"drawn at random: {words} ({first} {d.entered(formula.a)}, {second} {d.entered(formula.b)}{noise}), "
        f"seed {formula.seed}"
    )


class WorkOut(Popup):
    """A new column from an expression over others, with its first values as it is typed."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__("Work out a column", parent, 420)
        self._session = session
        self.template = QComboBox()
        self.template.setAccessibleName("Common ways")
        self.template.addItem("a common way …", None)
        for words, text in TEMPLATES.items():
            self.template.addItem(words, text)
        self.template.activated.connect(self._take_template)
        self.text, self.name = QLineEdit(), QLineEdit()
        self.text.setAccessibleName("Expression")
        self.text.setPlaceholderText('log10(stage) - 0.5; names of several words in quotes: "days out" / 7')
        self.name.setAccessibleName("Name of the new column")
        self.name.setPlaceholderText("name of the new column")
        self.said = label(kind="quiet", wrap=True, name="expression says")
        self.said.setMinimumHeight(46)
        for piece in (self.template, self.text, self.name, self.said):
            self.column.addWidget(piece)
        self.column.addWidget(button("Add the column", self.add, "main"))
        self.text.textEdited.connect(self._try)
        self.text.returnPressed.connect(self.add)
        self.setFocusProxy(self.text)

    def add(self) -> None:
        """Put the column in."""
        made = self._try()
        if made is not None:
            session, name = self._session, self.name.text().strip() or self.text.text().strip()
            session.do(column_changes.add_formula(session.history.study, session.table.id, name, made))
            self.close()

    def _take_template(self) -> None:
        text = self.template.currentData()
        if text:
            numeric = [column for column in self._session.table.columns if column.numeric]
            names = [_spelled(column) for column in numeric] or ["x"]
            self.text.setText(text.format(*names, *names))
            self.text.setFocus()
            self._try()

    def _try(self) -> Expression | None:
        session = self._session
        try:
            made = expression(self.text.text(), session.table)
        except BadFormula as bad:
            self.said.setText(str(bad))
            return None
        tried = column_changes.add_formula(session.history.study, session.table.id, "?", made).column.cells
        first = ", ".join(d.figure(value, 4) for value in tried[:5].tolist())
        lost = int(np.isnan(tried).sum())
        self.said.setText(f"{first} …  {d.count(lost, 'row')} without a value")
        return made


def _spelled(column: Column) -> str:
    return column.short if column.short.isidentifier() else f'"{column.short}"'


class DrawAtRandom(Popup):
    """A new column from a seeded draw."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__("Make a column at random", parent, 380)
        self._session = session
        self.kind, self.of_x = QComboBox(), QComboBox()
        self.kind.setAccessibleName("How to draw")
        for kind, (words, _, _) in _DRAWS.items():
            self.kind.addItem(words, kind)
        self.of_x.setAccessibleName("x of the line")
        for column in session.table.columns:
            if column.numeric:
                self.of_x.addItem(column.name, column.id)
        self.fields = {
            name: QLineEdit(start) for name, start in {"a": "0", "b": "1", "c": "1", "seed": "1"}.items()
        }
        self.column.addWidget(self.kind)
        grid = QGridLayout()
        self._labels = {}
        for at, (name, field) in enumerate(self.fields.items()):
            field.setAccessibleName(f"Draw {name}")
            self._labels[name] = label(name, "quiet")
            grid.addWidget(self._labels[name], at, 0)
            grid.addWidget(field, at, 1)
        self._labels["x"] = label("x", "quiet")
        grid.addWidget(self._labels["x"], 4, 0)
        grid.addWidget(self.of_x, 4, 1)
        self.column.addLayout(grid)
        self.name = QLineEdit()
        self.name.setPlaceholderText("name of the new column")
        self.name.setAccessibleName("Name of the random column")
        self.said = label(kind="quiet", wrap=True, name="draw says")
        self.column.addWidget(self.name)
        self.column.addWidget(self.said)
        self.column.addWidget(button("Add the column", self.add, "main", "Add the random column"))
        self.kind.currentIndexChanged.connect(self._kind_chosen)
        self._kind_chosen()

    def add(self) -> None:
        """Put the column in."""
        typed = {name: as_number(field.text()) for name, field in self.fields.items()}
        numbers = {name: number for name, number in typed.items() if number is not None}
        if len(numbers) < len(typed) or numbers["seed"] < 0 or numbers["seed"] != int(numbers["seed"]):
            self.said.setText("Give numbers, and a whole number from 0 as the seed.")
            return
        kind = self.kind.currentData()
        x = self.of_x.currentData() if kind == "line" else None
        made = Draw(kind=kind, seed=int(numbers["seed"]), a=numbers["a"], b=numbers["b"], c=numbers["c"], x=x)
        session = self._session
        name = self.name.text().strip() or "random"
        session.do(column_changes.add_formula(session.history.study, session.table.id, name, made))
        self.close()

    def _kind_chosen(self) -> None:
        kind = self.kind.currentData()
        _, first, second = _DRAWS[kind]
        self._labels["a"].setText(first)
        self._labels["b"].setText(second)
        self._labels["c"].setText("noise sd")
        for piece in (self._labels["c"], self.fields["c"], self._labels["x"], self.of_x):
            piece.setVisible(kind == "line")
        self.adjustSize()
