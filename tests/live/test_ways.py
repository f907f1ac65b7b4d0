"""Every other way: which there are by the rules, and that each is what the step itself would tell of it."""

import msgspec
import numpy as np
import pytest

from bright_tether.core.line.change import step_on
from bright_tether.demo.loggers import loggers_study
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.live.other_choices import MOST_WAYS, OtherChoices, Way
from bright_tether.live.ways import Options
from bright_tether.study.asides import NO_ASIDES, Aside, Asides
from bright_tether.study.choices import HeldChoice, LineChoice, OtherwiseChoice
from bright_tether.study.derived import with_tether
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table

DRAW = np.random.default_rng(17)
LOGS = ("scale=log-x", "scale=log-y", "scale=log-both")


def study_of(tether_at=0, **fields):
    study = demo_study()
    return with_tether(study, msgspec.structs.replace(study.tethers[tether_at], **fields))


def ways_of(study, at=0):
    findings = Findings(study, study.tethers[at])
    return findings, findings.other_choices.outcome


def by_options(found):
    return {one.options: one for one in found.ways}


def table_of(x, y, **more):
    columns = [Column(id=name, name=name, kind="number", cells=np.asarray(cells, float))
               for name, cells in ({"x": x, "y": y} | more).items()]  # fmt: skip
    return Table(id="t1", name="t", columns=tuple(columns), row_ids=np.arange(len(x)))


def findings_of(x, y, asides=(), columns=None, **fields):
    table = table_of(x, y, **(columns or {}))
    tether = Tether(id="k1", table="t1", x="x", y="y", asides=Asides.told(asides), **fields)
    return Findings(Study(tables=(table,), tethers=(tether,)), tether)


def test_the_present_way_is_the_line_itself_to_the_last_digit():
    study = study_of(otherwise=OtherwiseChoice(left_out=LOGS))
    findings, found = ways_of(study)
    present = found.ways[found.present]
    assert found.what == "slope"
    assert (present.value, present.ci, present.n) == (findings.line.slope, findings.line.ci_slope, 64)
    _, with_logs = ways_of(demo_study())
    here = with_logs.ways[with_logs.present]
    step = with_logs.last - with_logs.first
    assert here.value == pytest.approx(findings.line.slope * step, rel=1e-14)


@pytest.mark.parametrize("errors", ["classical", "HC3"])
@pytest.mark.parametrize("rows", ["taken", "every"])
def test_a_way_is_what_the_steps_tell_when_it_is_taken(rows, errors):
    """Rows brought back and errors chosen in the study itself, against the way in the picture."""
    _, found = ways_of(study_of(otherwise=OtherwiseChoice(left_out=LOGS)))
    study = study_of(line=LineChoice(errors=errors), **({"asides": NO_ASIDES} if rows == "every" else {}))
    findings = Findings(study, study.tethers[0])
    way = by_options(found)[Options(rows, "plain", "least-squares", "none", "none", errors)]
    by = findings.coefficients
    assert (way.value, way.ci) == (findings.line.slope, by.ci_slope)
    for line, one in (("theil-sen", findings.theil_sen), ("deming", findings.deming)):
        way = by_options(found)[Options(rows, "plain", line, "none", "none", "own")]
        assert (way.value, way.ci) == (one.slope, one.ci_slope)


def test_logarithms_are_compared_by_what_y_does_between_two_x():
    findings, found = ways_of(demo_study())
    x, y = findings.pairs.x, findings.pairs.y
    ways = by_options(found)
    slope = np.polyfit(np.log10(x), y, 1)[0]
    way = ways[Options("taken", "log-x", "least-squares", "none", "none", "classical")]
    assert way.value == pytest.approx(slope * step_on("log-x", found.first, found.last), rel=1e-10)
    b, a = np.polyfit(x, np.log10(y), 1)
    way = ways[Options("taken", "log-y", "least-squares", "none", "none", "classical")]
    assert way.value == pytest.approx(10 ** (a + b * found.last) - 10 ** (a + b * found.first), rel=1e-10)
    every = findings.x_cells[np.isfinite(findings.x_cells) & np.isfinite(findings.y_cells)]
    assert (found.first, found.last) == pytest.approx(tuple(np.quantile(every, (0.25, 0.75))))


