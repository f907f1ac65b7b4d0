"""Standard errors by any of several rules, for the line and for whatever rests on it."""

from __future__ import annotations

import math
from typing import Literal

import msgspec
import numpy as np

from bright_tether.core.line.coefficients import Coefficients, Hypotheses, coefficients
from bright_tether.core.line.figures import no_test_of
from bright_tether.core.line.meats import influence, meats
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause, Floats, Ints, Refusal

ErrorKind = Literal["classical", "HC0", "HC1", "HC2", "HC3", "newey_west", "clustered"]
KINDS: tuple[ErrorKind, ...] = ("classical", "HC0", "HC1", "HC2", "HC3", "newey_west", "clustered")
_POWER = {"HC0": 0, "HC1": 0, "HC2": 1, "HC3": 2}


class NoErrors(Refusal):
    """These errors have no value for this line. cause : why."""

    def __init__(self, cause: Cause) -> None:
        super().__init__(cause)
        self.cause = cause


class Errors(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The covariance in force, scaled: of the height at x̄, of the slope, and of both together.

    intercept : variance of the height at x = 0. df : of t.
    """

    kind: ErrorKind
    centre: float
    slope: float
    cross: float
    intercept: float
    df: int

    def at(self, away: Floats) -> Floats:
        """Variance of the fitted height at x̄ + away, (m,), scaled."""
        variance = self.centre + away * (2 * self.cross + away * self.slope)
        return np.maximum(variance, 0.0)


def errors_of(
    fit: Fit, kind: ErrorKind, *, order: Ints | None = None, clusters: Ints | None = None
) -> Errors:
    """The errors of one kind.

    order : (n,) places in the stated order, for newey_west; table order without it.
    clusters : (n,) codes from 0, for clustered. Raises NoErrors.
    Source: quantities §3; White 1980; MacKinnon & White 1985; Newey & West 1987; Liang & Zeger 1986.
    """
    df = fit.residual_df
    if df < 1:
        raise NoErrors(Cause.NO_DEGREES_OF_FREEDOM)
    if kind == "classical":
        unit = fit.s_scaled**2
        return Errors(
            kind=kind,
            centre=unit / fit.base,
            slope=unit / fit.x.sum_squares,
            cross=0.0,
            intercept=0.0 if fit.origin else unit * (1 / fit.base + fit.mean_x_scaled**2 / fit.x.sum_squares),
            df=df,
        )
    factor = 1.0
    if kind in _POWER:
        factor = fit.n / df if kind == "HC1" else 1.0
        found = meats(fit)[_POWER[kind]]
        if not math.isfinite(found.slope):
            raise NoErrors(Cause.LEVERAGE_ONE)
        return Errors(kind=kind, centre=found.centre * factor, slope=found.slope * factor,
                      cross=found.cross * factor, intercept=found.intercept * factor, df=df)  # fmt: skip
    scores: Floats = influence(fit) * fit.residual
    if kind == "newey_west":
        meat = along(scores if order is None else scores[:, order], lag_for(fit.n))
    else:
        if clusters is None or int(clusters.max()) < 1:
            raise NoErrors(Cause.TOO_FEW_CLUSTERS)
        groups = int(clusters.max()) + 1
        summed = np.stack([np.bincount(clusters, weights=row, minlength=groups) for row in scores])
        factor = cluster_factor(groups, fit.n, df)
        df = groups - 1
        meat = np.asarray(summed @ summed.T, np.float64)
    return _errors(kind, meat * factor, df)


def _errors(kind: ErrorKind, meat: Floats, df: int) -> Errors:
    return Errors(
        kind=kind,
        centre=float(meat[0, 0]),
        slope=float(meat[1, 1]),
        cross=float(meat[0, 1]),
        intercept=float(meat[2, 2]),
        df=df,
    )


def cluster_factor(clusters: int, n: int, df: int) -> float:
    """What a sandwich summed by cluster is multiplied by. df : residual ones of the line."""
    return clusters / (clusters - 1) * (n - 1) / df


def in_force(fit: Fit, errors: Errors) -> Errors:
    """The same errors, where they may judge: a row that fits itself hides its error from every sandwich.

    Raises NoErrors. Source: quantities §0.
    """
    unlooked = (
        errors.kind != "classical" and _POWER.get(errors.kind, 0) == 0
    )  # HC2 and HC3 have looked already
    if unlooked and not math.isfinite(meats(fit)[1].slope):
        raise NoErrors(Cause.LEVERAGE_ONE)
    return errors


def errors_in_force(
    fit: Fit, kind: ErrorKind, *, order: Ints | None = None, clusters: Ints | None = None
) -> Errors:
    """The errors of one kind, where they may judge. As ``errors_of``. Raises NoErrors."""
    return in_force(fit, errors_of(fit, kind, order=order, clusters=clusters))


def lag_for(n: int) -> int:
    """Neighbours looked back to: floor(4(n/100)^(2/9)), below n for n ≥ 2. Source: Newey & West 1994."""
    return int(4 * float(n / 100) ** (2 / 9))


def coefficients_by(fit: Fit, errors: Errors, against: Hypotheses) -> Coefficients:
    """Slope and intercept tested with these errors."""
    cause = no_test_of(fit)
    return coefficients(
        fit, math.sqrt(errors.slope), math.sqrt(errors.intercept), against, cause, df=errors.df
    )


def along(scores: Floats, lag: int) -> Floats:
    """Σ of products of neighbours up to a lag, with Bartlett's falling weights."""
    meat = scores @ scores.T
    for back in range(1, lag + 1):
        together = scores[:, back:] @ scores[:, :-back].T
        meat = meat + (1 - back / (lag + 1)) * (together + together.T)
    # Bartlett's weights keep the whole from falling below zero; rounding might not.
    for at in range(scores.shape[0]):
        meat[at, at] = max(float(meat[at, at]), 0.0)
    return np.asarray(meat)
