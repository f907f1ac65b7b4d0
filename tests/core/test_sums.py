"""Sums that merge: the same digits however the rows are split, and every figure that rests on them."""

from fractions import Fraction
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from bright_tether.core.checks.together import checks
from bright_tether.core.line.coefficients import Hypotheses
from bright_tether.core.line.deming import deming
from bright_tether.core.line.figures import line
from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import take_pairs
from bright_tether.core.results import Cause, ConstantColumn, EveryRow, names_of
from bright_tether.core.shape.timing import timing
from bright_tether.core.strength import apart
from bright_tether.core.strength.compared import compared_of
from bright_tether.core.strength.pearson import pearson
from bright_tether.core.summary import quartiles
from bright_tether.core.sums import counting
from bright_tether.core.sums.along import StepsBy
from bright_tether.core.sums.first import spread_of
from bright_tether.core.sums.partial import HeldRows, in_turn, joined, over
from bright_tether.core.sums.summed import Counted, Extent, first_sums, summed_pairs

RULES = {"alpha": 0.05, "alternative": "two-sided", "level": 0.95}


def extent_of(x, y, first):
    """What is known before any sum, with a guess of the means."""
    ends = [(float(one.min()), float(one.max())) for one in (x, y)]
    return Extent(n=x.size, first=first, x=ends[0], y=ends[1])


def summed(x, y, rows=HeldRows):
    """Pairs by their sums alone, from a guess of the means that is no more than near."""
    extent = extent_of(x, y, (x[:7], y[:7]))
    counted = Counted(rows=x.size, missing=0, set_aside=0, filtered_out=0)
    return summed_pairs(rows(x, y), extent, counted)


def worst(found, wanted, passed=()):
    """The largest relative difference of any number, of those that both have."""
    if names_of(found):
        names = [name for name in names_of(found) if name not in (*passed, "why")]
        return max((worst(getattr(found, n), getattr(wanted, n), passed) for n in names), default=0.0)
    if hasattr(found, "items"):
        return max(worst(found[key], wanted[key], passed) for key in found)
    if isinstance(found, tuple) and found and isinstance(found[0], float):
        return max(worst(a, b) for a, b in zip(found, wanted, strict=True))
    if isinstance(found, float) and isinstance(wanted, float):
        return abs(found - wanted) / max(abs(found), abs(wanted), 1e-300)
    assert found == wanted or found is None or hasattr(found, "shape"), (found, wanted)
    return 0.0


@settings(max_examples=40, deadline=None)
@given(
    st.integers(0, 10_000),
    st.lists(st.integers(1, 39_999), max_size=6),
    st.sampled_from([0.0, 1e9, -3e-5, 3e4, -4e5]),
)
def test_any_split_gives_the_same_last_digits(seed, cuts, height):
    draw = np.random.default_rng(seed)
    x = height + draw.normal(size=40_000) * draw.choice([1, 1e-3, 1e5], 40_000)
    y = draw.normal(size=40_000) + x
    by = first_sums(extent_of(x, y, (x[:1], y[:1])))
    places = [0, *sorted(set(cuts)), 40_000]
    parts = [over(x[a:b], y[a:b], by) for a, b in pairwise(places)]
    whole, split = spread_of(over(x, y, by), by), spread_of(joined(parts[::-1]), by)
    for name in ("mean_x", "mean_y", "sxx", "sxy", "syy"):
        assert float(getattr(whole, name)) == float(getattr(split, name)), name


@pytest.mark.parametrize("height", [0.0, 0.3, -5.0, 9.0, 40.0, 1e8])
def test_sums_are_exact_to_the_last_digit(height):
    draw = np.random.default_rng(5)
    x, y = height + draw.normal(size=3000), draw.normal(size=3000)
    by = first_sums(extent_of(x, y, (np.array([height + 0.3]), np.array([-0.1]))))
    found = spread_of(over(x, y, by), by)
    exact_x, exact_y = list(map(Fraction, x.tolist())), list(map(Fraction, y.tolist()))
    mean_x, mean_y = sum(exact_x) / 3000, sum(exact_y) / 3000
    sxy = sum((a - mean_x) * (b - mean_y) for a, b in zip(exact_x, exact_y, strict=True))
    assert float(found.sxy) == float(sxy)
    assert float(found.mean_x) == float(mean_x)
    assert float(found.sxx) == float(sum((a - mean_x) ** 2 for a in exact_x))


