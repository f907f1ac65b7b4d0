"""The step Gather: the table, and the two axes it is tied to."""

from __future__ import annotations

from PyQt6.QtCore import QItemSelectionModel, QPoint, Qt
from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QSplitter,
    QVBoxLayout,
)

from bright_tether.desktop.grid import Grid
from bright_tether.desktop.parts.columns import ColumnNotes
from bright_tether.desktop.parts.slips import SlipList
from bright_tether.desktop.parts.table_strip import TableStrip
from bright_tether.desktop.parts.ways_in import WaysIn
from bright_tether.desktop.parts.widgets import Pressable, button, card, label, put_in, restyled
from bright_tether.desktop.session import Session
from bright_tether.desktop.steps.points import connect_points
from bright_tether.desktop.steps.stage import Stage
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.pictures.sure import sure
from bright_tether.study import axes, changes
from bright_tether.tables.clock import SECONDS, Clock
from bright_tether.theme.tokens import Tokens


class AxisSlot(Pressable):
    """Where a column head is let go to tie the column to an axis; a click chooses from a list."""

    def __init__(self, axis: str, session: Session) -> None:
        super().__init__("slot", f"{axis} axis")
        self.axis = axis
        self._session = session
        self.clicked.connect(lambda: self.choose())
        self._name = label(kind="strong", wrap=True, name=f"{axis} column")
        box = QVBoxLayout(self)
        box.setContentsMargins(12, 7, 12, 7)
        box.setSpacing(1)
        box.addWidget(label({"x": "x explains", "y": "y responds"}[axis], "quiet"))
        box.addWidget(self._name)

    def show_choice(self) -> None:
        """Name the tied column."""
        table, tether = self._session.table, self._session.tether
        chosen = getattr(tether, self.axis)
        text = table.column(chosen).name if table.has(chosen) else "drag a column head here"
        findings = self._session.findings
        if self.axis == "x" and findings.tied and findings.clock:
            text += f", in {findings.clock.unit} since {findings.clock.since}"
        self._name.setText(text)
        self.setAccessibleDescription(text)

    def tie(self, column_id: str | None) -> None:
        """Tie a column here; the other axis takes this one's where it held the same."""
        tether = self._session.tether
        chosen = {"x": tether.x, "y": tether.y}
        other = "y" if self.axis == "x" else "x"
        if column_id is not None and chosen[other] == column_id:
            chosen[other] = chosen[self.axis]
        chosen[self.axis] = column_id
        self._session.tie(axes.choose_axes(self._session.history.study, tether, **chosen))

    def choose(self) -> None:
        """A list of the number columns."""
        menu = QMenu(self)
        table = self._session.table
        for column in table.columns:
            if column.numeric or column.kind == "date":
                sure(menu.addAction(column.name)).triggered.connect(lambda _, c=column.id: self.tie(c))
        clock = self._session.findings.clock if self.axis == "x" and self._session.findings.tied else None
        if clock is not None:
            menu.addSeparator()
            for unit in SECONDS:
                deed = sure(menu.addAction(f"in {unit} since {clock.since}"))
                deed.setCheckable(True)
                deed.setChecked(unit == clock.unit)
                deed.triggered.connect(lambda _, u=unit, c=clock: self._measure(Clock(u, c.since)))
        menu.popup(self.mapToGlobal(QPoint(0, self.height())))

    def _measure(self, clock: Clock) -> None:
        session = self._session
        session.tie(axes.measure_by(session.history.study, session.tether, clock))


