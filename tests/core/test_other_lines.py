"""The line fitted otherwise and its errors by other rules, against independent calculations."""

import math

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.forecast import forecast
from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.deming import deming
from bright_tether.core.line.errors import KINDS, NoErrors, coefficients_by, errors_of, lag_for
from bright_tether.core.line.figures import line
from bright_tether.core.line.otherwise import fit_origin, fit_weighted
from bright_tether.core.line.plain import fit_line
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.line.theil_sen import theil_sen
from bright_tether.core.pairs import take_pairs, weighted_pairs
from bright_tether.core.results import Cause, ConstantColumn, NegativeWeight

DRAW = np.random.default_rng(21)
N = 30
X = 1e3 + DRAW.normal(0, 4, N)
Y = -20 + 0.5 * X + DRAW.normal(0, 1, N)
W = DRAW.uniform(0.2, 5, N)
CLUSTERS = DRAW.integers(0, 6, N)


def pairs_of(x, y):
    return take_pairs(np.asarray(x, float), np.asarray(y, float))


def by_hand(design, y, root):
    """Least squares on rows times root: coefficients, residuals, (X'X)⁻¹, leverage."""
    scaled = design * root[:, None]
    inverse = np.linalg.inv(scaled.T @ scaled)
    b = np.linalg.lstsq(scaled, y * root, rcond=None)[0]
    e = (y - design @ b) * root
    return b, e, inverse, np.einsum("ij,jk,ik->i", scaled, inverse, scaled), scaled


# Centred designs keep the check itself accurate; slope and all errors of it are the same.
SHIFT = X - X.mean()
ONES = np.ones(N)
CASES = {
    "plain": (fit_line(pairs_of(X, Y)), np.stack((ONES, SHIFT), axis=1), ONES),
    "weighted": (
        fit_weighted(weighted_pairs(pairs_of(X, Y), W)),
        np.stack((ONES, SHIFT), axis=1),
        np.sqrt(W),
    ),
    "origin": (fit_origin(pairs_of(X, Y)), X[:, None], ONES),
}


@pytest.fixture(params=list(CASES))
def case(request):
    return CASES[request.param]


def test_line_and_rows(case):
    fit, design, root = case
    b, e, inverse, h, _ = by_hand(design, Y, root)
    told, rows = line(fit, Hypotheses()), RowByRow(fit)
    p = design.shape[1]
    df, sse = N - p, float(e @ e)
    assert told.slope == pytest.approx(b[-1], rel=1e-10)
    assert told.residual_df == df
    assert told.s == pytest.approx(math.sqrt(sse / df), rel=1e-9)
    assert told.se_slope == pytest.approx(math.sqrt(sse / df * inverse[-1, -1]), rel=1e-9)
    assert np.allclose(rows.leverage, h, rtol=1e-9)
    standardised = e / np.sqrt(sse / df * (1 - h))
    assert np.allclose(rows.standardised, standardised, rtol=1e-8)
    assert np.allclose(rows.cooks_d, standardised**2 * h / (1 - h) / p, rtol=1e-8)
    assert np.allclose(rows.studentised, standardised * np.sqrt((df - 1) / (df - standardised**2)), rtol=1e-8)
    kept = np.arange(N) != 7
    without = by_hand(design[kept], Y[kept], root[kept])[0]
    assert rows.dfbeta_slope[7] == pytest.approx(b[-1] - without[-1], rel=1e-6)
    assert np.allclose(rows.residual * root, e, atol=1e-9)
    assert np.allclose(rows.fitted + rows.residual, Y)


def test_through_the_origin_has_no_height_and_its_own_r2():
    fit, design, root = CASES["origin"]
    told = line(fit, Hypotheses())
    _b, e, *_ = by_hand(design, Y, root)
    share = 1 - float(e @ e) / float(Y @ Y)
    assert told.intercept is None
    assert told.r is None
    assert told.why["r"] is Cause.NO_INTERCEPT
    assert told.r2 == pytest.approx(share, rel=1e-12)
    assert told.adj_r2 == pytest.approx(1 - (1 - share) * N / (N - 1), rel=1e-12)
    assert told.f == pytest.approx(told.t_slope**2, rel=1e-10)
    assert told.ci_intercept is None
    with pytest.raises(ConstantColumn):
        fit_origin(pairs_of([0, 0, 0], [1, 2, 3]))


