"""Figures for a paper: exactly as large as asked, with text as large as asked, in every kind of file."""

import re
from xml.etree import ElementTree

import msgspec
import pytest
from PyQt6.QtCore import QSizeF
from PyQt6.QtGui import QImage
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtWidgets import QCheckBox, QComboBox, QDoubleSpinBox, QLineEdit, QPushButton, QSpinBox

from bright_tether.demo.loggers import loggers_study
from bright_tether.desktop.parts.picture_out import PictureOut
from bright_tether.live.findings import Findings
from bright_tether.pictures.calendar import calendar_steps
from bright_tether.pictures.figure import plate_of, seen, write_figure
from bright_tether.pictures.offered import CHOICES
from bright_tether.steps.catalogue import step_of
from bright_tether.study import changes
from bright_tether.study.derived import with_tether
from bright_tether.study.figures import USUAL, Figure, FigureAxes, FigureAxis
from bright_tether.study.history import History
from bright_tether.study.package import open_study, save_study
from bright_tether.study.pin_changes import put_pin
from bright_tether.tables.clock import as_written, moment
from bright_tether.theme.tokens import PRINT
from hand import choose, click, named, read


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


AS_IT_COMES = FigureAxes()


def plate(window, axes=AS_IT_COMES, **chosen):
    session = window.session
    return plate_of([(session.findings, session.step, "", axes)], Figure(**chosen))


def drawn(window, axes=AS_IT_COMES, **chosen):
    return plate(window, axes, **chosen).panels[0].drawing


def texts(svg):
    """Each text with its size in pixels of the layout."""
    return [
        (float(size), words)
        for size, words in re.findall(r'<text [^>]*font-size="([\d.]+)"[^>]*>([^<]*)<', svg)
    ]


def test_a_figure_measures_exactly_what_was_asked(window, tmp_path):
    figure = Figure(wide=85, tall=60, points=8, dpi=600)
    drawing = plate(window, wide=85, tall=60, points=8, dpi=600)
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
    image = seen(plate(window), figure, figure.dpi)
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
    drawing = plate_of([(session.findings, step, view, FigureAxes())], Figure()).panels[0].drawing
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
    window.session.files.wait()
    assert QImage(str(tmp_path / "f.png")).width() == 1000
    assert f"Written: {tmp_path / 'f.png'}." in read(window, "notice text")
    out.write_to(tmp_path / "f.gif")
    assert "A figure can be written as" in read(window, "notice text")
    out.write_to(tmp_path / "no" / "f.svg")
    window.session.files.wait()
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
    assert (
        read(out, "figure says")
        == "Nothing is drawn before it is worked out: let the run of its view end first."
    )
    assert not out.go.isEnabled()
    _ = window.session.findings.samples.outcome
    out.draw()
    assert out.go.isEnabled()
    out.close()


def numbers(drawing):
    """The texts that are numbers, as they read."""
    return [words for _, words in texts(drawing.svg) if re.fullmatch(r"[−\d.\u202f]+", words)]


def lines(svg, colour):
    """Widths of the strokes of a colour."""
    root = ElementTree.fromstring(svg)
    found = [one for one in root.iter() if one.get("stroke", "").lower() == colour.lower() and len(one)]
    return [float(one.get("stroke-width")) for one in found]


def test_an_axis_goes_from_where_to_where_it_was_asked_with_its_own_numbers(window):
    x = FigureAxis(low=0, high=300, step=75)
    y = FigureAxis(at=(0.0, 100.0, 250.5, 400.0, 9999.0), name="load, g/m³ <dry>")
    drawing = drawn(window, FigureAxes(title="Before & after", x=x, y=y))
    assert numbers(drawing) == ["0", "75", "150", "225", "300", "0.0", "100.0", "250.5", "400.0"]
    words = [words for _, words in texts(drawing.svg)]
    assert "load, g/m³ &lt;dry&gt;" in "".join(words)
    assert "Before &amp; after" in words
    assert "sediment (mg/L)" not in words
    bare = drawn(window)
    wrong = FigureAxis(low=5, high=1)  # no axis goes so: the picture chooses
    assert numbers(drawn(window, FigureAxes(x=wrong))) == numbers(bare)
    assert numbers(drawn(window, FigureAxes(x=FigureAxis(step=1e-9)))) == numbers(bare)


