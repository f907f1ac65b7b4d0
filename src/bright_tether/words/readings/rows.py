"""The rows in play, in words."""

from __future__ import annotations

from collections import Counter

from bright_tether.core.pairs import Pairs
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d


def in_play(pairs: Pairs) -> str:
    """How many rows are used: 64 of 71 rows."""
    return f"{d.grouped(pairs.n)} of {d.count(pairs.rows, 'row')}"


def out_of_play(findings: Findings) -> tuple[str, ...]:
    """Why the other rows are not used, one line a reason; they add up."""
    pairs, lines = findings.counted, []
    if not pairs.rows:
        return ("no rows yet",)
    if pairs.missing:
        lines.append(f"{d.count(pairs.missing, 'row')} without a number")
    if pairs.filtered_out:
        lines.append(f"{d.count(pairs.filtered_out, 'row')} filtered out")
    if pairs.zero_weight:
        lines.append(f"{d.count(pairs.zero_weight, 'row')} of weight 0")
    places = findings.table.places(aside.row for aside in findings.tether.asides)
    present = {int(row) for row in findings.table.row_ids[places]}
    reasons = Counter(a.reason for a in findings.tether.asides if a.row in present)
    named = ", ".join(f"“{reason}”" for reason in reasons)
    if pairs.set_aside:
        lines.append(f"{pairs.set_aside} set aside: {named}")
    return tuple(lines) or ("every row is in play",)


def rows_sentence(pairs: Pairs) -> str:
    """All rows accounted for in one sentence."""
    parts = [f"{d.count(pairs.n, 'row')} in play"]
    parts += [f"{pairs.missing} without a number"] if pairs.missing else []
    parts += [f"{pairs.set_aside} set aside"] if pairs.set_aside else []
    parts += [f"{pairs.filtered_out} filtered out"] if pairs.filtered_out else []
    parts += [f"{pairs.zero_weight} of weight 0"] if pairs.zero_weight else []
    return f"Of {d.count(pairs.rows, 'row')}: {', '.join(parts)}."


def one_row_sentence(findings: Findings) -> tuple[str, ...]:
    """What one row is, where the analyst said it; averages are named as such."""
    words = findings.tether.one_row
    if not words:
        return ()
    averaged = any(word in words.lower() for word in ("mean of", "average", "median of"))
    more = ": the line is one for averages, and single cases scatter more widely" if averaged else ""
    return (f"Each pair is {words}{more}.",)
