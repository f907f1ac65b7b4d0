"""Doubts that travel: clear signs that nothing answers, said wherever the line is used."""

from __future__ import annotations

from bright_tether.live.findings import Findings

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


def unanswered_sentence(findings: Findings) -> tuple[str, ...]:
    """Clear signs that nothing answers, for wherever the line is used."""
    named = [QUESTIONS[one.name].rstrip("?").lower() for one in findings.unanswered]
    if not named:
        return ()
    return (f"A doubt with a clear sign is not answered: {', '.join(named)}. See the step Doubts.",)
