"""What can be done about a doubt: each previewed beside the present line, then taken or left."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from bright_tether.claims.rows import row_ids
from bright_tether.core.doubts.verdicts import Doubt, Verdict
from bright_tether.core.results import Refusal
from bright_tether.desktop.parts.asked import Asked
from bright_tether.desktop.parts.long_run import LongRun
from bright_tether.desktop.parts.widgets import button, emptied, label
from bright_tether.desktop.session import Session
from bright_tether.live.findings import Findings
from bright_tether.live.longer import doubted
from bright_tether.study import changes
from bright_tether.study.edits import Edit
from bright_tether.study.memory import Memory
from bright_tether.study.remedies import Remedy, remedies
from bright_tether.study.study import Study
from bright_tether.words import digits as d
from bright_tether.words.causes import refusal
from bright_tether.words.readings.doubts import BEYOND_REMEDIES, seen_sentence
from bright_tether.words.readings.remedy import remedy_sentence


class Remedies(QWidget):
    """Below the reading of one doubt: what could have been seen, and what could be done."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.name: str | None = None
        self._tried: str | None = None
        self._offers, self._effect = (Asked(self, lambda: self.show_doubt(self.name)) for _ in range(2))
        self.run = LongRun("what could be seen")
        self.run.ended.connect(lambda _: self.show_doubt(self.name))
        self._about = label(kind="section")
        self._seen = label(kind="quiet", wrap=True, name="what could be seen")
        self._box = QVBoxLayout()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 4, 0, 0)
        for piece in (self._about, self.run, self.run.stop, self._seen):
            outer.addWidget(piece)
        outer.addLayout(self._box)
        outer.addWidget(self._answer_row())

    def _answer_row(self) -> QWidget:
        """Where a reason is typed; it stays while what stands above it is made anew."""
        self._row, self._reason = QWidget(), QLineEdit()
        #: The doubt that the reason answers, and the one that stands.
        self._answers: object = None
        self._reason.setPlaceholderText("reason to let it stand")
        self._reason.setAccessibleName("Reason to let the doubt stand")
        self._reason.returnPressed.connect(self._stand)
        row = QHBoxLayout(self._row)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self._reason, 1)
        row.addWidget(button("Let it stand", self._stand, "small"))
        self._row.hide()
        return self._row

    def show_doubt(self, name: str | None) -> None:
        """Show what belongs to one doubt, or nothing."""
        if name != self.name:
            self._tried = None
        self.name = name
        emptied(self._box)
        findings = doubted(self._session.findings)
        there = name is not None and not findings.refusal and not findings.fit.exact
        self._about.setVisible(there)
        if name is None or not there:
            self._offers.drop()
            self._effect.drop()
            self.run.follow(None)
            self._row.hide()
            self._seen.hide()
            return
        self._about.setText(f"What could {d.grouped(findings.pairs.n)} rows have shown?")
        seen = self.run.follow(findings.seen(name), at_once=self._session.in_place)
        self._seen.setText(seen_sentence(seen) if seen is not None and seen.whole else "")
        self._seen.setVisible(bool(self._seen.text()))
        doubt = findings.doubt(name)
        if findings is not self._session.findings:
            self._box.addWidget(
                label("What could be done is offered for the line alone.", "quiet", wrap=True)
            )
        elif doubt.verdict in (Verdict.CLEAR, Verdict.SOME):
            self._offer(findings, doubt)
            self._row.show()
            return
        self._row.hide()

    def _offer(self, findings: Findings, doubt: Doubt) -> None:
        session, name = self._session, doubt.name
        study, tether = session.history.study, session.tether
        self._box.addWidget(label("What could be done", "section"))
        if name in BEYOND_REMEDIES:
            self._box.addWidget(label(BEYOND_REMEDIES[name], "quiet", wrap=True, name="what errors can do"))
        of = (study, findings.study, tether.id, name)

        def offered(study: Study) -> tuple[Remedy, ...]:
            return remedies(study, study.tether(tether.id), name, row_ids(findings, doubt.rows))

        def take(remedy: Remedy) -> None:
            def make(now: Study) -> Edit:
                if now is study:
                    return remedy.edit
                return next(one.edit for one in offered(now) if one.words == remedy.words)

            self._tried = None
            session.do_made(make)

        offers = self._offers.answer(of, lambda: offered(study), at_once=session.in_place)
        if offers is None:
            waiting = self._offers.trouble or "working out what could be done…"
            self._box.addWidget(label(waiting, "quiet", wrap=True))
        for remedy in offers or ():
            try_it = button(remedy.words, partial(self._try, remedy), "small", f"Try: {remedy.words}")
            try_it.setCheckable(True)
            try_it.setChecked(remedy.words == self._tried)
            self._box.addWidget(try_it)
            if remedy.words == self._tried:
                said = self._effect.answer(
                    (of, remedy.words),
                    partial(_effect_of, study, findings, remedy),
                    at_once=session.in_place,
                )
                self._preview(
                    remedy, take, said or self._effect.trouble or "working out what it would change…"
                )
        stands = next((one.reason for one in tether.answers if one.doubt == name), "")
        if self._answers != (answers := (tether.id, name, stands)):
            self._answers = answers
            self._reason.setText(stands)

    def _preview(self, remedy: Remedy, take: Callable[[Remedy], object], said: str) -> None:
        self._box.addWidget(label(said, wrap=True, name="what the remedy changes"))
        row = QHBoxLayout()
        row.addWidget(button("Take it", partial(take, remedy), "main", f"Take: {remedy.words}"))
        row.addWidget(button("Leave it", lambda: self._try(None), "small"))
        row.addStretch()
        self._box.addLayout(row)

    def _try(self, remedy: Remedy | None) -> None:
        self._tried = None if remedy is None or remedy.words == self._tried else remedy.words
        self._effect.drop()
        self.show_doubt(self.name)

    def _stand(self) -> None:
        session, reason = self._session, self._reason.text().strip()
        session.do(changes.answer_doubt(session.history.study, session.tether, self.name or "", reason))


def _effect_of(study: Study, present: Findings, remedy: Remedy) -> str:
    """What a remedy would change, in words; why not, where there would be no line."""
    after = remedy.edit.apply(study)
    try:
        return remedy_sentence(present, Findings(after, after.tether(present.tether.id), Memory()))
    except Refusal as found:
        return refusal(found)
