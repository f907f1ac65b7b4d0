"""What the step Line says."""

from __future__ import annotations

from bright_tether.claims.cases import cases_claim, within_slope_claim
from bright_tether.claims.decision import (
    ChangeClaim,
    coefficient_of,
    intercept_test_claim,
    slope_test_claim,
    tests_part,
)
from bright_tether.claims.doubts import CarriedClaim, carried_claim
from bright_tether.claims.first_choice import first_choice
from bright_tether.claims.line import (
    FewClaim,
    InterceptClaim,
    IntervalClaim,
    MattersClaim,
    OffsetClaim,
    ShareClaim,
    exact_claim,
    few_claim,
    intercept_claim,
    level_claim,
    matters_claim,
    offset_claim,
    own_scale_claim,
    possible_claims,
    share_claim,
    slope_interval,
)
from bright_tether.claims.rows import ChoiceClaim
from bright_tether.claims.spread_power import SpreadPowerClaim, spread_power_claim
from bright_tether.claims.stories import hidden_stories
from bright_tether.claims.tether import claims_of
from bright_tether.core.line.figures import Line
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.choices import ERROR_NAMES, PATTERNS
from bright_tether.words.reading import Figure, Names, Reading, names_of, there
from bright_tether.words.readings.cases import by_rows_sentence, deciding_sentence, within_slope_sentence
from bright_tether.words.readings.decision import (
    COEFFICIENT_LETTERS,
    across_headline,
    decision_sentence,
    intercept_test_sentence,
    outcome_headline,
    slope_test_sentence,
    tests_part_sentence,
)
from bright_tether.words.readings.first_choice import first_choice_sentence
from bright_tether.words.readings.groups import hidden_sentences, story_sentence
from bright_tether.words.readings.origin import not_together, origin_headline, origin_kept
from bright_tether.words.readings.own_scale import own_scale_sentence
from bright_tether.words.readings.possible import possible_sentences
from bright_tether.words.readings.refused import refused
from bright_tether.words.readings.rows import one_row_sentence, rows_in_words
from bright_tether.words.readings.unanswered import headline_resting, travelling
from bright_tether.words.said import Said, capital


def equation(findings: Findings, digits: int | None = None) -> str:
    """The line in the analyst's names: y = intercept + slope · x."""
    names, by = names_of(findings.x_column, findings.y_column), findings.coefficients
    shown, slope_first = digits or findings.rules.digits, findings.tether.line.slope_first
    heads = (names.term_x, names.y)
    return equation_of(findings.line, (by.se_slope, by.se_intercept), heads, shown, slope_first)


def equation_of(
    line: Line,
    errors: tuple[float | None, float | None],
    names: tuple[str, str],
    digits: int,
    slope_first: bool,
) -> str:
    """Any line in words. errors : of slope and intercept, which say how many digits to show. names : x, y."""
    (x, y), steep = names, there(line.slope)
    if line.intercept is None:
        return f"{y} = {d.fixed(line.slope, d.decimals_for(errors[0], digits, line.slope))} · {x}"
    height = d.fixed(line.intercept, d.decimals_for(errors[1], digits, line.intercept))
    slope = d.fixed(abs(steep), d.decimals_for(errors[0], digits, line.slope))
    sign = "−" if steep < 0 else "+"
    if slope_first:
        lead = "−" if steep < 0 else ""
        tail = f"− {height.lstrip('−')}" if line.intercept < 0 else f"+ {height}"
        return f"{y} = {lead}{slope} · {x} {tail}"
    return f"{y} = {height} {sign} {slope} · {x}"


def equation_to_copy(findings: Findings) -> str:
    """The line with every digit it has, so that it gives the same forecasts elsewhere."""
    line, names = findings.line, names_of(findings.x_column, findings.y_column)
    steep = there(line.slope)
    if line.intercept is None:
        return f"{names.y} = {steep!r} * {names.term_x}"
    return f"{names.y} = {line.intercept!r} {'-' if steep < 0 else '+'} {abs(steep)!r} * {names.term_x}"


