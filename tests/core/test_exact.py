"""Sums that keep the digits plain floating point would drop."""

from fractions import Fraction

import numpy as np
import pytest

from bright_tether.core.exact import dot, pair_sum, total


def ill(n, seed):
    """Values over thirty powers of ten that nearly cancel; their exact sum."""
    draw = np.random.default_rng(seed)
    half = draw.normal(size=n // 2) * 10.0 ** draw.integers(-15, 16, n // 2)
    values = draw.permutation(np.concatenate((half, -half, draw.normal(size=n % 2 + 3) * 1e-12)))
    return values, sum(map(Fraction, values.tolist()))


@pytest.mark.parametrize("n", [0, 1, 2, 3, 50, 1023, 1024, 1025, 2047, 4099, 30_000])
def test_a_sum_is_right_to_the_last_digit_however_much_cancels(n):
    values, exact = ill(n, n) if n else (np.zeros(0), Fraction(0))
    assert pair_sum(values, np.zeros_like(values)) == pytest.approx(float(exact), rel=1e-15)
    assert total(values) == pair_sum(values, np.zeros_like(values))


def test_what_is_below_the_digits_of_a_value_counts_too():
    high, low = np.array([1.0, 1e16, -1e16]), np.array([1e-17, 0.25, 0.5])
    assert pair_sum(high, low) == 1.75


def test_a_product_keeps_what_rounding_drops():
    draw = np.random.default_rng(3)
    a, b = draw.normal(size=501), draw.normal(size=501)
    b[-1] = -float(
        sum(Fraction(x) * Fraction(y) for x, y in zip(a[:-1].tolist(), b[:-1].tolist(), strict=True))
        / Fraction(a[-1])
    )
    exact = sum(Fraction(x) * Fraction(y) for x, y in zip(a.tolist(), b.tolist(), strict=True))
    assert dot(a, np.zeros(1), b, np.zeros(1)) == pytest.approx(float(exact), rel=1e-12)
