"""The percentage-bend correlation, held against a second road and against what it promises."""

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.pairs import take_pairs
from bright_tether.core.results import Cause
from bright_tether.core.strength.bent import MOST, bent, bent_columns

DRAW = np.random.default_rng(71)
X = DRAW.normal(size=50)
Y = X + DRAW.normal(size=50)


def by_hand(x, share=0.2):
    """One column bent, value by value, from the definition."""
    n, middle = len(x), np.median(x)
    width = sorted(abs(x - middle))[int(np.floor((1 - share) * n + 0.5)) - 1]
    scaled = (x - middle) / width
    low, high = sum(scaled < -1), sum(scaled > 1)
    centre = (width * (high - low) + sum(v for v, s in zip(x, scaled, strict=True) if -1 <= s <= 1)) / (
        n - low - high
    )
    return np.array([max(-1.0, min(1.0, (v - centre) / width)) for v in x])


@pytest.mark.parametrize("n", [4, 5, 9, 17, 50])
def test_it_is_what_the_definition_says(n):
    x, y = X[:n], Y[:n]
    found = bent(take_pairs(x, y), level=0.95)
    a, b = by_hand(x), by_hand(y)
    r = (a @ b) / np.sqrt((a @ a) * (b @ b))
    assert found.r == pytest.approx(r, rel=1e-12)
    t = r * np.sqrt((n - 2) / (1 - r * r))
    assert (found.t, found.df) == (pytest.approx(t, rel=1e-9), n - 2)
    assert found.p == pytest.approx(2 * stats.t.sf(abs(t), n - 2), rel=1e-9)
    assert found.bent_x == np.sum(np.abs(a) == 1)
    both = bent_columns(take_pairs(x, y))
    assert both[0] == pytest.approx(a)
    assert both[1] == pytest.approx(b)


@pytest.mark.parametrize(("by", "moved"), [(1e9, -4e9), (1e-9, 5e-9), (-3.0, 1.0), (1e300, 0.0)])
def test_units_and_origin_change_nothing_but_the_sign(by, moved):
    one, other = (bent(take_pairs(x, Y), level=0.95) for x in (X, by * X + moved))
    assert other.r == pytest.approx(np.sign(by) * one.r, rel=1e-6)
    assert sorted(abs(end) for end in other.ci) == pytest.approx(sorted(abs(end) for end in one.ci), rel=1e-5)


def test_one_row_however_far_moves_it_little():
    x, y = np.append(X, 1e6), np.append(Y, -1e6)
    far = bent(take_pairs(x, y), level=0.95)
    assert abs(far.r - bent(take_pairs(X, Y), level=0.95).r) < 0.1
    assert np.corrcoef(x, y)[0, 1] < -0.99


def test_its_interval_holds_the_truth_about_as_often_as_it_says():
    draw, truth = np.random.default_rng(12), None
    many = draw.multivariate_normal([0, 0], [[1, 0.6], [0.6, 1]], 200_000)
    truth = bent(take_pairs(*many.T), level=0.95).r
    held = 0
    for _ in range(150):
        x, y = draw.multivariate_normal([0, 0], [[1, 0.6], [0.6, 1]], 60).T
        low, high = bent(take_pairs(x, y), level=0.95).ci
        held += low <= truth <= high
    assert 0.89 <= held / 150 <= 0.99


def test_what_has_no_value_says_why():
    few = bent(take_pairs(X[:3], Y[:3]), level=0.95)
    assert (few.r, few.why["r"]) == (None, Cause.NO_DEGREES_OF_FREEDOM)
    flat = np.where(np.arange(50) < 45, 2.0, X)
    one = bent(take_pairs(flat, Y), level=0.95)
    assert (one.r, one.why["r"]) == (None, Cause.MIDDLE_ONE_VALUE)
    assert bent_columns(take_pairs(flat, Y)) is None
    assert bent_columns(take_pairs(X[:3], Y[:3])) is None
    exact = bent(take_pairs(X, 2 * X), level=0.95)
    assert (exact.r, exact.t, exact.why["p"]) == (1.0, None, Cause.PERFECT_CORRELATION)
    x = DRAW.normal(size=MOST + 1)
    long = bent(take_pairs(x, x + DRAW.normal(size=MOST + 1)), level=0.95)
    assert long.r is not None
    assert (long.ci, long.why["ci"]) == (None, Cause.TOO_MANY_ROWS)
