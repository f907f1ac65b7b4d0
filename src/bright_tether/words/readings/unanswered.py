"""Doubts that travel: clear signs that nothing answers, said wherever the line is used."""

from __future__ import annotations

from bright_tether.claims.doubts import DoubtsInForceClaim
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


def in_force_sentence(claim: DoubtsInForceClaim) -> tuple[Said, ...]:
    """Clear signs that nothing answers, for wherever the line is used."""
    if not claim.names:
        return ()
    named = listed(FIGURE_NAMES[name] for name in claim.names)
    one = len(claim.names) == 1
    return (
        Said(
            f"{'A clear sign' if one else 'Clear signs'} against the line {'is' if one else 'are'} not answered: "
            f"{named}. See the step Doubts.",
            claim,
        ),
    )
