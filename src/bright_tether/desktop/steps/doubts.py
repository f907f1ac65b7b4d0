"""The step Doubts: a board of six cards, each of which opens."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import (
    QButtonGroup,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from bright_tether.claims.rows import places_of
from bright_tether.core.doubts.statistics import DOUBTS
from bright_tether.core.doubts.verdicts import Doubt
from bright_tether.core.results import Ints
from bright_tether.core.shape.histogram import typed_bins
from bright_tether.desktop.parts.entries import choice
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.lineup import Lineup
from bright_tether.desktop.parts.remedies import Remedies
from bright_tether.desktop.parts.verdict import VerdictBadge
from bright_tether.desktop.parts.widgets import Pressable, button, card, emptied, label
from bright_tether.desktop.session import Session
from bright_tether.desktop.steps.points import connect_points
from bright_tether.desktop.steps.stage import Stage
from bright_tether.live.findings import Findings, Need
from bright_tether.live.longer import doubted
from bright_tether.live.sketches import MODES, Sketch
from bright_tether.pictures.doubt import DoubtPicture
from bright_tether.pictures.small import SmallPlot
from bright_tether.study import changes
from bright_tether.study.tether import RESIDUAL
from bright_tether.tables.cells import as_number
from bright_tether.tables.row_ids import RowIds
from bright_tether.theme.tokens import Tokens
from bright_tether.words import digits as d
from bright_tether.words.axes import MODE_TITLES, sketch_axes
from bright_tether.words.readings.doubts import number
from bright_tether.words.readings.unanswered import CONDITIONS, QUESTIONS
from bright_tether.words.said import listed

#: Rings that a card has room for.
_MOST_RINGS = 500


class DoubtCard(Pressable):
    """Question, verdict, number, picture; a click or Return opens it."""

    opened = pyqtSignal(str)

    def __init__(self, name: str, tokens: Tokens, font: QFont) -> None:
        super().__init__("doubtCard", QUESTIONS[name])
        self.name = name
        self.clicked.connect(lambda: self.opened.emit(name))
        self.badge, self.plot = VerdictBadge(tokens), SmallPlot(tokens, font)
        self.number = label(kind="quiet", name=f"{name} number")
        row = Flow(self.badge, self.number, spacing=4)
        box = QVBoxLayout(self)
        box.setContentsMargins(12, 10, 12, 8)
        box.setSpacing(5)
        box.addWidget(label(QUESTIONS[name], "strong", wrap=True))
        box.addWidget(label(CONDITIONS[name], "quiet", wrap=True, name=f"{name} condition"))
        box.addLayout(row)
        box.addWidget(self.plot, 1)

    def judge(self, findings: Findings, doubt: Doubt) -> None:
        """Verdict and number."""
        said = number(findings, doubt)
        self.badge.show_verdict(doubt.verdict)
        self.number.setText(said)
        self.setAccessibleDescription(f"{doubt.verdict.value}, {said}")

    def draw(self, findings: Findings, marked: Ints) -> None:
        """The picture alone."""
        mode = MODES[self.name][0]
        self.plot.draw(findings.sketch(mode), marked, sketch_axes(findings, mode)[0])


class DoubtsStep(Stage):
    """Board, opened card, lineup."""

    step_id = "doubts"

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__(session)
        self.name: str | None = None
        self.mode = ""
        self.bins: dict[str, QLineEdit] = {}
        self.extra = Remedies(session)
        self.cards = {name: DoubtCard(name, tokens, font) for name in DOUBTS}
        self.full = DoubtPicture(tokens, font, "Doubt picture")
        connect_points(self.full, session)
        self.lineup = Lineup(session, tokens, font)
        self.lineup.left.connect(lambda: self.open(None))
        self._badge = VerdictBadge(tokens)
        self.pages = QStackedWidget()
        self._lineup_page = card(_held(self.lineup))
        for page in (self._board_page(), self._full_page(), self._lineup_page):
            self.pages.addWidget(page)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(self.pages)

    @property
    def looked_at(self) -> Findings:
        """The line alone, or with its columns held."""
        return doubted(self._session.findings)

    @property
    def picture(self) -> DoubtPicture:
        """The picture on show."""
        return self.full

    def open(self, name: str | None) -> None:
        """Open a card, or go back to the board."""
        self.name = name
        if name is not None:
            self._offer_modes(name)
        self.pages.setCurrentIndex(0 if name is None else 1)
        self._session.ask()

    def show_view(self, view_id: str) -> None:
        """Open a doubt, or the board."""
        self.open(view_id or None)

    def try_lineup(self) -> None:
        """Deal the lineup."""
        self.pages.setCurrentIndex(2)
        self.lineup.deal()

    def drawn_needs(self) -> tuple[Need, ...]:
        """The picture on show, too."""
        if self.name is None:
            return super().drawn_needs()
        mode, standard = self.mode, self._standard

        def shown(findings: Findings) -> object:
            of = doubted(findings)
            return of.points_of(_sketch(of, mode, standard))

        return (*super().drawn_needs(), shown)

    def _look_at(self, held: bool) -> None:
        session = self._session
        if held != session.tether.held.doubted:
            said = "Doubt the line with columns held" if held else "Doubt the line alone"
            session.do(
                changes.change_choice(session.history.study, session.tether, "held", said, doubted=held)
            )

    def _show_whose(self) -> None:
        """Which residuals can be looked at, and which are."""
        findings = self._session.findings
        held = findings.held_cells if findings.tied else ()
        self.whose.setVisible(bool(held))
        self.whose.setItemText(1, f"with {listed(one.short for one in held)} held")
        self.whose.setCurrentIndex(int(findings.tether.held.doubted))
        self._deal.setEnabled(self.looked_at is findings)

    def show_findings(self) -> None:
        """Bring board or card up to date."""
        self._show_whose()
        findings = self.looked_at
        if self.pages.currentWidget() is self._lineup_page and not self.lineup.keep_to(
            self._session.findings
        ):
            self.open(None)
        there = findings.refusal is None
        for one in self.cards.values():
            one.setEnabled(there)
        if there and self.name is None:
            marked = self._marked(findings)
            for one in self.cards.values():
                one.draw(findings, marked)
        elif there:
            self._show_full(findings)
        else:
            for one in self.cards.values():
                one.plot.draw(None)
            self.extra.show_doubt(None)

    def show_words(self) -> None:
        """Judge the six, or the one that is open."""
        findings = self.looked_at
        if findings.refusal is not None:
            return
        for doubt in findings.doubts:
            self.cards[doubt.name].judge(findings, doubt)
            if doubt.name == self.name:
                self._badge.show_verdict(doubt.verdict)
        self.extra.show_doubt(self.name)

    def show_mark(self) -> None:
        """Ring the marked rows."""
        findings = self.looked_at
        if findings.refusal is not None:
            return
        if self.name is None:
            marked = self._marked(findings)
            for one in self.cards.values():
                one.draw(findings, marked)
        elif self.full.has_tether:
            self.full.show_mark(self._session.mark)

    @property
    def view(self) -> str:
        """The doubt that is open, or none."""
        return self.name or ""

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        for one in self.cards.values():
            one.plot.restyle(tokens)
            one.badge.tokens = tokens
        self._badge.tokens = tokens
        if self.full.has_tether:
            self.full.restyle(tokens)

    def _board_page(self) -> QWidget:
        page, grid, row = QWidget(), QGridLayout(), QHBoxLayout()
        for at, one in enumerate(self.cards.values()):
            one.opened.connect(self.open)
            grid.addWidget(one, at // 3, at % 3)
        grid.setSpacing(10)
        row.addWidget(label("Six doubts about this line", "heading"))
        row.addStretch()
        self.whose = choice(
            "Whose residuals", {False: "of the line alone", True: "with columns held"}, self._look_at
        )
        self.whose.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.whose.setMaximumWidth(320)
        self._deal = button("Try the lineup", self.try_lineup)
        row.addWidget(self.whose)
        row.addWidget(self._deal)
        box = QVBoxLayout(page)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(row)
        box.addLayout(grid, 1)
        return page

    def _full_page(self) -> QWidget:
        self._question = label(kind="heading", name="question")
        self._condition = label(kind="quiet", name="condition")
        self._modes, self._choosers = Flow(), QButtonGroup(self)
        self.standard = button("Standardised", self._session.ask, "small")
        self.standard.setCheckable(True)
        head = QHBoxLayout()
        head.addWidget(button("All six", lambda: self.open(None), "small"))
        head.addWidget(self._question)
        head.addWidget(self._condition)
        head.addWidget(self._badge)
        head.addStretch()
        box = QVBoxLayout()
        box.setContentsMargins(14, 10, 10, 10)
        box.addLayout(head)
        box.addLayout(self._modes)
        box.addWidget(self.full, 1)
        return card(box)

    def _offer_modes(self, name: str) -> None:
        self._modes.removeWidget(self.standard)
        emptied(self._modes)
        self.mode = MODES[name][0]
        for mode in MODES[name]:
            words = MODE_TITLES[mode]
            chooser = button(words, partial(self._show_mode, mode), "small", f"Show {words.lower()}")
            chooser.setCheckable(True)
            chooser.setChecked(mode == self.mode)
            self._choosers.addButton(chooser)
            self._modes.addWidget(chooser)
        if name == "shape":
            for key, words in (("width", "bin width"), ("start", "from")):
                field = QLineEdit()
                field.setFixedWidth(64)
                field.setPlaceholderText(words)
                field.setAccessibleName(f"Residuals: {words}")
                field.editingFinished.connect(self._keep_bins)
                self.bins[key] = field
                self._modes.addWidget(field)
        self._modes.addWidget(self.standard)
        self.standard.show()

    def _show_mode(self, mode: str) -> None:
        self.mode = mode
        self._session.ask()

    def _show_full(self, findings: Findings) -> None:
        name = self.name or ""
        self._question.setText(QUESTIONS[name])
        self._condition.setText(CONDITIONS[name])
        self.standard.setEnabled(self._can_be_standard)
        held = findings.tether.view.bins.get(RESIDUAL)
        for field, value in zip(self.bins.values(), () if held is None else (held[1], held[0]), strict=False):
            if not field.hasFocus():
                field.setText(d.entered(value))
        axes = sketch_axes(findings, self.mode, self._standard)
        shown = _sketch(findings, self.mode, self._standard)
        self.full.show_sketch(
            findings, shown, axes, self._session.mark, (self.name, self.mode, self._standard)
        )

    @property
    def _can_be_standard(self) -> bool:
        return self.mode.startswith(("residual", "size"))

    @property
    def _standard(self) -> bool:
        return self._can_be_standard and self.standard.isChecked()

    def _keep_bins(self) -> None:
        """Bins of the residuals by hand, in the study; two blank fields go back to the rule."""
        typed = {name: field.text().strip() for name, field in self.bins.items()}
        numbers = {name: as_number(text) for name, text in typed.items()}
        findings, session = self.looked_at, self._session
        if findings.refusal is not None:
            return
        found = None
        if typed["width"]:
            found = typed_bins(findings.fit.weighted_in_units, numbers["width"], numbers["start"])
            if found is None:
                session.notice(
                    f"“{typed['width']}” is no width for bins of these residuals: give a number above 0."
                )
                return
        session.do(changes.bin_by_hand(session.history.study, session.tether, RESIDUAL, found))
        self.show_findings()

    def _marked(self, findings: Findings) -> Ints:
        """Places among the pairs, rising, of the marked rows; of very many every so many-th."""
        ids = self._session.mark.ids
        return (
            places_of(findings, RowIds.rising(ids[:: max(1, ids.size // _MOST_RINGS)])) if ids.size else ids
        )


def _sketch(findings: Findings, mode: str, standardised: bool) -> Sketch:
    """A mode as the tether wants it: bins by hand where they make sense for these residuals."""
    held = findings.tether.view.bins.get(RESIDUAL) if mode == "histogram" else None
    bins = None
    if held is not None and not findings.fit.exact:
        bins = typed_bins(findings.fit.weighted_in_units, held[1], held[0])
    return findings.sketch(mode, standardised=standardised, bins=bins)


def _held(widget: QWidget) -> QVBoxLayout:
    box = QVBoxLayout()
    box.setContentsMargins(14, 10, 10, 10)
    box.addWidget(widget)
    return box
