"""Samples drawn again: batches against single lines, theory where it holds, plans against known numbers."""

import math

import numpy as np
import pytest
from scipy import stats

from bright_tether.claims.rehearse import simulated_claim
from bright_tether.core.line.errors import errors_of
from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import take_pairs
from bright_tether.core.rehearse.draws import draw_rows_again, draw_samples
from bright_tether.core.rehearse.planning import Wish, plan, try_out, value_at
from bright_tether.core.rehearse.sampling import heights, luck_of, sampling, share_as_far, theory_counts
from bright_tether.core.rehearse.truth import Truth, fan, fitted_truth, null_density, null_reach, placed_x
from bright_tether.core.resampling.bootstrap import bootstrap

X = np.array([2.0, 3, 5, 8, 9, 12, 13, 17, 20, 21, 24, 30])


def truth_of(**fields):
    return Truth(**({"intercept": 4.0, "slope": 1.5, "sd": 2.0, "x": X} | fields))


def fit_of(x, y):
    return fit_line(take_pairs(np.array(x, float), np.array(y, float)))


@pytest.mark.parametrize("design", ["kept", "drawn", "normal"])
@pytest.mark.parametrize("alike", [0.0, 0.6])
def test_every_sample_is_fitted_as_the_line_itself_is(design, alike):
    made = draw_samples(truth_of(design=design, alike=alike), 40, 3, robust=True)
    told = {kind: sampling(made, "slope", level=0.95, judged=kind) for kind in ("HC3", "newey_west")}
    t = stats.t.ppf(0.975, X.size - 2)
    for at in (0, 7, 39):
        x, y = made.samples_x[at], made.samples_y[at]
        fit = fit_of(x, y)
        plain = stats.linregress(x, y)
        ours = {name: sampling(made, name, level=0.95, at=11.0) for name in ("slope", "intercept", "r", "r2")}
        assert ours["slope"].values[at] == pytest.approx(plain.slope, rel=1e-9)
        assert ours["intercept"].values[at] == pytest.approx(plain.intercept, rel=1e-9)
        assert ours["r"].values[at] == pytest.approx(plain.rvalue, rel=1e-9)
        assert ours["r2"].values[at] == pytest.approx(plain.rvalue**2, rel=1e-9)
        half = (ours["slope"].high[at] - ours["slope"].low[at]) / 2
        assert half == pytest.approx(t * plain.stderr, rel=1e-9)
        half = (ours["intercept"].high[at] - ours["intercept"].low[at]) / 2
        assert half == pytest.approx(t * plain.intercept_stderr, rel=1e-9)
        for kind, one in told.items():
            order = np.argsort(x, kind="stable")
            errors = errors_of(fit, kind, order=order)
            se = math.ldexp(math.sqrt(errors.slope), fit.y.exponent - fit.x.exponent)
            assert (one.high[at] - one.low[at]) / 2 == pytest.approx(t * se, rel=1e-8)
        there = heights(made, slice(at, at + 1), np.array([11.0]))[0, 0]
        assert there == pytest.approx(plain.intercept + 11 * plain.slope, rel=1e-9)


@pytest.mark.parametrize("statistic", ["slope", "intercept", "r", "r2", "forecast"])
def test_where_theory_holds_the_pile_lies_on_its_curve(statistic):
    made = draw_samples(truth_of(sd=6.0), 20_000, 8)
    told = sampling(made, statistic, level=0.9, at=25.0)
    edges = np.quantile(told.values, np.linspace(0, 1, 21))
    expected = theory_counts(made, statistic, 25.0, edges)
    counts = np.histogram(told.values, edges)[0]
    assert stats.chisquare(counts[1:-1], expected[1:-1] * counts[1:-1].sum() / expected[1:-1].sum())[1] > 1e-4
    if statistic in ("slope", "intercept", "forecast"):
        assert abs(told.bias) < 4 * told.mean_error
        assert abs(told.sd - told.formula) < 4 * told.sd_error
        assert abs(told.caught - 0.9) < 4 * told.caught_error


def test_broken_assumptions_break_the_intervals_and_robust_errors_mend_some():
    x = np.linspace(1, 20, 60) ** 2
    even = draw_samples(truth_of(x=x), 3000, 5, robust=True)
    fanning = draw_samples(truth_of(x=x, pattern="fanning"), 3000, 5, robust=True)
    alike = draw_samples(truth_of(x=x, alike=0.6), 3000, 5, robust=True)
    told = lambda made, kind: sampling(made, "slope", level=0.95, judged=kind)  # noqa: E731
    assert simulated_claim(told(even, "classical")).verdict != "below"
    assert simulated_claim(told(fanning, "classical")).verdict == "below"
    assert told(fanning, "HC3").caught > told(fanning, "classical").caught + 0.02
    assert told(alike, "classical").caught < 0.8
    assert told(alike, "newey_west").caught > told(alike, "classical").caught + 0.05
    skewed = draw_samples(truth_of(shape="skewed"), 3000, 5)
    assert abs(told(skewed, "classical").bias) < 4 * told(skewed, "classical").mean_error
    assert stats.skew(told(skewed, "classical").values) != pytest.approx(0, abs=1e-3)


