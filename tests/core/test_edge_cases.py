"""Small, odd and extreme pairs: the right answer, or None and why."""

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from bright_tether.core.decision import decide
from bright_tether.core.forecast import forecast
from bright_tether.core.inverse import inverse
from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.errors import NoErrors, errors_in_force, errors_of
from bright_tether.core.line.figures import line
from bright_tether.core.line.otherwise import fit_weighted
from bright_tether.core.line.plain import checked, fit_line
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.line.theil_sen import theil_sen
from bright_tether.core.line.weights import NewWeight
from bright_tether.core.pairs import take_pairs, weighted_pairs
from bright_tether.core.results import Cause, ConstantColumn, OutOfRange, TooFewPairs
from bright_tether.core.strength.pearson import pearson

nan = np.nan


def fitted(x, y):
    return fit_line(take_pairs(np.array(x, float), np.array(y, float)))


def test_every_row_is_accounted_for():
    pairs = take_pairs(
        np.array([1, nan, 3, 4, np.inf, 6]),
        np.array([1.0, 2, nan, 4, 5, 6]),
        set_aside=np.array([0, 1, 0, 1, 0, 0], bool),
        kept=np.array([1, 1, 1, 1, 1, 0], bool),
    )
    assert (pairs.n, pairs.missing, pairs.set_aside, pairs.filtered_out) == (1, 3, 1, 1)
    assert pairs.n + pairs.missing + pairs.set_aside + pairs.filtered_out == pairs.rows
    assert pairs.at.tolist() == [0]


def test_too_few_pairs_and_constant_x_are_refused():
    with pytest.raises(TooFewPairs) as few:
        fitted([1], [1])
    assert (few.value.found, few.value.needed) == (1, 2)
    with pytest.raises(ConstantColumn) as constant:
        fitted([0.1, 0.1, 0.1], [1, 2, 3])
    assert constant.value.value == 0.1


def test_perfect_line_has_no_test():
    found = line(fitted([1, 2, 3, 4], [3, 5, 7, 9]), Hypotheses())
    assert (found.slope, found.intercept, found.s, found.se_slope) == (2, 1, 0, 0)
    assert (found.r, found.r2, found.adj_r2) == (1, 1, 1)
    assert found.t_slope is found.p_slope is found.f is found.p_f is None
    assert found.why["t_slope"] is Cause.EXACT_FIT
    r = pearson(fitted([1, 2, 3], [3, 2, 1]), alpha=0.05, alternative="two-sided", level=0.95)
    assert (r.r, r.t, r.p, r.ci) == (-1, None, None, None)


def test_line_that_is_perfect_but_for_rounding_is_perfect():
    x = np.linspace(0.1, 0.7, 7)
    found = line(fitted(x, 0.1 * x + 1e6), Hypotheses())
    assert found.s == 0
    assert found.t_slope is None


def test_constant_y_has_a_level_line_and_no_r():
    found = line(fitted([1, 2, 3, 4], [5, 5, 5, 5]), Hypotheses())
    assert (found.slope, found.intercept, found.r, found.r2) == (0, 5, None, None)
    assert found.why["r"] is found.why["t_slope"] is Cause.CONSTANT_Y
    r = pearson(fitted([1, 2, 3], [5, 5, 5]), alpha=0.05, alternative="two-sided", level=0.95)
    assert r.r is None
    assert r.why["r"] is Cause.CONSTANT_Y


def test_no_relationship_is_exactly_zero():
    found = line(fitted([1, 2, 3, 4, 5], [2, 1, 0.7, 1, 2]), Hypotheses())
    assert found.slope == 0
    assert found.r == 0
    assert found.p_slope == 1


def test_three_pairs_cannot_leave_one_out():
    rows = RowByRow(fitted([1, 2, 4], [2, 3, 7]))
    assert np.isnan(rows.studentised).all()
    assert rows.why["studentised"] is Cause.NO_DEGREES_OF_FREEDOM
    assert np.isfinite(rows.standardised).all()


