"""The power that the spread follows: against the likelihood by whole matrices, and against what made the data."""

import numpy as np
import pytest
from scipy import optimize, stats

from bright_tether.core.line.spread_power import REACH, spread_power
from bright_tether.core.pairs import take_pairs

DRAW = np.random.default_rng(111)
X = DRAW.uniform(1, 12, 80)
NOISE = DRAW.normal(size=80)


def outright(x, y, size):
    """Where the restricted likelihood is largest, from whole matrices, and its ratio to that of an even spread."""
    design = np.column_stack([np.ones_like(x), x])

    def loss(power):
        spread = size ** (2 * power)
        inverse = design.T @ (design / spread[:, None])
        b = np.linalg.solve(inverse, design.T @ (y / spread))
        e = y - design @ b
        sse = e @ (e / spread)
        return 0.5 * (np.log(spread).sum() + np.linalg.slogdet(inverse)[1] + (len(x) - 2) * np.log(sse))

    found = optimize.minimize_scalar(loss, bounds=(-5, 5), method="bounded", options={"xatol": 1e-9})
    return found.x, 2 * (loss(0.0) - found.fun)


@pytest.mark.parametrize("power", [-0.6, 0.0, 1.2])
@pytest.mark.parametrize("of", ["x", "fitted"])
def test_it_is_where_the_whole_likelihood_is_largest(power, of):
    y = 5 + 3 * X + 0.5 * NOISE * X**power
    b, a = np.polyfit(X, y, 1)
    found = spread_power(take_pairs(X, y), of, level=0.95)
    best, ratio = outright(X, y, X if of == "x" else np.abs(a + b * X))
    assert found.power == pytest.approx(best, abs=1e-5)
    assert found.p == pytest.approx(stats.chi2.sf(ratio, 1), rel=1e-4, abs=1e-12)
    assert found.ci[0] < found.power < found.ci[1]


def test_its_interval_holds_the_power_that_made_the_data_as_often_as_it_says():
    draw, held, shown = np.random.default_rng(8), 0, 0
    for _ in range(300):
        y = 5 + 3 * X + 0.5 * draw.normal(size=80) * X**0.7
        low, high = spread_power(take_pairs(X, y), "x", level=0.9).ci
        held += low <= 0.7 <= high
        even = spread_power(take_pairs(X, 5 + 3 * X + draw.normal(size=80)), "x", level=0.9)
        shown += even.p <= 0.05
    assert 0.85 <= held / 300 <= 0.94
    assert shown / 300 <= 0.09


@pytest.mark.parametrize(("by", "along"), [(1e8, 1.0), (1.0, 1e-7), (1e-9, 1e9)])
def test_units_change_nothing(by, along):
    y = 5 + 3 * X + 0.5 * NOISE * X
    one, other = (spread_power(take_pairs(a * X, b * y), "x", level=0.95) for a, b in ((1, 1), (along, by)))
    assert other.power == pytest.approx(one.power, abs=1e-6)
    assert other.ci == pytest.approx(one.ci, abs=1e-5)
    assert other.weights(along * X) == pytest.approx(one.weights(X), rel=1e-5)


def test_weights_fall_as_the_spread_grows_and_are_none_at_nothing():
    found = spread_power(take_pairs(X, 5 + 3 * X + 0.5 * NOISE * X), "x", level=0.95)
    there = found.weights(np.array([2.0, 4.0, 0.0, -4.0]))
    assert there[0] / there[1] == pytest.approx(4.0**found.power)
    assert np.isnan(there[2])
    assert there[3] == there[1]


def test_what_tells_no_power_gives_none():
    assert spread_power(take_pairs(X, 2 * X), "x", level=0.95) is None  # no spread
    assert spread_power(take_pairs(X[:4], X[:4] + NOISE[:4]), "x", level=0.95) is None
    ones = np.where(np.arange(80) % 2, 3.0, -3.0)
    assert spread_power(take_pairs(ones, ones + NOISE), "x", level=0.95) is None  # |x| has no width
    assert spread_power(take_pairs(np.ones(80), NOISE), "x", level=0.95) is None
    few = spread_power(take_pairs(X[:7], X[:7] + NOISE[:7]), "x", level=0.999)
    assert few is None or few.ci is None or abs(few.ci[0]) < REACH
