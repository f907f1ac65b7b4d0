"""Alternatives, forecasts in original units, remedies and derived columns: against plain NumPy."""

import msgspec
import numpy as np
import pytest

from bright_tether.core.line.errors import NoErrors
from bright_tether.core.results import NegativeWeight
from bright_tether.demo.study import demo_study
from bright_tether.live.comparison import NotCombined, NothingCompared
from bright_tether.live.findings import Findings
from bright_tether.study import cell_changes, changes
from bright_tether.study.asides import Aside, Asides
from bright_tether.study.choices import CompareChoice, ForecastChoice, LineChoice, RehearseChoice
from bright_tether.study.column_changes import add_formula, keep_figure
from bright_tether.study.derived import with_table, with_tether
from bright_tether.study.memory import Memory
from bright_tether.study.remedies import remedies
from bright_tether.study.study import Study
from bright_tether.study.table_changes import first_tether
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.computed import expression
from bright_tether.tables.read_plan import guess_plan, read_content
from bright_tether.tables.table import Table

DRAW = np.random.default_rng(17)
N = 40
X = DRAW.uniform(1, 9, N)
Y = 2 * X**1.5 * np.exp(DRAW.normal(0, 0.1, N))


def study_of(**more):
    cells = {"x": X, "y": Y, "w": DRAW.uniform(1, 2, N), "z": Y + DRAW.normal(0, 1, N)}
    columns = [Column(id=k, name=f"{k} (u)", kind="number", cells=v.copy()) for k, v in cells.items()]
    words = np.array([f"g{i % 3}" for i in range(N)], object)
    columns.append(Column(id="g", name="g", kind="category", cells=words))
    table = Table(id="t1", name="t", columns=tuple(columns), row_ids=np.arange(N))
    tether = Tether(id="k1", table="t1", x="x", y="y", chosen=True, **more)
    return Study(tables=(table,), tethers=(tether,))


def findings(**more):
    study = study_of(**more)
    return Findings(study, study.tethers[0])


def by_name(found):
    return {one.kind: one for one in found.alternatives}


def test_alternatives_are_what_numpy_fits():
    told = by_name(findings())
    assert told["plain"].slope == pytest.approx(np.polyfit(X, Y, 1)[0])
    assert told["origin"].slope == pytest.approx(np.sum(X * Y) / np.sum(X * X))
    assert told["weights"].slope == pytest.approx(np.polyfit(X, Y, 1, w=1 / np.sqrt(X))[0])
    assert np.allclose(told["second-degree"].y, np.polyval(np.polyfit(X, Y, 2), told["second-degree"].x))
    slope, height = np.polyfit(np.log10(X), np.log10(Y), 1)
    both = told["log-both"]
    assert both.slope == pytest.approx(slope)
    assert np.allclose(both.y, 10**height * both.x**slope)
    left = Y - 10**height * X**slope
    assert both.typical == pytest.approx(np.sqrt(np.sum(left**2) / (N - 2)))
    slope, height = np.polyfit(1 / X, Y, 1)
    assert np.allclose(told["reciprocal-x"].y, height + slope / told["reciprocal-x"].x)
    assert both.typical < told["plain"].typical


def test_transforms_that_do_not_exist_are_not_offered():
    study = study_of()
    table = study.tables[0]
    low = msgspec.structs.replace(table.column("x"), cells=X - 5)
    study = with_table(study, table.with_column(low))
    names = set(by_name(Findings(study, study.tethers[0])))
    assert "log-both" not in names
    assert "weights" not in names
    assert "log-y" in names
    words = {one.words for one in remedies(study, study.tethers[0], "spread", frozenset())}
    assert "Log of both" not in words
    assert "Weights 1/x" not in words
    assert words == {"Log of y", "Square root of y", "Weights by a fitted power of the fitted value"}


@pytest.mark.parametrize("doubt", ["bend", "spread", "order", "shape", "far-out", "pull"])
def test_every_remedy_can_be_taken_and_taken_back(doubt):
    study = study_of()
    rows = frozenset({3, 4}) if doubt in ("far-out", "pull") else frozenset()
    offered = remedies(study, study.tethers[0], doubt, rows)
    assert bool(offered) == (doubt != "order")  # no errors keep the level there: see docs/doubts.md
    for one in offered:
        after = one.edit.apply(study)
        Findings(after, after.tethers[0]).line  # noqa: B018
        back = one.edit.inverse().apply(after)
        assert back.tethers == study.tethers
        assert [c.id for c in back.tables[0].columns] == [c.id for c in study.tables[0].columns]


