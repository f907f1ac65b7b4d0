"""What simulation shows, within its own error."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, ClassVar, Literal

from bright_tether.claims.claim import Claim
from bright_tether.core.rehearse.kinds import Judged
from bright_tether.live.findings import Findings
from bright_tether.live.rehearse import BrokenCase

if TYPE_CHECKING:
    from bright_tether.core.rehearse.sampling import Luck, Sampling

Within = Literal["within simulation error", "above", "below"]
Harm = Literal["no harm", "unsure", "mended", "in part", "not mended"]
#: Simulation errors within which a simulated figure is as promised.
ROOM = 2.0
#: Simulation errors beyond which luck is no explanation of it: about one run in 370 goes so far.
SURE = 3.0


class SimulatedClaim(Claim, frozen=True, kw_only=True):
    """The share of intervals that held the truth, beside the share promised. of : what the intervals are for.

    by_luck : the share of runs that are as far off although the promise is kept.
    """

    kind: ClassVar[str] = "simulated"
    of: str
    share: float
    se: float
    promised: float
    verdict: Within
    by_luck: float


class BiasClaim(Claim, frozen=True, kw_only=True):
    """The mean of a statistic over samples, beside the truth. by_luck : as of ``simulated``."""

    kind: ClassVar[str] = "bias"
    mean: float
    truth: float
    se: float
    verdict: Within
    by_luck: float


class SpreadClaim(Claim, frozen=True, kw_only=True):
    """The sd of a statistic over samples, beside the formula's standard error. by_luck : as of ``simulated``."""

    kind: ClassVar[str] = "sampling_spread"
    sd: float
    se: float
    formula: float | None
    verdict: Within | None
    by_luck: float | None


class BrokenClaim(Claim, frozen=True, kw_only=True):
    """One broken assumption: what classical intervals of the slope hold, and what other errors make of it.

    mended : None where classical intervals keep what they promise. verdict : as they are after that; "unsure" where
    they fall short by no more than luck alone can.
    """

    kind: ClassVar[str] = "broken"
    name: str
    classical: SimulatedClaim
    by: Judged
    mended: SimulatedClaim | None
    verdict: Harm
    biased: bool


class LuckClaim(Claim, frozen=True, kw_only=True):
    """r of samples without a relationship. reach : the |r| that a share of α comes to by luck.

    passed : the share that did, with its simulation error; beyond : how many came to one's own |r|.
    """

    kind: ClassVar[str] = "luck"
    n: int
    alpha: float
    reach: float
    draws: int | None
    passed: float | None
    error: float | None
    r: float | None
    beyond: int | None
    largest: float | None


class OwnClaim(Claim, frozen=True, kw_only=True):
    """One's own value among the samples. is_truth : the samples were drawn from it. share : that lie as far off."""

    kind: ClassVar[str] = "own"
    own: float
    draws: int
    is_truth: bool
    share: float


class PlanClaim(Claim, frozen=True, kw_only=True):
    """How many pairs a purpose needs. floor : what no number of pairs gets below, where that is what is in the way.

    by_power : whether the goal is a power. side : the only side of 0 that the test looks at, where the effect lies on
    the other.
    """

    kind: ClassVar[str] = "plan"
    purpose: str
    goal: float
    by_power: bool
    needed: int | None
    reached: float | None
    floor: float | None
    side: Literal["above", "below"] | None
    at_hand: int


class TrialClaim(Claim, frozen=True, kw_only=True):
    """A plan tried out on samples."""

    kind: ClassVar[str] = "trial"
    n: int
    draws: int
    by_power: bool
    found: float
    error: float


def within(found: float, promised: float, se: float) -> Within:
    """Where a simulated figure lies beside what was promised."""
    if abs(found - promised) <= ROOM * se:
        return "within simulation error"
    return "above" if found > promised else "below"


def by_luck(found: float, promised: float, se: float) -> float:
    """The share of runs that are as far off by luck alone, two-sided, by the normal distribution."""
    if not se:
        return 1.0 if found == promised else 0.0
    return math.erfc(abs(found - promised) / se / math.sqrt(2))


