"""The checks behind the doubts: their figures, and the sums they rest on."""

from __future__ import annotations

from functools import partial

from bright_tether.core.checks.order import Runs
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.reading import Figure, Step, Working


def check_figures(findings: Findings, name: str) -> tuple[Figure, ...]:
    """The checks of one doubt in figures."""
    told, digits = findings.checks, findings.rules.digits
    show = partial(d.figure, digits=digits)
    if name == "bend":
        lack = told.lack_of_fit
        return (
            Figure(
                f"curvature, t ({told.curvature.df} df)", show(told.curvature.t), d.p_value(told.curvature.p)
            ),
            Figure("powers of fitted, F", show(told.reset.f), d.p_value(told.reset.p)),
            Figure(
                "repeated x, F", show(lack.f), d.p_value(lack.p) if lack.f is not None else "no x repeats"
            ),
        )
    if name == "spread":
        return (
            Figure("Breusch–Pagan", show(told.breusch_pagan.lm), d.p_value(told.breusch_pagan.p)),
            Figure("White", show(told.white.lm), d.p_value(told.white.p)),
            Figure("spread ratio", show(told.spread_ratio), "upper third / lower"),
        )
    if name == "order":
        return (
            Figure("Durbin–Watson d", show(told.durbin_watson.d), d.p_value(told.durbin_watson.p_two_sided)),
            Figure("alike neighbours only", "", d.p_value(told.durbin_watson.p_positive)),
            Figure("lag 1", d.coefficient(told.durbin_watson.lag1, digits)),
            Figure("runs of one sign", str(told.runs.runs or d.NONE), d.p_value(told.runs.p)),
            Figure("signs + and −", f"{told.runs.n_plus} and {told.runs.n_minus}", f"z {show(told.runs.z)}"),
        )
    if name == "shape":
        return (
            Figure("Shapiro–Wilk W", show(told.shapiro_wilk.w), d.p_value(told.shapiro_wilk.p)),
            Figure(
                "Anderson–Darling A²*",
                show(told.anderson_darling.a2_star),
                d.p_value(told.anderson_darling.p),
            ),
            Figure("Jarque–Bera", show(told.jarque_bera.jb), d.p_value(told.jarque_bera.p)),
            Figure("skewness", d.signed(told.skewness, digits)),
            Figure("excess kurtosis", d.signed(told.excess_kurtosis, digits)),
        )
    rows = findings.rows
    if name == "far-out":
        box = told.fences
        return (
            Figure("largest |t|", show(findings.doubt(name).size), d.p_value(findings.doubt(name).p)),
            Figure("fences of the residuals", f"{show(box.lower)} … {show(box.upper)}"),
            Figure("rows beyond the fences", str(len(box.rows))),
        )
    top = float(rows.leverage.max())
    return (
        Figure("largest Cook’s distance", show(findings.doubt(name).size), d.p_value(findings.doubt(name).p)),
        Figure("largest leverage", show(top), f"mean {show(findings.fit.parameters / findings.pairs.n)}"),
    )


def doubts_working(findings: Findings) -> tuple[Working, ...]:
    """The checks with the sums they rest on."""
    told, n = findings.checks, findings.pairs.n
    fine = partial(d.figure, digits=7)
    dw, runs, jb = told.durbin_watson, told.runs, told.jarque_bera
    sse = findings.line.ss_residual
    made = [
        Working(
            "Bend",
            (
                Step(
                    "curvature",
                    f"t of an added (x − x̄)² term on {told.curvature.df} df",
                    fine(told.curvature.t),
                ),
                Step("share", "what the term takes of SSE", d.percent(told.curvature.share, 4)),
                Step("powers of fitted", f"F on ({told.reset.df1}, {told.reset.df2})", fine(told.reset.f)),
            ),
        ),
        Working(
            "Spread",
            (
                Step("Breusch–Pagan", f"n·R² of e² on x, n = {n}", fine(told.breusch_pagan.lm)),
                Step("White", f"n·R² of e² on x and x², {told.white.df} df", fine(told.white.lm)),
                Step(
                    "ratio",
                    f"sd of the upper {n // 3} residuals by x / sd of the lower {n // 3}",
                    fine(told.spread_ratio),
                ),
            ),
        ),
        Working(
            "Order",
            (
                Step("d", f"Σ(e − e before)² / Σe², Σe² = {fine(sse)}", fine(dw.d)),
                Step("lag 1", "Σ e·(e before) / Σe²", fine(dw.lag1)),
                Step(
                    "runs",
                    f"{runs.n_plus} above, {runs.n_minus} below: expected {_expected_runs(runs)}",
                    str(runs.runs),
                ),
                Step("z of runs", "(runs − expected) / their sd", fine(runs.z)),
            ),
        ),
        Working(
            "Shape",
            (
                Step("skewness", "Σe³/n / (Σe²/n)^1.5", fine(told.skewness)),
                Step("excess kurtosis", "Σe⁴/n / (Σe²/n)² − 3", fine(told.excess_kurtosis)),
                Step("Jarque–Bera", f"n(g1² + g2²/4)/6, n = {n}", fine(jb.jb)),
                Step("A²*", "A²(1 + 0.75/n + 2.25/n²)", fine(told.anderson_darling.a2_star)),
            ),
        ),
    ]
    return tuple(made)


def _expected_runs(runs: Runs) -> str:
    both = runs.n_plus + runs.n_minus
    return d.figure(2 * runs.n_plus * runs.n_minus / both + 1, 7) if both else d.NONE
