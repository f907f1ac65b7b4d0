"""The step Rehearse: samples drawn live, luck alone, broken assumptions, how many pairs."""

from __future__ import annotations

from functools import cached_property
from typing import Any

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QFont
from PyQt6.QtWidgets import QProgressBar, QSpinBox, QWidget

from bright_tether.core.rehearse.draws import Draws
from bright_tether.core.rehearse.held import HeldDraws
from bright_tether.desktop.background import Progress, Work
from bright_tether.desktop.parts.entries import named
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.grids import FiguresTable, figures_table, fill_grid
from bright_tether.desktop.parts.one_line import OneLine
from bright_tether.desktop.parts.sampling import SamplingEntries
from bright_tether.desktop.parts.widgets import button, label, stacked
from bright_tether.desktop.session import Session
from bright_tether.desktop.steps.stage import StageOfViews
from bright_tether.live.findings import Findings
from bright_tether.live.rehearse import BROKEN, TRIED
from bright_tether.pictures.planning import BrokenPicture, PlanPicture
from bright_tether.pictures.rehearse import LuckPicture, SamplesPicture
from bright_tether.pictures.rehearse_held import HeldSamplesPicture
from bright_tether.pictures.sure import sure
from bright_tether.study import changes, table_changes
from bright_tether.study.declared import Task
from bright_tether.theme.tokens import Tokens
from bright_tether.words.grids.rehearse import broken_grid
from bright_tether.words.readings.rehearse import sample_sentence

#: Values up to which samples are drawn without being asked for.
_AT_ONCE_VALUES = 20_000_000
#: Milliseconds between two looks at a growing pile.
_LOOK_AGAIN = 40
#: Of each view: its picture; each but the first is made when it is first shown.
_PICTURES = {
    "samples": "samples",
    "held": "held",
    "luck": "luck",
    "assumptions": "broken",
    "pairs": "planned",
}


