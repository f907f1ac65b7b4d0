"""Sentences at their edges: what is said of exactly none, of one, and of what is the same everywhere."""

import re

import msgspec
import numpy as np
import pytest
from msgspec.structs import replace

from bright_tether.claims.cases import WithinSlopeClaim
from bright_tether.claims.claim import NamedRow
from bright_tether.claims.coefficients import AgreementClaim, AgreementSlopeClaim, CoefficientsClaim
from bright_tether.claims.doubts import doubts_claim
from bright_tether.claims.forecast import back_claims
from bright_tether.claims.rehearse import bias_claim
from bright_tether.claims.searched import searched_claim
from bright_tether.claims.tether import claims_of
from bright_tether.core.centred import centre
from bright_tether.core.doubts.verdicts import Verdict
from bright_tether.core.rehearse.sampling import Sampling
from bright_tether.core.results import Cause
from bright_tether.core.summary import summarise
from bright_tether.demo.study import demo_study
from bright_tether.live.basis import beyond_pictures
from bright_tether.live.findings import Findings
from bright_tether.live.rehearse import BrokenCase
from bright_tether.study.reread import reread_table
from bright_tether.study.rules import RuleChoices
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.clock import Clock
from bright_tether.tables.column import Column
from bright_tether.tables.formula import Draw, Expression, FromOthers
from bright_tether.tables.read_plan import guess_plan, read_content
from bright_tether.tables.slips import SlipKind, likely_slips
from bright_tether.tables.table import Table
from bright_tether.words import digits
from bright_tether.words.columns import draw_trouble, formula_words, head_words, without_dust
from bright_tether.words.grids.line import alternatives_grid
from bright_tether.words.grids.rehearse import broken_grid
from bright_tether.words.grids.reread import MOST_LISTED, _like, case_words, changes_grid
from bright_tether.words.reading import Names
from bright_tether.words.readings.agreement import (
    agreement_note,
    agreement_sentences,
    agreement_slope_sentence,
)
from bright_tether.words.readings.alternatives import change_sentence
from bright_tether.words.readings.cases import within_slope_sentence
from bright_tether.words.readings.doubts import not_judged_sentences
from bright_tether.words.readings.forecast import back_sentences, forecast_reading
from bright_tether.words.readings.line import equation_of
from bright_tether.words.readings.planning import plus, share
from bright_tether.words.readings.rehearse import samples_reading
from bright_tether.words.readings.rows import rows_in_words
from bright_tether.words.readings.strength import coefficients_sentence, strength_reading
from bright_tether.words.readings.unanswered import QUESTIONS
from bright_tether.words.reread import reread_sentence
from bright_tether.words.slips import slip_sentence
from bright_tether.words.stacking import stack_name


def findings_over(x, y):
    columns = tuple(Column(id=f"c{at}", name=name, kind="number", cells=np.asarray(cells, float))
                    for at, (name, cells) in enumerate((("x", x), ("y", y)), 1))  # fmt: skip
    table = Table(id="t1", name="t", columns=columns, row_ids=np.arange(len(x)))
    tether = Tether(id="k1", table="t1", x="c1", y="c2")
    return Findings(Study(tables=(table,), tethers=(tether,)), tether)


def test_the_number_furthest_out_is_blamed_and_never_a_nought():
    one = Column(id="c1", name="level", kind="number", cells=np.array([0.0, 1.0, 2.0, 1e300]))
    two = Column(id="c2", name="flow", kind="number", cells=np.array([0.0, 1e-200, np.nan]))
    found = beyond_pictures(two, one)
    assert (found.name, found.largest) == ("level", 1e300)


@pytest.mark.parametrize(("among", "said"), [(0, None), (1, None), (2, 0.1)])
def test_a_search_of_one_is_none(among, said):
    study = demo_study()
    tether = msgspec.structs.replace(study.tethers[0], among=among)
    claim = searched_claim(Findings(study, tether))
    assert (claim and claim.by_luck) == said


@pytest.mark.parametrize(("rows", "bound"), [(20, False), (20_000, True)])
def test_signs_by_luck_are_counted_or_bounded(rows, bound):
    draw = np.random.default_rng(2)
    x = draw.normal(size=rows)
    findings = findings_over(x, x + draw.normal(size=rows))
    assert doubts_claim(findings, ()).bound is bound


