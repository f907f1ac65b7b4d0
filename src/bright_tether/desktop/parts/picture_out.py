"""Asks for the size of a picture, then writes it."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QDoubleSpinBox, QFileDialog, QGridLayout, QSpinBox, QWidget

from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.pictures.output import drawing_of, write_picture
from bright_tether.pictures.sure import sure
from bright_tether.tables.writing import printable


class PictureOut(Popup):
    """Width in centimetres and dots per inch; the name of the file says which kind."""

    def __init__(self, session: Session, picture: QWidget, parent: QWidget) -> None:
        super().__init__("Write this picture to a file", parent, 320)
        self._session, self._picture = session, picture
        self.wide, self.dpi = QDoubleSpinBox(), QSpinBox()
        self.wide.setRange(2, 100)
        self.wide.setValue(16)
        self.wide.setDecimals(1)
        self.dpi.setRange(30, 1200)
        self.dpi.setValue(300)
        grid = QGridLayout()
        for row, (field, name, words) in enumerate(
            (
                (self.wide, "Width of the picture, cm", "width, cm"),
                (self.dpi, "Dots per inch", "dots per inch (PNG)"),
            )
        ):
            field.setAccessibleName(name)
            sure(field.lineEdit()).setAccessibleName(name)
            field.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
            grid.addWidget(label(words), row, 0)
            grid.addWidget(field, row, 1)
        self.box.addLayout(grid)
        self.box.addWidget(button("As SVG, PDF or PNG…", self._ask, "main", "Choose the file"))

    def _ask(self) -> None:
        kinds = "SVG (*.svg);;PDF (*.pdf);;PNG (*.png)"
        name, kind = QFileDialog.getSaveFileName(self, "Write the picture", "picture.svg", kinds)
        if name:
            path = Path(name)
            if not path.suffix:
                path = path.with_suffix(f".{kind[:3].lower()}")
            self.write_to(path)
        self.close()

    def write_to(self, path: Path) -> None:
        """Write it; trouble is said in place."""
        try:
            write_picture(drawing_of(self._picture), path, wide_cm=self.wide.value(), dpi=self.dpi.value())
        except (ValueError, OSError) as error:
            said = error.strerror if isinstance(error, OSError) else str(error)
            self._session.notice(f"“{path.name}” could not be written: {said}")
            return
        self._session.tell(f"Written: {printable(str(path))}.")
