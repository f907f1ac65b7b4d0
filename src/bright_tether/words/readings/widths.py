"""What is said of the ways to find an interval for one case."""

from __future__ import annotations

from collections.abc import Sequence

from bright_tether.claims.rows import ChoiceClaim
from bright_tether.claims.widths import WidthsClaim, WidthToldClaim, width_told_claims, widths_claim
from bright_tether.core.widths import FEWEST, MOST_LEFT_OUT, WidthKind, Widths
from bright_tether.live.findings import Findings
from bright_tether.study.pins import Grid
from bright_tether.words import digits as d
from bright_tether.words.choices import WIDTHS
from bright_tether.words.reading import Figure, Names, Reading, names_of
from bright_tether.words.readings.refused import refused
from bright_tether.words.said import Said, capital, listed

#: The parts of x, lowest first, by how many there are; and what they are called in heads.
_PARTS: dict[int, tuple[str, ...]] = {0: (), 1: ("any",), 2: ("low", "high"), 3: ("low", "middle", "high")}
#: The same along a calendar.
_TIMES = {"any": "any", "low": "early", "middle": "middle", "high": "late"}
_SHORT = {"any": "any x", "low": "low x", "middle": "mid x", "high": "high x"}


def widths_reading(findings: Findings, found: Widths | None) -> Reading:
    """How wide each is and what it holds; before that is worked out, that it is not."""
    if findings.refusal is not None:
        return refused(findings)
    if findings.plain.exact:
        said = "Every pair lies on the line: there is no spread that an interval could follow."
        return Reading(headline=Said(said, ChoiceClaim(what="widths", value="exact")))
    if found is None:
        said = "How wide each interval is, and how often it holds, is being worked out."
        return Reading(headline=Said(said, ChoiceClaim(what="widths", value="not worked out")))
    claim, names = widths_claim(findings, found), names_of(findings.x_column, findings.y_column)
    each = width_told_claims(findings, found)
    return Reading(
        headline=_headline(claim, names),
        sentences=(
            *(_told(one, findings, names) for one in each),
            *_how(claim, found, findings, names),
            _in_force(findings),
        ),
        figures=tuple(_figure(one, findings) for one in each),
        beware=_beware(claim, findings),
    )


def _headline(claim: WidthsClaim, names: Names) -> Said:
    level = d.level_in_words(claim.level)
    if not claim.whole:
        said = "The look at what each interval for one case holds was stopped before its end."
    elif claim.verdict == "unknown":
        said = (
            f"How often each interval for one case holds what it promises was not looked at: that takes {FEWEST} to "
            f"{d.grouped(MOST_LEFT_OUT)} rows."
        )
    elif claim.verdict == "not shown":
        sign = "" if claim.p is None else f" ({d.p_value(claim.p)})"
        said = (
            f"That the spread follows {_follows(names)}the fitted value is not shown{sign}; nor is it shown that one "
            "spread holds everywhere."
        )
    elif claim.verdict == "keeps":
        said = (
            f"The spread follows {_truth(claim, names)} ({d.p_value(claim.p)}), yet intervals by one spread everywhere "
            f"still hold about {level} at {_at(names, _PARTS[claim.parts])}."
        )
    else:
        sides = (
            [f"too narrow at {_at(names, [_PARTS[claim.parts][part] for part in claim.narrow])}"]
            if claim.narrow
            else []
        )
        sides += (
            [f"too wide at {_at(names, [_PARTS[claim.parts][part] for part in claim.wide])}"]
            if claim.wide
            else []
        )
        said = (
            f"The spread follows {_truth(claim, names)} ({d.p_value(claim.p)}): {level} intervals by one spread "
            f"everywhere are {' and '.join(sides)}."
        )
    return Said(said, claim)


def _at(names: Names, parts: Sequence[str]) -> str:
    """Parts of x inside a sentence: low and middle turbidity, or early and late times."""
    if names.clock is not None:
        return f"{listed(_TIMES[part] for part in parts)} times"
    return f"{listed(parts)} {names.x}"


def _follows(names: Names) -> str:
    return "" if names.clock is not None else f"{names.x} or "


def _truth(claim: WidthsClaim, names: Names) -> str:
    return names.x if claim.truth == "power-x" else f"the fitted {names.y}"


