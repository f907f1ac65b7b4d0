"""The reading: what the step says, the figures it rests on, and the working behind them."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from bright_tether.desktop.parts.figure_rows import FigureRows
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.widgets import button, card, emptied, label
from bright_tether.pictures.sure import sure
from bright_tether.study.pins import Part
from bright_tether.theme.tokens import Tokens
from bright_tether.words.reading import Reading, Working

#: What of a step can be pinned.
PARTS: tuple[Part, ...] = ("reading", "figures", "table", "picture", "working", "lineup")


class ShareBar(QWidget):
    """A bar filled to a share of its length."""

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens, self.share = tokens, 0.0
        self.setFixedHeight(12)

    def paintEvent(self, event: Any) -> None:
        """The part that goes with x, then the rest."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(self.tokens.hairline))
        painter.drawRoundedRect(self.rect(), 4, 4)
        painter.setBrush(QColor(self.tokens.tether))
        painter.drawRoundedRect(self.rect().adjusted(0, 0, -round(self.width() * (1 - self.share)), 0), 4, 4)


class ReadingPanel(QFrame):
    """Shows a reading; opens workings in its own place; lets the rows it speaks of be marked."""

    mark_wanted = pyqtSignal(object)
    pin_wanted = pyqtSignal(str)

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.setObjectName("reading")
        self.setAccessibleName("Reading")
        self.setFixedWidth(344)
        self._workings: Callable[[], tuple[Working, ...]] | None = None
        self.working_open = False
        self._bar = ShareBar(tokens)
        self._headline = label(kind="headline", wrap=True, name="headline")
        self._sentences = label(wrap=True, name="sentences")
        self._caption = label(kind="strong", wrap=True, name="share of spread")
        self._figures, self._steps = FigureRows(), QVBoxLayout()
        self._open = button("Show the working", self.toggle_working)
        self._beware_text = label(wrap=True, name="beware")
        beware = QVBoxLayout()
        beware.addWidget(label("Beware", "strong"))
        beware.addWidget(self._beware_text)
        self._beware = card(beware, "beware")
        inner = QWidget()
        inner.setObjectName("readingInner")
        box = QVBoxLayout(inner)
        box.setContentsMargins(0, 0, 10, 0)
        box.setSpacing(9)
        for piece in (label("Reading", "tag"), self._headline, self._sentences, self._bar, self._caption):
            box.addWidget(piece)
        self._markings = QVBoxLayout()
        box.addLayout(self._markings)
        box.addLayout(self._figures)
        row = QHBoxLayout()
        row.addWidget(self._open)
        row.addStretch()
        box.addLayout(row)
        box.addLayout(self._steps)
        box.addWidget(self._beware)
        self._pins = {
            part: button(part, partial(self.pin_wanted.emit, part), "small", f"Pin the {part}")
            for part in PARTS
        }
        self._pin_row = QWidget()
        self._pin_row.setLayout(Flow(label("Pin", "quiet"), *self._pins.values(), spacing=4))
        box.addWidget(self._pin_row)
        self._extra = QVBoxLayout()
        box.addLayout(self._extra)
        box.addStretch()
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(inner)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(18, 16, 8, 16)
        outer.addWidget(scroll)

    def show_reading(self, reading: Reading, workings: Callable[[], tuple[Working, ...]] | None) -> None:
        """Show a reading. workings : what stands behind it, asked for only when opened."""
        self._workings = workings
        self._headline.setText(reading.headline)
        self._sentences.setText("\n\n".join(reading.sentences))
        self._sentences.setVisible(bool(reading.sentences))
        self._bar.setVisible(reading.share is not None)
        self._bar.share = reading.share or 0.0
        self._bar.setAccessibleName(reading.caption)
        self._bar.update()
        self._caption.setText(reading.caption)
        self._caption.setVisible(bool(reading.caption))
        self._show_markings(reading)
        self._figures.show_figures(reading.figures)
        self._beware_text.setText("\n\n".join(reading.beware))
        self._beware.setVisible(bool(reading.beware))
        self._open.setVisible(workings is not None)
        self._show_steps()

    def offer_pins(self, parts: frozenset[str]) -> None:
        """Which parts of this step can be kept for the write-up."""
        for part, chooser in self._pins.items():
            chooser.setHidden(part not in parts)
        self._pin_row.setHidden(not parts)

    def show_extra(self, widget: QWidget | None) -> None:
        """Show a step's own widget below the reading, or none."""
        for at in range(self._extra.count()):
            other = sure(sure(self._extra.itemAt(at)).widget())
            other.setVisible(other is widget)
        if widget is not None and self._extra.indexOf(widget) < 0:
            self._extra.addWidget(widget)
            widget.show()

    def toggle_working(self) -> None:
        """Open or close the working."""
        self.working_open = not self.working_open
        self._show_steps()

    def open_working(self) -> None:
        """Show the working, if it is not there yet."""
        if not self.working_open:
            self.toggle_working()

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self._bar.tokens = tokens
        self._bar.update()

    def _show_markings(self, reading: Reading) -> None:
        emptied(self._markings)
        for one in reading.markings:
            mark = button(one.words, partial(self.mark_wanted.emit, one.rows), "link")
            self._markings.addWidget(mark, alignment=Qt.AlignmentFlag.AlignLeft)

    def _show_steps(self) -> None:
        self._open.setText("Hide the working" if self.working_open else "Show the working")
        emptied(self._steps)
        if not self.working_open or self._workings is None:
            return
        for working in self._workings():
            self._steps.addWidget(label(working.title, "tag"))
            for step in working.steps:
                row = QHBoxLayout()
                row.addWidget(label(step.what, "strong"))
                row.addStretch()
                result = label(step.result, "value", name=f"working: {step.what}")
                row.addWidget(result)
                self._steps.addLayout(row)
                self._steps.addWidget(label(step.how, "quiet", wrap=True))
