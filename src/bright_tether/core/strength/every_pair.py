"""A coefficient for every two of several columns."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from bright_tether.core.pairs import take_pairs
from bright_tether.core.results import Alternative, Bools, Floats
from bright_tether.core.strength.screen import coefficient_of


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Cell:
    """Two columns by place: coefficient, pairs complete in both, p; None where there is no value."""

    first: int
    second: int
    value: float | None
    n: int
    p: float | None


def every_pair(
    columns: Sequence[Floats],
    coefficient: str,
    *,
    kept: Bools | None,
    set_aside: Bools | None,
    alpha: float,
    alternative: Alternative,
    level: float,
) -> tuple[Cell, ...]:
    """Every two columns, pairwise complete: rows missing in one count against its own cells only.

    columns : (rows,) each. coefficient : pearson, spearman or kendall.
    Source: quantities §2.
    """
    rules: dict[str, Any] = {"alpha": alpha, "alternative": alternative, "level": level}
    cells = []
    for second in range(len(columns)):
        for first in range(second):
            pairs = take_pairs(columns[first], columns[second], set_aside=set_aside, kept=kept)
            value, _, p = coefficient_of(pairs, coefficient, **rules)
            cells.append(Cell(first=first, second=second, value=value, n=pairs.n, p=p))
    return tuple(cells)
