"""What the later steps say: sentences follow p, α and the interval, and never claim more."""

import msgspec
import numpy as np
import pytest

from bright_tether.account.comparison import comparison_record
from bright_tether.claims.forecast import levels_claim
from bright_tether.claims.stories import StoryClaim
from bright_tether.core.results import Cause
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.study.choices import CompareChoice, ForecastChoice, LineChoice
from bright_tether.study.derived import with_tether
from bright_tether.study.rules import RuleChoices
from bright_tether.words.causes import cause
from bright_tether.words.readings.alternatives import change_sentence, what_it_says
from bright_tether.words.readings.compare import compare_reading
from bright_tether.words.readings.doubts import doubt_reading, doubts_reading
from bright_tether.words.readings.forecast import forecast_reading
from bright_tether.words.readings.groups import story_headline
from bright_tether.words.readings.line import equation, equation_to_copy, line_reading
from bright_tether.words.readings.look import look_reading
from bright_tether.words.readings.strength import strength_reading
from bright_tether.words.workings.compare import compare_working
from bright_tether.words.workings.doubts import doubts_working
from bright_tether.words.workings.forecast import forecast_working
from bright_tether.words.workings.line import slope_working
from bright_tether.words.workings.listing import LISTINGS

STUDY = demo_study()
FORBIDDEN = ("accept", "causes", "proves", "prove ", "p = 0.000", "normality test", "probability that")


def found_of(key, rules=None, **more):
    tether = msgspec.structs.replace(STUDY.tether(key), **more)
    study = msgspec.structs.replace(with_tether(STUDY, tether), rules=rules or RuleChoices())
    return Findings(study, tether)


def every_word(reading):
    figures = [f"{one.name} {one.value} {one.beside}" for one in reading.figures]
    return " ".join((reading.headline, *reading.sentences, *reading.beware, *figures, reading.caption))


@pytest.mark.parametrize("key", [f"k{i}" for i in range(1, 8)])
def test_no_reading_claims_what_it_may_not(key):
    found = found_of(
        key, compare=CompareChoice(other="k2" if key != "k2" else "k1"), forecast=ForecastChoice(back=(50.0,))
    )
    readings = [look_reading(found), strength_reading(found), line_reading(found), doubts_reading(found),
                compare_reading(found), forecast_reading(found)]  # fmt: skip
    readings += [
        doubt_reading(found, name) for name in ("bend", "spread", "order", "shape", "far-out", "pull")
    ]
    for reading in readings:
        told = every_word(reading)
        assert not [word for word in FORBIDDEN if word in told.lower()], told
        assert "None" not in told
        assert "nan" not in told.split()
        assert reading.headline.strip()


def test_the_decision_turns_with_alpha_and_alternative():
    weak = found_of("k5", RuleChoices(alpha=0.01))
    assert "compatible with no linear relationship" in strength_reading(weak).headline
    other = found_of("k5", RuleChoices(alternative="less"))
    assert strength_reading(other).headline.startswith(
        "No sign of a falling relationship: they rise (r = +0.878"
    )
    assert "very strong rising" in strength_reading(found_of("k5")).headline


def test_words_for_strength_never_stand_without_sign_and_test():
    for key in ("k1", "k2", "k5", "k6"):
        told = strength_reading(found_of(key)).headline
        assert "p " in told
        assert "+" in told or "−" in told


def test_an_equation_has_its_terms_in_the_order_asked_for():
    assert equation(found_of("k1")).startswith("sediment = 2.2 + 1.429 · turbidity")
    assert equation(found_of("k1", line=LineChoice(slope_first=True))) == "sediment = 1.429 · turbidity + 2.2"
    assert equation(found_of("k1", line=LineChoice(origin=True))).startswith("sediment = 1.44")
    found = found_of("k2")
    text = equation_to_copy(found).split("= ", 1)[1].replace("stage", "1.7")
    assert eval(text) == pytest.approx(found.forecasts((1.7,)).fitted[0], rel=1e-14)


