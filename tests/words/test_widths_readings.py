"""What is said of intervals for one case by each way of finding them, and of a smooth: by their counts alone."""

import msgspec
import numpy as np
import pytest

from bright_tether.claims.local import local_claim
from bright_tether.claims.widths import widths_claim
from bright_tether.core.results import Cause
from bright_tether.core.widths import Width, Widths
from bright_tether.demo.study import demo_study
from bright_tether.live.findings import Findings
from bright_tether.study.choices import ForecastChoice, LineChoice
from bright_tether.study.derived import with_tether
from bright_tether.words.readings.forecast import actual_sentence, forecast_reading
from bright_tether.words.readings.local import local_sentences
from bright_tether.words.readings.widths import widths_grid, widths_reading


def demo(at=0, **fields):
    study = demo_study()
    study = with_tether(study, msgspec.structs.replace(study.tethers[at], **fields))
    return Findings(study, study.tethers[at])


def made(*shares, p=0.001, whole=True, power=1.2, held=((5, 5), (5, 5), (4, 5)), lots=15):
    way = Width(kind="even", power=None, at=((1.0, 2.0),), across=np.zeros((2, 2)), held=held[: len(shares) or 3],
                simulated=tuple((one, 0.001) for one in shares))  # fmt: skip
    return Widths(ways=(way,), x=(50.0,), across=np.zeros(2), parts=(10.0, 20.0, 30.0)[: len(shares)],
                  places=(), truth="power-x", truth_power=power, truth_p=p, samples=200 if shares else 0, lots=lots,
                  level=0.95, n=15, whole=whole)  # fmt: skip


@pytest.mark.parametrize(("found", "verdict", "headline"), [
    (made(0.96, 0.95, 0.94), "keeps", "still hold about 95 % at low, middle and high turbidity."),
    (made(0.99, 0.95, 0.85), "misses",
     "95 % intervals by one spread everywhere are too narrow at high turbidity and too wide at low turbidity."),
    (made(0.9, 0.95), "misses", "are too narrow at low turbidity."),
    (made(0.98, 0.98, 0.98), "misses", "are too wide at low, middle and high turbidity."),
    (made(0.99, 0.95, 0.85, p=0.06), "not shown", "is not shown (p = 0.060); nor is it shown that one"),
    (made(lots=0), "unknown", "was not looked at: that takes 8 to 2000 rows."),
    (made(0.99, 0.95, 0.85, whole=False), "misses", "was stopped before its end."),
])  # fmt: skip
def test_the_headline_is_by_drawn_cases_and_only_where_the_spread_is_shown_to_follow(
    found, verdict, headline
):
    findings = demo()
    claim = widths_claim(findings, found)
    assert claim.verdict == verdict
    assert headline in str(widths_reading(findings, found).headline).replace("\u202f", "")
    if verdict != "misses":
        assert claim.narrow == claim.wide == ()


def test_edges_of_what_counts_as_missing_are_two_in_a_hundred():
    findings = demo()
    assert widths_claim(findings, made(0.9301, 0.95, 0.9699)).verdict == "keeps"
    claim = widths_claim(findings, made(0.9299, 0.95, 0.9701))
    assert (claim.verdict, claim.narrow, claim.wide) == ("misses", (0,), (2,))


def test_each_way_is_told_with_what_it_holds_in_as_many_parts_as_there_are():
    findings = demo()
    said = [str(one) for one in widths_reading(findings, made(0.9, 0.95)).sentences]
    assert said[0] == (
        "One spread everywhere: of the rows left out it holds 5 of 5 and 5 of 5 at low and high turbidity; "
        "of new cases drawn 90.0 % and 95.0 %."
    )
    assert "Left out was each row by itself" in said[1]
    assert "the rows in 7 lots along x" in str(widths_reading(findings, made(0.9, 0.95, lots=7)).sentences[1])
    assert "a spread by turbidity to the power 1.20" in said[2]
    grid = widths_grid(findings, made(0.9, 0.95))
    assert grid.heads[:5] == (
        "interval by",
        "left out, low x",
        "left out, high x",
        "new, low x",
        "new, high x",
    )
    assert grid.rows[0][:5] == ("one spread everywhere", "5 of 5", "5 of 5", "90.0 %", "95.0 %")


