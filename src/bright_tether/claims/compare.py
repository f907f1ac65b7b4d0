"""What may be said of lines side by side."""

from __future__ import annotations

from typing import ClassVar, Literal

from bright_tether.claims.claim import Claim
from bright_tether.claims.decision import Outcome, outcome_of
from bright_tether.core.checks.added import FTest
from bright_tether.core.compare.differences import Difference
from bright_tether.core.compare.groups import Group, with_lines
from bright_tether.core.compare.spreads import spreads
from bright_tether.core.results import Cause
from bright_tether.live.comparison import Comparison
from bright_tether.live.findings import Findings

#: Groups that scatter this many times as widely are not pooled.
_WIDER = 1.5
RungVerdict = Literal["a line each", "parallel", "one line"]


class DifferenceClaim(Claim, frozen=True, kw_only=True):
    """The difference that was asked for, by the one test that decides it.

    what : "slope". a, b : the two lines, a less b; None for three or more, whose test is the F of one common
    slope on `df` and `df2`. why : what keeps it from having a value. cases : how many, where what a case adds to
    all lines is taken together.
    """

    kind: ClassVar[str] = "difference"
    what: str
    a: str | None
    b: str | None
    lines: int
    estimate: float | None
    low: float | None
    high: float | None
    level: float
    alpha: float
    test: Literal["separate", "same_rows", "by_case", "parallel"]
    statistic: float | None
    df: float | None
    df2: float | None
    p: float | None
    outcome: Outcome
    why: Cause | None
    cases: int | None = None


class EquivalenceClaim(Claim, frozen=True, kw_only=True):
    """Whether the slopes are shown to lie within a margin of each other. differ : whether they are shown to differ.

    beyond : the interval of their difference lies wholly beyond the margin.
    """

    kind: ClassVar[str] = "equivalence"
    margin: float
    p: float | None
    shown: bool
    basis: Literal["separate", "same_rows", "by_case"]
    differ: bool
    beyond: bool


class RungsClaim(Claim, frozen=True, kw_only=True):
    """How many lines are needed by the F tests, on one common spread or, by_case, on errors by case. parts : the F
    comes out otherwise than the test that decides. uneven : one of two lines scatters so much more widely than the
    other that one spread for both is no basis.
    """

    kind: ClassVar[str] = "rungs"
    verdict: RungVerdict
    f: float
    df1: int
    df2: int
    p: float
    f_height: float | None
    p_height: float | None
    df1_height: int | None
    df2_height: int | None
    parts: bool
    errors: str
    alpha: float
    by_case: bool
    uneven: bool


class SpreadsClaim(Claim, frozen=True, kw_only=True):
    """Three or more lines are shown to scatter unevenly, where F takes one spread for all and decides."""

    kind: ClassVar[str] = "spreads"
    narrow: str
    wide: str
    s_narrow: float
    s_wide: float
    chi2: float
    df: int
    p: float
    alpha: float


class CorrelationsClaim(Claim, frozen=True, kw_only=True):
    """Two correlations held against each other: of separate rows, of the same rows, or by_case."""

    kind: ClassVar[str] = "correlations"
    a: str
    b: str
    r_a: float | None
    r_b: float | None
    test: Literal["z", "t"]
    statistic: float
    df: int | None
    p: float
    outcome: Outcome
    by_case: bool = False


class WhichTestClaim(Claim, frozen=True, kw_only=True):
    """Which test decides and why. rows_are : what a row is taken for; said : whether the analyst said so.

    ratio : the wider scatter over the narrower, of two groups. shared : of so many cases, those with rows in both.
    """

    kind: ClassVar[str] = "which_test"
    rows_are: str | None
    said: bool
    ratio: float | None
    wide: bool
    cases: int | None = None
    shared: int | None = None


class NoLineClaim(Claim, frozen=True, kw_only=True):
    """A group without a line, or with one that has no error."""

    kind: ClassVar[str] = "no_line"
    name: str
    n: int
    line: bool
    why: Cause


class UnitsClaim(Claim, frozen=True, kw_only=True):
    """Lines in different units: correlations alone are compared."""

    kind: ClassVar[str] = "units_differ"
    a: str
    b: str


