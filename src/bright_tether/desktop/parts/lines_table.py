"""A table for a paper: which lines, which columns, seen as it will stand on the page."""

from __future__ import annotations

from contextlib import suppress

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QComboBox, QHBoxLayout, QWidget

from bright_tether.account.pieces import AllFindings
from bright_tether.core.results import Refusal
from bright_tether.desktop.parts.entries import choice
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.grids import figures_table, fill_grid
from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.pictures.sure import sure
from bright_tether.study.names import tether_name
from bright_tether.study.pin_changes import choose_columns, put_pin
from bright_tether.study.pins import Grid, Pin
from bright_tether.study.study import Study
from bright_tether.words.grids.lines import COLUMNS, USUAL, groups_grid_for_paper, tethers_grid


class LinesTable(Popup):
    """One line a tether, or a group of one; a table that is on the page already is changed in its place.

    done : it stands on the page, at this place.
    """

    done = pyqtSignal(int)

    def __init__(self, session: Session, pin: Pin | None, at: int, parent: QWidget) -> None:
        super().__init__("A table of lines", parent, 760)
        self._session, self._pin, self._at = session, pin, at
        study = session.history.study
        self._every = AllFindings(study)
        rows = {"": "one a tether"}
        rows |= {
            one.id: f"one a group, {tether_name(study, one)}" for one in study.tethers if one.compare.group
        }
        self.rows: QComboBox = choice("Lines of the table", rows, lambda _: self._show())
        self.rows.setMaximumWidth(420)
        self.rows.setCurrentIndex(max(self.rows.findData((pin.tether or "") if pin else ""), 0))
        self.columns: dict[str, QCheckBox] = {}
        chosen = pin.columns if pin else USUAL
        for name, (head, _) in COLUMNS.items():
            box = QCheckBox(head)
            box.setAccessibleName(f"Column {head}")
            box.setChecked(name in chosen)
            box.toggled.connect(lambda _: self._show())
            self.columns[name] = box
        top = QHBoxLayout()
        top.addWidget(label("lines", "quiet"))
        top.addWidget(self.rows)
        top.addStretch()
        self.table = figures_table("The table as it will stand")
        self.table.setFixedHeight(250)
        sure(self.table.verticalHeader()).hide()
        self.table.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._said = label("", "quiet", wrap=True, name="lines say")
        deeds = QHBoxLayout()
        deeds.addWidget(self._said, 1)
        deeds.addWidget(button("Copy or write…", self._out, name="Copy or write the table of lines"))
        self.put = button("Put it on the page" if pin is None else "Change it on the page", self.put_on_page, "main",
                          "Put the table on the page")  # fmt: skip
        deeds.addWidget(self.put)
        self.box.addLayout(top)
        self.box.addLayout(Flow(*self.columns.values(), spacing=6))
        self.box.addWidget(self.table, 1)
        self.box.addLayout(deeds)
        self._show()

    @property
    def chosen(self) -> tuple[str, ...]:
        """The columns that are wanted, in their order."""
        return tuple(name for name, box in self.columns.items() if box.isChecked())

    def _grid(self) -> Grid:
        of = self.rows.currentData()
        if of:
            return groups_grid_for_paper(self._every.of(of), self.chosen)
        return tethers_grid(self._every.every(), self.chosen)

    def _show(self) -> None:
        of_groups = bool(self.rows.currentData())
        for name in ("r-interval", "p-r"):
            self.columns[name].setEnabled(not of_groups)
        try:
            fill_grid(self.table, self._grid())
        except Refusal:
            fill_grid(self.table, None)
            self._said.setText("These lines cannot be compared as they are: see Compare.")
            self.put.setEnabled(False)
            return
        self._said.setText("intervals and p by the errors in force of each line")
        self.put.setEnabled(bool(self.chosen))

    def _out(self) -> None:
        from bright_tether.desktop.parts.table_out import TableOut

        grid, window = self._grid(), self.parentWidget()
        self.close()
        if window is not None:
            TableOut((grid,), self._session, window).show_by(window)

    def put_on_page(self) -> None:
        """Pin it, or change the pin it is."""
        study, of = self._session.history.study, self.rows.currentData() or None
        if self._pin is not None:
            self._session.do(choose_columns(study, self._pin, of, self.chosen))
        else:
            step = "compare" if of else ""
            self._session.do(put_pin(study, "lines", "Add a table of lines", tether=of, step=step, columns=self.chosen,
                                     at=self._at))  # fmt: skip
        self.done.emit(self._at)
        self.close()


def worked_out(study: Study) -> None:
    """Make all that any table of lines shows, so that showing it is free afterwards; for off the interface thread."""
    every = AllFindings(study)
    tethers_grid(every.every(), tuple(COLUMNS))
    for one in study.tethers:
        if one.compare.group:
            with suppress(Refusal):
                groups_grid_for_paper(every.of(one.id), tuple(COLUMNS))
