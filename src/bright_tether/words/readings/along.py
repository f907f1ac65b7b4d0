"""What is said of a slope that is let differ along another column."""

from __future__ import annotations

from bright_tether.claims.along import AtPlaceFact, SlopeAlongClaim, along_of, slope_along_claim
from bright_tether.claims.held import NotHeldClaim
from bright_tether.live.findings import Findings
from bright_tether.live.held import AlongLine
from bright_tether.words import digits as d
from bright_tether.words.reading import Figure, Names, names_of, singular
from bright_tether.words.said import Said, listed

#: Levels that are told in a sentence; a table holds the rest.
_TOLD = 4


def along_sentences(findings: Findings) -> tuple[Said, ...]:
    """Whether it differs, and what it is at places; none where no column is chosen, that where it cannot be told."""
    line = along_of(findings)
    if line is None:
        chosen = next((one for one in findings.held_cells if one.id == findings.held_along), None)
        none = NotHeldClaim(why="told by the others", name="" if chosen is None else chosen.name)
        words = f"Whether the slope differs along {none.name} cannot be told from these rows."
        return () if chosen is None else (Said(words, none),)
    claim, names = (
        slope_along_claim(line, findings.rules.alpha),
        names_of(findings.x_column, findings.y_column),
    )
    fine = decimals_along(line, findings.rules.digits)
    return _test(claim, line, names, fine), _places(claim, line, names, fine)


def along_headline(findings: Findings, held: str, *, slope_shown: bool) -> Said | None:
    """The slope where it is lowest and highest, where one for all would tell nothing or hide that it turns round."""
    line = along_of(findings)
    if line is None:
        return None
    claim = slope_along_claim(line, findings.rules.alpha)
    alone = claim.verdict == "differs" and bool(claim.shown) and not slope_shown
    if not claim.turns and not alone:
        return None
    names, fine = names_of(findings.x_column, findings.y_column), decimals_along(line, findings.rules.digits)
    ends = (claim.shown[0], claim.shown[-1])[-len(claim.shown) :]
    unit = f" {names.slope_unit}" if names.slope_unit else ""
    slopes = listed(f"{d.fixed(one.slope, fine)}{unit} {_where(line, one)}" for one in ends)
    return Said(f"With {held} held, the slope of {names.x} differs along {claim.along}: {slopes}.", claim)


def _where(line: AlongLine, one: AtPlaceFact) -> str:
    return f"{'at' if one.place is not None else 'in'} {place_name(line, one)}"


def along_figures(findings: Findings) -> tuple[Figure, ...]:
    """The test of one slope for all."""
    line = along_of(findings)
    if line is None:
        return ()
    claim = slope_along_claim(line, findings.rules.alpha)
    name = f"one slope along {claim.along}, F ({claim.df1}, {d.grouped(claim.df2)})"
    return (Figure(name, d.figure(claim.f, findings.rules.digits), d.p_value(claim.p)),)


def decimals_along(line: AlongLine, digits: int) -> int:
    """Decimals of the slopes at places, as finely as the sharpest of them allows."""
    errors = [one.slope.se_slope for one in line.along.places if one.slope.se_slope]
    largest = max((abs(one.slope.slope or 0.0) for one in line.along.places), default=0.0)
    return d.decimals_for(min(errors, default=None), digits, largest)


def _test(claim: SlopeAlongClaim, line: AlongLine, names: Names, fine: int) -> Said:
    test = f" ({d.p_value(claim.p)})" if claim.p is not None else ""
    if claim.verdict == "not shown":
        return Said(
            f"That the slope of {names.x} differs along {claim.along} is not shown{test}; that is not the same as one "
            "slope for all.", claim,
        )  # fmt: skip
    if claim.difference is None:
        words = f"The slope of {names.x} differs between the levels of {claim.along}{test}."
        return Said(
            words if claim.verdict == "differs" else f"Every row lies on the lines by {claim.along}.", claim
        )
    way = "larger" if claim.difference > 0 else "smaller" if claim.difference < 0 else "the same"
    unit = f" {names.slope_unit}" if names.slope_unit else ""
    step = f"{singular(line.unit)} of {claim.along}" if line.unit else f"unit of {claim.along}"
    size = d.figure(abs(claim.difference), 3)
    return Said(
        f"The slope of {names.x} differs along {claim.along}: for each {step} more it is {size}{unit} {way}{test}.",
        claim,
    )


def place_name(line: AlongLine, at: AtPlaceFact) -> str:
    """Where a slope is told: a value with its unit, or a level."""
    if at.place is None:
        return at.level or "(blank)"
    unit = f" {line.unit}" if line.unit else ""
    return f"{d.entered(float(f'{at.place:.4g}'))}{unit}"


def _places(claim: SlopeAlongClaim, line: AlongLine, names: Names, fine: int) -> Said:
    """The slopes at low, middle and high values, or in each level."""
    slopes = [
        f"{d.fixed(one.slope, fine)} ({_between(one, fine)}) {_where(line, one)}" for one in claim.at[:_TOLD]
    ]
    more = f", and {d.count(len(claim.at) - _TOLD, 'more level')}" if len(claim.at) > _TOLD else ""
    unit = f", {names.slope_unit}," if names.slope_unit else ""
    where = f"at low, middle and high {claim.along}" if claim.at[0].place is not None else f"by {claim.along}"
    return Said(f"The slope{unit} {where}: {listed(slopes)}{more}.", claim)


def _between(one: AtPlaceFact, fine: int) -> str:
    return d.NONE if one.low is None or one.high is None else d.between((one.low, one.high), fine)
