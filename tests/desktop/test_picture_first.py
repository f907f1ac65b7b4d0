"""Of a long table the picture is drawn as soon as what it rests on is there; what is said of it follows."""

import threading
from collections import Counter

import numpy as np
import pytest
from PyQt6.QtWidgets import QApplication

from bright_tether.desktop import session as sessions
from bright_tether.desktop import window as windows
from bright_tether.desktop.background import Work
from bright_tether.desktop.window import Window
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import STEPS
from bright_tether.study import cell_changes, memory
from hand import read, settle


@pytest.fixture
def long(monkeypatch):
    """Every table counts as long."""
    monkeypatch.setattr(sessions, "IN_PLACE_ROWS", -1)


@pytest.fixture
def gate(monkeypatch):
    """What follows the picture waits until it is let go; it is, as long as nobody closes it."""
    gate, start = threading.Event(), Work.start
    gate.set()

    def held(work, make, basis=None):
        def slowly(progress):
            def told(done):
                wanted = progress(done)
                assert not wanted or not isinstance(done, Findings) or gate.wait(20)
                return wanted

            return make(told)

        start(work, slowly, basis)

    monkeypatch.setattr(Work, "start", held)
    yield gate
    gate.set()


def drawn(session, qtbot, go):
    with qtbot.waitSignal(session.picture_ready, timeout=20_000):
        go()
    QApplication.processEvents()


def test_the_picture_comes_before_the_words(open_window, csv_file, qtbot, long, gate):
    x = np.arange(40.0)
    window = open_window(csv_file("a,b\n" + "".join(f"{one},{2 * one + one % 3}\n" for one in x.tolist())))
    settle(window, qtbot)
    session = window.session
    gate.clear()
    drawn(session, qtbot, lambda: session.show_step("line"))
    picture = window.step("line").picture
    assert picture.cloud.x.size == 40
    assert picture.bright.getData()[0].size
    assert session.busy
    assert read(window, "headline") == "Working it out…"
    gate.set()
    settle(window, qtbot)
    assert "rises" in read(window, "headline") or "more" in read(window, "headline")
    assert read(window, "equation").startswith("b =")


def test_words_of_another_picture_are_taken_away(open_window, csv_file, qtbot, long, gate, monkeypatch):
    window = open_window(csv_file("a,b\n" + "".join(f"{one},{2 * one + one % 3}\n" for one in range(40))))
    session = window.session
    settle(window, qtbot)
    session.show_step("line")
    settle(window, qtbot)
    said = read(window, "headline")
    monkeypatch.setattr(windows, "_LATE", 60)
    gate.clear()
    edit = cell_changes.set_cells(session.study, session.table.id, {(7, session.tether.y): 500.0})
    drawn(session, qtbot, lambda: session.do(edit))
    assert window.step("line").picture.cloud.y.max() == 500
    assert read(window, "headline") == said
    qtbot.waitUntil(lambda: read(window, "headline") == "Working it out…")
    gate.set()
    settle(window, qtbot)
    assert read(window, "headline") not in (said, "Working it out…")
    session.undo()
    settle(window, qtbot)
    assert read(window, "headline") == said
    qtbot.wait(100)
    assert read(window, "headline") == said


def test_what_a_picture_shows_is_never_worked_out_in_the_window(open_window, qtbot, long, gate, monkeypatch):
    """Each view of each step, of a study of which nothing is known yet, drawn before anything else is there."""
    made, before, draw = Counter(), memory.attempt, Window.draw_findings
    inside = []

    def attempt(make, *inputs):
        if inside and threading.current_thread() is threading.main_thread():
            made[inside[0], make] += 1
        return before(make, *inputs)

    def draw_alone(window):
        inside.append((window.session.step, window.step(window.session.step).view))
        draw(window)
        inside.clear()
        gate.set()

    monkeypatch.setattr(memory, "attempt", attempt)
    monkeypatch.setattr(Window, "draw_findings", draw_alone)
    window = open_window("--demo")
    session = window.session

    def show(go):
        settle(window, qtbot)
        session.history.study.memory.forget_others(set())
        session.findings = Findings(session.study, session.tether)
        gate.clear()
        go()
        settle(window, qtbot)

    drawings = 0
    show(lambda: session.show_tether("k4"))
    for step in STEPS:
        show(lambda one=step.id: session.show_step(one))
        stage = window.step(step.id)
        for view in step.views[1:] if hasattr(stage, "show_view") else ():
            if view.offered(session.findings):
                show(lambda one=view.id, on=stage: on.show_view(one))
                drawings += 1
    assert drawings > 15
    assert not made