def sure(one: SimulatedClaim | BiasClaim | SpreadClaim) -> bool:
    """Whether luck is no explanation of what is off."""
    return one.by_luck is not None and one.by_luck < math.erfc(SURE / math.sqrt(2))


def simulated_claim(one: Sampling) -> SimulatedClaim | None:
    """How often the intervals held the truth."""
    if one.caught is None or one.caught_error is None:
        return None
    return SimulatedClaim(of=one.statistic, share=one.caught, se=one.caught_error, promised=one.level,
                          verdict=within(one.caught, one.level, one.caught_error),
                          by_luck=by_luck(one.caught, one.level, one.caught_error))  # fmt: skip


def bias_claim(one: Sampling) -> BiasClaim:
    """Whether the statistic is off the truth on average."""
    return BiasClaim(mean=one.mean, truth=one.truth, se=one.mean_error,
                     verdict=within(one.mean, one.truth, one.mean_error),
                     by_luck=by_luck(one.mean, one.truth, one.mean_error))  # fmt: skip


def spread_claim(one: Sampling) -> SpreadClaim:
    """Whether the statistic varies as the formula says."""
    beside = (one.sd, one.formula, one.sd_error) if one.formula else None
    verdict, luck = (None, None) if beside is None else (within(*beside), by_luck(*beside))
    return SpreadClaim(sd=one.sd, se=one.sd_error, formula=one.formula, verdict=verdict, by_luck=luck)


def broken_claim(case: BrokenCase) -> BrokenClaim | None:
    """What one broken assumption does, None where an interval has no value."""
    by: Judged = "newey_west" if case.name == "alike" else "HC3"
    classical, after = simulated_claim(case.by["classical"]), simulated_claim(case.by[by])
    if classical is None or after is None:
        return None
    verdict: Harm = "unsure" if classical.verdict == "below" else "no harm"
    harm = classical.verdict == "below" and sure(classical)
    if harm:
        better = after.share > classical.share + ROOM * after.se
        verdict = "mended" if after.verdict != "below" else "in part" if better else "not mended"
    return BrokenClaim(
        name=case.name, classical=classical, by=by, mended=after if harm else None,
        verdict=verdict, biased=sure(bias_claim(case.by["classical"])),
    )  # fmt: skip


def luck_claim(findings: Findings, reach: float, found: Luck | None) -> LuckClaim:
    """What luck alone gives, and gave."""
    n, alpha, r = findings.pairs.n, findings.rules.alpha, findings.pearson.r
    if found is None:
        return LuckClaim(n=n, alpha=alpha, reach=reach, draws=None, passed=None, error=None, r=r, beyond=None,
                         largest=None)  # fmt: skip
    return LuckClaim(n=n, alpha=alpha, reach=reach, draws=found.draws, passed=found.passed, error=found.error, r=r,
                     beyond=found.beyond, largest=found.largest)  # fmt: skip


def own_claim(own: float | None, one: Sampling, by_rows: bool) -> OwnClaim | None:
    """Where one's own value stands; None where the samples are made of one's own rows."""
    from bright_tether.core.rehearse.sampling import share_as_far

    if own is None or by_rows:
        return None
    return OwnClaim(own=own, draws=one.draws, is_truth=abs(own - one.truth) <= 1e-6 * one.sd,
                    share=share_as_far(one, own))  # fmt: skip


def plan_claim(findings: Findings) -> PlanClaim:
    """What the purpose needs."""
    wish, plan = findings.wish, findings.plan
    by_power = wish.purpose.endswith("power")
    side: Literal["above", "below"] | None = None
    if by_power and wish.alternative == "greater" and wish.effect < 0:
        side = "above"
    elif by_power and wish.alternative == "less" and wish.effect > 0:
        side = "below"
    in_the_way = plan.needed is None and plan.floor is not None and wish.goal <= plan.floor
    return PlanClaim(
        purpose=wish.purpose, goal=wish.goal, by_power=by_power, needed=plan.needed,
        reached=plan.reached, floor=plan.floor if in_the_way else None, side=side, at_hand=findings.pairs.n,
    )  # fmt: skip