@pytest.mark.parametrize(("rule", "out"), [
    ("fences", lambda e, t, c, n: (e < np.quantile(e, 0.25) - 1.5 * np.subtract(*np.quantile(e, (0.75, 0.25))))
     | (e > np.quantile(e, 0.75) + 1.5 * np.subtract(*np.quantile(e, (0.75, 0.25))))),
    ("studentised", lambda e, t, c, n: np.abs(t) > 3),
    ("cook", lambda e, t, c, n: c > 4 / n),
])  # fmt: skip
def test_a_rule_takes_its_rows_out_once_by_the_line_of_every_row(rule, out):
    draw = np.random.default_rng(4)
    x = draw.uniform(0, 10, 50)
    y = x + draw.normal(size=50)
    y[[3, 17]] += 9
    others = tuple(f"rows={one}" for one in ("fences", "studentised", "cook") if one != rule)
    found = findings_of(x, y, otherwise=OtherwiseChoice(left_out=others)).other_choices.outcome
    slope, height = np.polyfit(x, y, 1)
    e = y - height - slope * x
    h = 1 / 50 + (x - x.mean()) ** 2 / ((x - x.mean()) ** 2).sum()
    s = np.sqrt(e @ e / 48)
    r = e / (s * np.sqrt(1 - h))
    t = r * np.sqrt(47 / (48 - r**2))
    gone = out(e, t, r**2 * h / (1 - h) / 2, 50)
    assert gone.any()
    way = next(one for one in found.ways if one.options[:3] == (rule, "plain", "least-squares"))
    assert way.n == 50 - gone.sum()
    step = found.last - found.first
    assert way.value / step == pytest.approx(np.polyfit(x[~gone], y[~gone], 1)[0], rel=1e-10)


def test_rows_that_come_out_the_same_count_once():
    x = np.arange(1.0, 11.0)
    y = 2 * x + np.array([1, -1] * 5)
    found = findings_of(x, y).other_choices.outcome
    assert {one.options.rows for one in found.ways if one.options.scale == "plain"} == {"taken"}


def test_the_path_goes_through_the_reasons_in_their_order():
    draw = np.random.default_rng(9)
    x = draw.uniform(1, 10, 30)
    y = 3 * x + draw.normal(size=30)
    y[[0, 1, 2]] -= 15
    asides = (Aside(0, "fouled"), Aside(1, "ice"), Aside(2, "fouled"))
    findings = findings_of(x, y, asides)
    found = findings.other_choices.outcome
    by_reason = [(reason, rows.tolist()) for reason, rows in findings.asides_by_reason]
    assert by_reason == [("fouled", [0, 2]), ("ice", [1])]
    assert [found.ways[at].options.rows for at in found.path] == ["every", "after 1", "taken"]
    assert [found.ways[at].n for at in found.path] == [30, 28, 27]
    assert found.path[-1] == found.present
    assert findings_of(x, y).other_choices.outcome.path == ()


def test_only_what_makes_sense_goes_together():
    study = demo_study()
    stage = study.table("t1").named("stage").id
    first = msgspec.structs.replace(study.tethers[0], held=HeldChoice(columns=(stage,)),
                                    line=LineChoice(weight_pattern="inverse-x"))  # fmt: skip
    _, found = ways_of(with_tether(study, first))
    assert {one.options.weights for one in found.ways} == {"in-force", "none"}
    assert any(one.options.held == "stage" for one in found.ways)
    for one in found.ways:
        options = one.options
        least = options.line == "least-squares"
        assert (options.errors == "own") is not least
        if options.weights != "none":
            assert (options.scale, options.line, options.held) == ("plain", "least-squares", "none")
        if options.scale in ("log-y", "log-both"):
            assert (least, options.held) == (True, "none")
        if options.held != "none":
            assert least
    assert found.ways[found.present].options.weights == "in-force"
    # what is held is the slope held of the view beside it
    plain = with_tether(study, msgspec.structs.replace(first, line=LineChoice()))
    findings, found = ways_of(plain)
    way = by_options(found)[Options("taken", "plain", "least-squares", "none", "stage", "classical")]
    held = findings.held_line.held.held
    assert way.value == pytest.approx(held.slope * (found.last - found.first), rel=1e-14)
    assert way.ci == pytest.approx([end * (found.last - found.first) for end in held.ci_slope], rel=1e-14)


