"""The step Rehearse: samples drawn live, luck alone, broken assumptions, how many pairs."""

from __future__ import annotations

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QButtonGroup, QProgressBar, QSpinBox, QStackedWidget, QVBoxLayout, QWidget

from bright_tether.core.rehearse.draws import Draws
from bright_tether.desktop.parts.entries import named
from bright_tether.desktop.parts.flow import Flow, choice_of
from bright_tether.desktop.parts.pieces import button, card, label, stacked
from bright_tether.desktop.parts.sampling import SamplingEntries
from bright_tether.desktop.parts.tables import figures_table, fill_grid
from bright_tether.desktop.session import Session
from bright_tether.desktop.work import Work
from bright_tether.live.findings import Findings
from bright_tether.live.memory import same_inputs
from bright_tether.live.rehearse import BROKEN, TRIED
from bright_tether.look.tokens import Tokens
from bright_tether.pictures.planning import BrokenPicture, PlanPicture
from bright_tether.pictures.rehearse import LuckPicture, SamplesPicture
from bright_tether.words.grids.rehearse import broken_grid
from bright_tether.words.reading import Reading, Working
from bright_tether.words.readings.rehearse import (
    ASSUMPTIONS,
    LUCK,
    PLAN,
    REHEARSE_VIEWS,
    SAMPLES,
    rehearse_reading,
    rehearse_working,
)

#: Values up to which samples are drawn without being asked for.
_AT_ONCE_VALUES = 20_000_000
#: Milliseconds between two looks at a growing pile.
_LOOK_AGAIN = 40


