"""What is measured, against what."""

from __future__ import annotations

import subprocess
import sys
import time
from datetime import date
from pathlib import Path

import msgspec
import numpy as np

from bench.drag import drag_few
from bench.explain import choices_two_thousand, held_million
from bench.far import far_agree, far_hundred_million
from bench.ratios import Ratio, compare
from bench.studies import study_of
from bench.window import memory_window_million, settle_million, window_million
from bright_tether.study.memory import Memory

_HERE = Path(__file__).parent


def start() -> Ratio:
    """Process start to the first painted window: the demo, against a bare window with the same points."""

    def run(script: str) -> float:
        began = time.perf_counter()
        subprocess.run([sys.executable, _HERE / script], check=True, stdout=subprocess.DEVNULL)
        return time.perf_counter() - began

    return compare("start", 1.3, lambda: run("start_ours.py"), lambda: run("start_bare.py"), 7)


def analyse_million() -> Ratio:
    """Sections 1 to 4 for a million pairs, against SciPy's linregress and pearsonr."""
    from scipy import stats

    from bright_tether.core.line.row_by_row import EACH_ROW
    from bright_tether.live.findings import Findings

    draw = np.random.default_rng(1)
    x = draw.normal(10, 2, 1_000_000)
    y = 3 + 0.5 * x + draw.normal(0, 1, x.size)
    study = study_of(x, y)

    def ours() -> None:
        found = Findings(study, study.tethers[0], Memory())
        _ = found.x_summary, found.y_summary, found.covariance, found.pearson, found.line
        _ = found.rows.together(*EACH_ROW), found.rows.outlier_p

    def theirs() -> None:
        stats.linregress(x, y)
        stats.pearsonr(x, y)

    return compare("analyse-1e6", 2, ours, theirs, 7)


def edit_ten_thousand() -> Ratio:
    """One cell edit to everything updated, against one redraw of the same scatter."""
    import pyqtgraph as pg
    from PyQt6.QtWidgets import QApplication

    from bright_tether.desktop.session import Session
    from bright_tether.desktop.theming import Theme
    from bright_tether.desktop.window import Window
    from bright_tether.study import cell_changes

    app = QApplication.instance() or QApplication([])
    draw = np.random.default_rng(2)
    x = draw.normal(10, 2, 10_000)
    y = 3 + 0.5 * x + draw.normal(0, 1, x.size)
    session = Session(study_of(x, y), step="line")
    window = Window(session, Theme(app))
    window.show()
    plain = pg.PlotWidget()
    scatter = pg.ScatterPlotItem(x, y, size=8, brush="#12687a")
    plain.addItem(scatter)
    plain.resize(window.steps["line"].picture.size())
    plain.show()
    for _ in range(20):
        app.processEvents()
    turn = iter(range(10**6))

    def ours() -> None:
        value = 10 + (next(turn) % 100) / 100
        session.do(cell_changes.set_cells(session.history.study, "t1", {(17, "c1"): value}))
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


def _million_file(folder: Path) -> Path:
    from bright_tether.demo.make_survey import million

    path = folder / "million.csv"
    million(path)
    return path


def open_million() -> Ratio:
    """Opening a CSV of a million rows and six columns, against pandas.read_csv of the same file."""
    import tempfile

    import pandas as pd

    from bright_tether.tables.read_plan import read_file

    with tempfile.TemporaryDirectory() as folder:
        path = _million_file(Path(folder))
        return compare("open-1e6", 1.5, lambda: read_file(path), lambda: pd.read_csv(path), 5)


def memory_open_million() -> Ratio:
    """Peak memory added by opening that file, in megabytes, against the size of its columns."""
    import tempfile

    with tempfile.TemporaryDirectory() as folder:
        path = _million_file(Path(folder))
        told = subprocess.run(
            [sys.executable, _HERE / "memory_open.py", path], check=True, capture_output=True, text=True
        ).stdout.split()
    added, size = map(float, told)
    return Ratio("memory-open-1e6", added / size, 4, added, size)


