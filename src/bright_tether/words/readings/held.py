"""What is said of the slope with other columns held."""

from __future__ import annotations

from bright_tether.claims.doubted import HeldDoubtsClaim, held_doubts_claim
from bright_tether.claims.held import (
    HeldClaim,
    PartialClaim,
    ToldApartClaim,
    UnseenClaim,
    held_claim,
    not_held_claim,
    partial_claim,
    told_apart_claim,
    unseen_claim,
)
from bright_tether.core.line.errors import NoErrors
from bright_tether.core.results import ConstantColumn, Refusal, TooFewPairs
from bright_tether.live.findings import Findings
from bright_tether.live.held import MOST_LEVELS, HeldConstant, HeldMany, HeldTold, NotHeld, NothingHeld
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.choices import ERROR_NAMES
from bright_tether.words.reading import Figure, Names, Reading, names_of
from bright_tether.words.readings.along import along_figures, along_headline, along_sentences
from bright_tether.words.readings.held_forecast import held_forecast_sentences
from bright_tether.words.readings.refused import refused
from bright_tether.words.readings.unanswered import not_answered
from bright_tether.words.said import Said, listed


def held_reading(findings: Findings) -> Reading:
    """The slope alone and held, what that comes to, and what it does not show."""
    if findings.refusal is not None:
        return refused(findings)
    try:
        line = findings.held_line
    except Refusal as found:
        none = Said(not_held(findings, found), not_held_claim(found))
        return Reading(headline=none, sentences=unseen_sentences(unseen_claim(findings), findings))
    names = names_of(findings.x_column, findings.y_column)
    claim, digits = held_claim(findings, line), findings.rules.digits
    held, partial, apart = line.held, partial_claim(line), told_apart_claim(line)
    if claim.exact:
        return _exact(claim, partial, apart, names, digits)
    finest = d.decimals_for(held.held.se_slope, digits, claim.slope)
    coarse = d.decimals_for(held.alone.se_slope, digits, claim.slope_alone)
    figures = (
        Figure(f"slope, {_with(claim)}", d.fixed(claim.slope, finest), d.between(held.held.ci_slope, finest)),
        Figure("slope, alone", d.fixed(claim.slope_alone, coarse), d.between(held.alone.ci_slope, coarse)),
        Figure("partial r", d.coefficient(partial.r, digits), d.p_value(partial.p)),
        Figure(f"partial r, {d.level_in_words(claim.level)}", d.between(held.partial_ci, digits)),
        Figure("inflation", d.figure(apart.inflation, digits), ""),
        *along_figures(findings),
    )
    return Reading(
        headline=along_headline(findings, listed(claim.names), slope_shown=claim.verdict not in ("gone", "neither"))
        or headline(claim, names, finest),
        sentences=(
            *_rows(claim), interval_sentence(claim, names, finest, coarse), verdict_sentence(claim, names),
            partial_sentence(partial, claim, digits), *along_sentences(findings),
            *held_forecast_sentences(findings), *_apart(apart, claim, names, digits),
            *unseen_sentences(unseen_claim(findings), findings),
            Said(
                f"This compares cases alike in {listed(claim.names)}; it shows no cause, and what was not measured is "
                "not held.", claim,
            ),
        ),
        figures=figures,
        beware=(*_beware(apart, claim, names, digits), *_doubted(held_doubts_claim(findings))),
    )  # fmt: skip


def _exact(
    claim: HeldClaim, partial: PartialClaim, apart: ToldApartClaim, names: Names, digits: int
) -> Reading:
    """The slope where nothing is left over once the columns are held."""
    held, adds = listed(claim.names), partial.r is not None
    size, way = d.figure(abs(claim.slope or 0.0), digits), "more" if (claim.slope or 0.0) > 0 else "less"
    goes = f"each {names.step_of_x(1)} goes with {names.in_y_change(size)} {way} {names.y}"
    source = listed((names.x, *claim.names)) if adds else held
    nothing = f"With every residual 0, intervals, tests and widths say nothing: is {names.y} worked out from {source}?"
    slope = Figure(f"slope, {_with(claim)}", d.figure(claim.slope, digits), "every residual 0")
    return Reading(
        headline=Said(
            f"With {held} held, every pair lies on one line: {goes if adds else f'{names.x} adds nothing'}.",
            claim,
        ),
        sentences=(*_rows(claim), Said(nothing, claim), *_apart(apart, claim, names, digits)),
        figures=(slope,) if adds else (),
    )