def test_errors_come_as_they_were_asked_for():
    draws = [draw_samples(truth_of(shape=shape, slope=0.0, intercept=0.0, x=np.linspace(1, 3, 500)), 200, 2)
             for shape in ("normal", "skewed", "heavy")]  # fmt: skip
    for made in draws:
        assert made.samples_y.mean() == pytest.approx(0, abs=0.03)
        assert made.samples_y.std() == pytest.approx(2, rel=0.03)
    assert stats.skew(draws[1].samples_y.ravel()) == pytest.approx(2, abs=0.2)
    assert stats.kurtosis(draws[2].samples_y.ravel()) > 2
    assert np.sqrt(np.mean(fan(X, X) ** 2)) == pytest.approx(1)
    leaning = draw_samples(truth_of(alike=0.7, slope=0.0, x=np.linspace(0, 1, 300)), 100, 4).samples_y - 4
    assert np.mean(leaning[:, 1:] * leaning[:, :-1]) / np.mean(leaning**2) == pytest.approx(0.7, abs=0.03)


def test_the_fitted_truth_is_the_line_and_its_own_residuals_have_its_s():
    y = 3 + 2 * X + np.array([1, -2, 0, 2, -1, 1, -3, 2, 0, 1, -2, 1])
    fit = fit_of(X, y)
    plain = stats.linregress(X, y)
    own = fitted_truth(fit, own=True)
    s = math.sqrt(np.sum((y - plain.intercept - plain.slope * X) ** 2) / 10)
    assert (own.slope, own.intercept, own.sd) == pytest.approx((plain.slope, plain.intercept, s), rel=1e-12)
    assert np.std(own.own) == pytest.approx(s * math.sqrt(12 / 12), rel=1e-12)
    made = draw_samples(own, 200, 1)
    residuals = made.samples_y - plain.intercept - plain.slope * made.samples_x
    assert np.isclose(residuals.ravel()[:, None], own.own[None, :], atol=1e-9).any(axis=1).all()


def test_rows_drawn_again_are_the_draws_of_the_bootstrap():
    y = 3 + 2 * X + np.sin(X * 7)
    fit = fit_of(X, y)
    rows, same = draw_rows_again(fit, 300, 9), bootstrap(fit, 300, 9, level=0.95)
    for name in ("slope", "intercept", "r"):
        told = sampling(rows, name, level=0.95)
        assert told.values == pytest.approx(getattr(same, name).draws, rel=1e-10)
        assert told.sd == pytest.approx(getattr(same, name).se, rel=1e-10)


def test_it_keeps_what_it_has_when_stopped_and_repeats_with_its_seed():
    seen = []
    stopped = draw_samples(
        truth_of(), 100_000, 6, watch=lambda so_far: seen.append(so_far.done) or len(seen) < 3
    )
    assert stopped.done == seen[-1] < 100_000
    again = draw_samples(truth_of(), stopped.done, 6)
    assert np.array_equal(again.slope, stopped.slope)
    assert not np.array_equal(draw_samples(truth_of(), 50, 7).slope, again.slope[:50])


@pytest.mark.parametrize("size", [1e-290, 1e140, 1e9])
def test_no_size_of_the_values_breaks_it(size):
    made = draw_samples(truth_of(x=X * size, slope=1.5, sd=2 * size, intercept=4 * size), 500, 3)
    small = draw_samples(truth_of(), 500, 3)
    for name in ("slope", "r"):
        one, other = (sampling(draws, name, level=0.95) for draws in (made, small))
        assert one.values == pytest.approx(other.values, rel=1e-9)
    assert sampling(made, "slope", level=0.95).caught == sampling(small, "slope", level=0.95).caught


def test_luck_has_its_known_spread():
    r = np.linspace(-0.999999, 0.999999, 200_001)
    density = null_density(r, 12)
    assert np.trapezoid(density, r) == pytest.approx(1, abs=1e-6)
    edge = null_reach(12, 0.05)
    assert edge == pytest.approx(0.57598, abs=1e-5)
    assert np.trapezoid(np.where(abs(r) >= edge, density, 0), r) == pytest.approx(0.05, abs=1e-4)


def test_designs_place_x_over_what_was_measured():
    assert placed_x(X, 12, "kept") is X
    assert placed_x(X, 5, "even") == pytest.approx([2, 9, 16, 23, 30])
    assert placed_x(X, 40, "drawn").size == 40