def save_million() -> Ratio:
    """Saving it as a study, against DataFrame.to_csv of the same columns."""
    import tempfile

    import pandas as pd

    from bright_tether.study.package import save_study
    from bright_tether.study.study import Study
    from bright_tether.study.table_changes import first_tether
    from bright_tether.tables.read_plan import read_file

    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        table = read_file(_million_file(folder))
        study = Study(tables=(table,), tethers=(first_tether(table, "k1"),))
        frame = pd.DataFrame({column.name: column.cells for column in table.columns})
        ours = lambda: save_study(study, folder / "s.tether")  # noqa: E731
        return compare("save-1e6", 1.5, ours, lambda: frame.to_csv(folder / "f.csv", index=False), 2)


def scroll_million() -> Ratio:
    """One page of scrolling in a table of a million rows, against one of a thousand."""
    from PyQt6.QtWidgets import QApplication

    from bright_tether.desktop.grid import Grid
    from bright_tether.desktop.session import Session
    from bright_tether.desktop.theming import Theme

    app = QApplication.instance() or QApplication([])
    theme, draw, grids, sessions = Theme(app), np.random.default_rng(3), [], []
    for rows in (1_000_000, 1_000):
        x = np.round(draw.normal(10, 2, rows), 3)
        session = Session(study_of(x, x + 1))
        grid = Grid(session, theme.tokens)
        grid.resize(700, 500)
        grid.show()
        sessions.append(session)
        grids.append(grid)
    for _ in range(20):
        app.processEvents()

    def page(grid) -> None:
        bar = grid.verticalScrollBar()
        bar.setValue((bar.value() + bar.pageStep()) % max(bar.maximum(), 1))
        _paint(grid.viewport(), app)

    try:
        return compare("scroll-1e6", 1.5, lambda: page(grids[0]), lambda: page(grids[1]), 25)
    finally:
        for session, grid in zip(sessions, grids, strict=True):
            session.close()
            grid.close()


def association_million() -> Ratio:
    """r, ρ and τ of a million pairs, against SciPy's three."""
    from scipy import stats

    from bright_tether.core.line.plain import fit_line
    from bright_tether.core.pairs import take_pairs
    from bright_tether.core.strength.kendall import kendall
    from bright_tether.core.strength.pearson import pearson
    from bright_tether.core.strength.spearman import spearman

    draw = np.random.default_rng(4)
    x = draw.normal(10, 2, 1_000_000)
    y = 3 + 0.5 * x + draw.normal(0, 1, x.size)
    rules = {"alpha": 0.05, "alternative": "two-sided", "level": 0.95}

    def ours() -> None:
        pairs = take_pairs(x, y)
        pearson(fit_line(pairs), **rules)
        spearman(pairs, **rules)
        kendall(pairs, **rules)

    def theirs() -> None:
        stats.pearsonr(x, y)
        stats.spearmanr(x, y)
        stats.kendalltau(x, y)

    return compare("association-1e6", 1, ours, theirs, 5)


def permutation_ten_thousand() -> Ratio:
    """10 000 permutations of r at n = 1 000, against SciPy's permutation_test with a vectorised r."""
    from scipy import stats

    from bright_tether.core.pairs import take_pairs
    from bright_tether.core.resampling.permutation import permutation

    draw = np.random.default_rng(5)
    x, y = draw.normal(size=(2, 1000))
    pairs = take_pairs(x, y)

    def r(a, b, axis):
        a, b = (v - v.mean(axis=axis, keepdims=True) for v in (a, b))
        return (a * b).sum(axis=axis) / np.sqrt((a * a).sum(axis=axis) * (b * b).sum(axis=axis))

    def theirs() -> None:
        stats.permutation_test((x, y), r, permutation_type="pairings", n_resamples=10_000, vectorized=True)

    return compare("permutation-1e4", 0.5, lambda: permutation(pairs, 10_000, 1), theirs, 3)


