"""Comparisons of lines against nested least squares, and reading the line backwards."""

import math

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.compare.differences import (
    correlations,
    dependent_correlations,
    equivalence,
    height_differences,
    intercept_differences,
    same_rows,
    slope_differences,
)
from bright_tether.core.compare.groups import group_lines, holm, split
from bright_tether.core.compare.ladder import common_slope, every_two, ladder
from bright_tether.core.compare.spreads import spreads
from bright_tether.core.inverse import inverse
from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.errors import errors_of
from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import take_pairs
from bright_tether.core.results import Cause

DRAW = np.random.default_rng(31)


def pairs_of(x, y):
    return take_pairs(np.asarray(x, float), np.asarray(y, float))


CODES = np.repeat([0, 1, 2], [12, 17, 9])
X = DRAW.normal(1000, 5, CODES.size)
Y = 5 + np.array([0.4, 0.5, 0.7])[CODES] * X + DRAW.normal(0, 2, CODES.size)


def groups_of(k, kind="classical"):
    mine = k > CODES
    named = split(pairs_of(X[mine], Y[mine]), CODES[mine], ["a", "b", "c"][:k])
    return group_lines(named, Hypotheses(), kind)


def simple(x, y):
    told = stats.linregress(x, y)
    e = y - told.intercept - told.slope * x
    return told, float(e @ e), float(np.sum((x - x.mean()) ** 2))


def sse_of(design, y):
    e = y - design @ np.linalg.lstsq(design, y, rcond=None)[0]
    return float(e @ e)


def test_two_slopes_three_ways():
    first, second = groups_of(2)
    (a, sse_a, sxx_a), (b, sse_b, sxx_b) = (simple(X[g == CODES], Y[g == CODES]) for g in (0, 1))
    told = slope_differences(first, second, 0.9)
    gap, se = a.slope - b.slope, math.hypot(a.stderr, b.stderr)
    assert told.separate.difference == pytest.approx(gap, rel=1e-9)
    assert told.separate.t == pytest.approx(gap / se, rel=1e-9)
    assert told.separate.df == 25
    assert told.separate.p == pytest.approx(2 * stats.t.sf(abs(gap / se), 25), rel=1e-8)
    half = stats.t.ppf(0.95, 25) * se
    assert told.separate.ci == pytest.approx((gap - half, gap + half), rel=1e-8)
    df = se**4 / (a.stderr**4 / 10 + b.stderr**4 / 15)
    assert told.welch.df == pytest.approx(df, rel=1e-9)
    pooled = math.sqrt((sse_a + sse_b) / 25 * (1 / sxx_a + 1 / sxx_b))
    assert told.pooled.t == pytest.approx(gap / pooled, rel=1e-9)
    height = intercept_differences(first, second, 0.9).separate
    assert height.difference == pytest.approx(a.intercept - b.intercept, rel=1e-8)
    assert height.se == pytest.approx(math.hypot(a.intercept_stderr, b.intercept_stderr), rel=1e-8)


@pytest.mark.parametrize("k", [2, 3])
def test_the_ladder_is_nested_least_squares(k):
    mine = k > CODES
    x, y, codes = X[mine] - 1000, Y[mine] - Y.mean(), CODES[mine]
    dummies = (codes[:, None] == np.arange(k)).astype(float)
    one = sse_of(np.stack((np.ones(x.size), x), axis=1), y)
    common = sse_of(np.column_stack((dummies, x)), y)
    own = sse_of(np.column_stack((dummies, dummies * x[:, None])), y)
    n = x.size
    told = ladder(groups_of(k))
    for found, gap, df1, left, df2 in (
        (told.parallel, common - own, k - 1, own, n - 2 * k),
        (told.same_height, one - common, k - 1, common, n - k - 1),
        (told.coincident, one - own, 2 * (k - 1), own, n - 2 * k),
    ):
        f = gap / df1 / (left / df2)
        assert (found.df1, found.df2) == (df1, df2)
        assert found.f == pytest.approx(f, rel=1e-9)
        assert found.p == pytest.approx(stats.f.sf(f, df1, df2), rel=1e-8)
    assert told.common_slope == pytest.approx(
        np.linalg.lstsq(np.column_stack((dummies, x)), y, rcond=None)[0][-1]
    )
    assert told.one_slope == pytest.approx(np.polyfit(x, y, 1)[0])
    assert told.one_intercept + 1000 * told.one_slope == pytest.approx(np.polyfit(x, Y[mine], 1)[1])