def not_held(findings: Findings, found: Refusal) -> str:
    """Why nothing is held, and what to do."""
    match found:
        case NothingHeld():
            return "No further column is held yet: choose one, and see what becomes of the slope."
        case NotHeld():
            return "Columns are held beside a plain line: take the weights off, or let the line have its own height."
        case HeldConstant(name=name):
            return f"“{name}” has one value in all rows in play, so there is nothing to hold: take it off."
        case HeldTold(name=""):
            x = findings.x_column.short
            return (
                f"What is held tells {x} entirely, so no slope of {x} is left: take one of the columns off."
            )
        case HeldTold(name=name):
            return f"The other columns tell “{name}” entirely: take one of them off."
        case HeldMany(name=name, found=many):
            most = f"a column of up to {MOST_LEVELS} can be held"
            return f"“{name}” has {d.grouped(many)} levels, and {most}: take it off, or make fewer of them."
        case TooFewPairs(needed=needed):
            return f"Holding these columns needs at least {needed} rows that have a value in each of them."
        case ConstantColumn():
            return (
                f"{findings.x_column.short} has one value in the rows that have a value in every held column."
            )
        case NoErrors(cause=code):
            return f"The errors in force have no value with these columns held: {cause(code)}."
    return "These columns cannot be held."


def headline(claim: HeldClaim, names: Names, finest: int) -> Said:
    """What y does for a step of x with the others held, where a slope is shown."""
    held = listed(claim.names)
    if claim.verdict in ("gone", "neither") or claim.slope is None:
        return Said(f"With {held} held, no slope of {names.x} is shown{_p(claim.p)}.", claim)
    way = "more" if claim.slope > 0 else "less"
    size = d.fixed(abs(claim.slope), finest)
    unit = f" {names.y_unit}" if names.y_unit else ""
    return Said(
        f"With {held} held, each {names.step_of_x(1)} goes with about {size}{unit} {way} {names.y}, on average.",
        claim,
    )


def interval_sentence(claim: HeldClaim, names: Names, finest: int, coarse: int) -> Said:
    """Both slopes with their intervals, on the same rows."""
    level = d.level_in_words(claim.level)
    held = _between(claim.low, claim.high, finest)
    alone = _between(claim.low_alone, claim.high_alone, coarse)
    kind = "" if claim.errors == "classical" else f" by {ERROR_NAMES[claim.errors]} errors"
    once = f"once held{_p(claim.p)}"
    return Said(
        f"With {level} confidence{kind} the slope lies {held} {once}, and {alone} alone, on the same "
        f"{d.count(claim.n, 'row')}.",
        claim,
    )


def verdict_sentence(claim: HeldClaim, names: Names) -> Said:
    """What holding them does to the slope."""
    held, share = listed(claim.names), d.percent(abs(claim.share or 0.0), 0)
    way = "smaller" if (claim.share or 0.0) > 0 else "larger"
    alone, once = _p(claim.p_alone), "is" if len(claim.names) == 1 else "are"
    words = {
        "keeps": f"Holding {held} leaves the slope much as it is: {share} {way}.",
        "shrinks": f"Holding {held} makes the slope {share} smaller.",
        "grows": f"Holding {held} makes the slope {share} larger.",
        "turns": f"Holding {held} turns the slope round: alone it has the other sign.",
        "gone": f"Alone a slope is shown{alone}, with {held} held it is not: that is not the same as no slope.",
        "appears": f"Alone no slope is shown{alone}; it is once {held} {once} held.",
        "neither": f"No slope is shown alone either{alone}.",
    }
    return Said(words[claim.verdict], claim)


