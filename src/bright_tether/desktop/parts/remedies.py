"""What can be done about a doubt: each previewed beside the present line, then taken or left."""

from __future__ import annotations

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
        again, fail = (lambda: self.show_doubt(self.name)), session.notice
        self._offers, self._effect = Asked(self, again, fail), Asked(self, again, fail)
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
            self.run.follow(None)
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

    def _offer(self, findings: Findings, doubt: Doubt) -> None:
        session, name = self._session, doubt.name
        study, tether = session.history.study, session.tether
        self._box.addWidget(label("What could be done", "section"))
        if name in BEYOND_REMEDIES:
            self._box.addWidget(label(BEYOND_REMEDIES[name], "quiet", wrap=True, name="what errors can do"))
        of = (study, findings.study, tether.id, name)
        offers = self._offers.answer(
            of,
            lambda: remedies(study, tether, name, row_ids(findings, doubt.rows)),
            at_once=session.in_place,
        )
        if offers is None:
            self._box.addWidget(label("working out what could be done…", "quiet"))
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
                self._preview(remedy, said or "working out what it would change…")
        stands = next((one.reason for one in session.tether.answers if one.doubt == name), "")
        row, field = QHBoxLayout(), QLineEdit(stands)
        field.setPlaceholderText("reason to let it stand")
        field.setAccessibleName("Reason to let the doubt stand")
        field.returnPressed.connect(lambda: self._stand(field.text().strip()))
        row.addWidget(field, 1)
        row.addWidget(button("Let it stand", lambda: self._stand(field.text().strip()), "small"))
        self._box.addLayout(row)

    def _preview(self, remedy: Remedy, said: str) -> None:
        self._box.addWidget(label(said, wrap=True, name="what the remedy changes"))
        row = QHBoxLayout()
        row.addWidget(button("Take it", lambda: self._take(remedy), "main", f"Take: {remedy.words}"))
        row.addWidget(button("Leave it", lambda: self._try(None), "small"))
        row.addStretch()
        self._box.addLayout(row)

    def _try(self, remedy: Remedy | None) -> None:
        self._tried = None if remedy is None or remedy.words == self._tried else remedy.words
        self._effect.drop()
        self.show_doubt(self.name)

    def _take(self, remedy: Remedy) -> None:
        self._tried = None
        self._session.do_made(lambda study: remedy.edit)

    def _stand(self, reason: str) -> None:
        session = self._session
        session.do(changes.answer_doubt(session.history.study, session.tether, self.name or "", reason))


def _effect_of(study: Study, present: Findings, remedy: Remedy) -> str:
    """What a remedy would change, in words; why not, where there would be no line."""
    after = remedy.edit.apply(study)
    try:
        return remedy_sentence(present, Findings(after, after.tether(present.tether.id), Memory()))
    except Refusal as found:
        return refusal(found)
