"""What shape have the residuals? Shapiro–Wilk, Anderson–Darling, Jarque–Bera."""

from __future__ import annotations

import math

import msgspec
import numpy as np
from numpy.polynomial.polynomial import polyval

from bright_tether.core.checks.added import why_no_rows, why_none
from bright_tether.core.exact import CACHED_ROWS, blocks
from bright_tether.core.line.plain import Fit
from bright_tether.core.results import Cause, Floats, Why, reasons
from bright_tether.core.special import special
from bright_tether.core.tails import chi_above

#: Royston's approximations: weights of the outermost values, and the normalising of 1 − W.
_C1 = (0.0, 0.221157, -0.147981, -2.07119, 4.434685, -2.706056)
_C2 = (0.0, 0.042981, -0.293762, -1.752461, 5.682633, -3.582633)
_SMALL_MEAN = (0.5440, -0.39978, 0.025054, -0.0006714)
_SMALL_SD = (1.3822, -0.77857, 0.062767, -0.0020322)
_LARGE_MEAN = (-1.5861, -0.31082, -0.083751, 0.0038915)
_LARGE_SD = (-0.4803, -0.082676, 0.0030302)
_GAMMA = (-2.273, 0.459)


class ShapiroWilk(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """W with Royston's p."""

    w: float | None
    p: float | None
    why: Why


class AndersonDarling(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """A² with mean and sd estimated, its value adjusted for n, and p."""

    a2: float | None
    a2_star: float | None
    p: float | None
    why: Why


class JarqueBera(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """jb on χ²(2), with the population skewness g1 and excess kurtosis g2 it is made of."""

    jb: float | None
    p: float | None
    skewness: float | None
    excess_kurtosis: float | None
    why: Why


def shapiro_wilk(fit: Fit) -> ShapiroWilk:
    """3 ≤ n ≤ 5000. Source: Royston 1995 (AS R94); quantities §5."""
    cause = why_no_rows(fit)
    if not cause and not 3 <= fit.n <= 5000:
        cause = Cause.SIZE_OUTSIDE
    if cause:
        return ShapiroWilk(w=None, p=None, why=reasons({"w": cause, "p": cause}))
    w, short = _shapiro(np.sort(fit.weighted_residual / np.abs(fit.weighted_residual).max()))
    return ShapiroWilk(w=w, p=_royston_p(w, short, fit.n), why=reasons())


def _shapiro(ordered: Floats) -> tuple[float, float]:
    """W and 1 − W of values in rising order, (n,)."""
    n = ordered.size
    weights = royston_weights(n)
    from_mean = ordered - ordered.mean()
    spread = float(np.dot(from_mean, from_mean))
    slant = float(np.dot(weights, weights))
    joint = float(np.dot(weights, from_mean))
    # 1 − W as the part the weights leave, which keeps its digits when W is near 1.
    left = from_mean - joint / slant * weights
    short = float(np.dot(left, left)) / spread
    return 1 - short, short


def royston_weights(n: int) -> Floats:
    """The weights of all n ordered values; they rise and add up to 0."""
    if n == 3:
        return np.array([-math.sqrt(0.5), 0.0, math.sqrt(0.5)])
    half = n // 2
    middle = special.ndtri((np.arange(1, half + 1) - 0.375) / (n + 0.25))
    squares = 2 * float(np.dot(middle, middle))
    root, small = math.sqrt(squares), 1 / math.sqrt(n)
    outer = np.empty(half)
    first = float(polyval(small, _C1)) - middle[0] / root
    if n > 5:
        second = float(polyval(small, _C2)) - middle[1] / root
        scale = math.sqrt(
            (squares - 2 * middle[0] ** 2 - 2 * middle[1] ** 2) / (1 - 2 * first**2 - 2 * second**2)
        )
        outer[:2], outer[2:] = (first, second), -middle[2:] / scale
    else:
        scale = math.sqrt((squares - 2 * middle[0] ** 2) / (1 - 2 * first**2))
        outer[0], outer[1:] = first, -middle[1:] / scale
    centre = np.zeros(n % 2)
    return np.concatenate((-outer, centre, outer[::-1]))


def _royston_p(w: float, short: float, n: int) -> float:
    if n == 3:
        return max(0.0, 6 / math.pi * (math.asin(math.sqrt(max(w, 0.0))) - math.asin(math.sqrt(0.75))))
    far = math.log(short) if short > 0 else -745.0
    size = math.log(n)
    if n <= 11:
        gamma = float(polyval(n, _GAMMA))
        if far >= gamma:
            return 0.0
        far = -math.log(gamma - far)
        mean, sd = float(polyval(n, _SMALL_MEAN)), math.exp(float(polyval(n, _SMALL_SD)))
    else:
        mean, sd = float(polyval(size, _LARGE_MEAN)), math.exp(float(polyval(size, _LARGE_SD)))
    return float(special.ndtr((mean - far) / sd))


def anderson_darling(fit: Fit, ordered: Floats) -> AndersonDarling:
    """A² = −n − Σ(2i − 1)(ln Φ(z_i) + ln Φ(−z_(n+1−i)))/n; p by the adjusted value.

    ordered : the weighted residuals in rising order, (n,).
    Source: Stephens 1974; D'Agostino & Stephens 1986, table 4.9; quantities §5.
    """
    cause = why_no_rows(fit)
    if cause:
        return AndersonDarling(
            a2=None, a2_star=None, p=None, why=reasons(dict.fromkeys(("a2", "a2_star", "p"), cause))
        )
    n, from_mean = fit.n, ordered - ordered.mean()
    unit = 1 / math.sqrt(float(np.dot(from_mean, from_mean)) / (n - 1))
    whole = 0.0
    for part in blocks(n, CACHED_ROWS):
        z = from_mean[part] * unit
        odd = 2.0 * np.arange(part.start + 1, part.start + z.size + 1) - 1
        below, above = _log_tails(z)
        whole += float(np.dot(odd, below)) + float(np.dot(2 * n - odd, above))
    a2 = -n - whole / n
    star = a2 * (1 + 0.75 / n + 2.25 / n**2)
    return AndersonDarling(a2=a2, a2_star=star, p=_stephens_p(star), why=reasons())


def _log_tails(z: Floats) -> tuple[Floats, Floats]:
    """ln Φ(z) and ln Φ(−z), each from the smaller tail, which is asked for once."""
    small = special.ndtr(-np.abs(z))
    with np.errstate(divide="ignore"):
        near = np.log(small)
    far = small == 0
    if far.any():
        near[far] = special.log_ndtr(-np.abs(z[far]))
    rest = np.log1p(-small)
    up = z > 0
    return np.where(up, rest, near), np.where(up, near, rest)


def _stephens_p(a: float) -> float:
    if a >= 0.6:
        a = min(a, 153.0)  # the parabola of the approximation turns there
        return math.exp(1.2937 - 5.709 * a + 0.0186 * a * a)
    if a >= 0.34:
        return math.exp(0.9177 - 4.279 * a - 1.38 * a * a)
    if a >= 0.2:
        return -math.expm1(-8.318 + 42.796 * a - 59.938 * a * a)
    return -math.expm1(-13.436 + 101.14 * a - 223.73 * a * a)


def jarque_bera(fit: Fit) -> JarqueBera:
    """n(g1² + g2²/4)/6. Source: Jarque & Bera 1987; quantities §5."""
    cause = why_none(fit)
    if cause:
        names = ("jb", "p", "skewness", "excess_kurtosis")
        absent = dict.fromkeys(names)
        return JarqueBera(**absent, why=reasons(dict.fromkeys(names, cause)))
    spread, third, fourth = _moments(fit) if fit.second is None else fit.second.moments
    g1, g2 = third / spread**1.5, fourth / spread**2 - 3
    jb = fit.n / 6 * (g1 * g1 + g2 * g2 / 4)
    return JarqueBera(jb=jb, p=chi_above(jb, 2), skewness=g1, excess_kurtosis=g2, why=reasons())


def _moments(fit: Fit) -> tuple[float, float, float]:
    """Second to fourth moment of the residuals about their mean, in units of the largest."""
    from_mean = fit.weighted_residual / np.abs(fit.weighted_residual).max()
    from_mean = from_mean - from_mean.mean()
    square = from_mean * from_mean
    third, fourth = float(np.dot(square, from_mean)), float(np.dot(square, square))
    return float(square.mean()), third / fit.n, fourth / fit.n
