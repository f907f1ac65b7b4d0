"""Results of the step that looks ahead, in the columns' original units."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from contextlib import suppress
from typing import Any, Literal

import msgspec
import numpy as np

from bright_tether.core.conformal import conformal, forecast_by_ranks
from bright_tether.core.forecast import Forecasts, forecast
from bright_tether.core.inverse import Inverse
from bright_tether.core.nearest import nearest_places
from bright_tether.core.once import once
from bright_tether.core.results import Cause, Floats, Interval, Refusal
from bright_tether.core.shape.form import gaps_in
from bright_tether.live.compare import CompareResults
from bright_tether.study.declared import given
from bright_tether.tables.column import Column
from bright_tether.tables.formula import Expression

#: How a column was fitted: as it is, or the log or root of the one it was worked out from.
Scale = Literal["as measured", "log", "root"]
_ONE_FUNCTION = re.compile(r'(log10|log|sqrt)\("?([^()"]+)"?\)')


class Way(msgspec.Struct, frozen=True):
    """How a tied column stands to the one it was worked out from. source : that column."""

    source: Column
    there: Callable[[float], float]
    back: Callable[[Floats], Floats]
    scale: Scale = "as measured"

    @property
    def changed(self) -> bool:
        """Whether the column was worked out from another."""
        return self.scale != "as measured"


class Expected(msgspec.Struct, frozen=True, kw_only=True):
    """One forecast in original units. half_* are None where a transformed scale has none or where an interval
    was cut or is by ranks, pi where nothing can be said of a new case. pi_by_spread : the interval by one spread
    beside one by ranks, else None.

    group : the line it comes from, None for the tether's own. scale : how y was fitted, of which the value is
    the middle carried back. in_gap : whether x lies in a gap of what was measured. possible : whether value and
    intervals keep to what y can be; intervals are cut to that where they do not.
    """

    x: float
    level: float
    group: str | None
    fitted: float
    ci: Interval
    pi: Interval | None
    band: Interval
    half_ci: float | None
    half_pi: float | None
    pi_by_spread: Interval | None
    outside: bool
    distance: float
    scale: Scale
    in_gap: bool
    possible: bool


class Actual(msgspec.Struct, frozen=True, kw_only=True):
    """A case held against its forecast: how far it lies from the line, and whether that is unusual.

    share : of new cases that lie at least as far off, by t, or of the rows by ranks; it and inside are None where
    nothing can be said of a new case.
    """

    x: float
    y: float
    above: float
    by_s: float
    share: float | None
    inside: bool | None


class ForecastResults(CompareResults):
    """Expectations, and which x gives a y."""

    @given
    def x_way(self) -> Way:
        """Where x comes from."""
        return self._way(self.x_column)

    @once
    def y_way(self) -> Way:
        """Where y comes from."""
        return self._way(self.y_column)

    @once
    def forecast_x(self) -> tuple[float, ...]:
        """The x asked for, in original units: as typed, else the middle of the measured range, out of any gap."""
        chosen = self.tether.forecast.at
        if chosen or self.refusal is not None:
            return chosen
        return (_usual_x(self.x_way.back(self.pairs.ordered_x)),)

    @once
    def placed_x(self) -> tuple[tuple[float, float], ...]:
        """Each x asked for that the line knows: in original units, and on the line's own scale."""
        places = []
        for x in self.forecast_x:
            with suppress(ValueError):
                places.append((x, self.x_way.there(x)))
        return tuple(places)

    @once
    def reached_x(self) -> tuple[tuple[float, float], ...]:
        """Of those, the x at which the forecast still is a double; none where there is no line."""
        if self.refusal is not None:
            return ()
        forecasts = self.forecasts(tuple(inner for _, inner in self.placed_x))
        there = np.isfinite(forecasts.fitted) & np.isfinite(forecasts.band).all(axis=1)
        return tuple(one for one, held in zip(self.placed_x, there.tolist(), strict=True) if held)

    @once
    def expected(self) -> tuple[Expected, ...]:
        """Every x at every level, for the line and for each group compared."""
        chosen = self.tether.forecast
        levels = (self.rules.level, *(one for one in chosen.levels if one != self.rules.level))
        found: list[Expected] = []
        for x, inner in self.reached_x:
            for level in sorted(levels):
                forecasts = self.forecasts((inner,), chosen.mean_of, level)
                plain = self.by_spread((inner,), chosen.mean_of, level) if self.by_ranks else None
                found.append(self._expected(x, inner, level, None, forecasts, plain))
                found += self._by_group(x, inner, level)
        return tuple(found)

    def _by_group(self, x: float, inner: float, level: float) -> list[Expected]:
        if self.tether.compare.group is None:
            return []
        try:
            groups = self.comparison.groups
        except Refusal:
            return []
        found = []
        for group in groups:
            if group.fit is None or group.errors is None:
                continue
            many = self.tether.forecast.mean_of
            plain = forecasts = forecast(
                group.fit, np.array([inner]), level=level, mean_of=many, errors=group.errors
            )
            if self.by_ranks:
                ranks = Cause.RANKS_OF_CASES if self.case_decides else conformal(group.fit)
                forecasts = forecast_by_ranks(plain, ranks, level=level, mean_of=many)
            found.append(
                self._expected(x, inner, level, group.name, forecasts, plain if self.by_ranks else None)
            )
        return found

    def _expected(
        self,
        x: float,
        inner: float,
        level: float,
        group: str | None,
        forecasts: Forecasts,
        plain: Forecasts | None,
    ) -> Expected:
        back, changed = self.y_way.back, self.y_way.changed

        column = self.y_way.source
        least = -math.inf if column.low is None else column.low
        most = math.inf if column.high is None else column.high
        fitted = float(back(forecasts.fitted)[0])

        def ends(pair: np.ndarray) -> Interval:
            low, high = np.sort(back(pair)).tolist()
            return low, high

        def cut(pair: Interval) -> Interval:
            return (min(max(pair[0], least), most), min(max(pair[1], least), most))

        ci, band = ends(forecasts.ci[0]), ends(forecasts.band[0])
        pi = ends(forecasts.pi[0]) if np.isfinite(forecasts.pi[0]).all() else None
        spread = None if plain is None or not np.isfinite(plain.pi[0]).all() else ends(plain.pi[0])
        half_pi = float(forecasts.half_pi[0])
        whole = [fitted, *ci, *(pi or ())]
        possible = least <= min(whole) and max(whole) <= most
        half = not changed and possible
        return Expected(
            x=x,
            level=level,
            group=group,
            fitted=fitted,
            ci=cut(ci),
            pi=None if pi is None else cut(pi),
            band=cut(band),
            half_ci=float(forecasts.half_ci[0]) if half else None,
            half_pi=half_pi if half and math.isfinite(half_pi) else None,
            pi_by_spread=None if spread is None else cut(spread),
            outside=bool(forecasts.outside[0]),
            distance=float(forecasts.distance[0]),
            scale=self.y_way.scale,
            in_gap=self.in_gap(inner),
            possible=possible,
        )

    def bands(self, level: float) -> Forecasts:
        """Line and both intervals across the picture, to the farthest x asked for."""
        x = [inner for _, inner in self.reached_x]
        low, high = min([*x, float(self.pairs.x.min())]), max([*x, float(self.pairs.x.max())])
        many = self.tether.forecast.mean_of
        found = self.by_spread(tuple(np.linspace(low, high, 121).tolist()), many, level)
        if not self.by_ranks:
            return found
        return forecast_by_ranks(found, self.conformal, level=level, mean_of=many, coarse=True)

    def bands_by_spread(self, level: float) -> Forecasts | None:
        """The interval for one case by the spread, where one by ranks is in force beside it."""
        return None if not self.by_ranks else self.by_spread(tuple(self.bands(level).x.tolist()),
                                                             self.tether.forecast.mean_of, level)  # fmt: skip

    def in_gap(self, inner: float) -> bool:
        """Whether an x, as the line has it, lies in a stretch where nothing was measured."""
        return any(low < inner < high for low, high in self.gaps.wide)

    def measured_at(self, inner: float) -> bool:
        """Whether an x, as the line has it, lies in the measured range."""
        low, high = self.pairs.ends_x
        return bool(low <= inner <= high)

    def backwards(self, y: float) -> tuple[Inverse, Inverse]:
        """Which x gives this y, for new cases and for the mean response; y and x in original units."""
        inner = self.y_way.there(y)
        both = []
        for many in (self.tether.forecast.mean_of, None):
            found = self.inverse(inner, many)
            if found.x is not None and self.x_way.changed:
                ends = (
                    None if found.ci is None else tuple(np.sort(self.x_way.back(np.array(found.ci))).tolist())
                )
                x = float(self.x_way.back(np.array([found.x]))[0])
                found = Inverse(y=y, x=x, ci=ends, g=found.g, why=found.why)
            both.append(found)
        return both[0], both[1]

    def actual(self, x: float, y: float) -> Actual:
        """One case against what was expected of it."""
        from bright_tether.core.tails import t_both

        inner_x, inner_y = self.x_way.there(x), self.y_way.there(y)
        forecasts = self.forecasts((inner_x,), 1)
        gap = inner_y - float(forecasts.fitted[0])
        se = float(forecasts.se_individual[0])
        s = self.line.s or 0.0
        low, high = forecasts.pi[0]
        above = y - float(self.y_way.back(forecasts.fitted)[0])
        df = self.errors.df
        share = t_both(gap / se, df) if se else 1.0
        if self.by_ranks:
            share = math.nan if isinstance(self.conformal, Cause) else self.conformal.share(inner_x, inner_y)
        if not np.isfinite([gap, above]).all():
            raise ValueError("its forecast lies beyond what double precision can hold")
        known = bool(np.isfinite([low, high]).all())
        return Actual(
            x=x, y=y, above=above, by_s=gap / s if s else 0.0,
            share=share if known and math.isfinite(share) else None,
            inside=bool(low <= inner_y <= high) if known else None,
        )  # fmt: skip

    @property
    def kept_points(self) -> tuple[tuple[float, float], ...]:
        """The cases that were kept, on the scales on which the line was fitted."""
        found = []
        for x, y in self.tether.forecast.cases:
            with suppress(ValueError):
                found.append((self.x_way.there(x), self.y_way.there(y)))
        return tuple(found)

    def near(self, x: float, most: int = 3) -> np.ndarray:
        """Places among the pairs of the cases nearest to this x."""
        return nearest_places(self.pairs.x, self.x_way.there(x), most)

    def _way(self, column: Column) -> Way:
        formula = column.formula
        found = _ONE_FUNCTION.fullmatch(formula.text.strip()) if isinstance(formula, Expression) else None
        if found is None or not isinstance(formula, Expression):
            return Way(column, float, np.asarray)
        name, source = found.group(1), next(iter(formula.columns.values()))
        if not self.table.has(source):
            return Way(column, float, np.asarray)
        ways: dict[str, tuple[Callable[[float], float], Callable[[Floats], Floats], Scale]] = {
            "log10": (_above_zero(np.log10), lambda v: 10.0**v, "log"),
            "log": (_above_zero(np.log), np.exp, "log"),
            "sqrt": (_above_zero(np.sqrt), lambda v: np.sign(v) * v * v, "root"),
        }
        return Way(self.table.column(source), *ways[name])


def _usual_x(measured: Floats) -> float:
    """A round x near the middle of what was measured, in no gap. measured : (n,), sorted."""
    middle = (measured[0] + measured[-1]) / 2
    whole = float(measured[-1] - measured[0])
    gaps, digits = gaps_in(measured).wide, max(3, 3 + _power(middle) - _power(whole))
    beside = measured[max(int(np.searchsorted(measured, middle)) - 1, 0) :][:2]
    nearest = float(min(beside, key=lambda x: abs(x - middle)))
    for x in (float(f"{middle:.{digits}g}"), float(f"{nearest:.{digits + 2}g}")):
        if measured[0] <= x <= measured[-1] and not any(low < x < high for low, high in gaps):
            return x
    return nearest


def _power(value: float) -> int:
    return math.floor(math.log10(abs(value))) if value else 0


def _above_zero(function: Callable[[float], Any]) -> Callable[[float], float]:
    def there(value: float) -> float:
        if value <= 0:
            raise ValueError("a value above 0 is needed")
        return float(function(value))

    return there