def test_numbers_and_limits_of_a_log_axis_are_in_the_columns_own_unit(window):
    session = window.session
    tether = msgspec.structs.replace(
        session.tether, view=msgspec.structs.replace(session.tether.view, log_x=True, log_y=True)
    )
    study = with_tether(session.study, tether)
    shown = (
        Findings(study, tether),
        "look",
        "",
        FigureAxes(x=FigureAxis(low=10, high=500, at=(10, 30, 500))),
    )
    drawing = plate_of([shown], Figure()).panels[0].drawing
    assert numbers(drawing)[:3] == ["10", "30", "500"]


def test_small_ticks_a_frame_and_a_legend_beside_are_drawn(window):
    bare = drawn(window, FigureAxes(x=FigureAxis(low=0, high=300, step=100)))
    small = drawn(window, FigureAxes(x=FigureAxis(low=0, high=300, step=100)), minor=9)
    assert numbers(small)[:4] == ["0", "100", "200", "300"]
    assert small.svg.count("<polyline") > bare.svg.count("<polyline") + 10
    framed = drawn(window, frame=True)
    assert framed.svg.count("<rect") + framed.svg.count("<polygon") > drawn(window).svg.count("<rect")
    for placed, inside in (("inside", True), ("outside", False)):
        svg = drawn(window, legend=placed).svg
        (at,) = {float(x) for x in re.findall(r"matrix\(1,0,0,1,([\d.]+),[^>]*>\s*<text [^>]*>Weir", svg)}
        assert (at < 200) is inside, at


@pytest.mark.parametrize(("line", "dot"), [(0.5, 2.5), (2.0, 6.0)])
def test_lines_and_points_are_as_wide_as_they_are_printed(window, line, dot):
    drawing = drawn(window, line=line, dot=dot, points=8)
    per_pixel = 85 / drawing.width / 25.4 * 72
    widths = [one * per_pixel for one in lines(drawing.svg, PRINT.tether)]
    assert widths == pytest.approx([line] * len(widths), rel=0.02)
    assert widths
    root = ElementTree.fromstring(drawing.svg)
    weir = (one for group in root.iter() if group.get("fill", "").lower() == PRINT.hues[0] for one in group)
    reach = [list(map(float, re.findall(r"[MLC ](-?[\d.]+),", one.get("d", "")))) for one in weir]
    across = [max(one) - min(one) for one in reach if one]
    assert min(across) * per_pixel == pytest.approx(dot, rel=0.05)


def test_grey_lines_of_groups_are_told_apart_by_their_dashes(window):
    session = window.session
    session.do(
        changes.change_choice(session.study, session.tether, "compare", "Stations", group=session.tether.tint)
    )
    shown = [(session.findings, "compare", "", FigureAxes())]
    grey = plate_of(shown, Figure(colours="grey")).panels[0].drawing.svg
    own = plate_of(shown, Figure()).panels[0].drawing.svg
    dashes = set(re.findall(r'stroke-dasharray="([^"]+)"', grey)) - {"none"}
    assert len(dashes) >= 2
    assert not set(re.findall(r'stroke-dasharray="([^"]+)"', own)) - {"none"}


def test_a_font_of_the_system_is_used_for_every_word(window):
    drawing = drawn(window, FigureAxes(title="Title"), font="Inter Page", drawn=CHOICES)
    assert set(re.findall(r'<text [^>]*font-family="([^"]*)"', drawing.svg)) == {"Inter Page"}
    assert set(re.findall(r'<text [^>]*font-family="([^"]*)"', drawn(window).svg)) == {"Inter"}