@pytest.mark.parametrize(("mean", "said"), [
    (0.0, "Both columns hold the same values in every row."),
    (1.0, "second lies 1.00 mm above first in every row: an offset that r, ρ and τ cannot see."),
    (-1.0, "second lies 1.00 mm below first in every row: an offset that r, ρ and τ cannot see."),
])  # fmt: skip
def test_two_columns_that_differ_by_one_number_everywhere(mean, said):
    claim = AgreementClaim(mean=mean, low=None, high=None, level=0.95, limits=None, sd=0.0, p=None, outcome="no test",
                           exact_matches=0, n=9, concordance=None)  # fmt: skip
    assert [str(one) for one in agreement_sentences(claim, Names("first", "second", "mm", "mm"), 3)] == [said]


@pytest.mark.parametrize(("slope", "ends", "p", "says"), [
    (0.25, (0.2, 0.3), 0.002, "grow along the columns, by 0.250 mm for each extra mm of the mean of both "
     "(0.200 … 0.300; p = 0.002): from −1.0 at 4.00 mm to +1.0 at 12.0 mm."),
    (-0.25, (-0.3, -0.2), 0.002, "fall along the columns, by 0.250 mm for each extra mm of the mean of both "
     "(0.200 … 0.300; p = 0.002): from −1.0"),
    (0.25, (None, None), None, "grow along the columns, by 0.250 mm for each extra mm of the mean of both, leaving "
     "nothing over: from"),
])  # fmt: skip
def test_differences_that_change_along_the_columns(slope, ends, p, says):
    claim = AgreementSlopeClaim(slope=slope, low=ends[0], high=ends[1], level=0.95, p=p, alpha=0.05,
                                means=(4.0, 12.0), at_means=(-1.0, 1.0))  # fmt: skip
    (said,) = agreement_slope_sentence(claim, Names("first", "second", "mm", "mm"), 3)
    assert str(said).startswith(f"The differences {says}")
    assert str(said).endswith("of all rows together, not of each level.")


def test_a_slipped_point_is_told_with_what_it_may_be():
    text = "name,x\n" + "\n".join(f"r{at},{4 + at / 10:.1f}" for at in range(12)) + "\nr12,53\n"
    table = read_content(text.encode(), "x.csv", "t1", guess_plan(text.encode(), "x.csv"))
    slips = [one for one in likely_slips(table) if one.kind not in (SlipKind.TEXT,)]
    assert [slip_sentence(one, table) for one in slips] == [
        "x: 53 may be 5.3 with the point slipped (row 13)"
    ]


def test_a_file_read_again_unchanged_keeps_nothing_worth_a_word():
    content = b"site,x\nA,1\nB,2\nC,3\n"
    table = read_content(content, "x.csv", "t1", guess_plan(content, "x.csv"))
    fresh = read_content(b"site,x\nA,1\nB,2.5\nC,3\n", "x.csv", "t1", guess_plan(content, "x.csv"))
    made = reread_table(Study(tables=(table,)), "t1", fresh)
    assert made.kept == made.dropped == made.by_hand == made.gone_aside == 0
    assert "mended" not in reread_sentence(made, "x.csv")


@pytest.mark.parametrize(("caught", "told"), [(1.0, "100.0 % ± 0.0"), (0.0, "0.0 % ± 0.0")])
def test_intervals_that_all_or_never_caught_the_truth_have_no_simulation_error(caught, told):
    one = Sampling(statistic="slope", judged="classical", draws=10, truth=1.0, mean=1.0, mean_error=0.1, bias=0.0,
                   sd=0.3, sd_error=0.05, formula=0.3, told=0.3, level=0.95, caught=caught, caught_error=0.0,
                   values=np.zeros(10), low=np.zeros(10), high=np.zeros(10))  # fmt: skip
    grid = broken_grid(
        findings_over([1, 2, 3], [1, 2, 4]), (BrokenCase(name="fanning", by={"classical": one}),)
    )
    assert grid.rows[0][3] == told