class GatherStep(Stage):
    """Axes above, table below."""

    step_id = "gather"

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__(session)
        self.slots = {axis: AxisSlot(axis, session) for axis in ("x", "y")}
        self.picture = ScatterPicture(tokens, font, "Pairs picture")
        self.picture.restyle(tokens)
        connect_points(self.picture, session)
        self.grid = Grid(session, tokens)
        self.grid.head_let_go.connect(self._head_let_go)
        self.grid.head_carried.connect(self._head_carried)
        #: The empty table whose first cell was made ready.
        self._ready_in = ""
        self.slips = SlipList(session)
        self.notes = self.extra = ColumnNotes(session, tokens)
        sure(self.grid.selectionModel()).currentChanged.connect(lambda *_: self._show_notes())
        self.one_row = QLineEdit()
        self.one_row.setAccessibleName("What one row is")
        self.one_row.setPlaceholderText("what one row is: one bottle …")
        self.one_row.editingFinished.connect(self._say_one_row)
        ties = QGridLayout()
        ties.addWidget(label("What goes with what", "heading"), 0, 0)
        ties.addWidget(self.slots["y"], 1, 0)
        row = QHBoxLayout()
        row.addWidget(button("Swap x and y", self.swap))
        self.sums = button("Sums…", self.show_sums, "small", "Sums of x and y")
        row.addWidget(self.sums)
        row.addStretch()
        ties.addLayout(row, 2, 0)
        ties.addWidget(self.slots["x"], 3, 0)
        ties.addWidget(self.one_row, 4, 0)
        ties.setRowStretch(5, 1)
        top = QHBoxLayout()
        top.setContentsMargins(14, 10, 10, 8)
        top.addLayout(ties, 2)
        top.addWidget(self.picture, 3)
        self.ways = WaysIn(session)
        top.addWidget(self.ways, 3)
        below = QVBoxLayout()
        below.setContentsMargins(10, 10, 10, 10)
        self.strip = TableStrip(session, self.grid)
        below.setSpacing(6)
        below.addWidget(self.strip)
        below.addWidget(self.slips)
        below.addWidget(self.grid)
        split = QSplitter(Qt.Orientation.Vertical)
        split.setChildrenCollapsible(False)
        split.addWidget(card(top))
        split.addWidget(card(below))
        split.setSizes([250, 410])
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(split)

    def show_findings(self) -> None:
        """Bring slots and picture up to date; the grid follows the study by itself."""
        for slot in self.slots.values():
            slot.show_choice()
        empty = not self._session.table.rows
        self.ways.setVisible(empty)
        self.picture.setVisible(not empty)
        if empty and self._ready_in != self._session.table.id:
            self.grid.setFocus()  # what is typed or pasted now has its place
        self._ready_in = self._session.table.id if empty else ""
        if empty:
            self.ways.show_ways()
            if not self.grid.currentIndex().isValid():
                ready = sure(self.grid.model()).index(0, 0)
                nothing = QItemSelectionModel.SelectionFlag.NoUpdate
                sure(self.grid.selectionModel()).setCurrentIndex(ready, nothing)
        self.picture.draw(self._session.findings, self._session.mark)
        self.slips.show_slips()
        put_in(self.one_row, self._session.tether.one_row)
        self._show_notes()

    def show_mark(self) -> None:
        """Ring the marked rows, and bring the first into view."""
        self.picture.show_mark(self._session.mark)
        self._show_notes()
        if self._session.mark and not self.grid.hasFocus():
            self.grid.show_row(int(self._session.mark.ids[0]))

    def swap(self) -> None:
        """Let x and y change places."""
        self._session.tie(axes.swap_axes(self._session.history.study, self._session.tether))

    def show_sums(self) -> None:
        """Σx, Σx², Σxy and what belongs to them."""
        if self._session.findings.refusal is not None:
            self._session.notice(
                "There are no sums before two columns of numbers are tied, with three pairs at least."
            )
            return
        from bright_tether.desktop.parts.sums import SumsPanel

        SumsPanel(self._session, sure(self.window())).show_by(self.sums)

    def tie_at_hand(self, axis: str) -> None:
        """Tie the column the cursor stands in."""
        column = self.grid.column_at_hand()
        if column:
            self.slots[axis].tie(column)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.picture.restyle(tokens)
        self.grid.restyle(tokens)
        self.notes.restyle(tokens)

    def _show_notes(self) -> None:
        self.notes.show_column(self.grid.column_at_hand() or self._session.tether.x)

    def _say_one_row(self) -> None:
        session = self._session
        self.one_row.setModified(False)
        session.do(changes.say_one_row(session.history.study, session.tether, self.one_row.text()))

    def _axis_under(self, spot: QPoint) -> str | None:
        for axis, slot in self.slots.items():
            if slot.rect().contains(slot.mapFromGlobal(spot)):
                return axis
        under: str | None = self.picture.axis_at(spot)
        return under

    def _head_carried(self, spot: QPoint) -> None:
        over = self._axis_under(spot)
        for axis, slot in self.slots.items():
            restyled(slot, "over", axis == over)

    def _head_let_go(self, column_id: str, spot: QPoint) -> None:
        axis = self._axis_under(spot)
        for slot in self.slots.values():
            restyled(slot, "over", False)
        if axis:
            self.slots[axis].tie(column_id)
