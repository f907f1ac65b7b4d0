"""Samples of a line with columns held: each is what least squares gives of it, and intervals keep their level."""

import numpy as np
import pytest
from msgspec.structs import replace

from bright_tether.core.line.held import fit_held, sandwich_of
from bright_tether.core.line.longer import longer_line as line_of_held
from bright_tether.core.line.terms import Design, fit_terms
from bright_tether.core.pairs import take_pairs
from bright_tether.core.rehearse.held import draw_held, held_sampling
from bright_tether.core.rehearse.truth import drawn_errors, fitted_truth
from bright_tether.core.resampling.bootstrap import drawn_counts


def longer_line(pairs, others):
    return line_of_held(fit_held(pairs, others))


RNG = np.random.default_rng(5)
N = 40
Z, LEVEL = RNG.uniform(0, 10, N) * 1e3, np.resize([0.0, 1.0, 1.0], N)
X = np.round(0.5e-3 * Z + RNG.uniform(0, 6, N), 2)
Y = 3 + 2 * X - 1e-3 * Z + 4 * LEVEL + RNG.normal(size=N)
DESIGN = np.stack([np.ones(N), X, Z, LEVEL], axis=1)
FIT = longer_line(take_pairs(X, Y), [Z, LEVEL])


def on(so_far):
    return True


def drawn(truth, draws=50, judged="classical", cases=None, seed=4):
    return draw_held(FIT, truth, draws, seed, judged, cases, on)


@pytest.mark.parametrize("judged", ["classical", "HC3", "newey_west"])
def test_a_sample_is_what_least_squares_gives_of_it(judged):
    truth = fitted_truth(FIT)
    found = drawn(truth, judged=judged)
    errors = drawn_errors(truth, np.random.Generator(np.random.PCG64(4)), 50, X) * truth.sd
    height = Y - FIT.height_unscaled(1.0) * FIT.residual
    order = np.argsort(X, kind="stable")
    for at in (0, 17, 49):
        y = height + errors[at]
        fit = fit_terms(Design(terms=(X, Z, LEVEL)), y)
        assert found.held[at] == pytest.approx(fit.slopes[0], rel=1e-9)
        assert found.alone[at] == pytest.approx(np.polyfit(X, y, 1)[0], rel=1e-9)
        sandwich = sandwich_of(fit, judged, order, None)
        se = np.sqrt(sandwich.variances[0]) * 2.0 ** (fit.y.exponent - fit.terms[0].exponent)
        assert found.se[at] == pytest.approx(se, rel=1e-9)
    assert found.df == N - 4
    assert found.alone_truth == pytest.approx(np.polyfit(X, height, 1)[0], rel=1e-9)


def test_a_stated_slope_and_sd_are_drawn_from():
    found = drawn(replace(fitted_truth(FIT), slope=5.0, sd=0.1), draws=400)
    one = held_sampling(found, level=0.95)
    assert one.truth == 5.0
    assert one.mean == pytest.approx(5.0, abs=4 * one.mean_error)
    assert one.formula == pytest.approx(0.1 / np.sqrt(N * np.var(X - ols_fitted(X))), rel=1e-9)


def ols_fitted(y):
    others = DESIGN[:, [0, 2, 3]]
    return others @ np.linalg.lstsq(others, y, rcond=None)[0]


def test_rows_drawn_again_are_fitted_anew():
    found = drawn(None)
    counts = drawn_counts(np.random.Generator(np.random.PCG64(4)), 50, N)
    for at in (0, 25, 49):
        root = np.sqrt(counts[at])[:, None]
        slope = np.linalg.lstsq(DESIGN * root, Y * root[:, 0], rcond=None)[0][1]
        assert found.held[at] == pytest.approx(slope, rel=1e-7)
        assert found.alone[at] == pytest.approx(np.polyfit(X, Y, 1, w=root[:, 0])[0], rel=1e-8)
    one = held_sampling(found, level=0.9)
    assert one.percentile == pytest.approx(tuple(np.quantile(found.held, (0.05, 0.95))))
    assert (one.caught, found.by_rows, found.by_cases) == (None, True, False)


def test_whole_cases_are_drawn_with_all_their_rows():
    cases = np.arange(N) // 4
    found = drawn(None, cases=cases)
    counts = drawn_counts(np.random.Generator(np.random.PCG64(4)), 50, 10)[:, cases]
    root = np.sqrt(counts[3])[:, None]
    slope = np.linalg.lstsq(DESIGN * root, Y * root[:, 0], rcond=None)[0][1]
    assert found.held[3] == pytest.approx(slope, rel=1e-7)
    assert found.by_cases


def test_a_draw_without_a_level_is_drawn_anew():
    level = np.zeros(N)
    level[:2] = 1
    fit = longer_line(take_pairs(X, Y), [level])
    found = draw_held(fit, None, 300, 1, "classical", None, on)
    assert found.redrawn > 10
    assert np.isfinite(found.held).all()
    assert np.abs(found.held).max() < 10


def test_it_stops_when_it_is_told_to():
    many = longer_line(
        take_pairs(np.tile(X, 200), np.tile(Y, 200) + RNG.normal(size=8000)), [np.tile(Z, 200)]
    )
    seen = []
    found = draw_held(
        many, fitted_truth(many), 500, 1, "classical", None, lambda so_far: bool(seen.append(so_far.done))
    )
    assert seen == [found.done]
    assert found.done < 500
    assert held_sampling(drawn(fitted_truth(FIT), draws=1), level=0.95) is None


def test_intervals_hold_the_slope_as_often_as_they_say():
    for judged, room in (("classical", 0.02), ("HC3", 0.03)):
        one = held_sampling(drawn(fitted_truth(FIT), draws=2000, judged=judged), level=0.95)
        assert one.caught == pytest.approx(0.95, abs=room)
    fan = replace(fitted_truth(FIT), pattern="fanning")
    assert held_sampling(drawn(fan, draws=500), level=0.95).caught > 0.8