def test_a_row_that_decides_alone_has_leverage_one():
    fit = fitted([0, 0, 0, 0, 1], [1, 2, 1.5, 1.7, 9])
    rows, errors = RowByRow(fit), line(fit, Hypotheses()).robust
    assert rows.leverage[-1] == pytest.approx(1, abs=1e-15)
    assert np.isnan(rows.standardised[-1])
    assert rows.why["standardised"] is Cause.LEVERAGE_ONE
    assert np.isfinite(rows.standardised[:-1]).all()
    assert errors["HC3"].se_slope is None
    assert errors["HC3"].why["se_slope"] is Cause.LEVERAGE_ONE
    assert errors["HC1"].se_slope > 0


def test_values_beyond_double_range_are_none_with_why():
    found = line(fitted([1, 2, 3], [1e200, 2e200, 4e200]), Hypotheses())
    assert found.ss_total is None
    assert found.why["ss_total"] is Cause.OUT_OF_RANGE
    assert found.s == pytest.approx(4.08248290463863e199, rel=1e-14)
    steep = line(fitted([1e-160, 2e-160, 3e-160], [1e200, 2e200, 4e200]), Hypotheses())
    assert steep.slope is None
    assert steep.why["slope"] is Cause.OUT_OF_RANGE
    assert steep.r == pytest.approx(0.98198050606197, rel=1e-12)
    with pytest.raises(OutOfRange):
        checked(fitted([1e-160, 2e-160, 3e-160], [1e200, 2e200, 4e200]))


def test_two_pairs_have_a_line_and_nothing_to_judge_it_by():
    fit = fitted([1, 3], [2, 8])
    found = line(fit, Hypotheses())
    assert (found.slope, found.intercept, found.residual_df, found.r) == (3, -1, 0, 1)
    for name in ("s", "mse", "se_slope", "t_slope", "p_slope", "ci_slope", "adj_r2", "f"):
        assert getattr(found, name) is None, name
        assert name in found.why
    told = forecast(fit, np.array([2.0]), level=0.95)
    assert told.fitted[0] == 5
    assert np.isnan(told.ci).all()
    assert told.why["ci"] is Cause.NO_DEGREES_OF_FREEDOM
    assert inverse(fit, 5, level=0.95).why["x"] is Cause.NO_DEGREES_OF_FREEDOM


def test_weights_of_any_size_leave_the_line_what_it_is():
    x, y = np.array([1.0, 2, 3, 4, 7]), np.array([1.0, 3, 2, 5, 6])
    weights = np.array([1.0, 2, 1, 3, 2])
    plain = fit_weighted(weighted_pairs(take_pairs(x, y), weights))
    for size in (1e300, 1e-300):
        fit = fit_weighted(weighted_pairs(take_pairs(x, y), weights * size))
        a, b = line(plain, Hypotheses()), line(fit, Hypotheses())
        for name in ("slope", "intercept", "se_slope", "p_slope", "r2"):
            assert getattr(b, name) == pytest.approx(getattr(a, name), rel=1e-12), name
        assert b.s == pytest.approx(a.s * size**0.5, rel=1e-12)
        new = NewWeight(stated=2 * size)
        told = forecast(fit, np.array([3.0]), level=0.95, new=new)
        known = forecast(plain, np.array([3.0]), level=0.95, new=NewWeight(stated=2.0))
        assert told.pi[0].tolist() == pytest.approx(known.pi[0].tolist(), rel=1e-12)


def test_a_new_case_weighs_what_is_stated_or_nothing_is_said_of_it():
    x, y = np.array([1.0, 2, 3, 4, 7]), np.array([1.0, 3, 2, 5, 6])
    fit = fit_weighted(weighted_pairs(take_pairs(x, y), 1 / x**2))
    at = np.array([2.0, 0.0])
    none = forecast(fit, at, level=0.9)
    assert np.isnan(none.pi).all()
    assert none.why["pi"] is Cause.WEIGHT_UNSTATED
    assert np.isfinite(none.ci).all()
    by = forecast(fit, at, level=0.9, new=NewWeight(pattern="inverse-x2"), mean_of=3)
    s, h = fit.s_scaled, by.leverage[0]
    assert by.se_individual[0] == pytest.approx(s * (1 / (3 * 0.25) + h) ** 0.5, rel=1e-12)
    assert np.isnan(by.pi[1]).all()
    assert by.why["pi"] is Cause.PATTERN_OUTSIDE


