"""Tables of Gather, Look and Strength."""

from __future__ import annotations

import numpy as np

from bright_tether.core.results import Decider
from bright_tether.core.summary import summarise
from bright_tether.live.findings import Findings
from bright_tether.study.pins import Grid
from bright_tether.words import digits as d
from bright_tether.words.shown import Shown

#: What each coefficient is called in full.
COEFFICIENT_NAMES: dict[Decider, str] = {
    "pearson": "Pearson r", "spearman": "Spearman ρ", "kendall": "Kendall τ-b",
}  # fmt: skip


def columns_grid(findings: Findings) -> Grid:
    """Every column of numbers of the table: how many, and its five numbers with mean and sd."""
    digits, rows = findings.rules.digits, []
    for column in findings.table.columns:
        if not column.numeric:
            continue
        there = column.cells[np.isfinite(column.cells)]
        missing = d.grouped(int(column.cells.size - there.size))
        if not there.size:
            rows.append((column.name, "0", missing, *[d.NONE] * 7))
            continue
        one = summarise(there)
        values = (one.mean, one.sd, one.min, one.q1, one.median, one.q3, one.max)
        rows.append((column.name, d.grouped(one.n), missing, *(d.figure(v, digits + 1) for v in values)))
    heads = ("column", "n", "missing", "mean", "sd", "min", "q1", "median", "q3", "max")
    return Grid(title="The columns of numbers", heads=heads, rows=tuple(rows))


def pairs_grid(findings: Findings) -> Grid:
    """x and y of the pairs in play."""
    digits, rows = findings.rules.digits, []
    for column, one in ((findings.x_column, findings.x_summary), (findings.y_column, findings.y_summary)):
        values = (one.mean, one.sd, one.min, one.q1, one.median, one.q3, one.max)
        rows.append((column.name, d.grouped(one.n), *(d.figure(v, digits + 1) for v in values)))
    heads = ("column", "n", "mean", "sd", "min", "q1", "median", "q3", "max")
    return Grid(title="x and y of the pairs in play", heads=heads, rows=tuple(rows))


def sums_grid(findings: Findings) -> Grid:
    """The sums of the pairs in play, to check them against the paper they came from."""
    one, x, y = findings.pair_sums, findings.x_column.short, findings.y_column.short
    lines = (
        ("n", None), (f"Σ {x}", one.sum_x), (f"Σ {y}", one.sum_y), (f"Σ {x}²", one.sum_xx),
        (f"Σ {y}²", one.sum_yy), (f"Σ {x} · {y}", one.sum_xy), (f"population sd of {x} (÷ n)", one.population_sd_x),
        (f"population sd of {y} (÷ n)", one.population_sd_y),
        ("population covariance (÷ n)", one.population_covariance),
        ("covariance (÷ n − 1)", findings.covariance.covariance),
    )  # fmt: skip
    rows = tuple((name, d.grouped(one.n) if name == "n" else _sum(value)) for name, value in lines)
    return Grid(title="Sums of the pairs in play", heads=("sum", "value"), rows=rows)


def _sum(value: float | None) -> str:
    return d.NONE if value is None else Shown(d.entered(float(f"{value:.12g}")), value)


def coefficients_grid(findings: Findings) -> Grid:
    """r, ρ and τ with their intervals, tests and critical values; strong is the deciding one."""
    digits, strong = findings.rules.digits, -1
    rows: list[tuple[str, ...]] = []
    for name, words in COEFFICIENT_NAMES.items():
        one = findings.in_force(name)
        ends = d.coefficients(one.ci, digits)
        df = "" if one.df is None else f", {d.grouped(one.df)} df"
        test = d.NONE
        if one.statistic is not None:
            numbers = (one.statistic,) if one.df is None else (one.statistic, one.df)
            test = Shown(f"{one.letter} = {d.figure(one.statistic, 4)}{df}", *numbers, names=("t or z", "df"))
        critical = d.NONE if one.critical is None else d.fixed(one.critical, digits)
        by = d.p_value(one.p)
        if one.p_exact is not None:
            both = f"{by} (exact {d.p_value(one.p_exact)})"
            by = both if one.p is None else Shown(both, one.p, one.p_exact, names=("p", "exact p"))
        if name == findings.decider:
            strong = len(rows)
        rows.append((words, d.coefficient(one.value, digits), ends, test, by, critical))
    heads = ("coefficient", "value", "interval", "test", "p", "critical value")
    title = "Coefficients" if findings.by_case is None else "Coefficients, judged by case"
    return Grid(title=title, heads=heads, rows=tuple(rows), strong=strong)
