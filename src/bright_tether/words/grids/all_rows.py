"""Tables of all rows beside the share of them."""

from __future__ import annotations

from contextlib import suppress

from bright_tether.core.checks.together import Checks
from bright_tether.core.compare.groups import Group
from bright_tether.core.line.figures import Line
from bright_tether.core.results import Refusal
from bright_tether.live.all_rows import AllRows, errors_of_all
from bright_tether.live.far import FarFindings
from bright_tether.live.findings import Findings
from bright_tether.study.pins import Grid
from bright_tether.words import digits as d
from bright_tether.words.choices import ERROR_NAMES

#: A line, and its checks where they are those of the plain line.
Sums = tuple[Line, Checks | None]


def all_rows_grids(findings: Findings, found: AllRows) -> tuple[Grid, ...]:
    """Every sum over all rows beside that of the share, and each group's where groups are compared."""
    far = found.far
    if far is None:
        return ()
    mine: Sums | None = None
    with suppress(Refusal):
        mine = findings.plain_line, findings.checks if findings.fit is findings.plain else None
    digits = findings.rules.digits
    both = ((far.line, far.checks), mine)
    rows = [
        ("pairs", d.grouped(far.pairs.n), d.grouped(findings.pairs.n)),
        *(_row(name, both, digits, *where) for name, where in _FIGURES.items()),
    ]
    errors = errors_of_all(findings)
    rows.insert(2, (
        f"interval of slope, {ERROR_NAMES[errors]} errors",
        *(_interval(one, errors, digits) for one in both),
    ))  # fmt: skip
    if far.question.group:
        rows += _groups(findings, far)
    return (
        Grid(title="All rows and the share", heads=("figure", "all rows", "the share"), rows=tuple(rows)),
    )


#: Of each row: whether it is of the line or of its checks, and its name there.
_FIGURES: dict[str, tuple[str, ...]] = {
    "slope": ("line", "slope"), "intercept": ("line", "intercept"), "residual standard deviation": ("line", "s"),
    "r": ("line", "r"), "r²": ("line", "r2"), "curvature, t": ("checks", "curvature", "t"),
    "RESET, F": ("checks", "reset", "f"),
    "repeated x, F": ("checks", "lack_of_fit", "f"),
    "Breusch–Pagan": ("checks", "breusch_pagan", "lm"), "White": ("checks", "white", "lm"),
    "spread ratio": ("checks", "spread_ratio"),
    "Durbin–Watson, d": ("checks", "durbin_watson", "d"), "runs, z": ("checks", "runs", "z"),
    "skewness of the residuals": ("checks", "skewness"),
    "excess kurtosis of the residuals": ("checks", "excess_kurtosis"),
}  # fmt: skip

#: What looks at neighbours: those of a share are none in the whole.
_NEIGHBOURS = ("durbin_watson", "runs")


def _row(name: str, both: tuple[Sums | None, ...], digits: int, which: str, *path: str) -> tuple[str, ...]:
    shown = []
    for one in (both[0], None) if path[0] in _NEIGHBOURS else both:
        value: object = None if one is None else one[0 if which == "line" else 1]
        for part in path:
            value = getattr(value, part, None)
        shown.append(d.figure(value if isinstance(value, float) else None, digits + 1))
    return (name, *shown)


def _interval(one: Sums | None, errors: str, digits: int) -> str:
    if one is None:
        return d.NONE
    line = one[0]
    ends = line.ci_slope if errors == "classical" else line.robust[errors].ci_slope
    return d.between(ends, d.decimals_of(ends, digits, line.slope))


def _groups(findings: Findings, far: FarFindings) -> list[tuple[str, ...]]:
    """Pairs and slope of each group."""
    digits, mine = findings.rules.digits + 1, dict[str, Group]()
    with suppress(Refusal):
        mine = {group.name: group for group in findings.comparison.groups}
    rows: list[tuple[str, ...]] = []
    for group in far.comparison.groups:
        both = (group, mine.get(group.name))
        counts = (d.grouped(one.n if one else 0) for one in both)
        slopes = (d.figure(one.line.slope if one and one.line else None, digits) for one in both)
        rows += [(f"pairs, {group.name}", *counts), (f"slope, {group.name}", *slopes)]
    return rows
