"""What pictures show of a tether, put in order where that does not hold up the hand."""

from __future__ import annotations

import msgspec
import numpy as np

from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Floats, Ints
from bright_tether.core.shape.fences import Fences, fences
from bright_tether.core.shape.histogram import Histogram, histogram, usual_bins
from bright_tether.core.shape.smooth import Smooth, smooth_of
from bright_tether.core.strength.row_by_row import RankRows
from bright_tether.live.cloud import DENSE_ABOVE, MOST_GROUPS, Cloud, Rising
from bright_tether.live.compare import CompareResults
from bright_tether.live.comparison import Comparison
from bright_tether.live.line import LineResults
from bright_tether.live.look import LookResults
from bright_tether.study.declared import family, given, result

#: Places along an axis at which values beyond the fences are told apart.
_PLACES = 1000
#: The row id of a point that belongs to another table.
FOREIGN = -1


class Strip(msgspec.Struct, frozen=True, eq=False):
    """Residuals below a picture. heights : (m,), NaN where a point has none. dense : in place of many points."""

    heights: Floats
    largest: float
    dense: Rising | None


class Spread(msgspec.Struct, frozen=True, eq=False):
    """How a column spreads, beside its axis. beyond : (k,) values outside the fences that stand apart there."""

    counted: Histogram
    fenced: Fences
    beyond: Floats


class LookPoints(msgspec.Struct, frozen=True, eq=False):
    """The scatter as Look shows it. hidden : points that a log scale has no place for. trend : None of too few."""

    points: Cloud
    hidden: int
    across: Spread | None
    up: Spread | None
    trend: Smooth | None


def strip_of(points: Cloud, heights: Floats) -> Strip:
    """Residuals at these points, (m,)."""
    there = heights[np.isfinite(heights)]
    largest = float(np.abs(there).max()) if there.size else 1.0
    return Strip(heights, largest, points.by_x(heights) if heights.size > DENSE_ABOVE else None)


def _residual_strip(points: Cloud, pairs: Pairs, rows: RowByRow) -> Strip:
    """The residuals of the line below its points."""
    if points.at.size == pairs.at.size:  # nothing is set aside
        return strip_of(points, rows.residual)
    heights = np.full(points.x.size, np.nan)
    heights[np.isin(points.at, pairs.at)] = rows.residual
    return strip_of(points, heights)


def _rank_points(points: Cloud, pairs: Pairs, ranks: RankRows) -> Cloud:
    """The pairs by their mid-ranks; rows out of play have none."""
    wanted = np.isin(points.at, pairs.at)
    x, y = (np.zeros(points.x.size) for _ in range(2))
    x[wanted], y[wanted] = ranks.rank_x, ranks.rank_y
    return points.only(wanted, x, y, as_before=True).ready()  # ranks rise where the values do


def _mean_points(points: Cloud) -> Cloud:
    """The points by the mean of both values and their difference."""
    every = np.ones(points.x.size, bool)
    return points.only(every, points.x / 2 + points.y / 2, points.y - points.x).ready()


def _bent_points(points: Cloud, pairs: Pairs, both: tuple[Floats, Floats] | None) -> Cloud | None:
    """The pairs by their bent values; rows set aside are not there. None where nothing can be bent."""
    if both is None:
        return None
    wanted = np.isin(points.at, pairs.at) & ~points.aside
    mine = np.searchsorted(pairs.at, points.at[wanted])
    x, y = np.zeros(points.x.size), np.zeros(points.x.size)
    x[wanted], y[wanted] = both[0][mine], both[1][mine]
    return points.only(wanted, x, y).ready()


def _fitted_points(points: Cloud, pairs: Pairs, rows: RowByRow) -> Cloud:
    """The pairs by fitted and observed value; rows out of play have no fitted one."""
    wanted = np.isin(points.at, pairs.at)
    x = np.zeros(points.x.size)
    x[wanted] = rows.fitted
    return points.only(wanted, x, points.y).ready()


