"""Every sentence of every step words a claim, and numbers are shown on their true side."""

import math

import msgspec
import pytest

from bright_tether.claims.tether import claims_of
from bright_tether.core.results import Refusal
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import STEPS
from bright_tether.study import column_changes
from bright_tether.study.choices import CompareChoice, ForecastChoice, LineChoice
from bright_tether.study.derived import with_table, with_tether
from bright_tether.study.remedies import remedies
from bright_tether.tables.computed import expression
from bright_tether.words import digits as d
from bright_tether.words.reading import Names
from bright_tether.words.readings.forecast import forecast_reading
from bright_tether.words.readings.standing import standing_sentence
from bright_tether.words.readings.strength import strength_reading
from bright_tether.words.said import Said, capital, listed

STUDY = demo_study()


def choices():
    """Every tether of the demo, and one with everything chosen."""
    for tether in STUDY.tethers:
        yield tether
        yield msgspec.structs.replace(
            tether, forecast=ForecastChoice(at=(20.0, 5000.0), back=(50.0,), levels=(0.8,), mean_of=3),
            compare=CompareChoice(other="k2" if tether.id != "k2" else "k1", margin=0.4),
            line=LineChoice(errors="HC3", matters=1.0), one_row="the mean of 5 bottles", mutual=True,
        )  # fmt: skip


def test_every_sentence_is_a_claim():
    bare = []
    for tether in choices():
        findings = Findings(with_tether(STUDY, tether), tether)
        for step in STEPS:
            for view in step.views_of(findings) if step.id != "write-up" else ():
                reading = step.reading(findings, view.id, None)
                said = (reading.headline, *reading.sentences, *reading.beware)
                bare += [(step.id, one) for one in said if not (isinstance(one, Said) and one.claims)]
    assert not bare


def test_a_refused_reading_is_a_claim_too():
    tether = msgspec.structs.replace(STUDY.tethers[0], x=None)
    findings = Findings(with_tether(STUDY, tether), tether)
    for step in STEPS[:-1]:
        try:
            reading = step.reading(findings, step.views[0].id, None)
        except Refusal:
            continue
        assert reading.headline.claims
        assert all(one.claims for one in reading.sentences)


@pytest.mark.parametrize(
    ("ends", "decimals", "tested", "shown"),
    [
        ((0.0004, 2.0), 1, (), "0.0004 … 2.0000"),
        ((-0.04, 0.04), 1, (), "−0.04 … 0.04"),
        ((0.96, 1.0001), 1, (1.0,), "0.9600 … 1.0001"),
        ((1.041, 1.043), 1, (), "1.041 … 1.043"),
        ((2.0, 2.0), 1, (), "2.0 … 2.0"),
        ((1.0, 2.0), 1, (), "1.0 … 2.0"),
        ((1.00000001e12, 1.00000009e12), 0, (), "1.0000000·10¹² … 1.0000001·10¹²"),
        ((2e12, 3e12), 0, (), "2.00·10¹² … 3.00·10¹²"),
        ((5.0, 2e12), 0, (), "5 … 2.00·10¹²"),
        ((9.9996e11, 2e12), 0, (1e12,), "999\u202f960\u202f000\u202f000 … 2.00·10¹²"),
        ((0.999e12, 1.0004e12), 0, (1e12,), "999\u202f000\u202f000\u202f000 … 1.0004·10¹²"),
        ((1.002e-15, 2e-15), 17, (1.001e-15,), "1.002·10⁻¹⁵ … 2.000·10⁻¹⁵"),
    ],
)
def test_ends_differ_and_keep_tested_values_on_their_side(ends, decimals, tested, shown):
    assert d.between(ends, decimals, *tested) == shown


@pytest.mark.parametrize(
    ("value", "digits", "shown"),
    [(0.99999, 3, "r > +0.999"), (-0.99999, 3, "r < −0.999"), (1.0, 3, "r = +1.000"), (-0.0001, 3, "r = 0.000"),
     (0.5, 2, "r = +0.50"), (None, 3, "r —")],
)  # fmt: skip
def test_a_coefficient_is_1_only_where_it_is(value, digits, shown):
    assert d.relation("r", value, digits) == shown


def test_ends_of_a_coefficient_keep_their_side():
    assert d.coefficients((0.0002, 0.99996), 3) == "+0.00020 … +0.99996"
    assert d.coefficients((-1.0, 0.5), 3) == "−1.000 … +0.500"
    assert d.coefficients(None, 3) == d.NONE


