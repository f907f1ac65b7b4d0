"""What a column can be worked out from: an expression over other columns, or a seeded draw."""

from __future__ import annotations

from typing import Literal

import msgspec

DrawKind = Literal["uniform", "normal", "whole", "evenly", "steps", "running", "line", "category"]


class Expression(msgspec.Struct, frozen=True, tag="expression"):
    """A typed expression. columns : the id behind each name that stands in the text."""

    text: str
    columns: dict[str, str]


class Draw(msgspec.Struct, frozen=True, tag="draw", kw_only=True):
    """Random cells from a stated seed.

    uniform: from a to b. normal: mean a, sd b. whole: whole numbers a to b. evenly: a to b in even
    steps, in random order. running: running total of normal steps, mean a, sd b.
    line: a + b·x + noise of sd c, x being another column's id. steps: a, a + b, a + 2·b, …, each c times,
    in order. category: any of the names, each as likely.
    """

    kind: DrawKind
    seed: int
    a: float = 0.0
    b: float = 1.0
    c: float = 1.0
    x: str | None = None
    names: tuple[str, ...] = ()


RowFigure = Literal["residual", "fitted", "leverage", "standardised", "studentised", "cooks_d"]


class OfTether(msgspec.Struct, frozen=True, tag="of tether"):
    """What a tether's line says of each row. tether : its id. what : which figure."""

    tether: str
    what: RowFigure


class FromOthers(msgspec.Struct, frozen=True, tag="from others"):
    """Cells of other tables, in a table that is made of them. of : by table id, the column; none says which table."""

    of: dict[str, str]


Formula = Expression | Draw | OfTether | FromOthers
#: What is not worked out from the table that it stands in.
ELSEWHERE = (OfTether, FromOthers)