@pytest.mark.parametrize(
    ("matters", "said"),
    [(0.5, "shown to matter"), (1.4, "do not tell"), (3.0, "too small to matter")],
)
def test_whether_the_size_matters(matters, said):
    told = " ".join(line_reading(found_of("k1", line=LineChoice(matters=matters))).sentences)
    assert said in told


def test_a_change_of_any_size_is_the_slope_times_it():
    found = found_of("k1")
    told = change_sentence(found, -20.0)
    assert "less sediment" in told
    assert f"{20 * found.line.slope:.2f}" in told


def test_what_each_alternative_says_is_carried_back():
    found = found_of("k2")
    told = {one.kind: what_it_says(found, one) for one in found.alternatives}
    slope = next(one.slope for one in found.alternatives if one.kind == "log-both")
    assert f"{100 * (1.01**slope - 1):+.2f} %" in told["log-both"]
    assert told["second-degree"] == "no single slope"
    assert "ten times the stage" in told["log-x"]


def test_equivalence_is_said_only_when_shown():
    near = compare_reading(found_of("k1", compare=CompareChoice(group=STUDY.tether("k1").tint, margin=5.0)))
    far = compare_reading(found_of("k1", compare=CompareChoice(group=STUDY.tether("k1").tint, margin=0.1)))
    assert any("are shown to be within ±5" in one for one in near.sentences)
    assert any("It is not shown" in one for one in far.sentences)
    assert not any("are shown to be within" in one for one in far.sentences)


def test_no_difference_is_never_called_sameness():
    told = compare_reading(found_of("k4", compare=CompareChoice(group=STUDY.tether("k4").tint)))
    assert told.headline == "These data are compatible with one slope for all."
    assert not any("the same" in one for one in told.sentences)


def with_other(key, **changed):
    """k1 beside another tether, which is changed."""
    study = with_tether(STUDY, msgspec.structs.replace(STUDY.tether(key), **changed))
    study = with_tether(
        study, msgspec.structs.replace(study.tether("k1"), compare=CompareChoice(other=key, margin=1.0))
    )
    return Findings(study, study.tether("k1"))


def test_slopes_of_tethers_in_different_units_are_not_subtracted():
    found = with_other("k2")
    told = compare_reading(found)
    assert told.headline.startswith("Two lines in different units")
    assert not any("slope" in one or "rung" in one or "heights" in one for one in told.sentences)
    assert any(one.startswith("The two correlations, +") and "z = " in one for one in told.sentences)
    record = comparison_record(found)
    assert {"slopes", "parallel", "equivalence", "pairwise"} <= {k for k in record if record[k] is None}
    assert set(record["why"].values()) == {cause(Cause.UNITS_DIFFER)}
    assert "same_rows" not in record
    assert record["correlations"]["p"] is not None
    same = with_other("k2", table="t1", x="c3", y="c4")
    assert "mg/L per NTU" in compare_reading(same).sentences[0]


@pytest.mark.parametrize(
    ("changed", "said"),
    [
        ({"line": LineChoice(origin=True)}, "are not compared here: take the plain line"),
        ({"line": LineChoice(weights="c1")}, "are not compared here: take the plain line"),
        ({"x": None}, "has no line to compare with. Choose a column"),
        ({"table": "t1", "x": "c2", "y": "c4"}, "has no line to compare with."),
    ],
)
def test_a_tether_that_cannot_be_compared_with_is_said_by_name(changed, said):
    told = compare_reading(with_other("k2", **changed))
    assert told.headline == "Compare this line with which?"
    assert said in told.sentences[0]
    assert not told.figures


def test_forecasting_says_what_the_interval_is_for():
    told = forecast_reading(found_of("k1", forecast=ForecastChoice(at=(400.0,))))
    text = " ".join(told.sentences)
    assert "The mean sediment of all cases at turbidity 400 NTU" in text
    assert "this is the interval to hold a single sediment against" in text
    assert "beyond what was measured" in text


