"""Results of the steps that ask how strongly two columns go together."""

from __future__ import annotations

import numpy as np

from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import Pairs, take_pairs
from bright_tether.core.results import Alternative, Bools, Floats, Ints, Refusal
from bright_tether.core.strength.agreement import Agreement, agreement
from bright_tether.core.strength.bent import Bent, bent, bent_columns
from bright_tether.core.strength.critical import critical_table
from bright_tether.core.strength.kendall import kendall
from bright_tether.core.strength.pair_sums import pair_sums
from bright_tether.core.strength.pearson import covariance, pearson
from bright_tether.core.strength.reversal import reversal
from bright_tether.core.strength.row_by_row import RankRows, comparisons, products, rank_rows
from bright_tether.core.strength.screen import Looked, every_two, screen
from bright_tether.core.strength.spearman import spearman
from bright_tether.live.basis import Basis
from bright_tether.live.by_rules import by_rules
from bright_tether.study.declared import family, given, result
from bright_tether.tables.column import Column

#: Columns that the grid of all pairs takes in.
MOST_COLUMNS = 12


def _ranks(highest_first: bool, pairs: Pairs) -> RankRows:
    """ρ row by row."""
    return rank_rows(pairs, highest_first=highest_first)


def _every_pair(
    coefficient: str, columns: tuple[Floats, ...], kept: Bools | None, row_ids: Ints,
    asides: Ints, alpha: float, alternative: Alternative, level: float,
) -> tuple[Looked, ...]:  # fmt: skip
    """A coefficient for every two columns of numbers, pairwise complete."""
    out = np.isin(row_ids, asides) if asides.size else None
    return screen(columns, every_two(len(columns)), coefficient, kept=kept, set_aside=out, alpha=alpha,
                  alternative=alternative, level=level)  # fmt: skip


def _bent(pairs: Pairs, level: float) -> Bent:
    """r with what lies far out bent inward."""
    return bent(pairs, level=level)


class StrengthResults(Basis):
    """Coefficients, agreement, and what they are worked out from."""

    covariance = result(covariance, Basis.pairs)
    pearson = by_rules(pearson, Basis.plain)
    spearman = by_rules(spearman, Basis.pairs)
    kendall = by_rules(kendall, Basis.pairs)
    agreement = result(agreement, Basis.pairs, Basis.level)

    @given
    def agreement_in_one_unit(self) -> Agreement | None:
        """Agreement of columns in one unit, of which it is told without being asked for; None of others."""
        one = self.x_column.unit and self.x_column.unit == self.y_column.unit
        return self.agreement if one else None

    products = result(products, Basis.pairs)
    rank_rows = family(_ranks, Basis.pairs)
    comparisons = result(comparisons, Basis.pairs)
    reversal = result(reversal, Basis.pairs)

    bent = result(_bent, Basis.pairs, Basis.level)
    bent_columns = result(bent_columns, Basis.pairs)

    @given
    def pairs_in_line(self) -> int:
        """Pairs of the plain line. Raises Refusal."""
        return self.plain.n

    critical_table = result(critical_table, pairs_in_line, Basis.alpha, Basis.alternative)

    @given
    def number_columns(self) -> tuple[Column, ...]:
        """The columns of numbers of the table, as far as the grid takes them in."""
        return tuple(column for column in self.table.columns if column.numeric)[:MOST_COLUMNS]

    @given
    def number_cells(self) -> tuple[Floats, ...]:
        """Their cells, (rows,) each."""
        return tuple(column.cells for column in self.number_columns)

    pair_sums = result(pair_sums, Basis.pairs)
    every_pair = family(_every_pair, number_cells, Basis.kept, Basis.row_ids, Basis.aside_rows, Basis.alpha,
                        Basis.alternative, Basis.level)  # fmt: skip

    def without(self, places: Ints) -> tuple[float | None, float | None]:
        """r and ρ of the pairs less these places."""
        kept = np.ones(self.pairs.n, bool)
        kept[places] = False
        rest = take_pairs(self.pairs.x[kept], self.pairs.y[kept])
        alpha, alternative, level = self.rules.alpha, self.rules.alternative, self.rules.level
        try:
            r = pearson(fit_line(rest), alpha=alpha, alternative=alternative, level=level).r
            return r, spearman(rest, alpha=alpha, alternative=alternative, level=level).rho
        except Refusal:
            return None, None
