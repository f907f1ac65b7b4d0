"""The sums of a second pass, over the residuals of a line: all that its robust errors and its checks rest on."""

from __future__ import annotations

import math
from fractions import Fraction

import msgspec
import numpy as np

from bright_tether.core.exact import CACHED_ROWS, blocks, scaled_by, two_product, two_sum
from bright_tether.core.results import Floats
from bright_tether.core.sums.partial import NO_ENDS, Partial, Rows, rooms, summed

#: Where in a partial: pairs of 1, z, q2, q3; they with e; the first three with e² − 1; what is left of e; the meats.
_GRAM, _JOINT, _SQUARES, _POWERS, _MEATS = (
    slice(0, 10),
    slice(10, 14),
    slice(14, 17),
    slice(17, 21),
    slice(21, 33),
)
_LOWER = np.tril_indices(4)
_EPSILON = 2.0**-52
#: Residuals below this share of what the line explains are worked out in pairs of doubles.
TIGHT = 1e-3


class LineAt(msgspec.Struct, frozen=True, kw_only=True):
    """A line as a pass needs it: scaled, means and slope in two doubles. size_x : √(Sxx/n); s : of its residuals."""

    n: int
    mean_x: tuple[float, float]
    mean_y: tuple[float, float]
    slope: tuple[float, float]
    size_x: float
    s: float
    exponent_x: int
    exponent_y: int

    def standard(self, x: Floats, y: Floats, z: Floats, e: Floats, spare: Floats) -> None:
        """Into z: x from its mean in units of its size; into e: residuals in units of s. spare is written over."""
        if self.tight:
            z[:], e[:] = self._in_two_doubles(x, y)
        else:
            np.subtract(scaled_by(x, -self.exponent_x), self.mean_x[0], out=z)
            z -= self.mean_x[1]
            np.subtract(scaled_by(y, -self.exponent_y), self.mean_y[0], out=e)
            e -= self.mean_y[1]
            e -= np.multiply(z, self.slope[0], out=spare)
        z *= 1 / self.size_x
        e *= 1 / self.s

    def standard_of(self, x: Floats, y: Floats) -> Floats:
        """z and e, (2, n), of any number of pairs. x, y : (n,)."""
        found = np.empty((2, x.size))
        for part in blocks(x.size, CACHED_ROWS):
            (spare,) = rooms(1, x[part].size)
            self.standard(x[part], y[part], found[0, part], found[1, part], spare)
        return found

    def residuals(self, x: Floats, y: Floats) -> Floats:
        """Residuals in the scale of y, (n,). x, y : (n,)."""
        return np.asarray(self.standard_of(x, y)[1] * self.s)

    def from_means(self, x: Floats, y: Floats) -> tuple[Floats, Floats]:
        """x and y from their means, scaled, (b,) each."""
        z = scaled_by(x, -self.exponent_x) - self.mean_x[0] - self.mean_x[1]
        return z, scaled_by(y, -self.exponent_y) - self.mean_y[0] - self.mean_y[1]

    @property
    def tight(self) -> bool:
        """Whether the line leaves so little that rounding would take digits of it."""
        return self.s < TIGHT * abs(self.slope[0]) * self.size_x

    def _in_two_doubles(self, x: Floats, y: Floats) -> tuple[Floats, Floats]:
        """x from its mean, and residuals, with what rounding drops on the way."""
        high, low = two_sum(scaled_by(x, -self.exponent_x), -self.mean_x[0])
        gap, gap_low = two_sum(scaled_by(y, -self.exponent_y), -self.mean_y[0])
        low, gap_low = low - self.mean_x[1], gap_low - self.mean_y[1]
        product, dropped = two_product(high, np.full(1, self.slope[0]))
        left, lost = two_sum(gap, -product)
        return high + low, left + (lost + gap_low - dropped - self.slope[0] * low - self.slope[1] * high)


def two_doubles(value: Fraction) -> tuple[float, float]:
    """The double nearest to a value, and the one nearest to what is left."""
    first = float(value)
    return first, float(value - Fraction(first))


