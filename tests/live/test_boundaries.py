"""Where a rule begins and ends: just inside and just outside of it."""

from types import SimpleNamespace

import numpy as np
import pytest

from bright_tether.claims.coefficients import apart_claim
from bright_tether.claims.line import matters_claim
from bright_tether.core.decision import undecided
from bright_tether.core.results import Cause
from bright_tether.live.findings import Findings
from bright_tether.live.forecasting import _usual_x
from bright_tether.live.scenes import _look_points
from bright_tether.study.choices import CompareChoice, LineChoice
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table


def findings_of(x, y, *, groups=None, line=None, compare=None):
    """The findings of two columns, and of groups beside them."""
    columns = [
        Column(id=f"c{at}", name=name, kind="number", cells=np.asarray(values, float))
        for at, (name, values) in enumerate((("x", x), ("y", y)), 1)
    ]
    if groups is not None:
        columns.append(Column(id="c3", name="g", kind="category", cells=np.array(groups, object)))
    table = Table(id="t1", name="t", columns=tuple(columns), row_ids=np.arange(len(x)))
    tether = Tether(
        id="k1", table="t1", x="c1", y="c2", line=line or LineChoice(), compare=compare or CompareChoice()
    )
    return Findings(Study(tables=(table,), tethers=(tether,)), tether)


@pytest.mark.parametrize(
    ("turn", "seen"), [(0.95, False), (1.05, True), (5.0, True), (8.95, True), (9.05, False)]
)
def test_a_turn_is_told_inside_nine_tenths_of_the_range(turn, seen):
    x = np.linspace(0, 10, 80)
    y = (x - turn) ** 2 + 0.01 * np.cos(37 * x)
    assert (findings_of(x, y).form.turns_at is not None) is seen


@pytest.mark.parametrize(("low", "kinds"), [(0.0, {"root-y"}), (0.5, {"log-y", "root-y"})])
def test_a_log_needs_every_value_above_zero(low, kinds):
    x, y = np.linspace(1, 9, 20), low + np.linspace(0, 4, 20) ** 2
    found = {one.kind for one in findings_of(x, y).alternatives if one.kind in ("log-y", "root-y")}
    assert found == ({"log-y", "root-y"} if low else set()) or found == kinds
    assert ("log-y" in found) is (low > 0)


def test_what_was_not_decided_still_names_the_slope_that_was_asked_about():
    asked = {"slope_0": 1.5, "alpha": 0.05, "alternative": "two-sided"}
    assert undecided("slope", Cause.EXACT_FIT, **asked).null == 1.5
    assert undecided("pearson", Cause.EXACT_FIT, **asked).null == 0.0
    exact = findings_of([1, 2, 3, 4], [2, 4, 6, 8], line=LineChoice(slope_0=1.5))
    assert exact.decision.null == 1.5


def test_heights_are_compared_of_two_lines_alone():
    draw = np.random.default_rng(3)
    x, groups = draw.normal(size=30), ["abc"[at % 3] for at in range(30)]
    y = 2 * x + draw.normal(size=30)
    three = findings_of(x, y, groups=groups, compare=CompareChoice(group="c3", height_at=0.5))
    assert three.comparison.heights is None
    two = findings_of(x[:20], y[:20], groups=["ab"[at % 2] for at in range(20)],
                      compare=CompareChoice(group="c3", height_at=0.5))  # fmt: skip
    assert two.comparison.heights is not None
    assert two.comparison.height_at == 0.5


def test_few_pairs_and_a_zero_that_is_near():
    from bright_tether.claims.line import FEW_PAIRS, few_claim
    from bright_tether.live.line import zero_is_near

    draw = np.random.default_rng(1)
    for n, few in ((FEW_PAIRS, True), (FEW_PAIRS + 1, False)):
        x = np.arange(float(n))
        assert (few_claim(findings_of(x, x + draw.normal(size=n))) is not None) is few
    assert zero_is_near(1.0, 11.0)
    assert not zero_is_near(1.01, 11.0)
    assert zero_is_near(-11.0, -1.0)
    assert not zero_is_near(-11.0, -1.01)


def test_three_rows_leave_one_degree_of_freedom_to_a_line_beside():
    x, y = np.array([1.0, 2.0, 4.0]), np.array([2.0, 4.3, 7.9])
    beside = {one.kind: one for one in findings_of(x, y).alternatives}
    resistant = beside["theil-sen"]
    line = np.interp(x, resistant.x, resistant.y)
    assert resistant.typical == pytest.approx(np.sqrt(np.sum((y - line) ** 2)), rel=1e-3)


