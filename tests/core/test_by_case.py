"""What is judged by case: coefficients, differences and rungs, against the same written out plainly."""

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.compare.by_case import compared_by_case
from bright_tether.core.compare.differences import slope_differences
from bright_tether.core.compare.groups import group_lines, split
from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import take_pairs
from bright_tether.core.resampling.permutation import permutation
from bright_tether.core.results import Cause
from bright_tether.core.strength.by_case import coefficients_by_case, parts_of, within_by_case
from bright_tether.core.strength.within import within_groups


@pytest.fixture
def rows():
    """Eleven cases of three to five rows, each at its own height, some values tied."""
    draw = np.random.default_rng(8)
    cases = np.repeat(np.arange(11), [3, 4, 5, 3, 4, 5, 3, 4, 5, 3, 4])
    x = np.round(draw.normal(40, 10, 11)[cases] + draw.normal(0, 4, cases.size))
    y = np.round(draw.normal(100, 12, 11)[cases] + 0.7 * x + draw.normal(0, 2, cases.size))
    return take_pairs(x, y), cases


def judged(pairs, cases, alternative="two-sided"):
    return coefficients_by_case(pairs, fit_line(pairs), cases, alternative=alternative, level=0.9)


@pytest.mark.parametrize(("name", "measure"), [
    ("pearson", stats.pearsonr), ("spearman", stats.spearmanr), ("kendall", stats.kendalltau),
])  # fmt: skip
def test_intervals_are_those_of_leaving_each_case_out(rows, name, measure):
    pairs, cases = rows
    found = getattr(judged(pairs, cases), name)
    whole = np.arctanh(measure(pairs.x, pairs.y).statistic)
    without = np.array(
        [np.arctanh(measure(pairs.x[cases != c], pairs.y[cases != c]).statistic) for c in range(11)]
    )
    spread = np.sqrt(10 / 11 * np.sum((without - without.mean()) ** 2))
    half = stats.t.ppf(0.95, 10) * spread
    assert found.ci == pytest.approx((np.tanh(whole - half), np.tanh(whole + half)), rel=1e-9)
    assert found.df == 10
    if name != "pearson":
        assert found.t == pytest.approx(whole / spread, rel=1e-9)
        assert found.p == pytest.approx(2 * stats.t.sf(abs(whole / spread), 10), rel=1e-9)


def test_r_is_tested_by_the_slope_of_the_same_cases(rows):
    pairs, cases = rows
    x, y = pairs.x - pairs.x.mean(), pairs.y
    slope = x @ y / (x @ x)
    scores = np.bincount(cases, weights=x * (y - y.mean() - slope * x)) / (x @ x)
    error = np.sqrt(scores @ scores * 11 / 10 * (pairs.n - 1) / (pairs.n - 2))
    found = judged(pairs, cases, "greater").pearson
    assert found.t == pytest.approx(slope / error, rel=1e-9)
    assert found.p == pytest.approx(stats.t.sf(slope / error, 10), rel=1e-9)