def line_reading(findings: Findings) -> Reading:
    """The slope in words, its test and interval, the share of spread, and what to beware of."""
    if findings.refusal:
        return refused(findings)
    names, digits = names_of(findings.x_column, findings.y_column), findings.rules.digits
    measured = names_of(findings.x_way.source, findings.y_way.source)
    claims, line = claims_of(findings), findings.line
    finest = d.decimals_for(findings.coefficients.se_slope, digits, line.slope)
    share, intercept = share_claim(findings), intercept_claim(findings)
    height = d.decimals_for(findings.coefficients.se_intercept, digits, line.intercept)
    headline = line_headline(findings, names)
    return Reading(
        headline=headline,
        sentences=(
            interval_sentence(slope_interval(findings), names, finest, findings.line.slope_0),
            *own_scale_sentence(own_scale_claim(findings, claims.change), measured, digits),
            *level_at_zero(intercept, names, height, line.intercept_0),
            *_errors_named(findings),
            *origin_kept(claims.origin, names, digits),
            *not_together(claims.origin, names, digits),
            *deciding_sentence(cases_claim(findings)),
            *within_slope_sentence(within_slope_claim(findings), names, digits),
            *matters_sentence(matters_claim(findings), names, finest),
            decision_sentence(findings),
            *slope_test_sentence(slope_test_claim(findings, claims.decision), digits),
            *intercept_test_sentence(intercept_test_claim(findings), names, digits),
            *tests_part_sentence(tests_part(findings, claims.decision)),
            *story_sentence(claims.story, digits),
            *one_row_sentence(findings),
            Said(f"A residual is an observed {names.y} less the fitted one.", ChoiceClaim(what="residual")),
        ),
        share=line.r2,
        caption=share_caption(share, names),
        figures=_figures(findings, names, finest),
        beware=_beware(findings, names, headline),
    )


def line_headline(findings: Findings, names: Names) -> Said:
    """The change that a step in x goes with, where it is shown and no story forbids it."""
    claims, digits = claims_of(findings), findings.rules.digits
    level, exact, change = level_claim(findings), exact_claim(findings), claims.change
    if level is not None:
        return Said(f"{names.y} is the same in every pair: the line is level.", level)
    across = across_headline(findings)
    if across is not None:
        return across
    if exact is not None and change is not None:
        return Said(
            f"Every pair lies on one line: {change_phrase(change, names, digits, about=False)}.",
            exact,
            change,
        )
    if change is None or not change.shown or claims.decision.null != 0:
        return headline_resting(
            outcome_headline(findings, _decider_named(findings, names)), claims.rests, digits
        )
    if findings.fit.origin:
        said = origin_headline(change, names, digits)
    else:
        said = Said(f"{capital(change_phrase(change, names, digits))}, on average.", change)
    return headline_resting(said, claims.rests, digits)


def _decider_named(findings: Findings, names: Names) -> str:
    """What the decision's p belongs to: the slope, or the rank coefficient that decides."""
    name, value = coefficient_of(findings, claims_of(findings).decision)
    digits, slope = findings.rules.digits, findings.line.slope
    if name != "r":
        return d.relation(COEFFICIENT_LETTERS[name], value, digits)
    return f"the slope is {d.fixed(slope, d.decimals_for(findings.coefficients.se_slope, digits, slope))}{_per(names)}"


def _per(names: Names) -> str:
    return f" {names.slope_unit}" if names.slope_unit else ""


def change_phrase(change: ChangeClaim, names: Names, digits: int, *, about: bool = True) -> str:
    """Each extra NTU goes with about 1.43 mg/L more sediment."""
    size = d.figure(abs(change.slope * change.step), digits)
    more = "more" if change.slope >= 0 else "less"
    roughly = "about " if about else ""
    return (
        f"each {names.step_of_x(change.step)} goes with {roughly}{names.in_y_change(size)} {more} {names.y}"
    )


def interval_sentence(claim: IntervalClaim, names: Names, finest: int, tested: float) -> Said:
    """The slope's interval."""
    if claim.exact:
        return Said("With every residual zero, an interval says nothing about how sure the slope is.", claim)
    if claim.low is None or claim.high is None:
        return Said("The interval for the slope has no value here.", claim)
    ends = d.between((claim.low, claim.high), finest, tested, word=" and ")
    return Said(
        f"With {d.level_in_words(claim.level)} confidence the slope lies between {ends}{_per(names)}.", claim
    )


