"""The line with columns held, as its rows and checks see it, against refitting by hand."""

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.checks.together import checks
from bright_tether.core.doubts.statistics import Design
from bright_tether.core.doubts.verdicts import doubts
from bright_tether.core.line.held import fit_held
from bright_tether.core.line.longer import longer_line as line_of_held
from bright_tether.core.line.plain import fit_line
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.line.terms import Collinear
from bright_tether.core.pairs import take_pairs


def longer_line(pairs, others):
    return line_of_held(fit_held(pairs, others))


DRAW = np.random.default_rng(11)
N = 40
Z = DRAW.uniform(0, 10, N)
LEVEL = np.resize([0.0, 1.0, 1.0], N)
X = np.round(0.5 * Z + DRAW.uniform(0, 6, N), 1)
Y = 3 + 2 * X - Z + 4 * LEVEL + DRAW.normal(size=N)
DESIGN = np.stack([np.ones(N), X, Z, LEVEL], axis=1)


def ols(design, y):
    beta, *_ = np.linalg.lstsq(design, y, rcond=None)
    return beta, y - design @ beta


@pytest.fixture(scope="module")
def fit():
    return longer_line(take_pairs(X, Y), [Z, LEVEL])


def test_slope_and_residuals_are_those_of_all_terms(fit):
    beta, residual = ols(DESIGN, Y)
    assert fit.slope_unscaled(fit.slope_scaled) == pytest.approx(beta[1], rel=1e-11)
    assert float(fit.intercept_exact) == pytest.approx(beta[0], rel=1e-10)
    assert np.ldexp(fit.residual, fit.y.exponent) == pytest.approx(residual, abs=1e-11)
    assert (fit.parameters, fit.residual_df) == (4, N - 4)
    hat = DESIGN @ np.linalg.solve(DESIGN.T @ DESIGN, DESIGN.T)
    assert fit.leverage() == pytest.approx(np.diag(hat), rel=1e-11)
    assert fit.leverage(slice(5, 9)) == pytest.approx(np.diag(hat)[5:9], rel=1e-11)


def test_each_row_is_what_leaving_it_out_does(fit):
    rows = RowByRow(fit)
    beta, residual = ols(DESIGN, Y)
    s2 = residual @ residual / (N - 4)
    for at in (0, 7, 23):
        keep = np.arange(N) != at
        without, left = ols(DESIGN[keep], Y[keep])
        s = np.sqrt(left @ left / (N - 5))
        spare = 1 - fit.leverage()[at]
        assert rows.studentised[at] == pytest.approx(residual[at] / (s * np.sqrt(spare)), rel=1e-9)
        moved = DESIGN @ (beta - without)
        assert rows.cooks_d[at] == pytest.approx(moved @ moved / (4 * s2), rel=1e-8)
        assert rows.dfbeta_slope[at] == pytest.approx(beta[1] - without[1], rel=1e-8)
        assert rows.fitted[at] == pytest.approx(DESIGN[at] @ beta, rel=1e-11)
    assert (rows.outlier_p <= 1).all()


def test_the_checks_are_those_of_the_longer_line(fit):
    found = checks(fit)
    _, residual = ols(DESIGN, Y)
    beta, left = ols(np.column_stack([DESIGN, (X - X.mean()) ** 2]), Y)
    inverse = np.linalg.inv(np.column_stack([DESIGN, (X - X.mean()) ** 2]).T
                            @ np.column_stack([DESIGN, (X - X.mean()) ** 2]))  # fmt: skip
    t = beta[4] / np.sqrt(left @ left / (N - 5) * inverse[4, 4])
    assert (found.curvature.t, found.curvature.df) == (pytest.approx(t, rel=1e-9), N - 5)
    assert found.curvature.share == pytest.approx(1 - left @ left / (residual @ residual), rel=1e-8)
    bent, _ = ols(np.column_stack([DESIGN, X**2]), Y)
    assert found.curvature.turn == pytest.approx(-bent[1] / (2 * bent[4]), rel=1e-7)
    height = Y - residual
    _, powers = ols(np.column_stack([DESIGN, height**2, height**3]), Y)
    f = (residual @ residual - powers @ powers) / 2 / (powers @ powers / (N - 6))
    assert (found.reset.f, found.reset.df1, found.reset.df2) == (pytest.approx(f, rel=1e-7), 2, N - 6)
    square = residual**2
    lm = N * np.corrcoef(square, X)[0, 1] ** 2
    assert found.breusch_pagan.lm == pytest.approx(lm, rel=1e-9)
    d = np.sum(np.diff(residual) ** 2) / (residual @ residual)
    assert found.durbin_watson.d == pytest.approx(d, rel=1e-10)
    assert found.shapiro_wilk.w == pytest.approx(stats.shapiro(residual).statistic, rel=1e-6)