def test_through_the_origin_is_a_way_where_it_is_in_force():
    x = np.arange(1.0, 13.0)
    y = 2 * x + np.cos(x)
    found = findings_of(x, y, line=LineChoice(origin=True)).other_choices.outcome
    lines = {one.options.line for one in found.ways}
    assert lines == {"origin", "least-squares", "theil-sen", "mm", "deming"}
    assert found.ways[found.present].options.line == "origin"
    assert all(one.options.scale == "plain" for one in found.ways if one.options.line == "origin")


def test_where_cases_decide_no_way_counts_rows():
    study = loggers_study()
    tether = next(one for one in study.tethers if one.line.errors == "clustered")
    found = Findings(study, tether).other_choices.outcome
    assert {one.options.errors for one in found.ways} == {"clustered"}
    assert {one.options.line for one in found.ways} == {"least-squares"}


@pytest.mark.parametrize(("unit", "logs"), [("°C", False), ("mg/L", True)])
def test_what_has_no_ratios_is_not_taken_as_a_logarithm(unit, logs):
    x = np.arange(1.0, 13.0)
    findings = findings_of(x, x + np.cos(x))
    table = findings.table
    columns = (msgspec.structs.replace(table.columns[0], name=f"x ({unit})"), table.columns[1])
    table = msgspec.structs.replace(table, columns=columns)
    findings = Findings(Study(tables=(table,), tethers=(findings.tether,)), findings.tether)
    assert findings.x_column.unit == unit
    assert ("log-x" in findings.scales) is logs
    assert "log-y" in findings.scales
    dated = Findings(loggers_study(), loggers_study().tethers[1])
    assert "log-x" not in dated.scales


def test_what_is_left_out_is_not_worked_out():
    _, found = ways_of(study_of(otherwise=OtherwiseChoice(left_out=("rows=every", "line=mm"))))
    assert not any(one.options.rows == "every" or one.options.line == "mm" for one in found.ways)
    assert found.path == ()


def test_the_x_between_which_y_is_compared_can_be_stated():
    _, found = ways_of(study_of(otherwise=OtherwiseChoice(first=50.0, last=60.0)))
    assert (found.first, found.last) == (50.0, 60.0)
    findings, wrong = ways_of(study_of(otherwise=OtherwiseChoice(first=60.0, last=50.0)))
    every = findings.x_cells[np.isfinite(findings.x_cells) & np.isfinite(findings.y_cells)]
    assert (wrong.first, wrong.last) == (every.min(), every.max())


def test_the_run_can_be_stopped_and_tells_how_far_it_is():
    study = demo_study()
    task, told = Findings(study, study.tethers[0]).other_choices, []

    def until(so_far):
        told.append(so_far)
        return len(told) < 3

    stopped = task.run(until)
    assert not stopped.whole
    assert len(stopped.ways) == 16
    assert told[:2] == [(0, 61), (8, 61)]
    assert task.kept is None
    assert task.outcome.whole
    assert task.kept is not None


