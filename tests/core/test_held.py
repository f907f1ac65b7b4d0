"""A slope with other columns held: exact fractions, a published certified set, and errors worked out by hand."""

from fractions import Fraction

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.errors import KINDS, NoErrors, lag_for
from bright_tether.core.line.held import columns_of, hold, share_of_change
from bright_tether.core.line.terms import Collinear
from bright_tether.core.pairs import take_pairs
from bright_tether.core.results import Cause, ConstantColumn, TooFewPairs

DRAW = np.random.default_rng(41)
N = 40
Z, W = DRAW.normal(size=(2, N))
X = 50 + 0.8 * Z + DRAW.normal(size=N)
Y = 3 + 2 * X - 1.5 * Z + 0.3 * W + DRAW.normal(size=N)
CLUSTERS = DRAW.integers(0, 8, N)


def held(others, **more):
    return hold(take_pairs(X, Y), others, Hypotheses(), **more)


def exactly(columns, y):
    """Least squares in fractions: coefficients, their classical variances, residual sum of squares."""
    rows = [[Fraction(1), *(Fraction(float(one[at])) for one in columns)] for at in range(len(y))]
    k = len(rows[0])
    normal = [[sum(row[i] * row[j] for row in rows) for j in range(k)] for i in range(k)]
    right = [sum(row[i] * Fraction(float(one)) for row, one in zip(rows, y, strict=True)) for i in range(k)]
    inverse = [[Fraction(int(i == j)) for j in range(k)] for i in range(k)]
    for at in range(k):  # Gauss and Jordan
        pivot = normal[at][at]
        normal[at] = [one / pivot for one in normal[at]]
        inverse[at] = [one / pivot for one in inverse[at]]
        for other in range(k):
            if other != at:
                share = normal[other][at]
                normal[other] = [a - share * b for a, b in zip(normal[other], normal[at], strict=True)]
                inverse[other] = [a - share * b for a, b in zip(inverse[other], inverse[at], strict=True)]
    b = [sum(inverse[i][j] * right[j] for j in range(k)) for i in range(k)]
    sse = sum((Fraction(float(one)) - sum(c * v for c, v in zip(b, row, strict=True))) ** 2
              for one, row in zip(y, rows, strict=True))  # fmt: skip
    return b, [inverse[i][i] * sse / (len(y) - k) for i in range(k)], sse


@pytest.mark.parametrize("shift", [0.0, 1e6])
def test_slopes_errors_and_shares_are_those_of_exact_arithmetic(shift):
    x = X + shift
    found = hold(take_pairs(x, Y), [Z, W], Hypotheses())
    b, variances, sse = exactly([x, Z, W], Y)
    told = [found.held, *found.terms]
    for one, slope, variance in zip(told, b[1:], variances[1:], strict=True):
        assert one.slope == pytest.approx(float(slope), rel=1e-10)
        assert one.se_slope == pytest.approx(float(variance) ** 0.5, rel=1e-10)
    total = float(np.sum((Y - Y.mean()) ** 2))
    assert found.r2 == pytest.approx(1 - float(sse) / total, rel=1e-12)
    t = found.held.slope / found.held.se_slope
    assert found.held.t_slope == pytest.approx(t, rel=1e-12)
    assert found.held.p_slope == pytest.approx(2 * stats.t.sf(abs(t), N - 4), rel=1e-9)
    reach = stats.t.ppf(0.975, N - 4) * found.held.se_slope
    assert found.held.ci_slope == pytest.approx(
        (found.held.slope - reach, found.held.slope + reach), rel=1e-10
    )


#: Wampler, Journal of the American Statistical Association 65 (1970) 549–565, as certified by NIST StRD, set Wampler3:
#: x = 0 … 20, y = 1 + x + … + x⁵ with what is orthogonal to it; every coefficient is 1.
WAMPLER3 = (760, -2042, 2111, -1684, 3888, 1858, 11379, 17560, 39287, 64382, 113159, 175108, 273291, 400186, 581243,
            811568, 1121004, 1506550, 2002767, 2611612, 3369180)  # fmt: skip
CERTIFIED_SE = (2363.55173469681, 779.343524331583, 101.475507550350, 5.64566512170752, 0.112324854679312)
WAMPLER_X = np.arange(21.0)


@pytest.mark.parametrize(("times", "near"), [(1, 1e-10), (100, 1e-9), (10_000, 1e-7)])
def test_published_certified_sets_of_five_terms_are_met(times, near):
    """Sets Wampler3 to 5 of the same source: what is orthogonal to the curve once, 100 and 10 000 times."""
    curve = sum(WAMPLER_X**power for power in range(6))
    y = curve + times * (np.array(WAMPLER3, float) - curve)
    assert y[0] == 1 + 759 * times
    found = hold(take_pairs(WAMPLER_X, y), [WAMPLER_X**power for power in range(2, 6)], Hypotheses())
    told = [found.held, *found.terms]
    assert [one.slope for one in told] == pytest.approx([1.0] * 5, rel=10 * near)
    assert [one.se_slope for one in told] == pytest.approx([times * one for one in CERTIFIED_SE], rel=1e-10)


