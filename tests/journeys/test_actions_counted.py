"""From an empty window to a slope, and back from six slips of the hand: how many actions each takes.

An action is one press of a key, one word or number typed, one click, one drop.
"""

import pytest
from PyQt6.QtCore import QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QGuiApplication
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QPushButton

from hand import click, named, read, read_figure

CONTROL, ALT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.AltModifier
X, Y = (1, 2, 3, 4, 5, 6, 7), (2.1, 3.9, 6.2, 7.8, 10.1, 12.2, 13.8)
BLOCK = "depth (m)\tflow (m3/s)\tsite\n" + "".join(
    f"{x}\t{y}\t{'Weir' if x < 4 else 'Ford'}\n" for x, y in zip(X, Y, strict=True)
)


class Counted:
    """A hand that counts what it does, and does it where the keyboard is."""

    def __init__(self, window):
        self.window, self.actions = window, 0
        window.activateWindow()
        QApplication.processEvents()

    def _there(self):
        return QApplication.focusWidget() or self.window

    def press(self, key, keys=Qt.KeyboardModifier.NoModifier):
        self.actions += 1
        QTest.keyClick(self._there(), key, keys)
        QApplication.processEvents()

    def type(self, text):
        self.actions += 1
        for letter in text:
            QTest.keyClicks(self._there(), letter)
        QApplication.processEvents()

    def click(self, name):
        self.actions += 1
        click(named(self.window, name, QPushButton))

    def drop(self, path):
        self.actions += 1
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path))])
        copy, left = Qt.DropAction.CopyAction, Qt.MouseButton.LeftButton
        event = QDropEvent(QPointF(300, 300), copy, data, left, Qt.KeyboardModifier.NoModifier)
        self.window.dropEvent(event)
        QApplication.processEvents()


@pytest.fixture
def hand(open_window):
    return Counted(open_window())


def slope(hand):
    return float(read_figure(hand.window, "slope").replace("−", "-"))


def type_pairs(hand, pairs):
    for x, y in pairs:
        hand.type(str(x))
        hand.press(Qt.Key.Key_Tab)
        hand.type(str(y))
        hand.press(Qt.Key.Key_Return)


def test_seven_typed_pairs(hand):
    type_pairs(hand, zip(X, Y, strict=True))
    hand.press(Qt.Key.Key_4, ALT)
    assert slope(hand) == pytest.approx(1.982, abs=0.01)
    assert hand.actions == 29  # four a pair, and the step


def test_a_pasted_block_with_names_and_a_category(hand):
    QGuiApplication.clipboard().setText(BLOCK)
    hand.press(Qt.Key.Key_V, CONTROL)
    hand.press(Qt.Key.Key_4, ALT)
    assert read(hand.window, "equation").startswith("flow = ")
    assert [one.kind for one in hand.window.session.table.columns] == ["number", "number", "category"]
    assert hand.actions == 2


def test_a_dropped_file(hand, csv_file):
    hand.drop(csv_file(BLOCK.replace("\t", ",")))
    hand.click("Take the file in")
    hand.press(Qt.Key.Key_4, ALT)
    assert read(hand.window, "equation").startswith("flow = ")
    assert hand.actions == 3


def slip_a_wrong_number(hand):
    type_pairs(hand, [(1, 2), (2, 44), (3, 6)])
    grid = named(hand.window, "Table")

    def mend():
        hand.actions += 1
        click(grid.viewport(), grid.visualRect(grid.grid.index(1, 1)).center())
        hand.type("4")
        hand.press(Qt.Key.Key_Return)

    return mend, lambda: hand.window.session.table.columns[1].cells.tolist() == [2, 4, 6]


def slip_x_and_y_swapped(hand):
    type_pairs(hand, [(1, 2), (2, 4), (3, 6)])
    return (lambda: hand.press(Qt.Key.Key_S, ALT)), lambda: hand.window.session.tether.x == "c2"


def slip_rows_deleted(hand):
    type_pairs(hand, [(1, 2), (2, 4), (3, 6)])
    grid = named(hand.window, "Table")
    grid.selectRow(1)
    QTest.keyClick(grid, Qt.Key.Key_Delete)
    assert hand.window.session.table.rows == 2
    return (lambda: hand.press(Qt.Key.Key_Z, CONTROL)), lambda: hand.window.session.table.rows == 3


def slip_point_slipped(hand):
    type_pairs(hand, [(x, 2 * x + 10) for x in range(1, 12)] + [(12, 340)])
    words = read(hand.window, "likely slip")
    return (
        lambda: hand.click(f"Shift the point: {words}")
    ), lambda: hand.window.session.table.columns[1].cells[11] == 34


def slip_a_word_among_numbers(hand):
    type_pairs(hand, [(x, 2 * x) for x in range(1, 7)] + [(7, "about 14")])
    words = read(hand.window, "likely slip")
    return (
        lambda: hand.click(f"Read as 14: {words}")
    ), lambda: hand.window.session.table.columns[1].cells[6] == 14


def slip_sorted_for_good(hand):
    type_pairs(hand, [(3, 2), (1, 4), (2, 6)])
    session, grid = hand.window.session, named(hand.window, "Table")
    grid.setCurrentIndex(grid.grid.index(0, 0))
    grid.deeds._sort(False)
    assert session.table.columns[0].cells.tolist() == [1, 2, 3]
    return (
        lambda: hand.press(Qt.Key.Key_Z, CONTROL)
    ), lambda: session.table.columns[0].cells.tolist() == [3, 1, 2]


SLIPS = (slip_a_wrong_number, slip_x_and_y_swapped, slip_rows_deleted, slip_point_slipped,
         slip_a_word_among_numbers, slip_sorted_for_good)  # fmt: skip


@pytest.mark.parametrize("slip", SLIPS, ids=lambda slip: slip.__name__)
def test_a_slip_of_the_hand_is_mended_by_few_actions(hand, slip):
    mend, mended = slip(hand)
    hand.actions = 0
    mend()
    assert mended()
    assert hand.actions <= (3 if slip is slip_a_wrong_number else 1)
