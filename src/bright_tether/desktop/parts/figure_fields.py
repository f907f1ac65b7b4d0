"""What a figure is to be, as fields: size, text, colours, parts, and the axes of its picture."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import TypeVar

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QFontDatabase
from PyQt6.QtWidgets import (
    QCheckBox,
    QDoubleSpinBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from bright_tether.desktop.parts.axis_entries import DateEntries, NumberEntries, trouble_of
from bright_tether.desktop.parts.entries import choice
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.widgets import label
from bright_tether.pictures.offered import CHOICES, Offered
from bright_tether.pictures.sure import sure
from bright_tether.study.figures import MM_PER_INCH, Colours, Figure, FigureAxes, FigureAxis, Placed

#: Widths and heights that journals ask for, in millimetres.
SIZES = {"": "own size", "85 60": "one column, 85 × 60 mm", "120 85": "one and a half, 120 × 85 mm",
         "175 120": "two columns, 175 × 120 mm", "254 142.9": "a slide, 10 × 5.6 inch"}  # fmt: skip
_COLOURS: dict[Colours, str] = {"own": "own colours", "safe": "safe for colour-blind readers", "grey": "grey"}
_PARTS = {"residuals": "panel of residuals", "equation": "equation, r and n", "legend": "legend of groups"}
_PLACED: dict[Placed, str] = {"inside": "legend inside", "outside": "legend beside"}
_UNITS = {"mm": "mm", "inch": "inch"}
_NONE_HERE = "This picture has none."
#: The least and the most that a side may measure, in millimetres.
_LEAST, _LARGEST = 15, 600
Spin = TypeVar("Spin", QSpinBox, QDoubleSpinBox)


class FigureFields(QWidget):
    """What fits any picture. changed : something is to be otherwise."""

    changed = pyqtSignal()

    def __init__(self, figure: Figure) -> None:
        super().__init__()
        self._mm = (figure.wide, figure.tall)
        self._quiet = False
        self.preset = choice("Size of the figure", SIZES, self._take_size)
        self.unit = choice("Unit of the size", _UNITS, lambda _: self._show_size())
        self.colours = choice("Colours of the figure", _COLOURS, lambda _: self._tell())
        self.legend = choice("Place of the legend", _PLACED, lambda _: self._tell())
        families = [one for one in QFontDatabase.families() if not one.startswith(("Inter", "."))]
        named = {"": "Inter"} | {one: one for one in families}
        self.font_of = choice("Font of the figure", named, lambda _: self._tell())
        self.wide, self.tall = (_decimal(name, _LEAST, _LARGEST, 2) for name in
                                ("Width of the figure", "Height of the figure"))  # fmt: skip
        self.points = _decimal("Text of the figure, points", 4, 24, 1)
        self.line = _decimal("Width of lines, points", 0, 8, 2, "as it comes")
        self.dot = _decimal("Size of points, points", 0, 20, 1, "as it comes")
        self.dpi = _whole("Dots per inch", 30, 2400)
        self.minor = _whole("Small ticks between two numbers", 0, 9)
        self.frame = QCheckBox("line all round")
        self.frame.setAccessibleName("Draw a line all round")
        self.drawn: dict[str, QCheckBox] = {}
        for name in CHOICES:
            self.drawn[name] = QCheckBox(_PARTS.get(name, name))
            self.drawn[name].setAccessibleName(f"Draw {_PARTS.get(name, name)}")
        self.show_figure(figure)
        for field in (self.wide, self.tall):
            field.valueChanged.connect(self._size_typed)
        for value in (self.points, self.line, self.dot, self.dpi, self.minor):
            value.valueChanged.connect(self._tell)
        for box in (*self.drawn.values(), self.frame):
            box.toggled.connect(self._tell)
        self.preset.setMaximumWidth(230)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(5)
        layout.addLayout(_row(("", self.preset), ("", self.unit)))
        layout.addLayout(_row(("width", self.wide), ("height", self.tall), ("dots per inch", self.dpi)))
        layout.addLayout(_row(("text, pt", self.points), ("", self.font_of)))
        layout.addLayout(
            _row(("lines, pt", self.line), ("points, pt", self.dot), ("small ticks", self.minor))
        )
        layout.addLayout(_row(("", self.colours), ("", self.legend)))
        layout.addLayout(Flow(*self.drawn.values(), self.frame, spacing=6))

    def dress(self, offered: Offered) -> None:
        """Offer lines, points, ticks and parts where the picture has them."""
        there: dict[QWidget, bool] = {box: name in offered.parts for name, box in self.drawn.items()}
        there |= {self.line: offered.line, self.dot: offered.dot, self.minor: offered.ticks, self.frame: offered.ticks,
                  self.legend: "legend" in offered.parts}  # fmt: skip
        for field, possible in there.items():
            field.setEnabled(possible)
            field.setToolTip("" if possible else _NONE_HERE)

    @property
    def figure(self) -> Figure:
        """What is chosen."""
        drawn = tuple(name for name, box in self.drawn.items() if box.isChecked())
        return Figure(
            wide=self._mm[0], tall=self._mm[1], points=self.points.value(), dpi=self.dpi.value(),
            colours=self.colours.currentData(), drawn=drawn, font=self.font_of.currentData(), line=self.line.value(),
            dot=self.dot.value(), minor=self.minor.value(), frame=self.frame.isChecked(),
            legend=self.legend.currentData(),
        )  # fmt: skip

    def show_figure(self, figure: Figure) -> None:
        """Let the fields say another figure; told once, whatever of it is another."""
        with self._told_once():
            self._mm = (figure.wide, figure.tall)
            self._show_size()
            held = ((self.colours, figure.colours), (self.legend, figure.legend), (self.font_of, figure.font))
            for box, value in held:
                box.setCurrentIndex(max(box.findData(value), 0))
            self.points.setValue(figure.points)
            self.line.setValue(figure.line)
            self.dot.setValue(figure.dot)
            self.dpi.setValue(figure.dpi)
            self.minor.setValue(figure.minor)
            self.frame.setChecked(figure.frame)
            for name, check in self.drawn.items():
                check.setChecked(name in figure.drawn)

    @contextmanager
    def _told_once(self) -> Iterator[None]:
        self._quiet = True
        yield
        self._quiet = False
        self.changed.emit()

    def _tell(self, *_: object) -> None:
        if not self._quiet:
            self.changed.emit()

    def _show_size(self) -> None:
        """The size in its unit; nothing of it changes by that."""
        by = MM_PER_INCH if self.unit.currentData() == "inch" else 1.0
        for field, value in zip((self.wide, self.tall), self._mm, strict=True):
            field.blockSignals(True)
            field.setDecimals(2 if by == 1 else 3)
            field.setRange(_LEAST / by, _LARGEST / by)
            field.setValue(value / by)
            field.blockSignals(False)
        named = f"{self._mm[0]:g} {self._mm[1]:g}"
        self.preset.setCurrentIndex(list(SIZES).index(named) if named in SIZES else 0)

    def _take_size(self, named: str) -> None:
        if named:
            wide, tall = map(float, named.split())
            self._mm = (wide, tall)
            self._show_size()
            self._tell()

    def _size_typed(self) -> None:
        by = MM_PER_INCH if self.unit.currentData() == "inch" else 1.0
        self._mm = (self.wide.value() * by, self.tall.value() * by)
        self._tell()


class AxesFields(QWidget):
    """What belongs to one picture alone: its title, and of each axis name, limits and numbers.

    changed : something is to be otherwise. dated : axes that are a calendar.
    """

    changed = pyqtSignal()

    def __init__(self, axes: FigureAxes, own: tuple[str, str], dated: tuple[bool, bool]) -> None:
        super().__init__()
        self.title = self._text("Title of the figure", axes.title, "no title")
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(4)
        grid.addWidget(label("title", "quiet"), 0, 0)
        grid.addWidget(self.title, 0, 1, 1, 5)
        for at, head in enumerate(("", "name", "from", "to", "every", "numbers at")):
            grid.addWidget(label(head, "quiet"), 1, at)
        self.fields: dict[str, tuple[QLineEdit, ...]] = {}
        self._entries: dict[str, NumberEntries] = {}
        wide = 84 if any(dated) else 50
        for row, (axis, wish, name, date) in enumerate(
            zip("xy", (axes.x, axes.y), own, dated, strict=True), 2
        ):
            entries = self._entries[axis] = DateEntries() if date else NumberEntries()
            hint, step, places = entries.hints
            fields = (
                self._text(f"Name of the {axis} axis", wish.name, name),
                self._text(f"Least of the {axis} axis", entries.shown(wish.low), hint),
                self._text(f"Most of the {axis} axis", entries.shown(wish.high), hint),
                self._text(f"Step of the {axis} axis", entries.step_shown(wish), step),
                self._text(f"Numbers of the {axis} axis", entries.places_shown(wish.at), places),
            )
            for field in fields[1:4]:
                field.setFixedWidth(wide)
            grid.addWidget(label(axis, "quiet"), row, 0)
            for at, field in enumerate(fields, 1):
                grid.addWidget(field, row, at)
            self.fields[axis] = fields

    def offer(self, axes: str) -> None:
        """Offer these axes alone; the title where there is any."""
        self.title.setEnabled(bool(axes))
        for axis, fields in self.fields.items():
            for field in fields:
                field.setEnabled(axis in axes)

    @property
    def axes(self) -> FigureAxes:
        """What is typed; what is none counts as nothing typed."""
        found = {}
        for axis, (name, *fields) in self.fields.items():
            entries, (low, high, step, at) = self._entries[axis], (one.text() for one in fields)
            asked, unit = entries.step(step)
            found[axis] = FigureAxis(name=name.text(), low=entries.value(low), high=entries.value(high), step=asked,
                                     unit=unit, at=entries.places(at))  # fmt: skip
        return FigureAxes(title=self.title.text(), **found)

    @property
    def trouble(self) -> str:
        """What is typed and cannot be meant, in one sentence; "" where all can."""
        troubles = (trouble_of(axis, self._entries[axis], (low.text(), high.text(), step.text(), at.text()))
                for axis, (_, low, high, step, at) in self.fields.items())  # fmt: skip
        return next(filter(None, troubles), "")

    def _text(self, name: str, text: str, hint: str) -> QLineEdit:
        field = QLineEdit(text)
        field.setAccessibleName(name)
        field.setPlaceholderText(hint)
        field.textChanged.connect(lambda _: self.changed.emit())
        return field


def _decimal(name: str, low: float, high: float, decimals: int, none: str = "") -> QDoubleSpinBox:
    field = QDoubleSpinBox()
    field.setRange(low, high)
    field.setDecimals(decimals)
    field.setSpecialValueText(none)
    return _named(field, name, 84 if none else 74)


def _whole(name: str, low: int, high: int) -> QSpinBox:
    field = QSpinBox()
    field.setRange(low, high)
    return _named(field, name, 50)


def _named(field: Spin, name: str, width: int) -> Spin:
    field.setAccessibleName(name)
    sure(field.lineEdit()).setAccessibleName(name)
    field.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
    field.setFixedWidth(width)
    return field


def _row(*named: tuple[str, QWidget]) -> QHBoxLayout:
    row = QHBoxLayout()
    row.setSpacing(6)
    for words, part in named:
        if words:
            row.addWidget(label(words, "quiet"))
        row.addWidget(part)
    row.addStretch()
    return row
