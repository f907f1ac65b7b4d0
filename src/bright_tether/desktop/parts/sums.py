"""The sums of x and y, to be checked against the paper that they came from."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from bright_tether.desktop.parts.copying import copy_grids
from bright_tether.desktop.parts.grids import figures_table, fill_grid
from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button
from bright_tether.desktop.session import Session
from bright_tether.pictures.sure import sure
from bright_tether.words.grids.strength import sums_grid


class SumsPanel(Popup):
    """One line a sum."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__("Sums of the pairs in play", parent, 380)
        grid = sums_grid(session.findings)
        table = figures_table("Sums of the pairs")
        sure(table.verticalHeader()).hide()
        fill_grid(table, grid)
        table.setMinimumHeight(34 * (len(grid.rows) + 1))
        self.box.addWidget(table)
        self.box.addWidget(button("Copy the sums", lambda: copy_grids((grid,)), "small"))
