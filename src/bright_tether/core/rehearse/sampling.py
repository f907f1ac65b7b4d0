"""One statistic over many samples: its pile, bias and errors, and how often intervals caught the truth."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.rehearse.draws import Draws
from bright_tether.core.rehearse.kinds import Judged, Statistic
from bright_tether.core.rehearse.truth import null_reach
from bright_tether.core.results import Floats, Interval
from bright_tether.core.special import special
from bright_tether.core.tails import t_beyond, z_beyond


class Sampling(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """A statistic over N samples, beside the truth and beside what the formula says.

    mean_error, sd_error, caught_error : simulation errors. bias = mean − truth.
    formula : the formula's standard error at the true sd and the kept x. told : the standard errors that the
    samples themselves gave, as root mean square. caught : share of intervals that hold the truth.
    None for r² and for r of three pairs, which have no interval. low, high : (N,) ends, empty without.
    percentile : of cases drawn again, the interval that the samples themselves give.
    without : samples whose y does not vary, which have no r: NaN among the values, and counted nowhere else.
    """

    statistic: Statistic
    judged: Judged
    draws: int
    truth: float
    mean: float
    mean_error: float
    bias: float
    sd: float
    sd_error: float
    formula: float | None
    told: float | None
    level: float
    caught: float | None
    caught_error: float | None
    values: Floats
    low: Floats
    high: Floats
    percentile: Interval | None = None
    without: int = 0


def sampling(
    draws: Draws, statistic: Statistic, *, level: float, judged: Judged = "classical", at: float = 0.0
) -> Sampling | None:
    """Sum a statistic up; None below two samples that have it. at : x of the forecast.

    judged : which standard errors the intervals take; "HC3" and "newey_west" need draws made robust.
    Intervals: t on n − 2 for slope, intercept and the mean at x; Fisher's for r; r² has none.
    """
    if draws.done < 2:
        return None
    values, se = _values(draws, statistic, judged, at)
    if np.count_nonzero(np.isfinite(values)) < 2:
        return None
    return summed_up(
        statistic, judged, values, se, truth=true_value(draws, statistic, at), df=draws.truth.n - 2, level=level,
        formula=formula_se(draws, statistic, at), percentile=draws.by_cases,
    )  # fmt: skip


def summed_up(
    statistic: Statistic, judged: Judged, values: Floats, se: Floats | None, *, truth: float, df: int, level: float,
    formula: float | None, percentile: bool,
) -> Sampling:  # fmt: skip
    """The values of a statistic, (N,), with its standard errors, (N,), and t on df; None where it has none."""
    low = high = np.zeros(0)
    claimed = None
    if se is not None:
        half = t_beyond((1 - level) / 2, df) * se
        low, high = values - half, values + half
        claimed = math.sqrt(float(np.mean((se / _top(se)) ** 2))) * _top(se)
    elif statistic == "r" and df > 1:
        reach = z_beyond((1 - level) / 2) / math.sqrt(df - 1)
        with np.errstate(divide="ignore"):
            low, high = np.tanh(np.arctanh(values) - reach), np.tanh(np.arctanh(values) + reach)
    there = np.isfinite(values)
    many = int(np.count_nonzero(there))
    caught = error = None
    if low.size:
        caught = float(np.count_nonzero((low <= truth) & (truth <= high))) / many
        error = math.sqrt(max(caught * (1 - caught), 0.25 / many) / many)
    found = values if many == values.size else values[there]
    mean, sd, sd_error = _moments(found)
    return Sampling(
        statistic=statistic, judged=judged, draws=values.size, without=values.size - many, truth=truth, mean=mean,
        mean_error=sd / math.sqrt(many), bias=mean - truth, sd=sd, sd_error=sd_error,
        formula=formula, told=claimed, level=level, caught=caught,
        caught_error=error, values=values, low=low, high=high,
        percentile=_percentile(found, level) if percentile else None,
    )  # fmt: skip


def drawn_values(draws: Draws) -> dict[str, Floats]:
    """Slope, intercept and r of each sample, (N,)."""
    kinds: tuple[Statistic, ...] = ("slope", "intercept", "r")
    return {kind: _values(draws, kind, "classical", 0.0)[0] for kind in kinds}


def _percentile(values: Floats, level: float) -> Interval:
    low, high = np.quantile(values, ((1 - level) / 2, (1 + level) / 2)).tolist()
    return low, high


def share_as_far(one: Sampling, own: float) -> float:
    """The share of samples that lie at least as far from the truth as one's own value."""
    far = np.count_nonzero(np.abs(one.values - one.truth) >= abs(own - one.truth))
    return float(far) / (one.draws - one.without)