def test_before_it_is_worked_out_without_a_spread_and_by_cases_it_says_so():
    findings = demo()
    assert "is being worked out" in str(widths_reading(findings, None).headline)
    assert "In force for every forecast: one spread everywhere." in str(
        widths_reading(findings, made(0.9, 0.95)).sentences[-1]
    )
    for line, words in ((LineChoice(origin=True), "another line than those"),
                        (LineChoice(weight_pattern="power-x"), "a power of x"),
                        (LineChoice(weight_pattern="inverse-x"), "another line than those")):  # fmt: skip
        last = str(widths_reading(demo(line=line), made(0.9, 0.95)).sentences[-1])
        assert words in last


def test_an_interval_by_ranks_says_what_it_promises_and_a_case_is_counted_among_the_rows():
    findings = demo(forecast=ForecastChoice(at=(50.0,), width="ranks"))
    said = [str(one) for one in forecast_reading(findings).sentences]
    (one,) = findings.expected
    assert "by the spread about the line, between" in said[1]
    assert "at least 95 % lie inside their intervals by ranks" in said[2]
    beware = " ".join(str(one) for one in forecast_reading(findings).beware)
    assert "does not follow it" not in beware
    assert "interval for cases" in " ".join(str(one) for one in forecast_reading(demo()).beware)
    far = findings.actual(50.0, one.pi[1] + 400)
    assert far.share == pytest.approx(1 / 65)
    assert "of 65, the rows and this case, 1 lie as far off" in str(actual_sentence(findings, far))
    cases = demo(forecast=ForecastChoice(at=(50.0,), width="ranks"), line=LineChoice(errors="HC3"))
    assert "one s everywhere" not in " ".join(str(one) for one in forecast_reading(cases).beware)
    few = demo(2, forecast=ForecastChoice(width="ranks"))
    assert "Nothing is said of one new case: ranks need more rows at this level" in str(
        forecast_reading(few).sentences[1]
    )
    assert "is not known: ranks need more rows" in str(
        actual_sentence(few, few.actual(few.forecast_x[0], 20.0))
    )


def test_where_the_line_leaves_a_smooth_is_told_by_stretches():
    findings = demo(1, forecast=ForecastChoice(local=True))
    claim = local_claim(findings)
    band = findings.local_band
    heights = findings.by_spread(tuple(band.x.tolist())).fitted
    out = band.apart(heights)
    covered = np.zeros(band.x.size, bool)
    for low, high in claim.stretches:
        covered |= (band.x >= low) & (band.x <= high)
    assert np.array_equal(out, covered)
    assert claim.verdict == "outside"
    at = int(np.flatnonzero(band.x == claim.farthest)[0])
    assert out[at]
    assert claim.by == pytest.approx(abs(heights[at] - band.mean[at]))
    assert claim.above == (heights[at] > band.mean[at])
    assert "lies outside the band of the smooth for the local mean from" in str(local_sentences(findings)[0])
    straight = demo(forecast=ForecastChoice(local=True, bandwidth=400.0))
    assert "within ± 400 NTU. The line stays inside" in str(local_sentences(straight)[0])
    assert local_sentences(demo()) == ()


def test_without_a_smooth_the_cause_is_told():
    findings = demo(2, forecast=ForecastChoice(local=True, bandwidth=1e-6))
    assert findings.local_band is Cause.NARROW_WINDOW
    assert str(local_sentences(findings)[0]) == (
        "No smooth is drawn beside the line: too few rows lie within so narrow a bandwidth; a wider one would do."
    )


def test_the_ends_of_the_parts_are_told_as_finely_as_all_of_them_ask():
    found = msgspec.structs.replace(made(0.96, 0.95, 0.94), parts=(10.0, 10.001, 30.0))
    said = " ".join(map(str, widths_reading(demo(), found).beware + widths_reading(demo(), found).sentences))
    assert "up to 10, 10 and 30." in said
