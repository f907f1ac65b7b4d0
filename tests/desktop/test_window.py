"""The window as a whole: nothing cut, everything named, reachable by keys, calm under load."""

import os
import subprocess
import sys
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QLineEdit,
    QPushButton,
)

from bright_tether.desktop.background import Work
from bright_tether.desktop.layout import apply_size
from bright_tether.desktop.parts.comparable import offers
from bright_tether.desktop.parts.tether_card import TetherCard
from bright_tether.desktop.steps.stage import StageOfViews
from bright_tether.live.findings import Findings
from bright_tether.steps.catalogue import IDS
from bright_tether.steps.step import EVERYWHERE
from bright_tether.study.changes import set_aside
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table
from bright_tether.theme.tokens import DARK, LIGHT
from hand import click, named, press, read
from room import check_room, contrasts, settled, shortened, unseen_focus

FORMS = ("forecast", "compare", "rehearse")
ROOT = Path(__file__).parents[2]
SIZES = [(1024, 700), (1280, 800), (2560, 1440)]


def test_cards_have_room_for_words_that_come_later(open_window):
    window = open_window("--demo")
    cards = window.shelf.findChildren(TetherCard)
    settled(window, SIZES[1])
    while "rejected" not in cards[-1].accessibleDescription():
        QTest.qWait(5)
        covered = [b for a, b in pairwise(cards) if a.geometry().bottom() > b.geometry().top()]
        assert not covered
    assert not shortened(window)


def test_the_card_on_the_stage_stays_whole_until_the_hand_scrolls_away(open_window):
    window = open_window("--demo")
    settled(window, SIZES[0])
    cards = {card.tether_id: card for card in window.shelf.findChildren(TetherCard)}
    bar = window.shelf._scroll.verticalScrollBar()
    window.session.show_tether("k7")
    while "rejected" not in cards["k7"].accessibleDescription():
        QTest.qWait(5)
    QTest.qWait(20)
    assert cards["k7"].visibleRegion().boundingRect() == cards["k7"].rect()
    bar.triggerAction(bar.SliderAction.SliderToMinimum)  # as a hand does
    QTest.qWait(5)
    window.session.ask()
    QTest.qWait(50)
    assert bar.value() == 0
    window.session.show_tether("k6")
    QTest.qWait(50)
    assert cards["k6"].visibleRegion().boundingRect() == cards["k6"].rect()


def test_what_stands_side_by_side_has_one_middle(open_window):
    window = open_window("--demo")
    window.session.show_step("forecast")
    click(named(window, "More entries", QPushButton))
    settled(window, SIZES[1])

    def middle(widget):
        return widget.mapTo(window, widget.rect().center()).y()

    for pair in (
        ("More levels, %", "An actual case: x y"),
        ("Mean of how many new cases", "Band for the whole line"),
    ):
        one, beside = (middle(named(window, name)) for name in pair)
        assert abs(one - beside) <= 1


@pytest.mark.parametrize("step", IDS)
@pytest.mark.parametrize("size", SIZES)
def test_nothing_is_cut_and_nothing_scrolls_sideways(open_window, step, size):
    window = open_window("--demo")
    window.session.show_step(step)
    if step == "compare":
        stage = window.step(step)
        stage._choose(next(one for one in offers(window.session.findings) if one.source == "group"))
    settled(window, size)
    assert (window.width(), window.height()) == size
    check_room(window, step)
    if step in FORMS:
        stage = window.step(step)
        above = stage.picture.mapTo(stage, QPoint(0, 0)).y()
        several = isinstance(stage, StageOfViews)
        assert above <= 60 + 30 * several  # one line, the names of several views, and the margin of the card
        click(named(window, "More entries", QPushButton))
        settled(window, size)
        check_room(window, step)


@pytest.mark.parametrize("step", IDS)
def test_where_the_keyboard_is_can_be_seen(open_window, step):
    window = open_window("--demo")
    window.session.show_step(step)
    settled(window, SIZES[1])
    window.activateWindow()
    assert not unseen_focus(window)


@pytest.mark.parametrize("theme", [LIGHT, DARK], ids=lambda theme: theme.name)
def test_words_can_be_read_as_they_are_painted(open_window, theme):
    window = open_window("--demo")
    window._theme.take(theme)
    for step in IDS:
        window.session.show_step(step)
        settled(window, SIZES[1])
        faint = {words: round(ratio, 1) for words, ratio in contrasts(window).items() if ratio < 4.5}
        assert not faint, step


