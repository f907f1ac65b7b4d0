"""What a tether's line, comparison and forecasts are to be: chosen once, used by every step."""

from __future__ import annotations

from typing import Literal

import msgspec

from bright_tether.core.line.errors import ErrorKind

RowsAre = Literal["cases", "settings"]


class LineChoice(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """How the line is fitted and judged.

    weights, order, cluster : column ids. errors : those in force. error_ratio : variance of the errors
    of y over that of x. slope_0, intercept_0 : what is tested against. matters : the smallest change of
    y per unit of x that matters. slope_first : the order of terms in the equation.
    """

    weights: str | None = None
    origin: bool = False
    errors: ErrorKind = "classical"
    order: str | None = None
    cluster: str | None = None
    error_ratio: float = 1.0
    slope_0: float = 0.0
    intercept_0: float = 0.0
    matters: float | None = None
    slope_first: bool = False


class CompareChoice(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What the line is compared with: groups of a column, a second response, or another tether.

    group, second : column ids. other : a tether id. rows_are : what a row is where two responses share
    it, None while not said. margin : for equivalence. height_at : x at which heights are compared.
    """

    group: str | None = None
    second: str | None = None
    other: str | None = None
    rows_are: RowsAre | None = None
    margin: float | None = None
    height_at: float | None = None


class ForecastChoice(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """What is forecast: at which x, from which y back, the mean of how many, at which further levels."""

    at: tuple[float, ...] = ()
    back: tuple[float, ...] = ()
    mean_of: int = 1
    levels: tuple[float, ...] = ()
    band: bool = False