class Luck(msgspec.Struct, frozen=True, kw_only=True):
    """r of samples without a relationship. passed : share with |r| ≥ reach, error : of that by simulation.

    beyond : samples that reached one's own |r|. largest : |r| of the farthest.
    """

    draws: int
    reach: float
    passed: float
    error: float
    beyond: int
    largest: float


def luck_of(draws: Draws, r: float, alpha: float) -> Luck | None:
    """What luck alone gave, beside one's own r; None below two samples. Source: quantities §2, critical r."""
    if draws.done < 2:
        return None
    sizes, reach = np.abs(_values(draws, "r", "classical", 0.0)[0]), null_reach(draws.truth.n, alpha)
    passed = float(np.mean(sizes >= reach))
    error = math.sqrt(max(passed * (1 - passed), 0.25 / draws.done) / draws.done)
    return Luck(draws=draws.done, reach=reach, passed=passed, error=error,
                beyond=int(np.count_nonzero(sizes >= abs(r))), largest=float(sizes.max()))  # fmt: skip


def true_value(draws: Draws, statistic: Statistic, at: float) -> float:
    """What the statistic aims at; r and r² as the x there are and the sd of the errors make them."""
    truth = draws.truth
    if statistic == "slope":
        return truth.slope
    if statistic == "intercept":
        return truth.intercept
    if statistic == "forecast":
        return truth.intercept + truth.slope * at
    n = truth.n
    cases = n - 1 if truth.design == "normal" else n
    spread = math.ldexp(truth.slope, draws.ex - draws.ey) * math.sqrt(_sxx(draws) / cases)
    sd = math.ldexp(truth.sd, -draws.ey)
    if draws.by_rows:  # the rows themselves are all there is: the truth is their own r
        sd *= math.sqrt((n - 2) / n)
    size = math.hypot(spread, sd)
    r = spread / size if size else 0.0
    return r if statistic == "r" else r * r


def formula_se(draws: Draws, statistic: Statistic, at: float) -> float | None:
    """The standard error that the formula gives with the true sd at the kept x."""
    sd, wide, n = math.ldexp(draws.truth.sd, -draws.ey), _sxx(draws), draws.truth.n
    if statistic == "slope":
        return math.ldexp(sd / math.sqrt(wide), draws.ey - draws.ex)
    if statistic in ("intercept", "forecast"):
        x = 0.0 if statistic == "intercept" else at
        away = math.ldexp(x - float(np.mean(draws.truth.x)), -draws.ex)
        return math.ldexp(sd * math.sqrt(1 / n + away * away / wide), draws.ey)
    return None


