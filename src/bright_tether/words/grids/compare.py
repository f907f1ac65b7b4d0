"""Tables of Compare."""

from __future__ import annotations

from bright_tether.live.comparison import Comparison
from bright_tether.live.findings import Findings
from bright_tether.study.pins import Grid
from bright_tether.words import digits as d
from bright_tether.words.causes import cause
from bright_tether.words.readings.compare import df_in_words
from bright_tether.words.readings.line import equation_of
from bright_tether.words.shown import Shown


def differences_grid(findings: Findings, comparison: Comparison) -> Grid:
    """Differences of slopes, intercepts and heights, by every way of judging them."""
    digits, rows = findings.rules.digits, []
    for name, found in (
        ("slopes", comparison.slopes),
        ("intercepts", comparison.intercepts),
        ("heights", comparison.heights),
    ):
        for basis in ("separate", "welch", "pooled"):
            one = getattr(found, basis, None) if found is not None else None
            if one is not None:
                rows.append((f"{name}, {basis}", one))
        by_case = getattr(comparison.by_case, name, None)
        if by_case is not None:
            rows.append((f"{name}, by case", by_case))
    if comparison.same_rows is not None:
        for name in ("slope", "intercept", "height"):
            one = getattr(comparison.same_rows, name)
            if one is not None:
                rows.append((f"{name}s, same rows", one))
    texts = []
    for name, one in rows:
        finest = d.decimals_for(one.se, digits)
        size, t = d.figure(one.se, digits), d.figure(one.t, digits)
        texts.append((name, d.signed(one.difference, finest), size, t, df_in_words(one.df), d.p_value(one.p),
                      d.between(one.ci, finest)))  # fmt: skip
    heads = ("difference of", "difference", "se", "t", "df", "p", "interval")
    return Grid(title="Differences", heads=heads, rows=tuple(texts))


def rungs_grid(findings: Findings, comparison: Comparison) -> Grid:
    """From one line for all to a line each."""
    rungs = comparison.by_case or comparison.ladder
    rows = []
    for name, test, other in (
        ("one slope for all (parallel)", rungs.parallel, "a line each"),
        ("one height, given one slope", rungs.same_height, "parallel lines"),
        ("one line for all (coincident)", rungs.coincident, "a line each"),
    ):
        df = d.NONE
        if test.df1 is not None and test.df2 is not None:
            df = Shown(f"{test.df1}, {test.df2}", test.df1, test.df2, names=("df1", "df2"))
        rows.append((name, d.figure(test.f, 4), df, d.p_value(test.p), other))
    heads = ("is it enough to have", "F", "df", "p", "against")
    title = "Rungs, by case" if comparison.by_case is not None else "Rungs"
    return Grid(title=title, heads=heads, rows=tuple(rows))


def every_two_grid(findings: Findings, comparison: Comparison) -> Grid:
    """Slopes of every two groups, with Holm's adjustment."""
    digits, rows = findings.rules.digits, []
    if comparison.pairwise_cause is not None:
        rows.append((cause(comparison.pairwise_cause), "", "", "", ""))
    for one in (comparison.by_case or comparison).pairwise:
        finest = d.decimals_of(one.ci, digits)
        rows.append((" − ".join(one.groups), d.signed(one.difference, finest), d.between(one.ci, finest),
                     d.p_value(one.p), d.p_value(one.p_holm)))  # fmt: skip
    heads = ("groups", "difference of slopes", "interval", "p", "p, Holm")
    title = "Every two, by case" if comparison.by_case is not None else "Every two"
    return Grid(title=title, heads=heads, rows=tuple(rows))


def groups_grid(findings: Findings, comparison: Comparison) -> Grid:
    """The line of each group: its equation, and how well it is known."""
    digits, rows = findings.rules.digits, []
    x, y = findings.x_column.short, findings.y_column.short
    first = findings.tether.line.slope_first
    for group in comparison.groups:
        line = group.line
        if line is None:
            rows.append((group.name, d.grouped(group.n), *(d.NONE,) * 6))
            continue
        # of two tethers each name holds both columns; of two responses it is the y
        of = {"groups": (x, y), "responses": (x, group.name)}.get(comparison.source, ("x", "y"))
        se, se_height, ci = (None, None, None) if group.judged is None else (
            group.judged.se_slope, group.judged.se_intercept, group.judged.ci_slope)  # fmt: skip
        rows.append((
            group.name, d.grouped(group.n), equation_of(line, (se, se_height), of, digits, first), d.figure(se, digits),
            d.between(ci, d.decimals_for(se, digits, line.slope)), d.coefficient(line.r, digits),
            d.figure(line.r2, digits), d.figure(line.s, digits),
        ))  # fmt: skip
    heads = ("group", "n", "line", "se", "interval", "r", "r²", "s")
    return Grid(title="Lines", heads=heads, rows=tuple(rows))
