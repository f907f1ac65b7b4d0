"""What may be said of a spread that follows a power."""

from __future__ import annotations

from typing import ClassVar, Literal

from bright_tether.claims.claim import Claim
from bright_tether.core.line.spread_power import SpreadOf
from bright_tether.core.line.weights import POWERS
from bright_tether.core.results import Interval
from bright_tether.live.findings import Findings

PowerVerdict = Literal["follows", "not shown", "none"]


class SpreadPowerClaim(Claim, frozen=True, kw_only=True):
    """The power of x, or of the fitted value, that the sd about the line follows, by likelihood. p : of none.

    verdict : whether that is told from an even spread, by p against alpha; none where no power could be fitted.
    """

    kind: ClassVar[str] = "spread_power"
    of: SpreadOf
    power: float | None
    interval: Interval | None
    p: float | None
    level: float
    alpha: float
    verdict: PowerVerdict


def spread_power_claim(findings: Findings) -> SpreadPowerClaim | None:
    """None where the weights follow no fitted power."""
    of = POWERS.get(findings.tether.line.weight_pattern or "")
    if of is None:
        return None
    found, rules = findings.spread_power, findings.rules
    verdict: PowerVerdict = "none" if found is None else "follows" if found.p <= rules.alpha else "not shown"
    power, interval, p = (None,) * 3 if found is None else (found.power, found.ci, found.p)
    return SpreadPowerClaim(of=of, power=power, interval=interval, p=p, level=rules.level, alpha=rules.alpha,
                            verdict=verdict)  # fmt: skip
