"""What r, ρ and τ tell together, why they part, and what no coefficient sees."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from bright_tether.claims.claim import Claim, NamedRow
from bright_tether.claims.decision import Outcome, outcome_of
from bright_tether.claims.rows import named_rows
from bright_tether.core.results import Ints
from bright_tether.live.cases import VALUES
from bright_tether.live.findings import Findings

#: r and ρ this far apart call for a reason.
_APART = 0.05
#: Ties are named from this share of all comparisons on.
_TIES = 0.03

Agreeing = Literal["agree", "signs differ", "outcomes differ", "tau larger"]


class CoefficientsClaim(Claim, frozen=True, kw_only=True):
    """The three coefficients and whether they agree: same sign, same outcome at α, and |τ| below |r|.

    largest : the one largest in size. rejected : those whose test rejects. untested : those whose test
    has no value: exactly 1 in size, or by cases of which too few tell.
    """

    kind: ClassVar[str] = "coefficients"
    r: float
    rho: float
    tau: float
    alpha: float
    rejected: tuple[str, ...]
    untested: tuple[str, ...]
    verdict: Agreeing
    largest: Literal["r", "rho", "tau"]


class ApartClaim(Claim, frozen=True, kw_only=True):
    """r and ρ are apart; without a few rows r moves towards ρ, and the two are nearer. Values with and without them."""

    kind: ClassVar[str] = "apart"
    rows: tuple[NamedRow, ...]
    r: float
    r_without: float
    rho: float
    rho_without: float


class ReversalClaim(Claim, frozen=True, kw_only=True):
    """A run of rows along x that goes against the rest; without it τ is larger in size."""

    kind: ClassVar[str] = "reversal"
    first: NamedRow
    last: NamedRow
    rows: int
    broken: int
    of_all: int
    tau: float
    tau_without: float


class TiesClaim(Claim, frozen=True, kw_only=True):
    """Comparisons that say nothing of order."""

    kind: ClassVar[str] = "ties"
    tied: int
    comparisons: int
    tau_a: float
    tau_b: float


class AgreementClaim(Claim, frozen=True, kw_only=True):
    """Two columns in one unit held against each other: y less x.

    limits : where about a share of `level` of single differences is expected.
    """

    kind: ClassVar[str] = "agreement"
    mean: float
    low: float | None
    high: float | None
    level: float
    limits: tuple[float, float] | None
    sd: float
    p: float | None
    outcome: Outcome
    exact_matches: int
    n: int
    concordance: float | None


class AgreementSlopeClaim(Claim, frozen=True, kw_only=True):
    """The differences y less x change along the mean of both, so that one difference is not that of each level.

    slope : of the differences, for each unit of that mean; low, high : its interval, None as p is where nothing is left
    over. means : the lowest and the highest mean of both; at_means : the difference on that line there.
    """

    kind: ClassVar[str] = "agreement_slope"
    slope: float
    low: float | None
    high: float | None
    level: float
    p: float | None
    alpha: float
    means: tuple[float, float]
    at_means: tuple[float, float]


class ExactClaim(Claim, frozen=True, kw_only=True):
    """The exact p of the deciding rank test, two-sided, beside its approximate p by the alternative.

    p, same_side : None for a ρ of exactly 1 in size, where there is no t to approximate with.
    """

    kind: ClassVar[str] = "exact_p"
    test: Literal["spearman", "kendall"]
    n: int
    p_exact: float
    p: float | None
    alpha: float
    two_sided: bool
    same_side: bool | None


def coefficients_claim(findings: Findings) -> CoefficientsClaim | None:
    """The three together, None where one has no value."""
    r, rho, tau = findings.pearson, findings.spearman, findings.kendall
    if r.r is None or rho.rho is None or tau.tau_b is None:
        return None
    alpha = findings.rules.alpha
    p_r, p_rho, p_tau = (findings.in_force(name).p for name in VALUES)
    three: tuple[tuple[Literal["r", "rho", "tau"], float, float | None], ...] = (
        ("r", r.r, p_r), ("rho", rho.rho, p_rho), ("tau", tau.tau_b, p_tau),
    )  # fmt: skip
    rejected = tuple(name for name, _, p in three if p is not None and p <= alpha)
    untested = tuple(name for name, _, p in three if p is None)
    signs = {np.sign(value) for _, value, _ in three}
    verdict: Agreeing = "agree"
    if len(signs) > 1:
        verdict = "signs differ"
    elif rejected and len(rejected) + len(untested) < len(three):
        verdict = "outcomes differ"
    elif not abs(tau.tau_b) < abs(r.r):
        verdict = "tau larger"
    return CoefficientsClaim(
        r=r.r, rho=rho.rho, tau=tau.tau_b, alpha=alpha, rejected=rejected, untested=untested, verdict=verdict,
        largest=max(three, key=lambda one: abs(one[1]))[0],
    )  # fmt: skip


def apart_claim(findings: Findings, strays: Ints) -> ApartClaim | None:
    """Few rows that draw r away from ρ: without them the two are nearer. strays : places among the pairs."""
    r, rho = findings.pearson.r, findings.spearman.rho
    if (
        r is None
        or rho is None
        or abs(r - rho) < _APART
        or not 0 < strays.size <= max(3, findings.pairs.n // 20)
    ):
        return None
    bare_r, bare_rho = findings.without(strays)
    if bare_r is None or bare_rho is None or abs(bare_r - r) < _APART / 2 or (bare_r - r) * (rho - r) <= 0:
        return None
    if abs(bare_r - bare_rho) >= abs(r - rho):  # they went far, but are no reason why the two are apart
        return None
    return ApartClaim(rows=named_rows(findings, strays), r=r, r_without=bare_r, rho=rho, rho_without=bare_rho)


def reversal_claim(findings: Findings) -> ReversalClaim | None:
    """The run that goes back, where leaving it out strengthens τ."""
    run, tau = findings.reversal, findings.kendall.tau_b
    if run is None or run.tau_without is None or tau is None or not run.tau_without > tau > 0:
        return None
    first, last = (named_rows(findings, end)[0] for end in (run.places[:1], run.places[-1:]))
    return ReversalClaim(first=first, last=last, rows=run.places.size, broken=run.broken, of_all=run.of_all, tau=tau,
                         tau_without=run.tau_without)  # fmt: skip


def ties_claim(findings: Findings) -> TiesClaim | None:
    """Ties, where they are many."""
    tau, n = findings.kendall, findings.pairs.n
    total = n * (n - 1) // 2
    tied = tau.tied_x + tau.tied_y + tau.tied_both
    if tau.tau_b is None or not total or tied < _TIES * total:
        return None
    return TiesClaim(tied=tied, comparisons=total, tau_a=tau.tau_a, tau_b=tau.tau_b)


def agreement_claim(findings: Findings) -> AgreementClaim | None:
    """How far two columns in one unit agree."""
    found = findings.agreement_in_one_unit
    if found is None or found.mean_difference is None or found.sd_difference is None:
        return None
    low, high = found.ci or (None, None)
    return AgreementClaim(
        mean=found.mean_difference, low=low, high=high, level=findings.rules.level, limits=found.limits,
        sd=found.sd_difference, p=found.p,
        outcome=outcome_of(found.p, findings.rules.alpha), exact_matches=found.exact_matches,
        n=findings.pairs.n, concordance=found.concordance,
    )  # fmt: skip


def agreement_slope_claim(findings: Findings) -> AgreementSlopeClaim | None:
    """Whether the differences of two columns in one unit are shown to change along their mean."""
    found, alpha = findings.agreement_in_one_unit, findings.rules.alpha
    if found is None or not found.slope or found.means is None or found.at_means is None:
        return None
    if outcome_of(found.slope_p, alpha) == "not rejected":
        return None
    low, high = (None, None) if found.slope_p is None else found.slope_ci or (None, None)
    return AgreementSlopeClaim(slope=found.slope, low=low, high=high, level=findings.rules.level, p=found.slope_p,
                               alpha=alpha, means=found.means, at_means=found.at_means)  # fmt: skip


def exact_claim(findings: Findings) -> ExactClaim | None:
    """Where an exact p exists for the deciding rank test: does it fall on the same side of α?"""
    test, rules = findings.decider, findings.rules
    if test not in ("spearman", "kendall"):
        return None
    found = findings.spearman if test == "spearman" else findings.kendall
    if found.p_exact is None:
        return None
    return ExactClaim(
        test=test, n=findings.pairs.n, p_exact=found.p_exact, p=found.p, alpha=rules.alpha,
        two_sided=rules.alternative == "two-sided",
        same_side=None if found.p is None else (found.p_exact <= rules.alpha) == (found.p <= rules.alpha),
    )  # fmt: skip