def test_everything_that_takes_the_keyboard_has_a_name(open_window):
    window = open_window("--demo")
    for step in IDS:
        window.session.show_step(step)
        QApplication.processEvents()
        nameless = [
            piece
            for kind in (QAbstractButton, QComboBox, QLineEdit)
            for piece in window.findChildren(kind)
            if piece.isVisible()
            and piece.focusPolicy() != Qt.FocusPolicy.NoFocus
            and not piece.accessibleName()
        ]
        assert not nameless


def test_tab_goes_all_the_way_round(open_window):
    window = open_window("--demo")
    seen, reached = set(), set()
    window.setFocus()
    for _ in range(80):
        QTest.keyClick(QApplication.focusWidget() or window, Qt.Key.Key_Tab)
        QApplication.processEvents()
        at = QApplication.focusWidget()
        if at is None or id(at) in seen:
            break
        seen.add(id(at))
        reached.add(at.accessibleName())
    assert {
        "Step Gather",
        "Step Line",
        "Ground rules",
        "Tie a new tether",
        "Tint by",
        "Line picture",
    } <= reached


def test_a_tether_is_chosen_by_keyboard(open_window):
    window = open_window("--demo")
    card = named(window, "Tether calcium ⟶ conductance")
    card.setFocus()
    press(card, Qt.Key.Key_Return)
    assert read(window, "equation").startswith("conductance = ")


