"""What the step Compare says."""

from __future__ import annotations

from collections.abc import Mapping

from bright_tether.claims import compare as compared
from bright_tether.claims.compare import (
    CorrelationsClaim,
    DifferenceClaim,
    EquivalenceClaim,
    NoLineClaim,
    RungsClaim,
    SpreadsClaim,
    UnitsClaim,
    WhichTestClaim,
)
from bright_tether.claims.rows import ChoiceClaim, RefusalClaim
from bright_tether.claims.tether import claims_of
from bright_tether.core.compare.groups import with_lines
from bright_tether.core.results import Refusal
from bright_tether.live.comparison import Comparison
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.causes import cause, refusal
from bright_tether.words.choices import ERROR_NAMES
from bright_tether.words.reading import Figure, Names, Reading, n_in_words, names_of
from bright_tether.words.readings.groups import story_sentence
from bright_tether.words.readings.refused import refused
from bright_tether.words.readings.unanswered import travelling
from bright_tether.words.said import Said

#: Groups that an offer names.
_MOST_NAMED = 6


def comparison_of(findings: Findings) -> Comparison | None:
    """The comparison, or None where there is none to make."""
    try:
        return None if findings.refusal else findings.comparison
    except Refusal:
        return None


def groups_offered(counts: Mapping[str, int]) -> str:
    """The groups of a column with their pairs: Weir 31, Ford 33; the first few of many."""
    named = [f"{name} {d.grouped(n)}" for name, n in counts.items()]
    return ", ".join(named[:_MOST_NAMED]) + (
        f" and {d.grouped(len(named) - _MOST_NAMED)} more" if len(named) > _MOST_NAMED else ""
    )


def compare_reading(findings: Findings) -> Reading:
    """Whether the lines differ, as far as the data tell."""
    if findings.refusal:
        return refused(findings)
    try:
        comparison = findings.comparison
    except Refusal as found:
        why = RefusalClaim(what=type(found).__name__)
        return Reading(
            headline=Said("Compare this line with which?", why), sentences=(Said(refusal(found), why),)
        )
    without = no_line_sentences(compared.no_line_claims(comparison))
    lined = with_lines(comparison.groups)
    if len(lined) < 2:
        claim = RefusalClaim(what="one line")
        return Reading(headline=Said("There are not two lines to compare.", claim), sentences=without)
    names, digits, claims = (
        names_of(findings.x_column, findings.y_column),
        findings.rules.digits,
        claims_of(findings),
    )
    difference = compared.difference_claim(findings, comparison)
    line = "one line for all" if comparison.source == "groups" else f"the line of {names.y} on {names.x}"
    return Reading(
        headline=difference_headline(difference),
        sentences=(
            *difference_sentence(difference, names, digits),
            *which_test_sentence(compared.which_test(findings, comparison)),
            *by_case_sentence(comparison),
            *equivalence_sentence(compared.equivalence_claim(comparison, difference), names),
            *rungs_sentences(compared.rungs_claim(findings, comparison, difference)),
            *spreads_sentence(compared.spreads_claim(findings, comparison), names.y_unit, digits),
            *correlations_sentence(compared.correlations_claim(findings, comparison), digits),
            *without,
            *story_sentence(claims.story, digits),
        ),
        figures=_figures(findings, comparison),
        beware=(*errors_sentence(findings, comparison, difference), *travelling(findings, line)),
    )


def difference_headline(claim: DifferenceClaim) -> Said:
    """How the deciding test came out."""
    if (
        claim.why is not None
        and claim.estimate is None
        and claim.a
        and claim.b
        and claim.outcome == "no test"
    ):
        units = UnitsClaim(a=claim.a, b=claim.b) if claim.why == "units_differ" else None
        if units is not None:
            return Said(
                "Two lines in different units: their correlations can be compared, their slopes cannot.",
                claim,
                units,
            )
    if claim.outcome == "no test":
        why = f": {cause(claim.why)}" if claim.why is not None else ""
        return Said(f"A difference of slopes cannot be judged here{why}.", claim)
    if claim.lines > 2:
        if claim.outcome == "rejected":
            return Said("Not all slopes are the same.", claim)
        return Said("These data are compatible with one slope for all.", claim)
    if claim.outcome == "rejected":
        return Said("The slopes differ.", claim)
    return Said("These data are compatible with no difference in slope.", claim)