def test_several_pictures_stand_as_panels_with_letters(window, tmp_path):
    session, study = window.session, window.session.study
    shown = [(Findings(study, one), "line", "", FigureAxes()) for one in study.tethers[:3]]
    figure = Figure(wide=175, tall=120, dpi=100)
    made = plate_of(shown, figure, across=2)
    assert [one.letter for one in made.panels] == ["a", "b", "c"]
    a, b, c = (one.area for one in made.panels)
    assert (a.left(), a.top()) == (0, c.left() + a.top())
    assert b.left() > a.right()
    assert c.top() > a.bottom()
    write_figure(made, figure, tmp_path / "f.svg")
    svg = (tmp_path / "f.svg").read_text()
    root = ElementTree.fromstring(svg)
    assert (root.get("width"), root.get("height")) == ("175mm", "120mm")
    assert [words for _, words in re.findall(r"<text( [^>]*font-weight=\"bold\"[^>]*)>([^<]*)<", svg)] == [
        "a",
        "b",
        "c",
    ]
    ids = re.findall(r' id="([^"]+)"', svg)
    assert len(ids) == len(set(ids))
    assert set(re.findall(r"url\(#([^)]+)\)", svg)) <= set(ids)
    for name in ("turbidity (NTU)", "stage (m)", "surveyor A (grade)"):
        assert name in svg
    write_figure(made, figure, tmp_path / "f.png")
    image = QImage(str(tmp_path / "f.png"))
    assert (image.width(), image.height()) == (689, 472)
    # every panel holds its line
    tether = [
        (x, y)
        for x in range(0, 689, 2)
        for y in range(0, 472, 2)
        if image.pixelColor(x, y).name() == PRINT.tether
    ]
    assert {(x > 344, y > 236) for x, y in tether} == {(False, False), (True, False), (False, True)}
    write_figure(made, figure, tmp_path / "f.pdf")
    document = QPdfDocument(None)
    document.load(str(tmp_path / "f.pdf"))
    told = "".join(document.getAllText(0).text().split())
    assert all(name in told for name in ("turbidity(NTU)", "stage(m)", "surveyorA(grade)"))
    assert session.study is study


def test_axes_are_kept_with_the_study_and_styles_for_every_study(window, tmp_path, open_window):
    session = window.session
    session.do(put_pin(session.study, "picture", "Pin it", tether="k2", step="line"))
    out = panel(window)
    named(out, "Step of the x axis", QLineEdit).setText("75")
    named(out, "Title of the figure", QLineEdit).setText("Kept")
    named(out, "Text of the figure, points", QDoubleSpinBox).setValue(10)
    named(out, "Name of the style", QLineEdit).setText("journal")
    click(named(out, "Keep the style", QPushButton))
    assert "is kept, in this study and for others" in read(out, "figure says")
    (action,) = out.beside.menu().actions()
    assert action.text() == "Line: stage ⟶ discharge"
    action.setChecked(True)
    out.draw()
    assert [one.letter for one in out._plate.panels] == ["a", "b"]
    out.write_to(tmp_path / "f.svg")
    window.session.files.wait()
    assert "75" in (tmp_path / "f.svg").read_text()
    out.close()
    save_study(session.study, tmp_path / "s.tether")
    kept = open_study(tmp_path / "s.tether").figures
    assert [one.name for one in kept.styles] == ["journal"]
    assert kept.axes["k1/line/"].x.step == 75
    again = panel(window)
    assert again.axes.axes.title == "Kept"
    again.close()
    session.undo()
    session.undo()
    assert session.study.figures.axes == {}
    other = open_window("--demo")
    other.session.show_step("line")
    out = panel(other)
    named(out, "Text of the figure, points", QDoubleSpinBox).setValue(6)
    choose(named(out, "Style of the figure", QComboBox), "journal")
    assert out.figure.points == 10
    click(named(out, "Forget the style", QPushButton))
    assert named(out, "Style of the figure", QComboBox).findText("journal") < 0
    out.close()


