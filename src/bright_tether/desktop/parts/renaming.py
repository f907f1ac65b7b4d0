"""A small panel that asks for another name."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QLineEdit, QWidget

from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.pictures.sure import sure


class AskName(Popup):
    """Type a name; Enter takes it, Escape leaves the old one."""

    def __init__(
        self, title: str, name: str, take: Callable[[str], object], parent: QWidget, gloss: str = ""
    ) -> None:
        super().__init__(title, sure(parent.window()), 320)
        self._take = take
        self.field = QLineEdit(name)
        self.field.setAccessibleName("New name")
        self.field.selectAll()
        self.field.returnPressed.connect(self.done)
        self.box.addWidget(self.field)
        if gloss:
            self.box.addWidget(label(gloss, "quiet", wrap=True))
        self.box.addWidget(button("Take this name", self.done, "main"))
        self.setFocusProxy(self.field)

    def done(self) -> None:
        """Take what is typed."""
        text = self.field.text()
        self.close()
        self._take(text)
