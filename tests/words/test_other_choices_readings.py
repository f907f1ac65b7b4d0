"""What is said of all ways: by their counts, never as a vote."""

import msgspec
import numpy as np
import pytest

from bright_tether.claims.other_choices import options_told, other_choices_claim, rows_path_claim
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.live.other_choices import OtherChoices, Way
from bright_tether.live.ways import Options
from bright_tether.study.choices import HeldChoice, OtherwiseChoice
from bright_tether.study.derived import with_tether
from bright_tether.study.trail import LaterChange
from bright_tether.words.grids.other_choices import other_choices_grid
from bright_tether.words.readings.other_choices import other_choices_reading
from bright_tether.words.ways import way_in_words
from bright_tether.words.workings.other_choices import other_choices_working


def demo(at=0, **fields):
    study = demo_study()
    study = with_tether(study, msgspec.structs.replace(study.tethers[at], **fields))
    return Findings(study, study.tethers[at])


def said(findings, found=None):
    reading = other_choices_reading(findings, found or findings.other_choices.outcome)
    return [str(one) for one in (reading.headline, *reading.sentences)]


def made(*values, half=1.0, present=0, left_out=(), more=False, what="slope"):
    ways = tuple(
        Way(Options("taken" if at == present else f"after {at}", "plain", "least-squares", "none", "none", "classical"),
            10, value, None if value is None else (value - half, value + half))
        for at, value in enumerate(sorted(values, key=lambda one: (one is None, one)))
    )  # fmt: skip
    return OtherChoices(axes=(("rows", ()),), ways=ways, present=present, path=(), first=10.0, last=20.0, what=what,
                        level=0.95, left_out=left_out, more=more, whole=True)  # fmt: skip


@pytest.mark.parametrize(("values", "verdict", "headline"), [
    ((2.0, 3.0), "clear throughout",
     "Whichever of 2 ways is taken, sediment rises with turbidity, and 0 lies outside the interval."),
    ((-2.0, -3.0, -4.0), "clear throughout",
     "Whichever of 3 ways is taken, sediment falls with turbidity, and 0 lies outside the interval."),
    ((0.5, 3.0, 4.0), "clear in part",
     "In all 3 ways the slope comes out above 0; 0 lies outside the interval in 2 of them."),
    ((0.0, 3.0, 4.0), "clear in part",
     "In 2 of 3 ways the slope comes out above 0; 0 lies outside the interval in 2 of them."),
    ((-0.5, -3.0, -4.0), "clear in part",
     "In all 3 ways the slope comes out below 0; 0 lies outside the interval in 2 of them."),
    ((0.5, 0.7), "never clear", "In none of 2 ways does 0 lie outside the interval."),
    ((-3.0, 0.7, 4.0), "turns",
     "The direction hangs on what is chosen: the slope comes out above 0 in 2 of 3 ways and below 0 in 1."),
    ((2.0,), "one way", "There is one way alone: nothing here could have been chosen otherwise."),
    ((2.0, None), "one way", "Of the ways looked at, one alone has a value with an interval."),
    ((None, None), "none", "No way to make this analysis has a value with an interval."),
])  # fmt: skip
def test_the_headline_says_what_the_counts_are(values, verdict, headline):
    findings, found = demo(), made(*values)
    assert other_choices_claim(found).verdict == verdict
    assert said(findings, found)[0] == headline


def test_where_the_direction_turns_both_sides_are_counted_and_the_present_one_is_told():
    words = said(demo(), made(-3.0, -0.5, 0.7, 4.0, 5.0, present=2))
    assert words[1] == "0 lies outside the interval in 2 of the ways above 0, and in 1 of those below."
    assert words[2] == "In the present way 0 lies within the interval."
    assert (
        said(demo(), made(-3.0, 0.7, 4.0, present=2))[2] == "In the present way 0 lies outside the interval."
    )


def test_that_no_slope_is_shown_is_not_that_there_is_none():
    words = said(demo(), made(-0.5, -0.7))
    assert words[1] == (
        "In all 2 ways the slope comes out below 0; that no slope is shown is not that there is none."
    )
    assert "In the present way" not in " ".join(words)


def test_values_are_slopes_or_changes_between_two_x_and_the_present_one_has_its_place():
    words = said(demo(), made(2.0, 3.0, 4.0, present=1))
    assert words[1] == (
        "The slope lies between 2.00 and 4.00 mg/L per NTU over all of them; the present way gives 3.00 (2.00 … 4.00), "
        "number 2 of 3 from the smallest."
    )
    words = said(demo(), made(2.0, 3.0, 4.0, present=1, what="change"))
    assert words[1].startswith(
        "From 10 to 20 NTU of turbidity, sediment changes by 2.00 to 4.00 mg/L over all of them"
    )
    words = said(demo(), made(2.0, 3.0, present=None))
    assert words[1].endswith("over all of them; the present way is not among them.")


