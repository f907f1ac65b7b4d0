"""Verdicts, what could have been seen, the lineup: by simulation with stated seeds."""

from collections import Counter
from dataclasses import replace
from functools import partial

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.checks.together import checks
from bright_tether.core.doubts import power, pull
from bright_tether.core.doubts.luck import by_luck
from bright_tether.core.doubts.power import DEPARTURES, could_see
from bright_tether.core.doubts.pull import pulls_by_luck
from bright_tether.core.doubts.quantiles import lineup, quantiles
from bright_tether.core.doubts.statistics import DOUBTS, Design, statistic
from bright_tether.core.doubts.verdicts import Verdict, doubts
from bright_tether.core.line.plain import fit_line
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.pairs import take_pairs


def fit_of(x, y):
    return fit_line(take_pairs(np.asarray(x, float), np.asarray(y, float)))


def judged(x, y, alpha=0.05):
    fit = fit_of(x, y)
    return {one.name: one for one in doubts(fit, checks(fit), RowByRow(fit), None, alpha)}


def false_alarms(n, lines, seed):
    """How many true lines show any clear sign and any sign, how often each doubt does, and what luck should bring."""
    draw, told, luck = np.random.default_rng(seed), Counter(), []
    for _ in range(lines):
        x = draw.normal(size=n)
        fit = fit_of(x, 1 + x + draw.normal(size=n))
        six = doubts(fit, checks(fit), RowByRow(fit), None, 0.05)
        told["clear"] += any(one.verdict is Verdict.CLEAR for one in six)
        told["any"] += any(one.sign for one in six)
        told.update(one.name for one in six if one.sign)
        if len(luck) < 20:
            luck.append(by_luck(Design(fit, None), 0.05).share)
    return told, float(np.mean(luck))


def keeps_to_alpha(told, lines):
    """α of the lines with a clear sign among all six, 3α with any, with four simulation errors of room."""
    for key, rate in (("clear", 0.05), ("any", 0.15)):
        assert told[key] <= lines * rate + 4 * np.sqrt(lines * rate), (key, told)


@pytest.mark.parametrize("n", [8, 30, 100])
def test_true_lines_seldom_raise_an_alarm(n):
    told, luck = false_alarms(n, 60, seed=n)
    keeps_to_alpha(told, 60)
    assert 0 < luck < 0.2


@pytest.mark.verify
@pytest.mark.parametrize(
    ("n", "lines"), [(8, 1000), (12, 1000), (30, 1000), (100, 1000), (300, 500), (1000, 300)]
)
def test_a_thousand_true_lines_seldom_raise_an_alarm(n, lines, capsys):
    told, luck = false_alarms(n, lines, seed=n + 1)
    with capsys.disabled():
        shares = ", ".join(f"{key} {100 * told[key] / lines:.1f}" for key in ("clear", "any", *DOUBTS))
        print(f"\nn = {n}: {shares} %; by luck, as said {100 * luck:.1f} %", end="")
    keeps_to_alpha(told, lines)
    assert abs(told["any"] / lines - luck) < 0.05


@pytest.mark.verify
@pytest.mark.parametrize("n", [30, 100])
def test_how_often_a_strong_departure_is_noticed(n, capsys):
    x = np.linspace(1, 10, n)
    design = Design(fit_of(x, x + np.random.default_rng(1).normal(size=n)), None)
    shares = {name: could_see(design, name, 0.025, draws=2000).chances for name in DOUBTS}
    with capsys.disabled():
        for name, chances in shares.items():
            print(f"\nn = {n}, {name}: {', '.join(f'{100 * one:.0f}' for one in chances)} in 100", end="")
    assert all(chances[2] > 0.2 for chances in shares.values())


X = np.linspace(1, 10, 60)
E = np.random.default_rng(3).normal(size=60)


@pytest.mark.parametrize(
    ("name", "y"),
    [
        ("bend", X + 0.3 * (X - 5) ** 2 + E),
        ("spread", X + E * X**2),
        ("order", X + np.cumsum(E)),
        ("shape", X + np.exp(1.5 * E)),
        ("far-out", X + 0.5 * E + 8 * (np.arange(60) == 30)),
        ("pull", np.where(np.arange(60) == 59, -10, X + 0.3 * E)),
    ],
)
def test_a_gross_departure_is_a_clear_sign(name, y):
    assert judged(X, y)[name].verdict is Verdict.CLEAR


