"""What may be said of r once what lies far out is bent inward."""

from __future__ import annotations

from typing import ClassVar, Literal

from bright_tether.claims.claim import Claim
from bright_tether.core.results import Cause
from bright_tether.live.findings import Findings

BentVerdict = Literal["carried", "hidden", "turned", "alike", "no interval", "none"]


class BentClaim(Claim, frozen=True, kw_only=True):
    """The percentage-bend r beside Pearson's. bent_x, bent_y : how many values of each were bent, of n.

    verdict : by whether Pearson's r lies in the interval of rows drawn again: alike within; outside it carried where it
    is larger in size, hidden where it is smaller, turned where it has the other sign; none without a value, for why.
    """

    kind: ClassVar[str] = "bent"
    r: float | None
    low: float | None
    high: float | None
    p: float | None
    df: int
    plain: float | None
    bent_x: int
    bent_y: int
    n: int
    level: float
    alpha: float
    verdict: BentVerdict
    why: Cause | None


def bent_claim(findings: Findings) -> BentClaim:
    """By the interval of the bent r. Raises Refusal."""
    found, plain = findings.bent, findings.pearson.r
    low, high = found.ci or (None, None)
    return BentClaim(
        r=found.r, low=low, high=high, p=found.p, df=found.df, plain=plain, bent_x=found.bent_x, bent_y=found.bent_y,
        n=findings.pairs.n, level=findings.rules.level, alpha=findings.rules.alpha,
        verdict=_verdict(found.r, plain, found.ci), why=found.why.get("r") or found.why.get("ci"),
    )  # fmt: skip


def _verdict(r: float | None, plain: float | None, ci: tuple[float, float] | None) -> BentVerdict:
    if r is None or plain is None:
        return "none"
    if ci is None:
        return "no interval"
    if ci[0] <= plain <= ci[1]:
        return "alike"
    if plain * r < 0:
        return "turned"
    return "carried" if abs(plain) > abs(r) else "hidden"
