"""What may be said of when the rows were taken."""

from __future__ import annotations

from typing import ClassVar

from bright_tether.claims.claim import Claim
from bright_tether.live.findings import Findings


class TimingClaim(Claim, frozen=True, kw_only=True):
    """When the rows in play were taken, by one date column; moments in seconds since 1970-01-01.

    step : the one that at least half of all steps have, else null; median : of all steps; alike : steps of that length
    among moments − 1. gaps : steps longer than 1.5 usual ones, longest : from and to. shared : rows at a moment that
    another row has too. zones : those stated behind the times, "" for a time without one.
    """

    kind: ClassVar[str] = "timing"
    column: str
    first: float
    last: float
    moments: int
    step: float | None
    median: float | None
    alike: int
    gaps: int
    longest: tuple[float, float] | None
    shared: int
    zones: tuple[str, ...]


def timing_claim(findings: Findings) -> TimingClaim | None:
    """Of the date that is x, else of the one that orders the rows, else of the table's only one; None without one."""
    column, found = findings.timed_by, findings.timing
    if column is None or found is None:
        return None
    return TimingClaim(
        column=column.short, first=found.first, last=found.last, moments=found.moments, step=found.step,
        median=found.median, alike=found.alike, gaps=found.gaps, longest=found.longest, shared=found.shared,
        zones=findings.zones,
    )  # fmt: skip
