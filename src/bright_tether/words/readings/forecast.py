"""What the step Forecast says."""

from __future__ import annotations

from bright_tether.claims import forecast as ahead
from bright_tether.claims.cases import KnownCaseClaim, known_case_claim
from bright_tether.claims.decision import ChangeClaim
from bright_tether.claims.forecast import (
    BackClaim,
    BeyondClaim,
    CaseClaim,
    ForecastClaim,
    LevelsClaim,
    LostClaim,
    NearClaim,
    WidthClaim,
)
from bright_tether.claims.rows import ChoiceClaim, RefusalClaim
from bright_tether.claims.tether import claims_of
from bright_tether.core.conformal import SEED, Conformal
from bright_tether.core.results import Cause
from bright_tether.live.findings import Findings
from bright_tether.live.forecasting import Actual, Expected
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.choices import ERROR_NAMES, PATTERNS
from bright_tether.words.reading import Figure, Names, Reading, names_of
from bright_tether.words.readings.cases import known_case_sentence
from bright_tether.words.readings.decision import across_headline
from bright_tether.words.readings.local import local_sentences
from bright_tether.words.readings.possible import past_limit_sentences, possible_sentence
from bright_tether.words.readings.refused import refused
from bright_tether.words.readings.rows import rows_in_words
from bright_tether.words.readings.unanswered import travelling
from bright_tether.words.said import Said, capital, listed


def forecast_reading(findings: Findings) -> Reading:
    """The first x in words: what to expect, of the mean and of one case, and what to beware of."""
    if findings.refusal:
        return refused(findings)
    first, claims, lost = ahead.first_expected(findings), claims_of(findings), ahead.lost_claim(findings)
    if first is None:
        if lost is not None:
            return Reading(headline=lost_sentence(lost))
        said = "Type an x above 0: its logarithm or root is what the line knows."
        return Reading(headline=Said(said, RefusalClaim(what="x not above 0")))
    mean, case = ahead.mean_claim(findings, first), ahead.case_forecast(findings, first)
    shown, across = finest(findings, first), across_headline(findings)
    expected = expected_sentence(findings, mean, shown)
    return Reading(
        headline=across or expected,
        sentences=(
            *((expected,) if across else ()),
            mean_sentence(findings, mean, shown),
            case_sentence(findings, case, shown),
            *ranks_sentence(case, findings),
            *known_case_sentence(_known(findings, first), _names(findings), findings.rules.digits),
            *local_sentences(findings),
            *levels_sentence(ahead.levels_claim(findings, first), shown),
            *beyond_sentence(ahead.beyond_claim(findings, first), findings),
            *gap_sentence(mean, findings),
            *near_sentence(ahead.near_claim(findings, first), findings),
            *back_sentences(ahead.back_claims(findings), findings),
            *kept_sentences(findings),
        ),
        figures=_figures(findings, first),
        beware=(
            *(() if lost is None else (lost_sentence(lost),)),
            *level_sentence(claims.change, findings),
            *possible_sentence(mean, findings.y_way.source, _names(findings)),
            *past_limit_sentences(ahead.past_limit_claims(findings, case), _names(findings), shown),
            *choice_sentences(findings),
            *width_sentence(ahead.width_claim(findings, claims.doubt("spread"))),
            *travelling(findings),
        ),
    )


def _known(findings: Findings, first: Expected) -> KnownCaseClaim | None:
    """Where y stands on its own scale alone: what is carried back from logs has no height of a case."""
    if first.scale != "as measured":
        return None
    inner = next((inner for x, inner in findings.placed_x if x == first.x), None)
    return None if inner is None else known_case_claim(findings, inner)


def _names(findings: Findings) -> Names:
    """Both columns as they were measured, before any log or root."""
    return names_of(findings.x_way.source, findings.y_way.source)


def at_x(findings: Findings, x: float) -> str:
    """Where: turbidity 50 NTU."""
    return _names(findings).at_x(x, d.entered(x))


def finest(findings: Findings, one: Expected) -> int:
    """Decimals that a forecast can bear."""
    return d.decimals_for((one.ci[1] - one.ci[0]) / 2, findings.rules.digits, one.fitted)


def middle(claim: ForecastClaim) -> str:
    """What the value is the middle of: a mean, or after a log or root what is carried back."""
    if claim.scale == "log":
        return {"mean": "geometric mean", "one case": "median", "mean of m": "geometric mean"}[claim.of]
    if claim.scale == "root":
        return "median" if claim.of == "one case" else "squared mean of roots"
    return "mean"