class RehearseStep(StageOfViews):
    """Samples are drawn off the interface thread; the pile is looked at as it grows."""

    step_id = "rehearse"

    def __init__(self, session: Session, tokens: Tokens, font: QFont) -> None:
        super().__init__(session)
        #: Of each view: what its run gave, whole or stopped, and the task that it ran.
        self.outcomes: dict[str, Any] = {}
        self._tasks: dict[str, Task[Any]] = {}
        self._latest: Any = None
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
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setFixedHeight(6)
        self.bar.hide()
        self.work.progressed.connect(self._progressed)
        self._running = ""
        self.said = label("", wrap=True, name="rehearse note")
        self.said.hide()
        self._tokens, self._font = tokens, font
        self.samples = SamplesPicture(tokens, font, "Samples picture")
        self.stepper = self._stepper()
        self.fill(
            lambda: stacked(self.samples, self.stepper, tall=0), lambda: self.held, lambda: self.luck,
            lambda: stacked(self.table, self.broken), lambda: self.planned,
        )  # fmt: skip
        self.line = OneLine(self.folding(), self.go, more=self.entries, chooser=self.chooser)
        self.lay_out(self.line, self.said, self.bar, self.pages, tall=self.pages)

    @cached_property
    def held(self) -> HeldSamplesPicture:
        """Slopes of samples with other columns held."""
        return HeldSamplesPicture(self._tokens, self._font, "Samples with others held picture")

    @cached_property
    def luck(self) -> LuckPicture:
        """What r comes from luck alone."""
        return LuckPicture(self._tokens, self._font, "Luck picture")

    @cached_property
    def table(self) -> FiguresTable:
        """How often an interval holds where an assumption is broken."""
        table = figures_table("Broken assumptions")
        sure(table.verticalHeader()).hide()
        table.setFixedHeight(198)
        return table

    @cached_property
    def broken(self) -> BrokenPicture:
        """The same, drawn."""
        return BrokenPicture(self._tokens, self._font, "Broken assumptions picture")

    @cached_property
    def planned(self) -> PlanPicture:
        """How many pairs find what is there."""
        return PlanPicture(self._tokens, self._font, "Plan picture")

    @property
    def picture(self) -> QWidget:
        """The picture of the view."""
        picture: QWidget = getattr(self, _PICTURES[self.view])
        return picture

    def show_findings(self) -> None:
        """Bring the view up to date; samples of something else are drawn anew."""
        findings = self.findings
        self._offer_held(findings)
        view = self.view
        self.entries.refresh(view)
        there = self._rehearsable(findings)
        self.entries.setEnabled(there)
        if not there:
            self._let_go()
            self.outcomes.clear()
            self._tasks.clear()
        elif not (task := self._task(findings, view)).same(self._tasks.get(view)):
            self._let_go()
            self._tasks[view] = task
            self.outcomes.pop(view, None)
            self.sample = None
            if self._values(findings) <= _AT_ONCE_VALUES:
                self.start()
        self._draw()

    def _offer_held(self, findings: Findings) -> None:
        """The view of columns held, where any are; another step takes them off."""
        held = findings.tied and bool(findings.held_cells)
        sure(self.chooser).offer("held", held)
        self.line.fit()
        if not held and self.view == "held":
            self.show_view("samples")

    def run_so_far(self) -> Any:
        """What the view's run gave, as far as it has come."""
        if self.view in self.outcomes:
            return self.outcomes[self.view]
        return self._latest if self.view == self._running else None

    def restyle(self, tokens: Tokens) -> None:
        """Take the colours of a theme."""
        self._tokens = tokens
        for picture in self.made(*_PICTURES.values()):
            picture.restyle(tokens)
        self._draw()

    def toggle(self) -> None:
        """Start, or stop and keep what there is."""
        if self.work.busy:
            self.work.stop()
        elif self._drawn_whole:
            self.draw_again()
        else:
            self.start()

    @property
    def _drawn_whole(self) -> bool:
        drawn = self.outcomes.get(self.view)
        return isinstance(drawn, Draws | HeldDraws) and drawn.done == self.findings.tether.rehearse.draws

    def draw_again(self) -> None:
        """Draw from the next seed: other samples of the same truth."""
        session = self._session
        seed = session.tether.rehearse.seed + 1
        session.do(
            changes.change_choice(session.history.study, session.tether, "rehearse", "Draw again", seed=seed)
        )

    def keep_samples(self) -> None:
        """Bring the samples' lines in as a table of their own."""
        drawn, session = self.outcomes.get("samples"), self._session
        if not isinstance(drawn, Draws) or drawn.done < 2:
            session.notice("There are no samples yet: draw some in the first view.")
            return
        from bright_tether.core.rehearse.sampling import drawn_values

        columns = {f"{name} of a sample": values for name, values in drawn_values(drawn).items()}
        name = f"{drawn.done} samples, seed {drawn.seed}"
        session.do_and_show(*table_changes.add_table(session.history.study, name, columns))
        session.show_step("gather")

    def start(self) -> None:
        """Draw what the view asks for."""
        findings, view = self.findings, self.view
        if not self._rehearsable(findings):
            return
        self._let_go()
        self._running = view
        self.outcomes.pop(view, None)
        self.bar.setRange(0, self._whole(findings))
        self.bar.setValue(0)
        self.bar.setHidden(self._values(findings) <= _AT_ONCE_VALUES)
        self.go.setText("Stop")
        self.line.fit()
        self._looker.start()
        task = self._tasks[view] = self._task(findings, view)

        def run(progress: Progress) -> Any:
            return _with_intervals(findings, task.run(progress))

        self.work.start(run, basis=view)

    def step_to(self, sample: int | None) -> None:
        """Look at one sample by itself, from 0; None for your own."""
        so_far = self.run_so_far()
        most = so_far.done if isinstance(so_far, Draws) else 0
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
            sure(widget).setAccessibleName("Sample to look at")
        self.which.valueChanged.connect(lambda at: self.step_to(at - 1 if at else None))
        held = QWidget()
        back = button("◀", lambda: self.which.setValue(self.which.value() - 1), "small", "Previous sample")
        on = button("▶", lambda: self.which.setValue(self.which.value() + 1), "small", "Next sample")
        self.here = label("", "quiet", wrap=False, name="sample looked at")
        row = Flow(named("look at sample", self.which), back, on, self.here)
        held.setLayout(row)
        return held

    def _task(self, findings: Findings, view: str) -> Task[Any]:
        run = self.step.view(view).run
        assert run is not None
        return run(findings)

    def _rehearsable(self, findings: Findings) -> bool:
        return findings.refusal is None and not findings.plain.exact

    def _whole(self, findings: Findings) -> int:
        many = findings.tether.rehearse.draws
        return {"assumptions": many * len(BROKEN), "pairs": TRIED}.get(self.view, many)

    def _values(self, findings: Findings) -> int:
        n = (findings.plan.needed or 0) if self.view == "pairs" else findings.truth.n
        return self._whole(findings) * n

    def _take(self, outcome: Any, view: str) -> None:
        """The task filed it under what it was made from, whatever is on the stage by now."""
        self.outcomes[view] = outcome
        self._rest()
        if self.isVisible():  # else the next look at the step holds it against what there is then
            self.step_to(self.sample)
            self._session.ask()

    def _progressed(self, so_far: Any) -> None:
        grown = isinstance(so_far, Draws | HeldDraws)
        if grown:
            self._latest = so_far
        self.bar.setValue(so_far.done if grown else so_far)

    def _fail(self, error: object) -> None:
        self._rest()
        self._say(f"It could not be done: {error}.")

    def _let_go(self) -> None:
        """Drop a run; its view draws anew when it is shown again."""
        if self.work.busy:
            self._tasks.pop(self._running, None)
        self.work.drop()
        self._latest = None
        self._rest()

    def _rest(self) -> None:
        self._looker.stop()
        self.bar.hide()
        self.go.setText("Draw again" if self._drawn_whole else "Draw")
        self.line.fit()

    def _say(self, words: str) -> None:
        self.said.setText(words)
        self.said.setHidden(not words)

    def _draw(self) -> None:
        findings, so_far = self.findings, self.run_so_far()
        there = self._rehearsable(findings)
        self.pages.setVisible(there)  # what stood there was drawn from other rows
        if not there:
            self.samples.draw(findings, None, None)
            return
        if self.view == "samples":
            self.samples.draw(findings, so_far, self.sample)
            self.here.setText(sample_sentence(findings, so_far, self.sample))
        elif self.view == "held":
            self.held.draw(findings, so_far)
        elif self.view == "luck":
            self.luck.draw(findings, so_far)
        elif self.view == "assumptions":
            self.broken.draw(findings, so_far)
            fill_grid(self.table, broken_grid(findings, so_far or ()))
        else:
            self.planned.draw(findings, so_far)


def _with_intervals(findings: Findings, outcome: Any) -> Any:
    """The run, with the intervals of a whole run over rows made ready beside it."""
    by_rows = isinstance(outcome, Draws) and outcome.by_rows and not outcome.by_cases
    if by_rows and outcome.done == findings.tether.rehearse.draws:
        _ = findings.bootstrapped.outcome
    return outcome
