"""Many rows, block by block, against the road that few rows take."""

import numpy as np
import pytest

from bright_tether.core.exact import CACHED_ROWS
from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.errors import errors_of
from bright_tether.core.line.held import fit_held, hold, judge_held
from bright_tether.core.line.many_rows import solve_many
from bright_tether.core.line.plain import fit_line
from bright_tether.core.line.terms import Collinear, Design, fit_terms
from bright_tether.core.pairs import take_pairs

N = 3 * CACHED_ROWS + 17
RNG = np.random.default_rng(6)
Z, LEVEL = RNG.normal(1e6, 3, N), np.resize([0.0, 1.0, 1.0], N)
X = 0.5 * (Z - 1e6) + RNG.normal(size=N)
Y = 2 * X - Z + 3 * LEVEL + np.exp(X / 4) * RNG.normal(size=N)


def few(monkeypatch):
    """Let all rows count as few."""
    for module in ("terms", "held"):
        monkeypatch.setattr(f"bright_tether.core.line.{module}.COMPENSATED_UP_TO", 10**9)


@pytest.mark.parametrize("kind", ["classical", "HC1", "HC3", "newey_west", "clustered"])
def test_slopes_and_errors_are_those_of_few_rows(monkeypatch, kind):
    pairs, against = take_pairs(X, Y), Hypotheses(level=0.95)
    codes = np.arange(N) // 50
    found = hold(pairs, [Z, LEVEL], against, kind=kind, clusters=codes)
    few(monkeypatch)
    exact = hold(pairs, [Z, LEVEL], against, kind=kind, clusters=codes)
    for a, b in ((found.held, exact.held), *zip(found.terms, exact.terms, strict=True)):
        assert a.slope == pytest.approx(b.slope, rel=1e-11)
        assert a.se_slope == pytest.approx(b.se_slope, rel=1e-10)
        assert a.inflation == pytest.approx(b.inflation, rel=1e-11)
    assert found.partial_r == pytest.approx(exact.partial_r, rel=1e-11)
    assert found.r2 == pytest.approx(exact.r2, rel=1e-12)
    assert np.abs(found.x_left - exact.x_left).max() < 1e-9
    assert np.abs(found.y_left - exact.y_left).max() < 1e-8


def test_columns_that_hang_together_take_the_long_way(monkeypatch):
    close = Z + 1e-5 * RNG.normal(size=N)
    columns = [one - one.mean() for one in (X, Z, close)]
    assert solve_many(columns, [(Y - Y.mean(), 0)]) is None
    found = fit_terms(Design(terms=(X, Z, close)), Y)
    few(monkeypatch)
    assert found.slopes == pytest.approx(fit_terms(Design(terms=(X, Z, close)), Y).slopes, rel=1e-9)
    with pytest.raises(Collinear) as told:
        fit_held(take_pairs(X, Y), [Z, 2 * X])
    assert told.value.term in (0, 2)


def test_an_exact_plane_of_many_rows_is_exact():
    found = fit_held(take_pairs(X, 2 * X - Z), [Z])
    assert found.fit.sse == 0
    assert judge_held(found, Hypotheses(level=0.95)).held.slope == pytest.approx(2, rel=1e-12)


def test_what_the_first_step_leaves_is_taken_away():
    """Columns of which a thousandth is their own: the refinement moves residuals, and they are made anew."""
    near = X + 3e-3 * RNG.normal(size=N)
    columns = [one - one.mean() for one in (X, near)]
    (found,) = solve_many(columns, [(Y - Y.mean(), 0)])
    gap = Y - Y.mean() - np.stack(columns, axis=1) @ np.array([float(one) for one in found.slopes])
    assert np.abs(found.residual - gap).max() < 1e-9
    for one in columns:
        assert abs(one @ found.residual) < 1e-9 * np.sqrt(one @ one) * np.sqrt(found.sse)
    assert found.sse == pytest.approx(gap @ gap, rel=1e-12)


@pytest.mark.parametrize("kind", ["HC0", "HC2", "HC3"])
def test_errors_of_a_line_add_up_over_blocks(kind):
    fit = fit_line(take_pairs(X, Y))
    design = np.stack([np.ones(N), X], axis=1)
    inverse = np.linalg.inv(design.T @ design)
    hat = np.einsum("ij,jk,ik->i", design, inverse, design)
    residual = Y - design @ (inverse @ (design.T @ Y))
    power = {"HC0": 0, "HC2": 1, "HC3": 2}[kind]
    scores = design @ inverse * (residual / np.sqrt(1 - hat) ** power)[:, None]
    own = errors_of(fit, kind).slope * 4.0 ** (fit.y.exponent - fit.x.exponent)
    assert own == pytest.approx((scores.T @ scores)[1, 1], rel=1e-9)
