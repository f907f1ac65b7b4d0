"""The sheet behind the study's name: what can be done with the study as a whole."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QWidget

from bright_tether.desktop.actions import Actions
from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button
from bright_tether.desktop.session import Session


class StudySheet(Popup):
    """Open, recent, save, rename, export, undo and redo by name, and the list of all actions."""

    def __init__(self, session: Session, actions: Actions, parent: QWidget) -> None:
        super().__init__(session.study.title, parent, 340)
        self.setAccessibleName("Study sheet")
        history = session.history
        names = {
            "Undo the last change": f"Undo: {history.done[-1].label}" if history.done else "",
            "Redo the change taken back": f"Redo: {history.undone[0].label}" if history.undone else "",
        }
        for deed in actions.of_study():
            words = names.get(deed.words, deed.words)
            if not deed.possible() or not words:
                continue
            keys = f"    {deed.shortcut}" if deed.shortcut else ""
            row = button(f"{words}{keys}", partial(self._do, deed.run), "row", words)
            self.box.addWidget(row)

    def _do(self, run: Callable[[], object]) -> None:
        self.close()
        run()
