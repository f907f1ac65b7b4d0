"""Are neighbours alike? Durbin–Watson with its exact distribution, and runs of signs."""

from __future__ import annotations

import math
from functools import lru_cache

import msgspec
import numpy as np

from bright_tether.core.checks.added import why_none
from bright_tether.core.exact import CACHED_ROWS, blocks
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause, Floats, Ints, Why, reasons
from bright_tether.core.special import special
from bright_tether.core.sums.along import FEW, Steps

#: Largest n for which p rests on the exact distribution.
EXACT_UP_TO = FEW
_STEP = 0.04


class DurbinWatson(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """d, p against positive likeness, two-sided p = 2·min(p, 1 − p), lag1 = Σe_i·e_(i−1)/Σe²."""

    d: float | None
    p_positive: float | None
    p_two_sided: float | None
    lag1: float | None
    why: Why


class Runs(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Runs of one sign along the order, zeros left out; z and two-sided normal p."""

    runs: int | None
    n_plus: int
    n_minus: int
    z: float | None
    p: float | None
    why: Why


def durbin_watson(fit: Fit, order: Ints | None = None) -> DurbinWatson:
    """Compare each residual with the one before it.

    order : (n,) places in the stated order, table order without it. p is exact given x for n ≤ 500
    (the distribution of a ratio of quadratic forms), and from the exact mean and variance above.
    Source: Durbin & Watson 1950, 1951; Imhof 1961; quantities §5.
    """
    cause = _why_none(fit)
    if cause or fit.residual_df < 2:
        why = dict.fromkeys(("d", "p_positive", "p_two_sided", "lag1"), cause or Cause.NO_DEGREES_OF_FREEDOM)
        if not cause:
            d, lag1 = _statistic(fit, order)
            why = {key: value for key, value in why.items() if key.startswith("p")}
            return DurbinWatson(d=d, p_positive=None, p_two_sided=None, lag1=lag1, why=reasons(why))
        return DurbinWatson(d=None, p_positive=None, p_two_sided=None, lag1=None, why=reasons(why))
    d, lag1 = _statistic(fit, order)
    if fit.n <= EXACT_UP_TO:
        columns = _columns(fit, order)
        p = _tail(_spectrum(columns.tobytes(), fit.parameters), d)
    else:
        mean, variance = _moments(fit, order)
        p = float(special.ndtr((d - mean) / math.sqrt(variance)))
    return DurbinWatson(d=d, p_positive=p, p_two_sided=2 * min(p, 1 - p), lag1=lag1, why=reasons())


def _statistic(fit: Fit, order: Ints | None) -> tuple[float, float]:
    if fit.steps is not None:
        squares, steps, joint, *_ = fit.steps.sums.rounded().tolist()
        return steps / squares, joint / squares
    e = fit.weighted_residual if order is None else fit.weighted_residual[order]
    whole = float(np.dot(e, e))
    step = np.diff(e)
    return float(np.dot(step, step)) / whole, float(np.dot(e[1:], e[:-1])) / whole


def _why_none(fit: Fit) -> Cause | None:
    return why_none(fit) or (Cause.EVERY_ROW if fit.elsewhere and fit.steps is None else None)


def _columns(fit: Fit, order: Ints | None) -> Floats:
    """What y is explained by, along the order, (parameters, n)."""
    if fit.steps is not None:
        assert fit.steps.z is not None
        return np.stack([np.full(fit.n, 1 / math.sqrt(fit.n)), fit.steps.z / math.sqrt(fit.n)])
    return np.ascontiguousarray(fit.columns if order is None else fit.columns[:, order])


@lru_cache(maxsize=8)
def _spectrum(columns: bytes, parameters: int) -> Floats:
    """Eigenvalues of the difference form on what the line leaves free, (n − parameters,)."""
    own = np.frombuffer(columns).reshape(parameters, -1).T
    n = own.shape[0]
    free = np.linalg.qr(own, mode="complete")[0][:, parameters:]
    steps = np.diff(free, axis=0)
    values: Floats = np.linalg.eigvalsh(steps.T @ steps)
    assert values.size == n - parameters
    return values


def _tail(values: Floats, d: float) -> float:
    """P(Σλz²/Σz² ≤ d): Imhof's integral over u = exp(v), where equal steps converge beyond any digit.

    Source: Imhof 1961, with x = 0.
    """
    weights = values - d
    size = float(np.abs(weights).max())
    if size == 0 or weights.min() >= 0:
        return 0.0
    if weights.max() <= 0:
        return 1.0
    weights = weights / size
    start = math.log(1e-18 / max(float(np.abs(weights).sum()), 1e-300))
    end = 0.0
    while float(np.log1p((weights * math.exp(end)) ** 2).sum()) / 4 < 42 and end < 200:
        end += 1.0
    total = 0.0
    v = np.arange(start, end + _STEP, _STEP)
    for part in np.array_split(v, max(v.size * weights.size // 200_000, 1)):
        along = np.exp(part)[:, None] * weights
        angle = np.arctan(along).sum(axis=1) / 2
        total += float(np.sum(np.sin(angle) * np.exp(-np.log1p(along * along).sum(axis=1) / 4)))
    above = 0.5 + total * _STEP / math.pi
    return min(max(1 - above, 0.0), 1.0)


def _moments(fit: Fit, order: Ints | None) -> tuple[float, float]:
    """Exact mean and variance of d under independence, from traces. Source: Durbin & Watson 1950.

    The form Σ(e_i − e_(i−1))² takes a column to its steps, and their steps with both ends.
    """
    n, parameters = fit.n, fit.parameters
    if fit.steps is not None:
        once, twice = (np.array([[one / n]]) for one in _steps_at(fit.steps))
    elif parameters == 2 and fit.root_weights is None:  # the constant has no steps, and x stands square on it
        x = fit.x.high if order is None else fit.x.high[order]
        once, twice = (np.array([[one / fit.x.sum_squares]]) for one in _steps(x))
    else:
        columns = fit.columns if order is None else fit.columns[:, order]
        gram = np.linalg.inv(columns @ columns.T)
        steps = np.diff(columns, axis=1)
        turns = np.diff(steps, axis=1)
        once = gram @ (steps @ steps.T)
        twice = gram @ (turns @ turns.T + steps[:, :1] @ steps[:, :1].T + steps[:, -1:] @ steps[:, -1:].T)
    trace = 2 * (n - 1) - float(np.trace(once))
    squares = 6 * n - 8 - 2 * float(np.trace(twice)) + float(np.trace(once @ once))
    df = n - parameters
    return trace / df, 2 * (df * squares - trace**2) / (df**2 * (df + 2))


def _steps(x: Floats) -> tuple[float, float]:
    """Σ of the squared steps of a column, and of their steps with both ends."""
    once = twice = 0.0
    for part in blocks(x.size - 1, CACHED_ROWS):
        steps = np.diff(x[part.start : part.stop + 2])
        turns = np.diff(steps)
        own = steps[: part.stop - part.start]
        once += float(np.dot(own, own))
        twice += float(np.dot(turns, turns))
    return once, twice + float((x[1] - x[0]) ** 2 + (x[-1] - x[-2]) ** 2)


def _steps_at(steps: Steps) -> tuple[float, float]:
    """The same two of what was gone through elsewhere."""
    once, twice = steps.sums.rounded()[3:].tolist()
    (a, b), (c, d) = steps.first[0], steps.last[0]
    return once, twice + float((b - a) ** 2 + (d - c) ** 2)


def runs(fit: Fit, order: Ints | None = None) -> Runs:
    """Count runs of one sign along the order, without continuity correction.

    A residual no larger than rounding is zero. Source: Wald & Wolfowitz 1940; quantities §0, §5.
    """
    cause = _why_none(fit)
    if cause:
        why = dict.fromkeys(("runs", "z", "p"), cause)
        return Runs(runs=None, n_plus=0, n_minus=0, z=None, p=None, why=reasons(why))
    plus, minus, found = _signs(fit, order)
    both = plus + minus
    z = p = None
    if plus and minus and both > 2:
        twice = 2 * plus * minus
        variance = twice * (twice - both) / (both * both * (both - 1))
        if variance > 0:
            z = (found - twice / both - 1) / math.sqrt(variance)
            p = 2 * float(special.ndtr(-abs(z)))
    why = {} if z is not None else dict.fromkeys(("z", "p"), Cause.ONE_SIDED_SIGNS)
    return Runs(runs=found, n_plus=plus, n_minus=minus, z=z, p=p, why=reasons(why))


def _signs(fit: Fit, order: Ints | None) -> tuple[int, int, int]:
    """Residuals of either sign, and runs of them."""
    if fit.steps is not None:
        plus, minus, changes = fit.steps.plus, fit.steps.minus, fit.steps.changes
        return plus, minus, changes + (plus + minus > 0)
    e = fit.residual if order is None else fit.residual[order]
    up = e[np.abs(e) > fit.nothing] > 0
    plus = int(np.count_nonzero(up))
    return plus, up.size - plus, 1 + int(np.count_nonzero(up[1:] != up[:-1])) if up.size else 0