def test_each_cause_names_the_doubts_that_it_keeps_from_a_verdict():
    findings = findings_over([1, 2, 3, 4, 5, 6], [1, 3, 2, 5, 4, 6])
    claims = tuple(claims_of(findings).doubt(name) for name in QUESTIONS)
    causes = {"bend": Cause.TOO_FEW_VALUES, "order": Cause.ONE_SIDED_SIGNS}
    held = tuple(
        replace(one, verdict=Verdict.NONE, cause=causes[one.name]) if one.name in causes else one
        for one in claims
    )
    said = not_judged_sentences(held)
    assert ["linearity" in one for one in said] == [True, False]
    assert ["independence" in one for one in said] == [False, True]


def test_a_drawn_column_tells_its_names_where_it_draws_names():
    def words(kind, **more):
        column = Column(
            id="c1", name="a", kind="number", cells=np.zeros(2), formula=Draw(kind=kind, seed=3, **more)
        )
        return formula_words(column, demo_study())

    assert (
        words("category", names=("low", "high"))
        == "drawn at random: categories, each as likely (low, high), seed 3"
    )
    assert words("normal", a=1.0, b=2.0) == "drawn at random: normal (mean 1, sd 2), seed 3"


def test_a_slope_within_cases_has_the_decimals_of_a_quarter_of_its_interval():
    claim = WithinSlopeClaim(slope=1.23456, low=1.03, high=1.43, level=0.95, df=9, turns=False)
    (said,) = within_slope_sentence(claim, Names(x="x", y="y", x_unit=None, y_unit=None), 3)
    assert "at its own height, the slope is 1.23 " in said
    assert "(1.03 … 1.43, 95 %)" in said
    (said,) = within_slope_sentence(
        replace(claim, turns=True), Names(x="x", y="y", x_unit=None, y_unit=None), 3
    )
    assert "at its own height, it turns round: the slope is 1.23 " in said


@pytest.mark.parametrize(
    ("y", "told"), [([5.0, 4.0, 3.5], "−0."), ([3.5, 4.0, 5.0], "0."), ([4.0, 4.0, 4.0], "0.000 ·")]
)
def test_an_equation_that_leads_with_the_slope_has_its_sign_where_it_falls(y, told):
    findings = findings_over([1, 2, 3], y)
    found = equation_of(findings.line, (None, None), ("x", "y"), 3, slope_first=True)
    assert found.startswith(f"y = {told}")


@pytest.mark.parametrize(
    ("rows", "last"), [(MOST_LISTED, "new"), (MOST_LISTED + 1, "and 1 more"), (MOST_LISTED + 2, "and 2 more")]
)
def test_a_long_list_of_changes_ends_with_how_many_more_there_are(rows, last):
    content = b"site,x\nA,1\nB,2\nC,3\n"
    table = read_content(content, "x.csv", "t1", guess_plan(content, "x.csv"))
    more = content + "".join(f"N{at},{at}\n" for at in range(rows)).encode()
    fresh = read_content(more, "x.csv", "t1", guess_plan(more, "x.csv"))
    study = Study(tables=(table,))
    grid = changes_grid(study, "t1", fresh, reread_table(study, "t1", fresh))
    assert last in grid.rows[-1]


@pytest.mark.parametrize("delta", [1.0, 10.0, -0.5, 0.25])
def test_a_change_of_any_size_and_its_interval_are_so_many_slopes(delta):
    draw = np.random.default_rng(4)
    x = np.arange(20.0)
    findings = findings_over(x, 1 + 0.3 * x + draw.normal(0, 1, 20))
    slope, (low, high) = findings.line.slope, findings.coefficients.ci_slope
    said = change_sentence(findings, delta)
    numbers = [float(one.replace("−", "-")) for one in re.findall(r"−?\d+(?:\.\d+)?", said)]
    ends = sorted((low * delta, high * delta))
    assert numbers[:4] == pytest.approx([delta, abs(slope * delta), *ends], abs=0.006 * abs(delta))
    assert f"{'more' if delta > 0 else 'less'} y, on average" in said


@pytest.mark.parametrize("delta", [1e308, -1e308])
def test_a_change_beyond_all_numbers_is_said_to_be_that(delta):
    findings = findings_over(np.arange(20.0), 30 * np.arange(20.0) + np.cos(np.arange(20.0)))
    said = change_sentence(findings, delta)
    assert "beyond what double precision can hold: give a smaller one" in said


