"""A new column worked out from others."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QComboBox, QLineEdit, QWidget

from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.study import column_changes
from bright_tether.tables.clock import usual_clock
from bright_tether.tables.column import Column
from bright_tether.tables.computed import BadFormula, expression
from bright_tether.tables.formula import Expression
from bright_tether.words import digits as d

TEMPLATES = {
    "log to base 10": "log10({0})", "natural log": "log({0})", "square root": "sqrt({0})",
    "square": "{0}**2", "reciprocal": "1/{0}", "difference of two": "{0} - {1}", "ratio of two": "{0}/{1}",
    "rank": "rank({0})", "z, in sd from the mean": "z({0})", "the row before": "lag({0})",
    "change from the row before": "change({0})", "running total": "total({0})",
}  # fmt: skip
#: What can be done where a column holds dates.
DATE_TEMPLATES = {
    "the value one hour before": 'earlier({0}, {date}, "1 hour", "5 minutes")',
    "change from a day before": '{0} - earlier({0}, {date}, "1 day")',
    "days since a day": 'days_since({date}, "{first}")', "month of a date": "month({date})",
    "day of the week, Monday is 1": "weekday({date})", "hour of the day": "hour({date})",
}  # fmt: skip


class WorkOut(Popup):
    """A new column from an expression over others, with its first values as it is typed."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__("Work out a column", parent, 420)
        self._session = session
        self.template = QComboBox()
        self.template.setAccessibleName("Common ways")
        self.template.addItem("a common way …", None)
        dated = any(column.kind == "date" for column in session.table.columns)
        for words, text in (TEMPLATES | (DATE_TEMPLATES if dated else {})).items():
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
            self.box.addWidget(piece)
        self.box.addWidget(button("Add the column", self.add, "main"))
        self.text.textEdited.connect(self._try)
        self.text.returnPressed.connect(self.add)
        self.setFocusProxy(self.text)

    def add(self) -> None:
        """Put the column in."""
        formula = self._read()
        if formula is not None:
            table, name = self._session.table.id, self.name.text().strip() or self.text.text().strip()
            self._session.do_made(lambda study: column_changes.add_formula(study, table, name, formula))
            self.close()

    def _take_template(self) -> None:
        text = self.template.currentData()
        if text:
            numeric = [column for column in self._session.table.columns if column.numeric]
            names = [_spelled(column) for column in numeric] or ["x"]
            dates = [column for column in self._session.table.columns if column.kind == "date"]
            found = {"date": _spelled(dates[0]), "first": _first_day(dates[0])} if dates else {}
            self.text.setText(text.format(*names, *names, **found))
            self.text.setFocus()
            self._try()

    def _read(self) -> Expression | None:
        """What is typed, None where it is no expression; what is wrong with it is said."""
        try:
            return expression(self.text.text(), self._session.table)
        except BadFormula as bad:
            self.said.setText(str(bad))
            return None

    def _try(self) -> None:
        session, formula = self._session, self._read()
        if formula is None:
            session.trials.drop()
            return
        study, table = session.history.study, session.table.id

        def make() -> str:
            tried = column_changes.add_formula(study, table, "?", formula).column.cells
            first = ", ".join(d.figure(value, 4) for value in tried[:5].tolist())
            return f"{first} …  {d.count(int(np.isnan(tried).sum()), 'row')} without a value"

        session.try_out(make, self.said.setText, self)


def _first_day(column: Column) -> str:
    clock = usual_clock(column.along)
    return clock.since if clock else "2021-01-01"


def _spelled(column: Column) -> str:
    return column.short if column.short.isidentifier() else f'"{column.short}"'
