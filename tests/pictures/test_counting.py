"""Very many points are counted beside the interface thread, and what comes late lands nowhere else."""

import threading

import numpy as np
import pyqtgraph as pg
import pytest
from PyQt6 import sip

from bright_tether.live.cloud import Rising
from bright_tether.pictures import density as densities
from bright_tether.pictures.counting import counting, stop_counting
from bright_tether.pictures.density import Density
from bright_tether.theme.tokens import LIGHT

DRAW = np.random.default_rng(2)


def points(n=500, low=0.0):
    return Rising(np.sort(DRAW.uniform(low, low + 1, n)), DRAW.uniform(0, 1, n))


@pytest.fixture
def plot(qtbot):
    """A plot on the screen with a density that leaves counting to the thread; the gate holds that up."""
    widget = pg.GraphicsLayoutWidget()
    qtbot.addWidget(widget)
    item = widget.addPlot()
    item.getViewBox().disableAutoRange()
    item.setXRange(0, 1, padding=0)
    item.setYRange(0, 1, padding=0)
    widget.resize(300, 200)
    widget.show()
    qtbot.waitExposed(widget)
    return widget, item


@pytest.fixture
def gate(monkeypatch):
    """Set while counting may go on; the threads that counted are kept in it."""
    opened, counted = threading.Event(), densities._counted

    def held_up(*what):
        assert opened.wait(10)
        opened.threads.add(threading.current_thread().name)
        return counted(*what)

    opened.threads = set()
    monkeypatch.setattr(densities, "_counted", held_up)
    monkeypatch.setattr(densities, "_AT_LEISURE", 100)
    yield opened
    opened.set()


def on(plot):
    """A density on the plot, in the colours of day."""
    dense = Density(plot[1])
    dense.restyle(LIGHT)
    return dense


def test_they_are_painted_when_they_are_counted(plot, gate, qtbot):
    dense = on(plot)
    dense.put(points())
    qtbot.waitUntil(counting)
    assert not dense._image.width(), "nothing stands there yet, and nobody waited"
    gate.set()
    qtbot.waitUntil(lambda: not counting())
    assert dense._image.width()
    assert dense._counts.sum() == 500
    assert threading.main_thread().name not in gate.threads


def test_the_newest_wish_counts_and_a_late_answer_is_of_no_other_points(plot, gate, qtbot):
    (widget, item), dense = plot, on(plot)
    dense.put(points())
    qtbot.waitUntil(counting)
    other = points(700)
    dense.put(other)
    dense.forget()
    widget.grab()
    item.setXRange(0, 0.5, padding=0)
    widget.grab()
    gate.set()
    qtbot.waitUntil(lambda: not counting())
    inside = np.count_nonzero(other.x <= 0.5)
    assert dense._seen[0] is other
    assert dense._counts.sum() == pytest.approx(inside, abs=2)


def test_a_picture_that_is_gone_takes_nothing(plot, gate, qtbot):
    _, item = plot
    dense = Density(item)
    dense.put(points())
    qtbot.waitUntil(counting)
    item.removeItem(dense)
    sip.delete(dense)
    gate.set()
    qtbot.waitUntil(lambda: not counting())


def test_on_paper_they_are_counted_at_once(plot, gate):
    (widget, _), dense = plot, on(plot)
    gate.set()
    dense.on_paper(True)
    dense.put(points())
    widget.grab()
    assert dense._counts.sum() == 500
    assert gate.threads == {threading.main_thread().name}


def test_what_cannot_be_counted_leaves_nobody_waiting(plot, monkeypatch, qtbot):
    asked = []

    def none(*_):
        asked.append(1)
        raise MemoryError

    monkeypatch.setattr(densities, "_counted", none)
    monkeypatch.setattr(densities, "_AT_LEISURE", 100)
    _, item = plot
    dense = Density(item)
    dense.put(points())
    qtbot.waitUntil(lambda: bool(asked))
    qtbot.waitUntil(lambda: not counting())
    assert not dense._image.width()


def test_a_window_that_closes_leaves_no_thread_behind(plot, gate, qtbot):
    dense = on(plot)
    dense.put(points())
    qtbot.waitUntil(counting)
    gate.set()
    stop_counting()
    assert not [one for one in threading.enumerate() if one.name.startswith("counting")]
    qtbot.waitUntil(lambda: not counting())
    dense.put(points())
    qtbot.waitUntil(lambda: dense._counts.sum() == 500)
