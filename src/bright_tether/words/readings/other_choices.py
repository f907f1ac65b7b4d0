"""What is said of all the ways in which an analysis could have been made."""

from __future__ import annotations

from bright_tether.claims.other_choices import (
    MovedMostClaim,
    OtherChoicesClaim,
    RowsPathClaim,
    moved_most_claim,
    other_choices_claim,
    rows_path_claim,
)
from bright_tether.claims.rows import ChoiceClaim
from bright_tether.live.findings import Findings
from bright_tether.live.other_choices import MOST_WAYS, OtherChoices
from bright_tether.words import digits as d
from bright_tether.words.reading import Figure, Names, Reading, names_of
from bright_tether.words.readings.refused import refused
from bright_tether.words.said import Said, capital, listed
from bright_tether.words.ways import option_name

_MOVED = {"rows": "taking other rows", "scale": "another scale", "line": "another kind of line",
          "held": "holding columns", "weights": "other weights", "errors": "other errors",
          "coefficient": "another coefficient"}  # fmt: skip


def other_choices_reading(findings: Findings, found: OtherChoices | None) -> Reading:
    """How far the result hangs on what was chosen; before it is worked out, that it is not."""
    if findings.refusal is not None:
        return refused(findings)
    if found is None:
        waiting = ChoiceClaim(what="other_choices", value="not worked out")
        return Reading(headline=Said("Every other way to make this analysis is being worked out.", waiting))
    names, digits = names_of(findings.x_column, findings.y_column), findings.rules.digits
    claim, moved = other_choices_claim(found), moved_most_claim(found)
    path = rows_path_claim(findings, found)
    fine = _fine(claim, digits)
    return Reading(
        headline=headline(claim, names),
        sentences=(
            *_clear(claim, names), *_range(claim, names, fine), *_measures(claim), *_moved(findings, moved, fine),
            *_path(path, fine),
            *_counted(findings, found, claim),
            Said(
                "The ways share their data, so this is no vote and no test: it says how far the result hangs on what "
                "was chosen.", claim,
            ),
        ),
        figures=_figures(claim, fine),
    )  # fmt: skip


def _fine(claim: OtherChoicesClaim, digits: int) -> int:
    """Decimals that tell the ways apart as finely as the present interval allows; of coefficients as elsewhere."""
    if claim.what == "coefficient":
        return digits
    return d.decimals_of(claim.interval, digits, max(abs(claim.lowest or 0.0), abs(claim.highest or 0.0)))


def _ways(number: int) -> str:
    return d.count(number, "way")


def headline(claim: OtherChoicesClaim, names: Names) -> Said:
    """What all of them say together."""
    n = _ways(claim.ways)
    does, side = ("rises", "above") if claim.rising else ("falls", "below")
    alone = "There is one way alone: nothing here could have been chosen otherwise."
    if claim.failed or claim.left_out:
        alone = "Of the ways looked at, one alone has a value with an interval."
    words = {
        "none": "No way to make this analysis has a value with an interval.",
        "one way": alone,
        "clear throughout": (
            f"Whichever of {n} is taken, {names.y} {does} with {names.x}, and 0 lies outside the interval."
        ),
        "clear in part": (
            f"In {_every(claim)} {_value(claim, names)} comes out {side} 0; 0 lies outside the interval in "
            f"{d.grouped(claim.clear_rising + claim.clear_falling)} of them."
        ),
        "never clear": f"In none of {n} does 0 lie outside the interval.",
        "turns": (
            f"The direction hangs on what is chosen: {_value(claim, names)} comes out above 0 in "
            f"{d.grouped(claim.rising)} of {n} and below 0 in {d.grouped(claim.falling)}."
        ),
    }  # fmt: skip
    return Said(words[claim.verdict], claim)


def _clear(claim: OtherChoicesClaim, names: Names) -> tuple[Said, ...]:
    """In which direction, where the headline does not say it; and whether the present way is among the clear ones."""
    found = []
    if claim.verdict == "turns":
        found.append(
            f"0 lies outside the interval in {d.grouped(claim.clear_rising)} of the ways above 0, and in "
            f"{d.grouped(claim.clear_falling)} of those below."
        )
    if claim.verdict == "never clear":
        side = "above" if claim.rising else "below"
        if claim.rising or claim.falling:
            found.append(
                f"In {_every(claim)} {_value(claim, names)} comes out {side} 0; that no {_what(claim)} is shown is not "
                "that there is none."
            )
    if claim.verdict in ("turns", "clear in part") and claim.interval is not None:
        clear = claim.interval[0] > 0 or claim.interval[1] < 0
        found.append(f"In the present way 0 lies {'outside' if clear else 'within'} the interval.")
    return tuple(Said(one, claim) for one in found)


def _value(claim: OtherChoicesClaim, names: Names) -> str:
    return {"slope": "the slope", "coefficient": "the coefficient"}.get(
        claim.what, f"the change of {names.y} with {names.x}"
    )


def _every(claim: OtherChoicesClaim) -> str:
    many = max(claim.rising, claim.falling)
    return f"all {_ways(many)}" if many == claim.ways else f"{d.grouped(many)} of {_ways(claim.ways)}"


