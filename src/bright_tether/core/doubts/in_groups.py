"""What doubts about one line for all come to with a line for each group."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bright_tether.core.checks.together import checks
from bright_tether.core.doubts.verdicts import p_of
from bright_tether.core.line.held import fit_held
from bright_tether.core.line.longer import LongerFit, longer_line
from bright_tether.core.line.row_by_row import RowByRow
from bright_tether.core.pairs import Pairs
from bright_tether.core.results import Ints, Refusal

#: Doubts about all rows together that groups can bring about.
BY_GROUPS = ("bend", "spread", "order", "shape")
#: So many groups at most, each with so many rows at least, among which x varies.
MOST_GROUPS, LEAST_ROWS = 12, 3


def p_in_groups(
    names: Sequence[str], pairs: Pairs, codes: Ints, order: Ints | None, alpha: float
) -> dict[str, float | None]:
    """The p of each of these doubts beside a line for each group; nothing where some group has none.

    pairs : without weights. codes : (n,), the group of each pair. order : as the checks take it.
    """
    lines = _own_lines(pairs, codes)
    if lines is None:
        return {}
    judged = (lines, checks(lines, order), RowByRow(lines), order, alpha)
    return {name: p_of(name, *judged) for name in names}


def _own_lines(pairs: Pairs, codes: Ints) -> LongerFit | None:
    groups = np.unique(codes)
    mine = [codes == one for one in groups]
    if not 2 <= groups.size <= MOST_GROUPS:
        return None
    if any(rows.sum() < LEAST_ROWS or np.ptp(pairs.x[rows]) == 0 for rows in mine):
        return None
    away = pairs.x - pairs.x.mean()
    heights = [rows.astype(float) for rows in mine[1:]]
    try:
        return longer_line(fit_held(pairs, [*heights, *(one * away for one in heights)]))
    except Refusal:
        return None
