"""A file before it is taken in: what was guessed of it, the effect, and every guess open to correction."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import msgspec
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QSpinBox,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from bright_tether.desktop.parts.widgets import button, card, emptied, label
from bright_tether.desktop.session import Session, is_small, unreadable_file
from bright_tether.tables.clock import ORDERS, DateOrder, canonical, first_unclear, order_told
from bright_tether.tables.column import shown
from bright_tether.tables.glance import Glance, glance
from bright_tether.tables.read_plan import WITH_SHEETS, ReadPlan, read_content
from bright_tether.tables.table import Table
from bright_tether.tables.writing import printable
from bright_tether.words import digits as d

_SEPARATORS = {",": "comma", ";": "semicolon", "\t": "tab", "|": "bar"}
_DECIMALS = {".": "point", ",": "comma"}
_THOUSANDS = {"": "none", ",": "comma", ".": "point", " ": "space", "'": "apostrophe"}
_ENCODINGS = ("utf-8", "utf-8-sig", "utf-16", "cp1252", "iso-8859-15", "cp1250", "mac-roman")
_KINDS = ("number", "category", "date", "text", "label")
_ROWS_SHOWN = 60
_MOST_READ = 400_000  # bytes of a long text that the preview looks at
_AT_ONCE = 60_000  # bytes that are read sooner than a hand would notice


class PreviewPage(QWidget):
    """Controls on the left, the table as it would be on the right."""

    done = pyqtSignal(bool)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("stagePage")
        self.setAccessibleName("Preview of the file")
        self._session = session
        self._path = Path()
        self._content, self._inner = b"", ""
        self._plan = ReadPlan()
        #: Whether a file is on show that nothing was decided of; whether one was taken in; those that wait.
        self._on_show = self._taken = False
        self._waiting: list[Path] = []
        self._turn = 0
        self._title = label(kind="heading", wrap=True, name="preview title")
        self._said = label(kind="quiet", wrap=True, name="preview says")
        self.separator = self._choice("Separator", _SEPARATORS)
        self.decimal = self._choice("Decimal mark", _DECIMALS)
        self.thousands = self._choice("Thousands mark", _THOUSANDS)
        self.encoding = self._choice("Encoding", {name: name for name in _ENCODINGS})
        self.sheet = self._choice("Sheet", {})
        self.header = QCheckBox("the first row names the columns")
        self.header.setAccessibleName("First row names the columns")
        self.header.toggled.connect(self._changed)
        self.start = QSpinBox()
        self.start.setRange(1, 10_000)
        self.start.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self.start.setAccessibleName("First row that counts")
        self.start.valueChanged.connect(self._changed)
        self.missing = QLineEdit()
        self.missing.setAccessibleName("More codes for missing")
        self.missing.setPlaceholderText("such as −999; blank, NA and – always are")
        self.missing.textEdited.connect(self._changed)
        self.table = QTableWidget()
        self.table.setAccessibleName("Preview table")
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        #: One line for each column whose dates could be two days.
        self.questions = QVBoxLayout()
        self.take = button("Take it in", self.accept, "main", "Take the file in")
        self._rows: list[tuple[QWidget, QWidget]] = []
        self._lay_out()

    def show_file(self, path: Path, put_up: Callable[[], object]) -> None:
        """Show a file once it is looked at; one that comes while another is on show waits for its turn.

        put_up : puts the page on the stage.
        """
        if self._on_show:
            self._waiting.append(path)
            self._name()
        else:
            self._taken = False
            self._look_at(path, put_up)

    def _look_at(self, path: Path, put_up: Callable[[], object]) -> None:
        self._on_show = True

        def take(found: Glance | Exception) -> None:
            if isinstance(found, Exception):
                self._session.notice(unreadable_file(found))
                self._next(put_up)
                return
            self._path, self._content, self._inner = path, found.content, found.name
            self._name()
            self._show_plan(found.plan, found.sheets)
            self._changed()
            put_up()
            self.take.setFocus()

        self._session.off(lambda: glance(path), take, small=is_small(path))

    def _name(self) -> None:
        more = f" ({d.count(len(self._waiting), 'further file')} after it)" if self._waiting else ""
        self._title.setText(f"Before “{printable(self._path.name)}” is taken in{more}")

    def accept(self) -> None:
        """Take the file in as it is shown."""
        if self.take.isEnabled():
            self.take.setEnabled(False)
            self._said.setText("Taking it in…")
            self._session.open_file(self._path, self._plan, self._end)

    def leave(self) -> None:
        """Leave the file."""
        self._next(lambda: None)

    def _end(self, read: bool) -> None:
        if read:
            self._taken = True
            self._next(lambda: None)
        else:
            self._try()

    def _next(self, put_up: Callable[[], object]) -> None:
        """Go on to the next file that waits; after the last the page is done, if it is on the stage."""
        self._on_show, self._content = False, b""
        if self._waiting:
            self._look_at(self._waiting.pop(0), put_up)
        elif self.isVisible():  # else nothing of the file was ever on the stage
            self.done.emit(self._taken)

    def hideEvent(self, event: Any) -> None:
        """Whoever walks away leaves the file, and those after it."""
        super().hideEvent(event)
        if self._on_show and not event.spontaneous():
            left, self._waiting, self._on_show = len(self._waiting), [], False
            if left:
                self._session.notice(
                    f"{d.count(left, 'further file')} not looked at: drop them again to take them in."
                )

    def keyPressEvent(self, event: Any) -> None:
        """Enter takes the file in, Escape leaves it."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.accept()
        elif event.key() == Qt.Key.Key_Escape:
            self.leave()
        else:
            super().keyPressEvent(event)

    def _choice(self, name: str, options: dict[str, str]) -> QComboBox:
        box = QComboBox()
        box.setAccessibleName(name)
        for value, words in options.items():
            box.addItem(words, value)
        box.activated.connect(self._changed)
        return box

    def _lay_out(self) -> None:
        grid = QGridLayout()
        for at, (words, widget) in enumerate((
            ("cells parted by", self.separator), ("decimal mark", self.decimal),
            ("thousands mark", self.thousands), ("encoding", self.encoding), ("starts at row", self.start),
            ("also missing", self.missing), ("sheet or table", self.sheet),
        )):  # fmt: skip
            name = label(words, "quiet")
            grid.addWidget(name, at // 2, at % 2 * 2)
            grid.addWidget(widget, at // 2, at % 2 * 2 + 1)
            self._rows.append((name, widget))
        grid.setColumnStretch(1, 1)
        grid.setColumnStretch(3, 1)
        deeds = QHBoxLayout()
        deeds.addWidget(self.header)
        deeds.addStretch()
        deeds.addWidget(button("Leave it", self.leave, name="Leave the file"))
        deeds.addWidget(self.take)
        box = QVBoxLayout()
        box.setContentsMargins(14, 10, 14, 12)
        box.addWidget(self._title)
        box.addLayout(grid)
        box.addWidget(self._said)
        box.addLayout(self.questions)
        box.addWidget(self.table, 1)
        box.addLayout(deeds)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(card(box))

    def _show_plan(self, plan: ReadPlan, sheets: list[str]) -> None:
        self._plan = plan
        self.sheet.clear()
        for sheet in sheets:
            self.sheet.addItem(sheet, sheet)
        for widget, value in ((self.separator, plan.separator), (self.decimal, plan.decimal),
                              (self.thousands, plan.thousands), (self.encoding, plan.encoding),
                              (self.sheet, plan.sheet)):  # fmt: skip
            widget.setCurrentIndex(max(widget.findData(value), 0))
        for entry in (self.header, self.start, self.missing):
            entry.blockSignals(True)
        self.header.setChecked(plan.header)
        self.start.setValue(plan.start)
        self.missing.setText("")
        for entry in (self.header, self.start, self.missing):
            entry.blockSignals(False)
        text, in_sheet = plan.kind == "text", plan.kind == "sheet"
        several = plan.kind in WITH_SHEETS
        wanted: dict[QWidget, bool] = {field: text or in_sheet for _, field in self._rows}
        wanted |= {self.sheet: several, self.separator: text, self.encoding: text}
        for name, field in self._rows:
            name.setVisible(wanted[field])
            field.setVisible(wanted[field])
        self.header.setVisible(text or in_sheet)

    def _changed(self, *_: object) -> None:
        missing = tuple(
            part.strip() for part in self.missing.text().replace(";", ",").split(",") if part.strip()
        )
        missing += tuple(code.replace("−", "-") for code in missing if "−" in code)
        self._plan = msgspec.structs.replace(
            self._plan,
            separator=self.separator.currentData(), decimal=self.decimal.currentData(),
            thousands=self.thousands.currentData(), encoding=self.encoding.currentData(),
            sheet=self.sheet.currentData() or "", header=self.header.isChecked(),
            start=self.start.value(), missing=missing,
        )  # fmt: skip
        self._try()

    def _try(self) -> None:
        content = self._content
        cut = self._plan.kind == "text" and len(content) > _MOST_READ
        if cut:
            content = content[: content.rfind(b"\n", 0, _MOST_READ)]
        self._turn += 1
        turn, name, plan = self._turn, self._inner, self._plan
        self.take.setEnabled(False)

        def take(found: Table | Exception) -> None:
            if turn == self._turn:
                self._show_table(found, cut)

        self._session.off(
            lambda: read_content(content, name, "t0", plan), take, small=len(content) <= _AT_ONCE
        )

    def _show_table(self, table: Table | Exception, cut: bool) -> None:
        if isinstance(table, Exception):
            said = (
                "This encoding is not known here."
                if isinstance(table, LookupError)
                else unreadable_file(table)
            )
            self._said.setText(said)
            self.take.setEnabled(False)
            self.table.setRowCount(0)
            return
        asked = self._ask_dates(table)
        self.take.setEnabled(not asked)
        size = f"the first {d.grouped(table.rows)} rows" if cut else d.count(table.rows, "row")
        strays = sum(len(column.strays) for column in table.columns)
        more = (
            f"; {d.count(strays, 'cell')} of number columns hold text and will count as missing"
            if strays
            else ""
        )
        question = f" Say first how the dates of {asked} are written." if asked else ""
        self._said.setText(f"{size}, {d.count(len(table.columns), 'column')}{more}.{question}")
        self._fill(table)

    def _ask_dates(self, table: Table) -> str:
        """Put the question for each column whose dates have two readings; the first column not answered, else ""."""
        emptied(self.questions)
        open_ones = []
        for column in table.columns:
            answered = self._plan.dates.get(column.name)
            if column.kind == "number" or self._plan.kinds.get(column.name, "date") != "date":
                continue
            filled = [text for text in column.texts.different if text]
            if answered is None and order_told(filled) != "ask":
                continue
            if answered is None:
                open_ones.append(column.short)
            first = first_unclear(filled) or filled[0]
            row = QHBoxLayout()
            row.addWidget(
                label(self._date_words(column.short, first, answered), wrap=True, name="date question"), 1
            )
            for order in ORDERS:
                kept = canonical(first, order)
                words = order.capitalize() if answered else f"{order.capitalize()}: {kept}"
                choose = button(words, lambda *_, n=column.name, o=order: self._date_said(n, o), "small",
                                f"{column.short}: {order}")  # fmt: skip
                choose.setCheckable(True)
                choose.setChecked(order == answered)
                row.addWidget(choose)
            leave = button("Leave as text", lambda *_, n=column.name: self._kind_chosen(n, "text"), "small",
                           f"{column.short}: leave as text")  # fmt: skip
            row.addWidget(leave)
            self.questions.addLayout(row)
        return open_ones[0] if open_ones else ""

    @staticmethod
    def _date_words(name: str, first: str, answered: DateOrder | None) -> str:
        if answered:
            return f"The dates of {name} are read {answered}: the first is {first}."
        return f"“{first}” in {name} can be two different days, and no other row tells which."

    def _date_said(self, name: str, order: DateOrder) -> None:
        self._plan = msgspec.structs.replace(self._plan, dates=self._plan.dates | {name: order})
        self._try()

    def _fill(self, table: Table) -> None:
        self.table.setColumnCount(len(table.columns))
        self.table.setRowCount(1 + min(table.rows, _ROWS_SHOWN))
        self.table.setHorizontalHeaderLabels([column.name for column in table.columns])
        self.table.setVerticalHeaderLabels(
            ["kind", *(str(at + 1) for at in range(min(table.rows, _ROWS_SHOWN)))]
        )
        for place, column in enumerate(table.columns):
            kinds = QComboBox()
            kinds.addItems(_KINDS)
            kinds.setCurrentText(column.kind)
            kinds.setAccessibleName(f"Kind of {column.name}")
            kinds.textActivated.connect(lambda kind, name=column.name: self._kind_chosen(name, kind))
            self.table.setCellWidget(0, place, kinds)
            for at in range(min(table.rows, _ROWS_SHOWN)):
                item = QTableWidgetItem(shown(column.cell(at, at)))
                if column.numeric and at not in column.strays:
                    item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.table.setItem(at + 1, place, item)
        self.table.resizeColumnsToContents()
        for place in range(len(table.columns)):
            self.table.setColumnWidth(place, max(self.table.columnWidth(place) + 10, 112))

    def _kind_chosen(self, name: str, kind: str) -> None:
        self._plan = msgspec.structs.replace(self._plan, kinds=self._plan.kinds | {name: kind})
        self._try()
