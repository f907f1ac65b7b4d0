"""Every figure of the plain line against an independent calculation at 60 digits."""

import numpy as np
import pytest
from reference import Reference, digits

from bright_tether.core.forecast import forecast
from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.figures import line
from bright_tether.core.line.plain import fit_line
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.pairs import take_pairs
from bright_tether.core.strength.pearson import covariance, pearson
from bright_tether.core.summary import quartiles, summarise

draw = np.random.default_rng(11)
X = draw.uniform(0, 250, 40)
FAR = 1e9 + draw.uniform(0, 1e-3, 30)
CASES = {
    "plain": (X, 1 + 1.4 * X + draw.normal(0, 14, 40)),
    "weak": (X, 1e-4 * X + draw.normal(0, 14, 40)),
    "tight": (X, 1 + 2 * X + draw.normal(0, 1e-6, 40)),
    "far from zero": (FAR, 2 * (FAR - 1e9) + draw.normal(0, 1e-4, 30)),
    "far and steep": (FAR, 2 * FAR + draw.normal(0, 1e-4, 30)),
    "tiny": (X * 1e-300, X * 1e-302 + draw.normal(0, 1e-301, 40)),
    "huge": (X * 1e247, 3 * X * 1e247 + draw.normal(0, 1e249, 40)),
    "three": ([1.0, 2, 4], [2.0, 3, 7]),
    "four": ([1.0, 2, 4, 8], [2.0, 3, 7, 5]),
    "whole numbers": (np.arange(10.0), [3.0, 1, 4, 1, 5, 9, 2, 6, 5, 3]),
}


@pytest.fixture(params=CASES, scope="module")
def case(request):
    x, y = (np.array(values, float) for values in CASES[request.param])
    return Reference(x, y), fit_line(take_pairs(x, y))


def agree(found, wanted, least=12.0, scale=0):
    assert found is not None
    assert digits(found, wanted, scale) >= least, (float(np.ravel(found)[0]), wanted)


def test_line(case):
    reference, fit = case
    found = line(fit, Hypotheses())
    for key, wanted in reference.figures.items():
        value = getattr(found, key)
        if value is None:
            assert found.why[key] == "out_of_range"
        elif key.startswith("p_") and wanted < 1e-300:
            assert value <= 1e-300
        else:
            agree(value, wanted, scale=abs(reference.figures["se_intercept"]) if key == "intercept" else 0)


def test_robust_errors(case):
    reference, fit = case
    found = line(fit, Hypotheses()).robust
    for kind, wanted in reference.robust.items():
        agree(found[kind].se_slope, wanted["se_slope"])
        agree(found[kind].se_intercept, wanted["se_intercept"])


def test_correlation(case):
    reference, fit = case
    found = pearson(fit, alpha=0.05, alternative="two-sided", level=0.95)
    for key, wanted in reference.pearson.items():
        if wanted is None:
            assert getattr(found, key) is None
        elif key != "p" or wanted > 1e-300:
            agree(getattr(found, key), wanted)
    both = covariance(fit.pairs)
    if both.covariance is not None:
        agree(both.covariance, reference.covariance)


def test_row_by_row(case):
    reference, fit = case
    found = RowByRow(fit)
    for key, wanted in reference.rows.items():
        scale = max(map(abs, wanted), default=0) if key in ("fitted", "dfbeta_slope") else 0
        for value, exact in zip(getattr(found, key), wanted, strict=False):
            agree(value, exact, 11, scale)


def test_forecast(case):
    reference, fit = case
    x = fit.pairs.x
    for at in (float(x[0]), float(x.mean()), float(2 * x.max() - x.min())):
        found, wanted = forecast(fit, np.array([at]), level=0.95, mean_of=3), reference.forecast(at, 3)
        for key, exact in wanted.items():
            value = getattr(found, key)[0]
            agree(tuple(value) if value.ndim else value, exact, 11)


def test_published_linear_reference_sets():
    """Origin: the linear reference set of 36 pairs published by a national standards body,
    with 15 certified digits; slope, intercept, their errors, s, r² and F."""
    x = [0.2, 337.4, 118.2, 884.6, 10.1, 226.5, 666.3, 996.3, 448.6, 777.0, 558.2, 0.4, 0.6, 775.5, 666.9,
         338.0, 447.5, 11.6, 556.0, 228.1, 995.8, 887.6, 120.2, 0.3, 0.3, 556.8, 339.1, 887.2, 999.0, 779.0,
         11.1, 118.3, 229.2, 669.1, 448.9, 0.5]  # fmt: skip
    y = [0.1, 338.8, 118.1, 888.0, 9.2, 228.1, 668.5, 998.5, 449.1, 778.9, 559.2, 0.3, 0.1, 778.1, 668.8,
         339.3, 448.9, 10.8, 557.7, 228.3, 998.0, 888.8, 119.6, 0.3, 0.6, 557.6, 339.3, 888.0, 998.5, 778.9,
         10.2, 117.6, 228.9, 668.4, 449.2, 0.2]  # fmt: skip
    found = line(fit_line(take_pairs(np.array(x), np.array(y))), Hypotheses())
    certified = {
        "intercept": -0.262323073774029, "slope": 1.00211681802045, "se_intercept": 0.232818234301152,
        "se_slope": 0.429796848199937e-3, "s": 0.884796396144373, "r2": 0.999993745883712,
        "ss_model": 4255954.13232369, "ss_residual": 26.6173985294224, "f": 5436385.54079785,
    }  # fmt: skip
    for key, wanted in certified.items():
        assert getattr(found, key) == pytest.approx(wanted, rel=1e-13), key


def test_quartiles_interpolate_between_order_statistics():
    assert quartiles(np.array([1.0, 2, 3, 4])) == (1, 1.75, 2.5, 3.25, 4)
    assert quartiles(np.array([7.0])) == (7, 7, 7, 7, 7)


def test_one_value_has_no_spread():
    found = summarise(np.array([5.0]))
    assert (found.mean, found.sd, found.why["sd"]) == (5.0, None, "too_few_pairs")