@pytest.mark.parametrize(
    ("c", "says"),
    [(1, ""), (3, ""), (0, "whole number from 1"), (2.5, "whole number from 1"), (None, "Give a number")],
)
def test_steps_are_each_drawn_a_whole_number_of_times(c, says):
    told = draw_trouble("steps", {"a": 1.0, "b": 2.0, "c": c, "seed": 7}, (), None, 20, {})
    assert says in told
    assert bool(told) == bool(says)


@pytest.mark.parametrize(
    ("rows", "seed", "says"),
    [(20, 7, ""), (1, 0, ""), (0, 7, "whole number of rows"), (1.5, 7, "whole number of rows"),
     (None, 7, "whole number of rows"), (20, -1, "from 0"), (20, 1.5, "from 0"), (20, None, "from 0"),
     (20, 3, "z is drawn by the seed 3 already")],
)  # fmt: skip
def test_rows_and_seed_of_a_drawn_column_are_whole_numbers(rows, seed, says):
    told = draw_trouble("normal", {"a": 0.0, "b": 1.0, "seed": seed}, (), None, rows, {3: "z"})
    assert says in told
    assert bool(told) == bool(says)


def test_units_that_differ_are_named_where_agreement_is_looked_at():
    findings = findings_over([1, 2, 3], [2, 3, 5])
    one, other = findings.table.columns
    for names, says in ((("x (m)", "y (cm)"), "x is in m, y in cm."), (("x (m)", "y"), "x is in m, y in no unit."),
                        (("x", "y (cm)"), "x is in no unit, y in cm.")):  # fmt: skip
        columns = (replace(one, name=names[0]), replace(other, name=names[1]))
        study = replace(findings.study, tables=(replace(findings.table, columns=columns),))
        assert says in agreement_note(Findings(study, findings.tether))
    assert "in one unit" not in agreement_note(findings)


@pytest.mark.parametrize(("value", "error"), [(0.9512, 0.0049), (0.05, 0.0002), (1.0, 0.0)])
def test_a_figure_with_its_error_stands_for_both_numbers(value, error):
    told = share(value, error)
    assert told == f"{100 * value:.1f} % ± {100 * error:.1f}"
    assert tuple(told.numbers) == pytest.approx((100 * value, 100 * error))
    other = plus(value, error or 0.1)
    assert tuple(other.numbers) == (value, error or 0.1)
    assert [float(one) for one in other.split(" ± ")] == pytest.approx([value, error or 0.1], abs=0.05)


@pytest.mark.parametrize(
    ("names", "told"),
    [(("wea1", "wet2"), "2 tables"), (("Weir a1", "Weir b2"), "Weir"), (("flow_2021", "flow_2022"), "flow"),
     (("north", "northern"), "2 tables"), (("ford 2", "ford 3", "ford 4"), "ford"), (("x", "y"), "2 tables")],
)  # fmt: skip
def test_a_stack_is_called_by_whole_words_that_its_tables_share(names, told):
    assert stack_name(names) == told


def test_a_case_is_told_by_the_column_that_is_there():
    table = findings_over([1.5, 2], [3, 4]).table
    assert case_words(table, 0, "c1") == "1.5"
    assert case_words(table, 1, "c9") == "row 2"
    assert case_words(table, 1, "") == "row 2"
    fresh = replace(table, columns=tuple(replace(one, id=f"{one.id}n") for one in table.columns))
    assert _like(fresh, table, "c2") == "c2n"
    assert _like(fresh, table, "c9") == _like(fresh, table, "") == ""
    less = replace(fresh, columns=fresh.columns[:1])
    assert _like(less, table, "c2") == ""


def test_where_the_cells_of_other_tables_come_from():
    study = findings_over([1], [2]).study
    one = study.tables[0].columns[0]
    told = [formula_words(replace(one, formula=FromOthers(of=of)), study)
            for of in ({}, {"t1": "c1"}, {"t9": "c1"})]  # fmt: skip
    assert told == [
        "says which table a row comes from",
        "from t: change it there",
        "from a table that is gone",
    ]