def share_caption(claim: ShareClaim, names: Names) -> Said:
    """What r² is a share of."""
    if claim.value is None:
        return Said(f"{names.y} does not vary, so there is no spread to share", claim)
    of = {
        "the spread": f"of the spread in {names.y} goes with {names.x} (r²)",
        "the weighted spread": f"of the weighted spread in {names.y} goes with {names.x} (r², weighted)",
        "Σy²": f"of the sum of squared {names.y} goes with {names.x} (r² about zero)",
    }[claim.of]
    return Said(f"{d.percent(claim.value)} {of}", claim)


def weights_named(findings: Findings) -> str:
    """What the rows are weighted by: a column, or a pattern."""
    chosen = findings.tether.line
    if chosen.weight_pattern is not None:
        return PATTERNS[chosen.weight_pattern]
    return findings.table.column(chosen.weights or "").short


def _errors_named(findings: Findings) -> tuple[Said, ...]:
    chosen = findings.tether.line
    parts: list[tuple[str, str, str]] = []
    if chosen.errors != "classical":
        parts.append((f"errors in force are {ERROR_NAMES[chosen.errors]} ones", "errors", chosen.errors))
    if findings.fit.weights is not None:
        named = weights_named(findings)
        parts.append((f"rows are weighted by {named}", "weights", named))
    if chosen.origin:
        parts.append(("the line goes through the origin, and r² is about zero", "origin", ""))
    if not parts:
        return ()
    said = "; ".join(words for words, _, _ in parts)
    choices = Said(f"{capital(said)}.", *(ChoiceClaim(what=what, value=value) for _, what, value in parts))
    names = names_of(findings.x_column, findings.y_column)
    return (choices, *spread_power_sentence(spread_power_claim(findings), names))


def spread_power_sentence(claim: SpreadPowerClaim | None, names: Names) -> tuple[Said, ...]:
    """Which power the spread follows, and that intervals take it as known."""
    if claim is None:
        return ()
    size = names.x if claim.of == "x" else f"the fitted {names.y}"
    if claim.power is None:
        return (
            Said(f"No power of {size} could be fitted to the spread, so every row weighs the same.", claim),
        )
    fine = d.decimals_of(claim.interval, 3, claim.power)
    between = (
        f"{d.between(claim.interval, fine)}, {d.level_in_words(claim.level)}; " if claim.interval else ""
    )
    power = f"{size} to the power {d.fixed(claim.power, fine)} ({between}none: {d.p_value(claim.p)})"
    follows = f"The spread follows {power}, fitted by restricted likelihood."
    even = f"The spread is taken to follow {power}; that it follows any is not shown."
    fewer = " Forecasts rest on fewer degrees of freedom where that tells less of it."
    return (Said((follows if claim.verdict == "follows" else even) + fewer, claim),)


def matters_sentence(claim: MattersClaim | None, names: Names, finest: int) -> tuple[Said, ...]:
    """Whether the size matters, not only whether it is not 0."""
    if claim is None:
        return ()
    verdict = {
        "matters": "the whole interval lies beyond it: the slope is shown to matter",
        "too small": "the whole interval lies within it: the slope is shown to be too small to matter",
        "cannot tell": "the interval reaches to both sides of it: these data do not tell whether the slope matters",
    }[claim.verdict]
    shown = d.between((claim.low, claim.high), finest, claim.least, -claim.least)
    return (
        Said(
            f"The smallest slope that matters is ±{d.entered(claim.least)}{_per(names)}, the interval {shown}: "
            f"{verdict}.",
            claim,
        ),
    )


def _figures(findings: Findings, names: Names, finest: int) -> tuple[Figure, ...]:
    line, r, digits = findings.line, findings.pearson, findings.rules.digits
    by, df = findings.coefficients, findings.errors.df
    figures = [Figure("slope", d.fixed(line.slope, finest), d.between(by.ci_slope, finest, line.slope_0))]
    if line.intercept is not None:
        height = d.decimals_for(by.se_intercept, digits, line.intercept)
        figures.append(
            Figure(
                "intercept",
                d.fixed(line.intercept, height),
                d.between(by.ci_intercept, height, line.intercept_0),
            )
        )
    return (
        *figures,
        Figure(
            "s, typical residual" if findings.fit.weights is None else "s, at weight 1",
            d.figure(line.s, digits),
            names.y_unit or "",
        ),
        Figure("r", d.coefficient(r.r, digits), d.coefficients(r.ci, digits)),
        Figure(f"t ({d.grouped(df)} df)", d.figure(by.t_slope, digits), d.p_value(by.p_slope)),
        Figure(f"F (1, {d.grouped(line.residual_df)})", d.figure(line.f, digits), d.p_value(line.p_f)),
    )


