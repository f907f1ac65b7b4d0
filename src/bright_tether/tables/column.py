"""A named column of cells."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from typing import Any, Literal, cast

import msgspec
import numpy as np
from numpy.typing import NDArray

from bright_tether.tables.cells import (
    EITHER,
    Cell,
    NumberStyle,
    hardly_any,
    is_missing,
    kept_text,
    number_cell,
)
from bright_tether.tables.clock import ORDERS, Clock, DateOrder, Floats, canonical, moments, order_told
from bright_tether.tables.formula import Formula, FromOthers
from bright_tether.tables.texts import Texts, coded, coded_by, listed

#: Cells of any column, (rows,): float64, or texts, which read like an array of str.
Cells = NDArray[Any]
RowIds = Sequence[int] | NDArray[np.int64]
Kind = Literal["number", "category", "date", "text", "label"]
#: Up to this many rows a typed column's kind is guessed again; with fewer filled cells, alike or not, short
#: texts are categories; a text of up to this many characters can name a case.
TYPED_ROWS, _FEW, _SHORT = 1000, 5, 24
_UNIT = re.compile(r"[(\[]([^()\[\]]*)[)\]]\s*$")


class Column(msgspec.Struct, frozen=True, eq=False, kw_only=True, dict=True):
    """One column: its header as it is, its kind, its cells.

    cells : (rows,), float64 with NaN for no number in a number column, else texts with "" for missing.
    strays : texts standing in a number column, by row id; they are kept and count as missing.
    formula : what the cells are worked out from, None where they were measured.
    low, high : the values the column can take at all, None where there is no limit.
    guessed : whether the kind follows what is typed; not of a file's columns, nor once it is set by hand.
    dates : which of day and month comes first where that is written otherwise than year first. Dates are kept
    year first, so that each is one day to whoever reads it; a text among them is kept and counts as missing.
    clock : of a date as an axis shows it, how its numbers are measured; never of a column in a table.
    A label column names cases; it never counts as numbers.
    """

    id: str
    name: str
    kind: Kind
    cells: Cells
    strays: dict[int, str] = {}
    formula: Formula | None = None
    low: float | None = None
    high: float | None = None
    guessed: bool = False
    dates: DateOrder | None = None
    clock: Clock | None = None

    def __post_init__(self) -> None:
        if isinstance(self.cells, np.ndarray) and self.cells.dtype.kind in "OU":
            msgspec.structs.force_setattr(self, "cells", coded(self.cells))

    @property
    def texts(self) -> Texts:
        """The cells of a column that holds no numbers."""
        return cast(Texts, self.cells)

    @property
    def unit(self) -> str | None:
        """What stands in the last () or [] of the header."""
        found = _UNIT.search(self.name)
        return (found.group(1).strip() or None) if found else None

    @property
    def short(self) -> str:
        """The header without its unit."""
        return _UNIT.sub("", self.name).strip() or self.name

    @property
    def numeric(self) -> bool:
        """Whether the column holds numbers."""
        return self.kind == "number"

    @property
    def measured(self) -> bool:
        """Whether the cells were written down, here or in another table, and not worked out."""
        return self.formula is None or isinstance(self.formula, FromOthers)

    @property
    def numbers(self) -> np.ndarray:
        """(rows,) float64; all NaN in a column that holds no numbers."""
        return self.cells if self.numeric else np.full(self.cells.size, np.nan)

    @property
    def read_already(self) -> bool:
        """Whether it is known, or seen at a glance, what the cells are put in order by."""
        return self.numeric or "along" in self.__dict__

    @property
    def counted(self) -> bool:
        """Whether it is known how many cells hold no value."""
        return "missing" in self.__dict__

    @property
    def missing(self) -> int:
        """How many cells hold no value: blanks, and texts among numbers. Worked out once."""
        if not self.counted:
            gaps = self.cells == "" if self.kind not in ("number", "date") else np.isnan(self.along)
            self.__dict__["missing"] = int(np.count_nonzero(gaps))
        found: int = self.__dict__["missing"]
        return found

    @property
    def along(self) -> Floats:
        """(rows,) what the cells are put in order by: numbers, moments of dates in seconds, ranks of texts.

        NaN where nothing stands. Worked out once.
        """
        if self.numeric:
            return self.cells
        if "along" not in self.__dict__:
            self.__dict__["along"] = self._order()
        found: Floats = self.__dict__["along"]
        return found

    def _order(self) -> Floats:
        if self.kind == "date":
            return moments(self.cells)
        ranks = self.texts.ranks
        ranks[self.texts.words == ""] = np.nan
        return ranks[self.texts.codes]

    def cell(self, at: int, row_id: int) -> Cell:
        """The cell at a position: a number, a text, or None where nothing stands."""
        value = self.cells[at]
        if not self.numeric:
            return value or None
        return self.strays.get(row_id) if np.isnan(value) else float(value)

    def written(self, at: np.ndarray, row_ids: np.ndarray) -> list[str]:
        """The cells at these positions as they would be typed. row_ids : (n,) of these rows."""
        if not self.numeric:
            return list(self.texts[at])
        numbers = self.cells[at].tolist()
        if not self.strays:
            return [shown(None if number != number else number) for number in numbers]
        return [
            self.strays.get(row, "") if number != number else shown(number)
            for number, row in zip(numbers, row_ids.tolist(), strict=True)
        ]

    def at_or_blank(self, at: np.ndarray) -> Cells:
        """(n,) the cells of these places, none where one is below 0."""
        if not self.numeric:
            return cast(Cells, self.texts.at_or_blank(at))
        found = self.cells[at] if self.cells.size else np.full(at.size, np.nan)
        found[at < 0] = np.nan
        return found

    def read(self, text: str) -> Cell:
        """What a typed text means in this column."""
        if self.numeric:
            return number_cell(text)
        if self.kind == "date":
            return self._dated(text) or None
        return kept_text(text) or None

    def _dated(self, text: str) -> str:
        """A date as it is kept; a text that is none, or that could be two days, as it stands."""
        kept = kept_text(text)
        orders = (self.dates,) if self.dates else ORDERS
        found = {canonical(kept, order) for order in orders}
        return (found.pop() or kept) if len(found) == 1 else kept

    def with_cells(self, at: Sequence[int], row_ids: Sequence[int], cells: Sequence[Cell]) -> Column:
        """The column with these cells in these places."""
        if not self.numeric:
            return self._with_texts(at, row_ids, [shown(cell) for cell in cells])
        values, strays = self.cells.copy(), dict(self.strays)
        for place, row_id, cell in zip(at, row_ids, cells, strict=True):
            strays.pop(row_id, None)
            if isinstance(cell, str):
                values[place] = np.nan
                strays[row_id] = cell
            else:
                values[place] = np.nan if cell is None else cell
        return msgspec.structs.replace(self, cells=values, strays=strays)

    def _with_texts(self, at: Sequence[int], row_ids: Sequence[int], texts: Sequence[str]) -> Column:
        cells = cast(Cells, self.texts.with_texts(at, texts))
        strays = {row: text for row, text in self.strays.items() if row not in set(row_ids)}
        changed = msgspec.structs.replace(self, cells=cells, strays=strays)
        if self.kind == "date" and self.read_already:  # of a million dates only these are read anew
            along = self.along.copy()
            along[list(at)] = moments(cells[list(at)])
            changed.__dict__["along"] = along
        return changed

    def of_kind(self, kind: Kind, row_ids: np.ndarray) -> Column:
        """The same cells read as another kind; nothing that was typed is lost.

        row_ids : (rows,), the table's.
        """
        if kind == "date" and self.kind != "date" and not self.numeric:
            return self.with_dates(self.dates)
        if self.numeric == (kind == "number"):
            return msgspec.structs.replace(self, kind=kind)
        if kind != "number":
            texts = cast(Cells, self.as_texts(row_ids))
            written = msgspec.structs.replace(self, kind="text", cells=texts, strays={})
            return written.of_kind(kind, row_ids)
        read = [number_cell(word) for word in listed(self.texts.words)]
        values = np.array([cell if isinstance(cell, float) else np.nan for cell in read], float)
        stray = np.array([isinstance(cell, str) for cell in read], bool)[self.texts.codes]
        strays = {int(row_ids[at]): str(read[self.texts.codes[at]]) for at in np.flatnonzero(stray).tolist()}
        return msgspec.structs.replace(self, kind=kind, cells=values[self.texts.codes], strays=strays)

    def as_texts(self, row_ids: np.ndarray) -> Texts:
        """Every cell as it would be typed, alike ones once. row_ids : (rows,), the table's."""
        if not self.numeric:
            return self.texts
        numbers, codes = np.unique(self.cells, return_inverse=True)
        texts = coded_by([shown(None if number != number else number) for number in numbers.tolist()], codes)
        if not self.strays:
            return texts
        blanks = np.flatnonzero(np.isnan(self.cells)).tolist()
        held = [(at, text) for at in blanks if (text := self.strays.get(int(row_ids[at]))) is not None]
        return texts.with_texts([at for at, _ in held], [text for _, text in held])

    def with_dates(self, order: DateOrder | None) -> Column:
        """The texts read as dates, by this order of day and month or by the one that they tell themselves."""
        words = self.texts.words.tolist()
        filled = [text for text in self.texts.different if not is_missing(text)]
        days_first = order_told(filled)
        dated = msgspec.structs.replace(
            self, kind="date", dates=order or (days_first if days_first in ORDERS else None)
        )
        kept = {text: dated._dated(text) for text in filled}
        cells = coded_by([kept.get(word, word) for word in words], self.texts.codes)
        return msgspec.structs.replace(dated, cells=cast(Cells, cells))

    def guessed_again(self, row_ids: np.ndarray) -> Column:
        """The column as the kind that its cells look like now; a long one stays as it is.

        One number makes a column of numbers: a name or a note typed above it stays as a stray.
        """
        if not self.guessed or self.formula is not None or row_ids.size > TYPED_ROWS:
            return self
        texts = [shown(self.cell(at, row_id)) for at, row_id in enumerate(row_ids.tolist())]
        filled = [text for text in texts if not is_missing(text)]
        if not filled or any(isinstance(number_cell(text), float) for text in filled):
            kind: Kind = "number"
        else:
            kind = _kind_of(list(dict.fromkeys(filled)), len(filled), self.dates)
            if kind in ("label", "text") and len(filled) < _FEW and max(map(len, filled)) <= _SHORT:
                kind = "category"  # too few to say that no two will be alike
        return self if kind == self.kind else self.of_kind(kind, row_ids)

    def without_rows(self, at: np.ndarray, row_ids: Iterable[int]) -> Column:
        """The column with these positions gone, which are the rows with these ids."""
        strays = self.strays
        if strays:
            gone = set(row_ids)
            strays = {row: text for row, text in strays.items() if row not in gone}
        cells = np.delete(self.cells, at) if self.numeric else cast(Cells, self.texts.without(at))
        return msgspec.structs.replace(self, cells=cells, strays=strays)

    def with_blanks(self, at: np.ndarray) -> Column:
        """The column with blank cells put in so that they stand at these positions."""
        before = at - np.arange(at.size)
        if not self.numeric:
            return msgspec.structs.replace(self, cells=cast(Cells, self.texts.with_blanks(before)))
        return msgspec.structs.replace(self, cells=np.insert(self.cells, before, np.nan))


