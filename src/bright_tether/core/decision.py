"""The hypothesis stated, the test that decides, and the outcome that follows from p and α."""

from __future__ import annotations

from dataclasses import dataclass

from bright_tether.core.line.coefficients import Coefficients
from bright_tether.core.line.figures import Line
from bright_tether.core.results import Alternative, Cause, Decider, Why, reasons
from bright_tether.core.strength.kendall import Kendall
from bright_tether.core.strength.pearson import Pearson
from bright_tether.core.strength.spearman import Spearman
from bright_tether.core.tails import t_beyond


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Decision:
    """H0 and H1 as relations, the deciding statistic with its critical value, p, and the outcome.

    statistic and critical are on one scale: r, ρ_s or τ_b for the coefficients, t for the slope.
    """

    test: Decider
    h0: str
    h1: str
    alpha: float
    alternative: Alternative
    statistic: float | None
    critical: float | None
    p: float | None
    reject: bool | None
    why: Why


_SIGN = {"two-sided": "≠", "greater": ">", "less": "<"}


def decide(
    test: Decider,
    *,
    correlation: Pearson,
    line: Line,
    spearman: Spearman | None = None,
    kendall: Kendall | None = None,
    coefficients: Coefficients | None = None,
    slope_df: int | None = None,
    alpha: float,
    alternative: Alternative,
) -> Decision:
    """Let the named test decide: reject when p ≤ α.

    The result of the deciding test must be given; coefficients and slope_df : by the errors in force,
    the line's own when not given. reject is None where p is.
    Source: quantities §2c.
    """
    name, null = "ρ", 0.0
    critical: float | None = correlation.critical
    statistic, p, why_p = correlation.r, correlation.p, correlation.why
    if test == "slope":
        name, null = "β", line.slope_0
        by = coefficients or line
        statistic, p, why_p = by.t_slope, by.p_slope, by.why
        critical = t_beyond(alpha / 2 if alternative == "two-sided" else alpha, slope_df or line.residual_df)
    elif test == "spearman" and spearman is not None:
        name, critical = "ρ_s", spearman.critical
        statistic, p, why_p = spearman.rho, spearman.p, spearman.why
    elif test == "kendall" and kendall is not None:
        name, critical = "τ", kendall.critical
        statistic, p, why_p = kendall.tau_b, kendall.p, kendall.why
    missing = why_p.get("p_slope" if test == "slope" else "p")
    why: dict[str, Cause] = {}
    if missing:
        why = {
            key: missing
            for key, value in (("p", p), ("reject", p), ("statistic", statistic))
            if value is None
        }
    return Decision(
        test=test,
        h0=f"{name} = {null:.15g}",
        h1=f"{name} {_SIGN[alternative]} {null:.15g}",
        alpha=alpha,
        alternative=alternative,
        statistic=statistic,
        critical=critical,
        p=p,
        reject=None if p is None else p <= alpha,
        why=reasons(why),
    )
