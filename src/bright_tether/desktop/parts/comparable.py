"""What a line can be compared with: as a list, and as the buttons that Compare begins with."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from functools import partial

import msgspec
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from bright_tether.desktop.parts.widgets import button, emptied, label
from bright_tether.live.findings import Findings
from bright_tether.study.names import tether_name
from bright_tether.words.readings.compare import groups_offered

#: Offers on the first page; the list has them all.
_MOST_OFFERED = 9
#: Rows whose groups are counted for an offer.
_MOST_LOOKED_AT = 20_000


class Offer(msgspec.Struct, frozen=True):
    """One thing to compare with. source : which field of the choice holds the key."""

    source: str
    key: str
    words: str


def offers(findings: Findings) -> tuple[Offer, ...]:
    """The tinted groups, other groups, other responses of the table, other tethers."""
    tether, table = findings.tether, findings.table
    grouping = [
        c for c in table.columns if c.kind in ("category", "text") and len(_groups(findings, c.id)) > 1
    ]
    grouping.sort(key=lambda column: column.id != tether.tint)
    found = [Offer("group", one.id, f"the groups of {one.short}") for one in grouping]
    tied = (tether.x, tether.y)
    responses = [c for c in table.columns if c.numeric and c.id not in tied and c.formula is None]
    responses += [c for c in table.columns if c.numeric and c.id not in tied and c.formula is not None]
    found += [Offer("second", one.id, f"a second response, {one.short}") for one in responses]
    others = [one for one in findings.study.tethers if one.id != tether.id]
    found += [Offer("other", one.id, f"the line {tether_name(findings.study, one)}") for one in others]
    return tuple(found)


def _groups(findings: Findings, column_id: str) -> Counter[str]:
    """How many rows each group has among those in play; among all where there is no line."""
    cells = findings.table.column(column_id).texts
    cells = (
        cells[:_MOST_LOOKED_AT]
        if findings.refusal is not None
        else cells[findings.pairs.at[:_MOST_LOOKED_AT]]
    )
    found: Counter[str] = Counter()
    for text, rows in cells.times().items():
        if text.strip():
            found[text.strip()] += rows
    return found


class FirstOffers(QWidget):
    """The offers as buttons, each with what it would bring."""

    def __init__(self, choose: Callable[[Offer], object]) -> None:
        super().__init__()
        self.setAccessibleName("What this line can be compared with")
        self._choose = choose
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(4, 4, 4, 4)
        self._box.setSpacing(6)

    def show_offers(self, findings: Findings) -> None:
        """Put up what can be compared."""
        emptied(self._box)
        self._box.addWidget(label("What this line can be compared with", "heading"))
        found = offers(findings)
        if not found:
            self._box.addWidget(
                label(
                    "Nothing yet: a column of groups, a second response or another tether is needed.",
                    wrap=True,
                )
            )
        for one in found[:_MOST_OFFERED]:
            more = groups_offered(_groups(findings, one.key)) if one.source == "group" else ""
            words = f"{one.words}: {more}" if more else one.words
            self._box.addWidget(button(words, partial(self._choose, one), "row"))
        if len(found) > _MOST_OFFERED:
            self._box.addWidget(label("and more in the list above", "quiet"))
        self._box.addStretch()
