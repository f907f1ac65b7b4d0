"""What the line says of each row, and what each row does to the line."""

from __future__ import annotations

import math

import msgspec
import numpy as np

from bright_tether.core.exact import blocks, scaled_by
from bright_tether.core.line.meats import LEVERAGE_ONE_WITHIN
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause, Floats, Ints, Why, read_only, reasons
from bright_tether.core.tails import t_beyond, t_both_many

#: So small a share of the squared residuals without a row is what rounding leaves of none.
_DUST = 2.0**-46
_WORKED = (
    "fitted",
    "residual",
    "leverage",
    "standardised",
    "studentised",
    "cooks_d",
    "dffits",
    "dfbeta_slope",
)


class RowByRow(msgspec.Struct, frozen=True, kw_only=True, eq=False):
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
    """Fitted values, residuals and influence of every pair.

    studentised leaves the row out of s; it and what follows from it need n > 3.
    Scaled residuals are NaN at leverage 1 and on an exact fit.
    Source: quantities §4 (Cook 1977; Belsley, Kuh & Welsch 1980).
    """
    n, df, exact = fit.n, fit.residual_df, fit.exact
    columns = {name: np.empty(n) for name in _WORKED}
    lowest = math.inf
    for part in blocks(n, 16384):
        residual, high, residuals = fit.residual[part], fit.own_x.high[part], fit.weighted_residual[part]
        leverage = columns["leverage"][part]
        leverage[:] = fit.leverage(part)
        spare = 1 - leverage
        lowest = min(lowest, float(spare.min()))
        spare[spare <= LEVERAGE_ONE_WITHIN] = np.nan
        odds = leverage / spare
        standardised = columns["standardised"][part]
        standardised[:] = np.nan if exact else residuals / (np.sqrt(spare) * fit.s_scaled)
        square = standardised * standardised
        np.multiply(square, odds * (1 / fit.parameters), out=columns["cooks_d"][part])
        studentised = columns["studentised"][part]
        if df < 2:
            studentised[:] = np.nan
        else:
            rest = df - square
            rest[rest < _DUST * df] = 0  # without this row the others lie on one line
            with np.errstate(divide="ignore", invalid="ignore"):
                np.multiply(standardised, np.sqrt((df - 1) / rest), out=studentised)
        np.multiply(studentised, np.sqrt(odds), out=columns["dffits"][part])
        change = high * residual * (1 / fit.own_x.sum_squares) / spare
        if fit.weights is not None:
            change *= fit.weights[part]
        scaled_by(change, fit.y.exponent - fit.x.exponent, out=columns["dfbeta_slope"][part])
        scaled_by(residual, fit.y.exponent, out=columns["residual"][part])
        scaled = scaled_by(fit.pairs.y[part], -fit.y.exponent) - residual
        scaled_by(scaled, fit.y.exponent, out=columns["fitted"][part])
    columns["outlier_p"] = outlier_p(columns["studentised"], df - 1)
    return RowByRow(
        row=fit.pairs.at + 1,
        x=fit.pairs.x,
        y=fit.pairs.y,
        **{name: read_only(values) for name, values in columns.items()},
        why=reasons(_why(fit, lowest <= LEVERAGE_ONE_WITHIN)),
    )


def _why(fit: Fit, leverage_one: bool) -> dict[str, Cause]:
    why: dict[str, Cause] = {}
    if leverage_one:
        why |= dict.fromkeys(("standardised", "cooks_d", "dfbeta_slope"), Cause.LEVERAGE_ONE)
    why |= {"fitted": Cause.OUT_OF_RANGE, "residual": Cause.OUT_OF_RANGE}
    if fit.exact:
        why |= dict.fromkeys(("standardised", "cooks_d"), Cause.EXACT_FIT)
    cause = Cause.NO_DEGREES_OF_FREEDOM if fit.residual_df < 2 else why.get("standardised")
    return why | (dict.fromkeys(("studentised", "dffits", "outlier_p"), cause) if cause else {})


def outlier_p(studentised: Floats, df: int) -> Floats:
    """Two-sided t p (n − 3 df for two coefficients) times n, at most 1 (Bonferroni), (n,).

    Only values that can come out below 1 are worked out one by one.
    """
    n = studentised.size
    p = np.where(np.isnan(studentised), np.nan, 1.0)
    if df < 1:
        return p
    far = np.flatnonzero(np.abs(studentised) >= t_beyond(min(0.5 / n, 0.5), df) * (1 - 1e-9))
    sizes = studentised[far]
    finite = np.isfinite(sizes)
    p[far[finite]] = np.minimum(1.0, n * t_both_many(sizes[finite], df))
    p[far[~finite]] = 0.0
    return p
