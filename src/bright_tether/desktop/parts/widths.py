"""The view of the ways to find an interval for one case: the picture, what each holds, and which is in force."""

from __future__ import annotations

from functools import partial

from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QWidget

from bright_tether.core.widths import KINDS, Widths
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.grids import column_of, figures_table, fill_grid
from bright_tether.desktop.parts.long_run import LongRun
from bright_tether.desktop.parts.widgets import button, label
from bright_tether.desktop.session import Session
from bright_tether.desktop.steps.points import connect_points
from bright_tether.pictures.sure import sure
from bright_tether.pictures.widths import WidthsPicture
from bright_tether.study import changes
from bright_tether.theme.tokens import Tokens
from bright_tether.words.choices import WIDTHS
from bright_tether.words.readings.widths import widths_grid


class WidthsPart(QWidget):
    """Buttons that put a way in force, the picture, the table."""

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__()
        self._session = session
        self.run = LongRun("intervals")
        self.run.ended.connect(self._take)
        self.picture = WidthsPicture(tokens, font, "Intervals for one case")
        connect_points(self.picture, session)
        self.table = figures_table("Intervals for one case")
        sure(self.table.verticalHeader()).hide()
        self.table.setFixedHeight(166)
        self.buttons = {}
        row, flow = QWidget(), Flow(label("for every forecast take", "quiet"))
        for kind in KINDS:
            one = button(WIDTHS[kind], partial(self._choose, kind), "small", f"Take {WIDTHS[kind]}")
            one.setCheckable(True)
            self.buttons[kind] = one
            flow.addWidget(one)
        flow.addWidget(self.run.stop)
        row.setLayout(flow)
        box = column_of(self, row, self.run, self.picture, self.table)
        box.setStretch(2, 1)

    @property
    def outcome(self) -> Widths | None:
        """What there is of the run."""
        found: Widths | None = self.run.outcome
        return found

    def refresh(self) -> None:
        """Bring it up to date."""
        findings = self._session.findings
        lined = findings.refusal is None and not findings.plain.exact
        self.run.follow(findings.widths if lined else None)
        self._show()

    def show_mark(self) -> None:
        """Ring the marked rows."""
        self.picture.show_mark(self._session.mark)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self.picture.restyle(tokens)

    def _show(self) -> None:
        findings = self._session.findings
        lined = findings.refusal is None and not findings.plain.exact
        found = self.outcome or (
            findings.widths_now if lined else None
        )  # first the intervals, then what they hold
        self.picture.show_widths(findings, self._session.mark, found)
        fill_grid(
            self.table,
            None if found is None or findings.refusal is not None else widths_grid(findings, found),
        )
        self.table.setVisible(found is not None and findings.refusal is None)
        in_force = findings.width_in_force if findings.refusal is None else None
        for kind, one in self.buttons.items():
            one.setChecked(kind == in_force)
            fits = kind == "ranks" or not findings.tether.line.origin
            one.setEnabled(fits and found is not None and found.way(kind) is not None)

    def _take(self, _: Widths) -> None:
        if self.isVisible():
            self._show()
            self._session.ask()

    def _choose(self, kind: str) -> None:
        session = self._session
        session.do(changes.take_width(session.history.study, session.tether, kind))  # type: ignore[arg-type]