def bent(draw, n):
    x = draw.normal(10, 2, n)
    return x, (x - 10) ** 2 + draw.normal(0, 0.01, n)


FAMILIES = {
    "plain": lambda draw, n: (x := draw.normal(10, 2, n), 3 + x / 2 + draw.normal(0, 1, n)),
    "far from 0": lambda draw, n: (x := draw.normal(1e6, 1, n), x / 7 + draw.normal(0, 1, n)),
    "a fan": lambda draw, n: (x := draw.uniform(1, 9, n), x + x * draw.normal(0, 1, n)),
    "a strong bend": bent,
    "two values": lambda draw, n: (x := draw.integers(0, 2, n) * 3.0, x + draw.normal(0, 1, n)),
    "three values": lambda draw, n: (x := draw.integers(0, 3, n) * 1.0, x + draw.normal(0, 1, n)),
    "heavy ends": lambda draw, n: (x := np.exp(draw.normal(0, 1.5, n)), x + draw.standard_t(3, n)),
    "nearly exact": lambda draw, n: (x := draw.normal(50, 9, n), 3 * x + draw.normal(0, 1e-8, n)),
    "exact": lambda draw, n: (x := draw.integers(0, 99, n) * 1.0, 2 * x + 1),
    "level": lambda draw, n: (draw.normal(size=n), np.full(n, 4.0)),
    "tiny": lambda draw, n: (x := draw.normal(size=n) * 1e-200, x * 1e-50 + 1e-251 * draw.normal(size=n)),
}


@pytest.mark.parametrize("family", FAMILIES)
def test_a_line_by_its_sums_is_the_line_of_its_rows(family):
    """The other road looks at each row by itself, as few rows are looked at."""
    x, y = FAMILIES[family](np.random.default_rng(11), 33_000)
    fit = fit_line(take_pairs(x, y))
    rows, by_sums = fit_line(take_pairs(x, y)), fit_line(summed(x, y))
    rows.__dict__["second"] = None
    against = Hypotheses(level=0.95, alternative="two-sided", slope_0=0.0, intercept_0=0.0)
    assert worst(line(by_sums, against), line(rows, against)) < 1e-11
    assert worst(pearson(by_sums, **RULES), pearson(rows, **RULES)) < 1e-11
    both = [deming(one, error_ratio=0.7, level=0.9) for one in (by_sums, rows)]
    assert worst(*both) < (1e-7 if family in ("nearly exact", "exact") else 1e-11)
    assert both[0].why == both[1].why
    needs_rows = ("shapiro_wilk", "anderson_darling", "fences")
    there = checks(rows)
    assert worst(checks(by_sums), there, needs_rows) < 1e-9
    assert worst(checks(fit), there) < 1e-9
    named = (
        "curvature",
        "reset",
        "breusch_pagan",
        "white",
        "jarque_bera",
        "durbin_watson",
        "runs",
    )
    assert {name: dict(getattr(checks(by_sums), name).why) for name in named} == {
        name: dict(getattr(there, name).why) for name in named
    }


class InNoOrder(HeldRows):
    """Rows that nobody puts in order."""

    def along(self, of):
        return None

    def by_x(self, of):
        return None


@pytest.mark.parametrize("n", [3, 4, 5, 6, 7, 20, 499, 500, 501, 700])
@pytest.mark.parametrize("digits", [0, 6])
def test_neighbours_and_levels_of_few_rows_too(n, digits):
    draw = np.random.default_rng(n)
    x = draw.normal(10, 4, n).round(digits)
    x[:3] = 1, 2, 3
    y = x + draw.normal(0, 1, n)
    found, there = checks(fit_line(summed(x, y))), checks(fit_line(take_pairs(x, y)))
    for name in ("durbin_watson", "runs", "lack_of_fit"):
        assert worst(getattr(found, name), getattr(there, name)) < 1e-10, name
        assert dict(getattr(found, name).why) == dict(getattr(there, name).why), name
    assert worst(found.spread_ratio, there.spread_ratio) < 1e-11
    assert found.why.get("spread_ratio") == there.why.get("spread_ratio")