def lost_sentence(claim: LostClaim) -> Said:
    """Which x lie too far out."""
    return Said(
        f"No forecast at {listed(d.entered(x) for x in claim.x)}: {cause(Cause.OUT_OF_RANGE)}.", claim
    )


def expected_sentence(findings: Findings, claim: ForecastClaim, shown: int) -> Said:
    """The value on the line."""
    names = _names(findings)
    said = f"At {at_x(findings, claim.x)}, {names.y} is expected at {names.in_y(d.fixed(claim.value, shown))}"
    return Said(f"{said}{'' if claim.scale == 'as measured' else f' ({_carried(claim)})'}.", claim)


def _carried(claim: ForecastClaim) -> str:
    return (
        "the median, carried back from logs"
        if claim.scale == "log"
        else "the median, carried back from roots"
    )


def mean_sentence(findings: Findings, claim: ForecastClaim, shown: int) -> Said:
    """The interval for the mean, in the analyst's own columns."""
    names, level = _names(findings), d.level_in_words(claim.level)
    if claim.exact:
        return Said(
            "Every pair lies on the line, so the intervals have no width and say nothing of certainty.", claim
        )
    if claim.low is None or claim.high is None:
        return Said("The interval for the mean has no value here.", claim)
    if claim.low == claim.high:  # through the origin, at 0
        return Said(
            f"There the line is held through the origin: that the mean {names.y} has no width there is a choice, and "
            "not shown by these data.",
            claim,
        )
    ends = d.between((claim.low, claim.high), shown, word=" and ")
    root = "squared mean of the root of " if claim.scale == "root" else f"{middle(claim)} "
    return Said(
        f"The {root}{names.y} of all cases at {at_x(findings, claim.x)} lies, with {level} confidence, "
        f"between {names.in_y(ends)}.",
        claim,
    )


def case_sentence(findings: Findings, claim: ForecastClaim, shown: int) -> Said:
    """The interval for one new case, or for the mean of several."""
    names, level = _names(findings), d.level_in_words(claim.level)
    who = "one new case" if claim.m == 1 else f"the {middle(claim)} of {d.count(claim.m, 'new case')}"
    if claim.low is None or claim.high is None:
        why = cause(claim.why) if claim.why is not None else "its interval has no value here"
        return Said(f"Nothing is said of {who}: {why}.", claim)
    if claim.exact:
        return Said(f"The same holds for {who}.", claim)
    ends = names.in_y(d.between((claim.low, claim.high), shown, word=" and "))
    if claim.by_ranks:
        return Said(f"{capital(who)} there is expected between {ends} ({level}), by the ranks of residuals near that "
                    f"x{_one_spread(claim, names, shown)}: this is the interval to hold a single {names.y} against.",
                    claim)  # fmt: skip
    wider = ", wider because cases scatter about the line" if claim.possible else ""
    what = f"a single {names.y}" if claim.m == 1 else f"such a {middle(claim)}"
    return Said(
        f"{capital(who)} there is expected between {ends} ({level}){wider}: this is the interval to hold {what} "
        "against.",
        claim,
    )


def _one_spread(claim: ForecastClaim, names: Names, shown: int) -> str:
    """What the interval would be by one spread everywhere."""
    if claim.beside_low is None or claim.beside_high is None:
        return ""
    ends = d.between((claim.beside_low, claim.beside_high), shown, word=" and ")
    return f" (by the spread about the line, between {names.in_y(ends)})"


def ranks_sentence(claim: ForecastClaim, findings: Findings) -> tuple[Said, ...]:
    """What an interval by ranks promises, and what it rests on."""
    if not claim.by_ranks or claim.low is None:
        return ()
    ranks = findings.conformal
    assert isinstance(ranks, Conformal)
    rows = f"{d.grouped(ranks.n)} rows" + (f" drawn at random, seed {SEED}," if ranks.drawn else "")
    return (
        Said(f"Of new cases drawn as the {rows} were, at least {d.level_in_words(claim.level)} lie inside their "
             "intervals by ranks, over all x together; no shape and no spread is taken for the residuals.", claim),
    )  # fmt: skip