def test_a_remedy_uses_the_column_that_already_stands():
    study = study_of()
    first = remedies(study, study.tethers[0], "bend", frozenset())[0].edit.apply(study)
    again = with_tether(first, msgspec.structs.replace(first.tethers[0], x="x", y="y"))
    twice = remedies(again, again.tethers[0], "bend", frozenset())[0].edit.apply(again)
    assert len(twice.tables[0].columns) == len(first.tables[0].columns)


def test_weights_errors_and_order_are_one_choice_for_every_step():
    plain, robust = findings(), findings(line=LineChoice(errors="HC3"))
    assert robust.coefficients.se_slope == pytest.approx(robust.line.robust["HC3"].se_slope)
    assert robust.band.ci[0, 0] != plain.band.ci[0, 0]
    assert robust.forecasts((4.0,)).half_ci[0] != plain.forecasts((4.0,)).half_ci[0]
    weighted = findings(line=LineChoice(weights="w"))
    assert weighted.fit.weights is not None
    assert weighted.pearson.r == plain.pearson.r
    ordered = findings(line=LineChoice(order="z"))
    assert ordered.checks.durbin_watson.d != plain.checks.durbin_watson.d
    assert ordered.line.slope == plain.line.slope
    with pytest.raises(NoErrors):
        findings(line=LineChoice(errors="clustered")).errors  # noqa: B018
    clustered = findings(line=LineChoice(errors="clustered", cluster="g"))
    assert clustered.errors.df == 2


def test_a_negative_weight_is_refused_with_its_row():
    study = study_of(line=LineChoice(weights="w"))
    edit = cell_changes.set_cells(study, "t1", {(6, "w"): -2.0})
    after = edit.apply(study)
    found = Findings(after, after.tethers[0])
    with pytest.raises(NegativeWeight) as caught:
        found.pairs  # noqa: B018
    assert caught.value.row == 7


def test_comparisons_need_something_to_compare_and_plain_lines():
    with pytest.raises(NothingCompared):
        findings().comparison  # noqa: B018
    with pytest.raises(NotCombined):
        findings(line=LineChoice(origin=True), compare=CompareChoice(group="g")).comparison  # noqa: B018
    made = findings(compare=CompareChoice(group="g")).comparison
    assert [group.name for group in made.groups] == ["g0", "g1", "g2"]
    assert made.slopes is None
    assert len(made.pairwise) == 3
    both = findings(compare=CompareChoice(second="z", margin=0.5)).comparison
    assert both.decides == "same_rows"
    assert both.same_rows.slope.difference == pytest.approx(
        np.polyfit(X, Y, 1)[0] - np.polyfit(X, findings_z(both), 1)[0]
    )


def findings_z(made):
    return made.groups[1].pairs.y


def test_forecasts_go_back_to_original_units_by_every_way():
    for function, back in (("log10", lambda v: 10**v), ("log", np.exp), ("sqrt", np.square)):
        study = study_of()
        table = study.tables[0]
        edit = add_formula(study, "t1", "new", expression(f"{function}(y)", table))
        study = edit.apply(study)
        tether = msgspec.structs.replace(
            study.tethers[0], y=edit.column.id, forecast=ForecastChoice(at=(4.0,), back=(20.0,))
        )
        study = with_tether(study, tether)
        found = Findings(study, tether)
        one, inner = found.expected[0], found.forecasts((4.0,))
        assert one.fitted == pytest.approx(float(back(inner.fitted[0])))
        assert one.pi == pytest.approx(tuple(back(inner.pi[0])))
        assert one.scale == ("root" if function == "sqrt" else "log")
        assert one.half_pi is None
        x = found.backwards(20.0)[0].x
        assert float(back(found.forecasts((x,)).fitted[0])) == pytest.approx(20.0)


def test_what_x_gives_a_y_goes_back_to_original_units():
    study = study_of()
    edit = add_formula(study, "t1", "new", expression("log10(x)", study.tables[0]))
    study = edit.apply(study)
    study = with_tether(study, msgspec.structs.replace(study.tethers[0], x=edit.column.id))
    found = Findings(study, study.tethers[0])
    slope, height = np.polyfit(np.log10(X), Y, 1)
    one, mean = found.backwards(20.0)
    assert one.x == pytest.approx(10 ** ((20 - height) / slope))
    assert mean.x == pytest.approx(one.x)
    assert one.ci[0] < mean.ci[0] < one.x < mean.ci[1] < one.ci[1]


def test_every_two_columns_leave_out_what_is_set_aside():
    out = {int(at) for at in np.argsort(Y)[-2:]}
    told = findings(asides=Asides.told(Aside(row, "spilt") for row in out)).every_pair("pearson")
    stay = [at for at in range(N) if at not in out]
    assert {one.n for one in told} == {N - 2}
    assert told[0].value == pytest.approx(np.corrcoef(X[stay], Y[stay])[0, 1])
    assert {one.n for one in findings().every_pair("pearson")} == {N}


