"""Several rows of one case, in words."""

from __future__ import annotations

from bright_tether.claims.cases import CasesClaim, KnownCaseClaim, WithinSlopeClaim
from bright_tether.words import digits as d
from bright_tether.words.reading import Names
from bright_tether.words.said import Said, listed


def cases_sentence(claim: CasesClaim | None, digits: int) -> tuple[Said, ...]:
    """How many cases there are, and r of all rows, within cases, and of their means."""
    if claim is None:
        return ()
    parts = [f"r of all rows is {d.coefficient(claim.r_all, digits)}{_ends(claim, digits)}"]
    parts = parts if claim.r_all is not None else []
    if claim.r_within is not None:
        by_rows = f" ({d.p_value(claim.p_within)} by rows, {d.grouped(claim.df_within)} df)"
        p = by_rows if claim.p_within is not None else ""
        parts.append(f"within cases {d.coefficient(claim.r_within, digits)}{p}")
    if claim.r_between is not None:
        parts.append(f"of the means of cases {d.coefficient(claim.r_between, digits)}")
    stories = f": {listed(parts)}" if len(parts) > 1 else ""
    return (Said(f"{counts_words(claim)}{stories}.", claim),)


def counts_words(claim: CasesClaim) -> str:
    """The rows are so many cases."""
    rows, cases = d.count(claim.rows, "row"), d.count(claim.cases, "case")
    return f"The {rows} are of {cases} ({claim.column}), up to {d.grouped(claim.most)} each"


def deciding_sentence(claim: CasesClaim | None) -> tuple[Said, ...]:
    """That cases decide, not rows."""
    if claim is None or not claim.decide:
        return ()
    cases = d.count(claim.cases, "case")
    df = d.grouped(claim.cases - 1)
    return (
        Said(f"{counts_words(claim)}; {cases} decide, so the slope’s test and interval have {df} df.", claim),
    )


def judged_sentence(claim: CasesClaim | None) -> tuple[Said, ...]:
    """How coefficients are judged where cases decide."""
    if claim is None or claim.parts is None:
        return ()
    cases = d.count(claim.cases, "case")
    if claim.low is None:
        return (Said(f"{cases} decide: the test of r is that of the slope by case.", claim),)
    whole = claim.parts == claim.cases
    turns = (
        "one case after another" if whole else f"one of {d.grouped(claim.parts)} sets of cases after another"
    )
    return (
        Said(f"{cases} decide: the intervals of r, ρ and τ rest on what each is with {turns} "
             "left out, and the test of r is that of the slope by case.", claim),
    )  # fmt: skip


def by_rows_sentence(claim: CasesClaim | None, *counted: str) -> tuple[Said, ...]:
    """What still counts rows where cases decide. counted : each with its article, as it stands in a sentence."""
    if claim is None or not claim.decide or not counted:
        return ()
    those = listed(counted)
    takes = "takes" if len(counted) == 1 else "take"
    it = "it" if len(counted) == 1 else "they"
    return (
        Said(f"{those[:1].upper()}{those[1:]} {takes} each row for a case of its own: {it} may promise more than "
             f"{d.count(claim.cases, 'case')} can.", claim),
    )  # fmt: skip


def _ends(claim: CasesClaim, digits: int) -> str:
    """The interval of r by case, where there is one."""
    if claim.low is None or claim.high is None:
        return ""
    return f" ({d.coefficients((claim.low, claim.high), digits)} by case, {d.level_in_words(claim.level)})"


def within_slope_sentence(claim: WithinSlopeClaim | None, names: Names, digits: int) -> tuple[Said, ...]:
    """The slope that cases share."""
    if claim is None:
        return ()
    shown = d.decimals_for((claim.high - claim.low) / 4, digits, claim.slope)
    ends = d.between((claim.low, claim.high), shown)
    unit = f" {names.slope_unit}" if names.slope_unit else ""
    turns = "it turns round: " if claim.turns else ""
    return (
        Said(f"Within cases, each at its own height, {turns}the slope is {d.fixed(claim.slope, shown)}{unit} ({ends}, "
             f"{d.level_in_words(claim.level)}).", claim),
    )  # fmt: skip


def known_case_sentence(claim: KnownCaseClaim | None, names: Names, digits: int) -> tuple[Said, ...]:
    """A further row of a known case, told apart from a new case."""
    if claim is None:
        return ()
    shown = d.decimals_for((claim.high - claim.low) / 4, digits, claim.value)
    ends = d.between((claim.low, claim.high), shown)
    return (
        Said(
            f"A further row of {claim.case} ({d.count(claim.rows, 'row')} so far) is expected there at "
            f"{names.in_y(d.fixed(claim.value, shown))} ({ends}, {d.level_in_words(claim.level)}), from its own level "
            "and the slope within cases; the interval above is for a new case.",
            claim,
        ),
    )
