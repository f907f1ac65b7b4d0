"""The working row by row of many rows: the line below is whole, and only the rows in view are looked at."""

import numpy as np
import pytest
from PyQt6.QtGui import QFontMetrics, QGuiApplication

from bright_tether.desktop.parts.listing import ListingModel
from hand import click, named

ROWS = 3_000


@pytest.fixture
def window(open_window, csv_file, qtbot):
    x = np.random.default_rng(9).normal(50, 9, ROWS)
    rows = "".join(f"B-{at:04},{one:.2f},{one + at % 9:.2f}\n" for at, one in enumerate(x.tolist()))
    window = open_window(csv_file("bottle,x,y\n" + rows))
    window.session.show_step("strength")
    qtbot.waitUntil(lambda: not window.session.busy, timeout=10_000)
    return window


@pytest.mark.parametrize("kind", ["r", "ρ"])
def test_the_line_below_many_rows_is_whole(window, qtbot, monkeypatch, kind):
    asked, before = set(), ListingModel.data

    def data(self, index, role=0):
        asked.add(index.row())
        return before(self, index, role)

    monkeypatch.setattr(ListingModel, "data", data)
    window.step("strength").show_view("row-by-row")
    qtbot.waitUntil(lambda: not window.session.busy, timeout=10_000)
    click(named(window, f"Row by row: {kind}"))
    table = named(window, "Working row by row")
    bold = QGuiApplication.font()
    bold.setBold(True)
    last = table.model().rowCount() - 1
    assert last == ROWS
    assert len(asked) < 200
    for at in range(table.model().columnCount()):
        words = before(table.model(), table.model().index(last, at))
        assert QFontMetrics(bold).horizontalAdvance(words) <= table.columnWidth(at)
    listing = table.model().listing
    at = listing.heads.index("bottle") if "bottle" in listing.heads else 0
    assert listing.text(7, at) in ("B-0007", "8")
    assert listing.copied().splitlines()[8].split("\t")[at] in ("B-0007", "8")
