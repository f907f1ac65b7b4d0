"""Which choices are looked at, between which x y is compared, and the ways as they are worked out."""

from __future__ import annotations

from functools import partial

from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QLineEdit, QMenu, QWidget

from bright_tether.desktop.background import Work
from bright_tether.desktop.parts.entries import choice, named
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.grids import column_of
from bright_tether.desktop.parts.long_run import LongRun
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.live.findings import Findings
from bright_tether.live.other_choices import OtherChoices
from bright_tether.live.ways import options_of, present_way
from bright_tether.pictures.other_choices import OtherChoicesPicture
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.tables.cells import as_number
from bright_tether.tables.clock import value_of
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.ways import AXIS_NAMES, option_name

_COMPARED = {"slope": "the slope", "coefficient": "the coefficient"}


class OtherChoicesPart(QWidget):
    """Ticks of what is looked at, the picture, and the way that is held."""

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__()
        self._session = session
        self.run = LongRun("ways")
        self.run.ended.connect(self._take)
        self.what = choice("What is compared", _COMPARED, self._compare)
        self.choose = button("Choices…", lambda: None, "small", "Choices looked at")
        self.choose.setMenu(QMenu(self.choose))
        sure(self.choose.menu()).aboutToShow.connect(self._offer)
        self.first, self.last = (self._entry(name) for name in ("first", "last"))
        self._ends = [named("x from", self.first), named("to", self.last)]
        self.said = label("", "quiet", wrap=True, name="way held")
        self.picture = OtherChoicesPicture(tokens, font, "Other choices picture")
        self.picture.picked.connect(self._hold)
        row = QWidget()
        row.setLayout(Flow(self.what, self.choose, *self._ends, self.run.stop))
        column_of(self, row, self.run, self.picture, self.said)

    def refresh(self) -> None:
        """Bring it up to date; ways of something else are worked out anew."""
        findings = self._session.findings
        self._show_ends(findings)
        self.setEnabled(findings.refusal is None)
        self.run.follow(None if findings.refusal is not None else findings.other_choices)
        self.picture.draw(findings, self.outcome)

    @property
    def outcome(self) -> OtherChoices | None:
        """The ways, as far as they are worked out."""
        found: OtherChoices | None = self.run.outcome
        return found

    @property
    def work(self) -> Work:
        """What works them out."""
        return self.run.work

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.picture.restyle(tokens)

    def _take(self, outcome: OtherChoices) -> None:
        self.said.setText("")
        if self.isVisible():
            self.picture.draw(self._session.findings, outcome)
            self._session.ask()

    def _hold(self, at: int) -> None:
        self.said.setText("" if at < 0 else self.picture.in_words(at))

    def _offer(self) -> None:
        """Every option, those looked at ticked; what is in force always is."""
        findings, menu = self._session.findings, sure(self.choose.menu())
        menu.clear()
        if findings.refusal is not None:
            return
        asked = findings.asked_otherwise
        present, left_out = present_way(asked), findings.tether.otherwise.left_out
        for axis, options in options_of(asked, findings.pairs.n).items():
            if axis == "errors" and len(options) == 2:
                continue
            menu.addSection(AXIS_NAMES[axis])
            for option in options if len(options) > 1 else ():
                if option == "own":
                    continue
                action = sure(menu.addAction(option_name(findings, axis, option).replace("&", "&&")))
                action.setCheckable(True)
                action.setChecked(f"{axis}={option}" not in left_out)
                action.setEnabled(option != getattr(present, axis))
                action.toggled.connect(partial(self._toggle, f"{axis}={option}"))

    def _toggle(self, one: str, on: bool) -> None:
        session = self._session
        left_out = session.history.study.tether(session.tether.id).otherwise.left_out
        after = tuple(it for it in left_out if it != one) if on else (*left_out, one)
        self._choose("Look at a choice" if on else "Leave a choice out", left_out=after)

    def _entry(self, which: str) -> QLineEdit:
        field = QLineEdit()
        field.setAccessibleName(f"{which.capitalize()} x of the change")
        field.setPlaceholderText("quartile")
        field.setFixedWidth(84)
        field.editingFinished.connect(partial(self._typed, which, field))
        return field

    def _compare(self, what: str) -> None:
        if what != self._session.tether.otherwise.what:
            self._choose("Compare slopes" if what == "slope" else "Compare coefficients", what=what)

    def _show_ends(self, findings: Findings) -> None:
        kept = findings.tether.otherwise
        self.what.setCurrentIndex(self.what.findData(kept.what))
        for one in self._ends:
            one.setVisible(kept.what == "slope")
        for field, value in ((self.first, kept.first), (self.last, kept.last)):
            if not field.hasFocus():
                field.setText("" if value is None else self._shown(findings, value))

    def _shown(self, findings: Findings, value: float) -> str:
        from bright_tether.words.reading import names_of

        return names_of(findings.x_column, findings.y_column).day_of(value) or d.entered(value)

    def _typed(self, which: str, field: QLineEdit) -> None:
        findings, text = self._session.findings, field.text().strip()
        clock = findings.x_column.clock if findings.tied else None
        value = None if not text else value_of(text, clock) if clock is not None else as_number(text)
        if text and value is None:
            self.said.setText(
                f"“{text}” is no {'date' if clock is not None else 'number'}: the quartile of x stays."
            )
            return
        if value != getattr(findings.tether.otherwise, which):
            self._choose("Compare between other x", **{which: value})

    def _choose(self, words: str, **fields: object) -> None:
        session = self._session
        session.do(changes.change_choice(session.history.study, session.tether, "otherwise", words, **fields))
