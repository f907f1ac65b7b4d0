"""The pins of the write-up in order: dragged, written on, frozen, taken off."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial
from typing import Any

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QPlainTextEdit,
    QVBoxLayout,
    QWidget,
)

from bright_tether.account.page import REFERRED
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import IN_PLACE_ROWS, Session
from bright_tether.pictures.sure import sure
from bright_tether.steps.catalogue import step_of
from bright_tether.study.names import tether_name
from bright_tether.study.pin_changes import move_pin, put_pin, take_off, thaw, write_on
from bright_tether.study.pins import Pin

#: Milliseconds after the last key until what was typed is in the study.
_REST = 250


class PinShelf(QListWidget):
    """Drag a pin to its place; Delete takes it off; Alt with up or down moves it."""

    dragged = pyqtSignal(int, int)
    removed = pyqtSignal()
    nudged = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Pins in order")
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.setDefaultDropAction(Qt.DropAction.MoveAction)
        self.setWordWrap(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        sure(self.model()).rowsMoved.connect(self._moved)

    def keyPressEvent(self, event: Any) -> None:
        """Delete, and Alt with the arrows."""
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
        if event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.removed.emit()
        elif step and event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.nudged.emit(step)
        else:
            super().keyPressEvent(event)

    def _moved(self, parent: object, start: int, end: int, target: object, row: int) -> None:
        self.dragged.emit(start, row if row < start else row - 1)


class Pins(QWidget):
    """The list, and what can be done with the chosen pin. freeze_wanted : a pin's id."""

    freeze_wanted = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._written_on: str | None = None
        self._called: Mapping[str, str] = {}
        self.list = PinShelf()
        self.list.currentRowChanged.connect(lambda _: self._show_chosen())
        # after the drop is over: the list is filled anew
        self.list.dragged.connect(self._dragged, Qt.ConnectionType.QueuedConnection)  # type: ignore[call-arg]
        self.list.removed.connect(self.take_off)
        self.list.nudged.connect(self.nudge)
        self.words = QPlainTextEdit()
        self.words.setAccessibleName("Words of the pin")
        self.words.setFixedHeight(92)
        self.words.setTabChangesFocus(True)
        self.words.focusOutEvent = self._left  # type: ignore[method-assign, assignment]
        self._typing = QTimer(self)
        self._typing.setSingleShot(True)
        self._typing.setInterval(_REST)
        self._typing.timeout.connect(self.keep_words)
        self.words.textChanged.connect(self._typing.start)
        session.settling.connect(self.keep_words)
        self._about = label("", "quiet", wrap=True, name="chosen pin")
        self.freeze = button("Freeze", self._freeze, "small", "Freeze or follow again")
        self.refer = button("Refer…", lambda: None, "small", "Refer to a figure or a table")
        self.refer.setMenu(QMenu(self.refer))
        deeds = Flow(
            button("▲", lambda: self.nudge(-1), "small", "Move the pin up"),
            button("▼", lambda: self.nudge(1), "small", "Move the pin down"),
            self.freeze,
            self.refer,
            button("Take off", self.take_off, "small", "Take the pin off"),
            spacing=4,
        )
        more = Flow(button("+ Heading", lambda: self.add("heading"), "small", "Add a heading"),
                    button("+ Note", lambda: self.add("note"), "small", "Add a note"),
                    button("+ Table", self.table_of_lines, "small", "Add a table of lines"), spacing=4)  # fmt: skip
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(label("Pins, in the order of the page", "section"))
        box.addWidget(self.list, 1)
        box.addLayout(more)
        box.addWidget(self._about)
        box.addWidget(self.words)
        box.addLayout(deeds)
        self.setFixedWidth(226)

    @property
    def chosen(self) -> Pin | None:
        """The pin at hand."""
        row = self.list.currentRow()
        pins = self._session.study.pins
        return pins[row] if 0 <= row < len(pins) else None

    def refresh(self) -> None:
        """Show the pins of the study; the chosen one stays chosen."""
        study, row = self._session.study, self.list.currentRow()
        kept = item.data(Qt.ItemDataRole.UserRole) if row >= 0 and (item := self.list.item(row)) else None
        self.list.blockSignals(True)
        self.list.clear()
        for pin in study.pins:
            item = QListWidgetItem(self._in_words(pin))
            item.setData(Qt.ItemDataRole.UserRole, pin.id)
            self.list.addItem(item)
        ids = [pin.id for pin in study.pins]
        self.list.setCurrentRow(ids.index(kept) if kept in ids else min(row, len(ids) - 1))
        self.list.blockSignals(False)
        self._show_chosen()

    def add(self, part: str) -> None:
        """A heading or a note after the chosen pin, to be written at once."""
        study, row = self._session.history.study, self.list.currentRow()
        text = "Heading" if part == "heading" else "Note"
        edit = put_pin(study, part, f"Add a {part}", text=text, at=row + 1 if study.pins else 0)  # type: ignore[arg-type]
        self._session.do(edit)
        self.list.setCurrentRow(edit.at)
        self.words.setFocus()
        self.words.selectAll()

    def table_of_lines(self) -> None:
        """A table of lines after the chosen pin, or the chosen one changed."""
        from bright_tether.desktop.parts.lines_table import LinesTable, worked_out

        pin, row = self.chosen, self.list.currentRow()
        own = pin if pin is not None and pin.part == "lines" and not pin.frozen else None
        at = row if own else row + 1 if self._session.history.study.pins else 0

        def show(_: object = None) -> None:
            table = LinesTable(session, own, at, sure(self.window()))
            table.done.connect(self.list.setCurrentRow)
            table.show_by(self)

        session, study = self._session, self._session.history.study
        if any(table.rows > IN_PLACE_ROWS for table in study.tables):
            session.off(lambda: worked_out(study), show)
        else:
            show()

    def name_pieces(self, called: Mapping[str, str]) -> None:
        """Let the words of a pin refer to figures and tables. called : what a pin's is called on the page."""
        if called != self._called:
            self._called = called
            self.refresh()
        menu = sure(self.refer.menu())
        menu.clear()
        for pin in self._session.study.pins:
            if pin.id in called:
                words = f"{called[pin.id]}: {self._named(pin).replace(chr(10), ', ')}"
                asked = partial(self._put_in, REFERRED.format(pin.id))
                sure(menu.addAction(words.replace("&", "&&"))).triggered.connect(asked)
        self._may_refer()

    def _may_refer(self) -> None:
        self.refer.setEnabled(self.words.isEnabled() and not sure(self.refer.menu()).isEmpty())

    def _put_in(self, words: str, _: bool = False) -> None:
        self.words.insertPlainText(words)
        self.words.setFocus()

    def nudge(self, step: int) -> None:
        """Move the chosen pin by one."""
        pin, row = self.chosen, self.list.currentRow()
        if pin is not None:
            self._session.do(move_pin(self._session.history.study, pin, row + step))

    def take_off(self) -> None:
        """Leave the chosen pin out."""
        if self.chosen is not None:
            self._session.do(take_off(self._session.history.study, self.chosen))

    def keep_words(self) -> None:
        """Put what was written on the pin that it was written on."""
        self._typing.stop()
        study = self._session.history.study
        pin = next((one for one in study.pins if one.id == self._written_on), None)
        if pin is not None:
            self._session.do(write_on(study, pin, self._typed()), typing=True)

    def _in_words(self, pin: Pin) -> str:
        """A pin as it stands in the list, with what it is called on the page."""
        called = self._called.get(pin.id, "")
        return f"{self._named(pin)}{f' · {called}' if called else ''}"

    def _named(self, pin: Pin) -> str:
        if pin.part == "lines" and pin.tether is None and not pin.frozen:
            return "Table of lines\none a tether"
        if pin.tether is None and not pin.frozen:
            first = pin.text.split("\n")[0][:60] or "(no words yet)"
            return f"{pin.part.capitalize()}: {first}"
        study = self._session.study
        of = tether_name(study, study.tether(pin.tether)) if pin.tether else "a tether that is gone"
        if pin.part == "lines":
            return f"Table of lines, one a group\n{of}"
        step = step_of(pin.step)
        title = step.title_of(pin.view)
        view = f", {title.lower()}" if title else ""
        frozen = f"\nfrozen {pin.frozen.when.replace('T', ' ')}" if pin.frozen else ""
        return f"{step.title} · {pin.part}{view}\n{of}{frozen}"

    def _show_chosen(self) -> None:
        pin = self.chosen
        self.words.setEnabled(pin is not None)
        self._may_refer()
        self.freeze.setEnabled(pin is not None and pin.tether is not None)
        self.freeze.setText("Follow again" if pin is not None and pin.frozen else "Freeze")
        own = pin is not None and pin.tether is None and not pin.frozen and pin.part != "lines"
        self._about.setText("" if pin is None else f"Its {pin.part}:" if own else "Your own words below it:")
        written_on = None if pin is None else pin.id
        text = "" if pin is None else pin.text
        if written_on != self._written_on:
            self.keep_words()  # of the pin at hand until now
        typed = self._typing.isActive() or self._typed() == text
        if written_on != self._written_on or not typed:
            self._written_on = written_on
            self.words.blockSignals(True)
            self.words.setPlainText(text)
            self.words.blockSignals(False)

    def _typed(self) -> str:
        """The words as they were typed; a plain text would lose the spaces that do not break."""
        raw = sure(self.words.document()).toRawText()
        return raw.replace("\u2029", "\n").replace("\u2028", "\n")

    def _left(self, event: Any) -> None:
        QPlainTextEdit.focusOutEvent(self.words, event)
        self.keep_words()

    def _dragged(self, before: int, after: int) -> None:
        pins = self._session.history.study.pins
        edit = move_pin(self._session.history.study, pins[before], after)
        self._session.do(edit)
        self.refresh()
        self.list.setCurrentRow(after)

    def _freeze(self) -> None:
        pin = self.chosen
        if pin is None:
            return
        if pin.frozen:
            self._session.do(thaw(self._session.history.study, pin))
        else:
            self.freeze_wanted.emit(pin.id)
