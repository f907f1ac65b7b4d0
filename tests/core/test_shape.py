"""Bend, clumps, gaps, bins, fences and the local trend, on shapes made for it."""

import mpmath as mp
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bright_tether.core import nearest
from bright_tether.core.checks.bend import curvature
from bright_tether.core.line.plain import fit_line
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.nearest import nearest_places
from bright_tether.core.pairs import take_pairs
from bright_tether.core.results import Cause
from bright_tether.core.shape.clumps import clumps
from bright_tether.core.shape.fences import fences
from bright_tether.core.shape.form import form, gaps_in
from bright_tether.core.shape.histogram import (
    Bins,
    histogram,
    in_small,
    readable_bins,
    typed_bins,
    usual_bins,
)
from bright_tether.core.shape.smooth import smooth

DRAW = np.random.default_rng(7)


def pairs_of(x, y):
    return take_pairs(np.asarray(x, float), np.asarray(y, float))


def test_curvature_is_the_t_of_the_squared_term_to_twelve_digits():
    x = 1e4 + DRAW.normal(0, 3, 25)
    y = 2 + 0.4 * x + 0.02 * (x - 1e4) ** 2 + DRAW.normal(0, 0.3, 25)
    found = curvature(fit_line(pairs_of(x, y)))
    mp.mp.dps = 50
    mean = mp.fsum(map(mp.mpf, x.tolist())) / 25
    design = mp.matrix([[1, mp.mpf(a) - mean, (mp.mpf(a) - mean) ** 2] for a in x.tolist()])
    heights = mp.matrix([mp.mpf(b) for b in y.tolist()])
    inverse = (design.T * design) ** -1
    b = inverse * (design.T * heights)
    left = heights - design * b
    sse = mp.fsum(e**2 for e in left)
    t = b[2] / mp.sqrt(sse / 22 * inverse[2, 2])
    assert found.df == 22
    assert found.t == pytest.approx(float(t), rel=1e-12)
    assert found.turn == pytest.approx(float(mean - b[1] / (2 * b[2])), rel=1e-9)


@pytest.mark.parametrize(
    ("x", "y", "cause"),
    [
        ([1, 2, 3], [1, 3, 2], Cause.NO_DEGREES_OF_FREEDOM),
        ([1, 1, 2, 2], [1, 3, 2, 5], Cause.TOO_FEW_VALUES),
        ([1, 2, 3, 4], [2, 4, 6, 8], Cause.EXACT_FIT),
        ([1, 2, 3, 4], [5, 5, 5, 5], Cause.CONSTANT_Y),
    ],
)
def test_curvature_says_why_it_has_no_value(x, y, cause):
    found = curvature(fit_line(pairs_of(x, y)))
    assert found.t is None
    assert found.why["t"] is cause


def test_a_perfect_parabola_is_all_bend():
    x = np.arange(9.0)
    found = curvature(fit_line(pairs_of(x, (x - 4) ** 2)))
    assert found.t is None
    assert found.share == pytest.approx(1)
    assert found.turn == pytest.approx(4)


def three_clumps(apart):
    x = np.concatenate([DRAW.normal(centre, 0.3, 15) for centre in (0, apart, 2 * apart)])
    y = np.concatenate([DRAW.normal(centre, 0.3, 15) for centre in (0, apart, 0)])
    return pairs_of(x, y)


def test_clumps_are_found_where_they_stand_apart_and_only_there():
    found = clumps(three_clumps(6))
    assert found.count == 3
    assert found.apart > 4
    assert [len(set(found.of[i * 15 : i * 15 + 15].tolist())) for i in range(3)] == [1, 1, 1]
    assert clumps(three_clumps(0.3)).count == 0


@pytest.mark.parametrize("graded", ["x", "y"])
def test_levels_that_were_set_are_no_clumps(graded):
    levels = np.repeat(np.arange(6.0), 5)
    other = levels**2 + DRAW.normal(0, 0.3, 30)
    pairs = pairs_of(levels, other) if graded == "x" else pairs_of(other, levels)
    assert clumps(pairs).count == 0
    moved = levels + np.tile([0.0, 0.01, 0.02, 0.03, 0.04], 6)
    assert clumps(pairs_of(moved, other)).count >= 5


def test_two_clumps_of_levels_are_still_two():
    levels = np.repeat([0.0, 1, 2, 30, 31, 32], 5)
    found = clumps(pairs_of(levels, levels + DRAW.normal(0, 0.2, 30)))
    assert found.count == 2


