"""The table of slopes with other columns held."""

from __future__ import annotations

from bright_tether.claims.along import along_of, slope_along_claim
from bright_tether.claims.held import held_of
from bright_tether.core.line.held import HeldSlope
from bright_tether.live.findings import Findings
from bright_tether.live.held import HeldTerm
from bright_tether.study.pins import Grid
from bright_tether.words import digits as d
from bright_tether.words.readings.along import decimals_along, place_name

HEADS = ("slope of", "slope", "se", "interval", "t", "df", "p", "inflation")


def held_grid(findings: Findings) -> Grid | None:
    """x alone, x with the others held, and the others beside it; None where nothing is held."""
    line = held_of(findings)
    if line is None:
        return None
    held, digits, x = line.held, findings.rules.digits, findings.x_column.name
    alone = held.alone
    fine = d.decimals_for(alone.se_slope, digits, held.slope_alone)
    rows = [
        (f"{x}, alone", d.fixed(held.slope_alone, fine), d.figure(alone.se_slope, digits),
         d.between(alone.ci_slope, fine), d.figure(alone.t_slope, digits), d.grouped(held.df_alone),
         d.p_value(alone.p_slope), d.NONE),
        _row(f"{x}, others held", held.held, digits),
        *(_row(_name(term), slope, digits) for term, slope in zip(line.terms, held.terms, strict=True)),
    ]  # fmt: skip
    return Grid(title="Slopes held", heads=HEADS, rows=tuple(rows), strong=1)


def along_grid(findings: Findings) -> Grid | None:
    """The slopes at places along a column; None where none is chosen."""
    line = along_of(findings) if findings.refusal is None else None
    if line is None:
        return None
    digits, claim = findings.rules.digits, slope_along_claim(line, findings.rules.alpha)
    fine = decimals_along(line, digits)
    rows = [
        (place_name(line, at), d.fixed(at.slope, fine), d.figure(one.slope.se_slope, digits),
         d.between(one.slope.ci_slope, fine), d.grouped(one.slope.df))
        for at, one in zip(claim.at, line.along.places, strict=True)
    ]  # fmt: skip
    heads = (f"at this {line.short}", "slope", "se", "interval", "df")
    return Grid(title=f"Slope along {line.short}", heads=heads, rows=tuple(rows))


def _name(term: HeldTerm) -> str:
    return f"{term.name}: {term.level} against {term.reference}" if term.level else term.name


def _row(name: str, one: HeldSlope, digits: int) -> tuple[str, ...]:
    fine = d.decimals_for(one.se_slope, digits, one.slope)
    return (name, d.fixed(one.slope, fine), d.figure(one.se_slope, digits), d.between(one.ci_slope, fine),
            d.figure(one.t_slope, digits), d.grouped(one.df), d.p_value(one.p_slope),
            d.figure(one.inflation, digits))  # fmt: skip