def theory_counts(draws: Draws, statistic: Statistic, at: float, edges: Floats) -> Floats:
    """How many of the samples theory puts between the edges, (k − 1,): normal errors, kept x.

    Slope, intercept and forecast are normal then; r goes with a noncentral t and r² with a noncentral F.
    Source: Seber & Lee 2003, §4; Johnson, Kotz & Balakrishnan 1995, ch. 30–31.
    """
    n = draws.truth.n
    se = formula_se(draws, statistic, at)
    if se is not None:
        away = (edges - true_value(draws, statistic, at)) / se if se else np.zeros_like(edges)
        below = np.asarray(special.ndtr(away), np.float64)
    else:
        sd = math.ldexp(draws.truth.sd, -draws.ey)
        steep = math.ldexp(draws.truth.slope, draws.ex - draws.ey)
        pull = steep * math.sqrt(_sxx(draws)) / sd if sd else 0.0
        within = np.clip(edges, 0 if statistic == "r2" else -1 + 1e-12, 1 - 1e-12)
        df = n - 2
        inner: Floats
        if statistic == "r":
            inner = np.asarray(
                special.nctdtr(df, pull, within * np.sqrt(df / (1 - within * within))), np.float64
            )
        else:
            inner = np.asarray(special.ncfdtr(1, df, pull * pull, within * df / (1 - within)), np.float64)
        lowest = 0 if statistic == "r2" else -1
        below = np.asarray(np.where(edges >= 1, 1.0, np.where(edges < lowest, 0.0, inner)), np.float64)
    return np.asarray(np.diff(below) * draws.done, np.float64)


def heights(draws: Draws, places: slice, x: Floats) -> Floats:
    """The lines of some samples at x, (k, m) in y units. x : (m,)."""
    away = np.ldexp(x - draws.x_ref, -draws.ex)[None, :] - draws.mean_x[places, None]
    local = draws.centre[places, None] + draws.slope[places, None] * away
    return np.asarray(_base(draws) + np.ldexp(local, draws.ey), np.float64)


def _values(draws: Draws, statistic: Statistic, judged: Judged, at: float) -> tuple[Floats, Floats | None]:
    """The statistic and its standard error in each sample, (N,)."""
    if statistic in ("r", "r2"):
        with np.errstate(divide="ignore", invalid="ignore"):  # rows drawn again may have one y
            r = draws.slope * np.sqrt(draws.sxx / (draws.sse + draws.slope**2 * draws.sxx))
        return (r if statistic == "r" else r * r), None
    n = draws.truth.n
    if judged == "classical":
        unit = draws.sse / (n - 2)
        centre, both, steep = np.asarray(unit / n, np.float64), np.zeros(1), unit / draws.sxx
    else:
        centre, both, steep = draws.meat[judged].T
    if statistic == "slope":
        power = draws.ey - draws.ex
        if draws.by_cases:  # errors that take each row for a case of its own would say little
            return np.ldexp(draws.slope, power), None
        return np.ldexp(draws.slope, power), np.ldexp(np.sqrt(np.maximum(steep, 0)), power)
    x = 0.0 if statistic == "intercept" else at
    away = math.ldexp(x - draws.x_ref, -draws.ex) - draws.mean_x
    se = np.sqrt(np.maximum(centre + away * (2 * both + away * steep), 0))
    values = _base(draws) + np.ldexp(draws.centre + draws.slope * away, draws.ey)
    return values, None if draws.by_cases else np.ldexp(se, draws.ey)


def _base(draws: Draws) -> float:
    """The true height at x_ref."""
    return draws.truth.intercept + draws.truth.slope * draws.x_ref


def _sxx(draws: Draws) -> float:
    """Sxx of the x kept or drawn from, in the frame."""
    away = np.ldexp(draws.truth.x - draws.x_ref, -draws.ex)
    away = away - away.mean()
    return float(np.dot(away, away))


def _moments(values: Floats) -> tuple[float, float, float]:
    """Mean, sd, and the simulation error of the sd."""
    mean = float(values.mean())
    away = values - mean
    top = _top(away)
    squares = (away / top) ** 2
    variance = float(squares.sum()) / (values.size - 1)
    if not variance:
        return mean, 0.0, 0.0
    tall = float(np.mean(squares**2)) / (float(np.mean(squares)) ** 2)
    sd = math.sqrt(variance) * top
    return mean, sd, sd * math.sqrt(max(tall - 1, 0) / (4 * values.size))


def _top(values: Floats) -> float:
    return float(np.max(np.abs(values))) or 1.0