def _told(claim: WidthToldClaim, findings: Findings, names: Names) -> Said:
    """One way: what it holds of the rows left out and of the cases drawn, by part of x."""
    held = listed(f"{d.grouped(inside)} of {d.grouped(rows)}" for inside, rows in claim.held)
    some = sum(rows for _, rows in claim.held) > 0
    parts = [f"of the rows left out it holds {held} at {_at(names, _PARTS[len(claim.held)])}"] if some else []
    if claim.simulated:
        shares = listed(d.percent(share) for share in claim.simulated)
        parts.append(f"of new cases drawn {shares}")
    if not parts:
        parts.append("what it holds was not looked at")
    return Said(f"{capital(way_in_words(claim, names))}: {'; '.join(parts)}.", claim)


def way_in_words(claim: WidthToldClaim, names: Names) -> str:
    """A way with its power."""
    if claim.power is None:
        return WIDTHS[claim.way]
    of = names.x if claim.way == "power-x" else f"fitted {names.y}"
    return f"spread by {of} to the power {d.fixed(claim.power, 2)}"


def _how(claim: WidthsClaim, found: Widths, findings: Findings, names: Names) -> tuple[Said, ...]:
    """How it was looked at."""
    said = []
    if claim.lots:
        each = (
            "each row by itself"
            if claim.lots == claim.n
            else f"the rows in {d.grouped(claim.lots)} lots along x"
        )
        shown = d.decimals_for(found.parts[-1] - found.parts[0], findings.rules.digits)
        thirds = listed(names.day_of(end) or d.fixed(end, shown) for end in found.parts)
        parts = _at(names, _PARTS[claim.parts])
        shares = f"; {parts} are thirds of the rows, as far as ties allow, up to {thirds}"
        shares = "" if claim.parts < 2 else shares
        said.append(
            Said(f"Left out was {each}, and held against an interval made without it{shares}.", claim)
        )
    if claim.samples:
        by = "one spread everywhere"
        if claim.power is not None:
            by = (
                f"a spread by {_truth(claim, names)} to the power {d.fixed(claim.power, 2)}, the likelier one"
            )
        said.append(Said(f"Drawn were {d.grouped(claim.samples)} samples on the same x from the line, with normal "
                         f"errors and {by}; seed 1.", claim))  # fmt: skip
    return tuple(said)


def _in_force(findings: Findings) -> Said:
    kind = findings.width_in_force
    claim = ChoiceClaim(what="width", value=kind or "another line")
    if kind is None:
        said = "In force is another line than those looked at here, which are plain or weighted by a power."
        return Said(said, claim)
    return Said(f"In force for every forecast: {WIDTHS[kind]}.", claim)


def _beware(claim: WidthsClaim, findings: Findings) -> tuple[Said, ...]:
    said = []
    if findings.case_decides:
        alike = "Rows of one case are alike: leaving rows out one by one flatters every interval here."
        said.append(Said(alike, claim))
    if claim.samples and claim.verdict != "unknown":
        said.append(Said("Cases were drawn with the spread that was fitted, so a way that fits the same spread is at "
                         "home there; the rows left out know nothing of that.", claim))  # fmt: skip
    return tuple(said)


def _figure(claim: WidthToldClaim, findings: Findings) -> Figure:
    return Figure(_short(claim.way), _ends(claim, findings), "")


def _short(way: WidthKind) -> str:
    return f"one case, {WIDTHS[way]}"


def _ends(claim: WidthToldClaim, findings: Findings) -> str:
    if claim.low is None or claim.high is None:
        return d.NONE
    shown = d.decimals_for((claim.high - claim.low) / 2, findings.rules.digits, claim.high)
    return d.between((claim.low, claim.high), shown)


def widths_grid(findings: Findings, found: Widths) -> Grid:
    """Each way: its interval at the first x, and what it holds in each part of x."""
    names = names_of(findings.x_way.source, findings.y_way.source)
    first = next(iter(findings.forecast_x), None)
    at = "" if first is None else f", {names.at_x(first, d.entered(first))}"
    rows = []
    for claim in width_told_claims(findings, found):
        cells = [WIDTHS[claim.way]]
        for inside, every in claim.held:
            shown = d.grouped(inside), d.grouped(every)
            of = d.worded(f"{shown[0]} of {shown[1]}", *shown, names=(", inside", ", rows"))
            cells.append(of if every else d.NONE)
        shares = [d.percent(share) for share in claim.simulated]
        cells += shares or [d.NONE] * len(claim.held)
        cells += [_ends(claim, findings), d.NONE if claim.power is None else d.fixed(claim.power, 3)]
        rows.append(tuple(cells))
    parts = [_SHORT[part] for part in _PARTS[len(found.parts)]]
    heads = ("interval by", *(f"left out, {part}" for part in parts), *(f"new, {part}" for part in parts),
             f"its ends{at}", "power")  # fmt: skip
    return Grid(title="Intervals for one case", heads=heads, rows=tuple(rows))
