"""Results of the steps that ask how strongly two columns go together."""

from __future__ import annotations

from functools import cached_property

import numpy as np

from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import Pairs, take_pairs
from bright_tether.core.resampling.permutation import Permutation, permutation
from bright_tether.core.results import Refusal
from bright_tether.core.strength.agreement import Agreement, agreement
from bright_tether.core.strength.critical import CriticalTable, critical_table
from bright_tether.core.strength.every_pair import Cell, every_pair
from bright_tether.core.strength.kendall import Kendall, kendall
from bright_tether.core.strength.pearson import Covariance, Pearson, covariance, pearson
from bright_tether.core.strength.reversal import Reversal, reversal
from bright_tether.core.strength.row_by_row import (
    Comparisons,
    Products,
    RankRows,
    comparisons,
    products,
    rank_rows,
)
from bright_tether.core.strength.spearman import Spearman, spearman
from bright_tether.core.strength.within import WithinGroups, within_groups
from bright_tether.live.basis import Basis
from bright_tether.tables.column import Column

#: Columns that the grid of all pairs takes in.
MOST_COLUMNS = 12


class StrengthResults(Basis):
    """Coefficients, agreement, and what they are worked out from."""

    @cached_property
    def covariance(self) -> Covariance:
        """Covariance of x and y."""
        return self._keep("covariance", covariance, self.pairs)

    @cached_property
    def pearson(self) -> Pearson:
        """Pearson's r."""
        return self._tested("pearson", pearson, self.plain)

    @cached_property
    def spearman(self) -> Spearman:
        """Spearman's ρ."""
        return self._tested("spearman", spearman, self.pairs)

    @cached_property
    def kendall(self) -> Kendall:
        """Kendall's τ."""
        return self._tested("kendall", kendall, self.pairs)

    @cached_property
    def agreement(self) -> Agreement:
        """Agreement of x and y, for two columns in one unit."""
        return self._keep("agreement", agreement, self.pairs, self.rules.level)

    @cached_property
    def within_groups(self) -> WithinGroups | None:
        """r inside the groups of the tint, None without one."""
        tint = self.tint_column
        if tint is None:
            return None
        return self._keep("within", _within, self.pairs, tint.cells)

    @cached_property
    def products(self) -> Products:
        """r row by row."""
        return self._keep("products", products, self.pairs)

    def rank_rows(self, highest_first: bool) -> RankRows:
        """ρ row by row."""
        return self._keep(f"ranks {highest_first}", rank_rows, self.pairs, highest_first=highest_first)

    @cached_property
    def comparisons(self) -> Comparisons:
        """τ row by row. Raises TooManyPairs."""
        return self._keep("comparisons", comparisons, self.pairs)

    @cached_property
    def reversal(self) -> Reversal | None:
        """A run of rows that goes against the rest."""
        return self._keep("reversal", reversal, self.pairs)

    @cached_property
    def critical_table(self) -> CriticalTable:
        """Critical values around the present n."""
        rules = self.rules
        return self._keep("critical", critical_table, self.plain.n, rules.alpha, rules.alternative)

    def without(self, places: np.ndarray) -> tuple[float | None, float | None]:
        """r and ρ of the pairs less these places."""
        kept = np.ones(self.pairs.n, bool)
        kept[places] = False
        rest = take_pairs(self.pairs.x[kept], self.pairs.y[kept])
        rules = {"alpha": self.rules.alpha, "alternative": self.rules.alternative, "level": self.rules.level}
        try:
            return pearson(fit_line(rest), **rules).r, spearman(rest, **rules).rho
        except Refusal:
            return None, None

    def permutation(self, shuffles: int, seed: int, progress=lambda done: True) -> Permutation:
        """r against what luck gives: kept by whoever asks, since it may be stopped."""
        return permutation(self.pairs, shuffles, seed, alternative=self.rules.alternative, progress=progress)

    @cached_property
    def number_columns(self) -> tuple[Column, ...]:
        """The columns of numbers of the table, as far as the grid takes them in."""
        return tuple(column for column in self.table.columns if column.numeric)[:MOST_COLUMNS]

    def every_pair(self, coefficient: str) -> tuple[Cell, ...]:
        """The coefficient for every two columns of numbers, pairwise complete."""
        asides = np.array([aside.row for aside in self.tether.asides], np.int64)
        rules = self.rules

        def make(name, kept, row_ids, asides_told, alpha, alternative, level, *cells):
            out = np.isin(row_ids, asides) if asides.size else None
            return every_pair(
                cells, name, kept=kept, set_aside=out, alpha=alpha, alternative=alternative, level=level
            )

        return self._keep(
            f"grid {coefficient}",
            make,
            coefficient,
            self.kept,
            self.table.row_ids,
            tuple(asides.tolist()),
            rules.alpha,
            rules.alternative,
            rules.level,
            *(column.cells for column in self.number_columns),
        )


def _within(pairs: Pairs, cells: np.ndarray) -> WithinGroups:
    return within_groups(pairs, [str(cell) for cell in cells[pairs.at].tolist()])
