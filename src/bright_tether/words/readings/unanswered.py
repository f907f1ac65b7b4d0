"""Doubts that travel: clear signs that nothing answers, said wherever the line is used."""

from __future__ import annotations

from bright_tether.live.findings import Findings

QUESTIONS = {
    "bend": "Is there a bend?",
    "spread": "Do the misses grow?",
    "order": "Are neighbours alike?",
    "shape": "Are the misses lopsided?",
    "far-out": "Rows far out?",
    "pull": "Rows that pull?",
}


def unanswered_sentence(findings: Findings) -> tuple[str, ...]:
    """Clear signs that nothing answers, for wherever the line is used."""
    named = [QUESTIONS[one.name].rstrip("?").lower() for one in findings.unanswered]
    if not named:
        return ()
    return (f"A doubt with a clear sign is not answered: {', '.join(named)}. See the step Doubts.",)