class RehearseStep(QWidget):
    """Samples are drawn off the interface thread; the pile is looked at as it grows."""

    extra = None

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__()
        self.setObjectName("stagePage")
        self._session = session
        self.view = SAMPLES
        self.made: dict[str, object] = {}
        self._basis: dict[str, tuple[object, ...]] = {}
        self._latest: object = None
        self.sample: int | None = None
        self.work = Work(self)
        self.work.done.connect(self._take)
        self.work.failed.connect(self._fail)
        self._looker = QTimer(self)
        self._looker.setInterval(_LOOK_AGAIN)
        self._looker.timeout.connect(self._draw)
        self.entries = SamplingEntries(session)
        self.entries.refused.connect(self._say)
        self.go = button("Draw", self.toggle, "small", "Draw samples")
        self.entries.add(self.go)
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setFixedHeight(6)
        self.bar.hide()
        self.work.progressed.connect(self.bar.setValue)
        self._running = ""
        self.said = label("", wrap=True, name="rehearse note")
        self.said.hide()
        self.samples = SamplesPicture(tokens, font, "Samples picture")
        self.luck = LuckPicture(tokens, font, "Luck picture")
        self.broken = BrokenPicture(tokens, font, "Broken assumptions picture")
        self.planned = PlanPicture(tokens, font, "Plan picture")
        self.table = figures_table("Broken assumptions")
        self.table.verticalHeader().hide()
        self.table.setFixedHeight(198)
        self._choosers, self.pages = QButtonGroup(self), QStackedWidget()
        choice = choice_of(REHEARSE_VIEWS, self._choosers, self.show_view)
        self.stepper = self._stepper()
        self.pages.addWidget(stacked(self.stepper, self.samples))
        self.pages.addWidget(self.luck)
        self.pages.addWidget(stacked(self.table, self.broken))
        self.pages.addWidget(self.planned)
        column = QVBoxLayout()
        column.setContentsMargins(14, 10, 10, 10)
        column.addLayout(choice)
        column.addWidget(self.entries)
        column.addWidget(self.said)
        column.addWidget(self.bar)
        column.addWidget(self.pages, 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(card(column))

    @property
    def picture(self) -> QWidget:
        """The picture of the view."""
        return {SAMPLES: self.samples, LUCK: self.luck, ASSUMPTIONS: self.broken, PLAN: self.planned}[
            self.view
        ]

    def show_view(self, view: str) -> None:
        """Show one of the four."""
        self.view = view
        at = REHEARSE_VIEWS.index(view)
        self._choosers.button(at).setChecked(True)
        self.pages.setCurrentIndex(at)
        self._session.findings_changed.emit()

    def show_findings(self) -> None:
        """Bring the view up to date; samples of something else are drawn anew."""
        findings = self._session.findings
        self.entries.refresh(self.view)
        there = findings.refusal is None and not findings.plain.exact
        self.entries.setEnabled(there)
        if not there:
            self._let_go()
            self.made.clear()
            self._basis.clear()
        elif not same_inputs(self._basis.get(self.view, ()), basis := self._basis_of(findings)):
            self._let_go()
            self._basis[self.view] = basis
            self.made.pop(self.view, None)
            self.sample = None
            if self._values(findings) <= _AT_ONCE_VALUES:
                self.start()
        self._draw()

    def show_mark(self) -> None:
        """Samples have no rows to ring."""

    def reading(self) -> Reading:
        """What this view says, as far as its run has come."""
        return rehearse_reading(self._session.findings, self.view, self._present())

    def workings(self) -> tuple[Working, ...]:
        """The formula that the run is held against."""
        return rehearse_working(self._session.findings, self.view)

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        for picture in (self.samples, self.luck, self.broken, self.planned):
            picture.restyle(tokens)
        self._draw()

    def toggle(self) -> None:
        """Start, or stop and keep what there is."""
        if self.work.busy:
            self.work.stop()
        else:
            self.start()

    def start(self) -> None:
        """Draw what the view asks for."""
        findings, view = self._session.findings, self.view
        if findings.refusal is not None or findings.plain.exact:
            return
        self._let_go()
        self._running = view
        self.made.pop(view, None)
        self.bar.setRange(0, self._whole(findings))
        self.bar.setValue(0)
        self.bar.setHidden(self._values(findings) <= _AT_ONCE_VALUES)
        self.go.setText("Stop")
        self._looker.start()

        def watched(progress):
            def watch(so_far: Draws) -> bool:
                self._latest = so_far
                return progress(so_far.done)

            return watch

        runs = {
            SAMPLES: lambda progress: _with_intervals(findings, findings.draw(watched(progress))),
            LUCK: lambda progress: findings.luck(watched(progress)),
            ASSUMPTIONS: findings.break_all,
            PLAN: findings.try_plan,
        }
        self.work.start(lambda progress: runs[view](progress), basis=(findings, view))

    def step_to(self, sample: int | None) -> None:
        """Look at one sample by itself, from 0; None for your own."""
        made = self._present()
        most = made.done if isinstance(made, Draws) else 0
        self.sample = None if sample is None or not 0 <= sample < most else sample
        self.which.blockSignals(True)
        self.which.setRange(0, most)
        self.which.setValue(0 if self.sample is None else self.sample + 1)
        self.which.blockSignals(False)
        self._draw()

    def _stepper(self) -> QWidget:
        self.which = QSpinBox()
        self.which.setButtonSymbols(QSpinBox.ButtonSymbols.NoButtons)
        self.which.setSpecialValueText("yours")
        for widget in (self.which, self.which.lineEdit()):
            widget.setAccessibleName("Sample to look at")
        self.which.valueChanged.connect(lambda at: self.step_to(at - 1 if at else None))
        held = QWidget()
        back = button("◀", lambda: self.which.setValue(self.which.value() - 1), "small", "Previous sample")
        on = button("▶", lambda: self.which.setValue(self.which.value() + 1), "small", "Next sample")
        self.here = label("", "quiet", wrap=False, name="sample looked at")
        row = Flow(named("look at sample", self.which), back, on, self.here)
        held.setLayout(row)
        return held

    def _basis_of(self, findings: Findings) -> tuple[object, ...]:
        chosen, level = findings.tether.rehearse, findings.rules.level
        if self.view == SAMPLES:
            rows = chosen.source == "rows"
            return (findings.plain, findings.truth, rows, chosen.draws, chosen.seed, findings.judged)
        if self.view == LUCK:
            return (findings.pairs, chosen.draws, chosen.seed)
        if self.view == ASSUMPTIONS:
            stated = (chosen.intercept, chosen.slope, chosen.sd, chosen.n) if chosen.source == "truth" else ()
            return (findings.plain, stated, chosen.draws, chosen.seed, level)
        return (findings.plan, chosen.seed)

    def _whole(self, findings: Findings) -> int:
        many = findings.tether.rehearse.draws
        return {ASSUMPTIONS: many * len(BROKEN), PLAN: TRIED}.get(self.view, many)

    def _values(self, findings: Findings) -> int:
        n = (findings.plan.needed or 0) if self.view == PLAN else findings.truth.n
        return self._whole(findings) * n

    def _present(self) -> object:
        if self.view in self.made:
            return self.made[self.view]
        return self._latest if self.view == self._running else None

    def _take(self, made: object, basis: tuple[Findings, str]) -> None:
        """File a run under what it was made from, whatever is on the stage by now."""
        findings, view = basis
        self.made[view] = made
        keep = {SAMPLES: findings.keep_drawn, ASSUMPTIONS: findings.keep_broken, PLAN: findings.keep_tried}
        if view in keep:
            keep[view](made)
        self._rest()
        if self.isVisible():  # else the next look at the step holds it against what there is then
            self.step_to(self.sample)
            self._session.findings_changed.emit()

    def _fail(self, error: object) -> None:
        self._rest()
        self._say(f"It could not be done: {error}.")

    def _let_go(self) -> None:
        """Drop a run; its view draws anew when it is shown again."""
        if self.work.busy:
            self._basis.pop(self._running, None)
        self.work.drop()
        self._latest = None
        self._rest()

    def _rest(self) -> None:
        self._looker.stop()
        self.bar.hide()
        self.go.setText("Draw")

    def _say(self, words: str) -> None:
        self.said.setText(words)
        self.said.setHidden(not words)

    def _draw(self) -> None:
        findings, made = self._session.findings, self._present()
        there = findings.refusal is None and not findings.plain.exact
        self.pages.setVisible(there)  # what stood there was drawn from other rows
        if not there:
            self.samples.draw(findings, None, None)
            return
        if self.view == SAMPLES:
            self.samples.draw(findings, made, self.sample)
            self.here.setText(self._sample_in_words(made))
        elif self.view == LUCK:
            self.luck.draw(findings, made)
        elif self.view == ASSUMPTIONS:
            self.broken.draw(findings, made)
            fill_grid(self.table, broken_grid(findings, made or ()))
        else:
            self.planned.draw(findings, made)

    def _sample_in_words(self, made: object) -> str:
        if self.sample is None or not isinstance(made, Draws):
            return "bright: your line and your value; dashed: the truth"
        one = self._session.findings.sampled(made)
        value = "" if one is None else f"{one.values[self.sample]:.5g}"
        caught = ""
        if one is not None and one.low.size:
            inside = one.low[self.sample] <= one.truth <= one.high[self.sample]
            caught = ", its interval caught the truth" if inside else ", its interval missed the truth"
        shown = "" if self.sample < len(made.samples_x) else "; its points are not kept"
        return f"plum: sample {self.sample + 1}, {value}{caught}{shown}".replace("-", "−")


def _with_intervals(findings: Findings, made: Draws) -> Draws:
    """The run, with the intervals of a whole run over rows made ready beside it."""
    if made.by_rows and made.done == findings.tether.rehearse.draws:
        _ = findings.bootstrapped
    return made
