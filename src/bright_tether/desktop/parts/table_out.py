"""Tables on their way out: what stands in them and in which form, seen before it is copied or written."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path

import msgspec
from PyQt6.QtCore import QMimeData
from PyQt6.QtGui import QFontDatabase, QGuiApplication
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QPlainTextEdit, QWidget

from bright_tether.account.outward import Content, Outward, outward
from bright_tether.account.outward_files import SUFFIXES, write_tables
from bright_tether.account.outward_text import TEXTS, html, tsv
from bright_tether.desktop.parts.entries import choice
from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.pictures.sure import sure
from bright_tether.study.journal import state_folder
from bright_tether.study.pins import Figures, Grid
from bright_tether.tables.writing import printable, put_whole

_CONTENTS: dict[Content, str] = {
    "shown": "numbers, digits as shown",
    "all": "numbers, every digit",
    "words": "words",
}
_FORMS = {"tabs": "cells, for a spreadsheet", "CSV": "CSV", "HTML": "HTML", "LaTeX": "LaTeX (booktabs)",
          "Markdown": "Markdown"}  # fmt: skip
_KEPT = "tables-out.json"


def copied_as() -> Content:
    """What stands in copied tables, as it was chosen last."""
    with suppress(OSError, ValueError, msgspec.MsgspecError):
        found: Content = msgspec.json.decode((state_folder() / _KEPT).read_bytes(), type=Content)
        return found
    return "shown"


def put_on_clipboard(tables: list[Outward]) -> None:
    """As cells for a spreadsheet, and as a table for what takes HTML."""
    data = QMimeData()
    data.setText(tsv(tables))
    data.setHtml(html(tables))
    sure(QGuiApplication.clipboard()).setMimeData(data)


class TableOut(Popup):
    """Words or numbers, a form, what comes of it, and where to."""

    def __init__(self, grids: tuple[Grid | Figures, ...], session: Session, parent: QWidget) -> None:
        super().__init__(
            "Copy or write this table" if len(grids) == 1 else "Copy or write these tables", parent, 620
        )
        self._grids, self._session = grids, session
        self.content = choice("What stands in the table", _CONTENTS, lambda _: self._show())
        self.content.setCurrentIndex(list(_CONTENTS).index(copied_as()))
        self.content.setMaximumWidth(240)
        self.form = choice("Form of the table", _FORMS, lambda _: self._show())
        row = QHBoxLayout()
        for words, field in (("in", self.content), ("as", self.form)):
            row.addWidget(label(words, "quiet"))
            row.addWidget(field)
        row.addStretch()
        self.seen = QPlainTextEdit()
        self.seen.setReadOnly(True)
        self.seen.setAccessibleName("What comes of it")
        self.seen.setFont(QFontDatabase.systemFont(QFontDatabase.SystemFont.FixedFont))
        self.seen.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.seen.setTabStopDistance(90)
        self.seen.setTabChangesFocus(True)
        self.seen.setMinimumHeight(230)
        deeds = QHBoxLayout()
        deeds.addWidget(label("also .xlsx, .docx and .odt", "quiet"))
        deeds.addStretch()
        deeds.addWidget(button("Write to a file…", self._ask, name="Write the table to a file"))
        deeds.addWidget(button("Copy", self.copy, "main", "Copy the table in this form"))
        self.box.addLayout(row)
        self.box.addWidget(self.seen)
        self.box.addLayout(deeds)
        self._show()

    def _tables(self) -> list[Outward]:
        return [outward(grid, self.content.currentData()) for grid in self._grids]

    def _show(self) -> None:
        self.seen.setPlainText(TEXTS[self.form.currentData()][1](self._tables()))

    def copy(self) -> None:
        """Put it on the clipboard, and remember what was wanted."""
        self._remember()
        if self.form.currentData() == "tabs":
            put_on_clipboard(self._tables())
        else:
            sure(QGuiApplication.clipboard()).setText(self.seen.toPlainText())
        self._session.tell("The table is on the clipboard.")
        self.close()

    def _remember(self) -> None:
        with suppress(OSError):
            state_folder().mkdir(parents=True, exist_ok=True)
            put_whole(state_folder() / _KEPT, msgspec.json.encode(self.content.currentData()))

    def _ask(self) -> None:
        first = TEXTS[self.form.currentData()][0]
        endings = dict.fromkeys((first, *SUFFIXES))
        kinds = ";;".join(f"{suffix[1:].upper()} (*{suffix})" for suffix in endings)
        name, kind = QFileDialog.getSaveFileName(self, "Write the table", f"table{first}", kinds)
        if name:
            path = Path(name)
            self.write_to(path if path.suffix else path.with_suffix(kind.rpartition("*")[2].rstrip(")")))
        self.close()

    def write_to(self, path: Path) -> None:
        """Write it; trouble is said in place."""
        self._remember()
        try:
            write_tables(self._tables(), path)
        except (ValueError, OSError) as error:
            said = error.strerror if isinstance(error, OSError) else str(error)
            self._session.notice(f"“{path.name}” could not be written: {said}")
            return
        self._session.tell(f"Written: {printable(str(path))}.")
