"""How much y changes from one x to another by a line, whatever scale the line was fitted on."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np

from bright_tether.core.exact import scaled_by
from bright_tether.core.forecast import away_from_mean, heights_at
from bright_tether.core.line.errors import Errors
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Interval
from bright_tether.core.tails import t_beyond

#: Which columns stand as their logarithm to the base 10.
Scale = Literal["plain", "log-x", "log-y", "log-both"]
#: Value and interval of a change, each None where it has none.
Change = tuple[float | None, Interval | None]
_LN10 = math.log(10.0)


def step_on(scale: Scale, first: float, last: float) -> float:
    """From the first x to the last on the scale of x; both above 0 where it is logarithmic."""
    return math.log10(last / first) if scale in ("log-x", "log-both") else last - first


def change_by_slope(slope: float | None, ci: Interval | None, step: float) -> Change:
    """The change along a straight line: slope times step, and so the ends of its interval."""
    if slope is None or not math.isfinite(slope * step):
        return None, None
    ends = None if ci is None else sorted(end * step for end in ci)
    return slope * step, None if ends is None else (ends[0], ends[1])


def change_of_median(
    fit: Fit, errors: Errors | None, scale: Scale, first: float, last: float, *, level: float
) -> Change:
    """The change of the median of y from first to last, in units of both columns, by a line for log y.

    errors : None where they have no value. The interval is by the delta method. Source: Oehlert 1992.
    """
    ends = np.array([first, last], float)
    away = away_from_mean(fit, np.log10(ends) if scale == "log-both" else ends)
    with np.errstate(over="ignore", invalid="ignore"):
        heights = 10.0 ** heights_at(fit, away)
        value = float(heights[1] - heights[0])
    if not math.isfinite(value):
        return None, None
    if errors is None:
        return value, None
    # d(change) = lift · d(height at x̄) + tilt · d(slope)
    pulls = _LN10 * heights
    lift, tilt = float(pulls[1] - pulls[0]), float(pulls[1] * away[1] - pulls[0] * away[0])
    variance = lift**2 * errors.centre + 2 * lift * tilt * errors.cross + tilt**2 * errors.slope
    error = float(scaled_by(np.sqrt([max(variance, 0.0)]), fit.y.exponent)[0])
    half = t_beyond((1 - level) / 2, errors.df) * error
    return value, (value - half, value + half) if math.isfinite(half) else None