def test_weighted_share_and_height():
    fit, *_ = CASES["weighted"]
    told = line(fit, Hypotheses())
    mean_x, mean_y = np.average(X, weights=W), np.average(Y, weights=W)
    sxx, syy = np.sum(W * (X - mean_x) ** 2), np.sum(W * (Y - mean_y) ** 2)
    sxy = np.sum(W * (X - mean_x) * (Y - mean_y))
    assert told.slope == pytest.approx(sxy / sxx, rel=1e-11)
    assert told.intercept == pytest.approx(mean_y - sxy / sxx * mean_x, rel=1e-10)
    assert told.r2 == pytest.approx(sxy**2 / sxx / syy, rel=1e-10)
    assert told.se_intercept == pytest.approx(told.s * math.sqrt(1 / W.sum() + mean_x**2 / sxx), rel=1e-10)


def test_weights_of_one_give_the_plain_line_and_zero_weights_are_left_out():
    pairs = pairs_of(X, Y)
    same, plain = fit_weighted(weighted_pairs(pairs, ONES)), fit_line(pairs)
    assert same.slope_exact == plain.slope_exact
    assert np.array_equal(same.residual, plain.residual)
    twos = line(fit_weighted(weighted_pairs(pairs, 2 * ONES)), Hypotheses())
    assert twos.slope == pytest.approx(line(plain, Hypotheses()).slope, rel=1e-12)
    some = W.copy()
    some[:5] = 0
    left = weighted_pairs(pairs, some)
    assert (left.n, left.zero_weight) == (N - 5, 5)
    assert left.n + left.missing + left.set_aside + left.filtered_out + left.zero_weight == left.rows
    some[9] = -1
    with pytest.raises(NegativeWeight) as caught:
        weighted_pairs(pairs, some)
    assert caught.value.row == 10


@pytest.mark.parametrize("kind", KINDS)
def test_errors_by_every_rule(case, kind):
    fit, design, root = case
    b, e, inverse, h, scaled = by_hand(design, Y, root)
    p, order = design.shape[1], np.argsort(DRAW.random(N))
    df, scores = N - p, scaled * e[:, None]
    if kind == "classical":
        cover = inverse * float(e @ e) / df
    elif kind.startswith("HC"):
        factor = {"HC0": 1, "HC1": N / df, "HC2": 1 / (1 - h), "HC3": 1 / (1 - h) ** 2}[kind]
        cover = inverse @ (scaled.T * (e**2 * factor)) @ scaled @ inverse
    elif kind == "newey_west":
        along = scores[order]
        lag = math.floor(4 * (N / 100) ** (2 / 9))
        assert lag == lag_for(N)
        middle = along.T @ along
        for back in range(1, lag + 1):
            part = along[back:].T @ along[:-back]
            middle += (1 - back / (lag + 1)) * (part + part.T)
        cover = inverse @ middle @ inverse
    else:
        groups = len(set(CLUSTERS.tolist()))
        sums = np.stack([scores[g == CLUSTERS].sum(axis=0) for g in range(groups)])
        cover = inverse @ sums.T @ sums @ inverse * groups / (groups - 1) * (N - 1) / df
        df = groups - 1
    told = errors_of(fit, kind, order=order, clusters=CLUSTERS)
    assert told.df == df
    made = coefficients_by(fit, told, Hypotheses(slope_0=0.3))
    se = math.sqrt(cover[-1, -1])
    assert made.se_slope == pytest.approx(se, rel=1e-8)
    assert made.t_slope == pytest.approx((b[-1] - 0.3) / se, rel=1e-7)
    assert made.p_slope == pytest.approx(2 * stats.t.sf(abs(made.t_slope), df), rel=1e-8)
    at = np.array([995.0, 1010.0])
    rows = at[:, None] if p == 1 else np.stack((np.ones(2), at - X.mean()), axis=1)
    expected = np.sqrt(np.einsum("ij,jk,ik->i", rows, cover, rows))
    assert np.allclose(forecast(fit, at, level=0.9, errors=told).se_mean, expected, rtol=1e-7)
    if p == 2:
        shift = np.array([1, -X.mean()])
        assert made.se_intercept == pytest.approx(math.sqrt(shift @ cover @ shift), rel=1e-6)


