"""What may be said of forecasts."""

from __future__ import annotations

from contextlib import suppress
from typing import ClassVar, Literal

from bright_tether.claims.claim import Claim, NamedRow
from bright_tether.claims.doubts import DoubtClaim
from bright_tether.claims.rows import named_rows
from bright_tether.core.conformal import Conformal
from bright_tether.core.doubts.verdicts import Verdict
from bright_tether.core.results import Cause
from bright_tether.live.findings import Findings
from bright_tether.live.forecasting import Actual, Expected, Scale

Of = Literal["mean", "one case", "mean of m"]


class ForecastClaim(Claim, frozen=True, kw_only=True):
    """What is expected at an x. of : of the mean response, of one case, or of the mean of m cases.

    value, low, high : in the column's own units; low and high keep to what y can be, possible says whether the
    line does. inside : x lies in the measured range. in_gap : in a stretch of it where nothing was measured.
    scale : how y was fitted. distance : sd of x beyond the range. why : what keeps the interval from a value.
    by_ranks : an interval for one case by the ranks of residuals; beside_low, beside_high : by one spread instead.
    """

    kind: ClassVar[str] = "forecast"
    x: float
    of: Of
    m: int
    value: float
    low: float | None
    high: float | None
    level: float
    inside: bool
    in_gap: bool
    possible: bool
    scale: Scale
    distance: float
    exact: bool
    why: Cause | None
    by_ranks: bool = False
    beside_low: float | None = None
    beside_high: float | None = None


class LevelsClaim(Claim, frozen=True, kw_only=True):
    """The same interval at several levels."""

    kind: ClassVar[str] = "levels"
    of: Of
    m: int
    intervals: tuple[tuple[float, float, float], ...]


class BeyondClaim(Claim, frozen=True, kw_only=True):
    """An x outside the measured range. low, high : that range."""

    kind: ClassVar[str] = "beyond"
    x: float
    low: float
    high: float
    distance: float


class NearClaim(Claim, frozen=True, kw_only=True):
    """The cases nearest in x, and by how much each lies above (+) or below (−) the line. scale : of these."""

    kind: ClassVar[str] = "near"
    rows: tuple[NamedRow, ...]
    over: tuple[float, ...]
    scale: Scale


class BackClaim(Claim, frozen=True, kw_only=True):
    """Which x gives a y: for new cases (m of them), and for the mean response. why : none is singled out.

    inside : x lies in the measured range; None without one. in_gap : in a stretch of it where nothing was measured.
    """

    kind: ClassVar[str] = "back"
    y: float
    x: float | None
    low: float | None
    high: float | None
    low_mean: float | None
    high_mean: float | None
    m: int
    level: float
    why: Cause | None
    inside: bool | None
    in_gap: bool


class CaseClaim(Claim, frozen=True, kw_only=True):
    """An actual case against what was expected. side : above or below; by : how far, in y; in_s : in residual sd.

    unusual : outside the interval for one case; None where that has no value, as share then, for why.
    by_ranks : among how many rows and the case itself it was ranked; share is of these then.
    """

    kind: ClassVar[str] = "case"
    x: float
    y: float
    side: Literal["above", "below", "on"]
    by: float
    in_s: float
    level: float
    unusual: bool | None
    share: float | None
    by_ranks: int | None = None
    why: Cause | None = None


class WidthClaim(Claim, frozen=True, kw_only=True):
    """The interval for one case follows the spread in force, and there is a clear sign that the residuals' is another.

    weighted : the spread in force is that of weights; else it is one everywhere.
    """

    kind: ClassVar[str] = "one_width"
    p: float
    ratio: float | None
    weighted: bool


class PastLimitClaim(Claim, frozen=True, kw_only=True):
    """The interval for a case within the measured x ends where no y that was measured lies, and perhaps none can.

    limit : 0, or 100 of a column in per cent. end : of the interval, on the other side of it. nearest : of all y that
    nearest to the limit. Nothing of a y whose possible values are stated.
    """

    kind: ClassVar[str] = "past_limit"
    x: float
    limit: Literal[0, 100]
    end: float
    nearest: float


class LostClaim(Claim, frozen=True, kw_only=True):
    """An x whose forecast no double holds."""

    kind: ClassVar[str] = "no_forecast"
    x: tuple[float, ...]


def first_expected(findings: Findings) -> Expected | None:
    """The forecast that the page leads with: the first x, at the level in force."""
    own = [one for one in findings.expected if one.group is None]
    return next((one for one in own if one.level == findings.rules.level), own[0] if own else None)


def mean_claim(findings: Findings, one: Expected) -> ForecastClaim:
    """The mean response at an x."""
    return _claim(findings, one, "mean", one.ci, None)


def case_forecast(findings: Findings, one: Expected) -> ForecastClaim:
    """One new case, or the mean of m, at an x."""
    of: Of = "one case" if findings.tether.forecast.mean_of == 1 else "mean of m"
    why = None
    if one.pi is None:
        many = findings.tether.forecast.mean_of
        why = findings.forecasts((findings.x_way.there(one.x),), many).why.get("pi")
    return _claim(findings, one, of, one.pi, why)