def test_what_was_left_out_failed_or_not_worked_out_is_said():
    findings = demo()
    left_out = ("rows=every", "scale=log-x", "held=gone")
    words = said(findings, made(2.0, 3.0, None, None, left_out=left_out, more=True))
    assert "Left out by choice: every row and log turbidity." in words
    assert "2 more ways have no value or no interval." in words
    assert "There would be more than 2000: leave some choices out to see the rest." in words
    assert "1 more way has no value or no interval." in said(findings, made(2.0, 3.0, None))
    assert words[-1].startswith("The ways share their data, so this is no vote and no test")


def test_the_path_of_rows_set_aside_is_told_and_whether_results_were_seen():
    findings = demo()
    assert "Setting rows aside led from 82.2 to 107.5; the path is drawn through the ways." in said(findings)
    study = msgspec.structs.replace(findings.study, trail=(
        LaterChange(what="set aside", before="2", after="fouled", when="2026-01-01T10:00", tether="k1"),))  # fmt: skip
    seen = Findings(study, study.tethers[0])
    seen_first = "Setting rows aside, after results were seen, led from 82.2 to 107.5"
    assert any(one.startswith(seen_first) for one in said(seen))
    found = findings.other_choices.outcome
    claim = rows_path_claim(findings, found)
    assert (claim.before, claim.after) == tuple(found.ways[at].value for at in found.path)
    without = demo(otherwise=OtherwiseChoice(left_out=("rows=every",)))
    assert rows_path_claim(without, without.other_choices.outcome) is None


def test_the_mover_is_named_with_what_it_comes_to():
    assert "Of single choices, taking other rows moves it most: from 107.5 to 82.2 (every row)." in said(
        demo()
    )
    rock = demo_study().table("t4").named("rock").id
    springs = demo(3, held=HeldChoice(columns=(rock,)))
    words = said(springs)
    assert words[0].startswith(
        "The direction hangs on what is chosen: the change of conductance with calcium "
    )
    assert any(
        one.startswith("Of single choices, holding columns moves it most: from 310 to −238") for one in words
    )


def test_the_table_has_a_line_an_option_with_what_its_ways_come_to():
    findings = demo()
    found = findings.other_choices.outcome
    grid = other_choices_grid(findings, found)
    every = next(row for row in grid.rows if row[1] == "every row")
    values = sorted(one.value for one in found.told if one.options.rows == "every")
    assert every[0] == "rows"
    assert int(every[2]) == len(values)
    assert float(every[3]) == pytest.approx(values[0], rel=0.01)
    assert float(every[4]) == pytest.approx(np.median(values), rel=0.01)
    assert float(every[5]) == pytest.approx(values[-1], rel=0.01)
    told = options_told(found)
    assert {one.axis for one in told} == {"rows", "scale", "line", "errors"}  # one option alone is no choice
    assert all(one.clear <= one.ways for one in told)
    assert sum(one.ways for one in told if one.axis == "line") == len(found.told)


def test_the_working_tells_every_rule_and_a_way_reads_in_one_line():
    findings = demo()
    found = findings.other_choices.outcome
    working = other_choices_working(findings, found)
    assert [step.what for step in working.steps] == [
        "rows",
        "scale",
        "line",
        "weights",
        "held",
        "errors",
        "ways",
    ]
    assert working.steps[-1].result == "61"
    assert other_choices_working(findings, None).steps == ()
    assert way_in_words(findings, found, found.ways[found.present]) == (
        "rows in play · as they are · least squares · classical"
    )


def test_before_they_are_worked_out_that_is_said():
    assert other_choices_reading(demo(), None).headline.endswith("is being worked out.")


def test_coefficients_are_told_as_what_they_are():
    findings = demo(otherwise=OtherwiseChoice(what="coefficient"))
    found = findings.other_choices.outcome
    words = said(findings, found)
    assert words[0] == (
        "Whichever of 42 ways is taken, sediment rises with turbidity, and 0 lies outside the interval."
    )
    low, high = found.told[0].value, found.told[-1].value
    over = f"The coefficient lies between {low:.3f} and {high:.3f} over all of them; the present way"
    assert words[1].startswith(over)
    assert words[2].startswith("Kendall’s τ is on a measure of its own")
    claim = other_choices_claim(found)
    assert (claim.what, claim.measures) == ("coefficient", True)
    ranks = demo(otherwise=OtherwiseChoice(what="coefficient", left_out=("coefficient=kendall",)))
    assert not any("measure of its own" in one for one in said(ranks))
    assert other_choices_claim(ranks.other_choices.outcome).measures is False
    working = other_choices_working(findings, found)
    assert [one.what for one in working.steps] == ["rows", "scale", "coefficient", "held", "ways"]
    assert "ranks are the same on every scale" in working.steps[1].how