def partial_sentence(partial: PartialClaim, claim: HeldClaim, digits: int) -> Said:
    """r of what is left of both."""
    r = d.relation("r", partial.r, digits)
    test = f"{d.p_value(partial.p)}, " if partial.p is not None else ""
    left = f"what {listed(claim.names)} {_leave(claim)} of both columns"
    return Said(f"Partial {r} ({test}{d.grouped(partial.df)} df): r of {left}.", partial)


def unseen_sentences(claim: UnseenClaim | None, findings: Findings) -> tuple[Said, ...]:
    """What something that was not measured would have to do, and what one like a measured column does."""
    if claim is None or not claim.shown:
        return ()
    x, y = findings.x_column.short, findings.y_column.short
    whole, doubt = d.percent(claim.to_nothing, 0), d.percent(claim.to_doubt, 0)
    by = "" if findings.tether.line.errors == "classical" else ", by classical errors"
    said = (
        Said(
            f"To explain the slope away, something unmeasured would have to take up {whole} of what is left of {x} and "
            f"of {y} alike; {doubt} would bring it into doubt at α = {d.entered(claim.alpha)}{by}.",
            claim,
        ),
    )
    if not claim.like:
        return said
    strength = f"{d.percent(claim.with_x, 0)} of {x} and {d.percent(claim.with_y, 0)} of {y}"
    half = claim.with_x is not None and claim.with_x >= 1  # it alone tells that of x
    both, them = (x, "it") if half else (f"{x} and {y}", "them")
    does = {
        "nothing left": f"One as strong again as {claim.like} ({strength}) would leave nothing of the slope.",
        "in doubt": f"One as strong again as {claim.like} ({strength}) would bring it into doubt.",
        "shown still": f"One as strong again as {claim.like} ({strength}) would not bring it into doubt.",
        "cannot be": f"{claim.like} goes with {both} so strongly that nothing more can go with {them} as strongly.",
    }[claim.does or "cannot be"]
    return (*said, Said(does, claim))


def _rows(claim: HeldClaim) -> tuple[Said, ...]:
    if not claim.lost:
        return ()
    have = "have" if claim.n != 1 else "has"
    words = f"{d.grouped(claim.n)} of {d.count(claim.n + claim.lost, 'pair')} {have} a value of {listed(claim.names)}; "
    return (Said(f"{words}both slopes are of these.", claim),)


def _apart(apart: ToldApartClaim, claim: HeldClaim, names: Names, digits: int) -> tuple[Said, ...]:
    """How much of x is told by what is held, where that is no matter of warning."""
    if apart.hardly:
        return ()
    share = d.percent(1 - apart.left, 0)
    inflation = d.figure(apart.inflation, digits)
    held = f"{listed(claim.names)} {_tell(claim)}"
    return (Said(f"Of the spread in {names.x}, {held} {share} (inflation {inflation}).", apart),)


def _beware(apart: ToldApartClaim, claim: HeldClaim, names: Names, digits: int) -> tuple[Said, ...]:
    if not apart.hardly:
        return ()
    share, inflation = d.percent(apart.left), d.figure(apart.inflation, digits)
    held = f"{listed(claim.names)} {'does' if len(claim.names) == 1 else 'do'}"
    return (
        Said(
            f"The slope rests on the {share} of the spread in {names.x} that {held} not tell (inflation {inflation}).",
            apart,
        ),
    )


def _doubted(claim: HeldDoubtsClaim | None) -> tuple[Said, ...]:
    return (
        ()
        if claim is None
        else (Said(not_answered(claim.names, f"the line with {listed(claim.columns)} held"), claim),)
    )


def _p(p: float | None) -> str:
    return "" if p is None else f" ({d.p_value(p)})"


def _with(claim: HeldClaim) -> str:
    return f"{listed(claim.names)} held"


def _leave(claim: HeldClaim) -> str:
    return "leaves" if len(claim.names) == 1 else "leave"


def _tell(claim: HeldClaim) -> str:
    return "tells" if len(claim.names) == 1 else "tell"


def _between(low: float | None, high: float | None, decimals: int) -> str:
    if low is None or high is None:
        return "nowhere that can be told"
    return f"between {d.between((low, high), decimals, 0.0, word=' and ')}"
