"""Figures for a paper: exactly as large as asked, with text as large as asked, in every kind of file."""

import re

import pytest
from PyQt6.QtCore import QSizeF
from PyQt6.QtGui import QImage
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtWidgets import QCheckBox, QComboBox, QDoubleSpinBox, QSpinBox

from bright_tether.desktop.parts.picture_out import PictureOut
from bright_tether.pictures.figure import CHOICES, USUAL, Figure, figure_of, seen, write_figure
from bright_tether.pictures.fonts import shipped_font
from bright_tether.study import changes
from bright_tether.theme.tokens import PRINT
from hand import choose, named, read


@pytest.fixture
def window(open_window):
    """The demo at its line."""
    window = open_window("--demo")
    window.session.show_step("line")
    return window


def panel(window):
    out = PictureOut(window.session, window.session.step, "", window)
    out.show_by(window)
    return out


def drawn(window, **chosen):
    return figure_of(window.session.findings, window.session.step, "", Figure(**chosen), shipped_font())


def texts(svg):
    """Each text with its size in pixels of the layout."""
    return [
        (float(size), words)
        for size, words in re.findall(r'<text [^>]*font-size="([\d.]+)"[^>]*>([^<]*)<', svg)
    ]


def test_a_figure_measures_exactly_what_was_asked(window, tmp_path):
    figure = Figure(wide=85, tall=60, points=8, dpi=600)
    drawing = drawn(window, wide=85, tall=60, points=8, dpi=600)
    for kind in ("png", "tiff", "tif"):
        write_figure(drawing, figure, tmp_path / f"f.{kind}")
        image = QImage(str(tmp_path / f"f.{kind}"))
        assert (image.width(), image.height()) == (2008, 1417)
        assert image.dotsPerMeterX() == pytest.approx(600 / 0.0254, abs=1)
    write_figure(drawing, figure, tmp_path / "f.pdf")
    document = QPdfDocument(None)
    document.load(str(tmp_path / "f.pdf"))
    size = document.pagePointSize(0)
    assert size.width() == pytest.approx(85 / 25.4 * 72, abs=0.6)
    assert size.height() == pytest.approx(60 / 25.4 * 72, abs=0.6)
    assert isinstance(size, QSizeF)
    assert "turbidity(NTU)" in "".join(document.getAllText(0).text().split())
    write_figure(drawing, figure, tmp_path / "f.svg")
    svg = (tmp_path / "f.svg").read_text()
    assert 'width="85mm"' in svg
    assert 'height="60mm"' in svg
    with pytest.raises(ValueError, match=r"\.svg, \.pdf, \.png, \.tiff"):
        write_figure(drawing, figure, tmp_path / "f.gif")


@pytest.mark.parametrize(("points", "wide", "tall"), [(8, 85, 60), (6, 85, 60), (10, 175, 120)])
def test_text_is_as_large_as_it_is_printed(window, points, wide, tall):
    drawing = drawn(window, wide=wide, tall=tall, points=points)
    numbers = [size for size, words in texts(drawing.svg) if re.fullmatch(r"[−\d.\u202f]+", words)]
    assert numbers
    per_pixel = wide / drawing.width  # millimetres on paper
    assert [size * per_pixel / 25.4 * 72 for size in numbers] == pytest.approx(
        [points] * len(numbers), rel=0.01
    )


def test_the_panel_of_residuals_is_drawn_where_it_is_wanted(window):
    with_it, without = (drawn(window, drawn=(*USUAL, *more)).svg for more in (("residuals",), ()))
    assert "residual" in with_it
    assert "residual" not in without
    assert "turbidity (NTU)" in without


