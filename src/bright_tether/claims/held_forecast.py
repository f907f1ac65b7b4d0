"""What may be said of forecasts with other columns held."""

from __future__ import annotations

from typing import Any, ClassVar

from bright_tether.claims.claim import Claim
from bright_tether.core.results import Refusal
from bright_tether.live.findings import Findings
from bright_tether.live.held import HeldAt


class HeldForecastClaim(Claim, frozen=True, kw_only=True):
    """A forecast at x with each column held at one value. mean, case : intervals; outside : of what was measured.

    along : the held column along which the slope differs, where one is chosen.
    """

    kind: ClassVar[str] = "held_forecast"
    x: float
    at: dict[str, Any]
    fitted: float | None
    mean: tuple[float, float] | None
    case: tuple[float, float] | None
    level: float
    outside: bool
    along: str | None


def held_forecasts_of(findings: Findings) -> HeldAt | None:
    """None where nothing is held, or where it cannot be."""
    if not findings.held_cells:
        return None
    try:
        return findings.held_forecast
    except Refusal:
        return None


def held_forecast_claims(found: HeldAt, level: float) -> tuple[HeldForecastClaim, ...]:
    """One for each x."""
    return tuple(
        HeldForecastClaim(x=one.x, at=dict(found.at), fitted=one.fitted, mean=one.ci, case=one.pi, level=level,
                          outside=one.outside, along=found.along or None)
        for one in found.forecasts
    )  # fmt: skip
