"""What may be said of the fitted line."""

from __future__ import annotations

import math
from typing import ClassVar, Literal

import numpy as np

from bright_tether.claims.claim import Claim
from bright_tether.claims.decision import ChangeClaim
from bright_tether.core.results import Cause
from bright_tether.live.findings import Findings, zero_is_near

#: Above this, x varies by less than a millionth of its size.
_FAR_OFFSET = 12.0
#: Up to this many pairs one row can carry the line.
FEW_PAIRS = 6


class IntervalClaim(Claim, frozen=True, kw_only=True):
    """An interval at a level. of : what of. exact : all residuals are zero, so it says nothing of certainty."""

    kind: ClassVar[str] = "interval"
    of: str
    value: float | None
    low: float | None
    high: float | None
    level: float
    exact: bool = False


class ShareClaim(Claim, frozen=True, kw_only=True):
    """The share that goes with x. of : the spread in y, the weighted spread, or Σy² through the origin."""

    kind: ClassVar[str] = "share"
    value: float | None
    of: Literal["the spread", "the weighted spread", "Σy²"]


class InterceptClaim(Claim, frozen=True, kw_only=True):
    """The line at x = 0. inside : 0 lies within the measured x; near : or not far beyond. edge : the nearest x."""

    kind: ClassVar[str] = "intercept"
    value: float
    low: float | None
    high: float | None
    level: float
    inside: bool
    near: bool
    edge: float


class OwnScaleClaim(Claim, frozen=True, kw_only=True):
    """The change by a line in logs, carried back to the columns as they were measured.

    factor : what x is multiplied by, 2, or 1.1 where what was measured spans less; None where x grows by step.
    times : value, low and high are what y is multiplied by, of its geometric means; else how much more it is.
    """

    kind: ClassVar[str] = "own_scale"
    factor: float | None
    step: float
    times: bool
    value: float
    low: float | None
    high: float | None
    level: float


class MattersClaim(Claim, frozen=True, kw_only=True):
    """The slope's interval against the smallest slope that matters."""

    kind: ClassVar[str] = "matters"
    least: float
    low: float
    high: float
    verdict: Literal["matters", "too small", "cannot tell"]


class PossibleClaim(Claim, frozen=True, kw_only=True):
    """The line or its interval leaves what y can be, within the measured x."""

    kind: ClassVar[str] = "possible"
    what: Literal["line", "interval"]
    side: Literal["below", "above"]
    limit: float


class FewClaim(Claim, frozen=True, kw_only=True):
    """So few pairs that one row can carry the line, or so few cases. df : degrees of freedom left for the residuals.

    cases : where cases decide, how many they are.
    """

    kind: ClassVar[str] = "few"
    n: int
    df: int
    cases: int | None = None


class ExactLineClaim(Claim, frozen=True, kw_only=True):
    """Every pair lies on one line."""

    kind: ClassVar[str] = "exact_line"
    n: int
    slope: float


class OffsetClaim(Claim, frozen=True, kw_only=True):
    """x varies by very little beside its size."""

    kind: ClassVar[str] = "offset"
    log10_condition: float


class LevelClaim(Claim, frozen=True, kw_only=True):
    """y does not vary."""

    kind: ClassVar[str] = "level_line"
    value: float
    n: int


def slope_interval(findings: Findings) -> IntervalClaim:
    """The slope's interval by the errors in force."""
    by, line = findings.coefficients, findings.line
    low, high = by.ci_slope or (None, None)
    return IntervalClaim(
        of="slope", value=line.slope, low=low, high=high, level=line.level, exact=findings.fit.exact
    )


def share_claim(findings: Findings) -> ShareClaim:
    """r² under its right name."""
    of: Literal["the spread", "the weighted spread", "Σy²"] = "the spread"
    if findings.fit.origin:
        of = "Σy²"
    elif findings.fit.weights is not None:
        of = "the weighted spread"
    return ShareClaim(value=findings.line.r2, of=of)


