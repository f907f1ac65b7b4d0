"""Every check of the residuals against an independent calculation."""

import warnings

import mpmath as mp
import numpy as np
import pytest
from scipy import stats

from bright_tether.core.checks.order import durbin_watson, runs
from bright_tether.core.checks.together import checks
from bright_tether.core.line.otherwise import fit_origin, fit_weighted
from bright_tether.core.line.plain import fit_line
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.line.terms import line_of
from bright_tether.core.pairs import take_pairs, weighted_pairs
from bright_tether.core.results import Cause

DRAW = np.random.default_rng(11)
X = np.round(DRAW.normal(20, 4, 40), 0)
Y = 3 + 0.7 * X + 0.02 * (X - 20) ** 2 + DRAW.normal(0, 0.1 * X)
W = DRAW.uniform(0.5, 3, 40)


def pairs_of(x, y):
    return take_pairs(np.asarray(x, float), np.asarray(y, float))


def fits():
    pairs = pairs_of(X, Y)
    yield "plain", fit_line(pairs), np.ones(40), np.stack((np.ones(40), X), axis=1)
    yield "weighted", fit_weighted(weighted_pairs(pairs, W)), np.sqrt(W), np.stack((np.ones(40), X), axis=1)
    yield "origin", fit_origin(pairs), np.ones(40), X[:, None]


FITS = {name: rest for name, *rest in fits()}


def least_squares(design, y):
    b, *_ = np.linalg.lstsq(design, y, rcond=None)
    return y - design @ b, b


@pytest.fixture(params=list(FITS))
def case(request):
    fit, root, design = FITS[request.param]
    e, b = least_squares(design * root[:, None], Y * root)
    return fit, root, design, e, b, checks(fit)


def test_added_terms(case):
    _fit, root, design, e, b, told = case
    p, n = design.shape[1], 40
    from_where = 0 if p == 1 else X.mean()  # through the origin the term is x² itself
    bent = np.column_stack((design, (X - from_where) ** 2)) * root[:, None]
    e1, _ = least_squares(bent, Y * root)
    f = (e @ e - e1 @ e1) / (e1 @ e1 / (n - p - 1))
    assert told.curvature.t**2 == pytest.approx(f, rel=1e-9)
    assert told.curvature.p == pytest.approx(stats.f.sf(f, 1, n - p - 1), rel=1e-8)
    fitted = design @ b
    powers = np.column_stack((design, fitted**2, fitted**3)) * root[:, None]
    powers = powers / np.abs(powers).max(axis=0)
    e2, _ = least_squares(powers, Y * root)
    f = (e @ e - e2 @ e2) / 2 / (e2 @ e2 / (n - p - 2))
    assert told.reset.f == pytest.approx(f, rel=1e-6)
    assert (told.reset.df1, told.reset.df2) == (2, n - p - 2)
    assert told.reset.p == pytest.approx(stats.f.sf(f, 2, n - p - 2), rel=1e-6)


def test_repeated_x_tell_pure_scatter(case):
    _fit, root, design, e, _b, told = case
    pure = 0.0
    for value in np.unique(X):
        mine = value == X
        mean = np.average(Y[mine], weights=root[mine] ** 2)
        pure += float(np.sum(root[mine] ** 2 * (Y[mine] - mean) ** 2))
    m = np.unique(X).size
    df1, df2 = m - design.shape[1], 40 - m
    f = (e @ e - pure) / df1 / (pure / df2)
    assert (told.lack_of_fit.df1, told.lack_of_fit.df2) == (df1, df2)
    assert told.lack_of_fit.f == pytest.approx(f, rel=1e-9)


def test_growing_misses(case):
    _fit, _root, _design, e, _b, told = case
    square = e**2
    for powers, result in ((1, told.breusch_pagan), (2, told.white)):
        left, _ = least_squares(np.vander(X - 20, powers + 1), square)
        lm = 40 * (1 - left @ left / np.sum((square - square.mean()) ** 2))
        assert result.lm == pytest.approx(lm, rel=1e-9)
        assert result.df == powers
        assert result.p == pytest.approx(stats.chi2.sf(lm, powers), rel=1e-8)
    order = sorted(range(40), key=lambda i: (X[i], i))
    ratio = np.std(e[order[-13:]], ddof=1) / np.std(e[order[:13]], ddof=1)
    assert told.spread_ratio == pytest.approx(ratio, rel=1e-10)


def test_shape_of_the_misses(case):
    _fit, _root, _design, e, _b, told = case
    w, p = stats.shapiro(e)
    assert told.shapiro_wilk.w == pytest.approx(w, rel=1e-7)
    assert told.shapiro_wilk.p == pytest.approx(p, rel=1e-5)
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        a2 = stats.anderson(e).statistic
    assert told.anderson_darling.a2 == pytest.approx(a2, rel=1e-9)
    assert told.anderson_darling.a2_star == pytest.approx(a2 * (1 + 0.75 / 40 + 2.25 / 1600), rel=1e-9)
    assert told.skewness == pytest.approx(stats.skew(e), rel=1e-9)
    assert told.excess_kurtosis == pytest.approx(stats.kurtosis(e), rel=1e-9)
    assert told.jarque_bera.jb == pytest.approx(
        40 / 6 * (stats.skew(e) ** 2 + stats.kurtosis(e) ** 2 / 4), rel=1e-9
    )
    q1, q3 = np.quantile(e, (0.25, 0.75))
    assert told.fences.upper == pytest.approx(q3 + 1.5 * (q3 - q1), rel=1e-9)
    outside = np.flatnonzero((e < told.fences.lower) | (e > told.fences.upper))
    assert told.fences.rows == tuple((outside + 1).tolist())


