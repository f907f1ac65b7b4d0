"""Tail areas and quantiles against an independent calculation at 60 digits."""

import math

import mpmath as mp
import pytest
import reference
from hypothesis import given, settings
from hypothesis import strategies as st

from bright_tether.core.tails import f_above, f_beyond, t_above, t_beyond, t_both, t_tail


@pytest.mark.parametrize("df", [1, 2, 3, 62, 1000, 10**6])
@pytest.mark.parametrize("t", [1e-8, 0.3, 1.0, 2.0, 3.0, 5.2456, 10.0, 37.0])
def test_two_sided_area(t, df):
    wanted = reference.t_both(mp.mpf(t), df)
    if wanted > 1e-290:
        assert t_both(t, df) == pytest.approx(float(wanted), rel=3e-14)
    else:
        assert t_both(t, df) <= 1e-290


@pytest.mark.parametrize("df", [1, 2, 5, 62, 9998])
@pytest.mark.parametrize("area", [0.4, 0.05, 0.025, 0.005, 1e-6])
def test_quantile(area, df):
    assert t_beyond(area, df) == pytest.approx(float(reference.t_beyond(mp.mpf(area), df)), rel=2e-15)


def test_enormous_t_keeps_its_area_while_a_double_can_hold_it():
    wanted = reference.t_both(mp.mpf("1e200"), 1)
    assert t_both(1e200, 1) == pytest.approx(float(wanted), rel=1e-12)
    assert t_both(1e200, 50) == 0.0


@given(st.floats(-50, 50), st.integers(1, 500))
@settings(max_examples=60)
def test_one_sided_areas_add_to_one(t, df):
    assert t_tail(t, df, "greater") + t_tail(t, df, "less") == pytest.approx(1.0, abs=1e-15)
    assert t_above(-t, df) == t_tail(t, df, "less")


def test_f_quantile_is_the_inverse_of_its_area():
    assert f_above(f_beyond(0.05, 2, 17), 2, 17) == pytest.approx(0.05, rel=1e-13)
    assert f_beyond(0.05, 2, 3) == pytest.approx(9.552094495921155, rel=1e-13)
    # so few df that the end is beyond every double
    assert f_beyond(0.05, 2, 0.004) == f_beyond(0.05, 1, 0.001) == math.inf
    assert t_both(t_beyond(0.025, 0.005), 0.005) == pytest.approx(0.05, rel=1e-12)
    assert math.isclose(f_above(9.0, 1, 20), t_both(3.0, 20), rel_tol=1e-15)