def deciding(comparison: Comparison) -> Difference | None:
    """The difference of slopes that decides."""
    if comparison.decides == "same_rows" and comparison.same_rows is not None:
        return comparison.same_rows.slope
    if comparison.decides == "by_case" and comparison.by_case is not None:
        return comparison.by_case.slopes
    return comparison.slopes.separate if comparison.slopes else None


def difference_claim(findings: Findings, comparison: Comparison) -> DifferenceClaim:
    """Whether the slopes differ."""
    lined, one, alpha = with_lines(comparison.groups), deciding(comparison), findings.rules.alpha
    level, by_case = findings.rules.level, comparison.by_case
    if len(lined) > 2:
        rungs = comparison.ladder.parallel if by_case is None else by_case.parallel
        return DifferenceClaim(
            what="slope", a=None, b=None, lines=len(lined), estimate=None, low=None, high=None, level=level,
            alpha=alpha, test="parallel", statistic=rungs.f, df=rungs.df1, df2=rungs.df2, p=rungs.p,
            outcome=outcome_of(rungs.p, alpha), why=rungs.why.get("p"),
            cases=None if by_case is None else by_case.cases,
        )  # fmt: skip
    a, b = spoken(findings, comparison)
    if one is None or comparison.units_differ:
        return DifferenceClaim(
            what="slope", a=a, b=b, lines=2, estimate=None, low=None, high=None, level=level, alpha=alpha,
            test=comparison.decides, statistic=None, df=None, df2=None, p=None, outcome="no test",
            why=Cause.UNITS_DIFFER if comparison.units_differ else Cause.NOT_TWO_GROUPS,
        )  # fmt: skip
    low, high = one.ci or (None, None)
    return DifferenceClaim(
        what="slope", a=a, b=b, lines=2, estimate=one.difference, low=low, high=high, level=level, alpha=alpha,
        test=comparison.decides, statistic=one.t, df=one.df, df2=None, p=one.p, outcome=outcome_of(one.p, alpha),
        why=one.why.get("p"), cases=by_case.cases if by_case and comparison.decides == "by_case" else None,
    )  # fmt: skip


def spoken(findings: Findings, comparison: Comparison) -> tuple[str, str]:
    """What two lines are called in a sentence; responses without their unit, where they are still two names then."""
    first, second = (group.name for group in with_lines(comparison.groups))
    if comparison.source == "responses" and findings.second is not None:
        short = findings.y_column.short, findings.second.short
        return short if short[0] != short[1] else (first, second)
    return first, second


def equivalence_claim(comparison: Comparison, difference: DifferenceClaim) -> EquivalenceClaim | None:
    """Equivalence by the test that decides."""
    found = comparison.equivalence
    if found is None or found.p is None:
        return None
    return EquivalenceClaim(margin=found.margin, p=found.p, shown=bool(found.equivalent), basis=found.basis,
                            differ=difference.outcome == "rejected",
                            beyond=_beyond(difference, found.margin))  # fmt: skip


def _beyond(difference: DifferenceClaim, margin: float) -> bool:
    low, high = difference.low, difference.high
    return low is not None and high is not None and (low > margin or high < -margin)


def rungs_claim(findings: Findings, comparison: Comparison, difference: DifferenceClaim) -> RungsClaim | None:
    """How many lines are needed; not where rows are cases, which the F tests know nothing of."""
    alpha, by_case = findings.rules.alpha, comparison.by_case
    ladder = comparison.ladder if by_case is None else by_case
    slopes, heights = ladder.parallel, ladder.same_height
    if slopes.p is None or slopes.f is None or comparison.decides == "same_rows":
        return None
    verdict: RungVerdict = "one line"
    if slopes.p <= alpha:
        verdict = "a line each"
    elif heights.p is None or heights.p <= alpha:
        verdict = "parallel"
    if verdict != "a line each" and heights.p is None:
        return None
    decided = difference.p
    return RungsClaim(
        verdict=verdict, f=slopes.f, df1=_whole(slopes, 1), df2=_whole(slopes, 2), p=slopes.p, f_height=heights.f,
        p_height=heights.p, df1_height=heights.df1, df2_height=heights.df2,
        parts=decided is not None and (decided <= alpha) != (slopes.p <= alpha),
        errors=findings.tether.line.errors, alpha=alpha, by_case=by_case is not None,
        uneven=by_case is None and (_wider(comparison) or 0.0) > _WIDER,
    )  # fmt: skip