def bootstrap_ten_thousand() -> Ratio:
    """10 000 resamples of the slope at n = 1 000, against SciPy's bootstrap with a vectorised slope."""
    from scipy import stats

    from bright_tether.core.line.plain import fit_line
    from bright_tether.core.pairs import take_pairs
    from bright_tether.core.resampling.bootstrap import bootstrap

    draw = np.random.default_rng(6)
    x, y = draw.normal(size=(2, 1000))
    fit = fit_line(take_pairs(x, y))

    def slope(a, b, axis):
        a, b = (v - v.mean(axis=axis, keepdims=True) for v in (a, b))
        return (a * b).sum(axis=axis) / (a * a).sum(axis=axis)

    ours = lambda: bootstrap(fit, 10_000, 1, level=0.95)  # noqa: E731
    theirs = lambda: stats.bootstrap((x, y), slope, paired=True, vectorized=True, n_resamples=10_000)  # noqa: E731
    return compare("bootstrap-1e4", 0.2, ours, theirs, 3)


def rehearse_ten_thousand() -> Ratio:
    """10 000 rehearsals at n = 100 with the pile drawn as it grows, against a plain loop over polyfit."""
    from PyQt6.QtWidgets import QApplication

    from bright_tether.core.rehearse.draws import draw_samples
    from bright_tether.core.rehearse.sampling import sampling
    from bright_tether.desktop.session import Session
    from bright_tether.desktop.theming import Theme
    from bright_tether.desktop.window import Window

    app = QApplication.instance() or QApplication([])
    draw = np.random.default_rng(12)
    x = draw.normal(10, 2, 100)
    y = 3 + 0.5 * x + draw.normal(0, 1, x.size)
    session = Session(study_of(x, y), step="rehearse")
    window = Window(session, Theme(app))
    window.show()
    stage = window.step("rehearse")
    truth, seen = session.findings.truth, [0.0]

    def look(so_far) -> bool:
        """As often as the screen does."""
        now = time.perf_counter()
        if now - seen[0] > 0.04:
            seen[0] = now
            stage.samples.draw_pile(session.findings, so_far, sampling(so_far, "slope", level=0.95), None)
            app.processEvents()
        return True

    def ours() -> None:
        seen[0] = 0.0
        draw_samples(truth, 10_000, 1, watch=look)

    def theirs() -> None:
        again = np.random.default_rng(1)
        slope, height = truth.slope, truth.intercept
        for _ in range(10_000):
            np.polyfit(x, height + slope * x + again.normal(0, truth.sd, 100), 1)

    while stage.work.busy:
        app.processEvents()
    try:
        return compare("rehearse-1e4", 0.02, ours, theirs, 3)
    finally:
        window.close()


def report_html() -> Ratio:
    """The demo study to HTML with its pictures, against working its results out."""
    import tempfile

    from bright_tether.account.composing import page_of
    from bright_tether.account.export import export
    from bright_tether.demo.study import demo_study
    from bright_tether.live.findings import Findings
    from bright_tether.pictures.press import press_alone
    from bright_tether.steps.step import EVERYWHERE

    study = demo_study()
    press_alone()

    def ours() -> None:
        with tempfile.TemporaryDirectory() as folder:
            fresh, press = msgspec.structs.replace(study, memory=Memory()), press_alone()
            export(page_of(fresh, press, today=date.today()), fresh, Path(folder) / "account.html", press)

    def theirs() -> None:
        for tether in study.tethers:
            found = Findings(study, tether, Memory())
            found.prepare(EVERYWHERE)
            _ = found.checks, found.doubts

    return compare("report-html", 10, ours, theirs, 5)


