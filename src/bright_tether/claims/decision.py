"""The one decision of a tether, and what may be said by it: direction, strength, change."""

from __future__ import annotations

from typing import ClassVar, Literal

from bright_tether.claims.claim import Claim
from bright_tether.core.results import Alternative, Cause, Decider, Refusal
from bright_tether.core.tails import t_both
from bright_tether.live.findings import Findings

Outcome = Literal["rejected", "not rejected", "no test"]
Sign = Literal[-1, 1]


class DecisionClaim(Claim, frozen=True, kw_only=True):
    """How the deciding test came out; the same object in every step.

    null : the parameter under H0, other than 0 for a stated slope. other_side : a one-sided test does not reject,
    and the mirrored one would. why : what kept the test from having a value. instead_of : the test named in the
    rules where another decides.
    """

    kind: ClassVar[str] = "decision"
    test: Decider
    null: float
    alpha: float
    alternative: Alternative
    statistic: float | None
    critical: float | None
    p: float | None
    outcome: Outcome
    other_side: bool
    instead_of: Decider | None
    why: Cause | None


class DirectionClaim(Claim, frozen=True, kw_only=True):
    """Rising (1) or falling (−1). of : the coefficient or slope whose sign it is."""

    kind: ClassVar[str] = "direction"
    sign: Sign
    of: str


class StrengthClaim(Claim, frozen=True, kw_only=True):
    """A word for the size of a coefficient, where the decision carries one."""

    kind: ClassVar[str] = "strength"
    coefficient: Literal["r", "rho", "tau_b"]
    value: float
    word: str


class ChangeClaim(Claim, frozen=True, kw_only=True):
    """What y does for a step of x. slope : y per one x. low, high : its interval at the level.

    shown : 0 lies outside its interval at 1 − α, by the errors in force. exact : no residuals.
    """

    kind: ClassVar[str] = "change"
    slope: float
    step: float
    low: float | None
    high: float | None
    level: float
    shown: bool
    exact: bool


class SlopeTestClaim(Claim, frozen=True, kw_only=True):
    """The test of the slope by the errors in force, beside another deciding test."""

    kind: ClassVar[str] = "slope_test"
    null: float
    alternative: Alternative
    alpha: float
    t: float | None
    df: int
    p: float | None
    errors: str
    outcome: Outcome
    why: Cause | None


class InterceptTestClaim(Claim, frozen=True, kw_only=True):
    """The two-sided test of the intercept by the errors in force, where one is stated for it, or for the slope."""

    kind: ClassVar[str] = "intercept_test"
    null: float
    alpha: float
    t: float | None
    df: int
    p: float | None
    errors: str
    outcome: Outcome
    why: Cause | None


class TestsPartClaim(Claim, frozen=True, kw_only=True):
    """Two tests on one page that come out differently. first : the one that decides; because : a code."""

    kind: ClassVar[str] = "tests_part"
    first: str
    p_first: float
    second: str
    p_second: float
    alpha: float
    because: Literal["errors", "order", "other hypothesis"]


def outcome_of(p: float | None, alpha: float) -> Outcome:
    """Rejected exactly when p ≤ α."""
    return "no test" if p is None else "rejected" if p <= alpha else "not rejected"


def decision_claim(findings: Findings) -> DecisionClaim:
    """The decision. Raises Refusal where there is no line."""
    found = findings.decision
    outcome = outcome_of(found.p, found.alpha)
    one_sided = found.alternative != "two-sided"
    return DecisionClaim(
        test=found.test, null=found.null, alpha=found.alpha, alternative=found.alternative,
        statistic=found.statistic, critical=found.critical, p=found.p, outcome=outcome,
        other_side=one_sided and found.p is not None and outcome == "not rejected" and 1 - found.p <= found.alpha,
        instead_of=found.instead_of, why=found.why.get("p"),
    )  # fmt: skip


_COEFFICIENTS: dict[str, Literal["r", "rho", "tau_b"]] = {
    "pearson": "r", "spearman": "rho", "kendall": "tau_b", "slope": "r",
}  # fmt: skip


def coefficient_of(
    findings: Findings, decision: DecisionClaim
) -> tuple[Literal["r", "rho", "tau_b"], float | None]:
    """The coefficient that the page leads with: that of the deciding test, r where the slope decides."""
    name = _COEFFICIENTS[decision.test]
    value = {"r": lambda: findings.pearson.r, "rho": lambda: findings.spearman.rho,
             "tau_b": lambda: findings.kendall.tau_b}[name]()  # fmt: skip
    return name, value


def direction_claim(findings: Findings, decision: DecisionClaim) -> DirectionClaim | None:
    """The direction that the decision carries; against a stated slope, that of the two-sided test against 0."""
    of = "slope" if decision.test == "slope" else _COEFFICIENTS[decision.test]
    if decision.test == "slope" and decision.null != 0:
        p, slope = slope_p(findings), findings.line.slope
        if p is None or p > decision.alpha or not slope or not goes_together(findings, slope):
            return None
        return DirectionClaim(sign=1 if slope > 0 else -1, of=of)
    if decision.statistic is None or not (decision.outcome == "rejected" or decision.other_side):
        return None
    sign: Sign = 1 if decision.statistic > 0 else -1
    return DirectionClaim(sign=sign, of=of) if goes_together(findings, sign) else None