def spreads_claim(findings: Findings, comparison: Comparison) -> SpreadsClaim | None:
    """Where F decides, that its one spread for all lines is not so; for two lines the separate test decides."""
    alpha = findings.rules.alpha
    if comparison.by_case is not None or len(with_lines(comparison.groups)) < 3:
        return None
    found = spreads(comparison.groups)
    if found is None or found.p > alpha:
        return None
    (narrow, least), (wide, most) = found.narrow, found.wide
    return SpreadsClaim(narrow=narrow or "(blank)", wide=wide or "(blank)", s_narrow=least, s_wide=most,
                        chi2=found.chi2, df=found.df, p=found.p, alpha=alpha)  # fmt: skip


def _whole(test: FTest, which: Literal[1, 2]) -> int:
    df = test.df1 if which == 1 else test.df2
    assert df is not None
    return df


def correlations_claim(findings: Findings, comparison: Comparison) -> CorrelationsClaim | None:
    """The two correlations, by the test that fits the rows."""
    lined, alpha = with_lines(comparison.groups), findings.rules.alpha
    if len(lined) != 2:
        return None
    r_a, r_b = (_r(group) for group in lined)
    a, b = spoken(findings, comparison)
    if comparison.by_case is not None:
        one = comparison.by_case.correlations
        if one is None or one.p is None or one.t is None:
            return None
        return CorrelationsClaim(a=a, b=b, r_a=r_a, r_b=r_b, test="t", statistic=one.t, df=one.df, p=one.p,
                                 outcome=outcome_of(one.p, alpha), by_case=True)  # fmt: skip
    dependent, apart = comparison.dependent, comparison.correlations
    is_cases = comparison.rows_are == "cases"
    if is_cases and dependent is not None and dependent.p is not None and dependent.t is not None:
        return CorrelationsClaim(a=a, b=b, r_a=r_a, r_b=r_b, test="t", statistic=dependent.t,
                                 df=dependent.df, p=dependent.p, outcome=outcome_of(dependent.p, alpha))  # fmt: skip
    if not is_cases and apart is not None and apart.p is not None and apart.z is not None:
        return CorrelationsClaim(a=a, b=b, r_a=r_a, r_b=r_b, test="z", statistic=apart.z, df=None,
                                 p=apart.p, outcome=outcome_of(apart.p, alpha))  # fmt: skip
    return None


def _r(group: Group) -> float | None:
    return None if group.line is None else group.line.r


def which_test(findings: Findings, comparison: Comparison) -> WhichTestClaim | None:
    """Why this test decides, or how the groups' scatter bears on it."""
    if comparison.units_differ:
        return None
    if comparison.source == "responses":
        return WhichTestClaim(rows_are=comparison.rows_are, said=findings.tether.compare.rows_are is not None,
                              ratio=None, wide=False)  # fmt: skip
    if comparison.decides == "by_case" and comparison.by_case is not None:
        found = comparison.by_case
        if found.slopes is None or found.slopes.p is None:
            return None
        return WhichTestClaim(
            rows_are=None, said=True, ratio=None, wide=False, cases=found.cases, shared=found.shared
        )
    if comparison.slopes is None or comparison.slopes.pooled is None:
        return None
    ratio = _wider(comparison)
    if ratio is None:
        return None
    return WhichTestClaim(rows_are=None, said=True, ratio=ratio, wide=ratio > _WIDER)


def _wider(comparison: Comparison) -> float | None:
    """The wider scatter over the narrower, of two lines that both have one."""
    lines = [group.line for group in with_lines(comparison.groups)]
    found = [one.s for one in lines if one is not None and one.s]
    return max(found) / min(found) if len(found) == len(lines) == 2 else None


def no_line_claims(comparison: Comparison) -> tuple[NoLineClaim, ...]:
    """Groups that have no line, then groups whose line has no error."""
    groups = comparison.groups
    without = [NoLineClaim(name=one.name, n=one.n, line=False, why=one.cause)
               for one in groups if one.line is None and one.cause is not None]  # fmt: skip
    errorless = [NoLineClaim(name=one.name, n=one.n, line=True, why=one.no_errors)
                 for one in groups if one.line is not None and one.no_errors is not None]  # fmt: skip
    return (*without, *errorless)
