"""The sums of one pass over the pairs: all that r and the line rest on."""

from __future__ import annotations

import math
from fractions import Fraction

import msgspec
import numpy as np

from bright_tether.core.exact import CACHED_ROWS, blocks, scaled_by
from bright_tether.core.results import Floats
from bright_tether.core.sums.partial import NO_ENDS, Partial, away, rooms

#: Places of the sums in a partial.
_N, _X, _Y, _XX, _XY, _YY, _POWERS = range(7)
#: The powers are summed to no more than their own rounding.
_NO_LOW = (0.0,) * 4


class FirstSums(msgspec.Struct, frozen=True, kw_only=True):
    """Sums about a first guess of both means.

    about_x, about_y : numbers near them, and the power of two that no value is as far away as, scaled; exponent_x,
    exponent_y : values count in 2^exponent. unit : the size of x in which its powers are taken, scaled.
    """

    about_x: tuple[float, int]
    about_y: tuple[float, int]
    exponent_x: int = 0
    exponent_y: int = 0
    unit: float = 1.0

    def __call__(self, x: Floats, y: Floats) -> Partial:
        """Of one block: n, Σx, Σy, Σx², Σxy, Σy², and Σz³ to Σz⁶ to no more than their own rounding."""
        room = rooms(10, x.size)
        of_x = away(scaled_by(x, -self.exponent_x), *self.about_x, room[:4])
        of_y = away(scaled_by(y, -self.exponent_y), *self.about_y, room[4:8])
        sums = (of_x.sum, of_y.sum, of_x.times(of_x), of_x.times(of_y), of_y.times(of_y))
        z, square, cube = of_x.whole, room[8], room[9]
        z *= 1 / self.unit
        np.multiply(z, z, out=square)
        np.multiply(square, z, out=cube)
        powers = (np.dot(square, z), np.dot(square, square), np.dot(square, cube), np.dot(cube, cube))
        high, low = zip(*sums, strict=True)
        return Partial(np.array((x.size, *high, *powers)), np.array((0.0, *low, *_NO_LOW)), *NO_ENDS)


class Spread(msgspec.Struct, frozen=True, kw_only=True):
    """Means and sums about them, scaled, without rounding to speak of.

    powers : means of z, z², … z⁶ about the mean, z in units of √(Σx²/n), (7,), from the power 0 on.
    """

    n: int
    mean_x: Fraction
    mean_y: Fraction
    sxx: Fraction
    sxy: Fraction
    syy: Fraction
    powers: Floats


def spread_of(found: Partial, by: FirstSums) -> Spread:
    """What the sums say, from the guesses to the means themselves."""
    n = int(found.high[_N])
    x, y = found.exactly(_X), found.exactly(_Y)
    sxx = found.exactly(_XX) - x * x / n
    return Spread(
        n=n,
        mean_x=Fraction(by.about_x[0]) + x / n,
        mean_y=Fraction(by.about_y[0]) + y / n,
        sxx=sxx,
        sxy=found.exactly(_XY) - x * y / n,
        syy=found.exactly(_YY) - y * y / n,
        powers=_about_mean(found, by, float(x / n), math.sqrt(max(float(sxx), 0.0) / n)),
    )


def _about_mean(found: Partial, by: FirstSums, shift: float, size: float) -> Floats:
    """Mean powers of x from its mean in units of its spread, (7,), by the binomial theorem."""
    n = found.high[_N]
    away = np.concatenate(([1.0, float(found.exactly(_X)) / n / by.unit,
                            float(found.exactly(_XX)) / n / by.unit**2], found.rounded()[_POWERS:] / n))  # fmt: skip
    back = -shift / by.unit
    about = [sum(math.comb(k, i) * away[i] * back ** (k - i) for i in range(k + 1)) for k in range(7)]
    return np.array([one * (by.unit / size) ** k if size else 0.0 for k, one in enumerate(about)])


def mean_powers(high: Floats, size: float) -> Floats:
    """Means of 1, z … z⁶, (7,), z = high/size. high : (n,), from its mean."""
    found = np.zeros(7)
    for part in blocks(high.size, CACHED_ROWS):
        z = high[part] * (1 / size)
        square = z * z
        cube = square * z
        higher = np.dot(square, square), np.dot(square, cube), np.dot(cube, cube)
        found += (z.size, z.sum(), square.sum(), cube.sum(), *higher)
    return found / high.size