def test_a_mean_that_is_rounding_alone_is_0_only_where_it_was_worked_out():
    values = np.array([-1000.0, 1e-13, 1000.0])
    summary = summarise(values, centre(values))
    column = Column(id="c1", name="x", kind="number", cells=values)
    worked = replace(column, formula=Expression(text="a - b", columns={}))
    assert without_dust(1e-13, worked, summary) == 0
    assert without_dust(1e-13, column, summary) == 1e-13
    assert without_dust(0.5, worked, summary) == 0.5
    assert without_dust(-0.5, worked, summary) == -0.5
    assert without_dust(None, worked, summary) is None


def test_the_head_of_a_column_says_how_its_cells_came_about():
    column = Column(id="c1", name="x", kind="number", cells=np.zeros(3))
    formulas = (None, Expression(text="a", columns={}), Draw(kind="normal", seed=1), FromOthers(of={}))
    assert [head_words(replace(column, formula=one), 0) for one in formulas] == [
        "number", "number, worked out", "number, drawn", "number, from other tables",
    ]  # fmt: skip
    assert head_words(column, 2) == "number · 2 missing"


def test_an_intercept_of_nothing_is_added():
    found = findings_over([1, 2, 3], [2.0, 4.0, 6.0])
    assert found.line.intercept == 0
    told = equation_of(found.line, (None, None), ("x", "y"), 3, slope_first=True)
    assert told == "y = 2.00 · x + 0.00" or (" + 0" in told and " − " not in told)


def test_the_way_back_says_where_nothing_was_measured():
    x = np.r_[np.linspace(1, 4, 10), np.linspace(8, 11, 10)]
    plain = findings_over(x, 2 * x + np.resize([0.1, -0.1], 20))

    def back(y):
        tether = replace(plain.tether, forecast=replace(plain.tether.forecast, back=(y,)))
        findings = Findings(plain.study, tether)
        (claim,) = back_claims(findings)
        return claim, str(back_sentences((claim,), findings)[0])

    claim, words = back(4.0)
    assert (claim.inside, claim.in_gap) == (True, False)
    assert words.endswith("(95 %).")
    claim, words = back(12.0)
    assert (claim.inside, claim.in_gap) == (True, True)
    assert (
        "(95 %); that x lies in a stretch where nothing was measured, and that the line holds there is not"
        in words
    )
    for beyond in (1.0, 30.0):
        claim, words = back(beyond)
        assert (claim.inside, claim.in_gap) == (False, False)
        assert words.endswith("; that x lies beyond what was measured, and that the line holds there is not shown by "
                              "these data.")  # fmt: skip


def test_a_line_held_through_the_origin_has_no_interval_for_its_mean_there():
    plain = findings_over(np.arange(1.0, 13), 2 * np.arange(1.0, 13) + np.resize([0.3, -0.2, -0.1], 12))
    line, ahead = replace(plain.tether.line, origin=True), replace(plain.tether.forecast, at=(0.0,))
    findings = Findings(plain.study, replace(plain.tether, line=line, forecast=ahead))
    said = [str(one) for one in forecast_reading(findings).sentences]
    assert said[0] == (
        "There the line is held through the origin: that the mean y has no width there is a choice, and not shown by "
        "these data."
    )
    assert said[1].startswith("One new case there is expected between −0.")


def test_a_rho_of_one_has_no_test_and_is_not_said_to_reject_nothing():
    findings = findings_over([1, 2, 3, 4, 5, 60], [9, 8.5, 7, 6.6, 5, 4.9])
    said = " ".join(map(str, strength_reading(findings).sentences))
    assert "the test of τ rejects and that of r does not, and ρ has none (" in said
    assert "(ρ −1.000 either way)" in said
    by_rank = Findings(findings.study, replace(findings.tether, rules=RuleChoices(decide="spearman")))
    assert (
        "Over all orders of 6 ranks, two-sided, the exact p = 0.003: where ρ is 1 in size it is the one to go"
        in (" ".join(map(str, strength_reading(by_rank).sentences)))
    )


def test_an_interval_above_a_hundred_per_cent_is_told_where_no_y_lies_there():
    x = np.arange(1.0, 13)
    plain = findings_over(x, 60 + 3 * x + np.resize([4.0, -4.0], 12))

    def beware(unit, **possible):
        x_column, y_column = plain.table.columns
        named = replace(y_column, name=f"y ({unit})", **possible)
        table = replace(plain.table, columns=(x_column, named))
        ahead = replace(plain.tether.forecast, at=(11.5,))
        findings = Findings(replace(plain.study, tables=(table,)), replace(plain.tether, forecast=ahead))
        return " ".join(map(str, forecast_reading(findings).beware))

    assert "No y in play lies above 100 %, and the interval reaches to 10" in beware("%")
    assert "above 100 %" not in beware("mm")
    assert "above 100 %" not in beware("%", high=100.0).replace("(not above 100 %)", "")


