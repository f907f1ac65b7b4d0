"""The edits an analyst makes on whole rows."""

from __future__ import annotations

from collections.abc import Collection, Iterable

import numpy as np

from bright_tether.study.edits import ChangeTether, Edit, OrderRows, PutRows, Several
from bright_tether.study.study import Study


def add_rows(study: Study, table_id: str, count: int, at: int | None = None) -> PutRows:
    """Blank rows, at the end or at a position."""
    table = study.table(table_id)
    start = table.rows if at is None else at
    fresh = tuple(table.fresh_row_ids(count).tolist())
    return PutRows(
        label=f"Add {count} rows" if count > 1 else "Add a row",
        table=table_id,
        at=tuple(range(start, start + count)),
        row_ids=fresh,
        cells=((None,) * count,) * len(table.columns),
        by_hand=() if table.source is None else fresh,
    )


def delete_rows(study: Study, table_id: str, rows: Iterable[int]) -> Edit:
    """Take rows out, by row id; what was said of them when they were set aside goes with them."""
    table = study.table(table_id)
    at = table.places(rows).tolist()
    label = f"Delete {len(at)} rows" if len(at) > 1 else f"Delete row {at[0] + 1}"
    gone, by_hand = table.row_ids[at].tolist(), table.by_hand
    out = PutRows(
        label=label,
        table=table_id,
        at=tuple(at),
        row_ids=tuple(gone),
        cells=table.cells_at(at),
        put_in=False,
        by_hand=tuple(row for row in gone if row in by_hand),
    )
    forgotten = forget_asides(study, table_id, set(gone), label)
    return Several(label=label, edits=(*forgotten, out)) if forgotten else out


def forget_asides(study: Study, table_id: str, rows: Collection[int], label: str) -> list[ChangeTether]:
    """Drop these rows from what the table's tethers set aside, so that no new row inherits a reason."""
    return [
        ChangeTether(label=label, before=tether, after=tether.without_asides(rows))
        for tether in study.tethers
        if tether.table == table_id and tether.asides.row_ids & rows
    ]


def move_rows(study: Study, table_id: str, rows: Iterable[int], steps: int) -> Edit | None:
    """Move rows, by row id, up (below 0) or down among their fellows; together they stay as they stand."""
    table = study.table(table_id)
    at = table.places(rows)
    if not at.size:
        return None
    others = np.delete(np.arange(table.rows), at)
    first = int(np.clip(at[0] + steps, 0, others.size))
    order = np.insert(others, first, at)
    label = f"Move {at.size} rows" if at.size > 1 else f"Move row {at[0] + 1}"
    return _in_order(table_id, order, label)


def sort_rows(study: Study, table_id: str, column_id: str, *, falling: bool) -> Edit | None:
    """Put the rows in the order of a column for good; every row keeps its marks and reasons."""
    table = study.table(table_id)
    label = f"Sort the rows by {table.column(column_id).short}, {'falling' if falling else 'rising'}"
    return _in_order(table_id, table.order_by(column_id, falling=falling), label)


def _in_order(table_id: str, order: np.ndarray, label: str) -> Edit | None:
    if np.array_equal(order, np.arange(order.size)):
        return None
    return OrderRows(label=label, table=table_id, order=order)