def _claim(
    findings: Findings, one: Expected, of: Of, ends: tuple[float, float] | None, why: Cause | None
) -> ForecastClaim:
    low, high = ends or (None, None)
    return ForecastClaim(
        x=one.x, of=of, m=findings.tether.forecast.mean_of, value=one.fitted, low=low, high=high, level=one.level,
        inside=not one.outside, in_gap=one.in_gap, possible=one.possible, scale=one.scale, distance=one.distance,
        exact=findings.fit.exact, why=why, by_ranks=of != "mean" and findings.by_ranks,
        **_beside(None if of == "mean" else one.pi_by_spread),
    )  # fmt: skip


def _beside(ends: tuple[float, float] | None) -> dict[str, float]:
    return {} if ends is None else {"beside_low": ends[0], "beside_high": ends[1]}


def levels_claim(findings: Findings, first: Expected) -> LevelsClaim | None:
    """One case at every level asked for."""
    same = [one for one in findings.expected if one.group is None and one.x == first.x]
    ends = sorted((one.level, *one.pi) for one in same if one.pi is not None)
    if len(ends) < 2 or findings.fit.exact:
        return None
    of: Of = "one case" if findings.tether.forecast.mean_of == 1 else "mean of m"
    return LevelsClaim(of=of, m=findings.tether.forecast.mean_of, intervals=tuple(ends))


def beyond_claim(findings: Findings, one: Expected) -> BeyondClaim | None:
    """An x beyond what was measured."""
    if not one.outside:
        return None
    measured = findings.x_way.back(findings.pairs.x)
    return BeyondClaim(x=one.x, low=float(measured.min()), high=float(measured.max()), distance=one.distance)


def near_claim(findings: Findings, one: Expected) -> NearClaim | None:
    """The cases nearest in x."""
    places = findings.near(one.x)
    if not places.size:
        return None
    over = tuple(float(findings.rows.residual[place]) for place in places.tolist())
    return NearClaim(rows=named_rows(findings, places), over=over, scale=findings.y_way.scale)


def back_claims(findings: Findings) -> tuple[BackClaim, ...]:
    """Which x gives each y asked for."""
    found = []
    for y in findings.tether.forecast.back:
        try:
            one, mean = findings.backwards(y)
        except ValueError:
            continue
        low, high = one.ci or (None, None)
        low_mean, high_mean = mean.ci or (None, None)
        inner = None if one.x is None else findings.x_way.there(one.x)
        found.append(BackClaim(
            y=y, x=one.x, low=low, high=high, low_mean=low_mean, high_mean=high_mean,
            m=findings.tether.forecast.mean_of, level=findings.rules.level, why=one.why.get("x"),
            inside=None if inner is None else findings.measured_at(inner),
            in_gap=inner is not None and findings.in_gap(inner),
        ))  # fmt: skip
    return tuple(found)


def case_claim(findings: Findings, actual: Actual) -> CaseClaim:
    """An actual case against what was expected of it."""
    side: Literal["above", "below", "on"] = (
        "on" if actual.above == 0 else "above" if actual.above > 0 else "below"
    )
    ranks = findings.conformal if findings.by_ranks else None
    why = None
    if actual.inside is None:
        why = findings.forecasts((findings.x_way.there(actual.x),)).why.get("pi")
    return CaseClaim(
        x=actual.x, y=actual.y, side=side, by=abs(actual.above), in_s=abs(actual.by_s), level=findings.rules.level,
        unusual=None if actual.inside is None else not actual.inside, share=actual.share,
        by_ranks=ranks.n if findings.by_ranks and isinstance(ranks, Conformal) else None, why=why,
    )  # fmt: skip


def kept_claims(findings: Findings) -> tuple[CaseClaim, ...]:
    """The cases that were kept, as far as the line knows their x."""
    found = []
    for x, y in findings.tether.forecast.cases:
        with suppress(ValueError):
            found.append(case_claim(findings, findings.actual(x, y)))
    return tuple(found)


def width_claim(findings: Findings, spread: DoubtClaim) -> WidthClaim | None:
    """Whether the width for one case hides that the spread changes, which no other errors answer."""
    if spread.verdict != Verdict.CLEAR or spread.p is None or findings.by_ranks:
        return None
    return WidthClaim(p=spread.p, ratio=spread.size, weighted=findings.fit.weights is not None)


def past_limit_claims(findings: Findings, case: ForecastClaim) -> tuple[PastLimitClaim, ...]:
    """Whether an interval reaches below 0 where no y did; or, of per cent, above 100."""
    column = findings.y_way.source
    if case.low is None or case.high is None or not case.inside or case.exact or case.scale != "as measured":
        return ()
    if column.clock is not None or (column.low, column.high) != (None, None):
        return ()
    least, most = float(findings.pairs.y.min()), float(findings.pairs.y.max())
    found = []
    if case.low < 0 <= least:
        found.append(PastLimitClaim(x=case.x, limit=0, end=case.low, nearest=least))
    if column.unit == "%" and most <= 100 < case.high:
        found.append(PastLimitClaim(x=case.x, limit=100, end=case.high, nearest=most))
    return tuple(found)


def lost_claim(findings: Findings) -> LostClaim | None:
    """Which x lie so far out that no double holds their forecast."""
    held = {x for x, _ in findings.reached_x}
    lost = tuple(x for x, _ in findings.placed_x if x not in held)
    return LostClaim(x=lost) if lost else None
