"""The figures that the script beside an account works out again, and what it leaves."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from bright_tether.core.compare.groups import with_lines
from bright_tether.core.conformal import Conformal
from bright_tether.core.line.errors import KINDS
from bright_tether.core.line.weights import new_weights
from bright_tether.core.results import Refusal
from bright_tether.live.cases import VALUES
from bright_tether.live.comparison import Comparison
from bright_tether.live.findings import Findings

#: Rows up to which the script goes through every two of them.
MOST = 2000
Again = dict[str, float | None]


def figures_again(findings: Findings, at: tuple[float, ...]) -> Again:
    """Every figure that the script works out too, by the name it has there. Raises Refusal where there is no line."""
    found = _line(findings) | _forecasts(findings, at) | _strength(findings)
    if findings.plain is findings.fit:
        found |= _checks(findings) | _other_errors(findings)
        found |= _other_lines(findings) if findings.pairs.n <= MOST else {}
    found |= _paired(findings)
    comparison = _comparison(findings)
    if comparison is not None:
        found |= _compared(comparison)
    return {name: value for name, value in found.items() if value is None or math.isfinite(value)}


def weights_at(findings: Findings, at: tuple[float, ...]) -> list[float | None]:
    """The weight of a new case at each x: 1 without weights, None where it is not known."""
    fit = findings.fit
    if fit.weights is None or not at:
        return [1.0] * len(at)
    shares, _ = new_weights(fit, np.array(at), findings.new_weight)
    found = np.ldexp(shares, fit.weight_exponent).tolist()
    return [one if math.isfinite(one) and one > 0 else None for one in found]


def df_at(findings: Findings, at: tuple[float, ...]) -> list[float | None]:
    """The df of t at each x, None where the errors in force have no value."""
    try:
        return [findings.forecast_df(one) for one in at]
    except Refusal:
        return [None] * len(at)


def ranked_again(findings: Findings) -> bool:
    """Whether the script finds the intervals for one case by ranks."""
    ranks = findings.conformal if findings.by_ranks else None
    plain = findings.fit.weights is None and not findings.fit.origin
    return plain and isinstance(ranks, Conformal) and not ranks.drawn


def left_out(findings: Findings) -> tuple[str, ...]:
    """What the account may hold and the script does not work out, in words."""
    left = ["rehearsals and lineups", "lines of other shapes, and those with other weights"]
    left += ["other choices, r with far values bent", *_kept(findings)]
    if findings.pairs.n > MOST:
        left.append(f"resistant and both-error lines of more than {MOST} rows")
    if findings.plain is not findings.fit:
        left.append("checks of a line with weights or through the origin")
    else:
        left.append("the p of Durbin–Watson and of Anderson–Darling, influence")
    if findings.case_decides:
        left.append("what is judged by case, but for the slope")
    comparison = _comparison(findings)
    if comparison is not None:
        left.append("Welch’s and pooled differences, every two groups, equivalence")
    return tuple(left)


def _kept(findings: Findings) -> list[str]:
    """What rests on further columns, or on a power that was fitted to the spread."""
    left = ["slopes and forecasts with other columns held"] if findings.held_cells else []
    if findings.by_ranks and not ranked_again(findings):
        left.append("intervals for one case by ranks of more rows, weights or a line through the origin")
    return [*left, *(["the power of the spread, which its weights take"] if findings.spread_power else [])]


def _comparison(findings: Findings) -> Comparison | None:
    try:
        found = findings.comparison
    except Refusal:
        return None
    return found if found.source == "groups" else None


def _line(findings: Findings) -> Again:
    line, by = findings.line, findings.coefficients
    low, high = by.ci_slope or (None, None)
    found: Again = {
        "n": findings.pairs.n, "slope": line.slope, "se_slope": by.se_slope, "slope_low": low, "slope_high": high,
        "t_slope": by.t_slope, "p_slope": by.p_slope, "s": line.s, "r2": line.r2, "f": line.f, "p_f": line.p_f,
    }  # fmt: skip
    if not findings.fit.origin:
        found |= {"intercept": line.intercept, "se_intercept": by.se_intercept, "p_intercept": by.p_intercept}
    return found


def _forecasts(findings: Findings, at: tuple[float, ...]) -> Again:
    if not at:
        return {}
    forecasts, found = findings.forecasts(at, findings.tether.forecast.mean_of), dict[str, float | None]()
    for place in range(len(at)):
        found |= {
            f"fitted[{place}]": float(forecasts.fitted[place]),
            f"mean_low[{place}]": float(forecasts.ci[place, 0]),
            f"mean_high[{place}]": float(forecasts.ci[place, 1]),
        }
        if not findings.by_ranks or ranked_again(findings):
            low, high = forecasts.pi[place].tolist()
            found |= {f"case_low[{place}]": low, f"case_high[{place}]": high}
    return found


def _strength(findings: Findings) -> Again:
    found: Again = {}
    for name, value in VALUES.items():
        one: Any = getattr(findings, name)
        low, high = one.ci or (None, None)
        found |= {value: getattr(one, value), f"p_{value}": one.p, f"{value}_low": low, f"{value}_high": high}
    return found


def _checks(findings: Findings) -> Again:
    one = findings.checks
    return {
        "check curvature t": one.curvature.t, "check curvature p": one.curvature.p, "check RESET F": one.reset.f,
        "check RESET p": one.reset.p, "check Breusch-Pagan": one.breusch_pagan.lm,
        "check Breusch-Pagan p": one.breusch_pagan.p, "check White": one.white.lm, "check White p": one.white.p,
        "check Durbin-Watson d": one.durbin_watson.d, "check lag 1": one.durbin_watson.lag1,
        "check Shapiro-Wilk W": one.shapiro_wilk.w, "check skewness": one.skewness,
        "check excess kurtosis": one.excess_kurtosis, "check Jarque-Bera p": one.jarque_bera.p,
    }  # fmt: skip


def _other_errors(findings: Findings) -> Again:
    return {f"{kind} se": findings.coefficients_by(kind).se_slope for kind in KINDS if kind != "clustered"}


def _other_lines(findings: Findings) -> Again:
    resistant, both = findings.theil_sen, findings.deming
    low, high = resistant.ci_slope or (None, None)
    return {
        "resistant slope": resistant.slope, "resistant low": low, "resistant high": high,
        "both-error slope": both.slope, "both-error se": both.se_slope,
    }  # fmt: skip


def _paired(findings: Findings) -> Again:
    one = findings.agreement
    found: Again = {
        "paired mean": one.mean_difference,
        "paired sd": one.sd_difference,
        "paired t": one.t,
        "paired p": one.p,
    }
    try:
        same = findings.comparison.same_rows
    except Refusal:
        return found
    if same is not None:
        found |= {
            "same rows slope": same.slope.difference,
            "same rows t": same.slope.t,
            "same rows p": same.slope.p,
        }
    return found


def _compared(comparison: Comparison) -> Again:
    found: Again = {}
    for at, group in enumerate(with_lines(comparison.groups)):
        line = group.line
        assert line is not None
        found |= {
            f"group {at} n": group.n,
            f"group {at} slope": line.slope,
            f"group {at} se": group.slope_error,
        }
    if comparison.slopes is not None:
        one = comparison.slopes.separate
        found |= {
            "slopes difference": one.difference,
            "slopes t": one.t,
            "slopes df": one.df,
            "slopes p": one.p,
        }
    rungs = comparison.ladder
    for name, test in (
        ("parallel", rungs.parallel), ("same height", rungs.same_height), ("coincident", rungs.coincident),
    ):  # fmt: skip
        found |= {f"{name} F": test.f, f"{name} p": test.p}
    return found
