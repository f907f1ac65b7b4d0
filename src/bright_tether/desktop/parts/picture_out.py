"""A figure of the picture on the stage: its exact size, text and colours, seen at true size, then written."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path

import msgspec
from PyQt6.QtCore import QSize, Qt, QTimer
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import (
    QCheckBox,
    QDoubleSpinBox,
    QFileDialog,
    QHBoxLayout,
    QSpinBox,
    QWidget,
)

from bright_tether.desktop.parts.entries import choice
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.pictures.figure import CHOICES, KINDS, Colours, Figure, figure_of, seen, write_figure
from bright_tether.pictures.fonts import shipped_font
from bright_tether.pictures.pixels import MM_PER_INCH
from bright_tether.pictures.sure import sure
from bright_tether.steps.catalogue import step_of
from bright_tether.study.journal import state_folder
from bright_tether.study.pins import Drawing
from bright_tether.tables.writing import printable, put_whole

#: Widths and heights that journals ask for, in millimetres.
_SIZES = {"": "own size", "85 60": "one column, 85 × 60 mm", "120 85": "one and a half, 120 × 85 mm",
          "175 120": "two columns, 175 × 120 mm", "254 142.9": "a slide, 10 × 5.6 inch"}  # fmt: skip
_COLOURS: dict[Colours, str] = {"own": "own colours", "safe": "safe for colour-blind readers", "grey": "grey"}
_PARTS = {"residuals": "panel of residuals", "equation": "equation, r and n", "legend": "legend of groups"}
_UNITS = {"mm": "mm", "inch": "inch"}
_KEPT = "figure.json"
#: Milliseconds after the last change until the figure is drawn anew.
_REST = 200
#: The least and the most that a side may measure, in millimetres.
_LEAST, _LARGEST = 15, 600
#: The most that the preview takes of the screen, in pixels; a larger figure is shown smaller, and that is said.
_MOST = QSize(560, 360)


class PictureOut(Popup):
    """What is chosen is seen at true size before it is written; it is remembered for the next figure."""

    def __init__(self, session: Session, step: str, view: str, parent: QWidget) -> None:
        super().__init__("A figure for a paper", parent, 620)
        self._session, self._of = session, (session.findings, step, view)
        self._drawing: Drawing | None = None
        kept = _kept()
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self.draw)
        self.preset = choice("Size of the figure", _SIZES, self._take_size)
        self.unit = choice("Unit of the size", _UNITS, lambda _: self._show_size())
        self.colours = choice("Colours of the figure", _COLOURS, lambda _: self._later.start(_REST))
        self.colours.setCurrentIndex(list(_COLOURS).index(kept.colours))
        self.wide, self.tall, self.points = QDoubleSpinBox(), QDoubleSpinBox(), QDoubleSpinBox()
        self.dpi = QSpinBox()
        self.drawn: dict[str, QCheckBox] = {}
        for name in CHOICES:
            box = QCheckBox(_PARTS.get(name, name))
            box.setAccessibleName(f"Draw {_PARTS.get(name, name)}")
            box.setChecked(name in kept.drawn)
            box.toggled.connect(lambda _: self._later.start(_REST))
            self.drawn[name] = box
        self._mm = (kept.wide, kept.tall)
        for field, name, low, high, decimals in (
            (self.wide, "Width of the figure", _LEAST, _LARGEST, 2),
            (self.tall, "Height of the figure", _LEAST, _LARGEST, 2),
            (self.points, "Text of the figure, points", 4, 24, 1),
        ):  # fmt: skip
            field.setRange(low, high)
            field.setDecimals(decimals)
            self._name(field, name)
        self.points.setValue(kept.points)
        self.dpi.setRange(30, 2400)
        self.dpi.setValue(kept.dpi)
        self._name(self.dpi, "Dots per inch")
        self._show_size()
        for field in (self.wide, self.tall):
            field.valueChanged.connect(self._size_typed)
        self.points.valueChanged.connect(lambda _: self._later.start(_REST))
        self.dpi.valueChanged.connect(lambda _: self._later.start(_REST))
        row = _row(("", self.preset), ("width", self.wide), ("height", self.tall), ("", self.unit))
        more = _row(("text, pt", self.points), ("dots per inch", self.dpi), ("in", self.colours))
        self.preview = label("", name="figure preview")
        self.preview.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.preview.setMinimumSize(_MOST.width(), _MOST.height() // 2)
        self._said = label("", "quiet", wrap=True, name="figure says")
        deeds = QHBoxLayout()
        deeds.addWidget(self._said, 1)
        self.go = button("Write to a file…", self._ask, "main", "Write the figure to a file")
        deeds.addWidget(self.go)
        self.box.addLayout(row)
        self.box.addLayout(more)
        self.box.addLayout(Flow(*self.drawn.values(), spacing=6))
        self.box.addWidget(self.preview)
        self.box.addLayout(deeds)
        self.draw()

    @staticmethod
    def _name(field: QSpinBox | QDoubleSpinBox, name: str) -> None:
        field.setAccessibleName(name)
        sure(field.lineEdit()).setAccessibleName(name)
        field.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        field.setFixedWidth(62)

    @property
    def figure(self) -> Figure:
        """What is chosen."""
        drawn = tuple(name for name, box in self.drawn.items() if box.isChecked())
        return Figure(wide=self._mm[0], tall=self._mm[1], points=self.points.value(), dpi=self.dpi.value(),
                      colours=self.colours.currentData(), drawn=drawn)  # fmt: skip

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
        self.preset.setCurrentIndex(list(_SIZES).index(named) if named in _SIZES else 0)

    def _take_size(self, named: str) -> None:
        if named:
            wide, tall = map(float, named.split())
            self._mm = (wide, tall)
            self._show_size()
            self._later.start(_REST)

    def _size_typed(self) -> None:
        by = MM_PER_INCH if self.unit.currentData() == "inch" else 1.0
        self._mm = (self.wide.value() * by, self.tall.value() * by)
        self._later.start(_REST)

    def draw(self) -> None:
        """Lay it out and show it."""
        self._later.stop()
        figure, (findings, step, view) = self.figure, self._of
        run = step_of(step).view(view).run
        if run is not None and findings.refusal is None and run(findings).kept is None:
            self._drawing = None  # a long run is not for the interface thread
            self.go.setEnabled(False)
            self._said.setText("Nothing is drawn before the samples are: let them run first.")
            return
        self._drawing = figure_of(findings, step, view, figure, shipped_font())
        self.go.setEnabled(self._drawing is not None)
        if self._drawing is None:
            self.preview.clear()
            self._said.setText("This step draws no picture of these pairs.")
            return
        ratio = self.devicePixelRatioF()
        image = seen(self._drawing, figure, self.logicalDpiX() * ratio)
        true = image.width() <= _MOST.width() * ratio and image.height() <= _MOST.height() * ratio
        if not true:
            image = image.scaled(_MOST * ratio, Qt.AspectRatioMode.KeepAspectRatio,
                                 Qt.TransformationMode.SmoothTransformation)  # fmt: skip
        image.setDevicePixelRatio(ratio)
        self.preview.setPixmap(QPixmap.fromImage(image))
        dots = " × ".join(str(round(one / MM_PER_INCH * figure.dpi)) for one in self._mm)
        size = "seen at true size" if true else "seen smaller than it is"
        self._said.setText(f"{size}; {dots} pixels as PNG or TIFF")

    def _ask(self) -> None:
        kinds = ";;".join(f"{kind[1:].upper()} (*{kind})" for kind in KINDS)
        name, kind = QFileDialog.getSaveFileName(self, "Write the figure", "figure.svg", kinds)
        if name:
            path = Path(name)
            self.write_to(path if path.suffix else path.with_suffix(kind.rpartition("*")[2].rstrip(")")))
        self.close()

    def write_to(self, path: Path) -> None:
        """Write it; trouble is said in place."""
        if self._later.isActive():
            self.draw()
        if self._drawing is None:
            return
        with suppress(OSError):
            state_folder().mkdir(parents=True, exist_ok=True)
            put_whole(state_folder() / _KEPT, msgspec.json.encode(self.figure))
        try:
            write_figure(self._drawing, self.figure, path)
        except (ValueError, OSError) as error:
            said = error.strerror if isinstance(error, OSError) else str(error)
            self._session.notice(f"“{path.name}” could not be written: {said}")
            return
        self._session.tell(f"Written: {printable(str(path))}.")


def _row(*named: tuple[str, QWidget]) -> QHBoxLayout:
    row = QHBoxLayout()
    for words, part in named:
        if words:
            row.addWidget(label(words, "quiet"))
        row.addWidget(part)
    row.addStretch()
    return row


def _kept() -> Figure:
    with suppress(OSError, ValueError, msgspec.MsgspecError):
        return msgspec.json.decode((state_folder() / _KEPT).read_bytes(), type=Figure)
    return Figure()