@pytest.mark.parametrize(
    ("units", "step", "said"),
    [(("years", "%"), 1, "extra year"), (("years", "%"), 0.1, "extra 0.1 years"), ((None, None), 1, "extra unit of x"),
     ((None, None), 0.01, "extra 0.01 of x"), (("NTU", "kg"), 1, "extra NTU"), (("mass", "kg"), 1, "extra mass")],
)  # fmt: skip
def test_a_step_in_x_is_said_in_the_singular(units, step, said):
    assert Names("x", "y", *units).step_of_x(step) == said


def test_a_column_that_is_called_by_its_unit_needs_no_other():
    assert Names("year", "y", None, None).step_of_x(1) == "extra year"
    assert Names("Hours", "y", None, None).step_of_x(1) == "extra hour"
    assert Names("yearly rain", "y", None, None).step_of_x(1) == "extra unit of yearly rain"


def test_per_cent_differ_by_percentage_points():
    names = Names("x", "y", "years", "%")
    assert names.in_y_change("2.0") == "2.0 percentage points"
    assert names.in_y("2.0") == "2.0 %"
    assert names.slope_unit == "percentage points per year"


def test_small_words():
    assert listed(["a"]) == "a"
    assert listed(["a", "b", "c"]) == "a, b and c"
    assert capital("rows 2 and 8 lie") == "Rows 2 and 8 lie"
    assert d.below_one(0.999, 2) == "> 0.99"
    assert d.below_one(1.0, 2) == "1.00"
    assert d.percent(1e-5) == "less than 0.1 %"
    assert d.signed(-1e-9, 2) == "0.00"
    assert d.entered(0.1 + 0.2) == "0.3"
    assert math.isclose(float(d.entered(12.5)), 12.5)


def test_a_forecast_keeps_to_what_y_can_be():
    tether = msgspec.structs.replace(STUDY.tethers[0], forecast=ForecastChoice(at=(14.0,)))
    table = STUDY.table(tether.table)
    limited = msgspec.structs.replace(table.column(tether.y), low=0.0)
    findings = Findings(with_tether(with_table(STUDY, table.with_column(limited)), tether), tether)
    one = findings.expected[0]
    assert one.pi[0] == 0.0 < one.ci[0]
    assert not one.possible
    reading = forecast_reading(findings)
    assert "between 0.0 and 55.3 mg/L" in reading.sentences[1]
    assert "wider" not in reading.sentences[1]
    assert any("leave what sediment can be (not below 0 mg/L)" in one for one in reading.beware)


@pytest.mark.parametrize(
    ("many", "said"),
    [(1, ("One new case there", "to hold a single discharge against")),
     (4, ("The geometric mean of 4 new cases there", "to hold such a geometric mean against"))],
)  # fmt: skip
def test_after_a_log_the_middle_is_named_for_what_it_is(many, said):
    study = remedies(STUDY, STUDY.tethers[1], "bend", frozenset())[0].edit.apply(STUDY)
    tether = study.tether("k2")
    tether = msgspec.structs.replace(tether, forecast=ForecastChoice(at=(1.5,), mean_of=many))
    reading = forecast_reading(Findings(with_tether(study, tether), tether))
    assert "(the median, carried back from logs)" in reading.headline
    assert reading.sentences[0].startswith("The geometric mean discharge of all cases at stage 1.5 m")
    assert all(one in reading.sentences[1] for one in said)


def test_the_standing_is_one_line_and_one_object():
    findings = Findings(STUDY, STUDY.tethers[0])
    said = standing_sentence(findings)
    assert said == "no linear relationship: rejected (p < 0.001) · doubts: constant spread · 2 rows set aside"
    assert claims_of(findings).standing is said.claims[0]
    assert claims_of(findings).decision is said.claims[1]
    assert strength_reading(findings).sentences[0].claims[0] is claims_of(findings).decision


@pytest.mark.parametrize(("text", "told"), [("log(turbidity)", "log"), ("sqrt(turbidity)", "root")])
def test_the_standing_says_which_change_of_a_column_was_taken(text, told):
    study = demo_study()
    table, first = study.tables[0], study.tethers[0]
    added = column_changes.add_formula(study, table.id, "other", expression(text, table))
    study = added.apply(study)
    column = study.table(table.id).named("other")
    tether = msgspec.structs.replace(first, x=column.id)
    findings = Findings(with_tether(study, tether), tether)
    assert claims_of(findings).standing.remedies == (told,)
    assert told in standing_sentence(findings)