def test_every_two_groups_with_holm():
    told = every_two(groups_of(3), 0.95)
    assert [one.groups for one in told] == [("a", "b"), ("a", "c"), ("b", "c")]
    made = [simple(X[g == CODES], Y[g == CODES]) for g in range(3)]
    df = X.size - 6
    variance = sum(m[1] for m in made) / df
    for one, (i, j) in zip(told, ((0, 1), (0, 2), (1, 2)), strict=True):
        gap = made[i][0].slope - made[j][0].slope
        t = gap / math.sqrt(variance * (1 / made[i][2] + 1 / made[j][2]))
        assert one.difference == pytest.approx(gap, rel=1e-9)
        assert one.p == pytest.approx(2 * stats.t.sf(abs(t), df), rel=1e-8)
    assert holm(np.array([0.01, 0.04, 0.03])).tolist() == pytest.approx([0.03, 0.06, 0.06])
    assert [one.p_holm for one in told] == holm(np.array([one.p for one in told])).tolist()


def test_equivalence_is_two_one_sided_tests():
    first, second = groups_of(2)
    found = slope_differences(first, second, 0.95).separate
    for margin in (0.01, 0.5, 3.0):
        p = max(
            stats.t.sf((found.difference + margin) / found.se, found.df),
            stats.t.sf((margin - found.difference) / found.se, found.df),
        )
        told = equivalence(found, margin, 0.05, "separate")
        assert told.basis == "separate"
        assert told.p == pytest.approx(p, rel=1e-9)
        assert told.equivalent == (p <= 0.05)


def test_correlations_apart_and_in_the_same_cases():
    first, second = groups_of(2)
    r = [np.corrcoef(X[g == CODES], Y[g == CODES])[0, 1] for g in (0, 1)]
    z = (np.arctanh(r[0]) - np.arctanh(r[1])) / math.sqrt(1 / 9 + 1 / 14)
    told = correlations(first, second)
    assert told.z == pytest.approx(z, rel=1e-9)
    assert told.p == pytest.approx(2 * stats.norm.sf(abs(z)), rel=1e-9)
    x = DRAW.normal(size=50)
    y1, y2 = x + DRAW.normal(size=50), 0.5 * x + DRAW.normal(size=50)
    r12, r13, r23 = (np.corrcoef(a, b)[0, 1] for a, b in ((x, y1), (x, y2), (y1, y2)))
    whole = 1 - r12**2 - r13**2 - r23**2 + 2 * r12 * r13 * r23
    mean = (r12 + r13) / 2
    t = (r12 - r13) * math.sqrt(49 * (1 + r23) / (2 * 49 / 47 * whole + mean**2 * (1 - r23) ** 3))
    told = dependent_correlations(x, y1, y2)
    assert told.t == pytest.approx(t, rel=1e-9)
    assert told.df == 47


def test_same_rows_is_the_line_of_the_difference():
    x = DRAW.normal(40, 5, 25)
    y1, y2 = 2 * x + DRAW.normal(size=25), 1.9 * x + DRAW.normal(size=25)
    told = same_rows(pairs_of(x, y1), y2, "classical", 0.95, height_at=41.0)
    expected = stats.linregress(x, y1 - y2)
    assert told.slope.difference == pytest.approx(expected.slope, rel=1e-10)
    assert told.slope.se == pytest.approx(expected.stderr, rel=1e-9)
    assert told.slope.p == pytest.approx(expected.pvalue, rel=1e-8)
    assert told.intercept.se == pytest.approx(expected.intercept_stderr, rel=1e-9)
    assert told.height.difference == pytest.approx(expected.intercept + 41 * expected.slope, rel=1e-9)


def test_heights_at_a_chosen_x_and_robust_errors_in_force():
    first, second = groups_of(2, "HC3")
    told = slope_differences(first, second, 0.95)
    errors = [g.line.robust["HC3"].se_slope for g in (first, second)]
    assert told.separate.se == pytest.approx(math.hypot(*errors), rel=1e-9)
    assert told.pooled is None
    height = height_differences(*groups_of(2), 1003.0, 0.95).separate
    gap = [g.line.intercept + g.line.slope * 1003 for g in groups_of(2)]
    assert height.difference == pytest.approx(gap[0] - gap[1], rel=1e-6)


def test_a_group_too_small_for_a_line_is_listed_with_its_cause():
    codes = np.array([0] * 5 + [1] * 2 + [2] * 4)
    x = np.array([1, 2, 3, 4, 5, 1, 2, 7, 7, 7, 7.0])
    groups = group_lines(split(pairs_of(x, DRAW.normal(size=11)), codes, ["a", "b", "c"]), Hypotheses())
    assert [group.cause for group in groups] == [None, None, Cause.CONSTANT_X]
    assert groups[1].no_errors is Cause.NO_DEGREES_OF_FREEDOM
    assert groups[1].line.se_slope is None
    told = ladder(groups).parallel
    assert (told.df1, told.df2) == (1, 3)  # two rows make a line, and count
    separate = slope_differences(*groups[:2], 0.95).separate
    assert separate.se is None
    assert separate.why["se"] is Cause.NO_DEGREES_OF_FREEDOM
    assert separate.difference == groups[0].line.slope - groups[1].line.slope


