"""How much y changes between two x, held against hand-made and simulated roads."""

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.line.change import change_by_slope, change_of_median, step_on
from bright_tether.core.line.errors import errors_of
from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import take_pairs

DRAW = np.random.default_rng(61)
X = DRAW.uniform(2, 9, 40)
Y = 10 ** (0.3 + 0.12 * X + DRAW.normal(0, 0.08, 40))


@pytest.mark.parametrize(("scale", "expected"), [("plain", 6.0), ("log-y", 6.0), ("log-x", np.log10(4)),
                                                 ("log-both", np.log10(4))])  # fmt: skip
def test_a_step_is_taken_on_the_scale_of_x(scale, expected):
    assert step_on(scale, 2.0, 8.0) == pytest.approx(expected, rel=1e-15)


def test_along_a_line_the_change_is_slope_times_step_and_so_is_its_interval():
    assert change_by_slope(2.0, (1.5, 2.5), 3.0) == (6.0, (4.5, 7.5))
    assert change_by_slope(2.0, (1.5, 2.5), -3.0) == (-6.0, (-7.5, -4.5))
    assert change_by_slope(None, None, 3.0) == (None, None)
    assert change_by_slope(2.0, None, 3.0) == (6.0, None)
    assert change_by_slope(1e300, (0.0, 1.0), 1e10) == (None, None)


@pytest.mark.parametrize("kind", ["classical", "HC3"])
@pytest.mark.parametrize("scale", ["log-y", "log-both"])
@pytest.mark.parametrize("size", [1.0, 1e-9, 1e9])
def test_the_change_of_the_median_has_the_interval_of_the_delta_method(scale, kind, size):
    """Against the gradient in a and b and the 2 × 2 covariance by the normal equations."""
    x = np.log10(X) if scale == "log-both" else X
    y = size * Y
    fit = fit_line(take_pairs(x, np.log10(y)))
    value, ci = change_of_median(fit, errors_of(fit, kind), scale, 3.0, 8.0, level=0.9)
    design = np.column_stack([np.ones(40), x])
    bread = np.linalg.inv(design.T @ design)
    a, b = bread @ design.T @ np.log10(y)
    residual = np.log10(y) - a - b * x
    covariance = bread * (residual @ residual) / 38
    if kind == "HC3":
        leverage = np.einsum("ij,jk,ik->i", design, bread, design)
        scores = design * (residual / (1 - leverage))[:, None]
        covariance = bread @ scores.T @ scores @ bread
    ends = np.log10([3.0, 8.0]) if scale == "log-both" else np.array([3.0, 8.0])
    at = 10 ** (a + b * ends)
    pull = np.log(10) * np.array([at[1] - at[0], at[1] * ends[1] - at[0] * ends[0]])
    half = stats.t.ppf(0.95, 38) * np.sqrt(pull @ covariance @ pull)
    assert value == pytest.approx(at[1] - at[0], rel=1e-10)
    assert ci == pytest.approx((value - half, value + half), rel=1e-8)


def test_without_errors_there_is_no_interval_and_beyond_doubles_no_value():
    fit = fit_line(take_pairs(X, np.log10(Y)))
    value, ci = change_of_median(fit, None, "log-y", 3.0, 8.0, level=0.9)
    assert value > 0
    assert ci is None
    steep = fit_line(take_pairs(X, 300 * X))
    assert change_of_median(steep, None, "log-y", 3.0, 8.0, level=0.9) == (None, None)


def test_intervals_of_the_median_s_change_hold_it_about_as_often_as_they_say():
    draw, held, truth = np.random.default_rng(5), 0, 10**1.26 - 10**0.66
    for _ in range(400):
        y = 0.3 + 0.12 * X + draw.normal(0, 0.1, 40)
        fit = fit_line(take_pairs(X, y))
        _, ci = change_of_median(fit, errors_of(fit, "classical"), "log-y", 3.0, 8.0, level=0.95)
        held += ci[0] <= truth <= ci[1]
    assert 0.92 <= held / 400 <= 0.98