def form_of(x, y):
    fit = fit_line(pairs_of(x, y))
    return form(fit.pairs, RowByRow(fit), curvature(fit), clumps(fit.pairs), gaps_in(np.sort(x)), None, 0.05)


def test_a_band_turns_round_only_where_it_comes_back():
    x = np.linspace(0, 10, 41)
    noise = DRAW.normal(0, 0.3, 41)
    assert form_of(x, (x - 5) ** 2 + noise).turns_at == pytest.approx(5, abs=0.3)
    assert form_of(x, -((x - 5) ** 2)).turns_at == pytest.approx(5)
    rising = np.exp(x / 1.6)  # its parabola has a lowest point among the x
    assert curvature(fit_line(pairs_of(x, rising))).turn == pytest.approx(2.9, abs=0.2)
    assert form_of(x, rising).turns_at is None
    level = np.maximum(x - 4, 0) ** 2 + noise  # level, and then it rises
    assert 1 < curvature(fit_line(pairs_of(x, level))).turn < 9
    assert form_of(x, level).turns_at is None


def test_one_band_is_seldom_taken_for_clumps():
    draw = np.random.default_rng(5)
    taken = 0
    for _ in range(150):
        x = draw.normal(size=40)
        taken += clumps(pairs_of(x, x + draw.normal(size=40))).count > 0
    assert taken <= 3


def test_clumps_of_a_long_column_are_found_in_a_thinned_one():
    x = np.repeat([0.0, 10.0], 4000) + DRAW.normal(size=8000)
    found = clumps(pairs_of(x, -x + DRAW.normal(size=8000)))
    assert found.count == 2
    assert set(found.of[:4000].tolist()) == {0}


def test_form_names_gap_and_far_out_rows():
    x = np.array([1, 2, 3, 4, 5, 20, 21, 22, 23, 24.0])
    y = 2 * x + np.array([0.1, -0.2, 0.1, 0.2, -0.1, 0.1, -9, -0.1, 0.2, 0])
    pairs = pairs_of(x, y)
    fit = fit_line(pairs)
    told = form(pairs, RowByRow(fit), curvature(fit), clumps(pairs), gaps_in(np.sort(x)), 0.1, 0.05)
    assert told.gaps.widest == (5.0, 20.0)
    assert told.gaps.share == pytest.approx(15 / 23)
    assert told.far_line.tolist() == [6]
    assert told.far_x.size == 0


@given(st.lists(st.floats(-1e6, 1e6), min_size=1, max_size=60))
@settings(max_examples=150, deadline=None)
def test_the_usual_bins_hold_every_value(values):
    values = np.array(values)
    start, width, number = usual_bins(values)
    counted = histogram(values, start=start, width=width, number=number)
    assert counted.below == counted.above == 0
    assert counted.counts.sum() == values.size


def test_a_value_on_an_edge_goes_up_and_those_outside_are_counted():
    told = histogram(np.array([0, 1, 2, 2.5, 3, 9, -4.0]), start=0, width=1, number=3)
    assert told.counts.tolist() == [1, 1, 3]
    assert (told.below, told.above) == (1, 1)
    for width, number in ((0, 3), (1, 0), (-1, 2)):
        with pytest.raises(ValueError, match="bins need"):
            histogram(np.zeros(2), start=0, width=width, number=number)


@given(
    st.lists(st.sampled_from([-3.0, -0.1, 0.0, 0.1, 0.2, 0.3, 1.0, 1 / 3, 7.0]), max_size=30),
    st.sampled_from([-1.0, 0.0, 0.1, 0.2]),
    st.sampled_from([0.1, 1 / 3, 1.0]),
    st.integers(1, 40),
)
@settings(max_examples=150, deadline=None)
def test_values_in_order_are_counted_the_same(values, start, width, number):
    one = histogram(np.array(values), start=start, width=width, number=number)
    two = histogram(np.sort(values), start=start, width=width, number=number, rising=True)
    assert one.counts.tolist() == two.counts.tolist()
    assert (one.below, one.above) == (two.below, two.above)


def test_fences_stand_one_and_a_half_quartile_ranges_out():
    told = fences(np.array([1, 2, 3, 4, 5, 6, 7, 30.0]))
    assert (told.q1, told.q3) == (2.75, 6.25)
    assert (told.lower, told.upper) == (-2.5, 11.5)
    assert told.beyond.tolist() == [7]
    assert (told.low_whisker, told.high_whisker) == (1, 7)