def test_the_rows_concerned_are_named():
    far = judged(X, X + 0.5 * E + 8 * (np.arange(60) == 30))["far-out"]
    assert far.rows.tolist() == [30]
    pull = judged(X, np.where(np.arange(60) == 59, -10, X + 0.3 * E))["pull"]
    assert 59 in pull.rows.tolist()


def test_ten_rows_that_look_like_a_fan_are_too_few_to_tell():
    draw = np.random.default_rng(8)
    x = np.arange(1.0, 11.0)
    told = judged(x, 2 * x + draw.normal(size=10) * x * 0.4)["spread"]
    assert told.verdict is Verdict.FEW
    assert told.seen.chances[1] < 0.5


def test_a_small_p_without_size_is_no_sign():
    draw = np.random.default_rng(4)
    x = draw.normal(size=20_000)
    told = judged(x, x + 0.02 * x**2 + draw.normal(size=20_000))["bend"]
    assert told.p < 0.01
    assert told.verdict is Verdict.NO


def test_an_exact_line_cannot_be_judged():
    told = judged(np.arange(8.0), 3 * np.arange(8.0))
    assert {one.verdict for one in told.values()} == {Verdict.NONE}


def test_designs_over_the_same_columns_are_one_whatever_y_is():
    order, other = np.arange(X.size), np.arange(X.size)[::-1]
    design = Design(fit_of(X, X + E), None)
    again = Design(fit_of(X.copy(), 3 - X + E**2), None)
    assert design == again
    assert hash(design) == hash(again)
    late = X.copy()
    late[-1] += 1
    assert design != Design(fit_of(late, X + E), None)
    assert design != Design(fit_of(X[:-1], E[:-1]), None)
    in_order = Design(fit_of(X, E), order)
    assert in_order == Design(fit_of(X, X + E), order.copy())
    assert in_order not in (design, Design(fit_of(X, E), other))


@pytest.mark.parametrize("name", DOUBTS)
def test_chances_rise_with_the_departure_and_the_limit_keeps_to_alpha(name):
    design = Design(fit_of(X, X + E), None)
    told = could_see(design, name, 0.05, draws=300, seed=2)
    assert told.chances[0] <= told.chances[1] + 0.05 <= told.chances[2] + 0.1
    assert told.chances[2] > 0.7
    draw = np.random.default_rng(99)
    under = statistic(design, name, design.residuals_of(draw.normal(size=(2000, 60))))
    assert np.mean(under > told.limit) == pytest.approx(0.05, abs=0.035)
    assert len(DEPARTURES[name]) == 3


@pytest.mark.parametrize("name", ["bend", "spread", "order", "pull"])
def test_lines_are_simulated_lot_by_lot_as_all_at_once(name, monkeypatch):
    design, told = Design(fit_of(X, X + E), None), []
    whole = could_see(design, name, 0.05, draws=50)
    monkeypatch.setattr(power, "_AT_A_TIME", 60 * 7)
    monkeypatch.setattr(power, "_FILTERED_FROM", 1)
    parts = could_see(design, name, 0.05, draws=50, progress=lambda at: told.append(at) or True)
    assert parts.chances == whole.chances
    assert parts.limit == pytest.approx(whole.limit, rel=1e-12)
    assert told[0] == (7, 200)
    assert told[-1] == (200, 200)
    stopped = could_see(design, name, 0.05, draws=50, progress=lambda at: at[0] < 100)
    assert (stopped.whole, stopped.chances) == (False, (0.0, 0.0, 0.0))


def test_fewer_lines_are_simulated_over_very_many_rows():
    assert [power.draws_over(n) for n in (3, 50_000, 100_000, 10_000_000)] == [400, 400, 200, 100]


def test_statistics_are_those_of_the_checks():
    fit = fit_of(X, X + 0.05 * X**2 + E * X)
    design, told, rows = Design(fit, None), checks(fit), RowByRow(fit)
    residuals = fit.weighted_residual[None, :]
    bend = statistic(design, "bend", residuals)[0]
    assert bend == pytest.approx(told.curvature.share, rel=1e-9)
    assert statistic(design, "spread", residuals)[0] * 60 == pytest.approx(told.breusch_pagan.lm, rel=1e-9)
    assert statistic(design, "order", residuals)[0] == pytest.approx(abs(2 - told.durbin_watson.d), rel=1e-9)
    assert 1 - statistic(design, "shape", residuals)[0] == pytest.approx(told.shapiro_wilk.w, rel=1e-6)
    assert statistic(design, "pull", residuals)[0] == pytest.approx(np.nanmax(rows.cooks_d), rel=1e-9)
    far = statistic(design, "far-out", residuals)[0]
    assert far == pytest.approx(np.nanmax(rows.standardised**2), rel=1e-9)


