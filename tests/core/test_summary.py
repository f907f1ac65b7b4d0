"""Columns in figures, and the sums that a line is worked out from, also at their edges."""

import numpy as np
import pytest

from bright_tether.core.checks.bend import curvature
from bright_tether.core.line.plain import fit_line
from bright_tether.core.line.sums import sums
from bright_tether.core.pairs import take_pairs
from bright_tether.core.rehearse.draws import draw_samples
from bright_tether.core.rehearse.sampling import theory_counts
from bright_tether.core.rehearse.truth import Truth
from bright_tether.core.results import Cause
from bright_tether.core.summary import summarise

DRAW = np.random.default_rng(41)


@pytest.mark.parametrize("size", [1.0, 1e-3, 4096.0, 3e7])
def test_a_column_and_its_sums_are_what_numpy_makes_of_them(size):
    x, y = size * DRAW.uniform(1, 9, 25), DRAW.normal(5, 2, 25) / size
    told = summarise(x)
    assert dict(told.why) == {}
    assert (told.n, told.min, told.max) == (25, x.min(), x.max())
    assert (told.mean, told.sd, told.sum) == pytest.approx((x.mean(), x.std(ddof=1), x.sum()), rel=1e-13)
    assert (told.q1, told.median, told.q3) == pytest.approx(np.quantile(x, [0.25, 0.5, 0.75]), rel=1e-13)
    made = sums(fit_line(take_pairs(x, y)), 0.95)
    dx, dy = x - x.mean(), y - y.mean()
    assert (made.n, made.mean_x, made.mean_y) == pytest.approx((25, x.mean(), y.mean()), rel=1e-12)
    assert (made.sxx, made.syy, made.sxy) == pytest.approx((dx @ dx, dy @ dy, dx @ dy), rel=1e-10)
    left = dy - dx * (dx @ dy) / (dx @ dx)
    assert (made.sse, made.unshared) == pytest.approx((left @ left, left @ left / (dy @ dy)), rel=1e-10)


def test_a_column_without_values_or_with_one_says_what_it_lacks():
    none, one = summarise(np.zeros(0)), summarise(np.array([4.0]))
    assert none.n == 0
    assert set(none.why) == {"mean", "sd", "min", "q1", "median", "q3", "max", "sum"}
    assert set(none.why.values()) == {Cause.NO_PAIRS}
    assert (one.n, one.mean, one.median, one.sum, one.sd) == (1, 4.0, 4.0, 4.0, None)
    assert dict(one.why) == {"sd": Cause.TOO_FEW_PAIRS}
    assert dict(summarise(np.array([-1.7e308, 1.7e308])).why) == {"sd": Cause.OUT_OF_RANGE}


def test_where_a_bent_line_turns_and_when_that_is_not_told():
    x = np.linspace(-3, 9, 30)
    y = 2 + (x - 4) ** 2 / 3 + DRAW.normal(0, 0.2, 30)
    told = curvature(fit_line(take_pairs(x, y)))
    high, low, _ = np.polyfit(x, y, 2)
    assert told.turn == pytest.approx(-low / (2 * high), rel=1e-9)
    assert "turn" not in told.why
    exact = curvature(fit_line(take_pairs(x, 2 * x)))
    assert dict(exact.why)["turn"] in (Cause.EXACT_FIT, Cause.NO_TURN)


@pytest.mark.parametrize(("statistic", "least"), [("r", -1.0), ("r2", 0.0)])
def test_all_samples_lie_where_a_coefficient_can(statistic, least):
    made = draw_samples(Truth(intercept=0.0, slope=1.0, sd=3.0, x=np.arange(12.0)), 500, 2)
    edges = np.array([least - 0.5, least, 1.0, 1.5])
    assert theory_counts(made, statistic, 0.0, edges) == pytest.approx([0, 500, 0], abs=1e-6)