@pytest.mark.parametrize(("field", "typed", "told"), [
    ("Least of the x axis", "low", "“low” is no number: the x axis keeps its own end."),
    ("Step of the y axis", "-5", "A step is a number above 0: the y axis keeps its own numbers."),
    ("Numbers of the y axis", "1 two 3",
     "Numbers of the y axis are typed with spaces between them: what is none is left out."),
])  # fmt: skip
def test_what_cannot_be_meant_is_said_and_the_picture_stands(window, field, typed, told):
    out = panel(window)
    named(out, field, QLineEdit).setText(typed)
    out.draw()
    assert read(out, "figure says") == told
    assert out.go.isEnabled()
    out.close()


@pytest.fixture
def dated(open_window):
    """The second demo at its level over time."""
    window = open_window()
    window.session.take_over(History(loggers_study()))
    window.session.show_tether("k2")
    window.session.show_step("line")
    return window


def test_an_axis_of_dates_takes_dates_and_steps_of_the_calendar(dated, tmp_path):
    out = panel(dated)
    for field, typed in (("Least", "2022-01-01"), ("Most", "2022-07-01"), ("Step", "2 months")):
        named(out, f"{field} of the x axis", QLineEdit).setText(typed)
    out.draw()
    assert read(out, "figure says").startswith("seen at true size")
    words = [words for _, words in texts(out._plate.panels[0].drawing.svg)]
    assert [one for one in words if "2022" in one] == ["Jan 2022", "Mar 2022", "May 2022", "Jul 2022"]
    named(out, "Numbers of the x axis", QLineEdit).setText("2022-01-10; 15 Mar 2022 12:00")
    out.draw()
    words = [words for _, words in texts(out._plate.panels[0].drawing.svg)]
    assert {"10 Jan", "15 Mar 12:00"} <= set(words)
    named(out, "Step of the x axis", QLineEdit).setText("a while")
    assert out.axes.trouble == (
        "A step of dates is such as “3 months” or “1 week”: the x axis keeps its own numbers."
    )
    named(out, "Least of the x axis", QLineEdit).setText("soon")
    assert out.axes.trouble.startswith("“soon” is no date (2021-03-04)")
    named(out, "Least of the x axis", QLineEdit).setText("2022-02-01")
    named(out, "Step of the x axis", QLineEdit).setText("week")
    out.write_to(tmp_path / "f.svg")
    dated.session.files.wait()
    kept = dated.session.study.figures.axes["k2/line/"].x
    assert (kept.step, kept.unit, kept.low) == (1, "weeks", moment("2022-02-01"))
    out.close()
    again = panel(dated)  # as it was typed
    assert named(again, "Least of the x axis", QLineEdit).text() == "2022-02-01"
    assert named(again, "Step of the x axis", QLineEdit).text() == "1 week"
    assert named(again, "Numbers of the x axis", QLineEdit).text() == "2022-01-10; 2022-03-15 12:00"
    again.close()


@pytest.mark.parametrize(("ends", "many", "unit", "expected"), [
    (("2022-01-03", "2022-01-31"), 1, "weeks", ["01-03", "01-10", "01-17", "01-24", "01-31"]),  # Mondays
    (("2022-01-01", "2022-12-31"), 3, "months", ["01-01", "04-01", "07-01", "10-01"]),
    (("2021-06-01", "2022-12-31"), 1, "years", ["01-01"]),
    (("2022-01-01", "2022-12-31"), 1, "seconds", []),  # too many for any axis
])  # fmt: skip
def test_a_step_of_the_calendar_counts_whole_months_and_weeks_from_monday(ends, many, unit, expected):
    found = calendar_steps(*map(moment, ends), many, unit, 200)
    assert [as_written(one)[5:] for one in found] == expected


def spoken(drawing):
    """Every text, however it is set."""
    return {words.strip() for _, words in texts(drawing.svg)}


def drawn_of(window, step, view, axes=AS_IT_COMES, **chosen):
    return plate_of([(window.session.findings, step, view, axes)], Figure(**chosen)).panels[0].drawing


