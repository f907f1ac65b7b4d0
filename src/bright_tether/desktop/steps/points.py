"""What the hand does in a picture of points, told to the session."""

from __future__ import annotations

from bright_tether.desktop.session import Session
from bright_tether.pictures.scatter import ScatterPicture
from bright_tether.study import cell_changes
from bright_tether.study.edits import Edit
from bright_tether.tables.cells import Cell
from bright_tether.tables.clock import SECONDS, as_written, moment_of


def connect_points(picture: ScatterPicture, session: Session) -> None:
    """Marks go to the session; a moved point is a preview until it is let go, then one edit."""

    def edit(row: int, x: float, y: float) -> Edit | None:
        tether = session.tether
        table = session.history.study.table(tether.table)
        at = int(table.places([row])[0]) + 1
        cells: dict[tuple[int, str], Cell] = {}
        for axis, value in (("x", x), ("y", y)):
            clock = getattr(session.findings, f"{axis}_column").clock
            there = value if clock is None else as_written(moment_of(value, clock), SECONDS["minutes"])
            cells[row, getattr(tether, axis) or ""] = there
        return cell_changes.set_cells(
            session.history.study, tether.table, cells, f"Move the point of row {at}"
        )

    picture.mark_changed.connect(session.mark_rows)
    picture.point_moving.connect(lambda row, x, y: session.preview(edit(row, x, y), moving=True))
    picture.point_moved.connect(lambda row, x, y: session.do(edit(row, x, y)))
    picture.move_given_up.connect(lambda: session.preview(None))