def standing_apart(values: Floats, room: float) -> Floats:
    """Of values that would stand on each other only one, where they are very many; the lowest and the highest too."""
    if values.size <= _PLACES or room <= 0:
        return values
    low = values.min()
    first = np.unique(np.floor((values - low) * (_PLACES / room)), return_index=True)[1]
    return np.append(values[first], (low, values.max()))


def _spread(values: Floats) -> Spread | None:
    if not values.size:
        return None
    start, width, number = usual_bins(values)
    fenced = fences(values)
    counted = histogram(values, start=start, width=width, number=number)
    room = float(counted.edges[-1] - counted.edges[0])
    return Spread(counted, fenced, standing_apart(values[fenced.beyond], room))


def _look_points(logs: tuple[bool, bool], points: Cloud) -> LookPoints:
    """The points by value, or by power of ten, with how both columns spread. logs : of x, of y."""
    hidden = 0
    if any(logs):
        wanted = np.ones(points.x.size, bool)
        for values, log in zip((points.x, points.y), logs, strict=True):
            if log:
                wanted &= values > 0
        hidden = int(np.count_nonzero(~wanted))
        with np.errstate(divide="ignore", invalid="ignore"):
            x, y = (np.log10(v) if log else v for v, log in zip((points.x, points.y), logs, strict=True))
        points = points.only(wanted, x, y).ready()
    play = ~points.aside
    x, y = points.x[play], points.y[play]
    trend = smooth_of(x, y) if any(logs) and x.size >= 3 else None
    return LookPoints(points, hidden, _spread(x), _spread(y), trend)


class ComparePoints(msgspec.Struct, frozen=True, eq=False):
    """The points of every group that is compared, with their residuals."""

    points: Cloud
    strip: Strip


def _compare_points(comparison: Comparison, row_ids: Ints) -> ComparePoints | None:
    """The points by group; those of another table cannot be marked. None without groups."""
    if not comparison.groups:
        return None
    x, y, at, ids, code, residual = [], [], [], [], [], []
    for place, group in enumerate(comparison.groups):
        foreign = comparison.source == "tethers" and place == 1
        x.append(group.pairs.x)
        y.append(group.pairs.y)
        at.append(group.pairs.at)
        ids.append(np.full(group.n, FOREIGN) if foreign else row_ids[group.pairs.at])
        code.append(np.full(group.n, min(place, MOST_GROUPS - 1)))
        line = group.line
        if line is None or line.intercept is None or line.slope is None:
            residual.append(np.full(group.n, np.nan))
        else:
            residual.append(group.pairs.y - line.intercept - line.slope * group.pairs.x)
    along = np.concatenate(x)
    points = Cloud(
        x=along, y=np.concatenate(y), at=np.concatenate(at), row_ids=np.concatenate(ids),
        aside=np.zeros(along.size, bool), group=np.concatenate(code),
        groups=tuple(group.name for group in comparison.groups),
    ).ready()  # fmt: skip
    return ComparePoints(points, strip_of(points, np.concatenate(residual)))


class SceneResults(LookResults, CompareResults):
    """Points as pictures put them."""

    @given
    def ranked(self) -> RankRows:
        """Mid-ranks from the lowest."""
        return self.rank_rows(False)

    residual_strip = result(_residual_strip, LineResults.points, LineResults.pairs, LineResults.rows)
    rank_points = result(_rank_points, LineResults.points, LineResults.pairs, ranked)
    mean_points = result(_mean_points, LineResults.points)
    bent_points = result(_bent_points, LineResults.points, LineResults.pairs, LookResults.bent_columns)
    fitted_points = result(_fitted_points, LineResults.points, LineResults.pairs, LineResults.rows)
    compare_points = result(_compare_points, CompareResults.comparison, LineResults.row_ids)
    _by_scale = family(_look_points, LineResults.points)

    @given
    def look_points(self) -> LookPoints:
        """The scatter as the tether's view has it."""
        view = self.tether.view
        return self._by_scale((view.log_x, view.log_y))