def test_one_doubt_is_points_in_a_frame_with_axes_of_its_own(window):
    axes = FigureAxes(title="Bent?", x=FigureAxis(low=0, high=300, step=100, name="murk"))
    drawing = drawn_of(window, "doubts", "bend", axes, line=1.0, points=8)
    words = spoken(drawing)
    assert {"Bent?", "murk", "residual", "0", "100", "200", "300"} <= set(words)
    assert "Is there a bend?" in drawing.words
    per_pixel = 85 / drawing.width / 25.4 * 72
    widths = [one * per_pixel for one in lines(drawing.svg, PRINT.tether)]
    assert widths == pytest.approx([1.0] * len(widths), rel=0.02)
    assert widths
    without = drawn_of(window, "doubts", "bend", drawn=("line",)).svg
    assert PRINT.hues[0] in drawing.svg
    assert PRINT.hues[0] not in without


def test_six_doubts_take_widths_and_parts(window):
    wide = {"wide": 175, "tall": 120}
    assert PRINT.tether in drawn_of(window, "doubts", "", **wide).svg
    assert PRINT.tether not in drawn_of(window, "doubts", "", drawn=("points",), **wide).svg
    thick = drawn_of(window, "doubts", "", line=2.0, points=8, **wide)
    per_pixel = 175 / thick.width / 25.4 * 72
    assert {round(one * per_pixel, 2) for one in lines(thick.svg, PRINT.tether)} == {2.0}


def test_a_ruler_takes_ends_numbers_name_and_title(window):
    axes = FigureAxes(title="How strong", x=FigureAxis(low=0.5, high=1, step=0.25, name="coefficient"))
    words = {words for _, words in texts(drawn_of(window, "strength", "", axes).svg)}
    assert {"How strong", "coefficient", "+0.50", "+0.75", "+1.00"} <= words
    assert "−1.00" not in words
    by_hand = {words for _, words in texts(
        drawn_of(window, "strength", "", FigureAxes(x=FigureAxis(at=(-0.9, 0.9, 3)))).svg)}  # fmt: skip
    assert {"−0.90", "+0.90"} <= by_hand
    bare = drawn_of(window, "strength", "", drawn=()).svg
    assert drawn_of(window, "strength", "", drawn=("band",)).svg.count("<path") > bare.count("<path")


@pytest.mark.parametrize("view", ["", "luck", "assumptions", "pairs"])
def test_rehearsals_take_axes_widths_and_a_title(window, view):
    run = step_of("rehearse").view(view).run
    if run is not None:
        _ = run(window.session.findings).outcome
    axes = FigureAxes(title="Again and again", x=FigureAxis(name="what comes out"))
    drawing = drawn_of(window, "rehearse", view, axes, wide=120, tall=85, minor=1)
    words = spoken(drawing)
    assert {"Again and again", "what comes out"} <= words
    plain = drawn_of(window, "rehearse", view, wide=120, tall=85)
    assert drawing.svg.count("<polyline") < plain.svg.count("<polyline") - 5  # one small tick, not nine
    if view == "assumptions":  # the names of the cases stay where numbers would be
        assert len(spoken(plain) & words) > 5


def test_what_a_picture_has_not_is_not_offered(window):
    def panel_of(step, view):
        out = PictureOut(window.session, step, view, window)
        out.show_by(window)
        enabled = {
            name: named(out, name, kind).isEnabled()
            for name, kind in (("Draw line", QCheckBox), ("Draw equation, r and n", QCheckBox),
                               ("Step of the x axis", QLineEdit), ("Step of the y axis", QLineEdit))
        }  # fmt: skip
        said = read(out, "figure says")
        out.close()
        return list(enabled.values()), said

    assert panel_of("line", "")[0] == [True, True, True, True]
    assert panel_of("doubts", "bend")[0] == [True, False, True, True]
    six, said = panel_of("doubts", "")
    assert six == [True, False, False, False]
    assert said.endswith("Six pictures, each with axes of its own: open one doubt to choose its axes.")
    ruler, said = panel_of("strength", "")
    assert ruler == [False, False, True, False]
    assert said.endswith("A ruler has one axis, from −1 to +1 at most.")
