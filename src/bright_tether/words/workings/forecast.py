"""The calculation behind a forecast."""

from __future__ import annotations

import math
from functools import partial

import numpy as np

from bright_tether.core.conformal import Conformal
from bright_tether.core.forecast import Forecasts
from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.reading import Step, Working
from bright_tether.words.readings.forecast import at_x


def forecast_working(findings: Findings) -> tuple[Working, ...]:
    """Every ingredient of both half-widths at the first x."""
    own = [one for one in findings.expected if one.group is None and one.level == findings.rules.level]
    if not own:
        return ()
    fine = partial(d.figure, digits=7)
    x = findings.x_way.there(own[0].x)
    many = findings.tether.forecast.mean_of
    forecasts = findings.forecasts((x,), many)
    line, n = findings.line, findings.pairs.n
    height = 0.0 if line.intercept is None else line.intercept
    count = "n" if findings.fit.weights is None else "Σw"
    level = d.level_in_words(findings.rules.level)
    steps = [
        Step("fitted", f"{fine(height)} + {fine(line.slope)} · {fine(x)}", fine(float(forecasts.fitted[0]))),
        Step("leverage of x", f"1/{count} + (x − x̄)² / Sxx",
             fine(float(forecasts.leverage[0]))),
        Step("error of the mean", "s·√leverage" if findings.tether.line.errors == "classical"
             else "from the errors in force", fine(float(forecasts.se_mean[0]))),
        Step("t", f"{level}, {_df(findings.forecast_df(x))} df (n = {n})",
             fine(float(forecasts.half_ci[0] / forecasts.se_mean[0])) if forecasts.se_mean[0] else d.NONE),
        Step("half-width, mean", "t · error of the mean", fine(float(forecasts.half_ci[0]))),
    ]  # fmt: skip
    if findings.by_ranks:
        steps += _by_ranks(findings, forecasts)
    else:
        among = "√(s² / m + error of the mean²)" + ("" if many == 1 else f", m = {many}")
        steps.insert(3, Step("error of a new case", among, fine(float(forecasts.se_individual[0]))))
        half = fine(float(forecasts.half_pi[0]))
        steps.append(Step("half-width, one case", "t · error of a new case", half))
    return (Working(f"The forecast at {at_x(findings, own[0].x)}", tuple(steps)),)


def _by_ranks(findings: Findings, forecasts: Forecasts) -> list[Step]:
    """What an interval by ranks counts."""
    ranks, level = findings.conformal, findings.rules.level
    if not isinstance(ranks, Conformal) or not np.isfinite(forecasts.pi[0]).all():
        return []
    fine = partial(d.figure, digits=7)
    low, high = forecasts.pi[0].tolist()
    allowed = math.floor((1 - level) * (ranks.n + 1) + 1e-9)
    return [
        Step("rows ranked", "with the new case one more", d.grouped(ranks.n)),
        Step("neighbours", "rows nearest in x whose mean |residual| measures each", d.grouped(ranks.neighbours)),
        Step("ranks given up", f"⌊(1 − {d.level_in_words(level)}) · (rows + 1)⌋: a case is inside where more lie as "
             "far off, itself counted", d.grouped(allowed)),
        Step("lower end, one case", "the lowest y that is inside", fine(low)),
        Step("upper end, one case", "the highest y that is inside", fine(high)),
    ]  # fmt: skip


def _df(df: float) -> str:
    return str(round(df)) if df == round(df) else d.fixed(df, 1)
