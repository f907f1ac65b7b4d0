"""What the hand does in a picture of points, told to the session."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from bright_tether.desktop.session import Session
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.study import cell_changes
from bright_tether.study.edits import Edit
from bright_tether.study.study import Study
from bright_tether.tables.cells import Cell
from bright_tether.tables.clock import SECONDS, as_written, moment_of

P = TypeVar("P", bound=ScatterPicture)


def connect_points(picture: P, session: Session) -> P:
    """The picture; its marks go to the session; a moved point is a preview until it is let go, then one edit."""

    def moved(row: int, x: float, y: float) -> Callable[[Study], Edit | None]:
        tether = session.tether
        cells: dict[tuple[int, str], Cell] = {}
        for axis, value in (("x", x), ("y", y)):
            clock = getattr(session.findings, f"{axis}_column").clock
            there = value if clock is None else as_written(moment_of(value, clock), SECONDS["minutes"])
            cells[row, getattr(tether, axis) or ""] = there

        def make(study: Study) -> Edit | None:
            at = next(iter(study.table(tether.table).places([row]).tolist()))
            return cell_changes.set_cells(study, tether.table, cells, f"Move the point of row {at + 1}")

        return make

    def show(row: int, x: float, y: float) -> None:
        session.preview(moved(row, x, y)(session.history.study), moving=True)

    picture.mark_changed.connect(session.mark_rows)
    picture.point_moving.connect(show)
    picture.point_moved.connect(lambda row, x, y: session.do_made(moved(row, x, y)))
    picture.move_given_up.connect(lambda: session.preview(None))
    return picture
