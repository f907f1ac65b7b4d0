"""A line held through the origin: what the data say of that, and of themselves."""

from __future__ import annotations

from typing import ClassVar, Literal

from bright_tether.claims.claim import Claim
from bright_tether.claims.decision import slope_p
from bright_tether.claims.doubts import DoubtClaim
from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings


class OriginClaim(Claim, frozen=True, kw_only=True):
    """The line in force goes through the origin: where it would stand at x = 0, and its slope, if it were left free.

    low, high, p : of that intercept, by the errors in force; None where they have no value or nothing is left over.
    bend : p of a squared term beside an intercept. together : whether the slope left free is shown, by its two-sided
    p_slope against 0, on the side of the one held; else that one says only on which side of 0 y lies.
    """

    kind: ClassVar[str] = "origin"
    intercept: float
    low: float | None
    high: float | None
    level: float
    p: float | None
    alpha: float
    slope: float
    held_slope: float
    bend: float | None
    p_slope: float | None
    together: bool
    verdict: Literal["misses", "compatible", "untested"]

    @property
    def other_way(self) -> bool:
        """Whether the slope left free is shown, and goes against the one held."""
        return not self.together and (self.p_slope is None or self.p_slope <= self.alpha)


class LeftFreeClaim(Claim, frozen=True, kw_only=True):
    """A doubt about the line with an intercept, where the one in force goes through the origin."""

    kind: ClassVar[str] = "left_free"
    name: str
    verdict: str
    p: float | None
    size: float | None


def origin_claim(findings: Findings, *, together: bool) -> OriginClaim | None:
    """What holding the line through the origin comes to; None of other lines."""
    free, held = findings.left_free, findings.line.slope
    if free is None or held is None:
        return None
    try:
        line, by, bend = free.line, free.coefficients, free.checks.curvature.p
    except Refusal:  # errors in force that this line has none of
        return None
    if line.intercept is None or line.slope is None:
        return None
    p, alpha = by.p_intercept, findings.rules.alpha
    verdict: Literal["misses", "compatible", "untested"] = "untested"
    if p is not None:
        verdict = "misses" if p <= alpha else "compatible"
    elif free.fit.exact and not findings.fit.exact:
        verdict = "misses"
    low, high = (None, None) if p is None else by.ci_intercept or (None, None)
    return OriginClaim(
        intercept=line.intercept, low=low, high=high, level=findings.rules.level, p=p, alpha=alpha, slope=line.slope,
        held_slope=held, bend=bend, p_slope=slope_p(free), together=together, verdict=verdict,
    )  # fmt: skip


def as_seen(findings: Findings, doubt: DoubtClaim) -> Claim:
    """A doubt as it stands beside what is said of the data: through the origin it is one of another line."""
    if findings.left_free is None:
        return doubt
    return LeftFreeClaim(name=doubt.name, verdict=doubt.verdict, p=doubt.p, size=doubt.size)