_LABEL_NAME = re.compile(r"(.*[\W_])?(id|nr|no|number|code|label|case|sample|bottle|reach)", re.IGNORECASE)


def looks_like_label(name: str, filled: Sequence[str]) -> bool:
    """Whether a column of whole numbers only tells cases apart: by its name, and no number twice."""
    whole = all(text.strip().isdigit() for text in filled)
    return whole and _LABEL_NAME.fullmatch(name.strip()) is not None and len(set(filled)) == len(filled)


def _kind_of(words: Sequence[str], number: int, dates: DateOrder | None = None) -> Kind:
    """The kind of so many filled cells with these different texts. dates : how they are written, where it was said.

    Dates of which day and month cannot be told apart are no dates before that is said.
    """
    order = order_told(words)
    if order in ORDERS or (order and dates):
        return "date"
    distinct = len(words)
    if 1 < distinct <= max(2, min(30, number // 2)) and distinct < number:
        return "category"
    return "label" if distinct == number > 1 and max(map(len, words)) <= _SHORT else "text"


def blank_column(column_id: str, name: str, kind: Kind, rows: int, *, guessed: bool = False) -> Column:
    """A column of this kind with nothing in it."""
    cells = np.full(rows, np.nan) if kind == "number" else np.full(rows, "", dtype=object)
    return Column(id=column_id, name=name, kind=kind, cells=cells, guessed=guessed)


def shown(cell: Cell) -> str:
    """A cell as text: the shortest that reads back to the same number."""
    if cell is None:
        return ""
    if isinstance(cell, str):
        return cell
    return str(int(cell)) if abs(cell) < 1e15 and cell == int(cell) else repr(cell)


def column_of_texts(
    column_id: str, name: str, texts: Iterable[str], row_ids: RowIds, style: NumberStyle = EITHER,
    dates: DateOrder | None = None,
) -> Column:  # fmt: skip
    """A column from raw texts, its kind guessed. row_ids : (rows,)."""
    known: dict[str, int] = {}
    codes = np.fromiter((known.setdefault(text, len(known)) for text in texts), np.int64, len(row_ids))
    return column_of_words(column_id, name, list(known), codes, row_ids, style, dates)


def column_of_words(
    column_id: str, name: str, words: Sequence[str], codes: np.ndarray, row_ids: RowIds,
    style: NumberStyle = EITHER, dates: DateOrder | None = None,
) -> Column:  # fmt: skip
    """A column from different raw texts and which of them stands in each row, (rows,), its kind guessed.

    Numbers when four in five of the filled cells are; the rest stay as strays. What is alike is read once.
    """
    counts = np.bincount(codes, minlength=len(words))
    filled = [at for at, word in enumerate(words) if not is_missing(word)]
    number, once = int(counts[filled].sum()), bool((counts[filled] == 1).all())
    cells = _mostly_numbers(words, filled, counts.tolist(), number, style)
    kept = [words[at] for at in filled]
    as_texts = [kept_text(word) for word in words]
    if filled and cells is not None:
        if once and looks_like_label(name, kept):
            return Column(id=column_id, name=name, kind="label", cells=cast(Cells, coded_by(as_texts, codes)))
        values = np.array([cell if isinstance(cell, float) else np.nan for cell in cells], float)
        stray = np.array([isinstance(cell, str) for cell in cells], bool)
        places = np.flatnonzero(stray[codes])
        strays = {int(row_ids[at]): str(cells[codes[at]]) for at in places.tolist()}
        return Column(id=column_id, name=name, kind="number", cells=values[codes], strays=strays)
    kind = _kind_of(kept, number, dates)
    if kind == "date":
        order = dates or order_told(kept)
        blank = Column(
            id=column_id,
            name=name,
            kind=kind,
            cells=np.empty(0, object),
            dates=order if order in ORDERS else None,
        )
        dated = coded_by([blank._dated(word) for word in as_texts], codes)
        return msgspec.structs.replace(blank, cells=cast(Cells, dated))
    return Column(id=column_id, name=name, kind=kind, cells=cast(Cells, coded_by(as_texts, codes)))


def _mostly_numbers(
    words: Sequence[str], filled: Sequence[int], counts: Sequence[int], number: int, style: NumberStyle
) -> list[Cell] | None:
    """Every word read as a number, where four in five of so many filled cells are one; else None, at once."""
    if number <= 2 * len(filled) and hardly_any(
        [words[at] for at in filled], lambda word: isinstance(number_cell(word, style), float)
    ):
        return None
    left = number
    found: list[Cell] = [None] * len(words)
    for at in filled:
        found[at] = number_cell(words[at], style)
        if not isinstance(found[at], float):
            left -= counts[at]
            if left < 0.8 * number:
                return None
    return found
