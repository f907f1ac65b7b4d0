"""What may be said of a slope that is let differ along another column."""

from __future__ import annotations

from typing import ClassVar, Literal

import msgspec

from bright_tether.claims.claim import Claim
from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings
from bright_tether.live.held import AlongLine

AlongVerdict = Literal["differs", "not shown", "exact"]


class AtPlaceFact(msgspec.Struct, frozen=True, kw_only=True):
    """The slope where the other column has one value, or in one level of it."""

    place: float | None
    level: str
    slope: float | None
    low: float | None
    high: float | None


class SlopeAlongClaim(Claim, frozen=True, kw_only=True):
    """Whether the slope of x differs along a column, by p against α. difference : per unit of it, None of a category.

    f on df1 and df2 tests one slope for all. at : the slopes at its quartiles, or in each level.
    """

    kind: ClassVar[str] = "slope_along"
    along: str
    difference: float | None
    f: float | None
    p: float | None
    df1: int
    df2: int
    alpha: float
    at: tuple[AtPlaceFact, ...]
    n: int
    verdict: AlongVerdict

    @property
    def shown(self) -> tuple[AtPlaceFact, ...]:
        """Where a slope is shown by its own interval, the lowest first."""
        clear = (
            one for one in self.at if one.low is not None and one.high is not None and one.low * one.high > 0
        )
        return tuple(sorted(clear, key=lambda one: one.slope or 0.0))

    @property
    def turns(self) -> bool:
        """Whether the slope is told to differ, and is shown to fall at one place and to rise at another."""
        ends = [one.slope or 0.0 for one in (self.shown[:1] + self.shown[-1:])]
        return self.verdict == "differs" and len(ends) == 2 and ends[0] < 0 < ends[1]


def along_of(findings: Findings) -> AlongLine | None:
    """The slope along the chosen column; None where none is chosen, or where it cannot be told."""
    if not findings.held_along:
        return None
    try:
        return findings.along_line
    except Refusal:
        return None


def slope_along_claim(line: AlongLine, alpha: float) -> SlopeAlongClaim:
    """By the joint test of every difference."""
    found = line.along
    names = line.levels or ("",) * len(found.places)
    at = tuple(
        AtPlaceFact(place=one.place, level=name, slope=one.slope.slope,
                    low=None if one.slope.ci_slope is None else one.slope.ci_slope[0],
                    high=None if one.slope.ci_slope is None else one.slope.ci_slope[1])
        for name, one in zip(names, found.places, strict=True)
    )  # fmt: skip
    return SlopeAlongClaim(
        along=line.short, difference=None if found.difference is None else found.difference.slope, f=found.f, p=found.p,
        df1=found.df1, df2=found.df2, alpha=alpha, at=at, n=found.n,
        verdict="exact" if found.p is None else "differs" if found.p <= alpha else "not shown",
    )  # fmt: skip