def test_tethers_come_and_go(open_window):
    window = open_window("--demo")
    press(window, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    assert read(window, "headline") == "No line yet."
    assert "drag their heads onto the axes" in read(window, "sentences")
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert len(window.session.study.tethers) == 7
    assert read(window, "headline") != "No line yet."


def test_the_wheel_zooms_and_home_brings_everything_back(open_window):
    window = open_window("--demo")
    picture = window.steps["line"].picture
    before = picture.main.viewRange()
    picture.main.getViewBox().scaleBy((0.5, 0.5))
    assert picture.main.viewRange() != before
    assert picture.strip.viewRange()[0] == picture.main.viewRange()[0]
    press(window, Qt.Key.Key_0, Qt.KeyboardModifier.ControlModifier)
    assert np.allclose(picture.main.viewRange(), before)


def test_what_the_wheel_chose_stays_in_view_whatever_is_changed(open_window):
    window = open_window("--demo")
    picture, session = window.steps["line"].picture, window.session
    before = picture.main.viewRange()
    scrolled(picture)
    zoomed = picture.main.viewRange()
    assert not np.allclose(zoomed, before)
    session.do(set_aside(session.history.study, session.tether, {3}, "tried"))
    assert np.allclose(picture.main.viewRange(), zoomed)
    session.show_step("look")
    session.show_step("line")
    assert np.allclose(picture.main.viewRange(), zoomed)
    press(named(window, "Tether calcium ⟶ conductance"), Qt.Key.Key_Return)
    (low, high), _ = picture.main.viewRange()
    assert low <= picture.cloud.x.min() <= picture.cloud.x.max() <= high
    scrolled(picture)
    press(window, Qt.Key.Key_0, Qt.KeyboardModifier.ControlModifier)
    (low, high), _ = picture.main.viewRange()
    assert low <= picture.cloud.x.min() <= picture.cloud.x.max() <= high


def scrolled(picture):
    """One turn of the wheel over the middle of the plot."""
    at = picture.mapFromScene(picture.main.getViewBox().sceneBoundingRect().center())
    turn = QPoint(0, 240)
    place, none = QPointF(picture.viewport().mapToGlobal(at)), QPoint()
    still = (Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False)
    wheel = QWheelEvent(QPointF(at), place, none, turn, *still)
    QApplication.sendEvent(picture.viewport(), wheel)


def test_an_error_in_a_slot_is_said_and_ends_nothing(open_window, capsys):
    from bright_tether.desktop.start import _catch_errors

    window, kept = open_window("--demo"), sys.excepthook
    try:
        _catch_errors(window)
        sys.excepthook(ZeroDivisionError, ZeroDivisionError("x"), None)
        QTest.qWait(10)
    finally:
        sys.excepthook = kept
    assert "Something went wrong here (ZeroDivisionError)" in read(window, "notice text")
    assert "ZeroDivisionError" in capsys.readouterr().err


SCALED = """
from PyQt6.QtWidgets import QApplication
from bright_tether.steps.catalogue import IDS
from bright_tether.desktop.start import build
app = QApplication([])
window = build(app, ["--demo"])
window.resize(1280, 800)
window.show()
app.processEvents()
shot = window.grab()
print(shot.width(), shot.height(), shot.devicePixelRatio())
window.close()
"""


def test_twice_the_scale_is_right():
    scaled = os.environ | {"QT_SCALE_FACTOR": "2", "QT_QPA_PLATFORM": "offscreen"}
    told = subprocess.run(
        [sys.executable, "-c", SCALED], env=scaled, capture_output=True, text=True, check=True
    )
    assert told.stdout.split() == ["2560", "1600", "2.0"]


def long_findings(rows=200_000):
    x = np.arange(float(rows))
    columns = tuple(
        Column(id=f"c{at}", name=name, kind="number", cells=cells)
        for at, (name, cells) in enumerate({"x": x, "y": 2 * x + x % 7}.items(), 1)
    )
    tether = Tether(id="k1", table="t1", x="c1", y="c2")
    table = Table(id="t1", name="T", columns=columns, row_ids=np.arange(rows))
    return Findings(Study(tables=(table,), tethers=(tether,)), tether)


def test_only_the_newest_request_is_answered(qtbot):
    work, answers = Work(), []
    work.done.connect(lambda value, basis: answers.append((value, basis)))
    asked = [long_findings() for _ in range(5)]

    def prepare(findings):
        return lambda progress: findings.prepare(EVERYWHERE, cancelled=lambda: not progress(None))

    for findings in asked:
        work.start(prepare(findings), basis=findings)
    qtbot.waitUntil(lambda: not work.busy, timeout=20_000)
    assert answers == [(None, asked[-1])]
    work.start(prepare(asked[0]), basis=asked[0])
    work.drop()
    work.close()
    assert answers == [(None, asked[-1])]


@pytest.mark.parametrize("error", [ValueError("broken"), SystemExit("broken"), KeyboardInterrupt("broken")])
def test_an_error_of_any_kind_comes_back_as_a_value(qtbot, error):
    def broken(progress):
        raise error

    work, failures = Work(), []
    work.failed.connect(failures.append)
    work.start(broken)
    qtbot.waitUntil(lambda: not work.busy, timeout=5_000)
    assert failures == [error]
    work.start(lambda progress: 7)
    work.done.connect(lambda value, basis: failures.append(value))
    qtbot.waitUntil(lambda: not work.busy, timeout=5_000)
    assert failures[1:] == [7], "and what comes after it is done"
    work.close()


def test_points_are_shapes_where_the_page_has_no_pixels(open_window, tmp_path):
    from PyQt6.QtCore import QRectF
    from PyQt6.QtGui import QPainter
    from PyQt6.QtSvg import QSvgGenerator

    from bright_tether.pictures.press import paint_into

    window = open_window("--demo")
    picture = window.steps["line"].picture
    page = QSvgGenerator()
    page.setFileName(str(tmp_path / "line.svg"))
    page.setViewBox(QRectF(picture.viewport().rect()))
    painter = QPainter(page)
    paint_into(painter, picture, QRectF(picture.viewport().rect()))
    painter.end()
    text = (tmp_path / "line.svg").read_text()
    assert text.count("<path") > 2 * 64
    assert "<image" not in text


def test_focus_events_do_not_disturb_the_mark(open_window):
    window = open_window("--demo")
    window.session.mark_rows(frozenset({3}))
    QApplication.sendEvent(window, QEvent(QEvent.Type.WindowDeactivate))
    assert window.session.mark == {3}


def test_a_screen_of_twice_the_points_shows_everything_twice_as_fine():
    environment = os.environ | {"QT_SCALE_FACTOR": "2", "QT_QPA_PLATFORM": "offscreen"}
    call = [sys.executable, "-m", "tests.scaled"]
    told = subprocess.run(call, cwd=ROOT, env=environment, capture_output=True, text=True, check=False)
    assert told.returncode == 0, told.stderr
    assert told.stdout == "9 steps at 2: 2560 x 1600\n"


def test_larger_text_is_remembered_for_the_next_start(open_window, monkeypatch):
    window = open_window("--demo")
    monkeypatch.delenv("QT_SCALE_FACTOR", raising=False)
    press(window, Qt.Key.Key_Plus, Qt.KeyboardModifier.ControlModifier)
    press(window, Qt.Key.Key_Plus, Qt.KeyboardModifier.ControlModifier)
    assert read(window, "notice text") == "Text and pictures are shown at 130 % from the next start on."
    window.close()
    apply_size()
    assert os.environ["QT_SCALE_FACTOR"] == "1.3"
    monkeypatch.setenv("QT_SCALE_FACTOR", "2")  # the desktop's own goes before it
    apply_size()
    assert os.environ["QT_SCALE_FACTOR"] == "2"


def test_a_panel_does_not_outlive_its_window(open_window):
    window = open_window("--demo")
    window.head.rules.open()
    panel = named(window, "Ground rules panel")
    closed = []
    panel.destroyed.connect(lambda: closed.append(True))
    window.close()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
    assert closed
