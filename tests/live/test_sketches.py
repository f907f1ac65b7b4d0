"""What the pictures of the residuals hold, point by point and curve by curve, against NumPy on the raw pairs."""

import numpy as np
import pytest
from scipy import stats

from bright_tether.core.shape.histogram import Histogram
from bright_tether.core.shape.smooth import smooth_of
from bright_tether.live.alternatives import _alternatives
from bright_tether.live.findings import Findings
from bright_tether.live.sketches import MODES, Sketch
from bright_tether.study.choices import ForecastChoice, LineChoice
from bright_tether.study.memory import Memory
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table

DRAW = np.random.default_rng(23)
X = np.sort(DRAW.uniform(2, 20, 30))
Y = 3 + 1.5 * X + X * DRAW.normal(size=30) / 4
TURN = DRAW.permutation(30).astype(float)


def findings_of(x=X, y=Y, **fields):
    named = {"x (m)": x, "y (kg)": y, "turn": TURN[: x.size]}
    columns = tuple(
        Column(id=f"c{at}", name=name, kind="number", cells=cells)
        for at, (name, cells) in enumerate(named.items(), 1)
    )
    table = Table(id="t1", name="T", columns=columns, row_ids=np.arange(x.size))
    tether = Tether(id="k1", table="t1", x="c1", y="c2", **fields)
    return Findings(Study(tables=(table,), tethers=(tether,)), tether, Memory())


def raw(x=X, y=Y):
    """Residuals, leverage, s by lstsq."""
    design = np.stack([np.ones_like(x), x], axis=1)
    b, *_ = np.linalg.lstsq(design, y)
    e = y - design @ b
    h = np.einsum("ij,jk,ik->i", design, np.linalg.inv(design.T @ design), design)
    return e, h, np.sqrt(e @ e / (x.size - 2)), design @ b


def expected(mode):
    """x and y of each mode's points, in the order of the pairs."""
    e, h, s, fitted = raw()
    inner = e / (s * np.sqrt(1 - h))
    outer = inner * np.sqrt((X.size - 3) / (X.size - 2 - inner**2))
    turns = np.arange(1, 31)
    return {
        "residual-on-x": (X, e), "residual-on-fitted": (fitted, e), "size-on-x": (X, np.abs(e)),
        "size-on-fitted": (fitted, np.abs(e)), "residual-in-order": (turns, e),
        "residual-on-previous": (e[:-1], e[1:]), "studentised-in-order": (turns, outer),
        "studentised-on-x": (X, outer), "studentised-on-leverage": (h, inner),
        "cook-in-order": (turns, inner**2 * h / (2 * (1 - h))),
    }[mode]  # fmt: skip


ALL = sorted({mode for modes in MODES.values() for mode in modes})


@pytest.mark.parametrize(
    "mode", [mode for mode in ALL if mode not in ("histogram", "normal-quantiles", "box-and-dots")]
)
def test_every_point_stands_where_the_raw_pairs_put_it(mode):
    drawn = findings_of().sketch(mode)
    x, y = expected(mode)
    assert drawn.x == pytest.approx(x, rel=1e-9)
    assert drawn.y == pytest.approx(y, rel=1e-7)
    assert drawn.at.size == drawn.x.size


@pytest.mark.parametrize(("mode", "share"), [("residual-on-x", 0.6), ("size-on-x", 1.0), ("residual-on-fitted", 0.6),
                                             ("size-on-fitted", 1.0)])  # fmt: skip
def test_the_trend_is_that_of_the_points_on_show(mode, share):
    drawn = findings_of().sketch(mode)
    trend = smooth_of(*expected(mode), share=share, points=41)
    ((x, y),) = drawn.curves
    assert x == pytest.approx(trend.x)
    assert y == pytest.approx(trend.y, rel=1e-6)


def test_a_stated_order_is_followed_and_its_rows_go_along():
    found = findings_of(line=LineChoice(order="c3"))
    drawn = found.sketch("residual-in-order")
    along = np.argsort(TURN)
    assert drawn.at.tolist() == along.tolist()
    assert drawn.y == pytest.approx(raw()[0][along], rel=1e-7)


