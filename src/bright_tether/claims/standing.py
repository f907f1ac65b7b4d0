"""Where a tether stands, in one claim: decision, story, doubts in force, remedies taken, rows out."""

from __future__ import annotations

from typing import ClassVar

from bright_tether.claims.claim import Claim
from bright_tether.claims.decision import DecisionClaim
from bright_tether.claims.doubts import DoubtsInForceClaim, RestsClaim
from bright_tether.claims.origin import OriginClaim
from bright_tether.claims.stories import ClumpsClaim, StoryClaim
from bright_tether.live.findings import Findings


class StandingClaim(Claim, frozen=True, kw_only=True):
    """The line that is shown wherever a tether is. remedies : choices in force other than the plain line's."""

    kind: ClassVar[str] = "standing"
    decision: DecisionClaim
    forbidding: StoryClaim | ClumpsClaim | None
    rests: RestsClaim | None
    doubts: tuple[str, ...]
    remedies: tuple[str, ...]
    origin: OriginClaim | None
    set_aside: int
    filtered_out: int


def standing_claim(
    findings: Findings,
    decision: DecisionClaim,
    forbidding: StoryClaim | ClumpsClaim | None,
    rests: RestsClaim | None,
    in_force: DoubtsInForceClaim,
    origin: OriginClaim | None,
) -> StandingClaim:
    """Put the standing together."""
    chosen = findings.tether.line
    remedies: list[str] = []
    if chosen.errors != "classical":
        remedies.append(chosen.errors)
    if findings.fit.weights is not None:
        remedies.append("weights")
    if findings.fit.origin:
        remedies.append("origin")
    if findings.x_way.changed or findings.y_way.changed:
        remedies.append("log" if "log" in (findings.x_way.scale, findings.y_way.scale) else "root")
    pairs = findings.counted
    return StandingClaim(decision=decision, forbidding=forbidding, rests=rests, doubts=in_force.names,
                         remedies=tuple(remedies), origin=origin, set_aside=pairs.set_aside,
                         filtered_out=pairs.filtered_out)  # fmt: skip
