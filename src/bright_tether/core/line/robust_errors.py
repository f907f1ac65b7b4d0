"""Standard errors that do not take the residuals to be equally spread."""

from __future__ import annotations

import math
from collections.abc import Mapping
from types import MappingProxyType

from bright_tether.core.line.coefficients import Coefficients, Hypotheses, coefficients
from bright_tether.core.line.meats import meats
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause

KINDS = ("HC0", "HC1", "HC2", "HC3")


def robust_errors(fit: Fit, against: Hypotheses, cause: Cause) -> Mapping[str, Coefficients]:
    """Slope and intercept by each of HC0 to HC3.

    cause : why t and p are missing when every residual is zero.
    Source: White 1980; MacKinnon & White 1985; quantities §3. HC2 and HC3 are None at leverage 1.
    """
    found = {}
    for kind, power in zip(KINDS, (0, 0, 1, 2), strict=True):
        meat = meats(fit)[power]
        if not math.isfinite(meat.slope):
            found[kind] = coefficients(fit, None, None, against, Cause.LEVERAGE_ONE)
            continue
        if kind == "HC1" and fit.residual_df < 1:
            found[kind] = coefficients(fit, None, None, against, Cause.NO_DEGREES_OF_FREEDOM)
            continue
        factor = fit.n / fit.residual_df if kind == "HC1" else 1.0
        errors = math.sqrt(factor * meat.slope), math.sqrt(factor * meat.intercept)
        found[kind] = coefficients(fit, *errors, against, cause)
    return MappingProxyType(found)
