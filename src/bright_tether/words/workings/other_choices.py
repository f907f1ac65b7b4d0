"""By which rules the ways of making an analysis are put together."""

from __future__ import annotations

from bright_tether.core.strength.bent import MOST as MOST_BENT
from bright_tether.live.findings import Findings
from bright_tether.live.other_choices import OtherChoices
from bright_tether.live.ways import FAR, FEWEST, PULL
from bright_tether.words import digits as d
from bright_tether.words.reading import Step, Working
from bright_tether.words.ways import AXIS_NAMES, option_name

_RULES = {
    "rows": (
        "those in play; every row; without those that a rule takes out once, by the plain line of every row: residuals "
        f"beyond their fences, |studentised| beyond {FAR:g}, Cook’s distance beyond {PULL:g}/n; rows that come out the "
        "same count once"
    ),
    "scale": "as they are, or logarithms of what lies above 0; no logarithm of dates and of degrees of warmth",
    "line": "resistant lines and errors in both: without weights and held columns, y as it is",
    "weights": "with least squares, columns as they are, nothing held",
    "held": "each column held and all together, with least squares, y as it is",
    "errors": (
        "those in force, classical and HC3 with least squares; other lines have their own; by case where cases decide"
    ),
}
_OF_COEFFICIENTS = {
    "scale": "as they are, or logarithms of what lies above 0; ranks are the same on every scale and stand once",
    "coefficient": (
        f"the one that decides, r, ρ, τ; r with far values bent, of {d.grouped(MOST_BENT)} pairs at most, not by case"
    ),
    "held": "each column held and all together, with r: partial r; not where cases decide",
}


def other_choices_working(findings: Findings, found: OtherChoices | None) -> Working:
    """Each choice with its rule and its options; every combination that the rules allow is one way."""
    if found is None:
        return Working("Which ways there are", ())
    steps = []
    rules = _RULES | (_OF_COEFFICIENTS if found.what == "coefficient" else {})
    for axis, options in found.axes:
        named = ", ".join(option_name(findings, axis, one) for one in options)
        steps.append(Step(AXIS_NAMES[axis], rules[axis], named))
    how = f"every combination that goes together, with {FEWEST} pairs at least"
    steps.append(Step("ways", how, d.grouped(len(found.ways))))
    return Working("Which ways there are", tuple(steps))
