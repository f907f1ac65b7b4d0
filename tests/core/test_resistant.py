"""Resistant lines: right where all is well, where a minority is wild, and where half lie on one line."""

import numpy as np
import pytest

from bright_tether.core.line.plain import fit_line
from bright_tether.core.line.resistant import BREAKDOWN, EFFICIENT, mm_line, repeated_median
from bright_tether.core.pairs import take_pairs

DRAW = np.random.default_rng(71)
X = DRAW.uniform(0, 10, 60)
Y = 3 + 2 * X + DRAW.normal(size=60)


def mm(x, y, level=0.95):
    return mm_line(fit_line(take_pairs(np.asarray(x, float), np.asarray(y, float))), level=level)


def rho_mean(tuning, power=1):
    """The mean of the biweight's ρ, at most 1, over a normal sample of quantiles."""
    from scipy import integrate, stats

    def rho(u):
        z = min((u / tuning) ** 2, 1.0)
        return z * (3 - z * (3 - z))

    return integrate.quad(lambda u: rho(u) * stats.norm.pdf(u), -40, 40, points=[-tuning, tuning], limit=400)[
        0
    ]


def test_the_tuning_is_that_of_half_the_rows_and_of_ninety_five_percent():
    assert rho_mean(BREAKDOWN) == pytest.approx(0.5, abs=1e-6)
    from scipy import integrate, stats

    def psi(u):
        return u * (1 - (u / EFFICIENT) ** 2) ** 2 if abs(u) < EFFICIENT else 0.0

    def rise(u):
        z = (u / EFFICIENT) ** 2
        return (1 - z) * (1 - 5 * z) if abs(u) < EFFICIENT else 0.0

    def mean(of):
        return integrate.quad(lambda u: of(u) * stats.norm.pdf(u), -EFFICIENT, EFFICIENT)[0]

    square, slope = mean(lambda u: psi(u) ** 2), mean(rise)
    assert slope**2 / square == pytest.approx(0.95, abs=1e-6)


def test_the_estimating_equations_hold_at_the_line():
    found = mm(X, Y)
    u = (Y - found.intercept - found.slope * X) / found.scale
    psi = np.where(np.abs(u) < EFFICIENT, u * (1 - (u / EFFICIENT) ** 2) ** 2, 0.0)
    assert abs(psi.sum()) < 1e-7
    assert abs(psi @ X) < 1e-6
    plain = fit_line(take_pairs(X, Y))
    tilt = plain.y.exponent - plain.x.exponent
    assert found.slope == pytest.approx(float(plain.slope_exact) * 2.0**tilt, abs=0.05)


@pytest.mark.parametrize("bad", [6, 18, 26])
def test_a_wild_minority_does_not_carry_it(bad):
    y = Y.copy()
    worst = np.argsort(X)[-bad:]
    y[worst] = -50 + DRAW.normal(size=bad)
    found = mm(X, y)
    assert found.slope == pytest.approx(2, abs=0.35)
    assert found.lowered >= bad
    assert abs(found.slope - 2) < 3.5 * found.se_slope
    if bad <= 18:
        assert repeated_median(X, y)[0] == pytest.approx(2, abs=0.6)


def test_intervals_hold_what_they_promise_with_and_without_wild_rows():
    held = {0.0: 0, 0.1: 0}
    for share in held:
        for _ in range(70):
            x = DRAW.uniform(0, 10, 40)
            y = 1 + 0.5 * x + DRAW.normal(size=40)
            wild = DRAW.random(40) < share
            y[wild] += DRAW.normal(0, 30, int(wild.sum()))
            low, high = mm(x, y).ci_slope
            held[share] += low <= 0.5 <= high
    assert all(0.85 <= many / 70 <= 1.0 for many in held.values()), held


def test_units_and_places_change_nothing_but_units():
    found, moved = mm(X, Y), mm(1e6 + 1e-3 * X, -7 + 1e5 * Y)
    assert moved.slope == pytest.approx(1e8 * found.slope, rel=1e-6)
    assert moved.se_slope == pytest.approx(1e8 * found.se_slope, rel=1e-6)
    assert moved.scale == pytest.approx(1e5 * found.scale, rel=1e-6)


def test_more_than_half_on_one_line_is_that_line():
    y = 1 + 2 * X
    y[:20] = DRAW.normal(0, 40, 20)
    found = mm(X, y)
    assert (found.slope, found.intercept) == (pytest.approx(2, abs=1e-9), pytest.approx(1, abs=1e-8))
    assert found.ci_slope is None
    assert found.why["ci_slope"]
    assert found.lowered >= 19


def test_few_rows_and_ties_leave_none_or_a_line_and_never_trouble():
    assert mm([1, 2, 3], [1, 2, 4]) is None
    for _ in range(60):
        n = int(DRAW.integers(4, 9))
        x = DRAW.integers(0, 3, n).astype(float)
        if np.ptp(x):
            found = mm(x, DRAW.integers(0, 3, n))
            assert found is None or np.isfinite(found.slope)
    assert repeated_median(np.ones(5), np.arange(5.0)) is None


def test_repeated_medians_are_those_written_out():
    x, y = np.array([1.0, 2.0, 2.0, 5.0, 7.0]), np.array([1.0, 3.0, 2.0, 4.0, 30.0])
    each = [np.median([(y[j] - y[i]) / (x[j] - x[i]) for j in range(5) if x[j] != x[i]]) for i in range(5)]
    slope = np.median(each)
    assert repeated_median(x, y) == (pytest.approx(slope), pytest.approx(np.median(y - slope * x)))
