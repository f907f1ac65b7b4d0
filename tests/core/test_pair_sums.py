"""The sums of two columns."""

import math

import numpy as np
import pytest

from bright_tether.core.pairs import take_pairs
from bright_tether.core.strength.pair_sums import pair_sums


def test_sums_are_exact_and_population_figures_divide_by_n():
    x, y = np.array([0.1, 0.2, 0.3, 0.4]), np.array([1e9 + 1, 1e9 + 2, 1e9 + 4, 1e9 + 7])
    one = pair_sums(take_pairs(x, y))
    assert one.n == 4
    assert one.sum_x == math.fsum(x)
    assert one.sum_xy == math.fsum(x * y)
    assert one.sum_yy == math.fsum(y * y)
    assert one.population_sd_x == pytest.approx(np.std(x), rel=1e-14)
    assert one.population_sd_y == pytest.approx(np.std(np.array([1.0, 2, 4, 7])), rel=1e-14)
    assert one.population_covariance == pytest.approx(np.cov(x, y, ddof=0)[0, 1], rel=1e-7)


def test_what_no_double_holds_is_none():
    one = pair_sums(take_pairs(np.array([1e200, 2e200, 3e200]), np.array([1.0, 2, 3])))
    assert one.sum_xx is None
    assert one.sum_x == 6e200
