"""How the line is fitted and judged: one panel, every entry live."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QCheckBox, QComboBox, QGridLayout, QLineEdit, QWidget

from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.study import changes, column_changes
from bright_tether.study.edits import Edit, PutColumn
from bright_tether.tables.cells import as_number
from bright_tether.tables.column import shown
from bright_tether.tables.formula import RowFigure

_NUMBERS = {
    "slope_0": ("Test the slope against", 0.0),
    "intercept_0": ("Test the intercept against", 0.0),
    "matters": ("Smallest slope that matters", None),
    "error_ratio": ("Error variance of y over that of x", 1.0),
}
_COLUMNS = {
    "weights": ("Weights of the rows", True),
    "order": ("Order of the rows", False),
    "cluster": ("Rows of one case share", False),
}


_FIGURES: dict[RowFigure, str] = {
    "residual": "residuals",
    "fitted": "fitted values",
    "leverage": "leverage",
    "standardised": "standardised",
    "studentised": "studentised",
    "cooks_d": "Cook’s distance",
}


class LineSettings(Popup):
    """Weights, origin, order, cases, what is tested against, what matters, order of terms."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__("How this line is fitted and judged", parent, 400)
        self._session = session
        grid, chosen = QGridLayout(), session.tether.line
        for name, (words, numbers) in _COLUMNS.items():
            field = QComboBox()
            field.setAccessibleName(words)
            field.addItem("nothing" if name != "order" else "as in the table", None)
            for column in session.table.columns:
                if column.numeric or not numbers:
                    field.addItem(column.short, column.id)
            field.setCurrentIndex(max(field.findData(getattr(chosen, name)), 0))
            field.activated.connect(lambda _, n=name, f=field: self._put(n, f.currentData()))
            self._line(grid, words, field)
        for name, (words, _) in _NUMBERS.items():
            value = getattr(chosen, name)
            typed = QLineEdit("" if value is None else shown(value))
            typed.setAccessibleName(words)
            typed.editingFinished.connect(lambda n=name, f=typed: self._number(n, f.text()))
            self._line(grid, words, typed)
        self.box.addLayout(grid)
        for name, words in (("origin", "Through the origin"), ("slope_first", "Slope first in the equation")):
            box = QCheckBox(words)
            box.setAccessibleName(words)
            box.setChecked(getattr(chosen, name))
            box.toggled.connect(lambda on, n=name: self._put(n, on))
            self.box.addWidget(box)
        self.box.addWidget(label("Keep as live columns of the table", "section"))
        kept = Flow(spacing=4)
        for what, words in _FIGURES.items():
            kept.addWidget(button(words, partial(self._keep, what), "small", f"Keep {words} as a column"))
        self.box.addLayout(kept)
        self.said = label("", "quiet", wrap=True, name="settings note")
        self.box.addWidget(self.said)

    @staticmethod
    def _line(grid: QGridLayout, words: str, field: QWidget) -> None:
        row = grid.rowCount()
        grid.addWidget(label(words), row, 0)
        grid.addWidget(field, row, 1)

    def _keep(self, what: RowFigure) -> None:
        session = self._session
        if session.findings.refusal is not None:
            self.said.setText("There is no line yet.")
            return
        tether = session.tether.id

        def say(edit: Edit | None) -> None:
            if isinstance(edit, PutColumn):
                self.said.setText(f"The table has a new column, {edit.column.name}, that follows the line.")

        session.do_made(lambda study: column_changes.keep_figure(study, study.tether(tether), what), say)

    def _number(self, name: str, text: str) -> None:
        value = as_number(text) if text.strip() else _NUMBERS[name][1]
        if text.strip() and value is None:
            self.said.setText("Type a number; until then the last one stays in force.")
            return
        if name in ("matters", "error_ratio") and value is not None and value <= 0:
            self.said.setText("This one must be above 0.")
            return
        self.said.setText("")
        self._put(name, value)

    def _put(self, name: str, value: object) -> None:
        session, chosen = self._session, self._session.tether.line
        more: dict[str, object] = {}
        if name == "origin" and value and chosen.weights:
            more["weights"] = None
        if name == "weights" and value and chosen.origin:
            more["origin"] = False
        if name == "cluster" and value is None and chosen.errors == "clustered":
            more["errors"] = "classical"
        words = _COLUMNS.get(name, _NUMBERS.get(name, (name.replace("_", " "),)))[0]
        session.do(
            changes.change_choice(
                session.history.study,
                session.tether,
                "line",
                f"The line: {words.lower()}",
                **{name: value},
                **more,
            )
        )
