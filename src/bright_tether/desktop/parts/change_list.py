"""The list of changes, to go back along."""

from __future__ import annotations

from PyQt6.QtWidgets import QListWidget, QListWidgetItem, QWidget

from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import label
from bright_tether.desktop.session import Session


class ChangeList(Popup):
    """Every change by name; choosing one goes back, or forward, to the study as it was after it."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__("Changes, the latest first", parent, 420)
        self._session = session
        self.list = QListWidget()
        self.list.setAccessibleName("Changes")
        history = session.history
        steps = [*(edit.label for edit in history.done), *(edit.label for edit in history.undone)]
        for at in range(len(steps), -1, -1):
            words = steps[at - 1] if at else "as it was opened"
            item = QListWidgetItem(words if at <= len(history.done) else f"{words}  (taken back)")
            item.setData(256, at)
            self.list.addItem(item)
        self.list.setCurrentRow(len(steps) - len(history.done))
        self.list.itemActivated.connect(self._go)
        self.list.itemClicked.connect(self._go)
        self.list.setMinimumHeight(300)
        self.box.addWidget(self.list)
        self.box.addWidget(label("Choose one to go to the study as it was after it.", "quiet"))
        self.setFocusProxy(self.list)

    def _go(self, item: QListWidgetItem) -> None:
        self._session.go_back_to(item.data(256))
        self.close()