def test_measured_ends_stand_as_they_were_written():
    assert digits.decimals_as_written((1995.0, 2019.0), 2) == 0
    assert digits.decimals_as_written((5.1, 59.25), 3) == 2
    assert digits.decimals_as_written((1 / 3, 2.0), 4) == 4
    assert digits.decimals_as_written((1e-20, 2.0), 3) == 3
    assert Names(x="year", y="depth", x_unit=None, y_unit="m").slope_unit == "m per year"
    assert Names(x="age", y="depth", x_unit=None, y_unit="m").slope_unit == "m per unit of age"


@pytest.mark.parametrize(
    ("rejected", "untested", "says"),
    [
        (("r", "rho", "tau"), (), "each test rejects ("),
        ((), (), "no test rejects ("),
        (("r",), ("rho", "tau"), "the test of r rejects, and ρ and τ have none ("),
        (("r", "tau"), ("rho",), "the tests of r and τ reject, and ρ has none ("),
        ((), ("rho",), "the tests of r and τ do not reject, and ρ has none ("),
        ((), ("rho", "tau"), "the test of r does not reject, and ρ and τ have none ("),
        ((), ("r", "rho", "tau"), "none has a test here ("),
    ],
)
def test_a_coefficient_without_a_test_is_counted_neither_way(rejected, untested, says):
    claim = CoefficientsClaim(r=0.9, rho=0.8, tau=0.7, alpha=0.05, rejected=rejected, untested=untested,
                              verdict="agree", largest="r")  # fmt: skip
    assert str(coefficients_sentence(claim, 3)).startswith(f"The three agree in sign, and {says}")


def test_a_power_that_no_double_holds_is_told_by_its_size():
    for reach, told in ((0.05, "times 6.33·10³⁹ (median)"), (0.005, "times 10 to the power 398 (median)")):
        x = np.exp(np.linspace(0, reach, 12))
        rows = alternatives_grid(findings_over(x, 10.0 ** np.linspace(-100, 100, 12))).rows
        assert [row[-1] for row in rows if row[0] == "log of both"] == [f"1 % more x goes with y {told}"]


def test_ends_beyond_all_days_are_told_in_units_of_the_clock():
    names = Names(x="time", y="level", x_unit="days", y_unit=None, clock=Clock("days", "2022-01-31"))
    assert names.ends_x((1.0, 3.0), "1 … 3") == "2022-02-01 … 2022-02-03"
    assert names.ends_x((-8e5, 3.0), "−800 000 … 3") == "−800 000 … 3 days since 2022-01-31"


def test_samples_of_one_y_have_no_r_and_are_counted_apart():
    plain = findings_over(np.arange(8.0), [1, 1, 1, 1, 1, 0, 0, 1])
    for statistic in ("r", "r2"):
        chosen = replace(plain.tether.rehearse, source="rows", draws=200, statistic=statistic)
        findings = Findings(plain.study, replace(plain.tether, rehearse=chosen))
        drawn = findings.samples.outcome
        one = findings.sampled(drawn)
        assert one.without == np.count_nonzero(drawn.slope**2 * drawn.sxx + drawn.sse == 0) > 1
        kept = one.values[np.isfinite(one.values)]
        assert (one.mean, one.sd) == (pytest.approx(kept.mean()), pytest.approx(kept.std(ddof=1)))
        said = samples_reading(findings, drawn)
        assert str(said.headline).startswith(f"Over {200 - one.without} samples the r")
        assert f"{one.without} more have one value of y only and so no r" in str(said.sentences[1])
        assert np.isfinite(bias_claim(one).by_luck)


def test_rows_beyond_those_named_are_counted_as_every_count_is():
    rows = tuple(NamedRow(row=at) for at in range(1, 12_160))
    assert rows_in_words(rows).endswith(f" and {digits.grouped(len(rows) - 4)} more")
