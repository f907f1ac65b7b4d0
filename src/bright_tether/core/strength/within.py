"""r inside each group, and pooled within groups."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from bright_tether.core.centred import Centred, centre
from bright_tether.core.exact import dot
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Cause, Why, reasons
from bright_tether.core.tails import t_both

#: Fewer rows than this have no r of their own: two points always lie on a line.
LEAST_ROWS = 3


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class GroupCorrelation:
    """n and r of one group."""

    name: str
    n: int
    r: float | None
    why: Why


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class WithinGroups:
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


def within_groups(pairs: Pairs, group: list[str]) -> WithinGroups:
    """Correlate inside groups.

    group : the name of each pair's group, (n,); groups come in order of first appearance.
    Source: quantities §2.
    """
    if not pairs.n:
        return WithinGroups(r=None, p=None, slope=None, n=0, df=-1, groups=(), between_x=0.0, between_y=0.0,
                            why=reasons(dict.fromkeys(("r", "p", "slope"), Cause.NO_PAIRS)))  # fmt: skip
    place = {name: at for at, name in enumerate(dict.fromkeys(group))}
    names = list(place)
    of = np.array([place[name] for name in group], np.int64)
    sxx_all = syy_all = sxy_all = 0.0
    found = []
    scale_x, scale_y = (max(float(np.abs(v).max()), 1e-300) for v in (pairs.x, pairs.y))
    for name in names:
        mine = of == place[name]
        x, y = centre(pairs.x[mine] / scale_x), centre(pairs.y[mine] / scale_y)
        shift = (x.exponent, y.exponent)
        sxx = math.ldexp(x.sum_squares, 2 * shift[0])
        syy = math.ldexp(y.sum_squares, 2 * shift[1])
        sxy = math.ldexp(dot(x.high, x.low, y.high, y.low), sum(shift))
        sxx_all, syy_all, sxy_all = sxx_all + sxx, syy_all + syy, sxy_all + sxy
        r, cause = _ratio(sxx, syy, sxy) if x.n >= LEAST_ROWS else (None, Cause.TOO_FEW_PAIRS)
        found.append(GroupCorrelation(name=name, n=x.n, r=r, why=reasons({"r": cause} if cause else {})))
    r, cause = _ratio(sxx_all, syy_all, sxy_all)
    df = pairs.n - len(names) - 1
    p, p_cause = judged_r(r, df) if r is not None else (None, cause)
    slope = sxy_all / sxx_all * (scale_y / scale_x) if sxx_all else None
    why = {"r": cause, "p": p_cause, "slope": None if sxx_all else Cause.CONSTANT_X}
    return WithinGroups(
        r=r,
        p=p,
        slope=slope,
        n=pairs.n,
        df=df,
        groups=tuple(found),
        between_x=_between(sxx_all, pairs.centred_x, scale_x),
        between_y=_between(syy_all, pairs.centred_y, scale_y),
        why=reasons({name: one for name, one in why.items() if one is not None}),
    )


def judged_r(r: float, df: int) -> tuple[float | None, Cause | None]:
    """The two-sided p of an r on df, or why it has none."""
    if df < 1:
        return None, Cause.NO_DEGREES_OF_FREEDOM
    left = (1 - r) * (1 + r)
    return (t_both(r * math.sqrt(df / left), df), None) if left > 0 else (None, Cause.PERFECT_CORRELATION)


def _between(inside: float, column: Centred, scale: float) -> float:
    """1 − spread inside the groups over the whole spread; 0 for a column of one value."""
    if column.constant:
        return 0.0
    whole = column.sum_squares * math.ldexp(1 / scale, column.exponent) ** 2
    return max(0.0, 1 - inside / whole)


def _ratio(sxx: float, syy: float, sxy: float) -> tuple[float | None, Cause | None]:
    if sxx == 0 or syy == 0:
        return None, Cause.CONSTANT_X if sxx == 0 else Cause.CONSTANT_Y
    return max(-1.0, min(1.0, sxy / math.sqrt(sxx) / math.sqrt(syy))), None
