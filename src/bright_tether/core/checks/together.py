"""All checks of one line."""

from __future__ import annotations

import msgspec
import numpy as np

from bright_tether.core.checks.added import FTest, why_no_rows
from bright_tether.core.checks.bend import Curvature, curvature, lack_of_fit, reset
from bright_tether.core.checks.order import DurbinWatson, Runs, durbin_watson, runs
from bright_tether.core.checks.shape import (
    AndersonDarling,
    JarqueBera,
    ShapiroWilk,
    anderson_darling,
    jarque_bera,
    shapiro_wilk,
)
from bright_tether.core.checks.spread import SpreadTest, breusch_pagan, spread_ratio, white
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause, Floats, Ints, Why, reasons
from bright_tether.core.shape.fences import fences


class ResidualFences(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Quartiles and fences of the residuals in y units; rows : table rows from 1 beyond them."""

    q1: float | None
    q3: float | None
    lower: float | None
    upper: float | None
    rows: tuple[int, ...]
    why: Why


class Checks(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Section 5: each check of the residuals under its public key."""

    curvature: Curvature
    reset: FTest
    lack_of_fit: FTest
    breusch_pagan: SpreadTest
    white: SpreadTest
    spread_ratio: float | None
    durbin_watson: DurbinWatson
    runs: Runs
    shapiro_wilk: ShapiroWilk
    anderson_darling: AndersonDarling
    jarque_bera: JarqueBera
    skewness: float | None
    excess_kurtosis: float | None
    fences: ResidualFences
    why: Why


def checks(fit: Fit, order: Ints | None = None) -> Checks:
    """Every check of a line's residuals, with weights where the line has them.

    order : (n,) places in the stated order, for the checks of neighbours. Source: quantities §5.
    """
    ratio, cause = spread_ratio(fit)
    ordered = np.zeros(0) if why_no_rows(fit) else np.sort(fit.weighted_residual)
    shape = jarque_bera(fit)
    why: dict[str, Cause] = {"spread_ratio": cause} if cause else {}
    why |= {key: shape.why[key] for key in ("skewness", "excess_kurtosis") if key in shape.why}
    return Checks(
        curvature=curvature(fit),
        reset=reset(fit),
        lack_of_fit=lack_of_fit(fit),
        breusch_pagan=breusch_pagan(fit),
        white=white(fit),
        spread_ratio=ratio,
        durbin_watson=durbin_watson(fit, order),
        runs=runs(fit, order),
        shapiro_wilk=shapiro_wilk(fit),
        anderson_darling=anderson_darling(fit, ordered),
        jarque_bera=shape,
        skewness=shape.skewness,
        excess_kurtosis=shape.excess_kurtosis,
        fences=residual_fences(fit, ordered),
        why=reasons(why),
    )


def residual_fences(fit: Fit, ordered: Floats) -> ResidualFences:
    """1.5·IQR fences of the residuals, which in rising order are ordered, (n,), and the rows beyond.

    Source: quantities §5.
    """
    cause = why_no_rows(fit)
    if cause:
        names = ("q1", "q3", "lower", "upper")
        return ResidualFences(**dict.fromkeys(names), rows=(), why=reasons(dict.fromkeys(names, cause)))
    scaled = fences(fit.weighted_residual, ordered)
    q1, q3, lower, upper = (
        fit.spread_unscaled(v) for v in (scaled.q1, scaled.q3, scaled.lower, scaled.upper)
    )
    rows = tuple((fit.pairs.at[scaled.beyond] + 1).tolist())
    ends = {"q1": q1, "q3": q3, "lower": lower, "upper": upper}
    lost = {name: Cause.OUT_OF_RANGE for name, value in ends.items() if value is None}
    return ResidualFences(**ends, rows=rows, why=reasons(lost))