def test_a_date_that_no_row_in_play_has_tells_no_time():
    from bright_tether.claims.timing import timing_claim

    plain = findings_of([1, 2, 3, 4], [2, 4, 5, 8])
    assert timing_claim(plain) is None
    dated = Column(id="c9", name="when", kind="date", cells=np.array(["", "", "", ""], object))
    table = plain.table
    table = Table(id="t1", name="t", columns=(*table.columns, dated), row_ids=table.row_ids)
    tether = Tether(id="k1", table="t1", x="c1", y="c2")
    assert timing_claim(Findings(Study(tables=(table,), tethers=(tether,)), tether)) is None


@pytest.mark.parametrize(
    "mode", ["residual-on-x", "residual-in-order", "normal-quantiles", "studentised-on-leverage"]
)
def test_a_card_leaves_a_twentieth_of_room_around_its_points(mode):
    draw = np.random.default_rng(2)
    x = draw.normal(size=40)
    sketch = findings_of(x, 2 * x + draw.normal(size=40)).sketch(mode)
    left, right, low, high = sketch.small.ends
    for start, end, values in ((left, right, sketch.x), (low, high, sketch.y)):
        wide = float(np.ptp(values))
        assert start < values.min() < values.max() < end
        assert end - start < 3.5 * wide


@pytest.mark.parametrize(("turn", "told"), [(102.0, True), (108.0, True), (100.6, False), (109.4, False)])
def test_a_bend_turns_round_only_a_tenth_of_the_range_inside(turn, told):
    x = np.linspace(100, 110, 41)
    found = findings_of(x, (x - turn) ** 2 + 0.001 * np.cos(40 * x)).form
    assert (found.turns_at is not None) is told
    if told:
        assert found.turns_at == pytest.approx(turn, abs=0.01)


@pytest.mark.parametrize(("x", "usual"), [
    ([0.0, 8.0, 10.0, 11.0], 8.0),  # the middle lies in the gap before the second: the nearer end of it
    ([0.0, 1.0, 3.0, 9.0], 3.0),
    ([0.0, 10.0], 0.0),
    ([0.0, 4.0, 6.0, 8.0, 10.0], 5.0),
])  # fmt: skip
def test_a_forecast_begins_near_the_middle_and_in_no_gap(x, usual):
    assert _usual_x(np.array(x)) == usual


@pytest.mark.parametrize(("part", "verdict"), [
    ("low", "matters"), ("above low", "cannot tell"), ("high", "cannot tell"), ("above high", "too small"),
])  # fmt: skip
def test_a_slope_matters_from_the_end_of_its_interval_on(part, verdict):
    x = np.arange(20.0)
    y = 2 * x + np.cos(3 * x)
    low, high = findings_of(x, y).coefficients.ci_slope
    least = {
        "low": low,
        "above low": np.nextafter(low, 9),
        "high": high,
        "above high": np.nextafter(high, 9),
    }[part]
    for way in (1, -1):
        assert (
            matters_claim(findings_of(x, way * y, line=LineChoice(matters=float(least)))).verdict == verdict
        )


@pytest.mark.parametrize(("moved", "told"), [(0.024, False), (0.026, True)])
def test_rows_that_draw_r_away_move_it_by_more_than_half_of_what_counts(moved, told):
    line = SimpleNamespace(r=0.5)
    stub = SimpleNamespace(
        pearson=line, spearman=SimpleNamespace(rho=0.6), pairs=SimpleNamespace(n=40),
        without=lambda strays: (0.5 + moved, 0.6),
    )  # fmt: skip
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("bright_tether.claims.coefficients.named_rows", lambda *_: ())
        assert (apart_claim(stub, np.array([3])) is not None) is told


def test_clumps_are_judged_inside_by_case_where_cases_decide():
    draw = np.random.default_rng(2)
    x = np.concatenate([draw.uniform(0, 1, 12), draw.uniform(9, 10, 12)])
    y = np.concatenate([draw.uniform(0, 1, 12), draw.uniform(9, 10, 12)])
    cases = [f"case {at // 2}" for at in range(24)]
    by = findings_of(x, y, groups=cases, line=LineChoice(errors="clustered", cluster="c3"))
    plain = findings_of(x, y)
    assert by.clumps.count == plain.clumps.count == 2
    assert by.within_clumps.r == pytest.approx(plain.within_clumps.r)
    assert by.within_clumps.p != plain.within_clumps.p


def test_nothing_is_hidden_where_no_axis_has_a_log():
    findings = findings_of([-1.0, 0, 1, 2], [1.0, 3, 2, 5])
    assert findings.look_points.hidden == 0
    assert _look_points((True, False), findings.points).hidden == 2
