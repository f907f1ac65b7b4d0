"""Forecasts with columns held, against the normal equations."""

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.line.errors import NoErrors
from bright_tether.core.line.held_forecast import held_forecasts

DRAW = np.random.default_rng(101)
N = 45
X, Z, W = DRAW.normal(10, 2, N), DRAW.normal(3, 1, N), DRAW.normal(size=N)
Y = 1 + 2 * X + 0.5 * Z + W + DRAW.normal(size=N)


@pytest.mark.parametrize("kind", ["classical", "HC3"])
@pytest.mark.parametrize("moved", [0.0, 1e6])
def test_fitted_mean_and_case_are_those_of_the_whole_covariance(kind, moved):
    found = held_forecasts(X + moved, (Z, W), Y, (9.0 + moved, 30.0 + moved), (4.0, 0.5), 0.9, kind=kind)
    design = np.column_stack([np.ones(N), X, Z, W])
    bread = np.linalg.inv(design.T @ design)
    b = bread @ design.T @ Y
    e, df = Y - design @ b, N - 4
    v = bread * (e @ e) / df
    if kind == "HC3":
        h = np.einsum("ij,jk,ik->i", design, bread, design)
        scores = design * (e / (1 - h))[:, None]
        v = bread @ scores.T @ scores @ bread
    t = stats.t.ppf(0.95, df)
    for one, x in zip(found, (9.0, 30.0), strict=True):
        place = np.array([1, x, 4.0, 0.5])
        assert one.fitted == pytest.approx(place @ b, rel=1e-9)
        half = t * np.sqrt(place @ v @ place)
        assert one.ci == pytest.approx((place @ b - half, place @ b + half), rel=1e-8)
        half = t * np.sqrt(place @ v @ place + e @ e / df)
        assert one.pi == pytest.approx((place @ b - half, place @ b + half), rel=1e-8)
        assert one.df == df
    assert [one.outside for one in found] == [False, True]


def test_the_slope_along_held_columns_is_followed():
    found = held_forecasts(X, (Z, W), Y, (9.0, 13.0), (4.0, 0.5), 0.9, along=(0, 1))
    design = np.column_stack([np.ones(N), X, Z, W, X * Z, X * W])
    bread = np.linalg.inv(design.T @ design)
    b = bread @ design.T @ Y
    e, df = Y - design @ b, N - 6
    t = stats.t.ppf(0.95, df)
    for one, x in zip(found, (9.0, 13.0), strict=True):
        place = np.array([1, x, 4.0, 0.5, 4 * x, 0.5 * x])
        half = t * np.sqrt(place @ bread @ place * (e @ e) / df)
        assert one.fitted == pytest.approx(place @ b, rel=1e-9)
        assert one.ci == pytest.approx((place @ b - half, place @ b + half), rel=1e-8)
        assert (one.df, one.outside) == (df, False)


def test_without_degrees_of_freedom_there_is_no_forecast_along():
    with pytest.raises(NoErrors):
        held_forecasts(X[:4], (Z[:4],), Y[:4], (9.0,), (3.0,), 0.9, along=(0,))


def test_what_is_held_beyond_its_range_is_told():
    (one,) = held_forecasts(X, (Z,), Y, (10.0,), (99.0,), 0.95)
    assert one.outside


def test_intervals_of_a_new_case_hold_it_as_often_as_they_say():
    draw, held = np.random.default_rng(7), 0
    for _ in range(500):
        y = 1 + 2 * X + Z + draw.normal(size=N)
        (one,) = held_forecasts(X, (Z,), y, (12.0,), (2.0,), 0.9)
        held += one.pi[0] <= 27.0 + draw.normal() <= one.pi[1]
    assert 0.87 <= held / 500 <= 0.93
