"""A file read again, before it is taken in: what is new, changed and gone, and what that does to the results."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any, NamedTuple

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QVBoxLayout, QWidget

from bright_tether.desktop.background import Work
from bright_tether.desktop.parts.grids import figures_table, fill_grid
from bright_tether.desktop.parts.questions import Questions
from bright_tether.desktop.parts.widgets import button, card, label
from bright_tether.desktop.session import IN_PLACE_ROWS, Session
from bright_tether.pictures.sure import sure
from bright_tether.study.edits import Edit
from bright_tether.study.pins import Grid
from bright_tether.study.reread import WHOLE_ROWS, Reread, reread_table
from bright_tether.study.study import Study
from bright_tether.study.told_apart import likely_labels
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table
from bright_tether.words.grids.reread import case_words, cells_words, changes_grid, results_grid
from bright_tether.words.reread import reread_sentence, unsure_question

#: Rows of the file that are offered for one that has to be told, and rows that are asked for at a time.
_MOST_OFFERED, _MOST_ASKED = 40, 20


class _Held(NamedTuple):
    """What a file comes to: the study it was held against, what would change, and both as tables.

    likely : what can tell cases apart, None where that is known.
    """

    study: Study
    taken: Reread
    changes: Grid
    results: Grid
    likely: tuple[Column, ...] | None


class RereadPage(QWidget):
    """What tells cases apart, what cannot be told, what changes, and the results before and after."""

    done = pyqtSignal(bool)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("stagePage")
        self.setAccessibleName("The file as it is now")
        self._session = session
        self._table_id = ""
        self._fresh: Table | None = None
        self._held: _Held | None = None
        self._settled: dict[int, int | None] = {}
        self._put_up: Callable[[], object] = lambda: None
        self._work = Work(self)
        self._work.done.connect(lambda held, basis: self._show(held))
        self._work.failed.connect(lambda error: session.notice(f"The file could not be compared: {error}."))
        self._title = label(kind="heading", wrap=True, name="reread title")
        self._said = label(wrap=True, name="reread says")
        self.by = QComboBox()
        self.by.setAccessibleName("Cases are told apart by")
        self.by.activated.connect(lambda _: self._again(forget=True))
        self._questions = Questions()
        self.changes = figures_table("What the file has otherwise")
        self.results = figures_table("Results before and after")
        self.results.setFixedHeight(140)
        for table in (self.changes, self.results):
            sure(table.verticalHeader()).hide()
        self.take = button("Take it in", self.accept, "main", "Take the file in as it is now")
        row = QHBoxLayout()
        row.addWidget(label("cases are told apart by", "quiet"))
        row.addWidget(self.by)
        row.addStretch()
        deeds = QHBoxLayout()
        deeds.addStretch()
        deeds.addWidget(button("Leave it as it was", self.leave, name="Leave the table as it was"))
        deeds.addWidget(self.take)
        box = QVBoxLayout()
        box.setContentsMargins(14, 10, 14, 12)
        box.addWidget(self._title)
        box.addLayout(row)
        box.addWidget(self._said)
        box.addWidget(self._questions)
        box.addWidget(self.changes, 1)
        box.addWidget(self.results)
        box.addLayout(deeds)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(card(box))

    def show_file(self, table_id: str, fresh: Table, put_up: Callable[[], object]) -> None:
        """Show what a file comes to; where nothing has changed that is said, and nothing shown."""
        self._table_id, self._fresh, self._put_up, self._settled = table_id, fresh, put_up, {}
        self._held = None
        table = self._session.history.study.table(table_id)
        self._title.setText(f"“{table.name}” as its file is now")
        self._again(first=True)

    def accept(self) -> None:
        """Take the file in as it is shown."""
        held = self._held
        if held is None or held.taken.edit is None:
            return
        self.take.setEnabled(False)

        def take(edit: Edit | None) -> None:
            if edit is None:  # the study changed since: it is held against it once more
                self._again()
                return
            self._session.tell(reread_sentence(held.taken, held.study.table(self._table_id).name))
            self.done.emit(True)

        self._session.do_made(
            lambda study: held.taken.edit if study is held.study else None,
            take,
            small=self._small(held.study),
        )

    def leave(self) -> None:
        """Leave the table as it was."""
        self._work.drop()
        self.done.emit(False)

    def _again(self, *, first: bool = False, forget: bool = False) -> None:
        fresh, study, table_id = self._fresh, self._session.history.study, self._table_id
        if fresh is None:
            return
        if not any(one.id == table_id for one in study.tables):  # undone while it stood here
            self._session.notice("The table that was read from this file is no longer there.")
            self.leave()
            return
        if forget:
            self._settled = {}
        by, settled = None if first else self.by.currentData(), dict(self._settled)
        self.take.setEnabled(False)
        table = study.table(table_id)

        def hold() -> _Held:
            taken = reread_table(study, table_id, fresh, by=by, settled=settled)
            after = taken.edit.apply(study) if taken.edit is not None else None
            tethers = [one.id for one in study.tethers if one.table == table_id]
            return _Held(
                study, taken, changes_grid(study, table_id, fresh, taken), results_grid(study, after, tethers),
                likely_labels(table, fresh) if first else None,
            )  # fmt: skip

        if self._small(study):
            self._show(hold())
            return
        words = f"The file is compared with “{table.name}” …"
        if self.isVisible():
            self._said.setText(words)
        else:
            self._session.tell(words)
        self._work.start(lambda progress: hold())

    def _small(self, study: Study) -> bool:
        rows = self._fresh.rows if self._fresh else 0
        return max(rows, study.table(self._table_id).rows) <= IN_PLACE_ROWS

    def _show(self, held: _Held) -> None:
        if held.study.memory is not self._session.history.study.memory:
            return  # another study is open by now
        taken, table = held.taken, held.study.table(self._table_id)
        self._held = held
        first = held.likely is not None
        if held.likely is not None:
            self.by.clear()
            for column in held.likely:
                self.by.addItem(column.name, column.id)
            self.by.addItem("whole rows", WHOLE_ROWS)
        if taken.edit is None and not taken.unsure and not self.isVisible():
            self._session.tell(reread_sentence(taken, table.name))
            return
        self.by.setCurrentIndex(max(self.by.findData(taken.by), 0))
        self._said.setText(reread_sentence(taken, table.name))
        self._questions.clear()
        for row in taken.unsure_rows[:_MOST_ASKED]:  # the rest when these are told
            self._ask(row, taken, table)
        self._questions.fit()
        fill_grid(self.changes, held.changes)
        fill_grid(self.results, held.results)
        self.results.setVisible(bool(held.results.rows))
        self.take.setEnabled(taken.edit is not None)
        if first:
            self._put_up()
        (self.take if taken.edit is not None else self.by).setFocus()

    def _ask(self, row: int, taken: Reread, table: Table) -> None:
        place = int(table.places([row])[0])
        fresh: Any = self._fresh
        name = case_words(table, place, taken.by)
        words = f"row {place + 1}" if name == f"row {place + 1}" else f"row {place + 1} ({name})"
        choice = QComboBox()
        choice.setAccessibleName(f"Now row {place + 1} is")
        choice.addItem("choose …", None)
        choice.addItem("gone from the file", "gone")
        for at in taken.added[:_MOST_OFFERED].tolist():
            choice.addItem(f"row {at + 1}: {cells_words(fresh, at)}", at)
        choice.setMaximumWidth(300)
        choice.activated.connect(partial(self._settle, row, choice))
        self._questions.ask(unsure_question(words, cells_words(table, place)), "row question", choice)

    def _settle(self, row: int, choice: QComboBox, *_: object) -> None:
        chosen = choice.currentData()
        if chosen is not None:
            self._settled[row] = None if chosen == "gone" else chosen
            self._again()