def checks_million() -> Ratio:
    """Sections 3 to 5 of a million pairs, against one least-squares solution of the same design."""
    from bright_tether.core.line.row_by_row import EACH_ROW
    from bright_tether.live.findings import Findings

    draw = np.random.default_rng(8)
    x = draw.normal(10, 2, 1_000_000)
    y = 3 + 0.5 * x + draw.normal(0, 1, x.size)
    study = study_of(x, y)

    def ours() -> None:
        found = Findings(study, study.tethers[0], Memory())
        _ = found.line, found.rows.together(*EACH_ROW), found.rows.outlier_p, found.checks

    design = np.stack((np.ones(x.size), x), axis=1)
    return compare("checks-1e6", 4, ours, lambda: np.linalg.lstsq(design, y, rcond=None), 5)


def theil_sen_ten_thousand() -> Ratio:
    """The resistant line of 10 000 pairs, against SciPy's theilslopes."""
    from scipy import stats

    from bright_tether.core.line.theil_sen import theil_sen
    from bright_tether.core.pairs import take_pairs

    draw = np.random.default_rng(9)
    x = draw.normal(size=10_000)
    y = x + draw.normal(size=x.size)
    ours = lambda: theil_sen(take_pairs(x, y), level=0.95)  # noqa: E731
    return compare("theil-sen-1e4", 0.05, ours, lambda: stats.theilslopes(y, x, method="joint"), 2)


def forecast_million() -> Ratio:
    """A million forecasts from one line, against the bare expression of both intervals."""
    from scipy import special

    from bright_tether.core.forecast import forecast
    from bright_tether.core.line.plain import fit_line
    from bright_tether.core.pairs import take_pairs

    draw = np.random.default_rng(10)
    x = draw.normal(10, 2, 100)
    y = x + draw.normal(size=100)
    fit, at = fit_line(take_pairs(x, y)), draw.normal(10, 2, 1_000_000)
    slope, height = np.polyfit(x, y, 1)
    mean, sxx = x.mean(), np.sum((x - x.mean()) ** 2)
    s = np.sqrt(np.sum((y - height - slope * x) ** 2) / 98)
    t = special.stdtrit(98, 0.975)

    def theirs() -> None:
        fitted = height + slope * at
        leverage = 1 / 100 + (at - mean) ** 2 / sxx
        ci, pi = t * s * np.sqrt(leverage), t * s * np.sqrt(1 + leverage)
        _ = fitted - ci, fitted + ci, fitted - pi, fitted + pi

    return compare("forecast-1e6", 1.5, lambda: forecast(fit, at, level=0.95), theirs, 7)


def drag_board() -> Ratio:
    """One step of dragging a point with the board live at n = 1 000, against redrawing its pictures."""
    from PyQt6.QtWidgets import QApplication

    from bright_tether.desktop.session import Session
    from bright_tether.desktop.theming import Theme
    from bright_tether.desktop.window import Window
    from bright_tether.study import cell_changes

    app = QApplication.instance() or QApplication([])
    draw = np.random.default_rng(11)
    x = draw.normal(10, 2, 1_000)
    session = Session(study_of(x, x + draw.normal(size=x.size)), step="doubts")
    window = Window(session, Theme(app))
    window.show()
    for _ in range(20):
        app.processEvents()
    turn = iter(range(10**6))
    cards = window.steps["doubts"].cards.values()

    def ours() -> None:
        value = 10 + (next(turn) % 100) / 50
        session.preview(cell_changes.set_cells(session.history.study, "t1", {(17, "c2"): value}), moving=True)
        _paint(window, app)

    def theirs() -> None:
        for card in cards:
            card.plot.update()
        _paint(window, app)

    try:
        return compare("drag-board", 2, ours, theirs, 15)
    finally:
        window.close()