def intercept_sentence(claim: InterceptClaim | None, names: Names, digits: int) -> tuple[Said, ...]:
    """Where x = 0 was not measured, what the intercept is worth."""
    if claim is None or claim.inside:
        return ()
    side = "lowest" if claim.edge > 0 else "highest"
    near = ", if not by far" if claim.near else ""
    edge = names.day_of(claim.edge) or names.in_x(d.figure(claim.edge, digits))
    return (
        Said(
            f"The intercept is the level {zero_of_x(names)}; the {side} reading is {edge}, so it lies outside what was "
            f"measured{near}.",
            claim,
        ),
    )


def zero_of_x(names: Names) -> str:
    """Where the intercept stands."""
    return f"at {names.day_of(0.0)}" if names.clock else f"at {names.in_x('0')} of {names.x}"


def level_at_zero(claim: InterceptClaim | None, names: Names, finest: int, tested: float) -> tuple[Said, ...]:
    """The intercept, where x = 0 lies among what was measured."""
    if claim is None or not claim.inside or claim.low is None or claim.high is None:
        return ()
    ends = d.between((claim.low, claim.high), finest, tested)
    sure = "" if claim.low == claim.high else f" ({ends}, {d.level_in_words(claim.level)})"
    said = f"{capital(zero_of_x(names))} the line stands at {names.in_y(d.fixed(claim.value, finest))}{sure}."
    return (Said(said, claim),)


def few_sentence(claim: FewClaim | None, names: Names) -> tuple[Said, ...]:
    """So few pairs that one row can carry the line."""
    if claim is None:
        return ()
    if claim.cases is not None:
        said = f"With only {d.count(claim.cases, 'case')} ({claim.cases - 1} df) one case can carry the line."
        return (Said(said, claim),)
    return (Said(f"With only {claim.n} pairs ({claim.df} df) one row can carry the line.", claim),)


def carried_sentence(claim: CarriedClaim | None, names: Names, digits: int) -> tuple[Said, ...]:
    """Rows that carry the line by their x alone."""
    if claim is None:
        return ()
    lies, them = ("lies", "it") if len(claim.rows) == 1 else ("lie", "them")
    rests = "what it shows rests on that"
    if claim.slope is not None and claim.low is not None and claim.high is not None:
        shown = d.decimals_of((claim.low, claim.high), digits, claim.slope)
        unit = f" {names.slope_unit}" if names.slope_unit else ""
        ends = d.between((claim.low, claim.high), shown)
        rests = f"without {them} the slope is {d.fixed(claim.slope, shown)}{unit} ({ends})"
    return (
        Said(
            f"{capital(rows_in_words(claim.rows))} {lies} so far out in {names.x} that the line has to follow "
            f"(leverage up to {d.below_one(claim.leverage, max(2, digits - 1))}): {rests}.",
            claim,
        ),
    )


def offset_sentence(claim: OffsetClaim | None, names: Names) -> tuple[Said, ...]:
    """x varies by very little beside its size."""
    if claim is None:
        return ()
    return (
        Said(
            f"{names.x} varies by very little beside its size, so what was rounded off when it was written down "
            "cannot be got back; the intercept suffers most.",
            claim,
        ),
    )


def _beware(findings: Findings, names: Names, headline: Said) -> tuple[Said, ...]:
    digits, exact = findings.rules.digits, exact_claim(findings)
    said = [
        *hidden_sentences(hidden_stories(findings), digits),
        *intercept_sentence(intercept_claim(findings), names, digits),
        *possible_sentences(possible_claims(findings), names),
        *(one for one in travelling(findings) if not set(one.claims) & set(headline.claims)),
        *carried_sentence(carried_claim(findings), names, digits),
        *by_rows_sentence(cases_claim(findings), *(("F",) if findings.line.f is not None else ())),
        *few_sentence(few_claim(findings), names),
        *offset_sentence(offset_claim(findings), names),
        *first_choice_sentence(first_choice(findings)),
    ]
    if exact is not None:
        said.append(
            Said(
                "A line without scatter is rare in measurements: is one column worked out from the other?",
                exact,
            )
        )
    return tuple(said)
