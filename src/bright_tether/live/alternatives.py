"""Other lines beside the present one, on one picture and in one table."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import msgspec
import numpy as np

from bright_tether.core.forecast import forecast
from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.figures import line
from bright_tether.core.line.otherwise import fit_origin, fit_weighted
from bright_tether.core.line.plain import Fit, fit_line
from bright_tether.core.line.quadratic import quadratic
from bright_tether.core.pairs import Pairs, require, take_pairs, weighted_pairs
from bright_tether.core.results import Interval, Refusal
from bright_tether.live.line import LineResults
from bright_tether.study.declared import result

_POINTS = 160
Scale = Callable[[Any], Any]
#: Longer columns are not sorted into resistant lines while the hand moves.
MOST_PAIRS = 20_000


class Alternative(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """One line, of a kind that ``words`` names: its curve in x and y units, its slope with interval where it has one,
    its typical residual.

    typical : root of the mean squared gap to the points in y units, df as each line has them.
    meaning : what the slope says, a code for the words.
    """

    kind: str
    x: np.ndarray
    y: np.ndarray
    slope: float | None
    ci: Interval | None
    typical: float | None
    meaning: str


def _alternatives(pairs: Pairs, level: float, ratio: float) -> tuple[Alternative, ...]:
    """Every alternative that these pairs allow, the plain line first."""
    from bright_tether.core.line.deming import deming
    from bright_tether.core.line.resistant import mm_line, repeated_median
    from bright_tether.core.line.theil_sen import theil_sen

    require(pairs, 1)
    low, high = pairs.ends_x
    x = np.linspace(low, high, _POINTS)
    lines: list[Alternative] = []

    def straight(
        kind: str, slope: float | None, height: float | None, ci: Interval | None, meaning: str = "slope",
        df: int = 2,
    ) -> None:  # fmt: skip
        if slope is None or height is None:
            return
        gap = pairs.y - height - slope * pairs.x
        typical = float(np.sqrt(np.dot(gap, gap) / max(pairs.n - df, 1)))
        lines.append(Alternative(kind=kind, x=x, y=height + slope * x, slope=slope, ci=ci, typical=typical,
                                meaning=meaning))  # fmt: skip

    def fitted(kind: str, make: Callable[[], Fit], df: int = 2) -> None:
        try:
            other = line(make(), Hypotheses(level=level))
        except Refusal:
            return
        straight(kind, other.slope, other.intercept or 0.0, other.ci_slope, df=df)

    plain = fit_line(pairs)
    fitted("plain", lambda: plain)
    fitted("origin", lambda: fit_origin(pairs), 1)
    if low > 0:
        # weights fall as x rises; scaled to mean 1, which changes no figure told here
        weights = np.zeros(int(pairs.at.max()) + 1)
        weights[pairs.at] = low / pairs.x
        fitted("weights", lambda: fit_weighted(weighted_pairs(pairs, weights)))
    if pairs.n <= MOST_PAIRS:
        other = theil_sen(pairs, level=level)
        straight("theil-sen", other.slope, other.intercept, other.ci_slope)
        biweight = mm_line(plain, level=level)
        if biweight is not None:
            straight("mm", biweight.slope, biweight.intercept, biweight.ci_slope)
        medians = repeated_median(pairs.x, pairs.y)
        if medians is not None:
            straight("repeated-median", *medians, None)
    both = deming(plain, error_ratio=ratio, level=level)
    straight("deming", both.slope, both.intercept, both.ci_slope)
    curve = quadratic(plain)
    if curve is not None:
        lines.append(Alternative(kind="second-degree", x=x, y=curve.at(x), slope=None, ci=None,
                                typical=curve.s, meaning="curve"))  # fmt: skip
    lines += _transformed(pairs, x, level)
    return tuple(lines)


def _same(values: np.ndarray) -> np.ndarray:
    return values


_WAYS: dict[str, tuple[str, Scale, Scale, Scale]] = {
    # kind: meaning of the slope, of x, of y, back to y
    "log-both": ("elasticity", np.log10, np.log10, lambda v: 10.0**v),
    "log-x": ("per tenfold x", np.log10, _same, _same),
    "log-y": ("factor", _same, np.log10, lambda v: 10.0**v),
    "root-y": ("root", _same, np.sqrt, np.square),
    "reciprocal-x": ("reciprocal", np.reciprocal, _same, _same),
}


def _transformed(pairs: Pairs, x: np.ndarray, level: float) -> list[Alternative]:
    lines = []
    positive = {"x": float(pairs.x.min()) > 0, "y": float(pairs.y.min()) > 0}
    for kind, (meaning, of_x, of_y, back) in _WAYS.items():
        if (of_x is not _same and not positive["x"]) or (of_y is not _same and not positive["y"]):
            continue
        try:
            fit = fit_line(take_pairs(of_x(pairs.x), of_y(pairs.y)))
        except Refusal:
            continue
        curved = line(fit, Hypotheses(level=level))
        y = back(forecast(fit, of_x(x), level=level).fitted)
        gap = pairs.y - back(forecast(fit, of_x(pairs.x), level=level).fitted)
        typical = float(np.sqrt(np.dot(gap, gap) / (pairs.n - 2)))
        lines.append(Alternative(kind=kind, x=x, y=y, slope=curved.slope, ci=curved.ci_slope, typical=typical,
                                meaning=meaning))  # fmt: skip
    return lines


class AlternativeResults(LineResults):
    """Lines that could stand instead."""

    alternatives = result(_alternatives, LineResults.pairs, LineResults.level, LineResults.error_ratio)