def difference_sentence(claim: DifferenceClaim, names: Names, digits: int) -> tuple[Said, ...]:
    """The difference with its interval and its test."""
    if claim.lines > 2:
        if claim.p is None:
            return ()
        by = "" if claim.cases is None else ", on errors by case"
        return (
            Said(
                f"One common slope for {claim.lines} lines is tested by F({df_in_words(claim.df)}, "
                f"{df_in_words(claim.df2)}) = {d.figure(claim.statistic, digits)}, {d.p_value(claim.p)}{by}.",
                claim,
            ),
        )
    if claim.estimate is None or claim.low is None or claim.high is None:
        return ()
    finest = d.decimals_for((claim.high - claim.low) / 4, digits, claim.estimate)
    unit = f" {names.slope_unit}" if names.slope_unit else ""
    more = "more" if claim.estimate >= 0 else "less"
    ends = d.between((claim.low, claim.high), finest)
    said = (
        f"The slope of {claim.a} is {d.fixed(abs(claim.estimate), finest)}{unit} {more} than that of {claim.b} "
        f"({ends}, {d.level_in_words(claim.level)})"
    )
    if claim.p is None:
        return (Said(f"{said}.", claim),)
    basis = f"t = {d.figure(claim.statistic, digits)}, {df_in_words(claim.df)} df, {d.p_value(claim.p)}"
    if claim.outcome == "rejected":
        return (Said(f"{said}; the hypothesis of no difference is rejected ({basis}).", claim),)
    beside = ""
    if abs(claim.level - (1 - claim.alpha)) < 1e-9:
        beside = ", and so is every value in the interval"
    return (
        Said(f"{said}; no difference is compatible with these data ({basis}){beside}: that is not the same as equal.",
             claim),
    )  # fmt: skip


def df_in_words(value: float | None) -> str:
    """Degrees of freedom: whole, or to three digits."""
    if value is None:
        return d.NONE
    return d.grouped(int(value)) if float(value).is_integer() else d.figure(value, 3)


def which_test_sentence(claim: WhichTestClaim | None) -> tuple[Said, ...]:
    """Which test decides, and why."""
    if claim is None:
        return ()
    if claim.ratio is not None:
        if claim.wide:
            said = (
                f"One group scatters {d.figure(claim.ratio, 2)} times as widely as the other: the separate test "
                "decides, and the pooled figures are not to be read."
            )
        else:
            said = "The groups scatter about as widely; the separate test decides, Welch and pooled stand beside it."
        return (Said(said, claim),)
    if claim.shared is not None and claim.cases is not None:
        goes = "has" if claim.shared == 1 else "have"
        return (
            Said(f"{d.grouped(claim.shared)} of {d.count(claim.cases, 'case')} {goes} rows in both, so their errors go "
                 "together: the test by case decides.", claim),
        )  # fmt: skip
    said = {
        "cases": "Rows are cases: the two residuals of a row go together, so the paired test decides.",
        "settings": "Rows are settings: the two residuals of a row are apart, so the separate test decides.",
    }[claim.rows_are or "cases"]
    if claim.said:
        return (Said(said, claim),)
    question = (
        "Is a row one case measured twice, or two experiments that share settings of x? Say so above: until then "
        "rows are read as cases."
    )
    return (Said(question, claim), Said(said, claim))


def equivalence_sentence(claim: EquivalenceClaim | None, names: Names) -> tuple[Said, ...]:
    """Whether the slopes are shown to be near enough."""
    if claim is None:
        return ()
    margin = f"{d.entered(claim.margin)} {names.slope_unit}".rstrip()
    by = {"same_rows": "by the paired test", "separate": "by the separate test", "by_case": "by case"}[
        claim.basis
    ]
    if claim.shown:
        return (
            Said(
                f"The slopes are shown to be within ±{margin} of each other ({by}, {d.p_value(claim.p)}).",
                claim,
            ),
        )
    if claim.beyond:
        said = f"The slopes are shown to lie more than {margin} apart: the whole interval of their difference does."
        return (Said(said, claim),)
    tail = "" if claim.differ else "; that does not show that they differ"
    return (
        Said(f"It is not shown that the slopes are within ±{margin} of each other ({by}, {d.p_value(claim.p)}){tail}.",
             claim),
    )  # fmt: skip


