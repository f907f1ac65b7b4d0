"""Samples drawn again and again, each as its line; what was made is there while it grows."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

import msgspec
import numpy as np

from bright_tether.core.line.errors import lag_for
from bright_tether.core.line.meats import LEVERAGE_ONE_WITHIN
from bright_tether.core.line.plain import Fit
from bright_tether.core.rehearse.kinds import Judged
from bright_tether.core.rehearse.truth import Truth, drawn_errors, drawn_x, fitted_truth
from bright_tether.core.resampling.ahead import one_ahead
from bright_tether.core.resampling.bootstrap import drawn_case_sums, drawn_sums
from bright_tether.core.results import Floats, Ints

#: Values drawn at once, and values of whole samples kept to be stepped through.
_AT_ONCE = 1 << 16
_KEPT = 200_000
_MOST_KEPT = 200


class Draws(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """N samples of n pairs, each as its line, in a frame that no size of x and y overflows.

    x is from ``x_ref`` in 2^ex, y from the true height there in 2^ey. mean_x, centre (the height at the
    sample's own mean x), slope, sxx, sse : (N,) in that frame. meat : of each kind of errors beside the
    classical, (N, 3): variance of centre, its covariance with the slope, variance of the slope.
    samples_x, samples_y : (k, n) the first samples whole, in their own units. by_cases : whole cases were drawn.
    """

    truth: Truth
    by_rows: bool
    seed: int
    x_ref: float
    ex: int
    ey: int
    mean_x: Floats
    centre: Floats
    slope: Floats
    sxx: Floats
    sse: Floats
    meat: dict[Judged, Floats]
    samples_x: Floats
    samples_y: Floats
    redrawn: int
    by_cases: bool = False

    @property
    def done(self) -> int:
        """Samples drawn so far."""
        return self.slope.size


def draw_samples(
    truth: Truth,
    draws: int,
    seed: int,
    *,
    robust: bool = False,
    watch: Callable[[Draws], bool] = lambda so_far: True,
) -> Draws:
    """Draw samples from a truth. The generator is NumPy's PCG64.

    robust : also judge each line by HC3 and by errors of alike neighbours along x. watch is shown what
    there is after each batch and returns whether to go on. Source: quantities §3 for every estimate.
    """
    draw = np.random.Generator(np.random.PCG64(seed))
    grown = _Grown(truth, draws, seed, robust=robust)
    rows = max(_AT_ONCE // truth.n, 1)
    order = np.argsort(truth.x, kind="stable")
    kept_x = grown.scaled(truth.x)

    def batches() -> Iterator[tuple[Floats, Floats]]:
        for start in range(0, draws, rows):
            many = min(rows, draws - start)
            x = drawn_x(truth, draw, many) if truth.x_again else truth.x
            errors = drawn_errors(truth, draw, many, x)
            errors *= grown.sd
            yield x, errors

    for x, errors in one_ahead(batches()):
        grown.take(kept_x if x.ndim == 1 else grown.scaled(x), errors, order)
        if not watch(grown.so_far()):
            break
    return grown.so_far()


def draw_rows_again(
    fit: Fit, draws: int, seed: int, *, cases: Ints | None = None,
    watch: Callable[[Draws], bool] = lambda so_far: True,
) -> Draws:  # fmt: skip
    """Draw the rows themselves with replacement: the same draws as ``bootstrap`` makes of this seed.

    cases : (n,) codes from 0, where whole cases are drawn with all their rows.
    """
    grown = _Grown(fitted_truth(fit), draws, seed, like=fit)
    going = [True]
    if cases is not None:
        grown.by_cases = True
        for sums, sizes, again in drawn_case_sums(fit, cases, draws, seed, lambda done: going[0]):
            grown.take_sums(sums, again, sizes)
            going[0] = watch(grown.so_far())
        return grown.so_far()
    for sums, again in drawn_sums(fit, draws, seed, lambda done: going[0]):
        grown.take_sums(sums, again)
        going[0] = watch(grown.so_far())
    return grown.so_far()


class _Grown:
    """The arrays as they fill; a view of what is full is safe to read while the rest is written."""

    def __init__(
        self, truth: Truth, draws: int, seed: int, *, robust: bool = False, like: Fit | None = None
    ) -> None:
        """like : the fit whose frame is taken, for draws of its rows."""
        self.truth, self.seed, self.by_rows, self.by_cases = truth, seed, like is not None, False
        if like is not None:
            self.x_ref = math.ldexp(float(like.x.mean), like.x.exponent)
            self.ex, self.ey = like.x.exponent, like.y.exponent
        else:
            self.x_ref = float(np.mean(truth.x))
            widest = float(np.max(np.abs(truth.x - self.x_ref)))
            self.ex = _exponent(widest)
            self.ey = _exponent(max(truth.sd, abs(truth.slope) * widest))
        self.sd = math.ldexp(truth.sd, -self.ey)
        self.steep = math.ldexp(truth.slope, self.ex - self.ey)
        self.done = self.redrawn = 0
        self.parts = {name: np.empty(draws) for name in ("mean_x", "centre", "slope", "sxx", "sse")}
        kinds: tuple[Judged, ...] = ("HC3", "newey_west") if robust else ()
        self.meat: dict[Judged, Floats] = {kind: np.empty((draws, 3)) for kind in kinds}
        keep = 0 if like is not None else min(draws, _MOST_KEPT, max(_KEPT // truth.n, 1))
        self.samples_x, self.samples_y = np.empty((keep, truth.n)), np.empty((keep, truth.n))

    def scaled(self, x: Floats) -> Floats:
        """x from x_ref, in the frame."""
        return np.asarray(np.ldexp(x - self.x_ref, -self.ex), np.float64)

    def take(self, x: Floats, errors: Floats, order: Ints) -> None:
        """Fit a line to each sample. x : (n,) or (many, n); errors : (many, n) in the frame."""
        many, n = errors.shape
        at = slice(self.done, self.done + many)
        mean_x = x.mean(axis=-1, keepdims=True)
        from_mean = x - mean_x
        from_mean -= from_mean.mean(axis=-1, keepdims=True)
        middle = errors @ np.full(n, 1 / n)
        if x.ndim == 1:
            sxx: Floats = np.full(many, float(np.dot(from_mean, from_mean)))
            extra = errors @ from_mean / sxx
        else:
            sxx = np.einsum("ij,ij->i", from_mean, from_mean)
            extra = np.einsum("ij,ij->i", errors, from_mean) / sxx
        squares = np.einsum("ij,ij->i", errors, errors)
        self.parts["mean_x"][at] = mean_x.ravel() if x.ndim == 2 else float(mean_x[0])
        self.parts["centre"][at] = self.steep * self.parts["mean_x"][at] + middle
        self.parts["slope"][at] = self.steep + extra
        self.parts["sxx"][at] = sxx
        self.parts["sse"][at] = np.maximum(squares - n * middle**2 - extra**2 * sxx, 0)
        if self.meat:
            self._judge(at, from_mean, errors - middle[:, None] - extra[:, None] * from_mean, sxx, order)
        keep = min(max(len(self.samples_x) - self.done, 0), many)
        if keep:
            mine = slice(self.done, self.done + keep)
            base = np.broadcast_to(x, errors.shape)[:keep]
            self.samples_x[mine] = np.ldexp(base, self.ex) + self.x_ref
            height = self.truth.intercept + self.truth.slope * self.x_ref
            self.samples_y[mine] = height + np.ldexp(self.steep * base + errors[:keep], self.ey)
        self.done += many

    def take_sums(self, sums: Floats, again: int, sizes: Floats | None = None) -> None:
        """Fit a line to each draw of rows, from its sums. sizes : rows of each draw, where they differ."""
        n = self.truth.n if sizes is None else sizes
        sx, sy, sxx, sxy, syy = sums.T
        at = slice(self.done, self.done + len(sums))
        spread, joint = sxx - sx * sx / n, sxy - sx * sy / n
        slope = joint / spread
        self.parts["mean_x"][at], self.parts["centre"][at] = sx / n, sy / n
        self.parts["slope"][at], self.parts["sxx"][at] = slope, spread
        self.parts["sse"][at] = np.maximum(syy - sy * sy / n - slope * joint, 0)
        self.done += len(sums)
        self.redrawn += again

    def so_far(self) -> Draws:
        """What is full by now."""
        full = {name: part[: self.done] for name, part in self.parts.items()}
        keep = min(self.done, len(self.samples_x))
        return Draws(truth=self.truth, by_rows=self.by_rows, by_cases=self.by_cases, seed=self.seed,
                     x_ref=self.x_ref, ex=self.ex, ey=self.ey,
                     meat={kind: part[: self.done] for kind, part in self.meat.items()},
                     samples_x=self.samples_x[:keep], samples_y=self.samples_y[:keep],
                     redrawn=self.redrawn, **full)  # fmt: skip

    def _judge(self, at: slice, x: Floats, residuals: Floats, sxx: Floats, order: Ints) -> None:
        """Variances by HC3 and by alike neighbours. x : from its mean; residuals : (many, n)."""
        n = residuals.shape[1]
        wide = sxx[:, None] if x.ndim == 2 else sxx[0]
        parts: tuple[Floats, ...] = (np.full_like(x, 1 / n), x / wide)
        for kind, variances in self.meat.items():
            if kind == "HC3":
                scores = residuals / np.maximum(1 - (1 / n + x * x / wide), LEVERAGE_ONE_WITHIN)
                scores *= scores
                variances[at] = _meat(scores, *parts, *parts)
                continue
            if x.ndim == 1:
                residuals, parts = residuals[:, order], (parts[0][order], parts[1][order])
            else:
                places = np.argsort(x, axis=1, kind="stable")
                residuals = np.take_along_axis(residuals, places, 1)
                parts = tuple(np.take_along_axis(part, places, 1) for part in parts)
            total = _meat(residuals * residuals, *parts, *parts)
            lag = lag_for(n)
            for back in range(1, lag + 1):
                near = tuple(part[..., back:] for part in parts)
                far = tuple(part[..., :-back] for part in parts)
                both = residuals[:, back:] * residuals[:, :-back]
                total += (1 - back / (lag + 1)) * (_meat(both, *near, *far) + _meat(both, *far, *near))
            variances[at] = total


def _meat(products: Floats, centre_a: Floats, slope_a: Floats, centre_b: Floats, slope_b: Floats) -> Floats:
    """Σ of products of residuals times both rows' influence: on the centre, on both, on the slope, (many, 3)."""
    pairs = (centre_a * centre_b, centre_a * slope_b, slope_a * slope_b)
    if centre_a.ndim == 1:
        return np.asarray(products @ np.stack(pairs, axis=1), np.float64)
    return np.stack([np.einsum("ij,ij->i", products, pair) for pair in pairs], axis=1)


def _exponent(size: float) -> int:
    return math.frexp(size)[1] if size > 0 and math.isfinite(size) else 0
