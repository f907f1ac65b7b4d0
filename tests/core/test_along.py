"""The slope of x along another column: held against the normal equations, whole and level by level."""

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.line.along import slope_along, slope_by_level
from bright_tether.core.line.errors import NoErrors
from bright_tether.core.line.plain import fit_line
from bright_tether.core.line.terms import Collinear
from bright_tether.core.pairs import take_pairs
from bright_tether.core.results import ConstantColumn

DRAW = np.random.default_rng(81)
N = 60
X, Z, W = DRAW.normal(10, 2, N), DRAW.normal(3, 1, N), DRAW.normal(size=N)
Y = 1 + 2 * X + 0.5 * Z + 0.4 * X * Z + W + DRAW.normal(size=N)
CASES = np.arange(N) % 9
NAMES = np.array(["a", "b", "c"])[DRAW.integers(0, 3, N)]
LEVELS = [(one == NAMES).astype(float) for one in "abc"]
PAIRS = take_pairs(X, Y)


def solved(design, y, kind="classical"):
    """Coefficients, their covariance and df by the normal equations."""
    bread = np.linalg.inv(design.T @ design)
    b = bread @ design.T @ y
    e, df = y - design @ b, len(y) - design.shape[1]
    if kind == "classical":
        return b, bread * (e @ e) / df, df
    if kind == "clustered":
        summed = np.stack([(design * e[:, None])[one == CASES].sum(axis=0) for one in range(9)])
        factor = 9 / 8 * (len(y) - 1) / df
        return b, factor * bread @ summed.T @ summed @ bread, 8
    h = np.einsum("ij,jk,ik->i", design, bread, design)
    scores = design * (e / (1 - h))[:, None]
    return b, bread @ scores.T @ scores @ bread, df


@pytest.mark.parametrize("kind", ["classical", "HC3", "clustered"])
@pytest.mark.parametrize("others", [(), (W,)])
def test_along_numbers_the_slope_at_a_place_is_b_plus_its_share_of_the_product(kind, others):
    found = slope_along(PAIRS, Z, others, (2.0, 3.5), 0.9, kind=kind, clusters=CASES)
    b, v, df = solved(np.column_stack([np.ones(N), X, Z, X * Z, *others]), Y, kind)
    assert (found.df1, found.df2, found.n) == (1, df, N)
    assert found.difference.slope == pytest.approx(b[3], rel=1e-9)
    assert found.difference.se_slope == pytest.approx(np.sqrt(v[3, 3]), rel=1e-8)
    assert found.f == pytest.approx(b[3] ** 2 / v[3, 3], rel=1e-8)
    assert found.p == pytest.approx(stats.f.sf(found.f, 1, df), rel=1e-8)
    for at in found.places:
        pull = np.zeros(len(b))
        pull[[1, 3]] = 1, at.place
        se = np.sqrt(pull @ v @ pull)
        assert at.slope.slope == pytest.approx(pull @ b, rel=1e-9)
        assert at.slope.se_slope == pytest.approx(se, rel=1e-8)
        half = stats.t.ppf(0.95, df) * se
        assert at.slope.ci_slope == pytest.approx((pull @ b - half, pull @ b + half), rel=1e-8)
        rest = sum(slope * one.mean() for slope, one in zip(b[4:], others, strict=True))
        assert at.intercept == pytest.approx(b[0] + b[2] * at.place + rest, rel=1e-8)


@pytest.mark.parametrize("kind", ["classical", "HC3", "clustered"])
def test_by_level_each_slope_is_its_own_and_their_difference_is_tested_together(kind):
    found = slope_by_level(PAIRS, LEVELS, (W,), 0.95, kind=kind, clusters=CASES)
    nested = np.column_stack([*LEVELS, *(X * one for one in LEVELS), W])
    b, v, df = solved(nested, Y, kind)
    for at, one in enumerate(found.places):
        assert one.slope.slope == pytest.approx(b[3 + at], rel=1e-8)
        assert one.slope.se_slope == pytest.approx(np.sqrt(v[3 + at, 3 + at]), rel=1e-7)
        assert one.intercept == pytest.approx(b[at] + b[6] * W.mean(), rel=1e-7)
    apart = np.zeros((2, 7))
    apart[[0, 1], 3] = -1
    apart[0, 4] = apart[1, 5] = 1
    f = (apart @ b) @ np.linalg.solve(apart @ v @ apart.T, apart @ b) / 2
    assert (found.df1, found.df2) == (2, df)
    assert found.f == pytest.approx(f, rel=1e-7)
    assert found.p == pytest.approx(stats.f.sf(f, 2, df), rel=1e-7)
    assert found.difference is None


def test_without_others_each_level_has_the_line_of_its_own_rows():
    found = slope_by_level(PAIRS, LEVELS, (), 0.95)
    for one, mine in zip(found.places, LEVELS, strict=True):
        alone = fit_line(take_pairs(X[mine == 1], Y[mine == 1]))
        assert one.slope.slope == pytest.approx(alone.slope_unscaled(alone.slope_scaled), rel=1e-10)


@pytest.mark.parametrize("moved", [1e6, -1e4])
def test_far_from_zero_the_difference_is_the_same(moved):
    here, there = (slope_along(take_pairs(X + by, Y), Z + by, (), (3.0 + by,), 0.95) for by in (0.0, moved))
    assert there.difference.slope == pytest.approx(here.difference.slope, rel=1e-9)
    assert there.places[0].slope.slope == pytest.approx(here.places[0].slope.slope, rel=1e-9)


def test_lines_without_a_residual_have_no_test_and_what_cannot_be_told_apart_is_refused():
    exact = slope_along(take_pairs(X, 2 * X + 3 * Z), Z, (), (3.0,), 0.95)
    assert exact.places[0].slope.slope == pytest.approx(2.0, rel=1e-9)
    two = (np.arange(N) % 2).astype(float)
    with pytest.raises(ConstantColumn):
        slope_along(take_pairs(two + np.arange(N) * 0 + two, Y), two, (), (0.5,), 0.95)
    with pytest.raises(Collinear):
        slope_along(PAIRS, 3 * X, (), (0.5,), 0.95)
    with pytest.raises(NoErrors):
        slope_along(take_pairs(X[:4], Y[:4]), Z[:4], (), (3.0,), 0.95)
    few = slope_by_level(PAIRS, LEVELS, (), 0.95, kind="clustered", clusters=np.arange(N) % 2)
    assert few.f is None
    assert few.p is None


def test_where_the_slope_does_not_differ_the_test_rejects_as_often_as_it_says():
    draw, rejected = np.random.default_rng(6), 0
    for _ in range(400):
        y = 2 * X + Z + draw.normal(size=N)
        rejected += slope_by_level(take_pairs(X, y), LEVELS, (), 0.95).p <= 0.05
    assert 0.02 <= rejected / 400 <= 0.085
