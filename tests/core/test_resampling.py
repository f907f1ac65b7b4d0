"""Shuffles and drawn samples: right on average, the same for the same seed, stopped with what they have."""

from itertools import permutations

import numpy as np
import pytest

from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import take_pairs
from bright_tether.core.resampling.ahead import one_ahead
from bright_tether.core.resampling.bootstrap import bootstrap
from bright_tether.core.resampling.permutation import _alike, permutation
from bright_tether.core.results import Cause, ConstantColumn


def pairs_of(x, y):
    return take_pairs(np.asarray(x, float), np.asarray(y, float))


X, Y = [1, 2, 3, 4, 5, 6], [2.1, 1.2, 3.9, 3.1, 5.5, 4.0]


@pytest.mark.parametrize("alternative", ["two-sided", "greater", "less"])
def test_permutation_p_comes_near_the_share_of_all_orders(alternative):
    pairs = pairs_of(X, Y)
    observed = np.corrcoef(X, Y)[0, 1]
    every = np.array([np.corrcoef(X, order)[0, 1] for order in permutations(Y)])
    reach = {"two-sided": abs(every) >= abs(observed) - 1e-12, "greater": every >= observed - 1e-12,
             "less": every <= observed + 1e-12}[alternative]  # fmt: skip
    found = permutation(pairs, 20_000, 3, alternative=alternative)
    assert found.p == pytest.approx(reach.mean(), abs=4 * found.p_error)
    assert found.p == (found.reached + 1) / 20_001
    assert found.piled.sum() == 20_000


def test_permutation_repeats_by_seed_and_keeps_what_it_has_when_stopped():
    draw = np.random.default_rng(1)
    pairs = pairs_of(draw.normal(size=2000), draw.normal(size=2000))
    first, again = (permutation(pairs, 500, 9) for _ in range(2))
    assert first.p == again.p
    assert (first.piled == again.piled).all()
    told = []
    stopped = permutation(pairs, 500, 9, progress=lambda done: told.append(done) or done < 100)
    assert stopped.shuffles == told[-1] < 500
    assert stopped.p == (stopped.reached + 1) / (stopped.shuffles + 1)


def test_permutation_of_a_column_of_one_value():
    assert permutation(pairs_of([1, 2, 3], [4, 4, 4]), 10, 1).why["p"] is Cause.CONSTANT_Y
    with pytest.raises(ConstantColumn):
        permutation(pairs_of([4, 4, 4], [1, 2, 3]), 10, 1)


def test_bootstrap_agrees_with_drawing_row_by_row():
    draw = np.random.default_rng(2)
    x = draw.normal(50, 4, 40)
    y = 3 + 0.5 * x + draw.normal(0, 1, 40)
    found = bootstrap(fit_line(pairs_of(x, y)), 400, 11, level=0.9)
    same = np.random.Generator(np.random.PCG64(11))
    slopes, heights, rs = [], [], []
    for _ in range(400):
        at = [int(u) * 40 >> 32 for pair in same.bit_generator.random_raw(20).tolist()
              for u in (pair & 0xFFFFFFFF, pair >> 32)]  # fmt: skip
        slope, height = np.polyfit(x[at], y[at], 1)
        slopes.append(slope)
        heights.append(height)
        rs.append(np.corrcoef(x[at], y[at])[0, 1])
    for one, by_hand in ((found.slope, slopes), (found.intercept, heights), (found.r, rs)):
        assert np.allclose(one.draws, by_hand, rtol=1e-8)
        assert one.se == pytest.approx(np.std(by_hand, ddof=1), rel=1e-8)
        assert one.percentile == pytest.approx(np.quantile(by_hand, (0.05, 0.95)), rel=1e-8)


def test_bca_is_what_scipy_makes_of_the_same_draws():
    from scipy import stats

    draw = np.random.default_rng(4)
    x = draw.normal(0, 1, 25)
    y = x + draw.exponential(1, 25)
    found = bootstrap(fit_line(pairs_of(x, y)), 4000, 5, level=0.95)
    slope = lambda a, b: np.polyfit(a, b, 1)[0]  # noqa: E731
    theirs = stats.bootstrap((x, y), slope, paired=True, vectorized=False, n_resamples=4000, rng=5)
    assert found.slope.bca == pytest.approx(tuple(theirs.confidence_interval), abs=0.25 * found.slope.se)
    assert found.slope.percentile != found.slope.bca


def test_a_draw_of_one_x_is_drawn_again_and_counted():
    found = bootstrap(fit_line(pairs_of([1, 1, 1, 2], [1, 2, 3, 5])), 500, 1, level=0.95)
    assert found.redrawn > 50
    assert np.isfinite(found.slope.draws).all()
    assert found.slope.draws.size == 500


def test_bootstrap_of_an_exact_line_never_moves():
    found = bootstrap(fit_line(pairs_of([1, 2, 3, 4], [2, 4, 6, 8])), 200, 1, level=0.95)
    assert found.slope.se == pytest.approx(0, abs=1e-12)
    assert found.r.percentile == pytest.approx((1, 1))


def test_no_more_shuffles_are_drawn_than_were_asked_for(monkeypatch):
    monkeypatch.setattr("bright_tether.core.resampling.permutation._AT_ONCE", 60)
    found = permutation(pairs_of(X, Y), 25, 3)  # ten at once
    assert (found.shuffles, found.piled.sum()) == (25, 25)


def test_cases_of_equal_size_change_places_row_by_row_in_their_order():
    found = [places.tolist() for places in _alike(np.array([1, 0, 0, 1, 2]))]
    assert found == [[[1, 2], [0, 3]]]


def test_batches_made_one_ahead_come_in_order_and_stop_when_left() -> None:
    made: list[int] = []

    def batches():
        for one in range(6):
            made.append(one)
            yield one
        raise OSError("no more room")

    taken = []
    with pytest.raises(OSError, match="no more room"):
        taken.extend(one_ahead(batches()))
    assert taken == [0, 1, 2, 3, 4, 5]
    made.clear()
    left = one_ahead(batches())
    assert [next(left), next(left)] == [0, 1]
    left.close()
    assert made in ([0, 1], [0, 1, 2]), "one batch more than was taken, at most"
