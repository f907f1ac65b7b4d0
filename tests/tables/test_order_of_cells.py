"""What cells are put in order by: read once, kept right by every change, in lots where there are many."""

import numpy as np
import pytest

from bright_tether.tables import clock
from bright_tether.tables.column import Column

DATES = [
    "2021-03-04",
    "2021-03-04 10:15",
    "",
    "2020-02-29",
    "2021-W07",
    "2021-05",
    "soon",
    "2021-03-04T10:15Z",
]


def column_of(cells, kind="date"):
    return Column(id="c", name="c", kind=kind, cells=np.array(cells, dtype=object))


@pytest.mark.parametrize("lot", [1, 3, 8])
@pytest.mark.parametrize("texts", [DATES, ["2021-03-04"] * 5, ["2021-02-31", "2021-03-04"], []])
def test_dates_are_read_alike_in_lots_of_any_size(monkeypatch, texts, lot):
    cells = np.array(texts, dtype=object)
    whole = clock.moments(cells)
    monkeypatch.setattr(clock, "_AT_ONCE", lot)
    np.testing.assert_array_equal(clock.moments(cells), whole)


def test_a_change_reads_what_it_changes_and_no_other_date(monkeypatch):
    before = column_of(DATES)
    assert before.missing == 2  # one blank, one that is no date
    read = []
    monkeypatch.setattr(
        "bright_tether.tables.column.moments", lambda cells: read.append(len(cells)) or clock.moments(cells)
    )
    after = before.with_cells([2, 0], [2, 0], ["2022-01-01", "never"])
    assert read == [2]
    np.testing.assert_array_equal(after.along, column_of(after.cells).along)
    assert (after.missing, before.missing) == (2, 2)
    assert np.isnan(after.along[0])
    assert not np.isnan(before.along[0])


def test_texts_are_in_order_of_their_letters_and_blanks_nowhere():
    along = column_of(["weir", "Ford", "", "ford", "weir"], "category").along
    assert along[0] == along[4] > along[3] > along[1]
    assert np.isnan(along[2])