def test_the_histogram_counts_the_residuals_under_the_normal_curve_of_s():
    drawn = findings_of().sketch("histogram")
    e, _, s, _ = raw()
    assert drawn.bars.counts.sum() == 30
    assert drawn.bars.counts.tolist() == np.histogram(e, drawn.bars.edges)[0].tolist()
    assert drawn.x == pytest.approx(drawn.bars.edges[:-1] + drawn.bars.width / 2)
    assert drawn.y.tolist() == drawn.bars.counts.tolist()
    x, y = drawn.curves[0]
    assert y == pytest.approx(30 * drawn.bars.width * stats.norm.pdf(x, scale=s), rel=1e-7)
    by_hand = findings_of().sketch("histogram", bins=(-10.0, 4.0, 6))
    assert by_hand.bars.edges.tolist() == [-10, -6, -2, 2, 6, 10, 14]


def test_standardised_residuals_are_shown_on_request():
    e, h, s, _ = raw()
    drawn = findings_of().sketch("residual-on-x", standardised=True)
    assert drawn.y == pytest.approx(e / (s * np.sqrt(1 - h)), rel=1e-7)


def test_cooks_curves_lie_where_the_distance_is_a_half_and_one():
    drawn = findings_of().sketch("studentised-on-leverage")
    for (h, edge), distance in zip(drawn.curves, (0.5, 0.5, 1, 1), strict=True):
        assert edge**2 * h / (2 * (1 - h)) == pytest.approx(np.full(h.size, distance))
    assert [np.sign(edge[0]) for _, edge in drawn.curves] == [1, -1, 1, -1]


@pytest.mark.parametrize(
    ("x", "ends"),
    [
        (X, (X[0], X[-1])),
        (X - X[0] + 0.5, (0.0, X[-1] - X[0] + 0.5)),
        (X - X[-1] - 0.5, (X[0] - X[-1] - 0.5, 0.0)),
    ],
)
def test_the_band_reaches_to_zero_where_that_is_near_and_not_beyond(x, ends):
    band = findings_of(x=x).band
    assert (band.x[0], band.x[-1]) == pytest.approx(ends)


def test_a_forecast_starts_at_the_middle_of_the_range():
    found = findings_of()
    assert found.forecast_x == (float(f"{(X[0] + X[-1]) / 2:.3g}"),)
    assert findings_of(forecast=ForecastChoice(at=(3.0, 4.0))).forecast_x == (3.0, 4.0)


def test_r_and_rho_without_some_rows():
    found, gone = findings_of(), np.array([0, 7, 29])
    kept = np.delete(np.arange(30), gone)
    r, rho = found.without(gone)
    assert r == pytest.approx(np.corrcoef(X[kept], Y[kept])[0, 1])
    assert rho == pytest.approx(stats.spearmanr(X[kept], Y[kept]).statistic)
    assert found.without(np.arange(29)) == (None, None)


def test_each_alternative_has_its_own_degrees_of_freedom():
    found = findings_of()
    lines = {one.kind: one for one in _alternatives(found.pairs, 0.95, 1.0)}
    _, _, s, _ = raw()
    assert lines["plain"].typical == pytest.approx(s)
    slope = X @ Y / (X @ X)
    assert lines["origin"].typical == pytest.approx(np.sqrt(((Y - slope * X) ** 2).sum() / 29))
    curve = np.polyval(np.polyfit(X, Y, 2), X)
    assert lines["second-degree"].typical == pytest.approx(np.sqrt(((Y - curve) ** 2).sum() / 27))
    back = 10 ** np.polyval(np.polyfit(X, np.log10(Y), 1), X)
    assert lines["log-y"].typical == pytest.approx(np.sqrt(((Y - back) ** 2).sum() / 28))


def test_contours_of_cook_end_before_a_leverage_of_one():
    x = np.append(np.linspace(0, 1, 8), 60.0)
    found = findings_of(x, 2 * x + np.cos(7 * x))
    h, edge = found.sketch("studentised-on-leverage").curves[0]
    assert found.rows.leverage.max() * 1.1 > 1
    assert h[-1] == 0.999
    assert np.isfinite(edge).all()


