"""A change of any size in x, and what it goes with."""

from __future__ import annotations

import math

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QSlider, QVBoxLayout, QWidget

from bright_tether.desktop.parts.widgets import label
from bright_tether.desktop.session import Session
from bright_tether.tables.cells import as_number
from bright_tether.tables.column import shown
from bright_tether.words.reading import there
from bright_tether.words.readings.alternatives import change_sentence


class ChangeOfX(QWidget):
    """Type the change or drag it; the sentence follows."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._of: tuple[str, str | None] = ("", None)
        self.field, self.slider = QLineEdit(), QSlider(Qt.Orientation.Horizontal)
        self.field.setAccessibleName("Change in x")
        self.field.setFixedWidth(84)
        self.slider.setAccessibleName("Drag the change in x")
        self.slider.setRange(1, 100)
        self.said = label("", wrap=True, name="what a change goes with")
        self.field.textEdited.connect(lambda _: self._say())
        self.slider.valueChanged.connect(self._dragged)
        row = QHBoxLayout()
        row.addWidget(self.field)
        row.addWidget(self.slider, 1)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 6, 0, 0)
        box.addWidget(label("A change in x of", "section"))
        box.addLayout(row)
        box.addWidget(self.said)

    def refresh(self) -> None:
        """Bring the sentence up to date; another x starts at a tenth of its range."""
        findings = self._session.findings
        self.setEnabled(findings.refusal is None)
        if findings.refusal is not None:
            self.said.setText("")
            return
        of = (findings.tether.id, findings.tether.x)
        if of != self._of:
            self._of = of
            self._step = _round((there(findings.x_summary.max) - there(findings.x_summary.min)) / 100)
            self.slider.setValue(10)
            self.field.setText(shown(self._value(10)))
        self._say()

    def _dragged(self, place: int) -> None:
        if self.slider.isSliderDown() or self.slider.hasFocus():
            self.field.setText(shown(self._value(place)))
            self._say()

    def _value(self, place: int) -> float:
        return float(f"{place * self._step:.6g}")

    def _say(self) -> None:
        value = as_number(self.field.text())
        if value is None:
            self.said.setText("Type a number.")
        else:
            self.said.setText(change_sentence(self._session.findings, value))


def _round(step: float) -> float:
    return 10.0 ** math.floor(math.log10(step)) if step > 0 else 1.0