def goes_together(findings: Findings, sign: float) -> bool:
    """Whether a slope of this sign shows that y goes with x: through the origin where the line left free does too.

    A line through the origin slopes wherever y lies on one side of 0.
    """
    if not findings.fit.origin:
        return True
    free = findings.left_free
    try:
        slope, p = (None, None) if free is None else (free.line.slope, slope_p(free))
    except Refusal:  # errors in force that the line has none of
        return False
    if slope is None or slope * sign <= 0:
        return False
    return p is None or p <= findings.rules.alpha  # no p: every pair lies on one line


def strength_claim(
    findings: Findings, decision: DecisionClaim, direction: DirectionClaim | None
) -> StrengthClaim | None:
    """The word that the decision carries; none against a stated slope, nor where the slope goes another way than r."""
    name, value = coefficient_of(findings, decision)
    if decision.outcome != "rejected" or value is None or decision.null != 0:
        return None
    if direction is None or value * direction.sign <= 0:
        return None
    return StrengthClaim(coefficient=name, value=value, word=findings.rules.word_for(value))


def slope_p(findings: Findings) -> float | None:
    """The two-sided p of the slope against 0 by the errors in force, None without one."""
    by, slope = findings.coefficients, findings.line.slope
    if by.t_slope is None or not by.se_slope or slope is None:
        return None
    return t_both(slope / by.se_slope, findings.errors.df)


def change_claim(findings: Findings) -> ChangeClaim | None:
    """The change per step, None where y does not vary or the slope has no value."""
    line, by = findings.line, findings.coefficients
    if line.slope is None or findings.fit.y.constant:
        return None
    p, exact = slope_p(findings), findings.fit.exact
    low, high = by.ci_slope or (None, None)
    return ChangeClaim(
        slope=line.slope, step=step_of(findings), low=low, high=high, level=line.level,
        shown=exact or (p is not None and p <= findings.rules.alpha), exact=exact,
    )  # fmt: skip


def step_of(findings: Findings) -> float:
    """A step in x that the data span: 1, or the largest power of ten within their range where that is less."""
    low, high = findings.x_summary.min, findings.x_summary.max
    assert low is not None
    assert high is not None
    whole = high - low
    if whole >= 1:
        return 1.0
    return float(f"1e{_power(whole)}")


def _power(whole: float) -> int:
    power = int(f"{whole:e}".split("e")[1])
    return power if float(f"1e{power}") <= whole else power - 1


def slope_test_claim(findings: Findings, decision: DecisionClaim) -> SlopeTestClaim | None:
    """The slope's own test, where another test decides than the slope or the r that goes with it."""
    if decision.test in ("slope", "pearson"):
        return None
    line, by = findings.line, findings.coefficients
    return SlopeTestClaim(
        null=line.slope_0, alternative=line.alternative, alpha=findings.rules.alpha, t=by.t_slope,
        df=findings.errors.df, p=by.p_slope, errors=findings.errors.kind,
        outcome=outcome_of(by.p_slope, findings.rules.alpha), why=by.why.get("p_slope"),
    )  # fmt: skip


def intercept_test_claim(findings: Findings) -> InterceptTestClaim | None:
    """The intercept against what is stated; None where nothing is, and of a line through the origin."""
    line, by = findings.line, findings.coefficients
    if line.intercept is None or not (line.intercept_0 or line.slope_0):
        return None
    return InterceptTestClaim(
        null=line.intercept_0, alpha=findings.rules.alpha, t=by.t_intercept, df=findings.errors.df, p=by.p_intercept,
        errors=findings.errors.kind, outcome=outcome_of(by.p_intercept, findings.rules.alpha),
        why=by.why.get("p_intercept"),
    )  # fmt: skip


def tests_part(findings: Findings, decision: DecisionClaim) -> TestsPartClaim | None:
    """Where another test printed on the page of the line comes out otherwise than the deciding one."""
    alpha, line = findings.rules.alpha, findings.line
    if decision.p is None:
        return None
    if decision.test in ("spearman", "kendall"):
        p = findings.coefficients.p_slope
        if p is not None and (p <= alpha) != (decision.p <= alpha):
            return TestsPartClaim(first=decision.test, p_first=decision.p, second="slope", p_second=p, alpha=alpha,
                                  because="order")  # fmt: skip
        return None
    if line.p_f is None or (line.p_f <= alpha) == (decision.p <= alpha):
        return None
    robust = findings.errors.kind != "classical"
    return TestsPartClaim(first=decision.test, p_first=decision.p, second="F", p_second=line.p_f, alpha=alpha,
                          because="errors" if robust else "other hypothesis")  # fmt: skip
