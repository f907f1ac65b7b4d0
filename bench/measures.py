"""What is measured, against what."""

from __future__ import annotations

import subprocess
import sys
import time
from pathlib import Path

import numpy as np

from bench.ratios import Ratio, compare

_HERE = Path(__file__).parent


def start() -> Ratio:
    """Process start to the first painted window: the demo, against a bare window with the same points."""

    def run(script: str) -> float:
        began = time.perf_counter()
        subprocess.run([sys.executable, _HERE / script], check=True, stdout=subprocess.DEVNULL)
        return time.perf_counter() - began

    return compare("start", 1.5, lambda: run("start_ours.py"), lambda: run("start_bare.py"), 7)


def analyse_million() -> Ratio:
    """Sections 1 to 4 for a million pairs, against SciPy's linregress and pearsonr."""
    from scipy import stats

    from bright_tether.live.findings import Findings

    draw = np.random.default_rng(1)
    x = draw.normal(10, 2, 1_000_000)
    y = 3 + 0.5 * x + draw.normal(0, 1, x.size)
    study = _study(x, y)

    def ours() -> None:
        found = Findings(study, study.tethers[0])
        _ = found.x_summary, found.y_summary, found.covariance, found.pearson, found.line, found.rows

    def theirs() -> None:
        stats.linregress(x, y)
        stats.pearsonr(x, y)

    return compare("analyse-1e6", 2, ours, theirs, 7)


def edit_ten_thousand() -> Ratio:
    """One cell edit to everything updated, against one redraw of the same scatter."""
    import pyqtgraph as pg
    from PyQt6.QtWidgets import QApplication

    from bright_tether.desktop.session import Session
    from bright_tether.desktop.theme import Theme
    from bright_tether.desktop.window import Window
    from bright_tether.study import changes

    app = QApplication.instance() or QApplication([])
    draw = np.random.default_rng(2)
    x = draw.normal(10, 2, 10_000)
    y = 3 + 0.5 * x + draw.normal(0, 1, x.size)
    session = Session(_study(x, y), step="Line")
    window = Window(session, Theme(app))
    window.show()
    plain = pg.PlotWidget()
    scatter = pg.ScatterPlotItem(x, y, size=8, brush="#12687a")
    plain.addItem(scatter)
    plain.resize(window.steps["Line"].picture.size())
    plain.show()
    for _ in range(20):
        app.processEvents()
    turn = iter(range(10**6))

    def ours() -> None:
        value = 10 + (next(turn) % 100) / 100
        session.do(changes.set_cells(session.history.study, "t1", {(17, "c1"): value}))
        _paint(window, app)

    def theirs() -> None:
        x[17] = 10 + (next(turn) % 100) / 100
        scatter.setData(x, y)
        _paint(plain, app)

    try:
        return compare("edit-1e4", 3, ours, theirs, 15)
    finally:
        window.close()
        plain.close()


def _paint(widget, app) -> None:
    widget.repaint()
    app.processEvents()


def _study(x: np.ndarray, y: np.ndarray):
    from bright_tether.study.study import Study
    from bright_tether.study.tether import Tether
    from bright_tether.tables.column import Column
    from bright_tether.tables.table import Table

    columns = tuple(
        Column(id=f"c{i + 1}", name=name, kind="number", cells=cells)
        for i, (name, cells) in enumerate({"x": x.copy(), "y": y.copy()}.items())
    )
    table = Table(id="t1", name="pairs", columns=columns, row_ids=np.arange(x.size))
    return Study(tables=(table,), tethers=(Tether(id="k1", table="t1", x="c1", y="c2", chosen=True),))


MEASURES = {"start": start, "analyse-1e6": analyse_million, "edit-1e4": edit_ten_thousand}
