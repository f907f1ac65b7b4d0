"""Permutation p of r: shuffles off the interface thread, with progress and a seed."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QProgressBar, QSpinBox, QVBoxLayout, QWidget

from bright_tether.core.resampling.permutation import Permutation
from bright_tether.desktop.background import Work
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.pictures.sure import sure
from bright_tether.study.declared import Task
from bright_tether.words.readings.strength import permutation_sentence


class Shuffle(QWidget):
    """Asks how often luck alone reaches the observed r. changed : the result came or went."""

    changed = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.result: Permutation | None = None
        self._basis: Task[Permutation] | None = None
        self.work = Work(self)
        self.shuffles, self.seed = QSpinBox(), QSpinBox()
        for field, top, value, name in (
            (self.shuffles, 1_000_000, 10_000, "Shuffles"),
            (self.seed, 2**31 - 1, 1, "Seed of the shuffles"),
        ):
            field.setRange(1, top)
            field.setValue(value)
            field.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
            field.setAccessibleName(name)
            sure(field.lineEdit()).setAccessibleName(name)
            field.setMinimumWidth(44)
        self.go = button("Shuffle", self.toggle, "small", "Shuffle y against x")
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setFixedHeight(6)
        self.bar.hide()
        self.said = label("", wrap=True, name="permutation p")
        row = QHBoxLayout()
        row.addWidget(self.shuffles, 2)
        row.addWidget(label("seed", "quiet"))
        row.addWidget(self.seed, 1)
        row.addWidget(self.go)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 6, 0, 0)
        box.addWidget(label("What luck alone reaches: shuffle y against x", "section", wrap=True))
        box.addLayout(row)
        box.addWidget(self.bar)
        box.addWidget(self.said)
        self.work.progressed.connect(self.bar.setValue)
        self.work.done.connect(self._take)
        self.work.failed.connect(lambda error: self.said.setText(f"It could not be done: {error}."))

    def refresh(self) -> bool:
        """Forget what was worked out from other pairs; whether there was something to forget."""
        findings = self._session.findings
        there = findings.refusal is None
        self.setEnabled(there)
        basis = findings.permutation(0, 0) if there else None
        if (basis is None and self._basis is None) or (basis is not None and basis.same(self._basis)):
            return False
        self._basis = basis
        self.work.drop()
        self._show(None)
        return True

    def toggle(self) -> None:
        """Start, or stop and keep what there is."""
        if self.work.busy:
            self.work.stop()
            return
        findings, many, seed = self._session.findings, self.shuffles.value(), self.seed.value()
        if findings.refusal:
            return
        self.bar.setRange(0, many)
        self.bar.setValue(0)
        self.bar.show()
        self.go.setText("Stop")
        self.work.start(findings.permutation(many, seed).run, self._basis)

    def _take(self, result: Permutation, basis: object) -> None:
        if basis is self._basis:
            self._show(result)

    def _show(self, result: Permutation | None) -> None:
        self.result = result
        self.bar.hide()
        self.go.setText("Shuffle")
        self.said.setText(
            "" if result is None else permutation_sentence(result, self._session.findings.rules)
        )
        self.said.setHidden(result is None)
        self.changed.emit()
