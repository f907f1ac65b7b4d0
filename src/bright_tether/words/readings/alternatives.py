"""Other lines in words: what each slope says, in the analyst's own columns."""

from __future__ import annotations

import math

from bright_tether.claims.decision import step_of
from bright_tether.live.alternatives import MOST_PAIRS, Alternative
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.reading import names_of, there
from bright_tether.words.said import listed

ALTERNATIVE_NAMES = {
    "plain": "plain",
    "origin": "through the origin",
    "weights": "weights 1/x",
    "theil-sen": "resistant (Theil–Sen)",
    "mm": "resistant (MM, biweight)",
    "repeated-median": "repeated medians",
    "deming": "errors in both (Deming)",
    "second-degree": "second degree",
    "log-both": "log of both",
    "log-x": "log of x",
    "log-y": "log of y",
    "root-y": "root of y",
    "reciprocal-x": "reciprocal of x",
}


#: An elasticity beyond this is a factor and no percentage; and powers of ten that no double holds, nearly.
_STEEP, _FAR = 500, 300


def _power(log: float, digits: int) -> str:
    """Ten to a power, of which no double may hold the value."""
    return d.figure(10**log, digits) if abs(log) < _FAR else f"10 to the power {d.figure(log, digits)}"


def what_it_says(findings: Findings, one: Alternative) -> str:
    """One alternative's slope, carried back to x and y."""
    names, digits = names_of(findings.x_column, findings.y_column), findings.rules.digits
    if one.slope is None:
        return "no single slope"
    slope, step = one.slope, step_of(findings)
    size, more = d.figure(abs(slope), digits), "more" if slope >= 0 else "less"
    each = f"each {names.step_of_x(step)}"
    if one.meaning == "elasticity":
        if abs(slope) > _STEEP:
            return f"1 % more {names.x} goes with {names.y} times {_power(slope * math.log10(1.01), digits)} (median)"
        return f"1 % more {names.x} goes with {d.signed(100 * (1.01**slope - 1), 2)} % {names.y} (median)"
    if one.meaning == "per tenfold x":
        return f"ten times the {names.x} goes with {names.in_y_change(size)} {more} {names.y}"
    if one.meaning == "factor":
        return f"{each} goes with {names.y} times {_power(slope * step, digits + 1)} (median)"
    if one.meaning == "root":
        return f"{each} goes with {d.figure(abs(slope * step), digits)} {more} of the root of {names.y}"
    if one.meaning == "reciprocal":
        return f"each extra unit of 1/{names.x} goes with {size} {more} {names.y}"
    return f"{each} goes with {names.in_y_change(d.figure(abs(slope * step), digits))} {more} {names.y}"


def left_out(n: int) -> str:
    """Which lines are not among the others, since there are so many pairs; nothing where all are."""
    from bright_tether.core.line.resistant import MOST_ROWS

    limits = {"the resistant lines": MOST_PAIRS, "repeated medians": MOST_ROWS}
    missing = [f"{name} (told up to {d.grouped(most)} rows)" for name, most in limits.items() if n > most]
    return f"Not here, of so many rows: {listed(missing)}." if missing else ""


def change_sentence(findings: Findings, delta: float) -> str:
    """What a change of this size in x goes with, with its interval."""
    names, digits = names_of(findings.x_column, findings.y_column), findings.rules.digits
    change, by = there(findings.line.slope) * delta, findings.coefficients
    ends = sorted(end * delta for end in by.ci_slope or ())
    if not all(map(math.isfinite, (change, *ends))):
        return "What goes with such a change lies beyond what double precision can hold: give a smaller one."
    finest = d.decimals_for(None if by.se_slope is None else abs(by.se_slope * delta), digits, change)
    more = "more" if change >= 0 else "less"
    size = names.in_y_change(d.fixed(abs(change), finest))
    by_x = f"{names.in_x(d.entered(delta))} in {names.x}"
    said = f"A change of {by_x} goes with {size} {more} {names.y}, on average"
    if by.ci_slope is None:
        return f"{said}."
    return f"{said} ({d.between((ends[0], ends[1]), finest)}, {d.level_in_words(findings.line.level)})."
