"""What the line says of each row, and what each row does to the line."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from typing import Any, ClassVar

import msgspec
import numpy as np

from bright_tether.core.exact import blocks, scaled_by
from bright_tether.core.line.meats import LEVERAGE_ONE_WITHIN
from bright_tether.core.line.plain import Fit
from bright_tether.core.once import once
from bright_tether.core.results import Cause, Floats, Ints, Why, read_only, reasons
from bright_tether.core.tails import t_beyond, t_both_many

#: So small a share of the squared residuals without a row is what rounding leaves of none.
_DUST = 2.0**-46
#: Rows that are worked out together, few enough to stay in the processor's cache.
_TOGETHER = 16384
#: What each row has of its own, beside what all rows together say of it.
EACH_ROW = (
    "fitted", "residual", "leverage", "standardised", "studentised", "cooks_d", "dffits", "dfbeta_slope"
)  # fmt: skip


class _Column(once[Floats]):
    """One value a row, worked out when it is first asked for; of a long table part by part, so that what it rests on
    is not kept.
    """

    def __init__(self, make: Callable[[Any], Floats]) -> None:
        def whole(rows: _Part) -> Floats:
            if isinstance(rows, RowByRow) and rows.n > _TOGETHER:
                return rows.together(self._name)[0]
            with np.errstate(all="ignore"):
                return read_only(make(rows))

        super().__init__(whole)
        self.__doc__ = make.__doc__


class StandingOut(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """The rows that stand out most.

    far : places of those whose outlier p is below 1; far_p : theirs, (k,). largest_t : the largest studentised
    residual, without its sign; cooks_d : the largest distance; None where no row has one. alone : whether a row has
    all of its fitted value to itself.
    """

    far: Ints
    far_p: Floats
    largest_t: float | None
    cooks_d: float | None
    alone: bool

    def unusual(self, alpha: float) -> Ints:
        """Places of the outliers at this level."""
        return self.far[self.far_p <= alpha]


class _Part:
    """Some of the rows, in table order: what each row has of its own."""

    def __init__(self, fit: Fit, place: slice) -> None:
        """place : which of the pairs these are."""
        self._fit, self._place = fit, place
        self._left, self._per_square = fit.residual[place], 1 / fit.own_x.sum_squares
        self.n = self._left.size

    @once
    def x(self) -> Floats:
        """The explanatory values."""
        return self._fit.pairs.x[self._place]

    @once
    def y(self) -> Floats:
        """The responses."""
        return self._fit.pairs.y[self._place]

    @_Column
    def fitted(self) -> Floats:
        """The heights of the line."""
        exponent = self._fit.y.exponent
        return scaled_by(scaled_by(self.y, -exponent) - self._left, exponent)

    @once
    def residual(self) -> Floats:
        """What the line leaves of y."""
        with np.errstate(all="ignore"):
            return read_only(scaled_by(self._left, self._fit.y.exponent))

    @_Column
    def leverage(self) -> Floats:
        """The share of each fitted value that its own row decides."""
        return self._fit.leverage(self._place)

    @once
    def _spare(self) -> Floats:
        spare = 1 - self.leverage
        spare[spare <= LEVERAGE_ONE_WITHIN] = np.nan
        return spare

    @once
    def _odds(self) -> Floats:
        return self.leverage / self._spare

    @_Column
    def standardised(self) -> Floats:
        """The residuals in units of their own sd."""
        if self._fit.exact:
            return np.full(self.n, np.nan)
        return self._fit.weighted_residual[self._place] / (np.sqrt(self._spare) * self._fit.s_scaled)

    @_Column
    def studentised(self) -> Floats:
        """The same by an s that leaves the row out."""
        df = self._fit.residual_df
        if df < 2:
            return np.full(self.n, np.nan)
        rest = df - self.standardised * self.standardised
        rest[rest < _DUST * df] = 0  # without this row the others lie on one line
        return self.standardised * np.sqrt((df - 1) / rest)

    @_Column
    def cooks_d(self) -> Floats:
        """What leaving the row out does to all fitted values."""
        return self.standardised * self.standardised * (self._odds * (1 / self._fit.parameters))

    @_Column
    def dffits(self) -> Floats:
        """What leaving the row out does to its own fitted value."""
        return self.studentised * np.sqrt(self._odds)

    @_Column
    def dfbeta_slope(self) -> Floats:
        """What the row adds to the slope."""
        fit, place = self._fit, self._place
        change = fit.own_x.high[place] * self._left * self._per_square / self._spare
        if fit.weights is not None:
            change *= fit.weights[place]
        return scaled_by(change, fit.y.exponent - fit.x.exponent)


class RowByRow(_Part):
    """One entry a pair, in table order; NaN where a value does not exist, for the cause in ``why``.

    row : table row from 1. x in x units; y, fitted, residual in y units; dfbeta_slope in y units
    per x unit; the rest without unit. studentised leaves the row out of s; it and what follows from it
    need n > 3. Scaled residuals are NaN at leverage 1 and on an exact fit. Each is worked out when it is
    first asked for: all of them weigh more than the table.
    Source: quantities §4 (Cook 1977; Belsley, Kuh & Welsch 1980).
    """

    told: ClassVar[tuple[str, ...]] = ("row", "x", "y", *EACH_ROW, "outlier_p", "why")

    def __init__(self, fit: Fit) -> None:
        """fit : the line, with its rows at hand. Raises EveryRow where only sums are."""
        super().__init__(fit, slice(None))

    def _parts(self) -> Iterator[tuple[slice, _Part]]:
        there = {name: values for name, values in self.__dict__.items() if name in EACH_ROW}
        for place in blocks(self.n, _TOGETHER):
            part = _Part(self._fit, place)
            part.__dict__.update({name: values[place] for name, values in there.items()})
            yield place, part

    def together(self, *names: str) -> tuple[Floats, ...]:
        """Several columns, each by its name, worked out in one go where they are not there yet."""
        missing = {name: np.empty(self.n) for name in names if name not in self.__dict__}
        with np.errstate(all="ignore"):
            for place, part in self._parts() if missing else ():
                for name, values in missing.items():
                    values[place] = getattr(part, name)
        self.__dict__.update({name: read_only(values) for name, values in missing.items()})
        return tuple(self.__dict__[name] for name in names)

    @once
    def row(self) -> Ints:
        """Table row from 1."""
        return self._fit.pairs.at + 1

    @once
    def outlier_p(self) -> Floats:
        """Two-sided t p (n − 3 df for two coefficients) times n, at most 1 (Bonferroni)."""
        p = np.where(np.isnan(self.studentised), np.nan, 1.0)
        p[self.standing_out.far] = self.standing_out.far_p
        return read_only(p)

    @once
    def standing_out(self) -> StandingOut:
        """The rows that stand out, without a column of any value.

        Only outlier p that can come out below 1 are worked out one by one.
        """
        df = self._fit.residual_df - 1
        edge = t_beyond(min(0.5 / self.n, 0.5), df) * (1 - 1e-9) if df >= 1 else math.nan
        far, sizes, largest, cooks, finite, alone = [], [], -math.inf, -math.inf, False, False
        with np.errstate(all="ignore"):
            for place, part in self._parts():
                size = np.abs(part.studentised)
                beyond = np.flatnonzero(size >= edge)
                far.append(beyond + place.start)
                sizes.append(size[beyond])
                largest = max(largest, float(np.fmax.reduce(size, initial=-math.inf)))
                cooks = max(cooks, float(np.fmax.reduce(part.cooks_d, initial=-math.inf)))
                finite = finite or bool(np.isfinite(part.cooks_d).any())
                alone = alone or bool(np.isnan(part._spare).any())
            t = np.concatenate(sizes)
            p = np.where(np.isfinite(t), np.minimum(1.0, self.n * t_both_many(t, df)), 0.0) if t.size else t
        return StandingOut(
            far=np.concatenate(far), far_p=read_only(p), largest_t=None if largest < 0 else largest,
            cooks_d=cooks if finite else None, alone=alone,
        )  # fmt: skip

    @once
    def why(self) -> Why:
        """Why a value does not exist where it does not, by its name."""
        fit = self._fit
        why: dict[str, Cause] = {}
        if self.standing_out.alone:
            why |= dict.fromkeys(("standardised", "cooks_d", "dfbeta_slope"), Cause.LEVERAGE_ONE)
        why |= {"fitted": Cause.OUT_OF_RANGE, "residual": Cause.OUT_OF_RANGE}
        if fit.exact:
            why |= dict.fromkeys(("standardised", "cooks_d"), Cause.EXACT_FIT)
        cause = Cause.NO_DEGREES_OF_FREEDOM if fit.residual_df < 2 else why.get("standardised")
        return reasons(why | (dict.fromkeys(("studentised", "dffits", "outlier_p"), cause) if cause else {}))
