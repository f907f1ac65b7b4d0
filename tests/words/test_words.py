"""Numbers and sentences as a careful reader wants them."""

import pytest

from bright_tether.live.findings import Findings
from bright_tether.study.asides import Aside, Asides
from bright_tether.study.derived import with_table
from bright_tether.study.rules import RuleChoices
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.read_plan import guess_plan, read_content
from bright_tether.words import digits as d
from bright_tether.words.reading import Names
from bright_tether.words.readings.gather import gather_reading
from bright_tether.words.readings.line import equation, equation_to_copy, line_reading
from bright_tether.words.readings.method import asides_grid
from bright_tether.words.workings.line import correlation_working, slope_working


def findings(text, rules=RuleChoices(), **tether):  # noqa: B008
    table = read_content(text.encode(), "pairs.csv", "t1", guess_plan(text.encode(), "pairs.csv"))
    tied = Tether(id="k1", table="t1", x="c1", y="c2", **{"chosen": True, **tether})
    return Findings(Study(tables=(table,), tethers=(tied,), rules=rules), tied)


def pairs(*rows, head="turbidity (NTU),sediment (mg/L)"):
    return head + "\n" + "".join(f"{x},{y}\n" for x, y in rows)


SLOPING = pairs((14, 20), (30, 45), (52, 70), (80, 120), (120, 160), (160, 240), (200, 281))
FLAT = pairs((1, 5), (2, 9), (3, 4), (4, 8), (5, 6), (6, 7))


@pytest.mark.parametrize(
    ("value", "shown"),
    [(1234567.891, "1\u202f234\u202f568"), (-0.00123456, "−0.00123"), (0, "0"), (14.2, "14.2"),
     (1e15, "1.00·10¹⁵"), (3.2e-9, "3.20·10⁻⁹"), (None, "—"), (float("nan"), "—"), (1234, "1234")],
)  # fmt: skip
def test_figures(value, shown):
    assert d.figure(value, 3) == shown


def test_p_is_never_zero_and_r_is_never_one_by_rounding():
    assert [d.p_value(p) for p in (0.0, 0.0004, 0.034, 0.9997, 1.0)] == [
        "p < 0.001", "p < 0.001", "p = 0.034", "p > 0.999", "p > 0.999"]  # fmt: skip
    assert [d.coefficient(r, 3) for r in (0.99991, -0.99991, 1.0, -0.5, 0.0)] == [
        "> +0.999", "< −0.999", "+1.000", "−0.500", "0.000"]  # fmt: skip
    assert d.percent(0.99999) == "more than 99.9 %"


def test_rounding_to_zero_loses_its_minus():
    assert d.fixed(-0.001, 1) == "0.0"


def test_clear_slope_is_read_in_the_analysts_units():
    found = findings(SLOPING)
    reading = line_reading(found)
    assert reading.headline == "Each extra NTU goes with about 1.43 mg/L more sediment, on average."
    assert "mg/L per NTU" in reading.sentences[0]
    assert reading.sentences[1].endswith("so H0 is rejected.")
    assert any(one.name == "t (5 df)" for one in reading.figures)
    assert equation(found).startswith("sediment = ")
    assert f"{found.line.slope!r} * turbidity" in equation_to_copy(found)


def test_flat_data_are_compatible_with_no_slope_and_nothing_is_accepted():
    reading = line_reading(findings(FLAT))
    assert reading.headline.startswith(
        "These data are compatible with no linear relationship (the slope is 0.14 "
    )
    assert reading.sentences[1].endswith("so H0 is not rejected.")
    assert not any(word in " ".join(reading.sentences) for word in ("accept", "prove", "cause"))


@pytest.mark.parametrize("test", ["pearson", "spearman", "kendall", "slope"])
def test_the_decision_follows_the_deciding_test(test):
    rising = pairs(*((x, 3 * x + (5 if x % 3 else -5)) for x in range(1, 15)))
    rejected = line_reading(findings(rising, RuleChoices(decide=test))).sentences[1]
    kept = line_reading(findings(FLAT, RuleChoices(decide=test))).sentences[1]
    assert "so H0 is rejected" in rejected
    assert "reaches ±" in rejected
    assert "so H0 is not rejected" in kept
    assert "does not reach ±" in kept


def test_direction_of_the_test_is_said():
    text = pairs((1, 9), (2, 8.1), (3, 7.2), (4, 5.8), (5, 5.1), (6, 3))
    said = line_reading(findings(text, RuleChoices(alternative="greater"))).sentences[1]
    assert "no rising linear relationship" in said
    assert said.endswith("H0 is not rejected; tested the other way, they would be shown to fall.")
    assert "less" in line_reading(findings(text)).headline