@settings(max_examples=60, deadline=None)
@given(
    st.integers(0, 10_000), st.integers(3, 60), st.lists(st.integers(1, 59), max_size=8), st.integers(0, 2)
)
def test_any_split_gives_the_same_neighbours(seed, n, cuts, digits):
    draw = np.random.default_rng(seed)
    x = draw.normal(size=n)
    x[:3] = 0, 1, 2
    y = (x + draw.normal(size=n)).round(digits)
    fit = fit_line(summed(x, y))
    assume(not fit.exact)
    by = StepsBy(fit.at, fit.nothing)
    places = [0, *sorted({cut for cut in cuts if cut < n}), n]
    parts = in_turn(by(x[a:b], y[a:b]) for a, b in pairwise(places))
    whole = by(x, y)
    assert (parts.n, parts.plus, parts.minus, parts.changes, parts.signs) == (
        whole.n, whole.plus, whole.minus, whole.changes, whole.signs)  # fmt: skip
    assert parts.sums.rounded() == pytest.approx(whole.sums.rounded(), rel=1e-12, abs=1e-12)
    assert np.array_equal(parts.first, whole.first)
    assert np.array_equal(parts.last, whole.last)
    assert np.array_equal(parts.z, whole.z)


@pytest.mark.parametrize("lot", [1, 7, 1000])
@pytest.mark.parametrize("kind", ["spread", "ties", "half alike", "two values", "falling"])
def test_every_two_pairs_are_held_against_each_other_by_parts(kind, lot, monkeypatch):
    monkeypatch.setattr(apart, "_LEAST", 90)
    draw = np.random.default_rng(3)
    n = 700
    x, y = draw.normal(size=n), draw.normal(size=n)
    if kind == "ties":
        x, y = x.round(1), y.round(1)
    elif kind == "half alike":
        y[: n // 2] = y[0]
    elif kind == "two values":
        x, y = (x > 0) * 1.0, (y > 1) * 1.0
    elif kind == "falling":
        y = -x
    kept = {}

    def in_lots(order):
        return ((x[order[at : at + lot]], y[order[at : at + lot]]) for at in range(0, n, lot))

    known = apart.along_y((values for _, values in in_lots(np.argsort(y))), n)
    assert known.edges.size > 0
    found = apart.compared_along(in_lots(np.lexsort((y, x))), known,
                                 lambda at, values: kept.setdefault(at, []).append(values),
                                 lambda at: np.concatenate(kept[at]))  # fmt: skip
    wanted = compared_of(take_pairs(x, y))
    assert found == wanted
    assert max((sum(map(len, some)) for some in kept.values()), default=0) < n


def test_what_needs_rows_says_so():
    draw = np.random.default_rng(2)
    x, y = FAMILIES["plain"](draw, 500)
    pairs = summed(x, y)
    fit = fit_line(pairs)
    found = checks(fit)
    for name in ("shapiro_wilk", "anderson_darling", "fences"):
        assert set(getattr(found, name).why.values()) == {Cause.EVERY_ROW}, name
    found = checks(fit_line(summed(x, y, InNoOrder)))
    for name in ("durbin_watson", "runs", "lack_of_fit"):
        assert set(getattr(found, name).why.values()) == {Cause.EVERY_ROW}, name
    assert found.why["spread_ratio"] is Cause.EVERY_ROW
    for ask in (lambda: pairs.x, lambda: pairs.codes_x, lambda: fit.residual, lambda: fit.leverage()):
        with pytest.raises(EveryRow):
            ask()
    with pytest.raises(ConstantColumn):
        fit_line(summed(np.ones(50), draw.normal(size=50)))


@pytest.mark.parametrize("at_a_time", [1, 60, 1_000_000])
@pytest.mark.parametrize("kind", ["spread", "ties", "heavy", "one", "ends of the range"])
def test_quartiles_are_found_by_counting(kind, at_a_time, monkeypatch):
    monkeypatch.setattr(counting, "_GATHERED", at_a_time)
    draw = np.random.default_rng(8)
    x = {
        "spread": draw.normal(size=3001), "ties": draw.integers(0, 5, 4000) * 1.0,
        "heavy": np.exp(draw.normal(0, 8, 5000)), "one": np.ones(2000),
        "ends of the range": np.array([1e308, -1e308, 0.0, 5.0]),
    }[kind]  # fmt: skip
    y = draw.permutation(x)
    y = y if kind == "ends of the range" else 2 * y + 1
    ends = [(float(one.min()), float(one.max())) for one in (x, y)]
    assert counting.five_numbers(HeldRows(x, y), x.size, (ends[0], ends[1])) == (
        quartiles(np.sort(x)), quartiles(np.sort(y)))  # fmt: skip


def test_a_tight_line_of_many_rows_keeps_its_digits():
    """In memory and by sums, against exact fractions."""
    draw = np.random.default_rng(3)
    x = draw.normal(50, 9, 33_000)
    y = 3 * x + draw.normal(0, 1e-8, x.size)
    n, exact_x, exact_y = x.size, list(map(Fraction, x.tolist())), list(map(Fraction, y.tolist()))
    mean_x, mean_y = sum(exact_x) / n, sum(exact_y) / n
    sxx = sum((a - mean_x) ** 2 for a in exact_x)
    sxy = sum((a - mean_x) * (b - mean_y) for a, b in zip(exact_x, exact_y, strict=True))
    slope = sxy / sxx
    sse = sum((b - mean_y - slope * (a - mean_x)) ** 2 for a, b in zip(exact_x, exact_y, strict=True))
    for fit in (fit_line(take_pairs(x, y)), fit_line(summed(x, y))):
        assert fit.slope_scaled == float(slope)
        assert float(fit.intercept_exact) == pytest.approx(float(mean_y - slope * mean_x), rel=1e-13)
        assert fit.sse == pytest.approx(float(sse), rel=1e-14)
    residual = fit_line(take_pairs(x, y)).residual[:50]
    wanted = [
        float(b - mean_y - slope * (a - mean_x)) for a, b in zip(exact_x[:50], exact_y[:50], strict=True)
    ]
    assert residual == pytest.approx(wanted, rel=1e-9)


@pytest.mark.parametrize("gathered", [1_000_000, 200, 30])
def test_five_numbers_of_values_that_come_often_are_those_of_all(monkeypatch, gathered):
    """With stretches that end at values which are there, and ranks that fall into several of them."""
    monkeypatch.setattr("bright_tether.core.sums.counting._GATHERED", gathered)
    monkeypatch.setattr("bright_tether.core.sums.counting._PARTS", 8)
    draw = np.random.default_rng(5)
    for x in (
        draw.integers(0, 9, 999).astype(float),
        np.round(draw.normal(0, 1, 1003), 1),
        np.repeat([0.0, 8.0], 500),
    ):
        y = -2 * x
        ends = (x.min(), x.max()), (y.min(), y.max())
        found = counting.five_numbers(HeldRows(x, y), x.size, ends)
        for five, values in zip(found, (x, y), strict=True):
            assert five == tuple(np.quantile(values, (0, 0.25, 0.5, 0.75, 1)))
        ranks = [0, 1, 400, 401, x.size - 2, x.size - 1]
        told, _ = counting.order_statistics(HeldRows(x, y), ranks, ends)
        assert [told[one] for one in ranks] == np.sort(x)[ranks].tolist()


def test_moments_that_are_all_one_have_no_step():
    found = timing(np.array([5.0, np.nan, 5.0, 5.0]))
    assert (found.moments, found.shared, found.step, found.median, found.alike) == (1, 3, None, None, 0)
    assert (found.gaps, found.longest) == (0, None)
    assert timing(np.array([np.nan])) is None
