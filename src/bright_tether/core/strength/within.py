"""r inside each group, and pooled within groups."""

from __future__ import annotations

import math
from collections.abc import Sequence
from fractions import Fraction

import msgspec

from bright_tether.core.centred import Centred, unscaled
from bright_tether.core.compare.groups import split
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Cause, Ints, Why, reasons
from bright_tether.core.tails import f_above, t_both

#: Fewer rows than this have no r of their own: two points always lie on a line.
LEAST_ROWS = 3


class GroupCorrelation(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """n and r of one group."""

    name: str
    n: int
    r: float | None
    why: Why


class WithinGroups(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """r of the values centred in their groups, on df = n − k − 1, with its two-sided p.

    slope : of the values centred in their groups, y unit per x unit. between_x, between_y : the share of each
    column's spread that lies between the groups' means.
    """

    r: float | None
    p: float | None
    slope: float | None
    n: int
    df: int
    groups: tuple[GroupCorrelation, ...]
    between_x: float
    between_y: float
    why: Why


def within_groups(pairs: Pairs, codes: Ints, names: Sequence[str]) -> WithinGroups:
    """Correlate inside groups.

    codes : which of the names is that of each pair's group, (n,). Source: quantities §2.
    """
    return within_parts(pairs, [(name, part) for name, part, _ in split(pairs, codes, list(names))])


def within_parts(pairs: Pairs, parts: list[tuple[str, Pairs]]) -> WithinGroups:
    """The same of pairs that lie in groups already. parts : of each group its name and its pairs."""
    if not pairs.n:
        return WithinGroups(r=None, p=None, slope=None, n=0, df=-1, groups=(), between_x=0.0, between_y=0.0,
                            why=reasons(dict.fromkeys(("r", "p", "slope"), Cause.NO_PAIRS)))  # fmt: skip
    tilt, rise = (math.frexp(one.largest)[1] for one in (pairs.centred_x, pairs.centred_y))
    sxx_all = syy_all = sxy_all = 0.0
    found = []
    for name, part in parts:
        x, y = part.centred_x, part.centred_y
        sxx = math.ldexp(x.sum_squares, 2 * (x.exponent - tilt))
        syy = math.ldexp(y.sum_squares, 2 * (y.exponent - rise))
        sxy = math.ldexp(part.products, x.exponent - tilt + y.exponent - rise)
        sxx_all, syy_all, sxy_all = sxx_all + sxx, syy_all + syy, sxy_all + sxy
        r, cause = _ratio(sxx, syy, sxy) if part.n >= LEAST_ROWS else (None, Cause.TOO_FEW_PAIRS)
        found.append(GroupCorrelation(name=name, n=part.n, r=r, why=reasons({"r": cause} if cause else {})))
    r, cause = _ratio(sxx_all, syy_all, sxy_all)
    df = pairs.n - len(parts) - 1
    p, p_cause = judged_r(r, df) if r is not None else (None, cause)
    slope = unscaled(sxy_all / sxx_all, rise - tilt) if sxx_all else None
    lost = None if slope is not None else Cause.OUT_OF_RANGE if sxx_all else Cause.CONSTANT_X
    why = {"r": cause, "p": p_cause, "slope": lost}
    return WithinGroups(
        r=r,
        p=p,
        slope=slope,
        n=pairs.n,
        df=df,
        groups=tuple(found),
        between_x=_between(pairs.centred_x, [part.centred_x for _, part in parts]),
        between_y=_between(pairs.centred_y, [part.centred_y for _, part in parts]),
        why=reasons({name: one for name, one in why.items() if one is not None}),
    )


def heights_apart(within: WithinGroups, r_all: float) -> float | None:
    """The p of one line for all against lines of one slope, each at the height of its group. r_all : without groups.

    Source: quantities §6, from the shares of y that each leaves over: F on (k − 1, n − k − 1).
    """
    extra = len(within.groups) - 1
    if within.r is None or within.df < 1 or extra < 1:
        return None
    own = (1 - within.between_y) * (1 - within.r) * (1 + within.r)
    one = (1 - r_all) * (1 + r_all)
    if own <= 0:
        return None
    return f_above(max(one / own - 1, 0.0) * within.df / extra, extra, within.df)


def judged_r(r: float, df: int) -> tuple[float | None, Cause | None]:
    """The two-sided p of an r on df, or why it has none."""
    if df < 1:
        return None, Cause.NO_DEGREES_OF_FREEDOM
    left = (1 - r) * (1 + r)
    return (t_both(r * math.sqrt(df / left), df), None) if left > 0 else (None, Cause.PERFECT_CORRELATION)


def _between(column: Centred, parts: list[Centred]) -> float:
    """Spread of the groups' means over the whole spread, from the means: a small share keeps its digits."""
    if column.constant:
        return 0.0
    apart = [
        (part.n, float(part.mean * Fraction(2) ** (part.exponent - column.exponent) - column.mean))
        for part in parts
    ]
    return min(math.fsum(n * gap * gap for n, gap in apart) / column.sum_squares, 1.0)


def _ratio(sxx: float, syy: float, sxy: float) -> tuple[float | None, Cause | None]:
    if sxx == 0 or syy == 0:
        return None, Cause.CONSTANT_X if sxx == 0 else Cause.CONSTANT_Y
    return max(-1.0, min(1.0, sxy / math.sqrt(sxx) / math.sqrt(syy))), None
