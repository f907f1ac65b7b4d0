"""The decision in words, worked out from p, α and the alternative."""

from __future__ import annotations

from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.causes import cause

NAMES = {"pearson": "r", "spearman": "ρ", "kendall": "τ", "slope": "t of the slope"}


def decision_sentence(findings: Findings) -> str:
    """Which test decides, between what, and how it came out; H0 is never accepted."""
    made, digits = findings.decision, findings.rules.digits
    between = f"{made.h0} against {made.h1}"
    if made.reject is None:
        return f"No decision between {between}: {cause(made.why['reject'])}."
    name = NAMES[made.test]
    show = d.figure if made.test == "slope" else d.coefficient
    value, limit = show(made.statistic, digits), show(made.critical, digits).lstrip("+")
    sign = {"two-sided": "±", "greater": "+", "less": "−"}[made.alternative]
    place = "reaches" if made.reject else "does not reach"
    outcome = f"{made.h0} does not stand" if made.reject else f"these data are compatible with {made.h0}"
    return (
        f"Decided by {name}, {between} at α = {made.alpha:g}: {value} {place} {sign}{limit} "
        f"({d.p_value(made.p)}), so {outcome}."
    )
