"""State a truth, and draw pairs from it."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QGridLayout, QLineEdit, QWidget

from bright_tether.desktop.parts.entries import choice
from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import IN_PLACE_ROWS, Session
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.tables.cells import as_number
from bright_tether.tables.simulated import simulated_table

_FIELDS = {
    "rows": ("Number of pairs", "30"), "intercept": ("True intercept", "10"), "slope": ("True slope", "2"),
    "sd": ("sd of the residuals", "4"), "low": ("x from", "0"), "high": ("x to", "20"), "seed": ("Seed", "1"),
}  # fmt: skip
_ENDS = {"low": "x from", "high": "x to"}
#: What the same two fields are where x is normal.
_ABOUT = ("mean of x", "sd of x")
_MOST_ROWS = 1_000_000


class StatedTruth(Popup):
    """Seven numbers, and a table drawn from them."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__("State a truth and draw pairs from it", parent, 340)
        self._session = session
        self.fields: dict[str, QLineEdit] = {}
        grid = QGridLayout()
        for at, (name, (words, start)) in enumerate(_FIELDS.items()):
            self.fields[name] = QLineEdit(start)
            self.fields[name].setAccessibleName(words)
            grid.addWidget(label(words, "quiet"), at, 0)
            grid.addWidget(self.fields[name], at, 1)
        self.x_drawn = choice(
            "How x is drawn", {False: "x between two ends", True: "x normal, by mean and sd"}, self._name_x
        )
        grid.addWidget(self.x_drawn, len(_FIELDS), 0, 1, 2)
        self._ends = [grid.itemAtPosition(at, 0) for at, name in enumerate(_FIELDS) if name in _ENDS]
        self.box.addLayout(grid)
        self.said = label(kind="quiet", wrap=True, name="truth says")
        self.box.addWidget(self.said)
        self.box.addWidget(button("Draw the pairs", self.draw, "main"))
        self.box.addWidget(button("Draw them, and rehearse the truth", lambda: self.draw(rehearse=True)))

    def _name_x(self, normal: bool) -> None:
        for place, words in zip(self._ends, _ABOUT if normal else _ENDS.values(), strict=True):
            named: Any = sure(sure(place).widget())
            named.setText(words)

    def draw(self, *, rehearse: bool = False) -> None:
        """Put the drawn table in; what cannot be drawn from is said here, and kept.

        rehearse : go on to samples of the same truth.
        """
        typed = {name: as_number(field.text()) for name, field in self.fields.items()}
        numbers = {name: number for name, number in typed.items() if number is not None}
        wrong = next((name for name in typed if name not in numbers), None)
        if wrong is not None:
            self.said.setText(f"{_FIELDS[wrong][0]}: “{self.fields[wrong].text()}” is not a number.")
            return
        rows, seed, normal = numbers.pop("rows"), numbers.pop("seed"), bool(self.x_drawn.currentData())
        if rows != int(rows) or not 3 <= rows <= _MOST_ROWS:
            self.said.setText("The number of pairs is a whole number from 3 to 1 000 000.")
        elif seed != int(seed) or seed < 0:
            self.said.setText("The seed is a whole number from 0.")
        elif numbers["sd"] < 0 or (numbers["high"] <= 0 if normal else numbers["low"] >= numbers["high"]):
            wanted = "have an sd above 0" if normal else "run from a lower to a higher number"
            self.said.setText(f"x must {wanted}, and the sd of the residuals be 0 or more.")
        else:
            self._session.bring_in_made(
                lambda: simulated_table("t0", rows=int(rows), seed=int(seed), normal=normal, **numbers),
                (lambda there: self._rehearse(numbers) if there else None)
                if rehearse
                else (lambda there: None),
                small=rows <= IN_PLACE_ROWS,
            )
            self.close()

    def _rehearse(self, truth: dict[str, float]) -> None:
        session = self._session
        stated = {name: truth[name] for name in ("intercept", "slope", "sd")}
        session.do(changes.change_choice(session.history.study, session.tether, "rehearse", "Rehearse a stated truth",
                                         source="truth", **stated))  # fmt: skip
        session.show_step("rehearse")