def test_an_actual_case_has_the_share_that_t_gives():
    from scipy import stats

    found = findings()
    told = found.actual(5.0, 60.0)
    made = found.forecasts((5.0,))
    t = (60.0 - made.fitted[0]) / made.se_individual[0]
    assert told.share == pytest.approx(2 * stats.t.sf(abs(t), N - 2))
    assert told.inside == (made.pi[0, 0] <= 60 <= made.pi[0, 1])
    assert told.by_s == pytest.approx((60.0 - made.fitted[0]) / found.line.s)


@pytest.mark.parametrize("what", ["residual", "fitted", "leverage", "standardised", "studentised", "cooks_d"])
def test_live_columns_follow_cells_rows_and_the_line(what):
    study = study_of()
    study = keep_figure(study, study.tethers[0], what).apply(study)
    column = study.tables[0].columns[-1]
    for edit in (
        cell_changes.set_cells(study, "t1", {(0, "y"): 99.0, (0, "x"): 9.5}),
        changes.set_aside(study, study.tethers[0], {5}, "odd"),
        changes.change_choice(study, study.tethers[0], "line", "through 0", origin=True),
    ):
        after = edit.apply(study)
        found, now = Findings(after, after.tethers[0]), after.tables[0].columns[-1]
        assert np.array_equal(now.cells[found.pairs.at], getattr(found.rows, what))
        assert not np.array_equal(now.cells, column.cells, equal_nan=True)
        assert edit.inverse().apply(after).tables[0].columns[-1].cells == pytest.approx(
            column.cells, nan_ok=True
        )


def test_a_line_through_its_own_residuals_stays_blank():
    study = study_of()
    edit = keep_figure(study, study.tethers[0], "residual")
    study = edit.apply(study)
    turned = with_tether(study, msgspec.structs.replace(study.tethers[0], y=edit.column.id))
    assert np.isnan(turned.tables[0].columns[-1].cells).all()


def test_what_does_not_change_is_not_worked_out_again():
    study, memory = demo_study(), Memory()
    first = Findings(study, study.tether("k1"), memory)
    first.doubts, first.checks, first.alternatives  # noqa: B018
    made = memory.made
    edit = changes.change_choice(study, study.tether("k1"), "forecast", "forecast", at=(3.0,))
    after = edit.apply(study)
    again = Findings(after, after.tether("k1"), memory)
    assert again.doubts is first.doubts
    assert again.checks is first.checks
    assert memory.made == made


def test_the_other_line_is_that_of_x_on_y():
    study = study_of()
    slope, height = Findings(study, study.tethers[0]).other_slope
    assert (slope, height) == pytest.approx(tuple(np.polyfit(Y, X, 1)))


def test_a_plan_for_a_forecast_looks_at_its_distance_from_the_mean():
    study = demo_study()
    tether = msgspec.structs.replace(study.tethers[0], forecast=ForecastChoice(at=(50.0,)))
    found = Findings(with_tether(study, tether), tether)
    assert found.wish.away == pytest.approx(50.0 - np.mean(found.pairs.x))


def test_the_slope_that_a_power_is_for_may_be_none():
    x = np.repeat(np.arange(5.0), 4)
    y = np.tile([1.0, 2.0, 2.0, 1.0], 5)
    lines = "\n".join(["x,y", *(f"{a},{b}" for a, b in zip(x, y, strict=True))]).encode()
    table = read_content(lines, "level.csv", "t1", guess_plan(lines, "level.csv"))
    tether = msgspec.structs.replace(
        first_tether(table, "k1"), rehearse=RehearseChoice(purpose="slope power")
    )
    findings = Findings(Study(tables=(table,), tethers=(tether,)), tether)
    assert findings.line.slope == 0
    assert findings.effect == 0


@pytest.mark.parametrize("shift", [0.0, 5.0])
def test_how_far_a_rehearsed_forecast_lies_from_the_mean(shift):
    x = np.arange(-4.0, 5) + shift
    columns = tuple(Column(id=name, name=name, kind="number", cells=cells)
                    for name, cells in (("x", x), ("y", 2 * x + np.tile([1.0, -1, 0], 3))))  # fmt: skip
    table = Table(id="t1", name="t", columns=columns, row_ids=np.arange(9))
    tether = Tether(id="k1", table="t1", x="x", y="y", forecast=ForecastChoice(at=(3.0,)))
    assert Findings(Study(tables=(table,), tethers=(tether,)), tether).away == pytest.approx(
        3 - shift, abs=1e-12
    )
