"""Numbers along an axis stand apart, and beside it clear of its name."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFont, QFontMetricsF, QImage, QPainter

from bright_tether.core.shape.histogram import histogram
from bright_tether.live.sketches import Sketch
from bright_tether.pictures.fonts import shipped_font
from bright_tether.pictures.frame import Axis, LogAxis, between_bars
from bright_tether.pictures.small import SmallPlot
from bright_tether.theme.tokens import LIGHT
from room import settled


@pytest.fixture
def font(qapp):
    return shipped_font()


@pytest.mark.parametrize("kind", [Axis, LogAxis])
def test_numbers_below_an_axis_do_not_run_together(kind, font):
    axis = kind("bottom")
    axis.restyle(LIGHT, font)
    metrics = QFontMetricsF(axis.style["tickFont"])

    @settings(max_examples=200, deadline=None)
    @given(st.floats(-1e7, 1e7), st.floats(1e-3, 1e7), st.integers(150, 900))
    def apart(low, span, size):
        step, values = axis.tickValues(low, low + span, size)[0]
        words = [metrics.horizontalAdvance(word) for word in axis.tickStrings(list(values), 1.0, step)]
        assert not words or max(words) < step / span * size

    apart()


def test_an_axis_with_long_numbers_makes_room_for_them_and_with_it_those_below(open_window, csv_file, qtbot):
    draw = np.random.default_rng(2)
    x = draw.normal(50, 9, 60)
    y = 3e6 + 40_000 * x + draw.normal(0, 9e4, 60)
    window = open_window(csv_file("x,y\n" + "".join(f"{a:.2f},{b:.0f}\n" for a, b in zip(x, y, strict=True))))
    window.session.show_step("line")
    picture = window.step("line").picture
    qtbot.waitUntil(lambda: not window.session.busy)
    window.grab()
    settled(window, (1280, 800))
    lefts = [one for one in picture.scene().items() if isinstance(one, Axis) and one.orientation == "left"]
    metrics = QFontMetricsF(lefts[0].style["tickFont"])
    assert len({one.width() for one in lefts}) == 1
    assert lefts[0].width() >= metrics.horizontalAdvance("5 000 000") + 16


def test_many_bars_are_not_hidden_by_what_sets_them_apart(font):
    """The tallest of four hundred, and the whole of the number that says how tall it is."""
    assert between_bars(400, LIGHT).style() == Qt.PenStyle.NoPen
    values = np.random.default_rng(4).normal(size=400_000)
    counted = histogram(values, start=-5.0, width=0.025, number=400)
    middle = (counted.edges[:-1] + counted.edges[1:]) / 2
    plot = SmallPlot(LIGHT, QFont(font))
    plot.draw(Sketch(mode="histogram", x=middle, y=counted.counts.astype(float), at=np.zeros(0, np.int64),
                     curves=((np.array([-5.0, 5.0]), np.zeros(2)),), bars=counted, bright=None))  # fmt: skip
    image = QImage(210, 210, QImage.Format.Format_RGB32)
    image.fill(0xFFFFFF)
    painter = QPainter(image)
    plot.paint(painter, image.rect().toRectF())
    painter.end()
    middle_of_the_peak = image.pixelColor(34 + 88, 190)
    assert middle_of_the_peak.lightness() < 200
