"""What the line says of each row, and what each row does to the line."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bright_tether.core.line.plain import Fit
from bright_tether.core.line.robust_errors import LEVERAGE_ONE_WITHIN
from bright_tether.core.results import Cause, Floats, Ints, Why, read_only, reasons
from bright_tether.core.tails import t_beyond, t_both_many

_PARAMETERS = 2


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class RowByRow:
    """One entry a pair, in table order; NaN where a value does not exist, for the cause in ``why``.

    row : table row from 1. x in x units; y, fitted, residual in y units; dfbeta_slope in y units
    per x unit; the rest without unit.
    """

    row: Ints
    x: Floats
    y: Floats
    fitted: Floats
    residual: Floats
    leverage: Floats
    standardised: Floats
    studentised: Floats
    cooks_d: Floats
    dffits: Floats
    dfbeta_slope: Floats
    outlier_p: Floats
    why: Why


def row_by_row(fit: Fit) -> RowByRow:
    """Fitted values, misses and influence of every pair.

    studentised leaves the row out of s; it and what follows from it need n > 3.
    Scaled residuals are NaN at leverage 1 and on an exact fit.
    Source: quantities §4 (Cook 1977; Belsley, Kuh & Welsch 1980).
    """
    residual, leverage = fit.residual, fit.leverage
    spare = 1 - leverage
    why: dict[str, Cause] = {}
    if float(spare.min()) <= LEVERAGE_ONE_WITHIN:
        spare[spare <= LEVERAGE_ONE_WITHIN] = np.nan
        why = dict.fromkeys(("standardised", "cooks_d", "dfbeta_slope"), Cause.LEVERAGE_ONE)
    root = np.sqrt(spare)
    odds = leverage / spare
    if fit.exact:
        standardised = np.full(fit.n, np.nan)
        why |= dict.fromkeys(("standardised", "cooks_d"), Cause.EXACT_FIT)
    else:
        standardised = residual / root
        standardised *= 1 / fit.s_scaled
    cooks_d = standardised * standardised * odds * (1 / _PARAMETERS)
    studentised = _studentised(fit, standardised)
    cause = Cause.NO_DEGREES_OF_FREEDOM if fit.residual_df < 2 else why.get("standardised")
    if cause:
        why |= dict.fromkeys(("studentised", "dffits", "outlier_p"), cause)
    return RowByRow(
        row=fit.pairs.at + 1,
        x=fit.pairs.x,
        y=fit.pairs.y,
        fitted=read_only(fitted_values(fit)),
        residual=read_only(np.ldexp(residual, fit.y.exponent)),
        leverage=read_only(leverage),
        standardised=read_only(standardised),
        studentised=read_only(studentised),
        cooks_d=read_only(cooks_d),
        dffits=read_only(studentised * np.sqrt(odds)),
        dfbeta_slope=read_only(_dfbeta_slope(fit, spare)),
        outlier_p=read_only(outlier_p(studentised, fit.n)),
        why=reasons(why),
    )


def fitted_values(fit: Fit) -> Floats:
    """y less its miss, (n,), in y units: keeps the digits where the line is tight."""
    scaled = np.ldexp(fit.pairs.y, -fit.y.exponent) - fit.residual
    return np.ldexp(scaled, fit.y.exponent)


def _studentised(fit: Fit, standardised: Floats) -> Floats:
    """standardised·√((n−3)/(n−2−standardised²)), s taken without the row, (n,)."""
    if fit.residual_df < 2:
        return np.full(fit.n, np.nan)
    left = fit.residual_df - standardised * standardised
    with np.errstate(divide="ignore", invalid="ignore"):
        return standardised * np.sqrt((fit.residual_df - 1) / np.maximum(left, 0))


def _dfbeta_slope(fit: Fit, spare: Floats) -> Floats:
    """b1 − b1(i) = (x − x̄)·e/((1 − h)·Sxx), (n,)."""
    change = fit.x.high * fit.residual / spare
    change *= 1 / fit.x.sum_squares
    return np.ldexp(change, fit.y.exponent - fit.x.exponent)


def outlier_p(studentised: Floats, n: int) -> Floats:
    """Two-sided t(n − 3) p times n, at most 1 (Bonferroni), (n,).

    Only values that can come out below 1 are worked out one by one.
    """
    df = n - 3
    p = np.where(np.isnan(studentised), np.nan, 1.0)
    if df < 1:
        return p
    far = np.flatnonzero(np.abs(studentised) >= t_beyond(min(0.5 / n, 0.5), df) * (1 - 1e-9))
    sizes = studentised[far]
    finite = np.isfinite(sizes)
    p[far[finite]] = np.minimum(1.0, n * t_both_many(sizes[finite], df))
    p[far[~finite]] = 0.0
    return p
