"""The row filter, built by pointing and read as a sentence."""

from __future__ import annotations

from functools import partial

import msgspec
import numpy as np
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button, emptied, label
from bright_tether.desktop.session import Session
from bright_tether.study import changes
from bright_tether.tables.cells import as_number
from bright_tether.tables.clock import period
from bright_tether.tables.column import Column, Kind, shown
from bright_tether.tables.filters import Condition
from bright_tether.words import digits as d
from bright_tether.words.readings.rows import in_play
from bright_tether.words.slips import condition_sentence

_RELATIONS = {
    "number": ("between", "from", "until", "is", "is not"),
    "date": ("between", "from", "until", "is", "has"),
    "category": ("is", "is not", "has"),
    "text": ("has", "is", "is not"),
    "label": ("is", "is not", "has"),
}
_WORDS = {
    "between": "from … to …", "from": "at least", "until": "at most", "is": "is", "is not": "is not",
    "has": "has the text",
}  # fmt: skip
_MOST_LISTED = 200


class FilterPanel(Popup):
    """The conditions of a tether's filter, and the next one."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__("Which rows to look at", parent, 420)
        self._session = session
        self._told: list[tuple[str, str, Kind]] = []
        self._held = QWidget()
        self._list = QVBoxLayout(self._held)
        self._list.setContentsMargins(0, 0, 0, 0)
        self.box.addWidget(self._held)
        self._columns, self._relations = QComboBox(), QComboBox()
        self._columns.setAccessibleName("Filter column")
        self._relations.setAccessibleName("Filter relation")
        self._first, self._second = QLineEdit(), QLineEdit()
        self._first.setAccessibleName("Filter value")
        self._second.setAccessibleName("Filter second value")
        self._choices = QListWidget()
        self._choices.setAccessibleName("Filter choices")
        self._choices.setSelectionMode(QListWidget.SelectionMode.MultiSelection)
        self._choices.setMaximumHeight(130)
        self._first.textEdited.connect(self._narrow)
        row = QHBoxLayout()
        row.addWidget(self._columns, 2)
        row.addWidget(self._relations, 1)
        self.box.addLayout(row)
        values = QHBoxLayout()
        values.addWidget(self._first)
        values.addWidget(self._second)
        self.box.addLayout(values)
        self.box.addWidget(self._choices)
        self._said = label(kind="quiet", wrap=True, name="filter says")
        self._said.setMinimumHeight(32)
        self.box.addWidget(self._said)
        self.box.addWidget(button("Add this condition", self.add, "main"))
        self._columns.currentIndexChanged.connect(self._column_chosen)
        self._relations.currentIndexChanged.connect(self._relation_chosen)
        session.study_changed.connect(self._refresh)
        session.findings_changed.connect(self._show_conditions)
        self._refresh()
        self._show_conditions()

    def _refresh(self) -> None:
        """The columns there are, the chosen one still chosen; they may go or change while this is open."""
        chosen, columns = self._columns.currentData(), self._session.table.columns
        offered = [(column.name, column.id, column.kind) for column in columns]
        if offered != self._told:
            self._told = offered
            self._columns.blockSignals(True)
            self._columns.clear()
            for name, column_id, _ in offered:
                self._columns.addItem(name, column_id)
            self._columns.setCurrentIndex(max(self._columns.findData(chosen), 0))
            self._columns.blockSignals(False)
            self._column_chosen()

    def add(self) -> None:
        """Put the condition to the others."""
        condition = self._condition()
        if condition is None:
            self._said.setText(
                "Choose one or more of the list."
                if self._listed()
                else "Give the value to compare with: a number for a number column, a date as 2021-03-04."
            )
            return
        session = self._session
        wanted = (*session.tether.conditions, condition)
        session.do(changes.filter_rows(session.history.study, session.tether, wanted))
        self._show_conditions()

    def _condition(self) -> Condition | None:
        column, relation = self._column(), self._relations.currentData()
        if self._listed():
            typed = self._first.text().strip()
            texts = self._chosen() or ((typed,) if typed and (column.texts == typed).any() else ())
        else:
            fields = (self._first, self._second) if relation == "between" else (self._first,)
            texts = tuple(text for one in fields if (text := one.text().strip()))
        condition = Condition(column=column.id, relation=relation, texts=texts)
        if not column.numeric:
            timed = column.kind == "date" and relation in ("between", "from", "until")
            return (
                condition
                if texts and not (timed and np.isnan([period(text) for text in texts]).any())
                else None
            )
        numbers = [number for number in map(as_number, texts) if number is not None]
        if not numbers or len(numbers) < len(texts) or (relation == "between" and len(numbers) < 2):
            return None
        if relation in ("is", "is not"):
            return msgspec.structs.replace(condition, texts=tuple(shown(number) for number in numbers))
        low, high = (min(numbers), max(numbers)) if relation == "between" else (numbers[0], numbers[0])
        return Condition(
            column=column.id,
            relation=relation,
            low=low if relation != "until" else None,
            high=high if relation != "from" else None,
        )

    def _listed(self) -> bool:
        """Whether the texts of the column are listed, to be chosen from."""
        return not self._column().numeric and self._relations.currentData() in ("is", "is not")

    def _chosen(self) -> tuple[str, ...]:
        return tuple(item.text() for item in self._choices.selectedItems())

    def _column(self) -> Column:
        return self._session.table.column(self._columns.currentData())

    def _column_chosen(self) -> None:
        self._relations.clear()
        for relation in _RELATIONS[self._column().kind]:
            self._relations.addItem(_WORDS[relation], relation)

    def _relation_chosen(self) -> None:
        listed, relation = self._listed(), self._relations.currentData()
        self._choices.clear()
        self._first.clear()
        self._second.clear()
        self._choices.setVisible(listed)
        self._first.setVisible(not listed)
        self._first.setPlaceholderText("")
        self._second.setVisible(relation == "between")
        if listed:
            self._list_texts("")
        self.adjustSize()

    def _narrow(self, part: str) -> None:
        if self._listed():
            self._list_texts(part.strip())

    def _list_texts(self, part: str) -> None:
        """List the texts of the column in which this stands, below those that are chosen already."""
        column = self._column()

        def take(found: tuple[list[str], int]) -> None:
            if self._column() is not column or not self._listed():
                return
            texts, every = found
            chosen = self._chosen()
            self._choices.clear()
            for text in dict.fromkeys((*chosen, *texts)):
                self._choices.addItem(item := QListWidgetItem(text))
                item.setSelected(text in chosen)
            self._first.setVisible(every > _MOST_LISTED)
            self._first.setPlaceholderText(f"part of it, to find it among {d.grouped(every)}")

        self._session.try_out(lambda: column.texts.holding(part, _MOST_LISTED), take, self)

    def _show_conditions(self) -> None:
        emptied(self._list)
        session = self._session
        for at, condition in enumerate(session.tether.conditions):
            row = QHBoxLayout()
            sentence = condition_sentence(condition, session.table)
            row.addWidget(label(f"only where {sentence}", wrap=True), 1)
            row.addWidget(button("Drop", partial(self._drop, at), "link", f"Drop: {sentence}"))
            self._list.addLayout(row)
        findings = session.findings
        self._said.setText(in_play(findings.counted) + " in play" if findings.cloud is not None else "")
        self.adjustSize()

    def _drop(self, at: int) -> None:
        session = self._session
        kept = session.tether.conditions[:at] + session.tether.conditions[at + 1 :]
        session.do(changes.filter_rows(session.history.study, session.tether, kept))
        self._show_conditions()
