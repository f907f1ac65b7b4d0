"""The ways to find an interval for one case, what each holds, and the smooth beside the line."""

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.pairs import take_pairs
from bright_tether.core.results import Cause
from bright_tether.core.shape.local import MOST_SMOOTHED, local_band
from bright_tether.core.widths import widths

DRAW = np.random.default_rng(29)


def on(_):
    return True


def fanned(n):
    x = DRAW.uniform(1, 10, n)
    return x, 2 + 3 * x + x * DRAW.standard_normal(n)


@pytest.fixture(scope="module")
def found():
    x, y = fanned(45)
    return x, y, widths(take_pairs(x, y), (2.0, 9.0), 0.95, on)


def test_of_one_spread_each_row_is_held_against_the_line_without_it(found):
    x, y, told = found
    inside = []
    for row in range(45):
        keep = np.arange(45) != row
        line = stats.linregress(x[keep], y[keep])
        rest = y[keep] - line.intercept - line.slope * x[keep]
        s = np.sqrt(rest @ rest / 42)
        away = x[row] - x[keep].mean()
        half = (
            stats.t.ppf(0.975, 42)
            * s
            * np.sqrt(1 + 1 / 44 + away**2 / np.sum((x[keep] - x[keep].mean()) ** 2))
        )
        inside.append(abs(y[row] - line.intercept - line.slope * x[row]) <= half)
    order = np.argsort(x)
    thirds = [order[:15], order[15:30], order[30:]]
    assert told.way("even").held == tuple((int(np.sum(np.array(inside)[at])), 15) for at in thirds)
    assert told.parts == tuple(float(x[at].max()) for at in thirds)
    assert (told.lots, told.samples, told.whole) == (45, 100, True)


def test_what_follows_the_spread_holds_its_level_everywhere_and_one_spread_does_not(found):
    _, _, told = found
    even = [share for share, _ in told.way("even").simulated]
    assert even[0] > 0.97
    assert even[2] < 0.92
    for kind in ("power-x", "power-fitted"):
        assert [share for share, _ in told.way(kind).simulated] == pytest.approx([0.95] * 3, abs=0.025)
    assert min(share for share, _ in told.way("ranks").simulated) > 0.92
    assert told.truth in ("power-x", "power-fitted")
    assert told.truth_power == pytest.approx(1.0, abs=0.6)


def test_every_way_gives_its_interval_at_each_x_and_across_the_picture(found):
    _, _, told = found
    for one in told.ways:
        assert len(one.at) == 2
        assert one.across.shape == (told.across.size, 2)
        assert np.all(one.across[:, 0] < one.across[:, 1])
    wide = {one.kind: [high - low for low, high in one.at] for one in told.ways}
    assert wide["even"][1] / wide["even"][0] < 1.2
    assert min(wide[kind][1] / wide[kind][0] for kind in ("power-x", "power-fitted", "ranks")) > 1.5


def test_few_rows_have_no_ranks_and_fewer_are_not_looked_at():
    x, y = fanned(12)
    told = widths(take_pairs(x, y), (4.0,), 0.95, on)
    assert told.way("ranks") is None
    assert [rows for _, rows in told.way("even").held] == [4, 4, 4]
    told = widths(take_pairs(x[:5], y[:5]), (4.0,), 0.95, on)
    assert (told.lots, told.samples, told.parts, told.way("even").held) == (0, 0, (), ())


def test_two_values_of_x_are_two_parts():
    x = np.repeat([1.0, 2.0], 12)
    told = widths(take_pairs(x, x + DRAW.standard_normal(24)), (1.5,), 0.95, on)
    assert told.parts == told.places == (1.0, 2.0)
    assert [rows for _, rows in told.way("even").held] == [12, 12]


def test_many_rows_are_left_out_in_lots_and_still_more_are_not():
    x, y = fanned(260)
    seen = []
    told = widths(take_pairs(x, y), (4.0,), 0.95, lambda so_far: seen.append(so_far) or so_far[0] < 52)
    assert (told.lots, told.samples, told.whole) == (50, 2, False)
    assert seen[0] == (0, 150)
    assert sum(rows for _, rows in told.way("even").held) == 260
    x, y = fanned(2001)
    assert widths(take_pairs(x, y), (4.0,), 0.95, on).lots == 0


