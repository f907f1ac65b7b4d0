"""Sums over neighbours along an order of the rows, of each stretch, that can be joined with the next one's."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec
import numpy as np

from bright_tether.core.exact import CACHED_ROWS, blocks
from bright_tether.core.results import Floats
from bright_tether.core.sums.partial import NO_ENDS, Partial, rooms
from bright_tether.core.sums.residual import LineAt, ResidualSums

#: z and e of one row or two.
Ends = tuple[tuple[float, ...], tuple[float, ...]]
#: Stretches of no more rows keep their x: of so few pairs the exact distribution is worked out from them.
FEW = 500


class Steps(msgspec.Struct, frozen=True, eq=False):
    """Neighbours along an order. sums : Σ e², (Δe)², e·e₋₁, (Δz)², (Δ²z)² in units of the line.

    first, last : z and e of the two rows at either end, of the one where there is one. plus, minus : residuals of
    either sign; changes : from one to the other; signs : of the first and last of them. z : of every row, up to FEW;
    None of more.
    """

    n: int
    sums: Partial
    first: Ends
    last: Ends
    plus: int
    minus: int
    changes: int
    signs: tuple[int, int]
    z: Floats | None

    def joined(self, later: Steps) -> Steps:
        """The steps of both, and those from one to the other."""
        (before_z, before_e), (after_z, after_e) = self.last, later.first
        z, few = (*before_z, *after_z), None
        across = [0.0, (after_e[0] - before_e[-1]) ** 2, after_e[0] * before_e[-1], (after_z[0] - before_z[-1]) ** 2,
                  sum((a - 2 * b + c) ** 2 for a, b, c in zip(z, z[1:], z[2:], strict=False))]  # fmt: skip
        if self.z is not None and later.z is not None and self.n + later.n <= FEW:
            few = np.concatenate([self.z, later.z])
        (begin, end), (next_begin, next_end) = self.signs, later.signs
        sums = self.sums.joined(later.sums)
        return Steps(
            n=self.n + later.n,
            sums=Partial(sums.high, sums.low + across, *NO_ENDS),
            first=self.first if self.n > 1 else _two(self.first, later.first, slice(2)),
            last=later.last if later.n > 1 else _two(self.last, later.last, slice(-2, None)),
            plus=self.plus + later.plus, minus=self.minus + later.minus,
            changes=self.changes + later.changes + (end * next_begin < 0),
            signs=(begin or next_begin, next_end or end), z=few,
        )  # fmt: skip


def _two(before: Ends, after: Ends, which: slice) -> Ends:
    (z, e), (next_z, next_e) = before, after
    return (z + next_z)[which], (e + next_e)[which]


class StepsBy(msgspec.Struct, frozen=True):
    """The steps of one stretch. nothing : a residual no larger is zero, in the scale of y."""

    line: LineAt
    nothing: float

    def __call__(self, x: Floats, y: Floats) -> Steps:
        """Of so many rows, at least one."""
        return self.of(*self.line.standard_of(x, y))

    def of(self, z: Floats, e: Floats) -> Steps:
        """Of z and e as the line gives them."""
        step, run = e[1:] - e[:-1], z[1:] - z[:-1]
        turn = run[1:] - run[:-1]
        found = [
            np.dot(e, e),
            np.dot(step, step),
            np.dot(e[1:], e[:-1]),
            np.dot(run, run),
            np.dot(turn, turn),
        ]
        up, nothing = e > 0, self.nothing / self.line.s
        there = (e > nothing) | (e < -nothing)
        if not there.all():
            up = up[there]
        plus = int(np.count_nonzero(up))
        return Steps(
            n=z.size, sums=Partial(np.array(found), np.zeros(5), *NO_ENDS),
            first=(tuple(z[:2].tolist()), tuple(e[:2].tolist())),
            last=(tuple(z[-2:].tolist()), tuple(e[-2:].tolist())), plus=plus, minus=up.size - plus,
            changes=int(np.count_nonzero(up[1:] != up[:-1])),
            signs=(2 * int(up[0]) - 1, 2 * int(up[-1]) - 1) if up.size else (0, 0),
            z=z.copy() if z.size <= FEW else None,
        )  # fmt: skip


class SumsAndSteps(msgspec.Struct, frozen=True, eq=False):
    """What one stretch adds to the sums over the residuals, and its steps."""

    sums: Partial
    steps: Steps

    def joined(self, later: SumsAndSteps) -> SumsAndSteps:
        """Of both stretches."""
        return SumsAndSteps(self.sums.joined(later.sums), self.steps.joined(later.steps))


class BothBy(msgspec.Struct, frozen=True):
    """Both of one stretch, on one way through it."""

    sums: ResidualSums
    steps: StepsBy

    def __call__(self, x: Floats, y: Floats) -> SumsAndSteps:
        """Of so many rows, at least one."""
        first, *rest = blocks(x.size, CACHED_ROWS)
        found = self._of(x[first], y[first])
        for part in rest:
            found = found.joined(self._of(x[part], y[part]))
        return found

    def _of(self, x: Floats, y: Floats) -> SumsAndSteps:
        found = self.sums(x, y)
        z, e = rooms(2, x.size)  # where the sums leave them
        return SumsAndSteps(found, self.steps.of(z, e))


class Levels(msgspec.Struct, frozen=True, kw_only=True):
    """Residuals by their x, in the scale of y. distinct : values of x; inside, between : Σ of squares at each x, and of
    the means there; lower, upper : variance in the lowest and the highest third, None of fewer than two rows each.
    """

    distinct: int
    inside: float
    between: float
    lower: float | None
    upper: float | None


class _Third(msgspec.Struct):
    """Rows from one place to another; squares from their first."""

    start: int
    end: int
    n: int = 0
    zero: float = 0.0
    total: float = 0.0
    squares: float = 0.0

    def take(self, done: int, e: Floats) -> None:
        own = e[max(self.start - done, 0) : max(self.end - done, 0)]
        if own.size:
            self.zero = self.zero if self.n else float(own[0])
            own = own - self.zero
            self.n += own.size
            self.total += float(own.sum())
            self.squares += float(np.dot(own, own))

    @property
    def variance(self) -> float | None:
        if self.n < 2:
            return None
        return max(self.squares - self.total * self.total / self.n, 0.0) / (self.n - 1)


def levels_of(stretches: Iterator[tuple[Floats, Floats]], line: LineAt, n: int) -> Levels:
    """Go along rising x once. Source: quantities §5."""
    third = n // 3
    lower, upper = _Third(0, third), _Third(n - third, n)
    done = distinct = 0
    closed = np.zeros(2)
    open_x: float | None = None
    count, mean, squares = 0.0, 0.0, 0.0  # of the x that the next stretch may go on with
    for x, y in stretches:
        e = line.residuals(x, y)
        lower.take(done, e)
        upper.take(done, e)
        done += x.size
        starts = np.flatnonzero(np.concatenate([[True], x[1:] != x[:-1]]))
        counts = np.diff(np.append(starts, x.size)).astype(float)
        means = np.add.reduceat(e, starts) / counts
        gap = e - np.repeat(means, counts.astype(np.int64))
        within = np.add.reduceat(gap * gap, starts)
        if open_x == float(x[0]):
            both, apart = count + counts[0], means[0] - mean
            within[0] += squares + apart * apart * count * counts[0] / both
            means[0], counts[0] = mean + apart * counts[0] / both, both
        elif open_x is not None:
            closed += squares, count * mean * mean
            distinct += 1
        closed += float(within[:-1].sum()), float(np.dot(counts[:-1], means[:-1] ** 2))
        distinct += starts.size - 1
        open_x, count, mean, squares = float(x[-1]), float(counts[-1]), float(means[-1]), float(within[-1])
    return Levels(distinct=distinct + 1, inside=float(closed[0]) + squares, between=float(closed[1]) + count * mean**2,
                  lower=lower.variance, upper=upper.variance)  # fmt: skip
