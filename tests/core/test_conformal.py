"""The interval for one case by the ranks of residuals, held against refitting by hand and against its promise."""

import numpy as np
import pytest

from bright_tether.account.reproduce import by_ranks
from bright_tether.core.conformal import MOST_RANKED, conformal, forecast_by_ranks, inverse_by_ranks
from bright_tether.core.forecast import forecast
from bright_tether.core.inverse import inverse
from bright_tether.core.line.plain import fit_line
from bright_tether.core.line.terms import line_of
from bright_tether.core.line.weights import NewWeight
from bright_tether.core.pairs import take_pairs, weighted_pairs
from bright_tether.core.results import Cause

DRAW = np.random.default_rng(17)


def drawn(n, spread=lambda x: 1.0, rng=DRAW):
    x = rng.uniform(1, 10, n)
    return x, 2 + 3 * x + spread(x) * rng.standard_normal(n)


def share_by_hand(x, y, new, height, weights=None, origin=False):
    """Fit all rows and the case, and count; rows with one x are neighbours together."""
    n, w = len(x), np.ones(len(x) + 1) if weights is None else weights
    every, tall = np.append(x, new), np.append(y, height)
    design = every[:, None] if origin else np.stack([np.ones(n + 1), every], axis=1)
    root = np.sqrt(w)
    beta, *_ = np.linalg.lstsq(design * root[:, None], tall * root, rcond=None)
    size = np.abs((tall - design @ beta) * root)
    wide, rising = min(max(10, round(n**0.8 / 2)), n) + 1, np.sort(every)
    scores = []
    for row in range(n + 1):
        stands = (np.sum(every < every[row]) + np.sum(every <= every[row]) - 1) // 2
        first = min(max(stands - wide // 2, 0), n + 1 - wide)
        among = (every >= rising[first]) & (every <= rising[first + wide - 1]) & (np.arange(n + 1) != row)
        scores.append(size[row] / size[among].mean())
    return np.mean(np.array(scores) >= scores[-1] * (1 - 1e-9))


@pytest.mark.parametrize("n", [19, 31, 64])
def test_shares_are_counts_of_the_rows_with_the_case_among_them(n):
    x, y = drawn(n, lambda x: x)
    ranks = conformal(fit_line(take_pairs(x, y)))
    for new in (0.5, 3.0, 9.9, 14.0):
        for height in (2 + 3 * new, 5.0, 40.0, -30.0):
            assert ranks.share(new, height) == pytest.approx(share_by_hand(x, y, new, height), abs=1e-12)


def test_rows_with_one_x_count_alike_in_whatever_order_they_stand():
    x = np.repeat([1.0, 2.0, 3.0, 4.0], 9)
    y = x + DRAW.standard_normal(36) * x
    ends = conformal(fit_line(take_pairs(x, y))).interval(2.5, 0.95)
    for seed in range(3):
        order = np.random.default_rng(seed).permutation(36)
        mixed = conformal(fit_line(take_pairs(x[order], y[order])))
        assert mixed.interval(2.5, 0.95) == pytest.approx(ends, rel=1e-9)
        assert mixed.share(3.0, 9.0) == pytest.approx(share_by_hand(x, y, 3.0, 9.0), abs=1e-12)


def test_weights_and_a_line_through_the_origin_are_those_of_the_line():
    x, y = drawn(30, lambda x: x)
    weights = 1 / x**2
    fit = line_of(weighted_pairs(take_pairs(x, y), weights))
    ranks = conformal(fit, NewWeight(pattern="inverse-x2"))
    told = share_by_hand(x, y, 6.0, 30.0, np.append(weights, 1 / 36))
    assert ranks.share(6.0, 30.0) == pytest.approx(told, abs=1e-12)
    assert conformal(fit).interval(6.0, 0.9) is Cause.WEIGHT_UNSTATED
    assert not conformal(fit).hold(6.0, np.array([20.0]), 0.9).any()
    assert np.isnan(conformal(fit).share(6.0, 20.0))
    through = conformal(line_of(take_pairs(x, y), origin=True))
    assert through.share(6.0, 31.0) == pytest.approx(share_by_hand(x, y, 6.0, 31.0, origin=True), abs=1e-12)


@pytest.mark.parametrize(("n", "level"), [(19, 0.95), (40, 0.95), (40, 0.8), (330, 0.99)])
def test_the_ends_part_what_is_inside_from_what_is_not(n, level):
    x, y = drawn(n, lambda x: x)
    ranks = conformal(fit_line(take_pairs(x, y)))
    low, high = ranks.interval(4.0, level)
    near = 1e-9 * (high - low)
    inside = ranks.hold(4.0, np.array([low + near, high - near, low - near, high + near]), level)
    assert inside.tolist() == [True, True, False, False]
    assert by_ranks(x, y, 4.0, 14.0, level) == pytest.approx((low, high), rel=1e-8)
    coarse = ranks.interval(4.0, level, coarse=True)
    assert coarse == pytest.approx((low, high), abs=1e-3 * (high - low))


def test_there_are_ends_only_where_there_are_rows_enough_to_give_up_one():
    x, y = drawn(19)
    assert isinstance(conformal(fit_line(take_pairs(x, y))).interval(4.0, 0.95), tuple)
    few = conformal(fit_line(take_pairs(x[:18], y[:18])))
    assert few.interval(4.0, 0.95) is few.back(10.0, 0.95) is Cause.RANKS_TOO_FEW
    assert isinstance(few.interval(4.0, 0.9), tuple)
    assert conformal(fit_line(take_pairs(x, 1 + 2 * x))) is Cause.EXACT_FIT


def test_the_way_back_is_where_the_interval_holds_that_y():
    x, y = drawn(60)
    fit = fit_line(take_pairs(x, y))
    ranks = conformal(fit)
    low, high = ranks.back(18.0, 0.95)
    for end, step in ((low, 1), (high, -1)):
        inside, outside = end + step * 1e-9, end - step * 1e-6
        assert ranks.hold(inside, np.array([18.0]), 0.95)[0]
        assert not ranks.hold(outside, np.array([18.0]), 0.95)[0]
    mean = inverse(fit, 18.0, level=0.95, mean_of=None)
    found = inverse_by_ranks(mean, ranks, level=0.95, mean_of=1)
    assert (found.x, found.ci) == (mean.x, (low, high))
    assert inverse_by_ranks(mean, ranks, level=0.95, mean_of=3).why["ci"] is Cause.RANKS_ONE_CASE
    flat = conformal(fit_line(take_pairs(x, DRAW.standard_normal(60))))
    assert flat.back(0.0, 0.95) is Cause.RANKS_NO_END  # every x near and far holds it


def test_a_forecast_keeps_its_mean_and_says_what_it_has_no_value_for():
    x, y = drawn(40)
    fit = fit_line(take_pairs(x, y))
    plain = forecast(fit, np.array([2.0, 5.0]), level=0.95)
    found = forecast_by_ranks(plain, conformal(fit), level=0.95)
    assert np.array_equal(found.ci, plain.ci)
    assert found.pi[1].tolist() == list(conformal(fit).interval(5.0, 0.95))
    assert np.isnan(found.half_pi).all()
    assert found.why["half_pi"] is found.why["se_individual"] is Cause.BY_RANKS
    assert "pi" not in found.why
    several = forecast_by_ranks(plain, conformal(fit), level=0.95, mean_of=2)
    assert several.why["pi"] is Cause.RANKS_ONE_CASE
    assert np.isnan(several.pi).all()
    assert forecast_by_ranks(plain, Cause.RANKS_OF_CASES, level=0.95).why["pi"] is Cause.RANKS_OF_CASES


def test_a_picture_has_ends_between_those_that_are_worked_out():
    x, y = drawn(40)
    fit, across = fit_line(take_pairs(x, y)), np.linspace(1, 10, 9)
    found = forecast_by_ranks(forecast(fit, across, level=0.9), conformal(fit), level=0.9, coarse=True).pi
    exact = [conformal(fit).interval(one, 0.9) for one in across[[0, 4, 8]].tolist()]
    assert found[[0, 4, 8]] == pytest.approx(np.array(exact), rel=1e-3)
    assert found[2] == pytest.approx((found[0] + found[4]) / 2)


def test_of_many_rows_some_are_drawn_and_the_line_is_theirs():
    x, y = drawn(3000, lambda x: x)
    ranks = conformal(fit_line(take_pairs(x, y)))
    assert (ranks.drawn, ranks.n) == (True, MOST_RANKED)
    assert abs(ranks.residual.sum()) < 1e-9 * np.abs(ranks.residual).sum()
    assert abs(ranks.residual @ ranks.away) < 1e-9 * np.abs(ranks.residual * ranks.away).sum()
    at = np.random.default_rng(1).choice(3000, MOST_RANKED, replace=False)
    own = conformal(fit_line(take_pairs(x[at], y[at])))
    assert ranks.interval(4.0, 0.95) == pytest.approx(own.interval(4.0, 0.95), rel=1e-9)


@pytest.mark.parametrize(("n", "bent", "spread"), [
    (19, 0.0, lambda x: 1.0), (30, 1.0, lambda x: 1.0), (40, 0.0, lambda x: x**1.5),
])  # fmt: skip
def test_new_cases_are_inside_at_least_as_often_as_promised(n, bent, spread):
    """Whatever the form and the spread: 600 sets, one new case each; three simulation errors allowed."""
    rng, inside = np.random.default_rng(n), 0
    for _ in range(600):
        x = rng.uniform(1, 10, n + 1)
        y = 2 + 3 * x + bent * x**2 + spread(x) * rng.standard_t(4, n + 1)
        ranks = conformal(fit_line(take_pairs(x[:n], y[:n])))
        inside += bool(ranks.hold(float(x[n]), y[n:], 0.9)[0])
    assert inside / 600 >= 0.9 - 3 * np.sqrt(0.09 / 600)


def test_very_large_and_small_columns_are_ranked_alike():
    x, y = drawn(40, lambda x: x)
    told = conformal(fit_line(take_pairs(x, y))).interval(4.0, 0.95)
    huge = conformal(fit_line(take_pairs(np.ldexp(x, -700), np.ldexp(y, 700))))
    assert huge.interval(float(np.ldexp(4.0, -700)), 0.95) == pytest.approx(
        tuple(np.ldexp(told, 700)), rel=1e-9
    )
    assert huge.share(float(np.ldexp(4.0, -700)), float(np.ldexp(20.0, 700))) == pytest.approx(
        conformal(fit_line(take_pairs(x, y))).share(4.0, 20.0)
    )
    back = huge.back(float(np.ldexp(14.0, 700)), 0.9)
    assert back == pytest.approx(
        tuple(np.ldexp(conformal(fit_line(take_pairs(x, y))).back(14.0, 0.9), -700)), rel=1e-6
    )