@pytest.mark.parametrize("n", [3, 4, 5, 6, 7, 11, 12, 50, 4999])
def test_shapiro_at_every_size(n):
    x, y = DRAW.normal(size=n), DRAW.exponential(size=n)
    fit = fit_line(pairs_of(x, y))
    w, p = stats.shapiro(fit.weighted_residual)
    told = checks(fit).shapiro_wilk
    assert told.w == pytest.approx(w, rel=1e-6)
    assert told.p == pytest.approx(p, rel=2e-3, abs=1e-12)


def exact_tail(design, d):
    """P(D ≤ d) by Imhof's integral at 30 digits, on eigenvalues worked out another way."""
    n, p = design.shape
    project = np.eye(n) - design @ np.linalg.pinv(design)
    form = np.diag([1.0] + [2.0] * (n - 2) + [1.0]) - np.eye(n, k=1) - np.eye(n, k=-1)
    values = np.sort(np.linalg.eigvalsh(project @ form @ project))[p:] - d
    mp.mp.dps = 30

    def under(u):
        angle = mp.fsum(mp.atan(mp.mpf(v) * u) for v in values) / 2
        size = mp.fprod((1 + (mp.mpf(v) * u) ** 2) ** mp.mpf("0.25") for v in values)
        return mp.sin(angle) / (u * size)

    above = mp.mpf("0.5") + mp.quad(under, [0, 0.1, 0.5, 1, 2, 5, 20, 100, 1000, mp.inf]) / mp.pi
    return float(1 - above)


@pytest.mark.parametrize("n", [5, 9, 16])
def test_durbin_watson_p_is_exact(n):
    x, y = DRAW.normal(size=n), np.cumsum(DRAW.normal(size=n))
    fit = fit_line(pairs_of(x, y))
    told = durbin_watson(fit)
    e = fit.weighted_residual
    assert told.d == pytest.approx(np.sum(np.diff(e) ** 2) / np.sum(e**2), rel=1e-12)
    expected = exact_tail(np.stack((np.ones(n), x), axis=1), told.d)
    assert told.p_positive == pytest.approx(expected, rel=1e-9, abs=1e-13)
    assert told.p_two_sided == 2 * min(told.p_positive, 1 - told.p_positive)


def test_durbin_watson_follows_the_stated_order_and_the_large_form_is_near_the_exact(monkeypatch):
    x, y = DRAW.normal(size=300), np.cumsum(DRAW.normal(size=300)) * 0.05 + DRAW.normal(size=300)
    shuffled = DRAW.permutation(300)
    here = durbin_watson(fit_line(pairs_of(x, y)))
    there = durbin_watson(fit_line(pairs_of(x[shuffled], y[shuffled])), np.argsort(shuffled))
    assert there.d == pytest.approx(here.d, rel=1e-10)
    assert there.p_positive == pytest.approx(here.p_positive, rel=1e-8)
    monkeypatch.setattr("bright_tether.core.checks.order.EXACT_UP_TO", 100)
    large = durbin_watson(fit_line(pairs_of(x, y)))
    assert large.p_positive == pytest.approx(here.p_positive, abs=2e-3)


@pytest.mark.parametrize("line", ["plain", "weighted", "through the origin", "in another order"])
def test_the_moments_of_durbin_watson_are_exact(line):
    from bright_tether.core.checks.order import _moments, _spectrum

    pairs = pairs_of(X, Y)
    if line == "weighted":
        pairs = weighted_pairs(pairs, np.linspace(1, 3, pairs.n))
    fit = line_of(pairs, origin=line == "through the origin")
    order = np.arange(fit.n)[::-1].copy() if line == "in another order" else None
    if order is not None:
        order[[0, 3]] = order[[3, 0]]
    columns = np.ascontiguousarray(fit.columns if order is None else fit.columns[:, order])
    values = _spectrum(columns.tobytes(), fit.parameters)
    mean, variance = _moments(fit, order)
    assert mean == pytest.approx(values.mean(), rel=1e-11)
    df = values.size
    assert variance == pytest.approx(
        2 * (df * np.sum(values**2) - values.sum() ** 2) / (df**2 * (df + 2)), rel=1e-9
    )