def test_plans_give_known_numbers_of_pairs():
    # Cohen's tables and every exact power program put r = 0.3 at 80 % power, α = 0.05 two-sided, at 84 or 85.
    found = plan(Wish(purpose="r power", goal=0.8, sd=1, sd_x=1, effect=0.3))
    assert found.needed in (84, 85)
    assert value_at(found.wish, found.needed) >= 0.8 > value_at(found.wish, found.needed - 1)
    wish = Wish(purpose="slope half-width", goal=0.1, sd=2.0, sd_x=4.0)
    needed = plan(wish).needed
    half = lambda n: stats.t.ppf(0.975, n - 2) * 2 / (4 * math.sqrt(n - 1))  # noqa: E731
    assert half(needed) <= 0.1 < half(needed - 1)
    never = plan(Wish(purpose="case half-width", goal=3.9, sd=2.0, sd_x=4.0))
    assert never.needed is None
    assert never.floor == pytest.approx(3.92, abs=0.001)


@pytest.mark.parametrize(
    "wish",
    [
        Wish(purpose="slope power", goal=0.9, sd=2.0, sd_x=4.0, effect=0.25),
        Wish(purpose="slope power", goal=0.8, sd=2.0, sd_x=4.0, effect=-0.25, alternative="less"),
        Wish(purpose="r power", goal=0.8, sd=1.0, sd_x=1.0, effect=0.5),
        Wish(purpose="slope half-width", goal=0.2, sd=2.0, sd_x=4.0),
        Wish(purpose="mean half-width", goal=1.0, sd=2.0, sd_x=4.0, away=6.0),
        Wish(purpose="case half-width", goal=4.5, sd=2.0, sd_x=4.0, away=6.0),
    ],
)
def test_simulation_agrees_with_the_formula(wish):
    found = plan(wish)
    tried = try_out(wish, found.needed, 4000, 12)
    # the formula takes the true sd, whose estimate is a little low on average: half-widths by 1/(4·df)
    slack = 0 if wish.purpose.endswith("power") else found.reached / (3 * found.needed)
    assert abs(tried.found - found.reached) < 4 * tried.error + slack


def test_what_luck_gives_beside_ones_own_r():
    pairs = take_pairs(np.arange(12.0), np.random.default_rng(4).normal(size=12))
    drawn = draw_samples(Truth(intercept=0.0, slope=0.0, sd=1.0, x=pairs.x), 4000, 5)
    r = sampling(drawn, "r", level=0.95).values
    found = luck_of(drawn, -0.6, 0.05)
    assert found.beyond == np.count_nonzero(np.abs(r) >= 0.6)
    assert found.largest == np.abs(r).max()
    assert found.passed == pytest.approx(0.05, abs=4 * found.error)
    one = sampling(drawn, "slope", level=0.95)
    assert share_as_far(one, one.truth) == 1.0
    assert share_as_far(one, float(np.abs(one.values).max())) == 1 / 4000


@pytest.mark.parametrize("scale", [1e-6, 1.0, 1e9])
def test_the_fitted_truth_is_the_line_whatever_the_units(scale):
    draw = np.random.default_rng(2)
    x = draw.uniform(0, 10, 30) * scale
    y = 3 + 2 * x / scale + draw.normal(size=30)
    fit = fit_line(take_pairs(x, y))
    truth = fitted_truth(fit, own=True)
    slope, height = np.polyfit(x, y, 1)
    left = y - height - slope * x
    assert truth.slope == pytest.approx(slope)
    assert truth.intercept == pytest.approx(height)
    assert truth.sd == pytest.approx(np.sqrt(left @ left / 28))
    assert np.sqrt(np.mean(truth.own**2)) == pytest.approx(truth.sd)


@pytest.mark.parametrize("n", [3, 5, 64])
def test_luck_reaches_no_further_than_one_at_any_alpha(n):
    reaches = [null_reach(n, alpha) for alpha in (0.999, 0.05, 1e-12, 1e-300, 5e-324)]
    assert reaches == sorted(reaches)
    assert 0 < reaches[0] < reaches[-1] == 1


@pytest.mark.parametrize(("effect", "alternative", "power"), [
    (1.0, "two-sided", 1.0), (1.0, "greater", 1.0), (1.0, "less", 0.0), (-1.0, "less", 1.0), (-1.0, "greater", 0.0),
    (1 - 2.0**-52, "greater", 1.0), (2.0**-52 - 1, "less", 1.0),
])  # fmt: skip
def test_every_sample_of_an_exact_line_shows_its_side(effect, alternative, power):
    wish = Wish(purpose="r power", goal=0.8, sd=1, sd_x=1, effect=effect, alternative=alternative)
    assert value_at(wish, 9) == power