def test_intercept_warning_only_where_zero_was_not_measured():
    assert "lies outside what was measured" in line_reading(findings(SLOPING)).beware[0]
    crossing = pairs((-5, 1), (0, 3), (4, 4), (9, 8), (12, 9), (13, 12), (15, 12))
    assert not line_reading(findings(crossing)).beware


def test_what_a_row_is_and_what_y_can_be_are_said():
    import msgspec

    found = findings(SLOPING, one_row="the mean of 5 bottles")
    assert "the mean of 5 bottles: the line is one for averages" in line_reading(found).sentences[2]
    limited = msgspec.structs.replace(found.y_column, low=30.0)
    study = with_table(found.study, found.table.with_column(limited))
    said = line_reading(Findings(study, found.tether)).beware
    assert any("runs below 30 mg/L, where sediment cannot be" in one for one in said)


def test_few_pairs_perfect_lines_and_level_ones_are_said():
    few = line_reading(findings(pairs((1, 2), (2, 3), (3, 5), (4, 5))))
    assert any("only 4 pairs (2 df)" in said for said in few.beware)
    perfect = line_reading(findings(pairs((0, 2), (1, 4), (2, 6), (3, 8))))
    assert perfect.headline.startswith("Every pair lies on one line")
    assert "says nothing" in perfect.sentences[0]
    level = line_reading(findings(pairs((0, 2), (1, 2), (2, 2), (3, 2))))
    assert "is the same in every pair" in level.headline


def test_refusals_say_what_to_do():
    assert "add rows" in line_reading(findings(pairs((1, 2), (2, 3)))).sentences[0]
    assert "at least two values" in line_reading(findings(pairs((1, 2), (1, 3), (1, 5)))).sentences[0]


def test_x_taken_by_place_is_said_until_it_is_chosen():
    assert any("stands first" in said for said in line_reading(findings(SLOPING, chosen=False)).beware)
    assert gather_reading(findings(SLOPING, chosen=False)).beware
    assert not gather_reading(findings(SLOPING)).beware


def test_rows_add_up_in_words():
    text = pairs((1, 2), ("", 3), (3, 5), (4, 5), (9, 9))
    found = findings(text, asides=Asides.told([Aside(4, "late")]))
    assert gather_reading(found).sentences[0] == "Of 5 rows: 3 rows in play, 1 without a number, 1 set aside."


def test_many_rows_set_aside_are_told_by_reason():
    text = pairs(*((at, at * 2 + at % 3) for at in range(400)))

    def grid(many):
        late = [Aside(at, "late") for at in range(0, 2 * many, 2)]
        return asides_grid(findings(text, asides=Asides.told([*late, Aside(1, "ice")])))

    assert [row[3] for row in grid(99).rows].count("late") == 99
    assert grid(99).heads[0] == "row"
    told = grid(100)
    assert told.rows == (("late", "100", "1, 3, 5, 7, 9, 11, 13, 15 and 92 more"), ("ice", "1", "2"))
    assert "pairs.csv" in told.title


def test_workings_can_be_added_up_by_hand():
    found = findings(pairs((1, 2), (2, 3), (3, 7), (4, 8), (5, 9)))
    steps = {step.what: step for step in slope_working(found).steps}
    assert "19.00000 / 10.00000" in steps["slope"].how
    assert steps["slope"].result == "1.900000"
    assert steps["residuals"].result == "2.700000"
    assert "/ 3)" in steps["typical residual"].how
    r = {step.what: step.result for step in correlation_working(found).steps}
    assert r["joint spread"] == "19.00000"
    assert r["r"] == "+0.9645789"
    assert r["critical value"] == "0.8783394"


def test_workings_of_a_perfect_line_say_why_there_is_no_test():
    found = findings(pairs((0, 2), (1, 4), (2, 6)))
    assert "all residuals are zero" in slope_working(found).steps[-1].how
    assert correlation_working(found).steps[3].result == "+1.0000000"


def test_groups_that_tell_the_opposite_are_said_first():
    from bright_tether.demo.study import demo_study

    study = demo_study()
    said = line_reading(Findings(study, study.tethers[3]))
    assert said.headline.startswith(
        "Inside the groups of rock the points fall (r = −0.930 pooled, p < 0.001)"
    )
    assert any("shale −0.914" in one and "opposite stories" in one for one in said.sentences)
    assert line_reading(Findings(study, study.tethers[0])).headline.startswith("Each extra NTU")


@pytest.mark.parametrize(
    ("units", "said"),
    [(("m", "kg"), "kg per m"), (("m", ""), "of y per m"), (("", "kg"), "kg per unit of x"), (("", ""), "")],
)
def test_a_slope_is_measured_in_what_is_known_of_both_units(units, said):
    assert Names("x", "y", *units).slope_unit == said
