"""Texts from the data on their way into a page: without control marks, right-to-left names set apart."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Iterable

from bright_tether.study.study import Study

_NOT_TEXT = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ud800-\udfff\ufffe\uffff]")
_APART, _END = "\u2068", "\u2069"
_TURNERS = frozenset(("R", "AL", "RLE", "RLO", "RLI", "LRE", "LRO", "LRI", "FSI", "PDF", "PDI"))
#: Marks that turn the direction of all that follows; a name must not carry them out of itself.
_TURNING = re.compile("[\u202a-\u202e\u2066-\u2069\u200e\u200f]")


def told_plainly(names: Iterable[str]) -> Callable[[object], str]:
    """A function that makes a text fit for any page.

    names : of columns, tables, groups; those with right-to-left letters are isolated wherever they stand.
    """
    turned = sorted({name for name in names if name and _turns(name)}, key=len, reverse=True)
    pattern = re.compile("|".join(map(re.escape, turned))) if turned else None

    def plainly(text: object) -> str:
        words = str(text)
        if pattern is None:
            return _NOT_TEXT.sub("", words)
        return _NOT_TEXT.sub("", pattern.sub(lambda m: f"{_APART}{_TURNING.sub('', m[0])}{_END}", words))

    return plainly


def names_in(study: Study) -> set[str]:
    """Everything in a study that carries a name of the analyst's."""
    names = {study.title, *(table.name for table in study.tables)}
    for table in study.tables:
        for column in table.columns:
            names |= {column.name, column.short}
            if column.kind in ("category", "text", "label"):
                names |= {str(cell) for cell in set(column.cells[:2000].tolist()) if cell}
    for tether in study.tethers:
        names |= {tether.one_row, *tether.asides.reasons}
    return {name for name in names if name}


def _turns(name: str) -> bool:
    return any(unicodedata.bidirectional(letter) in _TURNERS for letter in name)