def test_the_share_under_a_true_line_is_even():
    draw = np.random.default_rng(12)
    design = Design(fit_of(X, X + E), None)
    shares = []
    for _ in range(40):
        y = draw.normal(size=(1, 60))
        observed = float(statistic(design, "pull", design.residuals_of(y))[0])
        shares.append(pulls_by_luck(design, observed, draws=99))
    assert 0.3 < np.mean(shares) < 0.7


@pytest.mark.parametrize("far", [(9.0,), (9.0, 11.0, -8.0), tuple(np.linspace(4, 12, 40)), (1e9,)])
@pytest.mark.parametrize("weighted", [False, True])
def test_rows_out_of_reach_are_drawn_as_what_they_come_to(monkeypatch, far, weighted):
    """The largest distance has one distribution, whether every row is drawn or those alone that could reach it."""
    x = np.append(np.tile(X / 60, 10), far)
    pairs = take_pairs(x, x + np.cos(7 * x))
    if weighted:
        pairs = replace(pairs, weights=np.linspace(1, 3, x.size))
    design = Design(fit_line(pairs), None)
    shares = []
    for many in (10_000, 10):
        monkeypatch.setattr(pull, "_MANY", many)
        shares.append([pulls_by_luck(design, size, draws=1999, seed=many) for size in (0.3, 0.6, 1.2)])
    assert shares[1] == pytest.approx(shares[0], abs=0.05)
    assert len(far) > 1 or far[0] > 100 or shares[0][0] > 0.02


def test_the_lineup_hides_the_real_residuals_at_their_place():
    fit = fit_of(X, X + E)
    deal = partial(lineup, Design(fit, None), fit.weighted_residual, lambda e: e, others=19)
    sets, real = deal(seed=5)
    assert len(sets) == 20
    s = np.sqrt(np.sum(fit.weighted_residual**2) / 58)
    assert np.allclose(sets[real], fit.weighted_residual / s)
    assert all(np.isclose(np.sum(one**2), 58) for one in sets)
    assert real == deal(seed=5)[1]
    places = {deal(seed=seed)[1] for seed in range(60)}
    assert len(places) > 10


def test_normal_residuals_stay_within_their_envelope():
    fit = fit_of(X, X + E)
    told = quantiles(Design(fit, None), fit.weighted_residual)
    outside = np.mean((told.residual < told.low) | (told.residual > told.high))
    assert outside < 0.35  # neighbours by rank go together
    assert (np.diff(told.residual) >= 0).all()
    assert told.order.tolist() == np.argsort(fit.weighted_residual).tolist()
    n = told.normal.size
    assert np.allclose(stats.norm.cdf(told.normal), (np.arange(1, n + 1) - 3 / 8) / (n + 1 / 4))
    fresh = np.random.default_rng(3).normal(size=(n, 400))
    fresh -= (
        np.polynomial.polynomial.polyvander(X, 1) @ np.linalg.lstsq(np.stack((np.ones(n), X), 1), fresh)[0]
    )
    fresh = np.sort(fresh / np.sqrt(np.sum(fresh**2, axis=0) / (n - 2)), axis=0).T
    assert np.mean((fresh < told.low) | (fresh > told.high)) == pytest.approx(0.05, abs=0.01)


def test_luck_over_the_same_x_is_drawn_once():
    """A point that is dragged up or down leaves x as it is, and so what luck brings over it."""
    draw = np.random.default_rng(12)
    x = draw.normal(size=40)
    first, again = (Design(fit_line(take_pairs(x, x + draw.normal(size=40))), None) for _ in range(2))
    assert by_luck(first, 0.05) is by_luck(again, 0.05)
    assert by_luck(first, 0.05) is not by_luck(first, 0.01)
    x[0] += 1
    assert by_luck(Design(fit_line(take_pairs(x, x + draw.normal(size=40))), None), 0.05) is not by_luck(
        first, 0.05
    )