class ResidualSums(msgspec.Struct, frozen=True, kw_only=True):
    """Sums over z and e as the line gives them.

    turned : what takes z² and z³ nearly square to what stands before. meats : whether robust errors are wanted.
    """

    line: LineAt
    turned: tuple[tuple[float, float], tuple[float, float, float]]
    meats: bool

    def terms(self, z: Floats, square: Floats, q2: Floats, q3: Floats, spare: Floats) -> None:
        """Into square: z²; into q2 and q3: that and the cube, nearly square on what stands before them."""
        (a, b), (c, d, f) = self.turned
        np.multiply(z, z, out=square)
        np.multiply(square, z, out=q3)
        np.subtract(square, a, out=q2)
        q2 -= np.multiply(z, b, out=spare)
        q3 -= c
        q3 -= np.multiply(z, d, out=spare)
        q3 -= np.multiply(q2, f, out=spare)

    def __call__(self, x: Floats, y: Floats) -> Partial:
        """Of one block."""
        z, e, square, q2, q3, over, beyond, spare, at_0, room = rooms(10, x.size)
        n, dot = self.line.n, np.dot
        self.line.standard(x, y, z, e, room)
        self.terms(z, square, q2, q3, room)
        np.multiply(e, e, out=over)
        np.subtract(over, 1, out=beyond)
        sum_beyond = summed(beyond)
        found = [
            x.size, summed(z), summed(square), summed(q2), dot(z, q2), dot(q2, q2),
            summed(q3), dot(z, q3), dot(q2, q3), dot(q3, q3),
            summed(e), dot(z, e), dot(q2, e), dot(q3, e), sum_beyond, dot(z, beyond), dot(q2, beyond),
            dot(beyond, beyond), sum_beyond + x.size, dot(over, e), dot(over, over),
        ]  # fmt: skip
        largest_e, largest_z = max(e.max(), -e.min()), max(z.max(), -z.min())
        slope, height = -1 / n, 1 - 1 / n
        if self.meats:
            np.multiply(square, slope, out=spare)
            spare += height
            found += self._meats(z, square, over, spare, at_0)
        # rounding keeps the order of squares, and of what they leave
        ends = [largest_z * largest_z * slope + height], [largest_e, largest_z, largest_e * largest_e]
        return Partial(np.array(found), np.zeros(len(found)), *map(np.array, ends))

    def _meats(self, z: Floats, square: Floats, over: Floats, spare: Floats, at_0: Floats) -> list[float]:
        """Σ e²·(1, z, z², (1 − x̄z/size)²), over 1, 1 − leverage and its square. over : e², is written over."""
        np.multiply(z, -self.line.mean_x[0] / self.line.size_x, out=at_0)
        at_0 += 1
        at_0 *= at_0
        found: list[float] = []
        with np.errstate(divide="ignore", invalid="ignore"):
            for power in range(3):
                if power == 1:
                    np.divide(1.0, spare, out=spare)
                if power:
                    over *= spare
                found += [summed(over), np.dot(over, z), np.dot(over, square), np.dot(over, at_0)]
        return found


class Squares(msgspec.Struct, frozen=True):
    """Σ of the squared residuals in units of s, straight from them: a difference of sums would have no digits left."""

    line: LineAt

    def __call__(self, x: Floats, y: Floats) -> Partial:
        """Of one block."""
        z, e, spare = rooms(3, x.size)
        self.line.standard(x, y, z, e, spare)
        found = np.array([np.dot(e, e)])
        return Partial(found, np.zeros(1), *NO_ENDS)


class AfterSums(msgspec.Struct, frozen=True, kw_only=True):
    """Σ of the squares of what the square, and the cube too, leave of e. slopes : of e on the terms, (2, 4)."""

    by: ResidualSums
    slopes: tuple[tuple[float, ...], ...]

    def __call__(self, x: Floats, y: Floats) -> Partial:
        """Of one block."""
        z, e, square, q2, q3, room = rooms(6, x.size)
        self.by.line.standard(x, y, z, e, room)
        self.by.terms(z, square, q2, q3, room)
        gaps = [e - (a + b * z + c * q2 + d * q3) for a, b, c, d in self.slopes]
        found = np.array([np.dot(gap, gap) for gap in gaps])
        return Partial(found, np.zeros_like(found), *NO_ENDS)


