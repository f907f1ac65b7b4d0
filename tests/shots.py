"""Take the pictures in docs/screenshots again, from the demo study: ``./tether shots``."""

from __future__ import annotations

import sys
from pathlib import Path

from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from bright_tether.desktop.start import build

FOLDER = Path(__file__).parent.parent / "docs" / "screenshots"


def gather(window) -> None:
    """The table with both axes tied."""
    window.session.show_step("Gather")


def line(window) -> None:
    """The fitted line."""
    window.session.show_step("Line")


def aside(window) -> None:
    """Marked rows, the drawer, and what setting them aside would change."""
    window.session.show_step("Line")
    window.drawer.toggle()
    rows = window.session.findings.rows
    worst = int(abs(rows.studentised).argmax())
    window.session.mark_rows(frozenset({int(window.session.table.row_ids[rows.row[worst] - 1])}))
    window.drawer.ask_reason()


SHOTS = {"gather": gather, "line": line, "set-aside": aside}


def main(wanted: list[str]) -> int:
    """Take the named pictures, or all."""
    app = QApplication.instance() or QApplication([])
    FOLDER.mkdir(parents=True, exist_ok=True)
    for name, arrange in SHOTS.items():
        if wanted and name not in wanted:
            continue
        window = build(app, ["--demo"])
        window.show()
        QTest.qWait(200)
        arrange(window)
        QTest.qWait(300)
        window.grab().save(str(FOLDER / f"{name}.png"))
        window.close()
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