def drag_mark() -> Ratio:
    """Dragging the forecast mark by one step at 100 000 points, against one redraw of the same scatter."""
    import pyqtgraph as pg
    from PyQt6.QtWidgets import QApplication

    from bright_tether.desktop.theming import Theme
    from bright_tether.live.findings import Findings
    from bright_tether.pictures.forecast import ForecastPicture
    from bright_tether.study import changes
    from bright_tether.study.memory import Memory

    app = QApplication.instance() or QApplication([])
    theme, draw, memory = Theme(app), np.random.default_rng(12), Memory()
    x = draw.normal(10, 2, 100_000)
    y = x + draw.normal(size=x.size)
    study = study_of(x, y)
    picture = ForecastPicture(theme.tokens, theme.font, "forecast")
    plain = pg.PlotWidget()
    scatter = pg.ScatterPlotItem(x, y, size=8, brush="#12687a")
    plain.addItem(scatter)
    for widget in (picture, plain):
        widget.resize(640, 560)
        widget.show()
    picture.draw(Findings(study, study.tethers[0], memory), frozenset())
    for _ in range(10):
        app.processEvents()
    turn = iter(range(10**6))

    def ours() -> None:
        at = (9 + (next(turn) % 50) / 25,)
        edit = changes.change_choice(study, study.tethers[0], "forecast", "move", at=at)
        after = edit.apply(study)
        picture.draw(Findings(after, after.tethers[0], memory), frozenset())
        _paint(picture.viewport(), app)

    def theirs() -> None:
        scatter.setData(x, y)
        _paint(plain.viewport(), app)

    try:
        return compare("drag-mark-1e5", 0.5, ours, theirs, 9)
    finally:
        picture.close()
        plain.close()


def pan_million() -> Ratio:
    """Panning a million points by one step, against a plain scatter of them."""
    import pyqtgraph as pg
    from PyQt6.QtWidgets import QApplication

    from bright_tether.desktop.theming import Theme
    from bright_tether.live.findings import Findings
    from bright_tether.pictures.scatter_view import LookPicture

    app = QApplication.instance() or QApplication([])
    theme = Theme(app)
    draw = np.random.default_rng(7)
    x = draw.normal(10, 2, 1_000_000)
    y = x + draw.normal(0, 1, x.size)
    study = study_of(x, y)
    picture = LookPicture(theme.tokens, theme.font, "many points")
    plain = pg.PlotWidget()
    plain.addItem(pg.ScatterPlotItem(x, y, size=8, brush="#12687a", pen=None))
    for widget in (picture, plain):
        widget.resize(640, 560)
        widget.show()
    picture.draw(Findings(study, study.tethers[0]), frozenset())
    for _ in range(10):
        app.processEvents()
    turn = iter(range(10**6))

    def pan(view, widget) -> None:
        view.translateBy(x=0.05 if next(turn) % 2 else -0.05)
        _paint(widget.viewport(), app)

    ours, theirs = picture.main.getViewBox(), plain.getViewBox()
    theirs.disableAutoRange()
    try:
        return compare("pan-1e6", 0.2, lambda: pan(ours, picture), lambda: pan(theirs, plain), 5)
    finally:
        picture.close()
        plain.close()


def _paint(widget, app) -> None:
    widget.repaint()
    app.processEvents()


MEASURES = {
    "start": start,
    "analyse-1e6": analyse_million,
    "edit-1e4": edit_ten_thousand,
    "open-1e6": open_million,
    "memory-open-1e6": memory_open_million,
    "scroll-1e6": scroll_million,
    "save-1e6": save_million,
    "association-1e6": association_million,
    "pan-1e6": pan_million,
    "permutation-1e4": permutation_ten_thousand,
    "bootstrap-1e4": bootstrap_ten_thousand,
    "rehearse-1e4": rehearse_ten_thousand,
    "report-html": report_html,
    "checks-1e6": checks_million,
    "theil-sen-1e4": theil_sen_ten_thousand,
    "forecast-1e6": forecast_million,
    "drag-board": drag_board,
    "drag-mark-1e5": drag_mark,
    "drag-64": drag_few,
    "held-1e6": held_million,
    "choices-2000": choices_two_thousand,
    "window-1e6": window_million,
    "window-1e6-settle": settle_million,
    "memory-window-1e6": memory_window_million,
    "far-1e8": far_hundred_million,
    "far-agree": far_agree,
}