@pytest.mark.parametrize("base", [1.0, 0.1])
def test_published_certified_sets_without_residuals_are_exact(base):
    """Sets Wampler1 and 2 of the same source: every coefficient 1, or 0.1 to the power of x; no residual at all."""
    y = sum(base**power * WAMPLER_X**power for power in range(6))
    found = hold(take_pairs(WAMPLER_X, y), [WAMPLER_X**power for power in range(2, 6)], Hypotheses())
    told = [found.held, *found.terms]
    assert [one.slope for one in told] == pytest.approx([base**power for power in range(1, 6)], rel=1e-9)
    assert [one.se_slope for one in told] == [0.0] * 5 or all(one.se_slope < 1e-9 for one in told)


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_of_errors_is_the_sandwich_written_out(kind):
    order = DRAW.permutation(N)
    found = held([Z, W], kind=kind, order=order, clusters=CLUSTERS)
    design = np.column_stack((np.ones(N), X, Z, W))
    inverse = np.linalg.inv(design.T @ design)
    e = Y - design @ (inverse @ design.T @ Y)
    h = np.einsum("ij,jk,ik->i", design, inverse, design)
    df = N - 4
    scores = design * e[:, None]
    if kind == "classical":
        cov = inverse * (e @ e) / df
    elif kind.startswith("HC"):
        power = {"HC0": 0, "HC1": 0, "HC2": 1, "HC3": 2}[kind]
        weighted = scores / np.sqrt(1 - h)[:, None] ** power
        cov = inverse @ (weighted.T @ weighted) @ inverse * (N / df if kind == "HC1" else 1)
    elif kind == "newey_west":
        placed, lag = scores[order], lag_for(N)
        meat = placed.T @ placed
        for back in range(1, lag + 1):
            one = placed[back:].T @ placed[:-back]
            meat = meat + (1 - back / (lag + 1)) * (one + one.T)
        cov = inverse @ meat @ inverse
    else:
        summed = np.array([scores[one == CLUSTERS].sum(axis=0) for one in np.unique(CLUSTERS)])
        groups = len(summed)
        cov, df = inverse @ (summed.T @ summed) @ inverse * groups / (groups - 1) * (N - 1) / df, groups - 1
    for at, one in enumerate((found.held, *found.terms), 1):
        assert one.se_slope == pytest.approx(cov[at, at] ** 0.5, rel=1e-9)
        assert one.df == df


def test_partial_r_and_inflation_are_those_of_what_is_left():
    found = held([Z, W])
    others = np.column_stack((np.ones(N), Z, W))
    x, y = (one - others @ np.linalg.lstsq(others, one, rcond=None)[0] for one in (X, Y))
    r = np.corrcoef(x, y)[0, 1]
    assert found.partial_r == pytest.approx(r, rel=1e-12)
    assert found.partial_t == pytest.approx(found.held.t_slope, rel=1e-10)
    assert found.partial_p == pytest.approx(found.held.p_slope, rel=1e-8)
    assert found.held.inflation == pytest.approx(np.sum((X - X.mean()) ** 2) / (x @ x), rel=1e-10)
    assert found.x_left == pytest.approx(x, abs=1e-12)
    assert found.y_left == pytest.approx(y, abs=1e-12)
    assert share_of_change(found) == pytest.approx(1 - found.held.slope / found.slope_alone)


def test_what_cannot_be_held_is_refused_by_name():
    with pytest.raises(Collinear) as told:
        held([Z, 2 * Z - 1])
    assert told.value.term in (1, 2)
    with pytest.raises(Collinear) as told:
        held([W, 3 - 0.5 * X])
    assert told.value.term in (0, 2)
    with pytest.raises(ConstantColumn):
        held([np.ones(N)])
    with pytest.raises(TooFewPairs):
        hold(take_pairs(X[:2], Y[:2]), [Z[:2], W[:2]], Hypotheses())
    with pytest.raises(NoErrors) as none:
        hold(take_pairs(X[:4], Y[:4]), [Z[:4], W[:4]], Hypotheses())
    assert none.value.cause is Cause.NO_DEGREES_OF_FREEDOM
    with pytest.raises(NoErrors) as none:
        held([Z], kind="clustered", clusters=np.zeros(N, np.int64))
    assert none.value.cause is Cause.TOO_FEW_CLUSTERS


def test_an_exact_plane_has_slopes_and_no_tests():
    found = hold(take_pairs(X, 2 * X - 3 * Z), [Z], Hypotheses())
    assert (found.held.slope, found.held.se_slope) == (pytest.approx(2.0), 0.0)
    assert found.held.p_slope is None
    assert found.held.why["p_slope"] is Cause.EXACT_FIT
    assert found.partial_r == pytest.approx(1.0)
    assert (found.partial_p, found.why["partial_p"]) == (None, Cause.PERFECT_CORRELATION)


def test_a_category_is_a_column_a_level_but_its_reference():
    levels, columns = columns_of(["b", "a", "b", "c"], "a")
    assert levels == ("b", "c")
    assert [one.tolist() for one in columns] == [[1, 0, 1, 0], [0, 0, 0, 1]]
    groups = np.array(["low", "mid", "high"])[DRAW.integers(0, 3, N)].tolist()
    every = [
        hold(take_pairs(X, Y), columns_of(groups, one)[1], Hypotheses()).held.slope for one in ("low", "mid")
    ]
    assert every[0] == pytest.approx(every[1], rel=1e-10)
