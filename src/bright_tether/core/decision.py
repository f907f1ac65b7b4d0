"""The hypothesis stated, the test that decides, and the outcome that follows from p and α."""

from __future__ import annotations

import msgspec

from bright_tether.core.line.coefficients import Coefficients
from bright_tether.core.line.figures import Line
from bright_tether.core.results import Alternative, Cause, Decider, Why, reasons
from bright_tether.core.strength.kendall import Kendall
from bright_tether.core.strength.pearson import Pearson
from bright_tether.core.strength.spearman import Spearman
from bright_tether.core.tails import t_beyond


class Decision(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The deciding statistic with its critical value, p, and the outcome.

    null : the statistic's own parameter under H0; H1 follows from the alternative. instead_of : the test that
    was named where another decides. statistic and critical are on one scale: r, ρ_s or τ_b for the
    coefficients, t for the slope.
    """

    test: Decider
    null: float
    alpha: float
    alternative: Alternative
    statistic: float | None
    critical: float | None
    p: float | None
    reject: bool | None
    instead_of: Decider | None
    why: Why


def decider(named: Decider, *, errors: str, weighted: bool, origin: bool, slope_0: float) -> Decider:
    """The test that decides: the one named, but for lines that only the slope can judge.

    Those are lines with other errors than classical ones, with weights, through the origin, or held against a
    slope other than 0. Source: quantities §2c.
    """
    return "slope" if errors != "classical" or weighted or origin or slope_0 != 0 else named


def undecided(
    test: Decider, cause: Cause, *, slope_0: float, alpha: float, alternative: Alternative,
    critical: float | None = None, instead_of: Decider | None = None,
) -> Decision:  # fmt: skip
    """The hypotheses where the deciding test has no value, for a cause."""
    null = slope_0 if test == "slope" else 0.0
    names = ["statistic", "p", "reject", *(["critical"] if critical is None else [])]
    return Decision(
        test=test, null=null,
        alpha=alpha, alternative=alternative, statistic=None, critical=critical, p=None, reject=None,
        instead_of=instead_of, why=reasons(dict.fromkeys(names, cause)),
    )  # fmt: skip


def decide(
    test: Decider,
    *,
    correlation: Pearson | None,
    line: Line,
    spearman: Spearman | None = None,
    kendall: Kendall | None = None,
    coefficients: Coefficients | None = None,
    slope_df: int | None = None,
    alpha: float,
    alternative: Alternative,
    instead_of: Decider | None = None,
) -> Decision:
    """Let the named test decide: reject when p ≤ α.

    The result of the deciding test must be given; coefficients and slope_df : by the errors in force,
    the line's own when not given. reject is None where p is.
    Source: quantities §2c.
    """
    null = line.slope_0 if test == "slope" else 0.0
    critical: float | None = None
    if test == "slope":
        by = coefficients or line
        statistic, p, why_p = by.t_slope, by.p_slope, by.why
        critical = t_beyond(alpha / 2 if alternative == "two-sided" else alpha, slope_df or line.residual_df)
    elif test == "spearman" and spearman is not None:
        critical = spearman.critical
        statistic, p, why_p = spearman.rho, spearman.p, spearman.why
    elif test == "kendall" and kendall is not None:
        critical = kendall.critical
        statistic, p, why_p = kendall.tau_b, kendall.p, kendall.why
    else:
        assert correlation is not None
        critical = correlation.critical
        statistic, p, why_p = correlation.r, correlation.p, correlation.why
    missing = why_p.get("p_slope" if test == "slope" else "p")
    why: dict[str, Cause] = {}
    if missing:
        why = {
            key: missing
            for key, value in (("p", p), ("reject", p), ("statistic", statistic))
            if value is None
        }
    if critical is None:
        why["critical"] = missing or Cause.NO_DEGREES_OF_FREEDOM
    return Decision(
        test=test,
        null=null,
        alpha=alpha,
        alternative=alternative,
        statistic=statistic,
        critical=critical,
        p=p,
        reject=None if p is None else p <= alpha,
        instead_of=instead_of,
        why=reasons(why),
    )
