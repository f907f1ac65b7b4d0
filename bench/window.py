"""How long the window stands still: the longest stop of the interface thread, for a million rows against a thousand."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

from bench.ratios import Ratio

_MANY, _FEW = 1_000_000, 1_000
_QUIET, _LONGEST = 0.3, 120.0


class Watched:
    """A window with a heartbeat; the longest gap between two beats is the stop."""

    def __init__(self) -> None:
        from PyQt6.QtCore import QTimer
        from PyQt6.QtWidgets import QApplication

        from bright_tether.desktop.start import build

        self.app = QApplication.instance() or QApplication([])
        self.window = build(self.app, [])
        self.window.show()
        self._last, self._worst = time.perf_counter(), 0.0
        #: Seconds from the last thing done until all was right again.
        self.settled = 0.0
        self._timer = QTimer()
        self._timer.setInterval(1)
        self._timer.timeout.connect(self._beat)
        self._timer.start()

    def stop_of(self, run: Callable[[], object]) -> float:
        """The longest stop from this call until nothing is worked out any more, in seconds."""
        self._settle()
        self._last, self._worst = began, _ = time.perf_counter(), 0.0
        run()
        self.settled = self._settle() - began
        return self._worst

    def _beat(self) -> None:
        now = time.perf_counter()
        self._worst, self._last = max(self._worst, now - self._last), now

    def _settle(self) -> float:
        """Wait until all is right again; when it was, by the clock."""
        end, quiet = time.perf_counter() + _LONGEST, time.perf_counter()
        while time.perf_counter() < min(end, quiet + _QUIET):
            self.app.processEvents()
            time.sleep(0.0005)
            if self.window.session.busy:
                quiet = time.perf_counter()
        return quiet


def stops(rows: int, folder: Path) -> dict[str, float]:
    """The longest stop of each thing done in a window on so many rows, by its name."""
    from bright_tether.steps.catalogue import IDS
    from bright_tether.study.axes import choose_axes
    from bright_tether.study.cell_changes import set_cells
    from bright_tether.study.changes import change_choice, change_rule, set_aside

    path = _file(rows, folder)
    watched = Watched()
    session = watched.window.session
    for step in IDS:  # what is built once is no matter of the rows
        session.show_step(step)
    found = {"open": watched.stop_of(lambda: session.open_file(path))}
    x, y = (session.table.named(name).id for name in "xy")

    def do(make: Callable[..., object], *arguments: object, **more: object) -> Callable[[], object]:
        return lambda: session.do(make(session.history.study, *arguments, **more))

    watched.stop_of(do(choose_axes, session.tether, x=x, y=y))
    for step in IDS:
        found[step] = watched.stop_of(lambda step=step: session.show_step(step))
    session.show_step("line")

    found["edit a cell"] = watched.stop_of(do(set_cells, session.table.id, {(17, x): 12.5}))
    found["undo"] = watched.stop_of(session.undo)
    found["set aside"] = watched.stop_of(do(set_aside, session.tether, {17}, "tried"))
    found["α"] = watched.stop_of(do(change_rule, "alpha", 0.01))
    found["mark"] = watched.stop_of(lambda: session.mark_rows(frozenset(range(1000))))
    session.show_step("compare")
    site = session.table.named("site").id
    found["groups"] = watched.stop_of(do(change_choice, session.tether, "compare", "Sites", group=site))
    session.show_step("write-up")
    written = folder / f"{rows}.html"
    found["write"] = watched.stop_of(lambda: watched.window.step("write-up").write_to(written))
    assert written.exists()
    watched.window.close()
    return found


def _file(rows: int, folder: Path) -> Path:
    """Sites, days, and pairs of which one in a hundred lacks y, as separated text."""
    draw = np.random.default_rng(3)
    path = folder / f"{rows}.csv"
    x = draw.normal(50, 10, rows)
    y = 2 * x + draw.normal(0, 5, rows)
    site = np.array(["Weir", "Ford", "Mill"])[draw.integers(0, 3, rows)]
    day = np.datetime64("2021-03-01") + np.sort(draw.integers(0, 700, rows))
    lines = (
        f"{s},{d},{a:.3f},{'' if at % 100 == 7 else f'{b:.3f}'}\n"
        for at, (s, d, a, b) in enumerate(zip(site, day, x, y, strict=True))
    )
    with path.open("w", encoding="utf-8") as file:
        file.write("site,day,x,y\n")
        file.writelines(lines)
    return path


def _twice(rows: int, folder: Path) -> dict[str, float]:
    """The same of two windows, the shorter stop of each thing: what else the machine does comes once."""
    first, second = stops(rows, folder), stops(rows, folder)
    return {name: min(stop, second[name]) for name, stop in first.items()}


def window_million() -> Ratio:
    """The worst of all that is done, a million rows against a thousand."""
    with tempfile.TemporaryDirectory() as folder:
        few, many = (_twice(rows, Path(folder)) for rows in (_FEW, _MANY))
    for name, stop in many.items():
        print(f"  {name:<14} {1000 * stop:6.0f} ms against {1000 * few[name]:6.0f} ms")
    worst = max(many, key=lambda name: many[name] / few[name])
    return Ratio("window-1e6", many[worst] / few[worst], 2.0, many[worst], few[worst])


def settle_million() -> Ratio:
    """One cell changed until all on the stage is right again, against one pass of NumPy over both columns."""
    from bench.studies import study_of
    from bright_tether.study.cell_changes import set_cells
    from bright_tether.study.history import History

    draw = np.random.default_rng(4)
    x = draw.normal(50, 10, _MANY)
    y = 2 * x + draw.normal(0, 5, _MANY)
    watched = Watched()
    session, spent = watched.window.session, []
    session.take_over(History(study_of(x, y)), "line")
    for turn in range(4):
        watched.stop_of(
            lambda turn=turn: session.do(set_cells(session.history.study, "t1", {(turn, "c2"): 12.5}))
        )
        spent.append(watched.settled)
    watched.window.close()

    def one_pass() -> float:
        began = time.perf_counter()
        _ = x.mean(), y.mean(), x.var(), y.var(), np.cov(x, y)
        return time.perf_counter() - began

    ours, theirs = float(np.median(spent[1:])), min(one_pass() for _ in range(5))
    return Ratio("window-1e6-settle", ours / theirs, 20.0, ours, theirs)


def memory_window_million() -> Ratio:
    """The whole process with a study of a million rows and six columns open, in megabytes, against its columns."""
    from bright_tether.demo.make_survey import million

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "million.csv"
        million(path)
        told = subprocess.run([sys.executable, Path(__file__).parent / "memory_window.py", path], check=True,
                              capture_output=True, text=True).stdout.split()  # fmt: skip
    held, size = map(float, told[-2:])
    return Ratio("memory-window-1e6", held / size, 6.0, held, size)
