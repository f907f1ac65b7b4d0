"""One frame of a dragged point: what is worked out and drawn while the hand moves, against drawing alone."""

from __future__ import annotations

from itertools import cycle

import msgspec
import numpy as np

from bench.ratios import Ratio, compare
from bench.studies import study_of
from bright_tether.study.choices import CompareChoice
from bright_tether.study.study import Study
from bright_tether.tables.column import Column

_ROWS = 64


def drags() -> dict[str, Ratio]:
    """Each step: a preview of one changed cell with all on the stage live, against one bare repaint of its pictures."""
    from PyQt6.QtWidgets import QApplication, QWidget

    from bright_tether.desktop.session import Session
    from bright_tether.desktop.theming import Theme
    from bright_tether.desktop.window import Window
    from bright_tether.steps.catalogue import IDS
    from bright_tether.study import cell_changes

    app = QApplication.instance() or QApplication([])
    session = Session(_study(), step=IDS[0])
    window = Window(session, Theme(app))
    window.show()
    values = cycle(np.linspace(8, 12, 41))

    def frame() -> None:
        value = float(next(values))
        session.preview(cell_changes.set_cells(session.history.study, "t1", {(17, "c2"): value}), moving=True)
        app.processEvents()

    found = {}
    try:
        for step in IDS:
            session.show_step(step)
            for _ in range(20):
                app.processEvents()
            shown = tuple(one for one in window.steps[step].findChildren(QWidget) if one.isVisible())

            def repaint(shown: tuple[QWidget, ...] = shown) -> None:
                for one in shown:
                    one.update()
                app.processEvents()

            found[step] = compare(step, 1.5, frame, repaint, 25)
            session.preview(None)
    finally:
        window.close()
    return found


def _study() -> Study:
    """Pairs in two groups, which Compare has a line for each of."""
    draw = np.random.default_rng(14)
    x = draw.normal(10, 2, _ROWS)
    plain = study_of(x, x + draw.normal(size=x.size))
    cells = np.array(["upper", "lower"], dtype=object)[np.arange(_ROWS) % 2]
    site = Column(id="c3", name="site", kind="category", cells=cells)
    table, tether = plain.tables[0], plain.tethers[0]
    return msgspec.structs.replace(
        plain,
        tables=(msgspec.structs.replace(table, columns=(*table.columns, site)),),
        tethers=(msgspec.structs.replace(tether, compare=CompareChoice(group="c3")),),
    )


def drag_few() -> Ratio:
    """The worst step."""
    found = drags()
    for step, one in found.items():
        print(
            f"  {step:<14} {1000 * one.ours_s:6.1f} ms against {1000 * one.theirs_s:6.1f} ms: {one.ratio:.1f}"
        )
    worst = max(found.values(), key=lambda one: one.ratio)
    return Ratio("drag-64", worst.ratio, 1.5, worst.ours_s, worst.theirs_s)
