"""Several rows of one case: within, between, a further row, and cases drawn again."""

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import take_pairs
from bright_tether.core.rehearse.draws import draw_rows_again
from bright_tether.core.rehearse.sampling import sampling
from bright_tether.core.results import Cause
from bright_tether.core.strength.cases import OneRowEach, case_story, known_case


@pytest.fixture
def rows():
    """Nine cases of three to six rows, each at its own height."""
    draw = np.random.default_rng(5)
    cases = np.repeat(np.arange(9), [3, 4, 5, 6, 3, 4, 5, 6, 3])
    x = draw.normal(40, 10, 9)[cases] + draw.normal(0, 4, cases.size)
    y = draw.normal(100, 30, 9)[cases] + 0.7 * x + draw.normal(0, 2, cases.size)
    return take_pairs(x, y), cases


def design(pairs, cases):
    """One height a case, and x: the analysis of covariance as any regression has it."""
    return np.column_stack([np.eye(cases.max() + 1)[cases], pairs.x])


def test_within_and_between_are_those_of_covariance_and_of_means(rows):
    pairs, cases = rows
    story = case_story(pairs, cases)
    assert (story.rows, story.cases, story.most, story.df_within) == (39, 9, 6, 29)
    inside = [pairs.x - np.array([pairs.x[cases == c].mean() for c in cases]),
              pairs.y - np.array([pairs.y[cases == c].mean() for c in cases])]  # fmt: skip
    r = np.corrcoef(*inside)[0, 1]
    assert story.r_within == pytest.approx(r, rel=1e-12)
    t = r * np.sqrt(29 / (1 - r * r))
    assert story.p_within == pytest.approx(2 * stats.t.sf(abs(t), 29), rel=1e-9)
    means = [[values[cases == c].mean() for c in range(9)] for values in (pairs.x, pairs.y)]
    found = stats.pearsonr(*means)
    assert story.r_between == pytest.approx(found.statistic, rel=1e-12)
    assert story.p_between == pytest.approx(found.pvalue, rel=1e-9)


def test_a_further_row_of_a_case_is_that_of_the_analysis_of_covariance(rows):
    pairs, cases = rows
    found = known_case(pairs, cases, 4, 45.0, 0.9)
    whole = design(pairs, cases)
    solved, sse, *_ = np.linalg.lstsq(whole, pairs.y, rcond=None)
    at = np.zeros(10)
    at[4], at[9] = 1, 45.0
    variance = sse[0] / 29
    spread = at @ np.linalg.inv(whole.T @ whole) @ at
    t = stats.t.ppf(0.95, 29)
    assert found.fitted == pytest.approx(at @ solved, rel=1e-10)
    assert found.ci[1] - found.fitted == pytest.approx(t * np.sqrt(variance * spread), rel=1e-8)
    assert found.pi[1] - found.fitted == pytest.approx(t * np.sqrt(variance * (1 + spread)), rel=1e-8)
    assert (found.df, found.rows) == (29, 3)


def test_what_cases_cannot_say():
    pairs = take_pairs(np.arange(6.0), np.array([1.0, 3, 2, 5, 4, 6]))
    with pytest.raises(OneRowEach):
        case_story(pairs, np.arange(6))
    two = case_story(pairs, np.array([0, 0, 0, 1, 1, 1]))
    assert two.r_between is None
    assert two.why["r_between"] is Cause.TOO_FEW_PAIRS
    flat = take_pairs(np.repeat([1.0, 2.0, 3.0], 2), np.arange(6.0))
    story = case_story(flat, np.repeat(np.arange(3), 2))
    assert story.r_within is None
    assert story.why["r_within"] is Cause.CONSTANT_X
    assert known_case(flat, np.repeat(np.arange(3), 2), 0, 1.0, 0.95) is None


def test_cases_drawn_again_scatter_more_than_rows(rows):
    pairs, cases = rows
    fit = fit_line(pairs)
    by_case = draw_rows_again(fit, 4000, 3, cases=cases)
    again = draw_rows_again(fit, 4000, 3, cases=cases)
    by_row = draw_rows_again(fit, 4000, 3)
    assert np.array_equal(by_case.slope, again.slope)
    one, other = (sampling(drawn, "slope", level=0.95) for drawn in (by_case, by_row))
    assert one.caught is None
    assert one.percentile is not None
    assert one.sd > 1.2 * other.sd
    low, high = one.percentile
    assert low < fit_line(pairs).y.sum_squares
    assert low < one.mean < high


def test_each_draw_of_cases_is_a_fit_of_whole_cases():
    x = np.array([1.0, 2, 3, 10, 11, 30])
    y = np.array([2.0, 4, 5, 30, 29, 40])
    cases = np.array([0, 0, 0, 1, 1, 2])
    pairs = take_pairs(x, y)
    drawn = draw_rows_again(fit_line(pairs), 200, 1, cases=cases)
    values = sampling(drawn, "slope", level=0.95).values
    possible = set()
    for first in range(3):
        for second in range(3):
            for third in range(3):
                at = np.concatenate([np.flatnonzero(cases == c) for c in (first, second, third)])
                if np.ptp(x[at]):
                    possible.add(round(float(np.polyfit(x[at], y[at], 1)[0]), 8))
    assert {round(float(value), 8) for value in values} <= possible
    assert len({round(float(value), 6) for value in values}) > 5
