"""What setting rows aside would change, in words."""

from __future__ import annotations

from bright_tether.live.findings import Findings
from bright_tether.words import digits as d


def with_and_without(present: Findings, without: Findings) -> str:
    """Slope and r with the rows and without them."""
    before, after = present.line, without.line
    digits = present.rules.digits
    finest = max(d.decimals_for(line.se_slope, digits, line.slope) for line in (before, after))
    slopes = " → ".join(d.fixed(line.slope, finest) for line in (before, after))
    shares = " → ".join(d.coefficient(line.r, digits) for line in (before, after))
    return f"slope {slopes} · r {shares}"
