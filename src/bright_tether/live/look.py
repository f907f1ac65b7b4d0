"""Results of the step that looks before it computes."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from bright_tether.core.checks.bend import Curvature, curvature
from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import Pairs, take_pairs
from bright_tether.core.shape.clumps import Clumps, clumps
from bright_tether.core.shape.form import Form, form
from bright_tether.core.shape.smooth import Smooth, smooth
from bright_tether.core.strength.within import WithinGroups, within_groups
from bright_tether.live.line import LineResults
from bright_tether.live.strength import StrengthResults
from bright_tether.tables.column import Column

#: A category column is looked into when it has this many groups at most.
MOST_GROUPS = 8
#: Longer tables are not searched for groups that nobody asked for.
MOST_ROWS = 60_000


class LookResults(LineResults, StrengthResults):
    """The form of the scatter and the stories of its groups."""

    @cached_property
    def smooth(self) -> Smooth:
        """The smooth local trend."""
        return self._keep("smooth", smooth, self.pairs)

    @cached_property
    def curvature(self) -> Curvature:
        """The bend of the line."""
        return self._keep("curvature", curvature, self.plain)

    @cached_property
    def clumps(self) -> Clumps:
        """Separate clumps."""
        return self._keep("clumps", clumps, self.pairs)

    @cached_property
    def form(self) -> Form:
        """The form in figures."""
        s, sd = self.plain_s, self.y_summary.sd
        tightness = s / sd if s is not None and sd else None
        return self._keep(
            "form",
            form,
            self.pairs,
            self.plain_rows,
            self.curvature,
            self.clumps,
            tightness,
            self.rules.alpha,
        )

    @cached_property
    def within_clumps(self) -> WithinGroups | None:
        """r inside the clumps, None where there are none."""
        if not self.clumps.count:
            return None
        return self._keep("within clumps", _within_clumps, self.pairs, self.clumps)

    @cached_property
    def within_columns(self) -> tuple[tuple[Column, WithinGroups], ...]:
        """r inside the groups of every category column, the tint first."""
        if self.pairs.n > MOST_ROWS:
            return ()
        told = []
        columns = sorted(self.table.columns, key=lambda column: column.id != self.tether.tint)
        for column in columns:
            if column.kind != "category":
                continue
            names = [str(cell) for cell in column.cells[self.pairs.at].tolist()]
            if 2 <= len(set(names)) <= MOST_GROUPS:
                make = lambda pairs, cells, names=names: within_groups(pairs, names)  # noqa: E731
                told.append((column, self._keep(f"within {column.id}", make, self.pairs, column.cells)))
        return tuple(told)

    @cached_property
    def other_slope(self) -> tuple[float, float] | None:
        """Slope and intercept of x on y, drawn where neither column explains the other."""
        return self._keep("other", _other_line, self.pairs)


def _within_clumps(pairs: Pairs, found: Clumps) -> WithinGroups:
    inside = found.of >= 0
    kept = take_pairs(pairs.x[inside], pairs.y[inside])
    return within_groups(kept, [f"clump {of + 1}" for of in found.of[inside].tolist()])


def _other_line(pairs: Pairs) -> tuple[float, float] | None:
    if pairs.centred_y.constant:
        return None
    turned = fit_line(take_pairs(pairs.y, pairs.x))
    back = float(turned.slope_exact) * 2.0 ** (turned.y.exponent - turned.x.exponent)
    return back, float(np.mean(pairs.x) - back * np.mean(pairs.y))