def intercept_claim(findings: Findings) -> InterceptClaim | None:
    """The intercept and where it lies; None for a line through the origin, or level for want of spread."""
    line, x = findings.line, findings.x_summary
    if line.intercept is None or x.min is None or x.max is None:
        return None
    low, high = findings.coefficients.ci_intercept or (None, None)
    return InterceptClaim(
        value=line.intercept, low=low, high=high, level=line.level, inside=x.min <= 0 <= x.max,
        near=zero_is_near(x.min, x.max), edge=x.min if x.min > 0 else x.max,
    )  # fmt: skip


def matters_claim(findings: Findings) -> MattersClaim | None:
    """Whether the size matters, not only whether it is not 0."""
    least, ci = findings.tether.line.matters, findings.coefficients.ci_slope
    if least is None or ci is None:
        return None
    low, high = ci
    verdict: Literal["matters", "too small", "cannot tell"] = "cannot tell"
    if low >= least or high <= -least:
        verdict = "matters"
    elif -least < low and high < least:
        verdict = "too small"
    return MattersClaim(least=least, low=low, high=high, verdict=verdict)


def own_scale_claim(findings: Findings, change: ChangeClaim | None) -> OwnScaleClaim | None:
    """What the slope is without the logs, where one is shown and at least one axis has one; None of roots."""
    x, y = findings.x_way, findings.y_way
    if change is None or not change.shown or "root" in (x.scale, y.scale) or not (x.changed or y.changed):
        return None
    factor = None
    if x.changed:
        low_x, high_x = x.back(np.array(findings.pairs.ends_x)).tolist()
        factor = 2.0 if high_x >= 2 * low_x else 1.1
    step = change.step if factor is None else x.there(factor) - x.there(1.0)
    ends = (None, None) if change.low is None or change.high is None else sorted((change.low, change.high))
    value, low, high = (
        None if one is None else one * step if not y.changed else float(y.back(np.array([one * step]))[0])
        for one in (change.slope, *ends)
    )
    if value is None or not all(one is None or math.isfinite(one) for one in (value, low, high)):
        return None
    return OwnScaleClaim(factor=factor, step=change.step, times=y.changed, value=value, low=low, high=high,
                         level=change.level)  # fmt: skip


def possible_claims(findings: Findings) -> tuple[PossibleClaim, ...]:
    """Where line or interval leave the possible range of y within the measured x."""
    band, column, found = findings.band, findings.y_column, []
    sides: tuple[tuple[float | None, Literal["below", "above"]], ...] = (
        (column.low, "below"),
        (column.high, "above"),
    )
    for limit, side in sides:
        if limit is None:
            continue
        beyond = (lambda value, limit=limit: value < limit) if side == "below" else (
            lambda value, limit=limit: value > limit)  # fmt: skip
        if any(map(beyond, band.fitted.tolist())):
            found.append(PossibleClaim(what="line", side=side, limit=limit))
        elif any(map(beyond, band.ci.ravel().tolist())):
            found.append(PossibleClaim(what="interval", side=side, limit=limit))
    return tuple(found)


def few_claim(findings: Findings) -> FewClaim | None:
    """Whether there are so few pairs that one row can carry the line."""
    if findings.fit.exact or findings.fit.y.constant:
        return None
    story = findings.case_story if findings.tether.line.errors == "clustered" else None
    if story is not None and story.cases <= FEW_PAIRS:
        return FewClaim(n=findings.pairs.n, df=findings.line.residual_df, cases=story.cases)
    if findings.pairs.n > FEW_PAIRS:
        return None
    return FewClaim(n=findings.pairs.n, df=findings.line.residual_df)


def exact_claim(findings: Findings) -> ExactLineClaim | None:
    """Whether every pair lies on one line that is not level."""
    if findings.line.why.get("t_slope") is not Cause.EXACT_FIT or findings.fit.y.constant:
        return None
    return ExactLineClaim(n=findings.pairs.n, slope=findings.line.slope or 0.0)


def offset_claim(findings: Findings) -> OffsetClaim | None:
    """Whether x varies by so little that digits are lost."""
    size = findings.line.log10_condition
    return OffsetClaim(log10_condition=size) if size is not None and size > _FAR_OFFSET else None


def level_claim(findings: Findings) -> LevelClaim | None:
    """Whether y does not vary."""
    if not findings.fit.y.constant:
        return None
    return LevelClaim(value=float(findings.pairs.y[0]), n=findings.pairs.n)
