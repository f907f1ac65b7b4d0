"""What it takes to explain a slope away, against fits with a column that is as strong as was said."""

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.line.unseen import slope_left, to_alpha, to_share, unseen, yardstick

DRAW = np.random.default_rng(61)


def fitted(y, *columns):
    """Slope of the first column, its se, and the residual sum of squares."""
    design = np.column_stack((np.ones(y.size), *columns))
    b, *_ = np.linalg.lstsq(design, y, rcond=None)
    e = y - design @ b
    df = y.size - design.shape[1]
    return b[1], np.sqrt(e @ e / df * np.linalg.inv(design.T @ design)[1, 1]), e @ e


def left(y, *columns):
    design = np.column_stack((np.ones(y.size), *columns))
    return y - design @ np.linalg.lstsq(design, y, rcond=None)[0]


def of_strength(x, y, with_x, with_y):
    """A column with these partial r² with x, and with y once x is held, that pulls the slope toward 0."""
    a, c = left(x), left(y, x)
    free = left(DRAW.normal(size=x.size), x, y)
    a, c, free = (one / np.sqrt(one @ one) for one in (a, c, free))
    sign = np.sign(left(y) @ left(x))
    inside = np.sqrt(1 - with_x) * (np.sqrt(with_y) * c * sign + np.sqrt(1 - with_y) * free)
    return np.sqrt(with_x) * a + inside


X = DRAW.normal(size=50)
Y = 1 + 0.9 * X + DRAW.normal(size=50)
B, SE, _ = fitted(Y, X)
T, DF = B / SE, 48


def test_a_column_of_the_strength_named_explains_the_whole_slope_away():
    found = unseen(T, DF, 0.05)
    z = of_strength(X, Y, found.to_nothing, found.to_nothing)
    assert fitted(Y, X, z)[0] == pytest.approx(0, abs=1e-10)
    assert found.share == pytest.approx(np.corrcoef(X, Y)[0, 1] ** 2, rel=1e-12)
    weaker = of_strength(X, Y, 0.9 * found.to_nothing, 0.9 * found.to_nothing)
    assert fitted(Y, X, weaker)[0] > 0.01


@pytest.mark.parametrize("alpha", [0.05, 0.01])
def test_a_column_of_the_strength_named_brings_the_test_to_alpha(alpha):
    found = unseen(T, DF, alpha)
    z = of_strength(X, Y, found.to_doubt, found.to_doubt)
    b, se, _ = fitted(Y, X, z)
    assert b / se == pytest.approx(stats.t.ppf(1 - alpha / 2, DF - 1), rel=1e-8)
    assert found.to_doubt < found.to_nothing


@pytest.mark.parametrize(("with_x", "with_y"), [(0.1, 0.3), (0.4, 0.05), (0.6, 0.6)])
def test_the_slope_that_is_left_is_that_of_the_fit(with_x, with_y):
    b, _, _ = fitted(Y, X, of_strength(X, Y, with_x, with_y))
    assert slope_left(T, DF, np.array([with_x]), np.array([with_y]))[0] == pytest.approx(b / B, rel=1e-8)


def test_the_curves_go_through_the_strengths_that_are_alike():
    found = unseen(T, DF, 0.05)
    for strength, curve in ((found.to_nothing, to_share(T, DF, np.array([found.to_nothing]), 0.0)),
                            (found.to_doubt, to_alpha(T, DF, 0.05, np.array([found.to_doubt])))):  # fmt: skip
        assert curve[0] == pytest.approx(strength, rel=1e-8)
    assert np.isnan(to_share(T, DF, np.array([1e-6]), 0.0))[0]
    assert np.isnan(to_alpha(T, DF, 0.05, np.array([1e-6])))[0]


def test_a_slope_that_is_not_shown_takes_nothing_and_a_strong_one_much():
    assert unseen(1.2, 30, 0.05).to_doubt == 0.0
    assert unseen(0.0, 30, 0.05).to_nothing == 0.0
    assert unseen(3.0, 1, 0.05).to_doubt is None
    huge = unseen(1e6, 30, 0.05)
    assert 0.999 < huge.to_doubt <= huge.to_nothing < 1
    assert unseen(1e-9, 30, 0.05).to_nothing == pytest.approx(1e-9 / np.sqrt(30), rel=1e-6)
    for t in (2.1, 4.0, 9.0, 40.0, 300.0):
        found = unseen(t, 5, 0.05)
        curve = to_alpha(t, 5, 0.05, np.array([found.to_doubt]))
        assert found.to_doubt == 0 or np.isnan(curve[0]) or curve[0] <= found.to_doubt + 1e-9


def test_a_yardstick_is_a_column_as_strong_as_the_measured_one():
    """Within the design: the unseen one goes with x and y as the measured one does, beside it."""
    w = DRAW.normal(size=50)
    x = X + 0.6 * w
    y = 1 + 0.9 * x + 0.7 * w + DRAW.normal(size=50)
    found = yardstick(x, y, [], [w])
    one = np.corrcoef(x, w)[0, 1] ** 2
    two = 1 - fitted(y, x, w)[2] / fitted(y, x)[2]
    assert found.with_x == pytest.approx(one / (1 - one), rel=1e-10)
    across = (one / (1 - one)) ** 2
    grown = ((1 + np.sqrt(across)) / np.sqrt(1 - across)) ** 2 * two / (1 - two)
    assert found.with_y == pytest.approx(min(grown, 1.0), rel=1e-10)
    none = yardstick(X, Y, [], [DRAW.normal(size=50)])
    assert none.possible
    assert none.with_x < 0.2
    assert not yardstick(X, Y, [], [X + 0.01 * w]).possible
