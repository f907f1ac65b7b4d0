"""A working row by row, to step through and to copy."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtGui import QFontMetrics, QGuiApplication
from PyQt6.QtWidgets import QAbstractItemView, QButtonGroup, QHBoxLayout, QTableView, QVBoxLayout, QWidget

from bright_tether.core.results import Refusal
from bright_tether.desktop.parts.copying import copy_text
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import IN_PLACE_ROWS, Session
from bright_tether.pictures.sure import sure
from bright_tether.words import digits as d
from bright_tether.words.causes import refusal
from bright_tether.words.workings.listing import LISTINGS, Listing, ranks_listing

#: Rows whose width is looked at, and pixels left and right of a text.
_LOOKED_AT, _ROOM = 60, 14


class ListingModel(QAbstractTableModel):
    """A listing with its closing line as the last row."""

    def __init__(self) -> None:
        super().__init__()
        self.listing: Listing | None = None

    def show(self, listing: Listing | None) -> None:
        """Show another listing."""
        self.beginResetModel()
        self.listing = listing
        self.endResetModel()

    def rowCount(self, parent: QModelIndex | None = None) -> int:
        """Rows and the closing line."""
        return 0 if self.listing is None else len(self.listing.rows) + 1

    def columnCount(self, parent: QModelIndex | None = None) -> int:
        """One a head."""
        return 0 if self.listing is None else len(self.listing.heads)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> Any:
        """The heads."""
        if role == Qt.ItemDataRole.DisplayRole and orientation == Qt.Orientation.Horizontal:
            return sure(self.listing).heads[section]
        return None

    def data(self, index: QModelIndex, role: int = 0) -> Any:
        """A cell; the closing line in bold."""
        listing = sure(self.listing)
        last = index.row() == len(listing.rows)
        if role == Qt.ItemDataRole.DisplayRole:
            if last:
                return listing.closing[index.column()]
            return listing.text(index.row(), index.column())
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        if role == Qt.ItemDataRole.FontRole and last:
            font = QGuiApplication.font()
            font.setBold(True)
            return font
        return None


class ListingView(QWidget):
    """Choose the coefficient, step through its rows (each marked in the pictures), copy the table."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session, self._model = session, ListingModel()
        self.kind = "r"
        self.table = QTableView()
        self.table.setAccessibleName("Working row by row")
        self.table.setModel(self._model)
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        sure(self.table.verticalHeader()).hide()
        sure(self.table.horizontalHeader()).setResizeContentsPrecision(_LOOKED_AT)
        sure(self.table.verticalHeader()).setDefaultSectionSize(26)
        sure(self.table.selectionModel()).currentRowChanged.connect(self._step)
        self._said = label(kind="quiet", wrap=True)
        row, group = QHBoxLayout(), QButtonGroup(self)
        for kind in LISTINGS:
            chooser = button(kind, partial(self._choose, kind), "small", f"Row by row: {kind}")
            chooser.setCheckable(True)
            chooser.setChecked(kind == self.kind)
            group.addButton(chooser)
            row.addWidget(chooser)
        self.highest = button("Highest first", self.refresh, "small")
        self.highest.setCheckable(True)
        self.highest.setToolTip("Rank from the highest instead of the lowest; ρ stays the same.")
        row.addWidget(self.highest)
        row.addStretch()
        row.addWidget(button("Copy the table", self.copy, "small"))
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(row)
        box.addWidget(self._said)
        box.addWidget(self.table, 1)

    def refresh(self) -> None:
        """Bring the table up to date."""
        findings = self._session.findings
        self.highest.setVisible(self.kind == "ρ")
        self._said.hide()
        try:
            if findings.refusal:
                raise findings.refusal
            if self.kind == "ρ":
                listing = ranks_listing(findings, highest_first=self.highest.isChecked())
            else:
                listing = LISTINGS[self.kind](findings)
        except Refusal as found:
            listing = None
            self._said.setText(refusal(found))
            self._said.show()
        self._model.show(listing)
        self.table.resizeColumnsToContents()
        self._show_closing(listing)
        sure(self.table.horizontalHeader()).setStretchLastSection(True)

    def _show_closing(self, listing: Listing | None) -> None:
        """Leave room for the line below, which may lie far beyond the rows that were looked at."""
        font = QGuiApplication.font()
        font.setBold(True)
        for at, words in enumerate(() if listing is None else listing.closing):
            wide = QFontMetrics(font).horizontalAdvance(words) + _ROOM
            self.table.setColumnWidth(at, max(self.table.columnWidth(at), wide))

    def copy(self) -> None:
        """Put the whole table on the clipboard with every digit."""
        listing = self._model.listing
        if listing is not None:
            rows = len(listing.rows)
            told = f"Copied: {d.count(rows, 'row')} with their sums."
            copy_text(self._session, listing.copied, told=told, small=rows <= IN_PLACE_ROWS)

    def _choose(self, kind: str) -> None:
        self.kind = kind
        self.refresh()

    def _step(self, index: QModelIndex) -> None:
        listing = self._model.listing
        if listing is not None and 0 <= index.row() < len(listing.rows):
            self._session.mark_rows(frozenset({int(listing.rows[index.row()])}))
