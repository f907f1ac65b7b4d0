"""The decision in words, worked out from p, α and the alternative."""

from __future__ import annotations

from bright_tether.core.decision import Decision
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.causes import cause

NAMES = {"pearson": "r", "spearman": "ρ", "kendall": "τ", "slope": "t of the slope"}


_PARAMETERS = {"pearson": "ρ", "spearman": "ρ_s", "kendall": "τ", "slope": "β"}
_SIGNS = {"two-sided": "≠", "greater": ">", "less": "<"}


def hypotheses(decision: Decision) -> tuple[str, str]:
    """H0 and H1 as relations."""
    name, null = _PARAMETERS[decision.test], f"{decision.null:.15g}"
    return f"{name} = {null}", f"{name} {_SIGNS[decision.alternative]} {null}"


def decision_sentence(findings: Findings) -> str:
    """Which test decides, between what, and how it came out; H0 is never accepted."""
    made, digits = findings.decision, findings.rules.digits
    null, other = hypotheses(made)
    between = f"{null} against {other}"
    if made.reject is None:
        return f"No decision between {between}: {cause(made.why['reject'])}."
    name = NAMES[made.test]
    show = d.figure if made.test == "slope" else d.coefficient
    value, limit = show(made.statistic, digits), show(made.critical, digits).lstrip("+")
    sign = {"two-sided": "±", "greater": "+", "less": "−"}[made.alternative]
    place = "reaches" if made.reject else "does not reach"
    outcome = f"{null} does not stand" if made.reject else f"these data are compatible with {null}"
    return (
        f"Decided by {name}, {between} at α = {made.alpha:g}: {value} {place} {sign}{limit} "
        f"({d.p_value(made.p)}), so {outcome}."
    )
