"""The hypothesis stated, the test that decides, and the outcome that follows from p and α."""

from __future__ import annotations

from dataclasses import dataclass

from bright_tether.core.line.figures import Line
from bright_tether.core.results import Alternative, Cause, Decider, Why, reasons
from bright_tether.core.strength.pearson import Pearson
from bright_tether.core.tails import t_beyond


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Decision:
    """H0 and H1 as relations, the deciding statistic with its critical value, p, and the outcome.

    statistic and critical are on one scale: r for pearson, t for slope.
    """

    test: Decider
    h0: str
    h1: str
    alpha: float
    alternative: Alternative
    statistic: float | None
    critical: float
    p: float | None
    reject: bool | None
    why: Why


_SIGN = {"two-sided": "≠", "greater": ">", "less": "<"}


def decide(
    test: Decider, *, correlation: Pearson, line: Line, alpha: float, alternative: Alternative
) -> Decision:
    """Let the named test decide: reject when p ≤ α.

    Source: quantities §2c. reject is None where p is.
    """
    if test == "slope":
        name, null = "β", line.slope_0
        statistic, p = line.t_slope, line.p_slope
        critical = t_beyond(alpha / 2 if alternative == "two-sided" else alpha, line.residual_df)
        missing = line.why.get("p_slope")
    else:
        name, null = "ρ", 0.0
        statistic, p, critical = correlation.r, correlation.p, correlation.critical
        missing = correlation.why.get("p")
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