def test_the_local_trend_follows_a_line_and_a_bend_and_agrees_when_binned():
    x = np.sort(DRAW.random(60) * 10)
    straight = smooth(pairs_of(x, 3 - 2 * x))
    assert np.allclose(straight.y, 3 - 2 * straight.x)
    bent = smooth(pairs_of(x, (x - 5) ** 2), share=0.3)
    assert bent.y[30] < bent.y[0]
    many = DRAW.random(50_000) * 10
    parted = np.r_[x[x < 3], x[x > 7]]
    beside = smooth(pairs_of(parted, 3 - 2 * parted))
    empty = (beside.x > parted[parted < 3].max()) & (beside.x < parted[parted > 7].min())
    assert np.isnan(beside.y[empty]).all()
    assert beside.y[~empty] == pytest.approx(3 - 2 * beside.x[~empty], abs=1e-9)
    binned = smooth(pairs_of(many, np.sin(many)), share=0.1)
    assert np.abs(binned.y - np.sin(binned.x))[5:-5].max() < 0.05


def test_bins_by_hand_keep_within_their_number_whatever_is_typed():
    by_hand = Bins(0.0, 1.0, 5)
    assert by_hand.of_number(7, 5.0) == Bins(0.0, 0.72, 7)
    assert by_hand.of_width(2.0, 5.0) == Bins(0.0, 2.0, 3)
    assert by_hand.from_start(1.0, 5.0) == Bins(1.0, 1.0, 4)
    for value in (1e308, 1e-308, 5e-324, 1e9):
        for high in (5.0, 1e308, -1e308):
            for made in (by_hand.of_number(value, high), by_hand.of_width(value, high),
                         by_hand.from_start(-value, high)):  # fmt: skip
                assert 1 <= made.number <= 400
                assert made.width > 0


def test_bins_typed_hold_every_value_or_nothing():
    values = np.array([1.5, 2.0, 7.25])
    assert typed_bins(values, 2.0, None) == (0.0, 2.0, 4)
    assert typed_bins(values, 2.0, 1.0) == (1.0, 2.0, 4)
    assert typed_bins(values, 2.0, 5.0) == (1.5, 2.0, 3)
    for width in (None, 0.001, -1.0, 0.0):
        assert typed_bins(values, width, None) is None


def test_the_small_picture_counts_all_and_the_marked():
    values = np.array([1.0, 1.0, 2.0, 6.0])
    counted, marked = in_small(values, values[1:2])
    assert (counted.counts.sum(), marked.sum(), marked[0]) == (4, 1, 1)
    assert (counted.edges[0], counted.edges[-1]) == (1.0, 6.0)
    assert in_small(np.array([1.0, np.nextafter(1.0, 2)]), values[:0]) is None


@settings(max_examples=300, deadline=None)
@given(
    st.lists(st.floats(-1e6, 1e6), min_size=1, max_size=60),
    st.floats(-1e5, 1e5),
    st.floats(1e-3, 1e5),
    st.integers(1, 400),
)
def test_values_fall_into_the_bins_that_their_edges_say(values, start, width, number):
    values = np.array([*values, start, start + width, start + width * number])
    counted = histogram(values, start=start, width=width, number=number)
    place = np.searchsorted(counted.edges, values, side="right") - 1
    place[values == counted.edges[-1]] = number - 1
    inside = (place >= 0) & (place < number)
    assert counted.counts.tolist() == np.bincount(place[inside], minlength=number).tolist()
    assert (counted.below, counted.above) == ((place < 0).sum(), (place >= number).sum())


@settings(max_examples=100, deadline=None)
@given(st.lists(st.integers(0, 30), min_size=1, max_size=40), st.integers(0, 30), st.integers(1, 50))
def test_the_nearest_cases_are_the_nearest_and_the_first_of_those_alike(xs, x, at_once):
    away = np.abs(np.array(xs, float) - x)
    with pytest.MonkeyPatch.context() as monkey:
        monkey.setattr(nearest, "_AT_ONCE", at_once)
        found = nearest_places(np.array(xs, float), float(x), 3)
    assert found.tolist() == np.argsort(away, kind="stable")[:3].tolist()


def test_bins_too_narrow_for_their_start_stay_as_they_are():
    narrow = readable_bins(5.0, 1e-308, 5.0)
    assert (narrow.start, narrow.width) == (5.0, 1e-308)
    assert readable_bins(0.53, 0.207, 2.0) == Bins(0.53, 0.21, 7)
