"""The searchable list of everything that can be done."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from bright_tether.desktop.actions import Actions, Deed
from bright_tether.desktop.parts.widgets import label
from bright_tether.steps.catalogue import step_of


class Finder(QFrame):
    """Type a few letters, go down to a deed, Enter does it."""

    def __init__(self, actions: Actions, window: QWidget) -> None:
        super().__init__(window, Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setObjectName("popup")
        self.setAccessibleName("All actions")
        self._actions = actions
        self._deeds: list[Deed] = []
        self.field = QLineEdit()
        self.field.setPlaceholderText("What would you like to do?")
        self.field.setAccessibleName("Find an action")
        self.field.textChanged.connect(self._search)
        self.field.installEventFilter(self)
        self.list = QListWidget()
        self.list.setAccessibleName("Actions found")
        self.list.itemClicked.connect(lambda _: self._run())
        self._none = label("No action has these words, or none applies now.", "quiet")
        box = QVBoxLayout(self)
        for widget in (self.field, self.list, self._none):
            box.addWidget(widget)
        self.resize(520, 420)
        self.move(window.mapToGlobal(QPoint((window.width() - 520) // 2, 84)))
        self.setFocusProxy(self.field)
        self._search("")

    def eventFilter(self, watched: Any, event: Any) -> bool:
        """Arrows move in the list while the field keeps the letters."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            step = {int(Qt.Key.Key_Down): 1, int(Qt.Key.Key_Up): -1}.get(event.key(), 0)
            if step and self.list.count():
                self.list.setCurrentRow((self.list.currentRow() + step) % self.list.count())
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._run()
                return True
        return super().eventFilter(watched, event)

    def _search(self, typed: str) -> None:
        self._deeds = list(self._actions.found(typed))
        self.list.clear()
        for deed in self._deeds:
            where = f"  ·  in {step_of(deed.step).title}" if deed.step else ""
            keys = f"    {deed.shortcut}" if deed.shortcut else ""
            item = QListWidgetItem(f"{deed.words}{where}{keys}")
            self.list.addItem(item)
        self.list.setCurrentRow(0 if self._deeds else -1)
        self._none.setVisible(not self._deeds)

    def _run(self) -> None:
        at = self.list.currentRow()
        if 0 <= at < len(self._deeds):
            deed = self._deeds[at]
            self.close()
            deed.run()
