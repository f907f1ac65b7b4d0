"""The interval for one new case from the ranks of residuals, without a shape or a spread taken for them.

A new case is put among the rows and the line is fitted to all of them. Each |residual|, the new one among them, is
measured by the mean |residual| of the rows nearest to it in x. The case's share is that of the rows at least as far
off; its interval holds every y whose share is above 1 − level. Where a new case is drawn like the rows, it is inside
with at least that probability, over all x, whatever the form of the line. With weights, residuals are weighted.
Source: Vovk, Gammerman & Shafer 2005, Algorithmic Learning in a Random World, chapter 2; Lei, G'Sell, Rinaldo,
Tibshirani & Wasserman 2018, Distribution-Free Predictive Inference for Regression, sections 2.1 and 5.2.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import msgspec
import numpy as np
from msgspec.structs import replace

from bright_tether.core.exact import scaled_by
from bright_tether.core.forecast import Forecasts, away_from_mean, heights_at
from bright_tether.core.inverse import Inverse
from bright_tether.core.line.plain import Fit
from bright_tether.core.line.weights import NewWeight, new_weights
from bright_tether.core.results import Bools, Cause, Floats, Interval, Ints, read_only, reasons

#: Of more rows, so many are drawn at random, which keeps what the interval promises. seed : of that draw.
MOST_RANKED, SEED = 1_000, 1
#: The fewest neighbours that tell how wide the rows lie near an x.
FEWEST_NEIGHBOURS = 10
#: Rounding apart, two rows lie equally far off.
_ALIKE = 1e-9
#: Gaps tried outward on each side, in typical residuals, and how many at once while an end is closed in on.
_OUTWARD = 2.0 ** np.arange(-3, 12.5, 0.5)
_MANY_ROWS, _AT_ONCE, _FEW_AT_ONCE = 300, 32, 8
#: How often the way between two gaps is halved: to the last digit, and for pictures.
_FINE, _COARSE = 54, 14
#: For a picture every so many of the x asked for, the ends between them on straight lines.
_APART = 4
#: x looked at for the way back, from one width of the rows below them to one above.
_PLACES = 193


class _Place(msgspec.Struct, frozen=True, eq=False):
    """A new case's x among the rows: where it stands, which rows are near to each, and how it moves their residuals."""

    at: int
    first: Ints
    last: Ints
    moved: Floats
    kept: float
    root: float


