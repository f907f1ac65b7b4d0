"""Workings that go row by row, as tables to step through and copy."""

from __future__ import annotations

from collections.abc import Callable

import msgspec
import numpy as np

from bright_tether.live.findings import Findings
from bright_tether.words import digits as d
from bright_tether.words.reading import names_of

_FINE = 7
_LOT = 10_000


class Listing(msgspec.Struct, frozen=True):
    """A table of numbers with a closing line.

    heads : one a column. columns : (n,) arrays each, in the order listed; whole numbers stay whole.
    rows : row ids, (n,). closing : one text a column, for the line below.
    given : how many of the first columns are as typed.
    """

    heads: tuple[str, ...]
    columns: tuple[np.ndarray, ...]
    rows: np.ndarray
    closing: tuple[str, ...]
    given: int

    def text(self, row: int, column: int) -> str:
        """One cell as it is read."""
        value = self.columns[column][row]
        if isinstance(value, str):
            return value
        if isinstance(value, np.integer):
            return d.grouped(int(value))
        if column < self.given:
            return d.entered(float(value))
        return d.figure(float(value), _FINE)

    def copied(self) -> str:
        """The whole table as text with tabs, every digit of it."""
        lines = ["\t".join(self.heads)]
        for first in range(0, len(self.rows), _LOT):  # other threads get their turn between
            part = [map(str, column[first : first + _LOT].tolist()) for column in self.columns]
            lines += map("\t".join, zip(*part, strict=True))
        return "\n".join((*lines, "\t".join(self.closing))) + "\n"


def _start(
    findings: Findings, order: np.ndarray | None = None
) -> tuple[tuple[str, ...], list[np.ndarray], np.ndarray]:
    """order : places among the pairs, (n,); None for table order, in which nothing of them is copied."""
    names, pairs = names_of(findings.x_column, findings.y_column), findings.pairs
    label = findings.table.label_column
    at, x, y = (column if order is None else column[order] for column in (pairs.at, pairs.x, pairs.y))
    heads, columns = ["row"], [at + 1]
    if label is not None:
        heads.append(label.short)
        columns.append(label.texts[at])
    return (*heads, names.x, names.y), [*columns, x, y], findings.table.row_ids[at]


def products_listing(findings: Findings) -> Listing:
    """z-products in table order."""
    products = findings.products
    heads, columns, rows = _start(findings)
    n, r = findings.pairs.n, findings.pearson.r
    blank = ("",) * (len(heads) - 1)
    return Listing(
        (*heads, "z of x", "z of y", "product"),
        (*columns, products.z_x, products.z_y, products.product),
        rows,
        ("sum", *blank, "", f"over {n - 1}: r = {d.coefficient(r, _FINE)}", d.figure(products.total, _FINE)),
        len(heads),
    )


def ranks_listing(findings: Findings, *, highest_first: bool = False) -> Listing:
    """Ranks and their differences in table order."""
    ranks = findings.rank_rows(highest_first)
    heads, columns, rows = _start(findings)
    rho = d.coefficient(findings.spearman.rho, _FINE)
    return Listing(
        (*heads, "rank of x", "rank of y", "difference", "its square"),
        (*columns, ranks.rank_x, ranks.rank_y, ranks.difference, ranks.difference**2),
        rows,
        ("sum", *("",) * (len(heads) - 1), "", "", f"ρ = {rho}", d.figure(ranks.squares, _FINE)),
        len(heads),
    )


def comparisons_listing(findings: Findings) -> Listing:
    """Comparisons of each row with the rows after it, in order of x. Raises TooManyPairs."""
    comparisons = findings.comparisons
    heads, columns, rows = _start(findings, comparisons.order)
    tau = d.coefficient(findings.kendall.tau_b, _FINE)
    sums = [
        d.grouped(int(each.sum()))
        for each in (comparisons.concordant, comparisons.discordant, comparisons.tied)
    ]
    return Listing(
        (*heads, "concordant", "discordant", "tied"),
        (*columns, comparisons.concordant, comparisons.discordant, comparisons.tied),
        rows,
        ("sum", *("",) * (len(heads) - 2), f"τ-b = {tau}", *sums),
        len(heads),
    )


LISTINGS: dict[str, Callable[..., Listing]] = {
    "r": products_listing,
    "ρ": ranks_listing,
    "τ": comparisons_listing,
}
