"""What pictures and every step share of a tether: its points, its columns in figures, what the line refuses."""

from __future__ import annotations

import numpy as np

from bright_tether.core.compare.groups import Parts
from bright_tether.core.line.plain import checked
from bright_tether.core.once import once
from bright_tether.core.pairs import Pairs, require
from bright_tether.core.results import Floats, Refusal
from bright_tether.core.summary import ColumnSummary, summarise
from bright_tether.far.through import WHERE_IT_IS, Through
from bright_tether.live.cloud import Cloud, cloud, drawable
from bright_tether.live.one_column import OneColumn, one_column
from bright_tether.study.declared import given, result
from bright_tether.study.in_play import InPlay, NothingTied, NotNumbers
from bright_tether.study.memory import Memory
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Cells, Column

__all__ = ["Basis", "BeyondPictures", "NotNumbers", "NothingTied"]


class BeyondPictures(Refusal):
    """Values of such a size that no picture can put them on a page. name : the column's header."""

    def __init__(self, name: str, largest: float) -> None:
        super().__init__(name, largest)
        self.name, self.largest = name, largest


def _x_summary(pairs: Pairs) -> ColumnSummary:
    """x of the pairs in figures. Raises TooFewPairs where there is none."""
    require(pairs, 1)
    return summarise(pairs.x, pairs.centred_x, pairs.ordered_x)


def _y_summary(pairs: Pairs) -> ColumnSummary:
    """y of the pairs in figures. Raises TooFewPairs where there is none."""
    require(pairs, 1)
    return summarise(pairs.y, pairs.centred_y)


class Basis(InPlay):
    """One tether of one study, as every step needs it."""

    def __init__(
        self, study: Study, tether: Tether, memory: Memory | None = None, *, needed: tuple[str, ...] = (),
        through: Through = WHERE_IT_IS,
    ) -> None:  # fmt: skip
        """through : who goes through the whole of a table of which the study has a share."""
        super().__init__(study, tether, memory, needed=needed)
        self.through = through

    @once
    def tint_column(self) -> Column | None:
        """The column that tints the points, if any."""
        tint = self.tether.tint
        return self.table.column(tint) if tint and self.table.has(tint) else None

    @given
    def tint_cells(self) -> Cells | None:
        """What tints the points, (rows,)."""
        return self.tint_column.cells if self.tint_column else None

    @once
    def grouping(self) -> Column | None:
        """The column whose groups are told of beside the whole: the tint, else what is compared."""
        compared = self.tether.compare.group
        if self.tint_column is not None and self.tint_column.kind == "category":
            return self.tint_column
        return self.table.column(compared) if compared and self.table.has(compared) else None

    @given
    def grouping_cells(self) -> Cells | Parts | None:
        """Its cells, (rows,)."""
        return self.grouping.cells if self.grouping else None

    points = result(cloud, InPlay.x_cells, InPlay.y_cells, InPlay.row_ids, InPlay.aside_rows, tint_cells,
                    InPlay.kept, InPlay.unweighted)  # fmt: skip
    drawable = result(drawable, InPlay.x_cells, InPlay.y_cells)
    x_summary = result(_x_summary, InPlay.pairs)
    y_summary = result(_y_summary, InPlay.pairs)

    @given
    def cloud(self) -> Cloud | None:
        """The points that pictures show, None while x and y are not numbers that can be drawn."""
        return self.points if self.numbers_tied and self.drawable else None

    def without_number(self, column: Column) -> int:
        """How many rows of the table have no number in a column."""
        return int(np.count_nonzero(~np.isfinite(column.numbers)))

    @property
    def numbers_tied(self) -> bool:
        """Whether x and y are both chosen, and both hold numbers."""
        return self.tied and self.x_column.numeric and self.y_column.numeric

    def by_itself(self, column_id: str) -> OneColumn:
        """A column as an axis has it, its rows in play: of x and y those of the pairs. The last one is kept."""
        column = self.measured(self.table.column(column_id))
        tied = column_id in (self.tether.x, self.tether.y) and self.numbers_tied
        return self.memory.keep(
            (self.owner, "by itself"), one_column, column.cells, self.counted.at if tied else None,
            self.kept, self.row_ids, self.aside_rows, self.cloud,
        )  # fmt: skip

    @once
    def usable(self) -> bool:
        """Whether all that every step asks of the line is there; steps say more. Raises Refusal."""
        return True

    @property
    def refusal(self) -> Refusal | None:
        """Why there is no line that every step can use, or None where there is one."""
        try:
            require(self.pairs, 3)
            if not self.drawable:
                raise beyond_pictures(self.x_column, self.y_column)
            checked(self.plain), checked(self.fit), self.usable
        except Refusal as refusal:
            return refusal
        return None


def beyond_pictures(*columns: Column) -> BeyondPictures:
    """Which column is to blame, and its number that lies furthest out."""
    sizes: list[tuple[float, str, float]] = []
    for column in columns:
        finite: Floats = np.abs(column.cells[np.isfinite(column.cells) & (column.cells != 0)])
        if finite.size:
            power = np.log10(finite)
            sizes.append((float(np.abs(power).max()), column.name, float(finite[np.abs(power).argmax()])))
    _, name, value = max(sizes)
    return BeyondPictures(name, value)