def test_errors_that_do_not_exist_say_why():
    alone = fit_line(pairs_of([1, 1, 1, 9], [1, 2, 3, 4]))
    with pytest.raises(NoErrors) as caught:
        errors_of(alone, "HC3")
    assert caught.value.cause is Cause.LEVERAGE_ONE
    with pytest.raises(NoErrors):
        errors_of(alone, "clustered", clusters=np.zeros(4, np.int64))


@pytest.mark.parametrize(("n", "values"), [(12, None), (80, 4), (2500, None), (2500, 5)])
def test_theil_sen_is_scipys_to_the_last_digit(n, values):
    x, y = DRAW.normal(size=n), DRAW.normal(size=n)
    if values:
        x, y = DRAW.integers(0, values, n).astype(float), DRAW.integers(0, values, n).astype(float)
    told = theil_sen(pairs_of(x, y), level=0.9)
    slope, intercept, low, high = stats.theilslopes(y, x, alpha=0.9, method="joint")
    assert told.slope == slope
    assert told.intercept == intercept
    assert told.ci_slope == (low, high)


def test_deming_with_a_known_answer_and_a_jackknife_by_hand():
    fit = fit_line(pairs_of(X, Y))
    ratio = 2.5

    def slope_of(x, y):
        c = np.cov(x, y)
        gap = c[1, 1] - ratio * c[0, 0]
        return (gap + math.sqrt(gap**2 + 4 * ratio * c[0, 1] ** 2)) / (2 * c[0, 1])

    told = deming(fit, error_ratio=ratio, level=0.95)
    slope = slope_of(X, Y)
    assert told.slope == pytest.approx(slope, rel=1e-10)
    assert told.intercept == pytest.approx(Y.mean() - slope * X.mean(), rel=1e-8)
    left = [slope_of(np.delete(X, i), np.delete(Y, i)) for i in range(N)]
    se = math.sqrt((N - 1) / N * np.sum((left - np.mean(left)) ** 2))
    assert told.se_slope == pytest.approx(se, rel=1e-7)
    t = stats.t.ppf(0.975, N - 2)
    assert told.ci_slope == pytest.approx((slope - t * se, slope + t * se), rel=1e-8)
    heights = [np.delete(Y, i).mean() - left[i] * np.delete(X, i).mean() for i in range(N)]
    se = math.sqrt((N - 1) / N * np.sum((heights - np.mean(heights)) ** 2))
    assert told.se_intercept == pytest.approx(se, rel=1e-6)
    swapped = deming(fit_line(pairs_of(Y, X)), error_ratio=1 / ratio, level=0.95)
    assert swapped.slope == pytest.approx(1 / slope, rel=1e-9)


def test_a_row_without_weight_to_speak_of_makes_no_other_line_exact():
    """What a row reaches counts by the root of its weight."""
    pairs = pairs_of([1.0, 2.0, 3.0, 1e3], [1.0, 2.0 + 1e-5, 3.0, 1e3])
    fit = fit_weighted(weighted_pairs(pairs, np.array([1.0, 1.0, 1.0, 1e-28])))
    assert not fit.exact
    assert np.abs(fit.residual[:3]).max() > 1e-6


@pytest.mark.parametrize("many", [1_000_000_000, 500])
@pytest.mark.parametrize("alike", ["none", "x", "both"])
def test_a_rank_that_is_closed_in_on_is_that_of_all_slopes(monkeypatch, alike, many):
    """With fewer slopes than are listed at once for a long column; half of them alike, or one in a few."""
    for seed in range(30):
        draw = np.random.default_rng(seed)
        n = int(draw.integers(50, 150))
        x = draw.normal(0, 1, n)
        y = draw.normal() * x + draw.normal(0, 1, n)
        if alike != "none":
            x, y = np.round(x), np.round(2 * y) if alike == "both" else y
        level = float(draw.choice([0.5, 0.9, 0.9999]))
        listed = theil_sen(take_pairs(x, y), level=level)
        with monkeypatch.context() as few:
            for name, value in (
                ("_MANY", many),
                ("_ALL", 20),
                ("_DRAWN", int(draw.choice([50, 400]))),
                ("_TIMES", 3),
            ):
                few.setattr(f"bright_tether.core.line.theil_sen.{name}", value)
            found = theil_sen(take_pairs(x, y), level=level)
        assert found.slopes == listed.slopes
        assert found.slope == pytest.approx(listed.slope, rel=1e-9, abs=1e-12)
        assert found.ci_slope == pytest.approx(listed.ci_slope, rel=1e-9, abs=1e-12)
