"""Look: see before computing."""

from __future__ import annotations

from bright_tether.claims.tether import claims_of
from bright_tether.live.findings import Findings
from bright_tether.steps.step import Step, View
from bright_tether.words.grids.strength import pairs_grid
from bright_tether.words.reading import Reading
from bright_tether.words.readings.look import look_reading


def _far(findings: Findings) -> object:
    """The rows that lie far out: of a long table they may be very many."""
    claims = claims_of(findings)
    return claims.far_rows, claims.far_ids


def _reading(findings: Findings, view: str, run: object) -> Reading:
    return look_reading(findings)


STEP = Step(
    id="look",
    title="Look",
    gist="See before computing: form, gaps, clumps, far-out rows, and what groups tell beside the whole.",
    views=(View(id="", title="", grids=lambda findings: (pairs_grid(findings),)),),
    reading=_reading,
    drawn=(Findings.look_points, Findings.smooth, Findings.other_slope),
    needs=(Findings.form, Findings.within_clumps, Findings.within_by_id, Findings.made_of, Findings.within_groups,
           Findings.spearman, Findings.kendall, Findings.timing, Findings.zones, _far),
    parts=frozenset({"reading", "figures", "table", "picture"}),
    results=False,
    lined=False,
)  # fmt: skip
