"""The checks behind the doubts: their figures, and the sums they rest on."""

from __future__ import annotations

from functools import partial

from bright_tether.core.checks.order import Runs
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.reading import Figure, Step, Working


def check_figures(findings: Findings, name: str) -> tuple[Figure, ...]:
    """The checks of one doubt in figures."""
    checks, digits = findings.checks, findings.rules.digits
    show = partial(d.figure, digits=digits)
    if name == "bend":
        lack = checks.lack_of_fit
        return (
            Figure(
                f"curvature, t ({d.grouped(checks.curvature.df)} df)",
                show(checks.curvature.t),
                d.p_value(checks.curvature.p),
            ),
            Figure("powers of fitted, F", show(checks.reset.f), d.p_value(checks.reset.p)),
            Figure(
                "repeated x, F", show(lack.f), d.p_value(lack.p) if lack.f is not None else "no x repeats"
            ),
        )
    if name == "spread":
        return (
            Figure("Breusch–Pagan", show(checks.breusch_pagan.lm), d.p_value(checks.breusch_pagan.p)),
            Figure("White", show(checks.white.lm), d.p_value(checks.white.p)),
            Figure("spread ratio", show(checks.spread_ratio), "upper third / lower"),
        )
    if name == "order":
        plus, minus, z = d.grouped(checks.runs.n_plus), d.grouped(checks.runs.n_minus), show(checks.runs.z)
        return (
            Figure(
                "Durbin–Watson d", show(checks.durbin_watson.d), d.p_value(checks.durbin_watson.p_two_sided)
            ),
            Figure("alike neighbours only", "", d.p_value(checks.durbin_watson.p_positive)),
            Figure("lag 1", d.coefficient(checks.durbin_watson.lag1, digits)),
            Figure("runs of one sign", d.grouped(checks.runs.runs or None), d.p_value(checks.runs.p)),
            Figure(
                "signs + and −",
                d.worded(f"{plus} and {minus}", plus, minus, names=("signs +", "signs −")),
                d.worded(f"z {z}", z, names=("z of the runs",)),
            ),
        )
    if name == "shape":
        return (
            Figure("Shapiro–Wilk W", show(checks.shapiro_wilk.w), d.p_value(checks.shapiro_wilk.p)),
            Figure(
                "Anderson–Darling A²*",
                show(checks.anderson_darling.a2_star),
                d.p_value(checks.anderson_darling.p),
            ),
            Figure("Jarque–Bera", show(checks.jarque_bera.jb), d.p_value(checks.jarque_bera.p)),
            Figure("skewness", d.signed(checks.skewness, digits)),
            Figure("excess kurtosis", d.signed(checks.excess_kurtosis, digits)),
        )
    rows = findings.rows
    if name == "far-out":
        box = checks.fences
        low, high = show(box.lower), show(box.upper)
        return (
            Figure("largest |t|", show(findings.doubt(name).size), d.p_value(findings.doubt(name).p)),
            Figure("fences of the residuals", d.worded(f"{low} … {high}", low, high)),
            Figure("rows beyond the fences", d.grouped(len(box.rows))),
        )
    top, mean = float(rows.leverage.max()), show(findings.fit.parameters / findings.pairs.n)
    return (
        Figure("largest Cook’s distance", show(findings.doubt(name).size), d.p_value(findings.doubt(name).p)),
        Figure("largest leverage", show(top), d.worded(f"mean {mean}", mean, names=("mean leverage",))),
    )


def doubts_working(findings: Findings) -> tuple[Working, ...]:
    """The checks with the sums they rest on."""
    checks, n = findings.checks, findings.pairs.n
    fine = partial(d.figure, digits=7)
    dw, runs, jb = checks.durbin_watson, checks.runs, checks.jarque_bera
    sse = findings.fit.square_unscaled(findings.fit.sse)
    workings = [
        Working(
            "Bend",
            (
                Step(
                    "curvature",
                    f"t of an added (x − x̄)² term on {d.grouped(checks.curvature.df)} df",
                    fine(checks.curvature.t),
                ),
                Step("share", "what the term takes of SSE", d.percent(checks.curvature.share, 4)),
                Step(
                    "powers of fitted", f"F on ({checks.reset.df1}, {checks.reset.df2})", fine(checks.reset.f)
                ),
            ),
        ),
        Working(
            "Spread",
            (
                Step("Breusch–Pagan", f"n·R² of e² on x, n = {n}", fine(checks.breusch_pagan.lm)),
                Step(
                    "White", f"n·R² of e² on x and x², {d.grouped(checks.white.df)} df", fine(checks.white.lm)
                ),
                Step(
                    "ratio",
                    f"sd of the upper {n // 3} residuals by x / sd of the lower {n // 3}",
                    fine(checks.spread_ratio),
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
                    d.grouped(runs.runs),
                ),
                Step("z of runs", "(runs − expected) / their sd", fine(runs.z)),
            ),
        ),
        Working(
            "Shape",
            (
                Step("skewness", "Σe³/n / (Σe²/n)^1.5", fine(checks.skewness)),
                Step("excess kurtosis", "Σe⁴/n / (Σe²/n)² − 3", fine(checks.excess_kurtosis)),
                Step("Jarque–Bera", f"n(g1² + g2²/4)/6, n = {n}", fine(jb.jb)),
                Step("A²*", "A²(1 + 0.75/n + 2.25/n²)", fine(checks.anderson_darling.a2_star)),
            ),
        ),
    ]
    return tuple(workings)


def _expected_runs(runs: Runs) -> str:
    both = runs.n_plus + runs.n_minus
    return d.figure(2 * runs.n_plus * runs.n_minus / both + 1, 7) if both else d.NONE
