"""Rows in play, and rows as they are named."""

from __future__ import annotations

from collections.abc import Set
from typing import ClassVar

from bright_tether.claims.claim import Claim, NamedRow
from bright_tether.core.order import places_in
from bright_tether.core.results import Ints
from bright_tether.live.findings import Findings
from bright_tether.tables.row_ids import RowIds


class RowsClaim(Claim, frozen=True, kw_only=True):
    """Every row of the table accounted for."""

    kind: ClassVar[str] = "rows"
    n: int
    missing: int
    set_aside: int
    filtered_out: int
    zero_weight: int
    rows: int


class ChoiceClaim(Claim, frozen=True, kw_only=True):
    """Something that was chosen, or not yet, and that the reader must know of. what : a code; value : the choice."""

    kind: ClassVar[str] = "choice"
    what: str
    value: str = ""


class RefusalClaim(Claim, frozen=True, kw_only=True):
    """Why there is nothing to say. what : the kind of refusal."""

    kind: ClassVar[str] = "refusal"
    what: str


def rows_claim(findings: Findings) -> RowsClaim:
    """The rows in play and why the others are not."""
    pairs = findings.counted
    return RowsClaim(n=pairs.n, missing=pairs.missing, set_aside=pairs.set_aside, rows=pairs.rows,
                     filtered_out=pairs.filtered_out, zero_weight=pairs.zero_weight)  # fmt: skip


def named_rows(findings: Findings, places: Ints) -> tuple[NamedRow, ...]:
    """These places among the pairs as rows of the table."""
    label = findings.table.label_column
    return tuple(
        NamedRow(row=at + 1, label=str(label.cells[at]) if label else "")
        for at in findings.pairs.at[places].tolist()
    )


def row_ids(findings: Findings, places: Ints) -> RowIds:
    """The ids of these places among the pairs."""
    return RowIds(findings.table.row_ids[findings.pairs.at[places]])


def places_of(findings: Findings, rows: Set[int]) -> Ints:
    """Where rows, by id, stand among the pairs."""
    return places_in(findings.pairs.at, findings.table.places(rows))
