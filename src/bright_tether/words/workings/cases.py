"""The working of coefficients that are judged by case."""

from __future__ import annotations

from bright_tether.core.results import Decider
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.reading import Step

_LETTERS = {"pearson": "r", "spearman": "ρ", "kendall": "τ"}


def by_case_steps(findings: Findings, name: Decider, fine: int) -> tuple[Step, ...]:
    """From what a coefficient is without each case to its interval and test."""
    found, one = findings.by_case, findings.in_force(name)
    assert found is not None
    letter, level = _LETTERS[name], d.level_in_words(findings.rules.level)
    left_out = "case" if found.parts == found.cases else "set of cases"
    steps = []
    if one.ci is None:
        steps.append(Step("interval", f"none: {cause(one.why.get('ci'))}", d.NONE))
    else:
        how = f"tanh(atanh {letter} ± t·spread), {level}; spread: of atanh {letter} without each {left_out} in turn"
        steps.append(Step("interval by case", how, d.coefficients(one.ci, fine)))
        steps.append(Step(f"{left_out}s", "left out in turn; t on one fewer df", d.grouped(found.parts)))
    if one.statistic is None:
        return (*steps, Step("test", f"none: {cause(one.why.get('t'))}", d.NONE))
    how = "of the slope, by errors by case" if name == "pearson" else f"atanh {letter} / spread"
    steps.append(Step("test by case", f"t {how}, {d.grouped(one.df)} df", d.figure(one.statistic, fine)))
    steps.append(Step("p", f"area of t on {d.grouped(one.df)} df", d.p_in_digits(one.p)))
    return tuple(steps)