def test_fieller_interval_solves_its_own_equation():
    x = DRAW.normal(50, 5, 20)
    fit = fit_line(pairs_of(x, 3 + 0.8 * x + DRAW.normal(size=20)))
    told = inverse(fit, 44.0, level=0.95, mean_of=2)
    line, sse, sxx = simple(fit.pairs.x, fit.pairs.y)
    s, t = math.sqrt(sse / 18), stats.t.ppf(0.975, 18)
    assert told.x == pytest.approx((44 - line.intercept) / line.slope, rel=1e-10)
    for end in told.ci:
        away = abs(44 - line.intercept - line.slope * end)
        assert away == pytest.approx(
            t * s * math.sqrt(1 / 2 + 1 / 20 + (end - x.mean()) ** 2 / sxx), rel=1e-7
        )
    mean = inverse(fit, 44.0, level=0.95, mean_of=None)
    assert told.ci[0] < mean.ci[0] < told.x < mean.ci[1] < told.ci[1]
    robust = inverse(fit, 44.0, level=0.95, errors=errors_of(fit, "HC3"))
    assert robust.ci != told.ci


def test_a_slope_that_may_be_zero_singles_out_no_x():
    x = DRAW.normal(size=10)
    told = inverse(fit_line(pairs_of(x, DRAW.normal(size=10) * 50)), 1.0, level=0.95)
    assert told.g >= 1
    assert told.x is None
    assert told.why["ci"] is Cause.SLOPE_UNCLEAR


def test_one_slope_within_groups_is_that_of_dummies():
    codes = np.array([0] * 5 + [1] * 2 + [2] * 6)
    x, y = DRAW.normal(50, 9, 13), DRAW.normal(5, 3, 13)
    design = np.column_stack([x, *(codes == at for at in range(3))]).astype(float)
    b, *_ = np.linalg.lstsq(design, y, rcond=None)
    e = y - design @ b
    df = 13 - 3 - 1
    se = float(np.sqrt(e @ e / df * np.linalg.inv(design.T @ design)[0, 0]))
    told = common_slope(group_lines(split(pairs_of(x, y), codes, ["a", "b", "c"]), Hypotheses()), 0.9)
    assert (told.slope, told.se_slope) == pytest.approx((b[0], se), rel=1e-10)
    assert told.df == df
    half = stats.t.ppf(0.95, df) * se
    assert told.ci_slope == pytest.approx((b[0] - half, b[0] + half), rel=1e-9)


def test_a_common_slope_keeps_its_digits_at_any_scale():
    draw = np.random.default_rng(4)
    x, codes = draw.normal(size=30), np.arange(30) % 3
    y = 2.0 * x + codes + draw.normal(0, 0.1, 30)
    plain = common_slope(group_lines(split(pairs_of(x, y), codes, ["a", "b", "c"]), Hypotheses()), 0.95)
    wide, tall = 2.0**-750, 2.0**240
    scaled = common_slope(
        group_lines(split(pairs_of(x * wide, y * tall), codes, ["a", "b", "c"]), Hypotheses()), 0.95
    )
    assert scaled.slope == pytest.approx(plain.slope * 2.0**990, rel=1e-12)
    assert scaled.se_slope == pytest.approx(plain.se_slope * 2.0**990, rel=1e-12)


def test_lines_that_are_parallel_to_the_last_digit_leave_nothing_to_test_by():
    x = np.arange(8.0)
    pairs = pairs_of(np.tile(x, 2), np.r_[1 + 2 * x, 4 + 2 * x])
    steps = ladder(group_lines(split(pairs, np.repeat([0, 1], 8), ["a", "b"]), Hypotheses(), "classical"))
    for one in (steps.parallel, steps.same_height, steps.coincident):
        assert (one.f, one.p) == (None, None)
    assert steps.common_slope == 2
    assert steps.heights[1] - steps.heights[0] == pytest.approx(3)


def test_one_spread_for_all_lines_is_tested_as_bartlett_does():
    found, variances, samples = spreads(groups_of(3)), [], []
    for code in range(3):
        x, y = X[code == CODES], Y[code == CODES]
        left = y - np.polyval(np.polyfit(x - x.mean(), y, 1), x - x.mean())
        variances.append(float(left @ left) / (left.size - 2))
        # SciPy's takes samples: one of this variance, with a value less so that its df are those of the line
        sample = np.append(np.ones(left.size - 2), 0)
        samples.append((sample - sample.mean()) * math.sqrt(variances[-1] / np.var(sample, ddof=1)))
    theirs = stats.bartlett(*samples)
    assert (found.chi2, found.p, found.df) == (
        pytest.approx(theirs.statistic),
        pytest.approx(theirs.pvalue),
        2,
    )
    sizes = [math.sqrt(one) for one in variances]
    assert (found.narrow[1], found.wide[1]) == (pytest.approx(min(sizes)), pytest.approx(max(sizes)))
    assert spreads(groups_of(1)) is None
