"""Which further columns are held, against which level, and the slopes that come of it."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QComboBox, QMenu, QWidget

from bright_tether.claims.held import held_of
from bright_tether.desktop.parts.entries import choice
from bright_tether.desktop.parts.flow import choice_of
from bright_tether.desktop.parts.grids import column_of, figures_table, fill_grid
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.live.findings import Findings
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.tables.column import Column
from bright_tether.words.grids.held import held_grid
from bright_tether.words.said import listed

#: The pictures that can stand below.
PICTURES = ("What is left", "What was not measured", "Slope along", "Forecasts")


class HeldColumns(QWidget):
    """Tick what is held; a category says which of its levels the others are held against."""

    picture_chosen = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.hold = button("Hold columns…", lambda: None, "small", "Columns held")
        self.hold.setMenu(QMenu(self.hold))
        sure(self.hold.menu()).aboutToShow.connect(self._offer)
        self._against: list[QComboBox] = []
        self._choices = QWidget()
        #: Which picture stands below: what is left of both, or what was not measured.
        self.shown = QButtonGroup(self)
        self._row = choice_of(PICTURES, self.shown, self.picture_chosen.emit, "Draw")
        self._row.addWidget(self.hold)
        self.along = choice("The slope differs along", {"": "one slope for all"}, self._let_differ)
        self.along.setMaximumWidth(300)
        self.along.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self._row.addWidget(self.along)
        self._choices.setLayout(self._row)
        self.said = label("", "quiet", wrap=True, name="what is held")
        self.table = figures_table("Slopes held")
        sure(self.table.verticalHeader()).hide()
        column_of(self, self._choices, self.said, self.table)

    def refresh(self) -> None:
        """Bring choices and table up to date."""
        findings = self._session.findings
        held = [findings.table.column(one) for one in findings.tether.held.columns if findings.table.has(one)]
        self.hold.setText(f"Held: {listed(one.short for one in held)}…" if held else "Hold columns…")
        self._show_references(findings, held)
        self._show_along(findings, held)
        grid = held_grid(findings) if findings.refusal is None else None
        fill_grid(self.table, grid)
        self.table.setVisible(grid is not None)
        self.table.setFixedHeight(min(30 * self.table.rowCount() + 42, 190))
        self.said.setVisible(grid is None)
        self.said.setText("" if grid is not None else self._words(findings))

    def _show_along(self, findings: Findings, held: list[Column]) -> None:
        """What is held, as columns along which the slope may differ."""
        self.along.blockSignals(True)
        self.along.clear()
        self.along.addItem("one slope for all", "")
        for column in held:
            self.along.addItem(f"differs along {column.short}", column.id)
        self.along.setCurrentIndex(max(self.along.findData(findings.tether.held.along), 0))
        self.along.setVisible(bool(held))
        self.along.blockSignals(False)

    def _let_differ(self, column: str) -> None:
        session = self._session
        words = "Let the slope differ along a column" if column else "One slope for all"
        session.do(changes.change_choice(session.history.study, session.tether, "held", words, along=column))

    def _words(self, findings: Findings) -> str:
        from bright_tether.words.readings.held import held_reading

        return str(held_reading(findings).headline)

    def _offer(self) -> None:
        """Every column that can be held, those held ticked."""
        findings, menu = self._session.findings, sure(self.hold.menu())
        menu.clear()
        chosen = findings.tether.held.columns
        for column in findings.table.columns:
            if column.id in (findings.tether.x, findings.tether.y) or column.kind in ("label", "text"):
                continue
            action = sure(menu.addAction(column.name.replace("&", "&&")))
            action.setCheckable(True)
            action.setChecked(column.id in chosen)
            action.toggled.connect(partial(self._toggle, column.id))

    def _toggle(self, column: str, on: bool) -> None:
        session = self._session
        chosen = session.history.study.tether(session.tether.id).held.columns
        after = (*chosen, column) if on else tuple(one for one in chosen if one != column)
        name = session.findings.table.column(column).short
        words = f"Hold {name}" if on else f"Hold {name} no longer"
        session.do(changes.change_choice(session.history.study, session.tether, "held", words, columns=after))

    def _show_references(self, findings: Findings, held: list[Column]) -> None:
        """One field a category: the level that the others are held against."""
        for box in self._against:
            self._row.removeWidget(box)
            box.deleteLater()
        self._against = []
        line = held_of(findings) if findings.refusal is None else None
        for column in held if line is not None else ():
            terms = [one for one in sure(line).terms if one.name == column.name and one.level]
            if not terms:
                continue
            box = QComboBox()
            box.setAccessibleName(f"{column.short} is held against")
            for level in (terms[0].reference, *(one.level for one in terms)):
                box.addItem(f"{column.short} against {level}", level)
            box.activated.connect(partial(self._refer, column.id, box))
            self._row.addWidget(box)
            self._against.append(box)

    def _refer(self, column: str, box: QComboBox, _: int = 0) -> None:
        session = self._session
        kept = session.history.study.tether(session.tether.id).held.reference
        after = kept | {column: box.currentData()}
        words = f"Hold against {box.currentData()}"
        session.do(
            changes.change_choice(session.history.study, session.tether, "held", words, reference=after)
        )
