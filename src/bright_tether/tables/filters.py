"""Which rows of a table a tether looks at, as conditions that can be read."""

from __future__ import annotations

from typing import Literal

import msgspec
import numpy as np

from bright_tether.tables.cells import as_number
from bright_tether.tables.clock import moments, period
from bright_tether.tables.texts import Texts

Relation = Literal["is", "is not", "between", "from", "until", "has"]


class Condition(msgspec.Struct, frozen=True, kw_only=True):
    """One condition on one column.

    is, is not: any of ``texts``. between, from, until: numbers ``low``, ``high``, or dates in ``texts``.
    has: the text stands somewhere in the cell, whatever its case.
    """

    column: str
    relation: Relation
    texts: tuple[str, ...] = ()
    low: float | None = None
    high: float | None = None


def kept_rows(conditions: tuple[Condition, ...], columns: tuple[np.ndarray, ...]) -> np.ndarray | None:
    """Which rows meet every condition, (rows,) bool; None where there is no condition.

    columns : the cells that each condition is about, (rows,). A row without a value there does not meet it.
    """
    if not conditions:
        return None
    kept = np.ones(columns[0].size, bool)
    for condition, cells in zip(conditions, columns, strict=True):
        kept &= _met(cells, condition)
    return kept


def _met(cells: np.ndarray, condition: Condition) -> np.ndarray:
    if isinstance(cells, Texts):  # alike texts are asked about once
        return cells.by_word(lambda words: _met(words.astype(object), condition))
    if cells.dtype != object:
        return _met_by_number(cells, condition)
    texts = cells
    match condition.relation:
        case "is":
            return np.isin(texts, condition.texts)
        case "is not":
            return ~np.isin(texts, condition.texts)
        case "has":
            wanted = condition.texts[0].lower() if condition.texts else ""
            return np.fromiter((wanted in str(text).lower() for text in texts), bool, texts.size)
    first, last = (*condition.texts, "", "")[:2]
    low = first if condition.relation in ("between", "from") else ""
    high = last if condition.relation == "between" else first if condition.relation == "until" else "\uffff"
    start, end = period(low)[0] if low else -np.inf, period(high)[1] if high != "\uffff" else np.inf
    if not np.isnan([start, end]).any():
        times = moments(texts)
        with np.errstate(invalid="ignore"):
            return (times >= start) & (times < end)
    return np.fromiter((bool(t) and low <= t <= high + "\uffff" for t in texts), bool, texts.size)


def _met_by_number(values: np.ndarray, condition: Condition) -> np.ndarray:
    low = -np.inf if condition.low is None else condition.low
    high = np.inf if condition.high is None else condition.high
    match condition.relation:
        case "is" | "is not":
            # a text that is no number was chosen while the column held texts: no number is it
            numbers = [n for n in map(as_number, condition.texts) if n is not None]
            same = np.isin(values, numbers)
            return same if condition.relation == "is" else ~same & np.isfinite(values)
        case "from":
            return values >= low
        case "until":
            return values <= high
    with np.errstate(invalid="ignore"):
        return (values >= low) & (values <= high)
