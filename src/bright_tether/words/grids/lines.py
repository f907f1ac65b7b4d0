"""A table for a paper: a line each for tethers or groups, with the columns that were chosen."""

from __future__ import annotations

from collections.abc import Callable, Iterable

import msgspec

from bright_tether.core.line.coefficients import Coefficients
from bright_tether.core.line.figures import Line
from bright_tether.core.results import Interval, Refusal
from bright_tether.live.findings import Findings
from bright_tether.study.names import tether_name
from bright_tether.study.pins import Grid
from bright_tether.words import digits as d
from bright_tether.words.reading import names_of


class OneLine(msgspec.Struct, frozen=True):
    """What a line of the table is made from. r_ci, p_r : None where they are not told for it."""

    name: str
    n: int
    line: Line | None
    judged: Coefficients | None
    r: float | None
    r_ci: Interval | None
    p_r: float | None
    df: int | None
    digits: int
    unit: str = ""


def _fine(one: OneLine) -> int:
    se = None if one.judged is None else one.judged.se_slope
    return d.decimals_for(se, one.digits, 0.0 if one.line is None else one.line.slope)


def _high(one: OneLine) -> int:
    se = None if one.judged is None else one.judged.se_intercept
    return d.decimals_for(se, one.digits, 0.0 if one.line is None else one.line.intercept)


def _by(read: Callable[[OneLine, Coefficients], str]) -> Callable[[OneLine], str]:
    return lambda one: d.NONE if one.judged is None else read(one, one.judged)


def _of(read: Callable[[OneLine, Line], str]) -> Callable[[OneLine], str]:
    return lambda one: d.NONE if one.line is None else read(one, one.line)


#: Every column by its id: its head, and what stands in it.
COLUMNS: dict[str, tuple[str, Callable[[OneLine], str]]] = {
    "n": ("n", lambda one: d.grouped(one.n)),
    "r": ("r", lambda one: d.coefficient(one.r, one.digits)),
    "r-interval": ("interval of r", lambda one: d.coefficients(one.r_ci, one.digits)),
    "p-r": ("p of r", lambda one: d.p_value(one.p_r)),
    "r2": ("r²", _of(lambda one, line: d.figure(line.r2, one.digits))),
    "slope": ("slope", _of(lambda one, line: d.fixed(line.slope, _fine(one)))),
    "slope-interval": ("interval of the slope", _by(lambda one, by: d.between(by.ci_slope, _fine(one)))),
    "unit": ("unit of the slope", lambda one: one.unit),
    "se": ("se of the slope", _by(lambda one, by: d.figure(by.se_slope, one.digits))),
    "t": ("t of the slope", _by(lambda one, by: d.figure(by.t_slope, one.digits))),
    "df": ("df", lambda one: d.grouped(one.df)),
    "p": ("p of the slope", _by(lambda one, by: d.p_value(by.p_slope))),
    "intercept": ("intercept", _of(lambda one, line: d.fixed(line.intercept, _high(one)))),
    "intercept-interval": ("interval of the intercept", _by(lambda one, by: d.between(by.ci_intercept, _high(one)))),
    "s": ("s", _of(lambda one, line: d.figure(line.s, one.digits))),
}  # fmt: skip
#: Those that a new table starts with.
USUAL = ("n", "r", "r-interval", "slope", "slope-interval", "p", "r2", "s")


def tethers_grid(every: Iterable[Findings], columns: tuple[str, ...]) -> Grid:
    """One line a tether."""
    return _grid("The lines", "line", [_of_tether(one) for one in every], columns)


def groups_grid_for_paper(findings: Findings, columns: tuple[str, ...]) -> Grid:
    """One line a group of those compared. Raises Refusal."""
    groups, digits = findings.comparison.groups, findings.rules.digits
    unit = names_of(findings.x_column, findings.y_column).slope_unit
    lines = [
        OneLine(
            name=one.name, n=one.n, line=one.line, judged=one.judged, r=None if one.line is None else one.line.r,
            r_ci=None, p_r=None, df=None if one.errors is None else one.errors.df, digits=digits, unit=unit,
        )
        for one in groups
    ]  # fmt: skip
    name = tether_name(findings.study, findings.tether)
    return _grid(
        f"The lines of {name}", "group", lines, tuple(one for one in columns if one not in _BY_TETHER)
    )


#: Told for a whole tether alone.
_BY_TETHER = ("r-interval", "p-r")


def _of_tether(findings: Findings) -> OneLine:
    name, digits = tether_name(findings.study, findings.tether), findings.rules.digits
    if findings.refusal is not None:
        n = findings.pairs.n if findings.tied else 0
        return OneLine(name, n, None, None, None, None, None, None, digits)
    try:
        r = findings.in_force("pearson")
        value, ci, p = r.value, r.ci, r.p
    except Refusal:
        value = ci = p = None
    return OneLine(name=name, n=findings.pairs.n, line=findings.line, judged=findings.coefficients, r=value, r_ci=ci,
                   p_r=p, df=findings.errors.df, digits=digits,
                   unit=names_of(findings.x_column, findings.y_column).slope_unit)  # fmt: skip


def _grid(title: str, first: str, lines: list[OneLine], columns: tuple[str, ...]) -> Grid:
    chosen = [COLUMNS[one] for one in columns if one in COLUMNS]
    rows = tuple((one.name, *(read(one) for _, read in chosen)) for one in lines)
    return Grid(title=title, heads=(first, *(head for head, _ in chosen)), rows=rows)
