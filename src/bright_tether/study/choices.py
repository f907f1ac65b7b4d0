"""What a tether's line, comparison and forecasts are to be: chosen once, used by every step."""

from __future__ import annotations

from typing import Literal

import msgspec

from bright_tether.core.line.errors import ErrorKind
from bright_tether.core.line.weights import WeightPattern
from bright_tether.core.rehearse.kinds import Design, Judged, Pattern, Purpose, Shape, Statistic
from bright_tether.study.bounds import Count, Likeness, Positive, Seed, Share

RowsAre = Literal["cases", "settings"]
#: How the interval for one case is found: one spread about the line (or that of weights), or the ranks of residuals.
Width = Literal["spread", "ranks"]
Source = Literal["line", "residuals", "rows", "truth"]


class LineChoice(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """How the line is fitted and judged.

    weights, order, cluster : column ids. errors : those in force. error_ratio : variance of the errors
    of y over that of x. slope_0, intercept_0 : what is tested against. matters : the smallest change of
    y per unit of x that matters. slope_first : the order of terms in the equation. weight_pattern : weights
    by a rule instead of a column. new_weight : the weight of a new case, where it is stated.
    """

    weights: str | None = None
    origin: bool = False
    errors: ErrorKind = "classical"
    order: str | None = None
    cluster: str | None = None
    error_ratio: Positive = 1.0
    slope_0: float = 0.0
    intercept_0: float = 0.0
    matters: float | None = None
    slope_first: bool = False
    weight_pattern: WeightPattern | None = None
    new_weight: Positive | None = None


class CompareChoice(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What the line is compared with: groups of a column, a second response, or another tether.

    group, second : column ids. other : a tether id. rows_are : what a row is where two responses share
    it, None while not said. margin : for equivalence. height_at : x at which heights are compared.
    """

    group: str | None = None
    second: str | None = None
    other: str | None = None
    rows_are: RowsAre | None = None
    margin: Positive | None = None
    height_at: float | None = None


class HeldChoice(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """Which further columns are held while y goes with x. columns : ids.

    along : of them, the one along which the slope of x may differ, "" for none.
    reference : of a category, by column id, the level that the others are held against; else the first met.
    at : by column id, the value or level that forecasts are made at; else the mean, or the reference; of x its
    quartiles. doubted : whether Doubts looks at the residuals with them held.
    """

    columns: tuple[str, ...] = ()
    reference: dict[str, str] = {}
    along: str = ""
    at: dict[str, float | str] = {}
    doubted: bool = False


class OtherwiseChoice(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What of the choices that could have been made otherwise is left out, and what is compared.

    what : slopes, or a coefficient of correlation. left_out : as “axis=option”. first, last : x between which y is
    compared where slopes have several meanings, None for the quartiles of x.
    """

    what: Literal["slope", "coefficient"] = "slope"
    left_out: tuple[str, ...] = ()
    first: float | None = None
    last: float | None = None


class ForecastChoice(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What is forecast: at which x, from which y back, the mean of how many, at which further levels.

    cases : actual cases (x, y) kept to be held against the line. case : of which a further row is forecast, by the text
    that stands for it, "" for none. width : how the interval for one case is found. local :
    whether a smooth stands beside the line; bandwidth : half its window in x, None to look for one.
    """

    at: tuple[float, ...] = ()
    back: tuple[float, ...] = ()
    mean_of: Count = 1
    levels: tuple[Share, ...] = ()
    band: bool = False
    cases: tuple[tuple[float, float], ...] = ()
    case: str = ""
    width: Width = "spread"
    local: bool = False
    bandwidth: Positive | None = None


class RehearseChoice(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What is drawn again and again, and what is planned.

    source : the fitted line with normal errors, with its own residuals, the rows themselves, or a stated truth.
    intercept, slope, sd, n : of the stated truth, None for the fitted ones. alike : correlation of
    neighbours' errors along x. judged : errors of the intervals, None for those in force.
    goal : half-width or power wished for; effect : the slope or r that the power is for; None for a start.
    """

    source: Source = "line"
    draws: Count = 2000
    seed: Seed = 1
    statistic: Statistic = "slope"
    judged: Judged | None = None
    intercept: float | None = None
    slope: float | None = None
    sd: float | None = None
    n: Count | None = None
    shape: Shape = "normal"
    pattern: Pattern = "even"
    alike: Likeness = 0.0
    design: Design = "kept"
    purpose: Purpose = "slope half-width"
    goal: float | None = None
    effect: float | None = None