def test_a_trend_is_drawn_whatever_the_width_of_x():
    x = np.linspace(3, 4, 30)  # one unit wide
    found = findings_of(x, x + TURN / 40)
    assert found.sketch("residual-on-x").curves[0][0].size == 41


def test_a_card_of_a_histogram_reaches_from_its_first_to_its_last_bin():
    sketch = findings_of().sketch("histogram")
    left, right, low, high = sketch.small.ends
    assert (left, right, low) == (sketch.bars.edges[0], sketch.bars.edges[-1], 0.0)
    assert high > sketch.bars.counts.max()


def test_a_card_leaves_out_what_has_no_value():
    """A row that fits itself has no studentised residual."""
    y = np.array([1.0, np.nan, -2.0, 0.5, np.nan])
    card = Sketch(mode="studentised-in-order", x=np.arange(5.0), y=y, at=np.arange(5)).small
    assert card.x.tolist() == [0, 2, 3]
    assert card.y.tolist() == [1, -2, 0.5]
    assert card.values == (0, 4)
    assert np.isfinite(card.ends).all()
    whole = Sketch(mode="studentised-in-order", x=np.arange(5.0), y=np.arange(5.0), at=np.arange(5)).small
    assert whole.x.tolist() == whole.y.tolist() == [0, 1, 2, 3, 4]


@pytest.mark.parametrize(("curve", "top"), [(None, 7), (3.0, 7), (9.0, 9)])
def test_a_card_has_room_for_bars_and_for_the_curve_over_them(curve, top):
    bars = Histogram(edges=np.array([0.0, 1, 2]), counts=np.array([7, 2]), below=0, above=0)
    curves = () if curve is None else ((np.array([0.0, 1, 2]), np.array([0.0, curve, 0.0])),)
    card = Sketch(mode="histogram", x=np.array([0.5, 1.5]), y=np.array([7.0, 2]), at=np.zeros(0, int), bars=bars,
                  curves=curves).small  # fmt: skip
    assert card.ends == pytest.approx((0, 2, 0, top * 1.05))


def test_a_card_of_points_at_one_height_has_some_room_about_them():
    card = Sketch(
        mode="studentised-in-order", x=np.arange(3.0), y=np.zeros(3), at=np.arange(3), bright=None
    ).small
    left, right, low, high = card.ends
    assert (left, right) == pytest.approx((-0.08, 2.08))
    assert (low, high) == pytest.approx((-0.05, 0.05))


def test_a_card_of_very_many_points_shows_those_furthest_out():
    x = np.arange(9_000.0)
    y = np.cos(x)
    y[[17, 4_321, 8_002]] = 9, -12, 30  # none of them one in six
    card = Sketch(mode="studentised-in-order", x=x, y=y, at=np.arange(9_000)).small
    assert {17, 4_321, 8_002} <= set(card.x.tolist())
    assert set(x[::6].tolist()) <= set(card.x.tolist())
    assert card.x.size <= 1_500 + 4 * 60
    assert np.array_equal(y[card.x.astype(int)], card.y)
    whole = Sketch(mode="studentised-in-order", x=x[:2_999], y=y[:2_999], at=np.arange(2_999)).small
    assert whole.x.size == 2_999


@pytest.mark.parametrize("at", [[0, 1, 2, 3, 4], [1, 2, 4], [3, 1, 0, 4, 2], []])
def test_the_points_of_some_pairs_are_found_in_any_order(at):
    sketch = Sketch(mode="residual-in-order", x=np.arange(float(len(at))), y=np.zeros(len(at)),
                    at=np.array(at, int))  # fmt: skip
    for pairs in ([], [2], [0, 1], [0, 3], [1, 2, 4], [3, 4], [4]):
        found = sketch.of_pairs(np.array(pairs, int))
        assert sorted(found.tolist()) == [place for place, pair in enumerate(at) if pair in pairs]