def test_a_row_that_fits_itself_leaves_no_error_in_force():
    fit = fitted([1, 1, 1, 1, 9], [1, 2, 3, 4, 7])
    for kind in ("HC0", "HC1", "newey_west"):
        assert errors_of(fit, kind).slope >= 0
        with pytest.raises(NoErrors) as none:
            errors_in_force(fit, kind)
        assert none.value.cause is Cause.LEVERAGE_ONE
    assert errors_in_force(fit, "classical").df == 3


@pytest.mark.parametrize(("alternative", "reject"), [("two-sided", True), ("greater", False), ("less", True)])
def test_decision_follows_p_and_the_alternative(alternative, reject):
    fit = fitted([1, 2, 3, 4, 5, 6], [9, 7.5, 7, 5, 4.5, 2])
    settings_of = {"alpha": 0.05, "alternative": alternative}
    against = Hypotheses(alternative=alternative)
    r = pearson(fit, **settings_of, level=0.95)
    for test in ("pearson", "slope"):
        made = decide(test, correlation=r, line=line(fit, against), **settings_of)
        assert made.reject is reject
        assert made.p == pytest.approx(r.p, rel=1e-12)
        assert (made.null, made.alternative) == (0, alternative)


numbers = st.lists(st.floats(-1e6, 1e6), min_size=5, max_size=30)


@given(numbers, st.integers(0, 10**6), st.sampled_from([0.25, 4.0, 1024.0]), st.sampled_from([0, 7, -4096]))
@settings(max_examples=80, deadline=None)
def test_shift_scale_and_order_change_nothing_they_should_not(x, seed, scale, shift):
    x = np.round(np.array(x), 3)
    assume(np.ptp(x) > 1)
    y = np.round(0.7 * x + np.random.default_rng(seed).normal(0, np.ptp(x), x.size), 3)
    plain = line(fitted(x, y), Hypotheses())
    moved = line(fitted(x * scale + shift, y), Hypotheses())
    turned = line(fitted(x[::-1], y[::-1]), Hypotheses())
    swapped = line(fitted(y, x), Hypotheses())
    assert moved.slope * scale == pytest.approx(plain.slope, rel=1e-9)
    assert moved.r == pytest.approx(plain.r, rel=1e-9)
    assert turned.p_slope == pytest.approx(plain.p_slope, rel=1e-9)
    assert swapped.r == pytest.approx(plain.r, rel=1e-9)
    assert plain.ss_model + plain.ss_residual == pytest.approx(plain.ss_total, rel=1e-12)


def test_intervals_cover_as_often_as_they_say():
    draw, hits = np.random.default_rng(5), np.zeros(3)
    x, runs = np.array([1.0, 2, 3, 5, 8, 9, 12, 14]), 1500
    for _ in range(runs):
        y = 2 + 0.5 * x + draw.normal(0, 1, x.size)
        fit = fit_line(take_pairs(x, y))
        slope = line(fit, Hypotheses(level=0.9)).ci_slope
        expected = forecast(fit, np.array([10.0]), level=0.9)
        new = 7 + draw.normal()
        hits += (slope[0] <= 0.5 <= slope[1], expected.ci[0, 0] <= 7 <= expected.ci[0, 1],
                 expected.pi[0, 0] <= new <= expected.pi[0, 1])  # fmt: skip
    assert np.all(np.abs(hits / runs - 0.9) < 4 * np.sqrt(0.09 / runs))


def test_a_level_that_is_one_in_double_precision_has_no_ends():
    fit = fitted([1, 2, 3, 4], [1, 3, 2, 5])
    told = forecast(fit, np.array([2.0]), level=1.0)
    assert np.isnan(told.ci).all()
    assert told.why["ci"] is Cause.OUT_OF_RANGE
    assert line(fit, Hypotheses(level=1.0)).why["ci_slope"] is Cause.OUT_OF_RANGE
    assert theil_sen(fit.pairs, level=1.0).ci_slope == (-1.0, 3.0)