@dataclass(frozen=True, kw_only=True, eq=False)
class Conformal:
    """The rows by rising x, (n,), of which a new case is ranked among.

    away : x from the mean of the fit; residual : of the line of these rows; root : √weight. All scaled as the fit.
    middle, base, squares : weighted mean of away, Σ weights and sum of squares; 0 and infinite through the origin.
    lift, turn : by how much the line of these rows lies above that of the fit at the middle, and is steeper.
    drawn : whether they are a random draw of more.
    """

    fit: Fit
    new: NewWeight | None
    away: Floats
    residual: Floats
    root: Floats
    middle: float
    base: float
    squares: float
    lift: float
    turn: float
    drawn: bool

    @property
    def n(self) -> int:
        """Rows that are ranked."""
        return len(self.away)

    @property
    def neighbours(self) -> int:
        """How many rows nearest in x tell how wide the rows lie there: n^0.8 / 2, at least 10."""
        return min(max(FEWEST_NEIGHBOURS, round(math.pow(self.n, 0.8) / 2)), self.n)

    def share(self, x: float, y: float) -> float:
        """The share of rows and case that lie at least as far off as the case, in (0, 1]; NaN where none is told."""
        _, height, place = self._placed(x)
        gap = math.ldexp(y, -self.fit.y.exponent) - height
        if place is None or not math.isfinite(gap):
            return math.nan
        return float(self._shares(place, np.array([gap]))[0])

    def hold(self, x: float, y: Floats, level: float) -> Bools:
        """Whether the interval at x holds each y, (m,)."""
        _, height, place = self._placed(x)
        gaps = scaled_by(y, -self.fit.y.exponent) - height
        if place is None:
            return np.zeros(y.size, bool)
        return self._in(self._shares(place, gaps), level)

    def interval(self, x: float, level: float, *, coarse: bool = False) -> Interval | Cause:
        """Both ends at one x, in y units. coarse : to a ten-thousandth of their size, for pictures."""
        if (self.n + 1) * (1 - level) < 1 - _ALIKE:
            return Cause.RANKS_TOO_FEW
        _, height, place = self._placed(x)
        if place is None:
            return Cause.PATTERN_OUTSIDE if self.new is not None else Cause.WEIGHT_UNSTATED
        ends = self._gaps(place, level, _COARSE if coarse else _FINE)
        if ends is None:
            return Cause.RANKS_NO_END
        low, high = scaled_by(np.array(ends) + height, self.fit.y.exponent).tolist()
        return (low, high) if math.isfinite(low) and math.isfinite(high) else Cause.OUT_OF_RANGE

    def back(self, y: float, level: float) -> Interval | Cause:
        """The x, from the first to the last, whose interval holds y, in x units."""
        if (self.n + 1) * (1 - level) < 1 - _ALIKE:
            return Cause.RANKS_TOO_FEW
        low, high = self.fit.pairs.ends_x
        places = np.linspace(low - (high - low), high + (high - low), _PLACES)

        def inside(x: float) -> bool:
            return bool(self.hold(x, np.array([y]), level)[0])

        held = [at for at, x in enumerate(places.tolist()) if inside(x)]
        if not held or held[0] == 0 or held[-1] == _PLACES - 1:
            return Cause.RANKS_NO_END
        ends = []
        for within, beyond in ((held[0], held[0] - 1), (held[-1], held[-1] + 1)):
            near, far = float(places[within]), float(places[beyond])
            while abs(far - near) > 4e-16 * max(abs(far), abs(near)):
                between = near + (far - near) / 2
                if between in (near, far):
                    break
                near, far = (between, far) if inside(between) else (near, between)
            ends.append(near)
        return ends[0], ends[1]

    def _placed(self, x: float) -> tuple[float, float, _Place | None]:
        """x from the mean, the fitted height there, scaled, and the place; None where a new case has no weight."""
        at = np.array([x])
        away = float(away_from_mean(self.fit, at)[0])
        height = float(scaled_by(heights_at(self.fit, np.array([away])), -self.fit.y.exponent)[0])
        height += self.lift + self.turn * (away - self.middle)
        weight = 1.0
        if self.fit.weights is not None:
            weights, cause = new_weights(self.fit, at, self.new)
            if cause is not None:
                return away, height, None
            weight = float(weights[0])
        return away, height, self._place(away, weight)

    def _place(self, away: float, weight: float) -> _Place:
        at = int(np.searchsorted(self.away, away))
        every = np.insert(self.away, at, away)
        wide = self.neighbours + 1
        # rows with one x stand at its middle and are neighbours together, in whatever order they are
        stands = (np.searchsorted(every, every, "left") + np.searchsorted(every, every, "right") - 1) // 2
        first = np.clip(stands - wide // 2, 0, every.size - wide)
        last = np.searchsorted(every, every[first + wide - 1], "right")
        first = np.searchsorted(every, every[first], "left")
        by_slope = (away - self.middle) / self.squares
        pull = 1 / self.base + (self.away - self.middle) * by_slope
        kept = 1 / (1 + weight * (1 / self.base + (away - self.middle) * by_slope))
        root = math.sqrt(weight)
        return _Place(at, first, last, pull * (self.root * weight * kept), kept * root, root)

    def _shares(self, place: _Place, gaps: Floats) -> Floats:
        """Shares of new cases so far from the line in force, (m,). gaps : scaled as y."""
        size = np.empty((gaps.size, self.n + 1))
        off = self.residual * self.root
        size[:, : place.at] = off[: place.at] - gaps[:, None] * place.moved[: place.at]
        size[:, place.at] = gaps * place.kept
        size[:, place.at + 1 :] = off[place.at :] - gaps[:, None] * place.moved[place.at :]
        np.abs(size, out=size)
        total = np.zeros((gaps.size, self.n + 2))
        np.cumsum(size, axis=1, out=total[:, 1:])
        near = (total[:, place.last] - total[:, place.first] - size) / (place.last - place.first - 1)
        np.maximum(near, 1e-12 * total[:, -1:] / (self.n + 1), out=near)
        with np.errstate(all="ignore"):
            score = size / near
            far = score * (1 + _ALIKE) >= score[:, [place.at]]
        return np.asarray(np.count_nonzero(far, axis=1) / (self.n + 1))

    def _in(self, shares: Floats, level: float) -> Bools:
        """Whether shares are above 1 − level, rounding apart."""
        return np.asarray(shares * (self.n + 1) > (1 - level) * (self.n + 1) + _ALIKE)

    def _gaps(self, place: _Place, level: float, halvings: int) -> Interval | None:
        """How far below and above the line a case may lie, scaled as y; None where there is no end."""
        typical = float(np.mean(np.abs(self.residual) * self.root)) / place.root
        if not (typical > 0 and math.isfinite(typical)):
            return None
        inside, outside = np.zeros(2), np.zeros(2)
        outward = np.r_[0.0, typical * _OUTWARD]
        for side, sign in enumerate((-1.0, 1.0)):
            held = self._in(self._shares(place, sign * outward), level)
            farthest = int(np.flatnonzero(held)[-1]) if held.any() else 0
            if farthest == outward.size - 1:
                return None
            inside[side], outside[side] = sign * outward[farthest], sign * outward[farthest + 1]
        at_once = _AT_ONCE if self.n <= _MANY_ROWS else _FEW_AT_ONCE
        parts = np.linspace(0, 1, at_once + 1)[1:-1]
        for _ in range(math.ceil(halvings / math.log2(at_once))):
            tried = inside[:, None] + (outside - inside)[:, None] * parts
            held = self._in(self._shares(place, tried.ravel()), level).reshape(tried.shape)
            for side in range(2):
                last = int(np.flatnonzero(held[side])[-1]) if held[side].any() else -1
                ends = np.r_[inside[side], tried[side], outside[side]]
                inside[side], outside[side] = ends[last + 1], ends[last + 2]
        return float(inside[0]), float(inside[1])


def conformal(fit: Fit, new: NewWeight | None = None) -> Conformal | Cause:
    """Rank a new case among the rows of a line, or say why there are no ranks. new : the weight of a new case."""
    if fit.exact:
        return Cause.EXACT_FIT
    away, residual, drawn = fit.x.high, fit.residual, fit.n > MOST_RANKED
    weights = np.ones(fit.n) if fit.weights is None else fit.weights
    at = np.argsort(away, kind="stable")
    if drawn:
        at = np.sort(np.random.default_rng(SEED).choice(fit.n, MOST_RANKED, replace=False))
        at = at[np.argsort(away[at], kind="stable")]
    away, residual, weights = away[at], residual[at], weights[at]
    base = math.inf if fit.origin else float(weights.sum())
    middle = 0.0 if fit.origin else float(weights @ away) / base
    own = away - middle
    squares = float(weights @ (own * own))
    if not squares > 0:
        return Cause.CONSTANT_X
    lift = turn = 0.0
    if drawn:  # the line of the rows drawn, from that of all
        lift = 0.0 if fit.origin else float(weights @ residual) / base
        turn = float(weights @ (own * residual)) / squares
        residual = residual - lift - turn * own
    return Conformal(
        fit=fit, new=new, away=read_only(away), residual=read_only(residual), root=read_only(np.sqrt(weights)),
        middle=middle, base=base, squares=squares, lift=lift, turn=turn, drawn=drawn,
    )  # fmt: skip


def forecast_by_ranks(
    found: Forecasts, ranks: Conformal | Cause, *, level: float, mean_of: int = 1, coarse: bool = False
) -> Forecasts:
    """Forecasts whose interval for one case is by ranks; its error and half-width have no value then.

    coarse : for a picture, x rising.
    """
    if mean_of > 1:
        ranks = Cause.RANKS_ONE_CASE
    ends, causes = np.full((found.x.size, 2), np.nan), set[Cause]()
    looked_at = np.arange(0, found.x.size, _APART if coarse else 1)
    for at in looked_at.tolist():
        one = ranks if isinstance(ranks, Cause) else ranks.interval(float(found.x[at]), level, coarse=coarse)
        if isinstance(one, Cause):
            causes.add(one)
        else:
            ends[at] = one
    if coarse:
        for side in range(2):
            ends[:, side] = np.interp(found.x, found.x[looked_at], ends[looked_at, side])
    why = dict(found.why) | {"se_individual": Cause.BY_RANKS, "half_pi": Cause.BY_RANKS}
    why.pop("pi", None)
    if causes:
        why["pi"] = sorted(causes)[0]
    nothing = read_only(np.full(found.x.size, np.nan))
    return replace(found, pi=read_only(ends), half_pi=nothing, se_individual=nothing, why=reasons(why))


def inverse_by_ranks(mean: Inverse, ranks: Conformal | Cause, *, level: float, mean_of: int) -> Inverse:
    """Which x gives a y of one new case, its interval by ranks. mean : the same for the mean response."""
    if mean.x is None:
        return mean
    found = (
        Cause.RANKS_ONE_CASE
        if mean_of > 1
        else ranks
        if isinstance(ranks, Cause)
        else ranks.back(mean.y, level)
    )
    if isinstance(found, Cause):
        return replace(mean, ci=None, g=None, why=reasons({"ci": found, "g": Cause.BY_RANKS}))
    return replace(mean, ci=found, g=None, why=reasons({"g": Cause.BY_RANKS}))
