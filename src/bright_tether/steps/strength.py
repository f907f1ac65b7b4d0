"""Strength: how closely two columns go together."""

from __future__ import annotations

from bright_tether.live.findings import Findings
from bright_tether.steps.step import Step, View
from bright_tether.study.pins import Grid
from bright_tether.words.grids.strength import coefficients_grid
from bright_tether.words.reading import Reading, Working
from bright_tether.words.readings.bent import bent_grid, bent_reading
from bright_tether.words.readings.strength import strength_reading
from bright_tether.words.workings.strength import strength_workings


def _reading(findings: Findings, view: str, run: object) -> Reading:
    return bent_reading(findings) if view == "far-bent" else strength_reading(findings)


def _workings(findings: Findings, view: str) -> tuple[Working, ...]:
    return strength_workings(findings)


def _grids(findings: Findings) -> tuple[Grid, ...]:
    return (coefficients_grid(findings),)


def _bent(findings: Findings) -> tuple[Grid, ...]:
    return (bent_grid(findings),)


STEP = Step(
    id="strength",
    title="Strength",
    gist="How closely the two columns go together: r, ρ and τ with their tests, and why they part.",
    views=(
        View(id="products", title="Products and ranks", grids=_grids, needs=(Findings.products, Findings.rank_points)),
        View(id="comparisons", title="Comparisons", grids=_grids, needs=(Findings.comparisons,)),
        View(id="agreement", title="Agreement", grids=_grids, needs=(Findings.agreement, Findings.mean_points)),
        View(id="row-by-row", title="Row by row", grids=_grids, needs=(lambda findings: findings.products.total,)),
        View(id="every-pair", title="Every pair", grids=_grids, needs=(lambda found: found.every_pair("pearson"),)),
        View(id="far-bent", title="Bent r", grids=_bent, needs=(Findings.bent, Findings.bent_points)),
        View(id="critical", title="Critical", grids=_grids, needs=(Findings.critical_table,)),
    ),
    reading=_reading,
    workings=_workings,
    drawn=(Findings.spearman, Findings.kendall, Findings.within_groups, Findings.by_case,
           Findings.agreement_in_one_unit),
    needs=(Findings.plain_line, Findings.rank_points, Findings.covariance, Findings.products, Findings.reversal,
            Findings.clumps, Findings.form, Findings.within_clumps, Findings.within_by_id,
           Findings.made_of),
)  # fmt: skip
