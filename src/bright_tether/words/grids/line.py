"""Tables of Line."""

from __future__ import annotations

from functools import partial

from bright_tether.core.line.errors import KINDS, ErrorKind, NoErrors
from bright_tether.live.findings import Findings
from bright_tether.study.pins import Grid
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.choices import ERROR_NAMES
from bright_tether.words.readings.alternatives import ALTERNATIVE_NAMES, what_it_says


def errors_grid(findings: Findings) -> Grid:
    """Slope and intercept by every rule of errors; strong is the one in force."""
    heads = (
        "errors",
        "se of slope",
        "t",
        "p",
        "interval of slope",
        "se of intercept",
        "interval of intercept",
    )
    rows = tuple(_errors_row(findings, kind) for kind in KINDS)
    strong = KINDS.index(findings.tether.line.errors)
    return Grid(title="Errors side by side", heads=heads, rows=rows, strong=strong)


def _errors_row(findings: Findings, kind: ErrorKind) -> tuple[str, ...]:
    digits = findings.rules.digits
    if kind == "clustered" and findings.clusters is None:
        return (ERROR_NAMES[kind], "name the column of cases first", *[""] * 5)
    try:
        by = findings.coefficients_by(kind)
    except NoErrors as none:
        return (ERROR_NAMES[kind], f"none: {cause(none.cause)}", *[""] * 5)
    finest = d.decimals_for(by.se_slope, digits, findings.line.slope)
    height = d.decimals_for(by.se_intercept, digits, findings.line.intercept)
    return (
        ERROR_NAMES[kind],
        d.figure(by.se_slope, digits),
        d.figure(by.t_slope, digits),
        d.p_value(by.p_slope),
        d.between(by.ci_slope, finest),
        d.figure(by.se_intercept, digits),
        d.between(by.ci_intercept, height),
    )


def variation_grid(findings: Findings) -> Grid:
    """The split of variation."""
    line, digits, n = findings.line, findings.rules.digits + 1, findings.pairs.n
    show = partial(d.figure, digits=digits)
    whole = n if findings.fit.origin else n - 1
    total = None if line.ss_total is None else line.ss_total / whole
    about = "all about 0" if findings.fit.origin else "all about the mean"
    rows = (
        ("line", show(line.ss_model), d.grouped(1), show(line.ss_model), show(line.f), d.p_value(line.p_f)),
        ("residuals", show(line.ss_residual), d.grouped(line.residual_df), show(line.mse), "", ""),
        (about, show(line.ss_total), d.grouped(whole), show(total), "", ""),
    )
    heads = ("source", "sum of squares", "df", "mean square", "F", "p")
    return Grid(title="Split of variation", heads=heads, rows=rows)


def alternatives_grid(findings: Findings) -> Grid:
    """Every other line."""
    rows, digits = [], findings.rules.digits
    for one in findings.alternatives:
        finest = d.decimals_of(one.ci, digits, one.slope)
        typical = d.figure(one.typical, digits)
        rows.append((ALTERNATIVE_NAMES[one.kind], d.fixed(one.slope, finest), d.between(one.ci, finest), typical,
                     what_it_says(findings, one)))  # fmt: skip
    heads = ("line", "slope", "interval", "typical residual", "what it says")
    return Grid(title="Other lines", heads=heads, rows=tuple(rows))
