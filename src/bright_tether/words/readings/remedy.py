"""What a remedy would change, beside the present line."""

from __future__ import annotations

from bright_tether.core.doubts.verdicts import Verdict
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.readings.unanswered import QUESTIONS

_RANK = {Verdict.NO: 0, Verdict.FEW: 0, Verdict.SOME: 1, Verdict.CLEAR: 2}


def remedy_sentence(present: Findings, after: Findings) -> str:
    """Slope and interval before and after, doubts lifted and doubts brought."""
    parts = [f"Slope {_slope(present)} → {_slope(after)}"]
    if after.tether.line.errors != present.tether.line.errors:
        parts[0] += f", by {after.tether.line.errors} errors"
    lifted, brought = [], []
    for before, now in zip(present.doubts, after.doubts, strict=True):
        named = QUESTIONS[before.name].rstrip("?").lower()
        answered = after.answer_to(before.name) and not present.answer_to(before.name)
        if _RANK[now.verdict] < _RANK[before.verdict] or (answered and _RANK[before.verdict]):
            lifted.append(named)
        elif _RANK[now.verdict] > _RANK[before.verdict]:
            brought.append(named)
    parts.append(f"lifts or answers: {', '.join(lifted)}" if lifted else "lifts no doubt")
    parts.append(f"brings: {', '.join(brought)}" if brought else "brings none")
    return "; ".join(parts) + "."


def _slope(findings: Findings) -> str:
    line, by = findings.line, findings.coefficients
    finest = d.decimals_for(by.se_slope, findings.rules.digits, line.slope)
    return f"{d.fixed(line.slope, finest)} ({d.between(by.ci_slope, finest)})"