def test_runs_of_signs():
    e = [1, 2, -1, -2, -1, 3, 1, -1, 0.5, -0.2]
    x = np.arange(10.0)
    told = runs(fit_line(pairs_of(x, np.array(e) + 2 * x)))
    fit = fit_line(pairs_of(x, np.array(e) + 2 * x))
    signs = fit.weighted_residual > 0
    found = 1 + int(np.count_nonzero(signs[1:] != signs[:-1]))
    plus, minus = int(signs.sum()), int((~signs).sum())
    mean = 2 * plus * minus / 10 + 1
    variance = (mean - 1) * (mean - 2) / 9
    assert (told.runs, told.n_plus, told.n_minus) == (found, plus, minus)
    assert told.z == pytest.approx((found - mean) / np.sqrt(variance), rel=1e-12)


def test_an_exact_line_has_no_checks_and_says_so():
    told = checks(fit_line(pairs_of([1, 2, 3, 4, 5, 6, 7], [2, 4, 6, 8, 10, 12, 14])))
    for name in ("curvature", "reset", "breusch_pagan", "white", "durbin_watson", "runs", "shapiro_wilk",
                 "anderson_darling", "jarque_bera", "fences"):  # fmt: skip
        assert set(getattr(told, name).why.values()) == {Cause.EXACT_FIT}, name
    assert told.spread_ratio is None
    assert told.why["spread_ratio"] is Cause.EXACT_FIT
    assert told.skewness is None


def test_small_sets_have_what_they_can_have():
    three = checks(fit_line(pairs_of([1, 2, 3], [1, 3, 2])))
    assert three.curvature.t is None
    assert three.white.lm is None
    assert three.breusch_pagan.lm is not None
    assert three.durbin_watson.p_positive is None
    assert three.durbin_watson.d is not None
    assert three.shapiro_wilk.w is not None
    assert checks(fit_line(pairs_of([1, 1, 2, 2, 3], [1, 3, 2, 4, 4]))).reset.f is None


def test_white_of_two_values_of_x_has_one_degree_of_freedom():
    x = np.repeat([0.0, 1.0], 10)
    told = checks(fit_line(pairs_of(x, x + DRAW.normal(0, 1 + x))))
    assert told.white.df == 1
    assert told.white.lm == pytest.approx(told.breusch_pagan.lm)


def test_both_tails_of_likeness_count_twice():
    x = np.arange(40.0)
    for e in (np.tile([1.0, -1.0], 20), np.repeat([1.0, -1.0, 1.0, -1.0], 10)):
        found = durbin_watson(fit_line(pairs_of(x, x + e)))
        assert found.p_two_sided == pytest.approx(2 * min(found.p_positive, 1 - found.p_positive), abs=1e-15)
        assert found.p_two_sided < 0.01


def test_squares_that_do_not_go_with_x_at_all_leave_no_dust():
    """Every level has the same residuals, so their squares go with nothing but rounding."""
    told = checks(fit_line(pairs_of(np.repeat([1, 2, 3, 4], 10), np.tile([1, 2, 3, 4, 5], 8))))
    assert (told.breusch_pagan.lm, told.breusch_pagan.p) == (0.0, 1.0)
    assert (told.white.lm, told.white.p) == (0.0, 1.0)


@pytest.mark.parametrize("scale", [1.0, 2.0**200, 2.0**-200])
def test_pairs_that_all_lie_on_one_parabola_bend_beyond_any_measure(scale):
    x = np.array([-2.0, -1, 0, 1, 2, 3])
    told = checks(fit_line(take_pairs(x, scale * (1 + x - 2 * x * x))))
    assert (told.curvature.t, told.curvature.p, told.curvature.share) == (None, 0.0, 1.0)
    assert dict(told.curvature.why) == {"t": Cause.NOTHING_LEFT}
    assert told.curvature.turn == pytest.approx(0.25)
    assert (told.reset.f, told.reset.df1, told.reset.df2, told.reset.p) == (None, 2, 2, 0.0)
    assert dict(told.reset.why) == {"f": Cause.NOTHING_LEFT}
    near = checks(fit_line(take_pairs(x, scale * (1 + x - 2 * x * x + 1e-6 * np.array([1, 0, 0, -1, 1, 0])))))
    assert 1e3 < abs(near.curvature.t) < 1e9
    assert 0 < near.curvature.p < 1e-6


def test_repeats_that_do_not_scatter_are_nothing_to_hold_a_lack_of_fit_against():
    x, y = np.tile([1.0, 2, 3], 4), np.tile([1.0, 5, 2], 4)
    told = checks(fit_line(take_pairs(x, y))).lack_of_fit
    assert (told.f, told.df1, told.df2, told.p) == (None, None, None, None)
    assert set(told.why.values()) == {Cause.ALIKE_REPEATS}


@pytest.mark.parametrize("height", [5.0, 0.1, 1e9 / 3])
def test_a_row_off_the_line_of_all_others_lies_without_bound(height):
    x = np.arange(12.0)
    y = np.full(12, height)
    y[11] += 4 * height
    rows = RowByRow(fit_line(take_pairs(x, y)))
    assert np.isposinf(rows.studentised[11])
    assert rows.outlier_p[11] == 0.0
    assert np.isfinite(rows.studentised[:11]).all()
    y[3] += 1e-5 * height  # now the others scatter a little
    assert 1e4 < RowByRow(fit_line(take_pairs(x, y))).studentised[11] < np.inf
