"""Standard errors that do not take the misses to be equally spread."""

from __future__ import annotations

import math
from collections.abc import Mapping
from types import MappingProxyType

from bright_tether.core.line.coefficients import Coefficients, Hypotheses, coefficients
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause, Floats

KINDS = ("HC0", "HC1", "HC2", "HC3")
LEVERAGE_ONE_WITHIN = 1e-12


def robust_errors(fit: Fit, against: Hypotheses, cause: Cause) -> Mapping[str, Coefficients]:
    """Slope and intercept by each of HC0 to HC3.

    cause : why t and p are missing when every miss is zero.
    Source: White 1980; MacKinnon & White 1985; quantities §3. HC2 and HC3 are None at leverage 1.
    """
    square = fit.residual * fit.residual
    spare = 1 - fit.leverage
    divided = None if float(spare.min()) <= LEVERAGE_ONE_WITHIN else square / spare
    found = {}
    for kind in KINDS:
        if kind in ("HC0", "HC1"):
            weight: Floats | None = square
        else:
            weight = divided if kind == "HC2" or divided is None else divided / spare
        if weight is None:
            found[kind] = coefficients(fit, None, None, against, Cause.LEVERAGE_ONE)
            continue
        factor = fit.n / (fit.n - 2) if kind == "HC1" else 1.0
        found[kind] = coefficients(fit, *sandwich(fit, weight, factor), against, cause)
    return MappingProxyType(found)


def sandwich(fit: Fit, weight: Floats, factor: float = 1.0) -> tuple[float, float]:
    """Scaled standard errors of slope and intercept from one weight per row.

    weight : (n,), the row's share of the middle of the sandwich (e² and its kin, scaled).
    The intercept's influence of row i is 1/n − x̄(x_i − x̄)/Sxx.
    """
    high = fit.x.high
    pull = weight * high
    spread = fit.x.sum_squares
    slope_square = float((pull * high).sum()) / spread**2
    ratio = fit.mean_x_scaled / spread
    influence = 1 / fit.n - ratio * high
    height_square = float((weight * influence * influence).sum())
    return math.sqrt(factor * slope_square), math.sqrt(factor * height_square)
