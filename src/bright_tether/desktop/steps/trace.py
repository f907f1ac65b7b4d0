"""Reading points off a picture of a printed plot."""

from __future__ import annotations

import os
from pathlib import Path

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QGuiApplication, QImage, QImageReader
from PyQt6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from bright_tether.core.trace import AxisMarks, Calibration, Spot
from bright_tether.desktop.parts.widgets import button, card, label
from bright_tether.desktop.session import Session
from bright_tether.pictures.plate import Magnifier, Plate
from bright_tether.pictures.sure import sure
from bright_tether.study import table_changes
from bright_tether.tables.cells import as_number
from bright_tether.tables.writing import printable
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d

_ASKED = (
    "a point of known x, low",
    "a point of known x, high",
    "a point of known y, low",
    "a point of known y, high",
)


_PIXELS = (b"png", b"jpeg", b"jpg", b"bmp", b"webp")


class TracePage(QWidget):
    """Two known points on each axis, then the points themselves."""

    done = pyqtSignal(bool)

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self.setObjectName("stagePage")
        self.setAccessibleName("Read points off a picture")
        self._session = session
        self.axes: list[Spot] = []
        self.points: list[Spot] = []
        self.plate = Plate(tokens)
        self.plate.clicked.connect(self._clicked)
        self.plate.moved.connect(self._moved)
        self.plate.removed.connect(self._removed)
        self.plate.hovered.connect(self._hovered)
        self._asks = label(kind="strong", wrap=True, name="what to click next")
        self._says = label(kind="quiet", wrap=True, name="value under the hand")
        self._says.setMinimumHeight(48)
        self.fields = {
            name: QLineEdit() for name in ("x low", "x high", "y low", "y high", "x name", "y name")
        }
        self.logs = {axis: QCheckBox("log") for axis in "xy"}
        grid = QGridLayout()
        for at, axis in enumerate("xy"):
            for place, part in enumerate(("name", "low", "high")):
                field = self.fields[f"{axis} {part}"]
                field.setAccessibleName(f"{axis} {part}")
                field.setPlaceholderText({"name": f"{axis} (unit)", "low": "low", "high": "high"}[part])
                field.textEdited.connect(self._refresh)
                grid.addWidget(field, at * 2, 0, 1, 3) if part == "name" else grid.addWidget(
                    field, at * 2 + 1, place - 1
                )
            self.logs[axis].setAccessibleName(f"{axis} axis is logarithmic")
            self.logs[axis].toggled.connect(self._refresh)
            grid.addWidget(self.logs[axis], at * 2 + 1, 2)
        side = QVBoxLayout()
        side.addWidget(self._asks)
        side.addLayout(grid)
        side.addWidget(Magnifier(self.plate), 0, Qt.AlignmentFlag.AlignHCenter)
        side.addWidget(self._says)
        side.addStretch()
        side.addWidget(button("Set the axes again", self.start_over))
        side.addWidget(button("Leave it", lambda: self.done.emit(False), name="Leave the picture"))
        self.take = button("Make the table", self.accept, "main")
        side.addWidget(self.take)
        held = QWidget()
        held.setLayout(side)
        held.setFixedWidth(210)
        row = QHBoxLayout()
        row.setContentsMargins(10, 10, 10, 10)
        row.addWidget(self.plate, 1)
        row.addWidget(held)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(card(row))

    def show_file(self, path: Path | None) -> bool:
        """Show a picture from a file, or from the clipboard; False where there is none."""
        image = sure(QGuiApplication.clipboard()).image() if path is None else read_image(path)
        if image.isNull():
            said = (
                "There is no picture on the clipboard."
                if path is None
                else f"“{printable(path.name)}” is no picture that can be read."
            )
            self._session.notice(f"{said} Choose a PNG or JPEG of the plot.")
            return False
        self.plate.show_image(image)
        self.start_over()
        return True

    def start_over(self) -> None:
        """Forget axes and points."""
        self.axes, self.points = [], []
        self._refresh()

    def calibration(self) -> Calibration | None:
        """The axes as set, or None while something is missing."""
        typed = {name: as_number(field.text()) for name, field in self.fields.items() if "name" not in name}
        numbers = {name: number for name, number in typed.items() if number is not None}
        if len(self.axes) < 4 or len(numbers) < len(typed):
            return None
        scales = Calibration(
            x=AxisMarks(first=self.axes[0], second=self.axes[1], low=numbers["x low"], high=numbers["x high"],
                        log=self.logs["x"].isChecked()),
            y=AxisMarks(first=self.axes[2], second=self.axes[3], low=numbers["y low"], high=numbers["y high"],
                        log=self.logs["y"].isChecked()),
        )  # fmt: skip
        return scales if scales.usable else None

    def accept(self) -> None:
        """Make a table of the points, rounded to what a pixel can tell."""
        calibration = self.calibration()
        if calibration is None or not self.points:
            return
        pairs = []
        for spot in self.points:
            values, errors = calibration.read(spot), calibration.pixel_error(spot)
            pairs.append(
                [float(d.to_error(value, error)) for value, error in zip(values, errors, strict=True)]
            )
        heads = [self.fields[f"{axis} name"].text().strip() or axis for axis in "xy"]
        if heads[0] == heads[1]:
            heads[1] += " 2"
        columns = {head: np.array([pair[at] for pair in pairs]) for at, head in enumerate(heads)}
        session = self._session
        edit, tether_id = table_changes.add_table(session.history.study, "Read off a picture", columns)
        session.tether_id = tether_id
        session.do(edit)
        self.done.emit(True)

    def _clicked(self, x: float, y: float) -> None:
        (self.axes if len(self.axes) < 4 else self.points).append((x, y))
        self._refresh()

    def _moved(self, kind: str, at: int, x: float, y: float) -> None:
        (self.axes if kind == "axis" else self.points)[at] = (x, y)
        self._refresh()

    def _removed(self, at: int) -> None:
        del self.points[at]
        self._refresh()

    def _hovered(self, x: float, y: float) -> None:
        calibration = self.calibration()
        if calibration is None:
            self._says.setText("")
            return
        values, errors = calibration.read((x, y)), calibration.pixel_error((x, y))
        shown = [
            f"{axis} = {d.to_error(v, e)} (one pixel: {d.figure(e, 2)})"
            for axis, v, e in zip("xy", values, errors, strict=True)
        ]
        self._says.setText("\n".join(shown))

    def _refresh(self, *_: object) -> None:
        self.plate.show_spots(self.axes, self.points)
        ready = self.calibration() is not None
        if len(self.axes) < 4:
            self._asks.setText(f"Click {_ASKED[len(self.axes)]}.")
        elif not ready:
            self._asks.setText("Type what the four points say: low and high of x and of y, not the same.")
        else:
            self._asks.setText(
                f"Click the points: {d.count(len(self.points), 'point')} so far. Drag one to correct it."
            )
        self.take.setEnabled(ready and bool(self.points))


def read_image(path: Path) -> QImage:
    """A picture made of pixels; what only calls itself one, such as a drawing that loads others, is none."""
    reader = QImageReader(os.fsdecode(os.fsencode(path)))
    reader.setDecideFormatFromContent(True)
    return reader.read() if bytes(reader.format().data()) in _PIXELS else QImage()
