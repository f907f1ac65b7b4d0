"""What may be said where several rows are of one case."""

from __future__ import annotations

from typing import ClassVar

from bright_tether.claims.claim import Claim
from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings


class CasesClaim(Claim, frozen=True, kw_only=True):
    """Rows in play of fewer cases. most : rows of the largest case. decide : whether errors by case are in force.

    r_all : of all rows; r_within : of values taken from their case's mean, p_within its two-sided p on df_within;
    r_between : of the means of cases. parts : left out in turn where cases decide, each a case unless these are many;
    low, high : the interval of r by case at the level then.
    """

    kind: ClassVar[str] = "cases"
    column: str
    rows: int
    cases: int
    most: int
    decide: bool
    r_all: float | None
    r_within: float | None
    p_within: float | None
    df_within: int
    r_between: float | None
    p_between: float | None
    parts: int | None
    low: float | None
    high: float | None
    level: float


class WithinSlopeClaim(Claim, frozen=True, kw_only=True):
    """One slope within cases, each at its own height. turns : shown to go the other way than the line of all rows."""

    kind: ClassVar[str] = "within_slope"
    slope: float
    low: float
    high: float
    level: float
    df: int
    turns: bool


class KnownCaseClaim(Claim, frozen=True, kw_only=True):
    """A further row of a case that is known, from its own level and the slope within cases. rows : it has already."""

    kind: ClassVar[str] = "known_case"
    case: str
    rows: int
    x: float
    value: float
    low: float
    high: float
    level: float
    df: int


def cases_claim(findings: Findings) -> CasesClaim | None:
    """Rows and cases, where a column says which rows are one case and some are."""
    try:
        story, column = findings.case_story, findings.case_column
    except Refusal:
        return None
    if story is None or column is None:
        return None
    by_case = findings.by_case
    low, high = (by_case.pearson.ci if by_case is not None else None) or (None, None)
    return CasesClaim(
        column=column.short, rows=story.rows, cases=story.cases, most=story.most,
        decide=by_case is not None, parts=None if by_case is None else by_case.parts, low=low, high=high,
        level=findings.rules.level, r_all=findings.pearson.r, r_within=story.r_within,
        p_within=story.p_within, df_within=story.df_within, r_between=story.r_between, p_between=story.p_between,
    )  # fmt: skip


def within_slope_claim(findings: Findings) -> WithinSlopeClaim | None:
    """The slope within cases, where cases are told and it has an interval."""
    if cases_claim(findings) is None or findings.common_groups != findings.tether.line.cluster:
        return None
    found = findings.common_slope
    if found.slope is None or found.ci_slope is None:
        return None
    low, high = found.ci_slope
    turns = (low > 0 or high < 0) and found.slope * (findings.line.slope or 0.0) < 0
    return WithinSlopeClaim(
        slope=found.slope, low=low, high=high, level=findings.rules.level, df=found.df, turns=turns
    )


def known_case_claim(findings: Findings, x: float) -> KnownCaseClaim | None:
    """What a further row of the case chosen for forecasts is expected to be at an x, on the line's scale."""
    found, case = findings.known_case(x), findings.tether.forecast.case
    if found is None:
        return None
    low, high = found.pi
    return KnownCaseClaim(case=case, rows=found.rows, x=x, value=found.fitted, low=low, high=high,
                          level=findings.rules.level, df=found.df)  # fmt: skip
