"""Many columns against each other: a coefficient for each two, with p adjusted for how many were looked at."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

import msgspec
import numpy as np
from msgspec.structs import replace

from bright_tether.core.compare.groups import holm
from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import Pairs, take_pairs
from bright_tether.core.results import Alternative, Bools, Floats, Interval, Ints, Refusal
from bright_tether.core.strength.by_case import judged_by_case
from bright_tether.core.strength.kendall import kendall
from bright_tether.core.strength.pearson import pearson
from bright_tether.core.strength.spearman import spearman


class Looked(msgspec.Struct, frozen=True, kw_only=True, eq=False):
    """Two columns by place, over the pairs complete in both; None where there is no value.

    p_holm : p adjusted for all that were looked at (Holm 1979). false_share : the share of false finds that is
    expected among those with a p as small (Benjamini & Hochberg 1995).
    """

    first: int
    second: int
    n: int
    value: float | None
    ci: Interval | None
    p: float | None
    p_holm: float | None = None
    false_share: float | None = None


def screen(
    columns: Sequence[Floats],
    couples: Sequence[tuple[int, int]],
    coefficient: str,
    *,
    kept: Bools | None,
    set_aside: Bools | None,
    alpha: float,
    alternative: Alternative,
    level: float,
    cases: Ints | None = None,
    progress: Callable[[int], bool] = lambda done: True,
) -> tuple[Looked, ...]:
    """A coefficient for each couple of columns, pairwise complete, and p adjusted over all of them.

    columns : (rows,) each. couples : places of two columns. coefficient : pearson, spearman or kendall.
    cases : (rows,) codes from 0, where cases decide; −1 leaves a row out.
    progress is told how many are done and returns whether to go on; what is not done is left out.
    """
    rules: dict[str, Any] = {"alpha": alpha, "alternative": alternative, "level": level}
    found: list[Looked] = []
    if cases is not None:
        kept = cases >= 0 if kept is None else kept & (cases >= 0)
    for done, (first, second) in enumerate(couples, 1):
        pairs = take_pairs(columns[first], columns[second], set_aside=set_aside, kept=kept)
        value, ci, p = coefficient_of(pairs, coefficient, **rules)
        mine = None if cases is None or value is None else np.unique(cases[pairs.at], return_inverse=True)[1]
        if mine is not None and mine.max() + 1 < mine.size:
            judged = judged_by_case(
                coefficient, pairs, fit_line(pairs), mine, alternative=alternative, level=level
            )
            ci, p = judged.ci, judged.p
        found.append(Looked(first=first, second=second, n=pairs.n, value=value, ci=ci, p=p))
        if done % 20 == 0 and not progress(done):
            break
    return adjusted(found)


def every_two(many: int) -> list[tuple[int, int]]:
    """The places of every two of so many columns, each two once."""
    return [(first, second) for second in range(many) for first in range(second)]


def looked_at(found: Sequence[Looked]) -> int:
    """How many couples there was something to see in; an exact line has no p and counts all the same."""
    return sum(one.value is not None for one in found)


def coefficient_of(
    pairs: Pairs, coefficient: str, **rules: Any
) -> tuple[float | None, Interval | None, float | None]:
    """pearson, spearman or kendall of some pairs, its interval and its p; None where these do not exist."""
    try:
        if coefficient == "pearson":
            r = pearson(fit_line(pairs), **rules)
            return r.r, r.ci, r.p
        if coefficient == "spearman":
            rho = spearman(pairs, **rules)
            return rho.rho, rho.ci, rho.p
        tau = kendall(pairs, **rules)
    except Refusal:
        return None, None, None
    return tau.tau_b, tau.ci, tau.p


def adjusted(found: Sequence[Looked]) -> tuple[Looked, ...]:
    """The same with p adjusted for their number; those without a p are not counted."""
    at = [place for place, one in enumerate(found) if one.p is not None]
    p = np.array([found[place].p for place in at], float)
    both = dict(zip(at, zip(holm(p).tolist(), false_shares(p).tolist(), strict=True), strict=True))
    none = (None, None)
    return tuple(
        replace(one, p_holm=both.get(place, none)[0], false_share=both.get(place, none)[1])
        for place, one in enumerate(found)
    )


def false_shares(p: Floats) -> Floats:
    """The least share of false finds at which each would be among the finds, (m,).

    Source: Benjamini & Hochberg 1995, as adjusted p.
    """
    order = np.argsort(p, kind="stable")[::-1]
    ranks = np.arange(p.size, 0, -1)
    stepped = np.minimum.accumulate(p[order] * p.size / ranks)
    shares = np.empty(p.size)
    shares[order] = np.minimum(stepped, 1.0)
    return shares
