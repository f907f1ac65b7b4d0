"""What the step Rehearse is asked: where samples come from, what is counted, what is planned."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from bright_tether.core.rehearse.kinds import PURPOSES, STATISTICS, Judged
from bright_tether.desktop.parts.entries import choice, count, named, number
from bright_tether.desktop.parts.flow import Flow
from bright_tether.desktop.parts.widgets import put_in
from bright_tether.desktop.session import Session
from bright_tether.pictures.sure import sure
from bright_tether.study import changes
from bright_tether.tables.cells import as_number
from bright_tether.tables.column import shown
from bright_tether.words.readings.planning import JUDGED_NAMES
from bright_tether.words.readings.rehearse import DESIGNS, SOURCES
from bright_tether.words.readings.rehearsed import PATTERNS, SHAPES, STATISTIC_NAMES

_PURPOSES = {
    "slope half-width": "the slope, this finely",
    "mean half-width": "a mean, this finely",
    "case half-width": "one new case, this finely",
    "slope power": "power to find a slope",
    "r power": "power to find an r",
}
_MOST_DRAWS = 1_000_000
#: Of fields that hold few digits, in pixels.
_WIDTHS = {"n": 58, "alike": 52}


class SamplingEntries(QWidget):
    """Every entry takes effect at once and is one change of the study. refused : an entry that cannot be."""

    refused = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        put = self._put
        self.source = choice("Draw from", SOURCES, lambda v: put("Draw from", source=v))
        self.statistic = choice(
            "Count the", {name: STATISTIC_NAMES[name] for name in STATISTICS},
            lambda v: put("Count the", statistic=v),
        )  # fmt: skip
        judged: dict[Judged | None, str] = {
            None: "errors in force",
            **{kind: f"{words} errors" for kind, words in JUDGED_NAMES.items()},
        }
        self.judged = choice("Intervals by", judged, lambda v: put("Intervals by", judged=v))
        self.draws = count("Samples", 2, _MOST_DRAWS, lambda v: put("Samples", draws=v))
        self.seed = count("Seed of the samples", 0, 2**31 - 1, lambda v: put("Seed of the samples", seed=v))
        self.truth: dict[str, Any] = {
            name: number(f"True {words}", partial(self._number, name), _WIDTHS.get(name, 78))
            for name, words in (("intercept", "intercept"), ("slope", "slope"), ("sd", "sd of the residuals"),
                                ("n", "number of pairs"), ("alike", "likeness of neighbours"))
        }  # fmt: skip
        for name, items in (("shape", SHAPES), ("pattern", PATTERNS), ("design", DESIGNS)):
            words = {"shape": "Residuals are", "pattern": "Residuals have", "design": "x is"}[name]
            self.truth[name] = choice(words, items, partial(self._put_one, words, name))
        self.purpose = choice("Plan for", {p: _PURPOSES[p] for p in PURPOSES}, self._plan_for)
        self.goal = number("Goal", lambda text: self._number("goal", text))
        self.effect = number("True effect", lambda text: self._number("effect", text))
        self.effect_named = named("of size", self.effect)
        self._first = Flow(
            self.source, self.statistic, self.judged, self.purpose, self.goal, self.effect_named,
            named("samples", self.draws), named("seed", self.seed),
        )  # fmt: skip
        named_so = ("intercept", "slope", "sd", "pairs", "alike")
        fields = [named(word, field) for word, field in zip(named_so, self.truth.values(), strict=False)]
        chosen = [self.truth[name] for name in ("shape", "pattern", "design")]
        self.stated = QWidget()
        self.stated.setLayout(Flow(*fields, *chosen))
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.addLayout(self._first)
        box.addWidget(self.stated)

    def refresh(self, view: str) -> None:
        """Show what is chosen, as far as the view asks for it."""
        findings = self._session.findings
        chosen = findings.tether.rehearse
        samples, plan, held = view == "samples", view == "pairs", view == "held"
        no_interval = chosen.statistic in ("r", "r2")
        for field, there in (
            (self.source, view not in ("luck", "pairs")), (self.statistic, samples),
            (self.judged, (held or (samples and not no_interval)) and chosen.source != "rows"),
            (self.purpose, plan), (self.goal, plan),
            (self.effect_named, plan and chosen.purpose.endswith("power")),
            (self.stated, chosen.source == "truth" and view not in ("luck", "pairs")),
            (self.draws.parentWidget(), not plan),
        ):  # fmt: skip
            sure(field).setHidden(not there)
        chosen_of = [(self.truth[name], getattr(chosen, name)) for name in ("shape", "pattern", "design")]
        chosen_of += [(self.source, chosen.source), (self.statistic, chosen.statistic)]
        chosen_of += [(self.judged, chosen.judged), (self.purpose, chosen.purpose)]
        for field, key in chosen_of:
            field.setCurrentIndex(max(field.findData(key), 0))
        self.draws.setValue(chosen.draws)
        self.seed.setValue(chosen.seed)
        if findings.refusal is not None or findings.plain.exact:
            return
        for name in ("intercept", "n", "design"):  # what is held belongs to the rows as they are
            sure(self.truth[name] if name == "design" else self.truth[name].parentWidget()).setHidden(held)
        truth, wish = (findings.held_truth if held else None) or findings.truth, findings.wish
        texts = {"intercept": truth.intercept, "slope": truth.slope, "sd": truth.sd, "n": truth.n,
                 "alike": truth.alike}  # fmt: skip
        for name, value in texts.items():
            put_in(self.truth[name], shown(float(f"{value:.5g}")) if name != "n" else str(value))
        goal = 100 * wish.goal if chosen.purpose.endswith("power") else wish.goal
        put_in(self.goal, shown(float(f"{goal:.6g}")))
        self.goal.setAccessibleDescription("power in per cent" if goal != wish.goal else "half-width")
        put_in(self.effect, shown(float(f"{wish.effect:.6g}")))

    def _plan_for(self, purpose: object) -> None:
        self._put("Plan for", purpose=purpose, goal=None, effect=None)

    def _number(self, name: str, text: str) -> None:
        chosen = self._session.tether.rehearse
        value = as_number(text) if text else None
        wrong = ""
        if text and value is None:
            wrong = "Type a number."
        elif value is not None and name == "sd" and value <= 0:
            wrong = "The sd of the residuals must be above 0."
        elif value is not None and name == "n" and (value != int(value) or not 3 <= value <= 1_000_000):
            wrong = "A sample has from 3 to a million pairs, as a whole number."
        elif value is not None and name == "alike" and not -0.99 <= value <= 0.99:
            wrong = "The likeness of neighbours lies between −0.99 and 0.99."
        elif value is not None and name == "goal":
            power = chosen.purpose.endswith("power")
            if power and not 100 * self._session.findings.rules.alpha < value < 100:
                wrong = "A power lies between α and 100 %."
            elif value <= 0:
                wrong = "A half-width must be above 0."
            value = value / 100 if power else value
        elif value is not None and name == "effect":
            if value == 0:
                wrong = "An effect of 0 is no effect: there is nothing to find."
            elif chosen.purpose == "r power" and not -1 < value < 1:
                wrong = "r lies between −1 and 1."
        if wrong:
            self.refused.emit(wrong)
            return
        self.refused.emit("")
        if name == "alike":
            value = value or 0.0
        if name == "n" and value is not None:
            value = int(value)
        field: Any = self.truth.get(name) or getattr(self, name)
        if not field.isModified():
            return
        field.setModified(False)
        self._put(field.accessibleName(), **{name: value})

    def _put_one(self, words: str, name: str, value: object) -> None:
        self._put(words, **{name: value})

    def _put(self, words: str, **fields: object) -> None:
        session = self._session
        session.do(changes.change_choice(session.history.study, session.tether, "rehearse", words, **fields))