def test_workings_re_add_to_the_figures():
    found = found_of("k1", compare=CompareChoice(group=STUDY.tether("k1").tint))
    steps = {step.what: step.result for step in compare_working(found)[0].steps}
    gap, se = (float(steps[name].replace("−", "-")) for name in ("difference", "its error"))
    assert float(steps["t"].replace("−", "-")) == pytest.approx(gap / se, rel=1e-5)
    assert steps["df"] == "60"
    made = {step.what: step.result for step in forecast_working(found)[0].steps}
    assert float(made["half-width, mean"]) == pytest.approx(
        float(made["t"]) * float(made["error of the mean"]), rel=1e-5
    )
    titles = [working.title for working in doubts_working(found)]
    assert titles == ["Bend", "Spread", "Order", "Shape"]


@pytest.mark.parametrize(
    "choice", [LineChoice(), LineChoice(origin=True), LineChoice(weights="c4"), LineChoice(errors="HC3")]
)
def test_the_working_of_the_slope_is_that_of_the_line_in_force(choice):
    found = found_of("k1", line=choice)
    if choice.weights:
        assert found.fit.weights is not None
    steps = {step.what: step.result.replace("\u202f", "") for step in slope_working(found).steps}
    number = {
        k: float(v.replace("−", "-"))
        for k, v in steps.items()
        if k in ("spread of x", "joint spread", "slope", "error of the slope", "test")
    }
    assert number["slope"] == pytest.approx(number["joint spread"] / number["spread of x"], rel=1e-5)
    assert number["slope"] == pytest.approx(found.line.slope, rel=1e-6)
    assert number["error of the slope"] == pytest.approx(found.coefficients.se_slope, rel=1e-6)
    assert number["test"] == pytest.approx(number["slope"] / number["error of the slope"], rel=1e-5)


@pytest.mark.parametrize("kind", list(LISTINGS))
def test_listings_close_with_their_sums(kind):
    found = found_of("k3")
    made = LISTINGS[kind](found)
    lines = made.copied().splitlines()
    assert len(lines) == 17
    assert lines[0].split("\t")[:2] == ["row", "reach"]
    if kind == "ρ":
        assert float(made.columns[-1].sum()) == pytest.approx(found.rank_rows(False).squares)
    if kind == "τ":
        assert np.sum(made.columns[-3]) == found.kendall.concordant


@pytest.mark.parametrize(("mean_of", "of"), [(1, "one case"), (3, "mean of m")])
def test_intervals_at_several_levels_are_of_what_is_forecast(mean_of, of):
    findings = found_of("k1", forecast=ForecastChoice(at=(100.0,), levels=(0.8, 0.99), mean_of=mean_of))
    claim = levels_claim(findings, findings.expected[0])
    assert (claim.of, claim.m) == (of, mean_of)
    assert [level for level, *_ in claim.intervals] == [0.8, 0.95, 0.99]


@pytest.mark.parametrize(("within", "verb"), [(0.8, "rise"), (-0.8, "fall")])
def test_a_story_says_which_way_the_points_go_inside_the_groups(within, verb):
    claim = StoryClaim(by="rock", all=0.1, p_all=0.4, within=within, p_within=0.001, df=20, alpha=0.05, groups=(),
                       verdict="masked")  # fmt: skip
    assert f"the points {verb} (r = " in story_headline(claim, 3)


@pytest.mark.parametrize(
    ("verdict", "p", "said"),
    [
        ("none inside", 0.05, "rests on how the groups lie."),
        ("none inside", 0.051, "may rest on how the groups lie, but that is not shown either."),
        ("none inside", None, "may rest on how the groups lie, but that is not shown either."),
        ("masked", 0.05, "all together hide it ("),
        ("masked", 0.051, "all together do not show it ("),
    ],
)
def test_how_the_groups_lie_is_no_reason_before_that_is_shown(verdict, p, said):
    claim = StoryClaim(by="rock", all=0.5, p_all=0.04, within=0.5, p_within=0.06, df=20, alpha=0.05, groups=(),
                       verdict=verdict, p_heights=p)  # fmt: skip
    assert f" {said}" in story_headline(claim, 3)