def made(*values, present=0, axes="rows"):
    """Ways that differ in one axis alone, with these values."""
    ways = tuple(
        Way(Options(f"after {at}" if at != present else "taken", "plain", "least-squares", "none", "none", "classical"),
            10, value, None if value is None else (value - 1, value + 1))
        for at, value in enumerate(values)
    )  # fmt: skip
    return OtherChoices(axes=(("rows", ()),), ways=ways, present=present, path=(), first=0.0, last=1.0, what="slope",
                        level=0.95, left_out=(), more=False, whole=True)  # fmt: skip


def test_counts_are_of_ways_with_an_interval():
    found = made(-3.0, -0.5, 0.0, 0.5, 2.0, None)
    assert (len(found.told), found.failed, found.rising, found.falling, found.clear) == (5, 1, 2, 2, 2)
    assert not Way(found.ways[0].options, 9, 1.0, (0.0, 2.0)).clear


def test_the_mover_is_the_single_choice_that_goes_farthest():
    near = made(-2.9, -0.5, 2.0, present=1)
    assert (near.mover.way, near.mover.axis, near.mover.option) == (2, "rows", "after 2")
    far = made(-9.0, -0.5, 2.0, present=1)
    assert (far.mover.way, far.mover.option) == (0, "after 0")
    assert made(1.0).mover is None


def test_no_more_than_can_be_looked_at_is_worked_out(monkeypatch):
    monkeypatch.setattr("bright_tether.live.other_choices.MOST_WAYS", 10)
    _, found = ways_of(demo_study())
    assert len(found.ways) == 10
    assert found.more
    assert MOST_WAYS == 2000


def test_pairs_without_a_line_or_residuals_have_the_ways_they_have():
    exact = findings_of(np.arange(6.0) + 1, 2 * np.arange(6.0) + 5).other_choices.outcome
    assert exact.ways[exact.present].value == pytest.approx(2 * (exact.last - exact.first))
    three = findings_of([1.0, 2.0, 4.0], [1.0, 3.0, 2.0]).other_choices.outcome
    assert three.ways
    assert all(one.options.rows == "taken" for one in three.ways)


def test_of_many_pairs_no_resistant_line_is_drawn(monkeypatch):
    monkeypatch.setattr("bright_tether.live.ways.MOST_PAIRS", 60)
    _, found = ways_of(demo_study())
    assert {one.options.line for one in found.ways} == {"least-squares", "deming"}


def test_an_interval_that_ends_at_0_does_not_leave_it_out():
    ends = [(-1.0, 0.0), (0.0, 1.0), (-1.0, -0.1), (0.1, 1.0)]
    assert [Way(None, 9, sum(one) / 2, one).clear for one in ends] == [False, False, True, True]


def test_a_rule_says_nothing_of_rows_without_scatter_or_of_three():
    from bright_tether.core.line.plain import fit_line
    from bright_tether.core.pairs import take_pairs
    from bright_tether.live.ways import _by_rule

    x = np.arange(9.0)
    for rule in ("fences", "studentised", "cook"):
        assert _by_rule(rule, fit_line(take_pairs(x, 2 * x))) is None
        assert _by_rule(rule, fit_line(take_pairs(x[:3], np.array([1.0, 3, 2])))) is None
        y = np.array([0.1, 1, 2.2, 2.9, 4.1, 5, 6.1, 6.9, 30])
        assert _by_rule(rule, fit_line(take_pairs(x, y)))[-1]


@pytest.mark.parametrize(
    "typed", [(None, None), (2.0, None), (None, 9.0), (9.0, None), (None, -1.0), (3.0, 8.0)]
)
def test_an_end_that_is_not_stated_is_a_quartile(typed):
    x = np.linspace(0, 12, 25)
    found = findings_of(x, np.exp(x / 5) + DRAW.normal(0, 0.1, 25) + 2,
                        otherwise=OtherwiseChoice(first=typed[0], last=typed[1])).other_choices.outcome  # fmt: skip
    wanted = [quartile if end is None else end for end, quartile in zip(typed, (3.0, 9.0), strict=True)]
    assert (found.first, found.last) == (tuple(wanted) if wanted[0] < wanted[1] else (0.0, 12.0))