def test_what_stands_in_a_figure_is_what_was_chosen(window):
    bare = drawn(window, drawn=()).svg
    everything = drawn(window, drawn=CHOICES).svg
    words = [words for _, words in texts(everything)]
    assert {"sediment = 2.2 + 1.429 · turbidity", "r = +0.979, n = 64"} <= set(words)  # no room for one line
    wide = drawn(window, drawn=CHOICES, wide=175)
    assert "sediment = 2.2 + 1.429 · turbidity; r = +0.979, n = 64" in [words for _, words in texts(wide.svg)]
    assert wide.width == 682
    assert {"Weir", "Ford"} <= set(words)
    assert not {"Weir", "Ford"} & {words for _, words in texts(bare)}
    for part, colour in (("line", PRINT.tether), ("points", PRINT.hues[0]), ("points", PRINT.hues[1])):
        assert colour in drawn(window, drawn=(part,)).svg, part
        assert colour not in bare, part
    assert bare.count('stroke-opacity="0.0') < everything.count('stroke-opacity="0.0')  # the grid


def test_colours_are_those_chosen_and_groups_keep_their_shapes(window):
    own, safe, grey = (drawn(window, colours=one).svg for one in ("own", "safe", "grey"))
    assert "#e39b0b" in own
    assert "#0072b2" in safe.lower()
    colours = set(re.findall(r"#[0-9a-f]{6}", grey.lower()))
    assert all(one[1:3] == one[3:5] == one[5:7] for one in colours), colours


def test_axes_are_lines_from_end_to_end(window):
    figure = Figure(dpi=200)
    image = seen(drawn(window), figure, figure.dpi)
    colours = [[image.pixelColor(x, y).name() for x in range(image.width())] for y in range(image.height())]
    longest = max(row.count(PRINT.faint) for row in colours)
    tallest = max(sum(row[x] == PRINT.faint for row in colours) for x in range(image.width() // 3))
    assert longest > 0.7 * image.width()
    assert tallest > 0.7 * image.height()


@pytest.mark.parametrize("step", ["look", "strength", "line", "doubts", "compare", "forecast"])
def test_every_step_lays_its_picture_out_small(window, step):
    session = window.session
    session.do(
        changes.change_choice(session.study, session.tether, "compare", "Stations", group=session.tether.tint)
    )
    view = {"strength": "products"}.get(step, "")
    drawing = figure_of(session.findings, step, view, Figure(), shipped_font())
    assert (drawing.width, drawing.height) == (331, 234)
    assert drawing.svg.count("<path") + drawing.svg.count("<polyline") > 10


def test_what_is_chosen_is_seen_written_and_remembered(window, tmp_path):
    out = panel(window)
    assert read(out, "figure says") == "seen at true size; 2008 × 1417 pixels as PNG or TIFF"
    seen = out.preview.pixmap().width()
    choose(named(out, "Size of the figure", QComboBox), "two columns")
    out.draw()
    assert out.preview.pixmap().width() > seen
    assert read(out, "figure says").startswith("seen smaller than it is; 4134 × 2835")
    choose(named(out, "Unit of the size", QComboBox), "inch")
    assert named(out, "Width of the figure", QDoubleSpinBox).value() == pytest.approx(175 / 25.4, abs=1e-3)
    named(out, "Width of the figure", QDoubleSpinBox).setValue(4)
    named(out, "Dots per inch", QSpinBox).setValue(250)
    named(out, "Draw panel of residuals", QCheckBox).setChecked(True)
    assert named(out, "Size of the figure", QComboBox).currentText()
    out.write_to(tmp_path / "f.png")
    assert QImage(str(tmp_path / "f.png")).width() == 1000
    assert f"Written: {tmp_path / 'f.png'}." in read(window, "notice text")
    out.write_to(tmp_path / "f.gif")
    assert "A figure can be written as" in read(window, "notice text")
    out.write_to(tmp_path / "no" / "f.svg")
    assert "could not be written" in read(window, "notice text")
    out.close()
    again = panel(window)
    assert again.figure.dpi == 250
    assert again.figure.wide == pytest.approx(101.6)
    assert "residuals" in again.figure.drawn
    again.close()


def test_samples_are_not_drawn_for_a_figure_on_the_interface_thread(window):
    out = PictureOut(window.session, "rehearse", "", window)
    out.show_by(window)
    assert window.session.findings.samples.kept is None
    assert read(out, "figure says") == "Nothing is drawn before the samples are: let them run first."
    assert not out.go.isEnabled()
    _ = window.session.findings.samples.outcome
    out.draw()
    assert out.go.isEnabled()
    out.close()