def test_r_within_groups_is_judged_by_leaving_cases_out(rows):
    pairs, cases = rows
    group = np.arange(pairs.n) % 3
    found = within_by_case(within_groups(pairs, group, ("wet", "dry", "cold")), pairs, group, cases)

    def inside(kept):
        names = group[kept]
        x, y = (values[kept] - np.array([values[kept][names == one].mean() for one in names])
                for values in (pairs.x, pairs.y))  # fmt: skip
        return np.arctanh(np.corrcoef(x, y)[0, 1])

    without = np.array([inside(cases != c) for c in range(11)])
    t = inside(np.ones(pairs.n, bool)) / np.sqrt(10 / 11 * np.sum((without - without.mean()) ** 2))
    assert found.r == pytest.approx(np.tanh(inside(np.ones(pairs.n, bool))), rel=1e-9)
    assert (found.df, found.p) == (10, pytest.approx(2 * stats.t.sf(abs(t), 10), rel=1e-8))
    assert within_by_case(found, pairs, group, cases // 6).why["p"] is Cause.TOO_FEW_CASES


def test_a_case_a_row_gives_the_interval_of_rows_left_out_one_by_one(rows):
    pairs, _ = rows
    found = judged(pairs, np.arange(pairs.n))
    assert (found.cases, found.parts) == (pairs.n, pairs.n)


def test_many_cases_are_left_out_in_parts_that_hold_whole_cases():
    cases = np.repeat(np.arange(3000), 7)
    parts = parts_of(cases)
    assert parts.max() + 1 == 25
    assert all(len(set(parts[cases == c].tolist())) == 1 for c in range(0, 3000, 97))
    assert np.bincount(parts).min() == np.bincount(parts).max() == 3000 // 25 * 7
    draw = np.random.default_rng(2)
    x = np.repeat(draw.normal(size=3000), 7)
    pairs = take_pairs(x, x + np.repeat(draw.normal(size=3000), 7))
    low, high = judged(pairs, cases).pearson.ci
    assert high - low == pytest.approx(
        2 * 1.714 * 0.5 / np.sqrt(3000), rel=0.5
    )  # as 3 000 cases have it, not 21 000


def test_what_has_no_interval_by_case_says_why(rows):
    pairs, cases = rows
    two = judged(pairs, (cases > 5).astype(np.int64))
    assert (two.pearson.ci, two.spearman.p, two.kendall.t) == (None, None, None)
    assert two.kendall.why["ci"] is Cause.TOO_FEW_CASES
    assert two.pearson.p is not None  # the slope has one with two cases
    lone = take_pairs(np.r_[np.zeros(8), 1.0, 2.0], np.arange(10.0) ** 2)
    assert judged(lone, np.repeat(np.arange(5), 2)).pearson.why["ci"] is Cause.ONE_CASE_CARRIES
    exact = judged(take_pairs(np.arange(9.0), 3 - 2 * np.arange(9.0)), np.repeat(np.arange(3), 3))
    assert exact.pearson.why["ci"] is exact.kendall.why["ci"] is Cause.PERFECT_CORRELATION
    assert exact.pearson.why["p"] is Cause.EXACT_FIT
    flat = judged(take_pairs(np.arange(9.0), np.ones(9)), np.repeat(np.arange(3), 3))
    assert flat.spearman.why["ci"] is flat.kendall.why["ci"] is Cause.CONSTANT_Y


def test_shuffled_cases_keep_their_rows_together(rows):
    pairs, cases = rows
    whole = permutation(pairs, 4000, 1, cases=cases)
    single = permutation(pairs, 4000, 1)
    assert whole.by_case
    assert not single.by_case
    assert whole.p > 5 * single.p  # 11 cases tell less than 43 rows
    few, unlike = take_pairs(np.arange(6.0), np.array([1.0, 3, 2, 5, 4, 6])), np.array([0, 1, 1, 2, 2, 2])
    one = permutation(few, 100, 1, cases=unlike)
    assert one.why["p"] is Cause.CASES_UNLIKE


def test_p_of_shuffled_cases_is_that_of_all_their_orders():
    x = np.array([1.0, 2, 2, 3, 5, 4, 6, 8])
    y = np.array([2.0, 1, 4, 3, 3, 6, 5, 9])
    from itertools import permutations

    blocks = y.reshape(4, 2)
    every = [
        np.corrcoef(x, np.concatenate([blocks[i] for i in order]))[0, 1] for order in permutations(range(4))
    ]
    share = np.mean(np.abs(every) >= abs(every[0]) - 1e-12)
    found = permutation(take_pairs(x, y), 20_000, 3, cases=np.repeat(np.arange(4), 2))
    assert found.p == pytest.approx(share, abs=4 * found.p_error)


def compared(pairs, cases, groups, height_at=45.0):
    names = [str(one) for one in dict.fromkeys(groups.tolist())]
    lines = group_lines(split(pairs, groups, names), Hypotheses(), "clustered", clusters=cases)
    return lines, compared_by_case(lines, [cases[one.places] for one in lines], 0.95, height_at)


def sandwich(design, y, cases, factors):
    """Coefficients of any design with their covariance summed by case; factors : (n,), for each row's own line."""
    bread = np.linalg.inv(design.T @ design)
    solved = bread @ design.T @ y
    scores = design * ((y - design @ solved) * np.sqrt(factors))[:, None]
    summed = np.stack([scores[cases == c].sum(axis=0) for c in np.unique(cases)])
    return solved, bread @ (summed.T @ summed) @ bread


def own_factors(cases, groups):
    factors = np.empty(cases.size)
    for group in np.unique(groups):
        mine = groups == group
        g, n = np.unique(cases[mine]).size, mine.sum()
        factors[mine] = g / (g - 1) * (n - 1) / (n - 2)
    return factors


@pytest.fixture
def seasons(rows):
    """Each case has rows in two seasons, or three."""
    pairs, cases = rows
    place = np.arange(cases.size) - np.searchsorted(cases, cases)
    return pairs, cases, place % 2, np.minimum(place, 2)


def test_lines_that_share_cases_differ_by_the_sandwich_of_both_at_once(seasons):
    pairs, cases, groups, _ = seasons
    lines, found = compared(pairs, cases, groups)
    of = (groups[:, None] == np.arange(2)).astype(float)
    design = np.column_stack([of, of * pairs.x[:, None]])
    solved, cov = sandwich(design, pairs.y, cases, own_factors(cases, groups))
    told = (
        (found.slopes, [0, 0, 1, -1]),
        (found.intercepts, [1, -1, 0, 0]),
        (found.heights, [1, -1, 45, -45]),
    )
    for one, at in told:
        at = np.array(at, float)
        assert one.difference == pytest.approx(at @ solved, rel=1e-8)
        assert one.se == pytest.approx(np.sqrt(at @ cov @ at), rel=1e-8)
        assert one.df == 10
        assert one.p == pytest.approx(2 * stats.t.sf(abs(one.difference / one.se), 10), rel=1e-8)
    apart = slope_differences(*lines, 0.95).separate
    assert found.slopes.difference == apart.difference
    assert found.slopes.se != pytest.approx(apart.se, rel=0.02)  # the two lines' errors go together
    assert found.parallel.f == pytest.approx(found.slopes.t**2, rel=1e-9)
    assert (found.cases, found.shared) == (11, 11)


def test_lines_that_share_no_case_differ_as_separate_ones(rows):
    pairs, cases = rows
    groups = (cases > 4).astype(np.int64)
    lines, found = compared(pairs, cases, groups)
    apart = slope_differences(*lines, 0.95).separate
    for name in ("difference", "se", "df", "t", "p"):
        assert getattr(found.slopes, name) == pytest.approx(getattr(apart, name), rel=1e-9)
    assert (found.cases, found.shared, found.slopes.df) == (11, 0, 9)


def test_rungs_by_case_are_wald_tests_of_all_contrasts(seasons):
    pairs, cases, _, groups = seasons
    _, found = compared(pairs, cases, groups)
    of = (groups[:, None] == np.arange(3)).astype(float)
    x = pairs.x - pairs.x.mean()
    solved, cov = sandwich(np.column_stack([of, of * x[:, None]]), pairs.y, cases, own_factors(cases, groups))
    slopes = np.array([[0, 0, 0, -1, 1, 0], [0, 0, 0, -1, 0, 1]], float)
    heights = np.array([[-1, 1, 0, 0, 0, 0], [-1, 0, 1, 0, 0, 0]], float)

    def f(contrast, solved, cov):
        gap, q = contrast @ solved, len(contrast)
        wald = gap @ np.linalg.solve(contrast @ cov @ contrast.T, gap)
        return wald * (10 - q + 1) / (10 * q), q, 10 - q + 1

    both = np.concatenate((slopes, heights))
    for test, contrast in ((found.parallel, slopes), (found.coincident, both)):
        value, q, df2 = f(contrast, solved, cov)
        assert (test.df1, test.df2) == (q, df2)
        assert test.f == pytest.approx(value, rel=1e-7)
        assert test.p == pytest.approx(stats.f.sf(value, q, df2), rel=1e-7)
    n = pairs.n
    shared = sandwich(np.column_stack([of, x]), pairs.y, cases, np.full(n, 11 / 10 * (n - 1) / (n - 4)))
    value, q, df2 = f(np.array([[-1.0, 1, 0, 0], [-1, 0, 1, 0]]), *shared)
    assert found.same_height.f == pytest.approx(value, rel=1e-7)
    assert [one.groups for one in found.pairwise] == [("0", "1"), ("0", "2"), ("1", "2")]
    assert all(one.p_holm >= one.p for one in found.pairwise)
    assert found.slopes is None


def test_correlations_by_case_are_told_apart_by_leaving_cases_out_of_both(seasons):
    pairs, cases, groups, _ = seasons
    _, found = compared(pairs, cases, groups)

    def gap(kept):
        one, two = (
            np.corrcoef(pairs.x[kept & (groups == g)], pairs.y[kept & (groups == g)])[0, 1] for g in (0, 1)
        )
        return np.arctanh(one) - np.arctanh(two)

    without = np.array([gap(cases != c) for c in range(11)])
    spread = np.sqrt(10 / 11 * np.sum((without - without.mean()) ** 2))
    everyone = gap(np.ones(cases.size, bool))
    assert found.correlations.t == pytest.approx(everyone / spread, rel=1e-8)
    assert found.correlations.df == 10


def test_what_cannot_be_compared_by_case_says_why(rows):
    pairs, cases = rows
    groups = (np.arange(cases.size) >= cases.size - 4).astype(np.int64)  # the last case alone
    _, found = compared(pairs, cases, groups)
    assert found.slopes.why["p"] is Cause.TOO_FEW_CLUSTERS
    assert found.parallel.why["p"] is Cause.TOO_FEW_CLUSTERS
    assert found.correlations.why["p"] is Cause.TOO_FEW_CASES
    few = cases < 3
    kept = take_pairs(pairs.x[few], pairs.y[few])
    mine = cases[few]
    place = np.arange(mine.size) - np.searchsorted(mine, mine)
    _, found = compared(kept, mine, np.minimum(place, 2))
    assert found.coincident.why["p"] is Cause.TOO_FEW_CASES
