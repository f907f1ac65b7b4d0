"""The rows in play, in words."""

from __future__ import annotations

from bright_tether.claims.claim import NamedRow
from bright_tether.claims.rows import ChoiceClaim, RowsClaim
from bright_tether.core.pairs import Pairs
from bright_tether.far.share import share_of
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.said import Said, listed

#: Rows named one by one in a sentence.
_NAMED = 4


def in_play(pairs: Pairs) -> str:
    """How many rows are used: 64 of 71 rows."""
    return f"{d.grouped(pairs.n)} of {d.count(pairs.rows, 'row')}"


def out_of_play(findings: Findings) -> tuple[str, ...]:
    """Why the other rows are not used, one line a reason; they add up."""
    pairs, lines = findings.counted, share_in_words(findings)
    if not pairs.rows:
        return ("no rows yet",)
    if pairs.missing:
        lines.append(f"{d.count(pairs.missing, 'row')} without a number")
    if pairs.filtered_out:
        lines.append(f"{d.count(pairs.filtered_out, 'row')} filtered out")
    if pairs.zero_weight:
        lines.append(f"{d.count(pairs.zero_weight, 'row')} of weight 0")
    if pairs.set_aside:
        reasons = findings.tether.asides.among(findings.table.row_ids).reasons
        named = ", ".join(f"“{reason}”" for reason in reasons)
        lines.append(f"{d.grouped(pairs.set_aside)} set aside: {named}")
    return tuple(lines) if pairs.n < pairs.rows else (*lines, "every row is in play")


def share_in_words(findings: Findings) -> list[str]:
    """Of what the table is a share; nothing where it is whole."""
    share = share_of(findings.table)
    if share is None:
        return []
    if share.rows == share.of:
        return [f"all {d.count(share.of, 'row')} of a table that stays where it is"]
    return [f"a share of {d.count(share.of, 'row')}, drawn by chance (seed {share.seed})"]


def rows_sentence(claim: RowsClaim) -> Said:
    """All rows accounted for in one sentence."""
    parts = [f"{d.count(claim.n, 'row')} in play"]
    parts += [f"{d.grouped(claim.missing)} without a number"] if claim.missing else []
    parts += [f"{d.grouped(claim.set_aside)} set aside"] if claim.set_aside else []
    parts += [f"{d.grouped(claim.filtered_out)} filtered out"] if claim.filtered_out else []
    parts += [f"{d.grouped(claim.zero_weight)} of weight 0"] if claim.zero_weight else []
    return Said(f"Of {d.count(claim.rows, 'row')}: {', '.join(parts)}.", claim)


def rows_in_words(rows: tuple[NamedRow, ...]) -> str:
    """Rows as the analyst knows them: row 7 (B03), rows 7 and 9, rows 1, 2, 3, 4 and 5 more."""
    if len(rows) == 1:
        return f"row {_named(rows[0])}"
    shown, more = [_named(one) for one in rows[:_NAMED]], len(rows) - _NAMED
    return f"rows {', '.join(shown)} and {d.grouped(more)} more" if more > 0 else f"rows {listed(shown)}"


def _named(row: NamedRow) -> str:
    return f"{row.row} ({row.label})" if row.label else str(row.row)


def one_row_sentence(findings: Findings) -> tuple[Said, ...]:
    """What one row is, where the analyst said it; averages are named as such."""
    words = findings.tether.one_row
    if not words:
        return ()
    averaged = any(word in words.lower() for word in ("mean of", "average", "median of"))
    more = ": the line is one for averages, and single cases scatter more widely" if averaged else ""
    return (Said(f"Each pair is {words}{more}.", ChoiceClaim(what="one_row", value=words)),)