def test_durbin_watsons_p_is_that_of_this_design(fit):
    told = checks(fit).durbin_watson
    draw = np.random.default_rng(1)
    simulated = Design(fit, None).residuals_of(draw.normal(size=(20_000, N)))
    steps = np.diff(simulated, axis=1)
    d = np.einsum("ij,ij->i", steps, steps) / np.einsum("ij,ij->i", simulated, simulated)
    assert told.p_positive == pytest.approx(np.mean(d <= told.d), abs=0.015)


def test_lack_of_fit_takes_rows_that_have_all_terms_alike():
    x, z = np.repeat([1.0, 2.0, 3.0, 4.0], 6), np.tile([0.0, 0.0, 1.0, 1.0, 2.0, 2.0], 4)
    y = 1 + x + z + DRAW.normal(size=24)
    found = checks(longer_line(take_pairs(x, y), [z])).lack_of_fit
    means = y.reshape(4, 3, 2).mean(axis=2).repeat(2).ravel()
    pure = np.sum((y - means) ** 2)
    _, residual = ols(np.stack([np.ones(24), x, z], axis=1), y)
    assert (found.df1, found.df2) == (9, 12)
    assert found.f == pytest.approx((residual @ residual - pure) / 9 / (pure / 12), rel=1e-9)


def test_nothing_is_left_of_what_is_held_and_an_exact_line_is_exact(fit):
    assert np.abs(fit.left_of(Z)).max() < 1e-12
    exact = longer_line(take_pairs(X, 3 + 2 * X - Z), [Z])
    assert exact.exact
    with pytest.raises(Collinear):
        longer_line(take_pairs(X, Y), [X * 2 + 1])


def test_a_fan_of_what_is_held_is_no_doubt_about_the_longer_line():
    """Neighbours alike through z alone: a sign of the line alone that holding z takes away."""
    rng = np.random.default_rng(3)
    z = np.repeat(rng.normal(size=10), 7) * 4
    x = rng.uniform(0, 10, 70)
    y = x + z + rng.normal(size=70)
    pairs = take_pairs(x, y)
    signs = []
    for line in (fit_line(pairs), longer_line(pairs, [z])):
        found = doubts(line, checks(line), RowByRow(line), None, 0.05)
        signs.append({one.name for one in found if one.sign})
    assert "order" in signs[0]
    assert "order" not in signs[1]


def clear_signs(lines, seed):
    """Of true lines with two columns held, how many show a clear sign, and any sign."""
    rng = np.random.default_rng(seed)
    clear = some = 0
    for _ in range(lines):
        y = 1 + X3 + Z3 + rng.normal(size=70)
        line = longer_line(take_pairs(X3, y), [Z3, L3])
        verdicts = [one.verdict.value for one in doubts(line, checks(line), RowByRow(line), None, 0.05)]
        clear += "clear sign" in verdicts
        some += "clear sign" in verdicts or "some sign" in verdicts
    return clear / lines, some / lines


Z3, L3 = DRAW.uniform(0, 10, 70), np.resize([0.0, 1.0], 70)
X3 = 0.5 * Z3 + DRAW.uniform(0, 6, 70)


def test_a_true_longer_line_seldom_shows_a_sign():
    clear, some = clear_signs(60, 1)
    assert clear <= 0.17
    assert some <= 0.34


@pytest.mark.verify
def test_alarm_of_longer_lines(capsys):
    clear, some = clear_signs(1000, 2)
    with capsys.disabled():
        print(
            f"\ntwo columns held, 70 rows: a clear sign {100 * clear:.1f}, any sign {100 * some:.1f} %",
            end="",
        )
    assert clear <= 0.05 + 3 * np.sqrt(0.05 * 0.95 / 1000)
    assert some <= 0.15 + 3 * np.sqrt(0.15 * 0.85 / 1000)
