"""The table of Doubts."""

from __future__ import annotations

from bright_tether.live.findings import Findings
from bright_tether.live.longer import LongerFindings
from bright_tether.study.pins import Grid
from bright_tether.words.readings.doubts import number
from bright_tether.words.readings.unanswered import CONDITIONS, QUESTIONS


def doubts_grid(findings: Findings) -> Grid:
    """Each doubt with its number, its verdict and what was answered."""
    reasons = (
        {}
        if isinstance(findings, LongerFindings)
        else {one.doubt: one.reason for one in findings.tether.answers}
    )
    rows = []
    for name, question in QUESTIONS.items():
        doubt = findings.doubt(name)
        rows.append(
            (
                f"{question} ({CONDITIONS[name]})",
                number(findings, doubt),
                doubt.verdict.value,
                reasons.get(name, ""),
            )
        )
    return Grid(
        title="Doubts", heads=("doubt", "what was found", "verdict", "let stand because"), rows=tuple(rows)
    )
