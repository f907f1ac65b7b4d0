"""The pictures that the README shows are those of the present views."""

import sys
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QApplication

sys.path.insert(0, str(Path(__file__).parents[2]))
from tests.shots import FOLDER, SHOTS, taken

#: Both pictures are looked at in cells of so many pixels; the shelf, whose cards say where they stand when they are
#: ready, is left out.
CELL, SHELF = 8, 248
#: Grey levels by which a cell is another one, and the share of such cells that no change of a view stays below.
APART, MOST = 24, 0.002


def cells(image):
    small = image.convertToFormat(QImage.Format.Format_Grayscale8).scaled(
        image.width() // CELL, image.height() // CELL,
        Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation,
    )  # fmt: skip
    held = small.constBits().asarray(small.sizeInBytes())
    grey = np.frombuffer(held, np.uint8).reshape(small.height(), small.bytesPerLine())[:, : small.width()]
    return grey.astype(int)[:, SHELF // CELL :]


def difference(one, other):
    """The share of cells that differ; 1 for pictures of two sizes."""
    if one.size() != other.size():
        return 1.0
    return float((np.abs(cells(one) - cells(other)) > APART).mean())


@pytest.mark.parametrize("name", SHOTS)
def test_a_committed_picture_is_that_of_its_view(qtbot, name):
    committed = QImage(str(FOLDER / f"{name}.png"))
    assert not committed.isNull()
    shown = taken(QApplication.instance(), name, 100).toImage()
    assert difference(committed, shown) < MOST, (
        f"{name}.png is older than its view: take it again by ./tether shots"
    )


def test_an_older_picture_is_noticed(qtbot):
    line, strength = (QImage(str(FOLDER / f"{name}.png")) for name in ("line", "strength"))
    assert difference(line, strength) > 10 * MOST
    head = line.copy()
    for x in range(400, 560):  # two steps of the path are gone
        for y in range(20, 66):
            head.setPixel(x, y, line.pixel(300, 20))
    assert difference(head, line) > MOST


def test_no_picture_is_without_its_view():
    assert {path.stem for path in FOLDER.glob("*.png")} == set(SHOTS)