def _range(claim: OtherChoicesClaim, names: Names, fine: int) -> tuple[Said, ...]:
    """From the smallest value to the largest, with the present one between them."""
    if claim.ways < 2:
        return ()
    low, high = d.fixed(claim.lowest, fine), d.fixed(claim.highest, fine)
    if claim.what == "slope":
        what = f"The slope lies between {low} and {high}{_unit(names.slope_unit)} over all of them"
    elif claim.what == "coefficient":
        what = f"The coefficient lies between {low} and {high} over all of them"
    else:
        what = (
            f"From {_between(names, claim.first, claim.last)}, {names.y} changes by {low} to {high}"
            f"{_unit(names.y_unit)} over all of them"
        )
    if claim.value is None or claim.rank is None:
        return (Said(f"{what}; the present way is not among them.", claim),)
    own = d.between(claim.interval, fine)
    place = f"number {d.grouped(claim.rank)} of {d.grouped(claim.ways)} from the smallest"
    return (Said(f"{what}; the present way gives {d.fixed(claim.value, fine)} ({own}), {place}.", claim),)


def _what(claim: OtherChoicesClaim) -> str:
    return "correlation" if claim.what == "coefficient" else "slope"


def _measures(claim: OtherChoicesClaim) -> tuple[Said, ...]:
    """τ among the others."""
    if not claim.measures:
        return ()
    said = (
        "Kendall’s τ is on a measure of its own, smaller in size than r and ρ for the same relationship: against them, "
        "compare its sign and whether 0 lies outside."
    )
    return (Said(said, claim),)


def _between(names: Names, first: float, last: float) -> str:
    """The x between which y is compared: days, or values with their unit."""
    if names.clock is not None:
        return f"{names.day_of(first)} to {names.day_of(last)}"
    low, high = (d.entered(float(f"{one:.4g}")) for one in (first, last))
    return f"{low} to {high}{_unit(names.x_unit)} of {names.x}"


def _unit(unit: str | None) -> str:
    return f" {unit}" if unit else ""


def _moved(findings: Findings, claim: MovedMostClaim | None, fine: int) -> tuple[Said, ...]:
    if claim is None:
        return ()
    option = option_name(findings, claim.axis, claim.option)
    what = _MOVED[claim.axis]
    far = f"from {d.fixed(claim.present, fine)} to {d.fixed(claim.value, fine)}"
    return (Said(f"Of single choices, {what} moves it most: {far} ({option}).", claim),)


def _path(claim: RowsPathClaim | None, fine: int) -> tuple[Said, ...]:
    """What setting rows aside, or deciding by another coefficient, did, and whether after results were seen."""
    if claim is None:
        return ()
    rows, coefficient = "setting rows aside", "deciding by another coefficient"
    if claim.reasons and claim.decided:
        both = f"{rows} and {coefficient}, both after results were seen,"
        did = both if claim.later else f"{rows} and, after results were seen, {coefficient}"
    else:
        seen = ", after results were seen," if claim.later or claim.decided else ""
        did = f"{rows if claim.reasons else coefficient}{seen}"
    far = f"from {d.fixed(claim.before, fine)} to {d.fixed(claim.after, fine)}"
    return (Said(f"{capital(did)} led {far}; the path is drawn through the ways.", claim),)


def _counted(findings: Findings, found: OtherChoices, claim: OtherChoicesClaim) -> tuple[Said, ...]:
    """What was left out, what failed, and what was not worked out."""
    sentences = []
    if found.left_out:
        names = [option_name(findings, *one.split("=", 1)) for one in found.left_out if _known(findings, one)]
        if names:
            claimed = ChoiceClaim(what="left_out", value=str(len(names)))
            sentences.append(Said(f"Left out by choice: {listed(names)}.", claimed))
    if claim.failed:
        lack = "has" if claim.failed == 1 else "have"
        sentences.append(Said(f"{d.count(claim.failed, 'more way')} {lack} no value or no interval.", claim))
    if claim.more:
        sentences.append(
            Said(
                f"There would be more than {d.grouped(MOST_WAYS)}: leave some choices out to see the rest.",
                claim,
            )
        )
    return tuple(sentences)


def _known(findings: Findings, one: str) -> bool:
    """Whether an option that was left out is still one."""
    axis, option = one.split("=", 1)
    try:
        option_name(findings, axis, option)
    except (KeyError, ValueError):
        return False
    return axis != "held" or any(cell.short in option for cell in findings.held_cells)


def _figures(claim: OtherChoicesClaim, fine: int) -> tuple[Figure, ...]:
    if not claim.ways:
        return ()
    return (
        Figure("ways", d.grouped(claim.ways)),
        Figure("lowest", d.fixed(claim.lowest, fine)),
        Figure("highest", d.fixed(claim.highest, fine)),
        Figure("the present way", d.fixed(claim.value, fine), d.between(claim.interval, fine)),
        Figure("0 outside the interval", d.grouped(claim.clear_rising + claim.clear_falling)),
    )