def levels_sentence(claim: LevelsClaim | None, shown: int) -> tuple[Said, ...]:
    """The same interval at several levels."""
    if claim is None:
        return ()
    who = "one case" if claim.m == 1 else f"the mean of {claim.m} cases"
    each = ", ".join(
        f"{d.level_in_words(level)} {d.between((low, high), shown)}" for level, low, high in claim.intervals
    )
    return (Said(f"More confidence, wider interval, for {who}: {each}.", claim),)


def beyond_sentence(claim: BeyondClaim | None, findings: Findings) -> tuple[Said, ...]:
    """An x beyond what was measured."""
    if claim is None:
        return ()
    names, digits = _names(findings), findings.rules.digits
    measured = (claim.low, claim.high)
    shown = d.decimals_as_written(measured, d.decimals_for(claim.high - claim.low, digits + 1))
    ends = names.ends_x(measured, d.between(measured, shown, claim.x, word=" to "), " to ")
    return (
        Said(
            f"{at_x(findings, claim.x)} lies {d.figure(claim.distance, 2)} sd of {names.x} beyond what was "
            f"measured ({ends}): that the line goes on there is not shown by these data, and no interval covers it.",
            claim,
        ),
    )


def gap_sentence(claim: ForecastClaim, findings: Findings) -> tuple[Said, ...]:
    """An x where nothing was measured near by."""
    if not claim.in_gap:
        return ()
    return (
        Said(f"{at_x(findings, claim.x)} lies in a stretch where nothing was measured: that the line holds "
             "there is not shown by these data.", claim),
    )  # fmt: skip


def near_sentence(claim: NearClaim | None, findings: Findings) -> tuple[Said, ...]:
    """The cases nearest in x."""
    if claim is None:
        return ()
    names = names_of(findings.x_column, findings.y_column)
    parts = (
        f"{rows_in_words((row,))} {'on it' if over == 0 else _over(over, names)}"
        for row, over in zip(claim.rows, claim.over, strict=True)
    )
    scale = "" if claim.scale == "as measured" else f", in {names.y}"
    return (Said(f"The cases nearest in {names.x}, against the line{scale}: {'; '.join(parts)}.", claim),)


def _over(over: float, names: Names) -> str:
    return f"{'over' if over > 0 else 'under'} it by {names.in_y_change(d.figure(abs(over), 2))}"


def back_sentences(claims: tuple[BackClaim, ...], findings: Findings) -> tuple[Said, ...]:
    """Which x gives a y."""
    return tuple(_back(one, findings) for one in claims)


def _back(claim: BackClaim, findings: Findings) -> Said:
    names, digits = _names(findings), findings.rules.digits
    where = names.in_y(f"{names.y} {d.entered(claim.y)}")
    if claim.x is None:
        return Said(
            f"No {names.x} is singled out by {where}: {cause(claim.why or Cause.SLOPE_UNCLEAR)}.", claim
        )
    wide = None if claim.low is None or claim.high is None else (claim.high - claim.low) / 4
    shown = d.decimals_for(wide, digits, claim.x)
    one = None if claim.low is None or claim.high is None else (claim.low, claim.high)
    mean = None if claim.low_mean is None or claim.high_mean is None else (claim.low_mean, claim.high_mean)
    who = "one case" if claim.m == 1 else f"the mean of {claim.m} cases"
    return Said(
        f"{where} is reached at {names.at_x(claim.x, d.fixed(claim.x, shown))}: for {who} "
        f"{names.ends_x(one, d.between(one, shown))}, for the mean of all "
        f"{names.ends_x(mean, d.between(mean, shown))} ({d.level_in_words(claim.level)}){_unmeasured(claim)}.",
        claim,
    )


def _unmeasured(claim: BackClaim) -> str:
    if claim.inside and not claim.in_gap:
        return ""
    where = "in a stretch where nothing was measured" if claim.inside else "beyond what was measured"
    return f"; that x lies {where}, and that the line holds there is not shown by these data"


def _figures(findings: Findings, one: Expected) -> tuple[Figure, ...]:
    shown, many = finest(findings, one), findings.tether.forecast.mean_of
    level, unit = d.level_in_words(one.level), findings.y_way.source.unit or ""
    mean = middle(ahead.mean_claim(findings, one))
    who = "one case" if many == 1 else f"mean of {many}"
    who += " by ranks" if findings.by_ranks and many == 1 else ""
    figures = [
        Figure("fitted", d.fixed(one.fitted, shown), unit),
        Figure(f"{mean}, {level}", d.between(one.ci, shown), d.half(one.half_ci, shown)),
        Figure(f"{who}, {level}", d.between(one.pi, shown), d.half(one.half_pi, shown)),
    ]
    if findings.tether.forecast.band:
        figures.append(Figure(f"whole line, {level}", d.between(one.band, shown)))
    return tuple(figures)


