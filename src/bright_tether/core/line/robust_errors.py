"""Standard errors that do not take the residuals to be equally spread."""

from __future__ import annotations

import math
from collections.abc import Mapping
from types import MappingProxyType

import numpy as np

from bright_tether.core.exact import blocks
from bright_tether.core.line.coefficients import Coefficients, Hypotheses, coefficients
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause

KINDS = ("HC0", "HC1", "HC2", "HC3")
LEVERAGE_ONE_WITHIN = 1e-12


def robust_errors(fit: Fit, against: Hypotheses, cause: Cause) -> Mapping[str, Coefficients]:
    """Slope and intercept by each of HC0 to HC3.

    cause : why t and p are missing when every residual is zero.
    Source: White 1980; MacKinnon & White 1985; quantities §3. HC2 and HC3 are None at leverage 1.
    """
    found = {}
    for kind, (slope_square, height_square) in _meats(fit).items():
        if not math.isfinite(slope_square):
            found[kind] = coefficients(fit, None, None, against, Cause.LEVERAGE_ONE)
            continue
        if kind == "HC1" and fit.residual_df < 1:
            found[kind] = coefficients(fit, None, None, against, Cause.NO_DEGREES_OF_FREEDOM)
            continue
        factor = fit.n / fit.residual_df if kind == "HC1" else 1.0
        errors = math.sqrt(factor * slope_square), math.sqrt(factor * height_square)
        found[kind] = coefficients(fit, *errors, against, cause)
    return MappingProxyType(found)


def _meats(fit: Fit) -> dict[str, tuple[float, float]]:
    """Scaled variances of slope and intercept by kind, before any factor; NaN at leverage 1.

    The influence of row i is (x_i − x̄)/Sxx on the slope and 1/n − x̄(x_i − x̄)/Sxx on the intercept.
    """
    ratio = fit.mean_x_scaled / fit.x.sum_squares
    sums: list[tuple[float, ...]] = []
    for part in blocks(fit.n, 16384):
        high, square = fit.x.high[part], fit.residual[part] ** 2
        away = high * high
        influence = 1 / fit.base - ratio * high
        influence *= influence
        if fit.weights is not None:
            square = square * fit.weights[part] ** 2
        spare = 1 - fit.leverage(part)
        if spare.min() <= LEVERAGE_ONE_WITHIN:
            spare[spare <= LEVERAGE_ONE_WITHIN] = np.nan
        divided = square / spare
        twice = divided / spare
        sums.append(tuple(float(np.dot(w, of)) for w in (square, divided, twice) for of in (away, influence)))
    totals = np.sum(sums, axis=0)
    by_power = {p: (float(totals[2 * p]) / fit.x.sum_squares**2, float(totals[2 * p + 1])) for p in range(3)}
    return {kind: by_power[power] for kind, power in zip(KINDS, (0, 0, 1, 2), strict=True)}
