"""Least squares on several terms, against exact rational arithmetic and against the line."""

from fractions import Fraction

import numpy as np
import pytest

from bright_tether.core.line.plain import fit_line
from bright_tether.core.line.terms import Collinear, Design, fit_terms, line_of
from bright_tether.core.pairs import take_pairs, weighted_pairs
from bright_tether.core.results import ConstantColumn, TooFewPairs

DRAW = np.random.default_rng(17)


def exactly(terms, y):
    """Slopes, intercept and SSE by the normal equations in fractions."""
    columns = [[Fraction(1)] * len(y), *([Fraction(float(v)) for v in term] for term in terms)]
    tall = [Fraction(float(v)) for v in y]
    k = len(columns)
    rows = [[sum(a * b for a, b in zip(columns[i], columns[j], strict=True)) for j in range(k)]
            + [sum(a * b for a, b in zip(columns[i], tall, strict=True))] for i in range(k)]  # fmt: skip
    for i in range(k):
        pivot = next(j for j in range(i, k) if rows[j][i])
        rows[i], rows[pivot] = rows[pivot], rows[i]
        rows[i] = [value / rows[i][i] for value in rows[i]]
        for j in range(k):
            if j != i:
                rows[j] = [a - rows[j][i] * b for a, b in zip(rows[j], rows[i], strict=True)]
    b = [row[-1] for row in rows]
    sse = sum(
        (y_i - sum(b_j * c[i] for b_j, c in zip(b, columns, strict=True))) ** 2 for i, y_i in enumerate(tall)
    )
    return [float(value) for value in b[1:]], float(b[0]), float(sse)


def sets():
    """Ordinary terms, a large offset, terms that go together closely, powers of one column, odd sizes."""
    x, z = DRAW.normal(size=30), DRAW.normal(size=30)
    noise = DRAW.normal(size=30)
    yield "ordinary", (x, z), 1 + 2 * x - z + noise
    yield "far from 0", (x + 1e8, z - 1e7), 1 + 2 * x - z + noise
    yield "together", (x, x + 1e-5 * z), x + noise
    t = np.arange(1, 21.0)
    yield "powers", (t, t**2, t**3, t**4), 1 + t + 1e-3 * t**4 + DRAW.normal(size=20)
    yield "sizes", (x * 1e-9, z * 1e12, noise), 3 * x + z + DRAW.normal(size=30)
    yield "one more than terms", (x[:4], z[:4]), noise[:4]


SETS = {name: (terms, y) for name, terms, y in sets()}


@pytest.mark.parametrize("name", SETS)
def test_every_slope_holds_to_ten_digits(name):
    terms, y = SETS[name]
    slopes, intercept, sse = exactly(terms, y)
    found = fit_terms(Design(terms=terms), y)
    assert found.slopes == pytest.approx(slopes, rel=1e-10)
    assert found.intercept == pytest.approx(intercept, rel=1e-9)
    assert found.sse * 4.0**found.y.exponent == pytest.approx(sse, rel=1e-9)
    assert found.residual_df == y.size - len(terms) - 1
    scaled = np.stack([term - term.mean() for term in terms], axis=1)
    scaled /= np.sqrt((scaled**2).sum(axis=0))
    assert found.inflation == pytest.approx(np.diag(np.linalg.inv(scaled.T @ scaled)), rel=1e-4)


def test_standard_errors_are_those_of_the_normal_equations():
    terms, y = SETS["ordinary"]
    design = np.stack([np.ones(30), *terms], axis=1)
    _, (sse,), *_ = np.linalg.lstsq(design, y)
    cov = sse / 27 * np.linalg.inv(design.T @ design)
    found = fit_terms(Design(terms=terms), y)
    assert found.se_slopes() == pytest.approx(np.sqrt(np.diag(cov))[1:], rel=1e-10)
    assert fit_terms(Design(terms=(terms[0][:3], terms[1][:3])), y[:3]).se_slopes() == (None, None)


def test_one_term_is_the_line_digit_for_digit():
    x, y = DRAW.normal(size=25), DRAW.normal(size=25)
    line, found = fit_line(take_pairs(x, y)), fit_terms(Design(terms=(x,)), y)
    assert found.slopes_exact == (line.slope_exact,)
    assert found.intercept_exact == line.intercept_exact
    assert (found.sse, found.residual.tolist()) == (line.sse, line.residual.tolist())
    assert line_of(take_pairs(x, y)).slope_exact == line.slope_exact
    assert line_of(take_pairs(x, y), origin=True).origin
    assert line_of(weighted_pairs(take_pairs(x, y), np.arange(1, 26.0))).weights is not None


def test_what_cannot_be_told_apart_is_named():
    x, z = DRAW.normal(size=12), DRAW.normal(size=12)
    with pytest.raises(Collinear) as found:
        fit_terms(Design(terms=(x, z, 2 * x - z)), x)
    assert found.value.term == 2
    with pytest.raises(ConstantColumn):
        fit_terms(Design(terms=(x, np.ones(12))), z)
    with pytest.raises(TooFewPairs):
        fit_terms(Design(terms=(x[:2], z[:2])), z[:2])


def test_a_plane_through_every_row_leaves_nothing():
    x, z = np.arange(9.0), np.arange(9.0) ** 2
    assert fit_terms(Design(terms=(x, z)), 3 + 0.5 * x - 0.25 * z).sse == 0.0