def at_once(x, y, at, h):
    """The height of the local line at one x, by weighted least squares."""
    w = np.clip(1 - ((x - at) / h) ** 2, 0, None)
    design = np.stack([np.ones(x.size), x - at], axis=1)
    weights = np.linalg.solve(design.T @ (w[:, None] * design), design.T * w)[0]
    return weights @ y, weights


def test_the_smooth_is_of_local_lines_with_the_df_of_its_residuals():
    x = np.sort(DRAW.uniform(2, 9, 40))
    y = (x - 5) ** 2 + DRAW.standard_normal(40)
    band = local_band(take_pairs(x, y), 0.9, 2.0)
    rows = np.array([at_once(x, y, one, 2.0)[1] for one in x])
    rest = y - rows @ y
    df = 40 - 2 * np.trace(rows) + np.sum(rows * rows)
    assert (band.bandwidth, band.found) == (pytest.approx(2.0), False)
    assert band.df == pytest.approx(df)
    assert band.s == pytest.approx(np.sqrt(rest @ rest / df))
    t = stats.t.ppf(0.95, df)
    for at in (0, 33, 120):
        mean, weights = at_once(x, y, band.x[at], 2.0)
        half = t * band.s * np.sqrt(weights @ weights)
        assert band.mean[at] == pytest.approx(mean)
        assert band.ci[at] == pytest.approx([mean - half, mean + half])
        case = t * band.s * np.sqrt(1 + weights @ weights)
        assert band.pi[at] == pytest.approx([mean - case, mean + case])


def test_its_bandwidth_foretells_best_the_rows_left_out():
    x = np.sort(DRAW.uniform(0, 1, 30))
    y = np.sin(5 * x) + 0.2 * DRAW.standard_normal(30)
    band = local_band(take_pairs(x, y), 0.95)
    wide = np.ptp(x)

    def missed(h):
        alone = [np.sum(np.abs(np.delete(x, i) - x[i]) < h * (1 - 1e-9)) < 2 for i in range(30)]
        if any(alone):
            return np.inf
        found = [y[i] - at_once(np.delete(x, i), np.delete(y, i), x[i], h)[0] for i in range(30)]
        return np.mean(np.square(found))

    tried = [share * wide for share in np.geomspace(0.08, 2.0, 25)]
    assert band.bandwidth == pytest.approx(min(tried, key=missed))
    assert band.found


def test_where_the_line_leaves_the_smooth_and_where_there_is_none():
    x = np.linspace(0, 10, 60)
    bent = local_band(take_pairs(x, (x - 4) ** 2 + 0.5 * DRAW.standard_normal(60)), 0.95)
    assert bent.apart(np.full(bent.x.size, 20.0)).sum() > 60
    assert not bent.apart(bent.mean).any()
    assert local_band(take_pairs(x[:7], x[:7]), 0.95) is Cause.TOO_FEW_PAIRS
    assert local_band(take_pairs(np.full(9, 2.0), x[:9]), 0.95) is Cause.CONSTANT_X
    assert local_band(take_pairs(x, x + DRAW.standard_normal(60)), 0.95, 1e-9) is Cause.NARROW_WINDOW
    x = DRAW.uniform(0, 10, 1500)
    many = local_band(take_pairs(x, x + DRAW.standard_normal(1500)), 0.95, 3.0)
    assert many.drawn
    assert many.df < MOST_SMOOTHED
    assert not bent.drawn


@pytest.mark.parametrize("power", [-300, 0, 200, 510])
def test_a_smooth_is_the_same_in_any_unit_of_y(power):
    draw = np.random.default_rng(9)
    x = np.sort(draw.uniform(0, 10, 60))
    y = np.sin(x) + draw.normal(0, 0.2, 60)
    plain = local_band(take_pairs(x, y), 0.95, 2.0)
    far = local_band(take_pairs(x, y * 2.0**power), 0.95, 2.0)
    for name in ("mean", "ci", "pi", "s"):
        assert getattr(far, name) * 2.0**-power == pytest.approx(getattr(plain, name), rel=1e-9)
    assert far.df == pytest.approx(plain.df, rel=1e-9)