class Added(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """A term that is taken up beside the line: Σ of its squares less what stands before it, with e, and what it leaves.

    rounding : whether what is left of the term itself is rounding alone. All in units of z and e.
    """

    spread: float
    joint: float
    left: float
    rounding: bool

    @property
    def taken(self) -> float:
        """What it takes of the sum of squares."""
        return 0.0 if self.rounding else self.joint / self.spread * self.joint


class SecondSums(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """What a second pass found, in units of z and e.

    slant : of z² on z. moments : means of e² to e⁴; the mean of e is 0 to the last digits.
    beyond, with_z, with_square : of e² from its mean, its squares, with z over √Σz², with what is left of z² over √ of
    its squares. meats : Σ e²·(1, z, z², (1 − x̄z/size)²) over 1, 1 − leverage and its square, (3, 4). spare : the
    smallest 1 − leverage.
    """

    n: int
    square: Added
    cube: Added
    slant: float
    moments: tuple[float, float, float]
    beyond: float
    with_z: float
    with_square: float
    largest_square: float
    meats: Floats | None
    spare: float


def turned_by(powers: Floats) -> tuple[tuple[float, float], tuple[float, float, float]]:
    """What takes z² and z³ square to what stands before them. powers : means of 1, z … z⁶, (7,)."""
    _, _, _, third, fourth, fifth, _ = powers.tolist()
    spread = fourth - third * third - 1
    f = (fifth - third * fourth - third) / spread if spread > 1e-12 else 0.0
    return (1.0, third), (third, fourth, f)


def residuals_by(line: LineAt, powers: Floats, *, meats: bool) -> ResidualSums:
    """The sums over the residuals of a line. powers : means of z's powers from 0 to 6."""
    return ResidualSums(line=line, turned=turned_by(powers), meats=meats)


def second_sums(rows: Rows, line: LineAt, powers: Floats, *, meats: bool) -> SecondSums:
    """Go through the pairs once more; twice where a term takes up so much that a difference would lose digits.

    powers : means of z's powers from 0 to 6; meats : whether those are wanted.
    Source: quantities §3, §5; Frisch & Waugh 1933 for the terms.
    """
    by = residuals_by(line, powers, meats=meats)
    return second_of_sums(rows, by, rows.total(by))


def second_of_sums(rows: Rows, by: ResidualSums, found: Partial) -> SecondSums:
    """The same where those sums are known. Another way through the rows is made only where digits would be lost."""
    line, meats = by.line, by.meats
    sums = found.rounded()
    gram = np.zeros((4, 4))
    gram[_LOWER] = sums[_GRAM]
    gram += np.tril(gram, -1).T
    joint, n = sums[_JOINT], line.n
    whole = float(sums[_POWERS][1]) - float(joint[0]) ** 2 / n
    largest = float(found.most[1])
    added, slopes = [], []
    for at, size in ((2, largest**2), (3, largest**3)):
        before = np.asarray(np.linalg.lstsq(gram[:at, :at], gram[:at, at], rcond=None)[0], np.float64)
        spread = float(gram[at, at] - before @ gram[:at, at])
        own = float(joint[at] - before @ joint[:at])
        nothing = spread <= n * (8 * _EPSILON * size) ** 2
        added.append((spread, own, nothing))
        slopes.append((before, 0.0 if nothing else own / spread))
    left = _left(rows, by, whole, added, slopes)
    squares, beyond = sums[_SQUARES], sums[_POWERS]
    before = slopes[0][0]
    with_z = float(squares[1]) - float(gram[1, 0]) / n * float(squares[0])
    with_square = float(squares[2]) - float(before @ squares[:2])
    spread = added[0][0]
    second, third, fourth = (float(one) / n for one in beyond[1:])
    return SecondSums(
        n=n,
        square=Added(spread=spread, joint=added[0][1], left=left[0], rounding=added[0][2]),
        cube=Added(spread=added[1][0], joint=added[1][1], left=left[1], rounding=added[1][2]),
        slant=_slant(gram, by.turned[0]),
        moments=(second, third, fourth),
        beyond=float(beyond[0]) - float(squares[0]) ** 2 / n,
        with_z=with_z / math.sqrt(gram[1, 1]),
        with_square=0.0 if added[0][2] else with_square / math.sqrt(spread),
        largest_square=float(found.most[2]),
        meats=sums[_MEATS].reshape(3, 4) if meats else None,
        spare=float(found.least[0]),
    )  # fmt: skip


def _left(
    rows: Rows, by: ResidualSums, whole: float, added: list[tuple[float, float, bool]],
    slopes: list[tuple[Floats, float]],
) -> tuple[float, float]:  # fmt: skip
    """Σe² less what the square takes up, and less what both do."""
    taken = [0.0 if nothing else own * own / spread for spread, own, nothing in added]
    if sum(taken) < whole / 2:
        return whole - taken[0], whole - taken[0] - taken[1]
    square = np.append(-slopes[0][1] * slopes[0][0], (slopes[0][1], 0.0))
    both = square + np.append(-slopes[1][1] * slopes[1][0], slopes[1][1])
    found = rows.total(AfterSums(by=by, slopes=(tuple(square.tolist()), tuple(both.tolist())))).rounded()
    return float(found[0]), float(found[1])


def _slant(gram: Floats, turned: tuple[float, float]) -> float:
    """Σ z²·z over Σ z²."""
    a, b = turned
    return float(gram[2, 1] + a * gram[1, 0]) / float(gram[1, 1]) + b