def level_sentence(claim: ChangeClaim | None, findings: Findings) -> tuple[Said, ...]:
    """A forecast from a slope that is not shown."""
    if claim is None or claim.shown:
        return ()
    return (
        Said(f"At α = {d.entered(findings.rules.alpha)} the slope is compatible with 0: the forecast says little more "
             "than the mean.", claim),
    )  # fmt: skip


def choice_sentences(findings: Findings) -> tuple[Said, ...]:
    """What errors and weights in force make of the intervals."""
    said, kind = [], findings.tether.line.errors
    if kind != "classical":
        cases = "" if findings.by_ranks else "; the width for cases still takes one s everywhere"
        said.append(Said(f"The interval for the mean rests on {ERROR_NAMES[kind]} errors{cases}.",
                         ChoiceClaim(what="errors", value=kind)))  # fmt: skip
    if findings.fit.weights is not None:
        said.append(Said(f"The line is weighted: {_new_case(findings)}.", ChoiceClaim(what="weights")))
    return tuple(said)


def width_sentence(claim: WidthClaim | None) -> tuple[Said, ...]:
    """One width for cases while the spread seems to change."""
    if claim is None:
        return ()
    if claim.weighted:
        return (
            Said(f"With these weights the residuals still show a clear sign of a changing spread "
                 f"({d.p_value(claim.p)}): the interval for cases follows the weights, not that.", claim),
        )  # fmt: skip
    return (
        Said(
            f"The residuals show a clear sign of a changing spread ({d.p_value(claim.p)}), and the interval for cases "
            "does not follow it: too wide where they lie close, too narrow where they do not. Weights by a fitted "
            "power, or the ranks of residuals, would: “How wide” compares them.",
            claim,
        ),
    )


def _new_case(findings: Findings) -> str:
    """What a new case is taken to weigh."""
    new = findings.new_weight
    if new is None:
        return "state the weight of a new case above, and its interval can be given"
    if new.stated is not None:
        return f"a new case is taken to have weight {d.entered(new.stated)}"
    return f"a new case has the weight {PATTERNS[new.pattern or 'inverse-x']} at its own x"


def kept_sentences(findings: Findings) -> tuple[Said, ...]:
    """The actual cases that were kept, each against what was expected of it."""
    return tuple(
        Said(f"Kept, at {at_x(findings, claim.x)}: {case_in_words(claim, findings)}", claim)
        for claim in ahead.kept_claims(findings)
    )


def actual_sentence(findings: Findings, actual: Actual) -> Said:
    """An actual case against what was expected of it."""
    return case_in_words(ahead.case_claim(findings, actual), findings)


def case_in_words(claim: CaseClaim, findings: Findings) -> Said:
    """A case beside the line, and whether that is unusual."""
    names = _names(findings)
    size = names.in_y_change(d.figure(claim.by, findings.rules.digits))
    where = "on the line" if claim.side == "on" else f"{size} {claim.side} the line"
    if claim.unusual is None or claim.share is None:
        return Said(
            f"{names.y} {d.entered(claim.y)} lies {where}; whether that is unusual is not known: "
            f"{cause(claim.why or Cause.WEIGHT_UNSTATED)}.",
            claim,
        )
    level = d.level_in_words(claim.level)
    inside = "outside" if claim.unusual else "inside"
    usual = "unusual for one case" if claim.unusual else "not unusual for one case"
    if claim.by_ranks is not None:
        far, every = round(claim.share * (claim.by_ranks + 1)), claim.by_ranks + 1
        return Said(
            f"{names.y} {d.entered(claim.y)} lies {where} ({d.figure(claim.in_s, 2)} s), {inside} the {level} "
            f"interval: {usual}; of {d.grouped(every)}, the rows and this case, {d.grouped(far)} lie as far off or "
            "farther, each measured by the residuals near it.",
            claim,
        )
    share = d.percent(claim.share)
    share = (
        "fewer than 0.1 %" if claim.share < 0.001 else share if share.startswith("more") else f"about {share}"
    )
    return Said(
        f"{names.y} {d.entered(claim.y)} lies {where} ({d.figure(claim.in_s, 2)} s), {inside} the {level} interval: "
        f"{usual}; {share} of new cases would lie as far off.",
        claim,
    )
