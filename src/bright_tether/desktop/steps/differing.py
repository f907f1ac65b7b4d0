"""Two studies held against each other: their data, what was chosen, and what comes of it."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from bright_tether.desktop.parts.grids import figures_table, fill_grid
from bright_tether.desktop.parts.widgets import button, card, label
from bright_tether.desktop.session import Session, unreadable_file
from bright_tether.pictures.sure import sure
from bright_tether.study.package import open_study
from bright_tether.study.pins import Grid
from bright_tether.study.two_states import two_states
from bright_tether.tables.writing import printable
from bright_tether.words.grids.two_states import difference_grids, difference_sentence


class DifferingPage(QWidget):
    """The other study is the earlier one, the open one is what it has become."""

    done = pyqtSignal(bool)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("stagePage")
        self.setAccessibleName("What differs")
        self._session = session
        self._title = label(kind="heading", wrap=True, name="differing title")
        self._said = label(wrap=True, name="differing says")
        self.data = figures_table("What differs in the data")
        self.choices = figures_table("What differs in what was chosen")
        self.results = figures_table("What comes of it")
        heads = ("In the data", "In what was chosen", "What comes of it")
        tables = (self.data, self.choices, self.results)
        self._parts = [(table, label(head, "section")) for table, head in zip(tables, heads, strict=True)]
        box = QVBoxLayout()
        box.setContentsMargins(14, 10, 14, 12)
        box.addWidget(self._title)
        box.addWidget(self._said)
        for table, head in self._parts:
            sure(table.verticalHeader()).hide()
            box.addWidget(head)
            box.addWidget(table, 1)
        box.addStretch()
        deeds = QHBoxLayout()
        deeds.addStretch()
        self.leave = button("Back to the study", lambda: self.done.emit(False), "main", "Back to the study")
        deeds.addWidget(self.leave)
        box.addLayout(deeds)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(card(box))

    def show_other(self, path: Path, put_up: Callable[[], object]) -> None:
        """Read another study and hold this one against it; both stay as they are."""
        study, session = self._session.history.study, self._session

        def work() -> tuple[str, tuple[Grid, Grid, Grid]]:
            states = two_states(open_study(path), study)
            return difference_sentence(states), difference_grids(states)

        def take(found: tuple[str, tuple[Grid, Grid, Grid]] | Exception | None) -> None:
            if isinstance(found, Exception):
                session.notice(unreadable_file(found))
            elif found is not None:
                self._show(path, *found)
                put_up()
                self.leave.setFocus()

        session.off(work, take)

    def _show(self, path: Path, said: str, grids: tuple[Grid, Grid, Grid]) -> None:
        self._title.setText(f"This study against “{printable(path.name)}”")
        self._said.setText(said)
        for (table, head), grid in zip(self._parts, grids, strict=True):
            fill_grid(table, grid)
            table.setVisible(bool(grid.rows))
            head.setVisible(bool(grid.rows))
            # no taller than what it holds, so that nothing stands empty below a short one
            tall = sum(table.rowHeight(row) for row in range(table.rowCount()))
            table.setMaximumHeight(tall + sure(table.horizontalHeader()).sizeHint().height() + 6)
