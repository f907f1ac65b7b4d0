"""Likely slips, quietly: one line each, with what mends it, for one row or all alike, and one to leave it."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QGridLayout, QScrollArea, QVBoxLayout, QWidget

from bright_tether.desktop.actions import Deed
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.menus import open_menu
from bright_tether.desktop.parts.popup import Popup
from bright_tether.desktop.parts.widgets import Sentence, button, emptied, label
from bright_tether.desktop.session import Session
from bright_tether.pictures.sure import sure
from bright_tether.study import cases, cell_changes
from bright_tether.tables.slips import Slip, SlipKind, each_row, readings
from bright_tether.words import digits as d
from bright_tether.words.slips import mend_words, read_words, slip_sentence

_MOST_SHOWN = 3
#: Lines of one panel; the rest come up as these are seen to.
_MOST_LISTED = 200


class SlipList(QFrame):
    """Hidden while there is nothing to say."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("beware")
        self.setAccessibleName("Likely slips")
        self._session = session
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(12, 6, 8, 6)
        self._box.setSpacing(2)
        self._shown: tuple[Slip, ...] | None = None

    def show_slips(self) -> None:
        """List the slips of the table at hand."""
        slips = self._session.findings.slips
        if slips is self._shown:
            return
        self._shown = slips
        emptied(self._box)
        for slip in slips[:_MOST_SHOWN]:
            row = Flow()
            sentence = slip_sentence(slip, self._session.findings.table)
            row.addWidget(Sentence(sentence, "likely slip"))
            for piece in slip_buttons(self._session, slip, sentence):
                row.addWidget(piece)
            if len(slip.rows) > 1 and slip.kind is not SlipKind.SHARED_CASES:
                row.addWidget(
                    button("Row by row…", partial(self._list_rows, slip), "link", f"Row by row: {sentence}")
                )
            self._box.addLayout(row)
        if len(slips) > _MOST_SHOWN:
            words = f"and {d.count(len(slips) - _MOST_SHOWN, 'other likely slip')}…"
            self._box.addWidget(button(words, partial(self._list, slips, "Likely slips"), "link"))
        self.setVisible(bool(slips))

    def _list(self, slips: tuple[Slip, ...], title: str) -> None:
        SlipPanel(self._session, slips[:_MOST_LISTED], len(slips), title, self).show_by(self)

    def _list_rows(self, slip: Slip) -> None:
        each = each_row(slip, _MOST_LISTED)
        SlipPanel(self._session, each, len(slip.rows), "Row by row", self).show_by(self)


class SlipPanel(Popup):
    """Slips one under the other; a line goes when it is seen to. of : how many there are, with those not listed."""

    def __init__(
        self, session: Session, slips: tuple[Slip, ...], of: int, title: str, parent: QWidget
    ) -> None:
        super().__init__(title, sure(parent.window()), 640)
        lines = QGridLayout()
        lines.setColumnStretch(0, 1)
        table = session.findings.table
        for at, slip in enumerate(slips):
            sentence = slip_sentence(slip, table)
            pieces = (label(sentence, name="likely slip"), *slip_buttons(session, slip, sentence))
            for place, piece in enumerate(pieces):
                lines.addWidget(piece, at, place)
            for piece in pieces[2:]:  # all but the one that shows
                piece.clicked.connect(partial(self._seen_to, pieces))  # type: ignore[attr-defined]
        held = QWidget()
        held.setObjectName("readingInner")
        held.setLayout(lines)
        scroll = QScrollArea()
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setWidgetResizable(True)
        scroll.setWidget(held)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setMinimumWidth(max(self.minimumWidth(), held.sizeHint().width() + 44))
        scroll.setMinimumSize(held.sizeHint().width() + 14, min(held.sizeHint().height() + 4, 320))
        self.box.addWidget(scroll)
        if of > len(slips):
            self.box.addWidget(label(f"and {d.grouped(of - len(slips))} more after these", "quiet"))

    def _seen_to(self, pieces: tuple[QWidget, ...], *_: object) -> None:
        for piece in pieces:
            piece.setEnabled(False)


def _ask_how(session: Session, slip: Slip, beside: QWidget) -> None:
    """Ask what stands for the numbers of a case."""

    table = session.table.id

    def bring(by: str) -> None:
        session.do_made_and_show(lambda study: cases.bring_to_cases(study, table, slip, by))

    words = {"mean": "their mean", "median": "their median", "first": "the first row", "last": "the last row"}
    deeds = [Deed(text, "", partial(bring, by)) for by, text in words.items()]
    open_menu("One row a case", [deeds], beside.mapToGlobal(beside.rect().bottomLeft()), beside)


def slip_buttons(session: Session, slip: Slip, sentence: str) -> list[QWidget]:
    """Show it, what mends it, leave it."""

    table = session.findings.table

    def mend(way: Slip) -> None:
        session.do_made(lambda study: cell_changes.mend_slip(study, table.id, way))

    def leave() -> None:
        session.do_made(lambda study: cell_changes.dismiss_slip(study, table.id, slip))

    buttons = [button("Show", lambda: session.mark_rows(slip.rows), "link", f"Show: {sentence}")]
    if slip.kind is SlipKind.SHARED_CASES:
        buttons.append(button("One row a case…", partial(_ask_how, session, slip, buttons[0]), "link",
                              f"One row a case: {sentence}"))  # fmt: skip
    read = readings(slip)
    if read is not None:
        words = read_words(read)
        buttons.append(button(words, partial(mend, read), "link", f"{words}: {sentence}"))
    words = mend_words(slip)
    buttons.append(button(words, partial(mend, slip), "link", f"{words}: {sentence}"))
    left = "Separate cases" if slip.kind is SlipKind.SHARED_CASES else "Leave it"
    buttons.append(button(left, leave, "link", f"Leave: {sentence}"))
    return list(buttons)
