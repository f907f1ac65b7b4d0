"""What is said of a smooth beside the line."""

from __future__ import annotations

from bright_tether.claims.local import LocalClaim, local_claim
from bright_tether.core.shape.local import MOST_SMOOTHED, SEED
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.reading import Names, names_of
from bright_tether.words.said import Said, listed


def local_sentences(findings: Findings) -> tuple[Said, ...]:
    """Where the line leaves the band of the smooth beside it."""
    claim = local_claim(findings)
    if claim is None:
        return ()
    if claim.verdict == "none" or claim.bandwidth is None:
        return (Said(f"No smooth is drawn beside the line: {cause(claim.why)}.", claim),)
    names, level = names_of(findings.x_column, findings.y_column), d.level_in_words(claim.level)
    return (
        Said(f"Beside it stands a smooth: local lines within ± {_width(claim, names)}{_chosen(claim)}. "
             f"{_left(claim, names)} ({level} at each x by itself; a smooth flattens sharp turns, and its band holds "
             f"less there).", claim),
    )  # fmt: skip


def _width(claim: LocalClaim, names: Names) -> str:
    return names.in_x(d.figure(claim.bandwidth or 0.0, 3))


def _chosen(claim: LocalClaim) -> str:
    how = ", chosen by leaving rows out" if claim.found else ""
    if claim.drawn:
        how += f", through {d.grouped(MOST_SMOOTHED)} of the rows drawn at random, seed {SEED}"
    return how


def _left(claim: LocalClaim, names: Names) -> str:
    if claim.verdict == "inside" or claim.farthest is None:
        return "The line stays inside the band of the smooth for the local mean everywhere"
    wide = claim.stretches[-1][1] - claim.stretches[0][0]
    shown = d.decimals_for(wide or None, 3, claim.stretches[-1][1])
    ends = listed(f"from {d.fixed(low, shown)} to {d.fixed(high, shown)}" for low, high in claim.stretches)
    side = "above" if claim.above else "below"
    by = names.in_y_change(d.figure(claim.by or 0.0, 3))
    at = names.at_x(claim.farthest, d.fixed(claim.farthest, shown))
    lies = f"The line lies outside the band of the smooth for the local mean {ends}"
    return f"{lies}: most at {at}, {by} {side} the smooth"
