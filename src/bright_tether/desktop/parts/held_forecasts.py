"""Forecasts with other columns held: where they are made, typed, and their table."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QComboBox, QLineEdit, QWidget

from bright_tether.claims.held_forecast import held_forecasts_of
from bright_tether.desktop.parts.entries import named
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.grids import column_of, figures_table, fill_grid
from bright_tether.desktop.parts.widgets import label
from bright_tether.desktop.session import Session
from bright_tether.live.findings import Findings
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.tables.cells import as_number
from bright_tether.tables.clock import value_of
from bright_tether.tables.column import Column
from bright_tether.words import digits as d
from bright_tether.words.reading import names_of
from bright_tether.words.readings.held_forecast import held_forecasts_grid


class HeldForecasts(QWidget):
    """One field a column: x, and what is held; empty for the quartiles of x, the mean, the reference."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._columns: tuple[tuple[str, str, str], ...] = ()
        self._row = QWidget()
        self._flow = Flow()
        self._row.setLayout(self._flow)
        self.fields: dict[str, QLineEdit | QComboBox] = {}
        self.said = label("", "quiet", wrap=True, name="forecast with others held")
        self.table = figures_table("Forecasts with others held")
        sure(self.table.verticalHeader()).hide()
        column_of(self, self._row, self.said, self.table)

    def refresh(self) -> None:
        """Bring fields and table up to date."""
        findings = self._session.findings
        found = held_forecasts_of(findings) if findings.refusal is None else None
        self._offer(findings if found is not None else None)
        fill_grid(self.table, held_forecasts_grid(findings) if found is not None else None)
        self.table.setVisible(found is not None)

    def _offer(self, findings: Findings | None) -> None:
        """A field for each column; those that stand there stay while what is held stays."""
        columns = () if findings is None else (findings.table.column(str(findings.tether.x)), *(
            findings.table.column(one.id) for one in findings.held_cells))  # fmt: skip
        shape = tuple((one.id, one.short, one.kind) for one in columns)
        if shape != self._columns:
            self._columns = shape
            for at in reversed(range(self._flow.count())):
                sure(sure(self._flow.takeAt(at)).widget()).deleteLater()
            self.fields = {}
            for one in columns:
                self.fields[one.id] = field = self._levels(one) if not _numeric(one) else self._number(one)
                self._flow.addWidget(named(f"{one.short} at", field))
        for one in columns:
            self._show(sure(findings), one)

    def _number(self, column: Column) -> QLineEdit:
        field = QLineEdit()
        field.setFixedWidth(84)
        field.setAccessibleName(f"Forecast at {column.short}")
        field.editingFinished.connect(partial(self._typed, column, field))
        return field

    def _levels(self, column: Column) -> QComboBox:
        box = QComboBox()
        box.setAccessibleName(f"Forecast at {column.short}")
        for level in dict.fromkeys(level.strip() for level in column.texts.different if level.strip()):
            box.addItem(level, level)
        box.activated.connect(lambda _: self._keep(column.id, box.currentData()))
        return box

    def _show(self, findings: Findings, column: Column) -> None:
        field, stated = self.fields[column.id], findings.tether.held.at.get(column.id)
        if isinstance(field, QComboBox):
            at = dict(findings.held_forecast.at).get(column.short)
            field.setCurrentIndex(max(field.findData(at), 0))
        elif not field.hasFocus():
            field.setPlaceholderText("quartiles" if column.id == findings.tether.x else "mean")
            field.setText("" if stated is None or isinstance(stated, str) else self._shown(column, stated))

    def _shown(self, column: Column, value: float) -> str:
        findings = self._session.findings
        day = (
            names_of(findings.x_column, findings.y_column).day_of(value)
            if column.id == findings.tether.x
            else ""
        )
        return day or d.entered(value)

    def _typed(self, column: Column, field: QLineEdit) -> None:
        text = field.text().strip()
        clock = self._session.findings.measured(column).clock
        value = None if not text else value_of(text, clock) if clock is not None else as_number(text)
        if text and value is None:
            self.said.setText(
                f"“{text}” is no {'date' if clock is not None else 'number'}: the forecast stays."
            )
            return
        self.said.setText("")
        self._keep(column.id, value)

    def _keep(self, column: str, value: float | str | None) -> None:
        session = self._session
        kept = session.history.study.tether(session.tether.id).held.at
        after = {key: one for key, one in kept.items() if key != column}
        if value is not None:
            after[column] = value
        if after != kept:
            words = "Forecast with others held elsewhere"
            session.do(changes.change_choice(session.history.study, session.tether, "held", words, at=after))


def _numeric(column: Column) -> bool:
    return column.numeric or column.kind == "date"