def rungs_sentences(claim: RungsClaim | None) -> tuple[Said, ...]:
    """How many lines are needed, and where that parts from the test that decides."""
    if claim is None:
        return ()
    slopes = f"F({claim.df1}, {d.grouped(claim.df2)}) = {d.figure(claim.f, 3)}, {d.p_value(claim.p)}"
    below = d.grouped(claim.df2_height)
    heights = f"F({claim.df1_height}, {below}) = {d.figure(claim.f_height, 3)}, {d.p_value(claim.p_height)}"
    by = "By F on errors by case" if claim.by_case else "By F"
    said = {
        "a line each": f"{by}, a line each is needed: one common slope is rejected ({slopes}).",
        "parallel": f"{by}, one common slope is compatible with the data ({slopes}), but one height is rejected "
                    f"({heights}): parallel lines would do.",
        "one line": f"{by}, one line for all is compatible with the data (slopes {slopes}; heights {heights}).",
    }[claim.verdict]  # fmt: skip
    if not claim.parts:
        uneven = "F takes one spread for both lines, which these do not show: go by the test that decides."
        return (Said(said, claim), *((Said(uneven, claim),) if claim.uneven else ()))
    return (
        Said(said, claim),
        Said("F and the test that decides fall on different sides of α: F takes one common spread for all lines, and "
             "the deciding test does not.", claim),
    )  # fmt: skip


def spreads_sentence(claim: SpreadsClaim | None, unit: str | None, digits: int) -> tuple[Said, ...]:
    """That lines scatter unevenly where F takes one spread for all."""
    if claim is None:
        return ()
    of = f" {unit}" if unit else ""
    said = (
        f"F takes one spread for all lines, and they are shown to scatter unevenly: s from "
        f"{d.figure(claim.s_narrow, digits)}{of} ({claim.narrow}) to {d.figure(claim.s_wide, digits)}{of} "
        f"({claim.wide}), by Bartlett’s test {d.p_value(claim.p)}. The p of F may come out too small or too large, "
        "above all where groups differ in size."
    )
    return (Said(said, claim),)


def correlations_sentence(claim: CorrelationsClaim | None, digits: int) -> tuple[Said, ...]:
    """The two correlations against each other."""
    if claim is None:
        return ()
    each = (
        f"{d.coefficient(claim.r_a, digits)} ({claim.a}) and {d.coefficient(claim.r_b, digits)} ({claim.b})"
    )
    where = ", judged by case" if claim.by_case else ", in the same cases" if claim.test == "t" else ""
    df = "" if claim.df is None else f", {d.grouped(claim.df)} df"
    basis = f"{claim.test} = {d.figure(claim.statistic, digits)}{df}, {d.p_value(claim.p)}"
    outcome = "are shown to differ" if claim.outcome == "rejected" else "are compatible with no difference"
    return (Said(f"The two correlations{where}, {each}, {outcome} ({basis}).", claim),)


def no_line_sentences(claims: tuple[NoLineClaim, ...]) -> tuple[Said, ...]:
    """Groups too small or too odd for a line."""
    return tuple(
        Said(f"The line of {one.name} has no error of its own: n = {one.n}, {cause(one.why)}.", one)
        if one.line
        else Said(f"{one.name} has no line of its own: n = {one.n}, {cause(one.why)}.", one)
        for one in claims
    )


def by_case_sentence(comparison: Comparison) -> tuple[Said, ...]:
    """That cases decide everything here."""
    found = comparison.by_case
    if found is None or all(
        one is None or one.p is None for one in (found.slopes, found.parallel, found.correlations)
    ):
        return ()
    paired = "the paired test, " if comparison.decides == "same_rows" else ""
    choice = ChoiceClaim(what="errors", value="clustered")
    return (Said(f"Judged by case: {paired}differences, rungs, every two groups and correlations.", choice),)


def errors_sentence(findings: Findings, comparison: Comparison, claim: DifferenceClaim) -> tuple[Said, ...]:
    """What the errors in force bear on, and what they do not."""
    kind = findings.tether.line.errors
    if kind == "classical" or comparison.by_case is not None:
        return ()
    choice = ChoiceClaim(what="errors", value=kind)
    if kind == "clustered" and comparison.source == "tethers":
        return (
            Said(f"The line at hand is judged by case, the other by {ERROR_NAMES['HC3']} errors, since its "
                 "table does not tell these cases: cases that both hold would not be told.", choice),
        )  # fmt: skip
    if claim.lines > 2:
        return (
            Said(f"The errors in force are {ERROR_NAMES[kind]} ones; F and every two groups rest on one common spread "
                 "all the same.", choice),
        )  # fmt: skip
    return (
        Said(
            f"The difference is judged by {ERROR_NAMES[kind]} errors; the rungs and every two groups rest on one "
            "common spread all the same.",
            choice,
        ),
    )


def _figures(findings: Findings, comparison: Comparison) -> tuple[Figure, ...]:
    figures = []
    for group in comparison.groups[:6]:
        if group.line is not None:
            finest = d.decimals_for(group.slope_error, findings.rules.digits, group.line.slope)
            figures.append(
                Figure(f"slope, {group.name}", d.fixed(group.line.slope, finest), n_in_words(group.n))
            )
    return tuple(figures)
