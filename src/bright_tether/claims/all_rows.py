"""What may be said of all rows of a table beside the share of them that is at hand."""

from __future__ import annotations

from contextlib import suppress
from typing import ClassVar, Literal

from bright_tether.claims.claim import Claim
from bright_tether.core.line.errors import ErrorKind
from bright_tether.core.results import Interval, Refusal
from bright_tether.live.all_rows import AllRows, errors_of_all
from bright_tether.live.findings import Findings

#: From so many pairs on a slope of no importance is told from 0 as a rule.
SIZE_COUNTS = 100_000


class AllRowsClaim(Claim, frozen=True, kw_only=True):
    """The slope of all pairs, with its interval by these errors, and the share's by the same.

    held : whether the share's interval holds the slope of all pairs; None where either is missing.
    size_counts : 100 000 pairs or more, of which the slope is told from 0.
    """

    kind: ClassVar[str] = "all_rows"
    n: int
    rows: int
    missing: int
    set_aside: int
    filtered_out: int
    level: float
    errors: ErrorKind
    slope: float | None
    interval: Interval | None
    p: float | None
    share_n: int
    share_slope: float | None
    share_interval: Interval | None
    held: Literal["holds", "misses"] | None
    size_counts: bool


class AllRowsStrengthClaim(Claim, frozen=True, kw_only=True):
    """r of all pairs, and of the share."""

    kind: ClassVar[str] = "all_rows_strength"
    r: float | None
    share_r: float | None


class ShareOfRowsClaim(Claim, frozen=True, kw_only=True):
    """What rests on the share. mends : its cells that were changed since they were drawn, which the whole has not.

    errors : those in force in the share where sums of all rows cannot have them, and HC3 stand for them; else None.
    plain : whether weights, the origin or held columns are in force in the share, which sums of all rows leave out.
    """

    kind: ClassVar[str] = "share_of_rows"
    rows: int
    of: int
    mends: int
    plain: bool
    errors: ErrorKind | None


def all_rows_claim(findings: Findings, found: AllRows) -> AllRowsClaim | None:
    """What all rows say; None where they gave nothing."""
    far = found.far
    if far is None:
        return None
    errors = errors_of_all(findings)
    whole = far.coefficients
    share_slope: float | None = None
    share_interval: Interval | None = None
    with suppress(Refusal):
        line = findings.plain_line
        share_slope = line.slope
        share_interval = line.ci_slope if errors == "classical" else line.robust[errors].ci_slope
    slope = far.line.slope
    held: Literal["holds", "misses"] | None = None
    if share_interval is not None and slope is not None:
        held = "holds" if share_interval[0] <= slope <= share_interval[1] else "misses"
    alpha = findings.rules.alpha
    p = whole.p_slope
    return AllRowsClaim(
        n=far.pairs.n, rows=far.pairs.rows, missing=far.pairs.missing, set_aside=far.pairs.set_aside,
        filtered_out=far.pairs.filtered_out, level=findings.rules.level, errors=errors, slope=slope,
        interval=whole.ci_slope, p=p, share_n=findings.pairs.n, share_slope=share_slope,
        share_interval=share_interval, held=held,
        size_counts=far.pairs.n >= SIZE_COUNTS and p is not None and p <= alpha,
    )  # fmt: skip


def all_rows_strength_claim(findings: Findings, found: AllRows) -> AllRowsStrengthClaim | None:
    """r of both; None where all rows gave nothing."""
    if found.far is None:
        return None
    share = None
    with suppress(Refusal):
        share = findings.pearson.r
    return AllRowsStrengthClaim(r=found.far.pearson.r, share_r=share)


def share_of_rows_claim(findings: Findings, found: AllRows) -> ShareOfRowsClaim:
    """What rests on the share."""
    tether = findings.tether
    plain = not tether.line.origin and findings.pairs.weights is None and not tether.held.columns
    chosen = tether.line.errors
    return ShareOfRowsClaim(rows=found.share.rows, of=found.share.of, mends=len(findings.table.mends), plain=plain,
                            errors=None if chosen == errors_of_all(findings) else chosen)  # fmt: skip
