"""The figures of a reading: whole names and words, whatever stands beside them."""

import pytest
from PyQt6.QtWidgets import QWidget

from bright_tether.desktop.parts.figure_rows import FigureRows
from bright_tether.words.reading import Figure

LONG = (
    Figure("slope of all rows", "0.57493", "0.57472 … 0.57513"),
    Figure("pairs of all rows", "8 907 216", "of 9 000 000; 92 784 with a value missing, 12 filtered out"),
    Figure("one case, 95 %", "0.000000004827 … 0.000000005239", "± 0.000000000206"),
    Figure("r", "0.878"),
)
SHORT = (Figure("slope", "1.429", "1.353 … 1.505"), Figure("r", "+0.979", "p < 0.001"))


@pytest.fixture
def rows(qtbot):
    room = QWidget()
    qtbot.addWidget(room)
    made = FigureRows()
    room.setLayout(made)
    made.setContentsMargins(0, 0, 0, 0)
    room.setFixedWidth(290)
    room.show()
    return room, made


@pytest.mark.parametrize("told", [LONG, SHORT, LONG[::-1], SHORT + LONG])
def test_every_figure_fits_with_its_whole_name(rows, told, qtbot):
    room, made = rows
    for figures in (told, SHORT, told):  # places change and change back
        made.show_figures(figures)
        qtbot.wait(1)
        made.activate()
        assert made.minimumSize().width() <= 290
        shown = [row for row in made.rows if row.name.isVisible()]
        assert [row.name.text() for row in shown] == [one.name for one in figures]
        for row in shown:
            longest = max(map(row.name.fontMetrics().horizontalAdvance, row.name.text().split()))
            assert row.name.width() >= longest
            for piece in (row.value, row.beside):
                inside = not piece.isVisible() or piece.geometry().right() < 290
                assert inside, piece.text()
    room.close()
