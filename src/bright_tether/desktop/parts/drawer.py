"""The rows drawer: the table under every step, and what can be done with marked rows."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QHideEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from bright_tether.core.results import Refusal
from bright_tether.desktop.grid import Grid
from bright_tether.desktop.parts.asked import Asked
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.live.findings import Findings
from bright_tether.study import changes
from bright_tether.study.derived import with_tether
from bright_tether.study.memory import Memory
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.readings.aside import with_and_without


class Drawer(QFrame):
    """A strip that opens upwards into the table."""

    def __init__(self, session: Session, tokens: Tokens) -> None:
        super().__init__()
        self.setObjectName("drawer")
        self._session, self._tokens = session, tokens
        self.grid: Grid | None = None
        self._toggle = button("▸ Rows", self.toggle, "link", "Show or hide the rows")
        self._hint = label("drag over points to mark them here, in every picture and in the table", "quiet")
        self._count = label("0 marked", "quiet", name="rows marked")
        self._aside = button("Set aside…", self.ask_reason)
        self._back = button("Bring back", self.bring_back)
        self._clear = button("Clear the mark", lambda: session.mark_rows(frozenset()))
        strip = QHBoxLayout()
        strip.setContentsMargins(10, 3, 14, 3)
        strip.addWidget(self._toggle)
        strip.addWidget(self._hint)
        strip.addStretch()
        for widget in (self._aside, self._back, self._clear, self._count):
            strip.addWidget(widget)
        strip.setSpacing(8)
        self._ask = AsideQuestion(session)
        self._body = QVBoxLayout()
        self._body.setContentsMargins(14, 0, 14, 0)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(self._ask)
        box.addLayout(strip)
        box.addLayout(self._body)
        session.mark_changed.connect(self.show_mark)
        session.study_changed.connect(self.show_mark)
        self.show_mark()

    def toggle(self) -> None:
        """Open or close the table."""
        if self.grid is None:
            self.grid = Grid(self._session, self._tokens, "Rows")
            self.grid.setFixedHeight(210)
            self._body.addWidget(self.grid)
            self.grid.setVisible(False)
        opened = not self.grid.isVisibleTo(self)
        self.grid.setVisible(opened)
        self._body.setContentsMargins(14, 0, 14, 10 if opened else 0)
        self._toggle.setText("▾ Rows" if opened else "▸ Rows")
        if opened:
            self.show_mark()
            self.grid.setFocus()

    def show_mark(self) -> None:
        """Count the marked rows, bring the first into view, offer what can be done with them."""
        marked = self._session.mark
        out = self._session.tether.asides.row_ids & marked
        self._count.setText(f"{d.grouped(len(marked))} marked")
        self._hint.setVisible(not marked)
        some_in_play = len(out) < len(marked)
        self._aside.setVisible(some_in_play)
        self._back.setVisible(bool(out))
        self._clear.setVisible(bool(marked))
        if self.grid is not None and self.grid.isVisibleTo(self) and marked:
            self.grid.show_row(int(marked.ids[0]))
        if self._ask.isVisibleTo(self):
            self._ask.show_effect() if some_in_play else self._ask.hide()

    def ask_reason(self) -> None:
        """Ask why, with the effect shown before it is done."""
        if self._session.mark:
            self._ask.open()

    def bring_back(self) -> None:
        """Bring marked rows that were set aside back into play."""
        session = self._session
        out = session.tether.asides.row_ids & session.mark
        if out:
            tether = session.tether_id
            session.do_made(lambda study: changes.take_back(study, study.tether(tether), out))

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self._tokens = tokens
        if self.grid is not None:
            self.grid.restyle(tokens)


class AsideQuestion(QWidget):
    """The reason for setting rows aside, beside what it would change."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._what = label(kind="strong")
        self.reason = QLineEdit()
        self.reason.setPlaceholderText("the reason, as the write-up will state it")
        self.reason.setAccessibleName("Reason for setting aside")
        self.reason.returnPressed.connect(self._do)
        self.effect = label(kind="quiet", name="effect of setting aside")
        self._effect = Asked(self, self.show_effect)
        row = QHBoxLayout(self)
        row.setContentsMargins(14, 8, 14, 2)
        row.addWidget(self._what)
        row.addWidget(self.reason, 1)
        row.addWidget(self.effect)
        row.addWidget(button("Set aside", self._do, "main", "Set the marked rows aside"))
        row.addWidget(button("Leave it", self.hide))
        self.hide()

    def open(self) -> None:
        """Show the question and put the cursor in the reason."""
        self.show()
        self.reason.clear()
        self.reason.setFocus(Qt.FocusReason.OtherFocusReason)
        self.show_effect()

    def show_effect(self) -> None:
        """The line with and without the marked rows, side by side."""
        session = self._session
        rows, study, tether = session.mark, session.study, session.tether
        self._what.setText(d.count(len(rows), "row"))

        def make() -> str:
            less = tether.with_asides(rows, "tried")
            without = Findings(with_tether(study, less), less, Memory())
            try:
                return with_and_without(Findings(study, tether), without)
            except Refusal:
                return "too few pairs would be left for a line"

        said = self._effect.answer((study, tether.id, rows), make, at_once=session.in_place)
        self.effect.setText(said or self._effect.trouble or "working out what it would change…")

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Ask nothing any more."""
        self._effect.drop()

    def _do(self) -> None:
        reason = " ".join(self.reason.text().split())
        if not reason:
            self.reason.setPlaceholderText("a reason is needed: nothing is set aside silently")
            self.reason.setFocus()
            return
        session = self._session
        self.hide()
        tether, rows = session.tether_id, session.mark
        session.do_made(lambda study: changes.set_aside(study, study.tether(tether), rows, reason))
