"""Doubts that travel: clear signs that nothing answers, said wherever the line is used."""

from __future__ import annotations

from bright_tether.claims.doubts import DoubtsInForceClaim, RestsClaim
from bright_tether.claims.tether import claims_of
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.reading import names_of
from bright_tether.words.readings.decision import LETTERS
from bright_tether.words.readings.origin import origin_missed
from bright_tether.words.readings.rows import rows_in_words
from bright_tether.words.readings.values import recurring_sentences
from bright_tether.words.said import Said, listed

QUESTIONS = {
    "bend": "Is there a bend?",
    "spread": "Do the residuals grow?",
    "order": "Are neighbours alike?",
    "shape": "Are the residuals lopsided?",
    "far-out": "Rows far out?",
    "pull": "Rows that pull?",
}
#: The trade's name of the condition that each doubt is about.
CONDITIONS = {
    "bend": "linearity",
    "spread": "constant spread (homoscedasticity)",
    "order": "independence",
    "shape": "normality",
    "far-out": "outliers",
    "pull": "leverage and influence",
}
#: The same where there is little room.
FIGURE_NAMES = CONDITIONS | {"spread": "constant spread", "pull": "influence"}


def asked(name: str) -> str:
    """A doubt inside a sentence: do the residuals grow."""
    return QUESTIONS[name].rstrip("?").lower()


def travelling(findings: Findings, line: str = "the line") -> tuple[Said, ...]:
    """What whoever uses the line must know, whatever for. line : what it is called beside others."""
    claims, names, digits = (
        claims_of(findings),
        names_of(findings.x_column, findings.y_column),
        findings.rules.digits,
    )
    return (
        *origin_missed(claims.origin, names, digits),
        *rests_sentence(claims.rests, digits),
        *recurring_sentences(claims.recurring, names),
        *in_force_sentence(claims.in_force, line),
    )


def rests_on(claim: RestsClaim, digits: int) -> str:
    """Inside a sentence: on row 41, without which r is +0.055 (p = 0.733)."""
    return f"on {rows_in_words(claim.rows)}, without which {_left(claim, digits)}"


def _left(claim: RestsClaim, digits: int) -> str:
    if claim.p is None or claim.statistic is None:
        return "nothing is left to be tested"
    p = ("" if claim.alternative == "two-sided" else "one-sided ") + d.p_value(claim.p)
    if claim.test == "slope":
        return f"t of the slope is {d.figure(claim.statistic, digits)} ({p})"
    return f"{LETTERS[claim.test]} is {d.coefficient(claim.statistic, digits)} ({p})"


def headline_resting(said: Said, claim: RestsClaim | None, digits: int) -> Said:
    """A headline about the decision with the rows that it rests on, where it does on some."""
    if claim is None:
        return said
    return Said(f"{said.removesuffix('.')}, but that rests {rests_on(claim, digits)}.", *said.claims, claim)


def rests_sentence(claim: RestsClaim | None, digits: int) -> tuple[Said, ...]:
    """Rows without which the decision would be another, for wherever it is used."""
    if claim is None:
        return ()
    turned = claim.p is not None and claim.p <= claim.alpha
    what = "Which way the relationship goes" if turned else "That there is a relationship at all"
    if not claim.rejected:
        what = "That no relationship is shown"
    return (Said(f"{what} rests {rests_on(claim, digits)}.", claim),)


def in_force_sentence(claim: DoubtsInForceClaim, line: str) -> tuple[Said, ...]:
    """Clear signs that nothing answers, for wherever the line is used."""
    return (Said(not_answered(claim.names, line), claim),) if claim.names else ()


def not_answered(names: tuple[str, ...], line: str) -> str:
    """These doubts about this line."""
    one = len(names) == 1
    return (
        f"{'A clear sign' if one else 'Clear signs'} against {line} {'is' if one else 'are'} not answered: "
        f"{listed(FIGURE_NAMES[name] for name in names)}. See the step Doubts."
    )
