"""What stands beside a column: how many cells are filled, and a picture where there is something to see."""

import numpy as np
import pytest

from bright_tether.live.notes import notes_of
from bright_tether.study.memory import Memory
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table


@pytest.mark.parametrize(("cells", "counts"), [
    ([1.0, 2.0], 2), ([1.0, np.nan, 2.0], 2), ([3.0, 3.0, 3.0], None), ([4.0], None), ([np.nan], None),
])  # fmt: skip
def test_two_different_values_are_enough_for_a_picture(cells, counts):
    column = Column(id="c", name="c", kind="number", cells=np.array(cells))
    table = Table(id="t1", name="t", columns=(column,), row_ids=np.arange(len(cells)))
    picture = notes_of(Memory(), table, "c", frozenset()).picture
    assert (picture and picture[0].counts.sum()) == counts
