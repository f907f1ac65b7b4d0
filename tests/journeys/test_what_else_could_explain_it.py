"""The third demo, walked: a third column, and one exclusion that turns the decision."""

from PyQt6.QtWidgets import QComboBox, QPushButton

from bright_tether.demo.make_what_else import RAIN, REACHES, rain, reaches, write_files
from bright_tether.demo.what_else import what_else_study
from bright_tether.study import changes
from hand import choose, click, named, read
from journeys.test_files_that_keep_coming import do


def test_the_files_that_ship_are_those_that_are_made(tmp_path):
    from importlib.resources import files

    write_files(tmp_path)
    for name, rows in ((RAIN, rain()), (REACHES, reaches())):
        shipped = files("bright_tether.demo").joinpath(name).read_text(encoding="utf-8")
        assert (tmp_path / name).read_text(encoding="utf-8") == shipped
        assert len(shipped.splitlines()) == len(rows)


def test_rain_takes_half_of_the_slope_away_and_warmth_none(open_window):
    window = open_window()
    do(window, "Open the third demo: what else could explain it")
    assert window.session.study.title == "Tarrow, what else could explain it"
    assert "With rain the day before and water temperature held" in read(window, "headline")

    def said(*columns):
        session = window.session
        ids = tuple(one.id for one in session.table.columns if one.short in columns)
        session.do(changes.change_choice(session.history.study, session.tether, "held", "Hold", columns=ids))
        return " ".join(map(str, window.step("line").reading().sentences))

    assert "Holding rain the day before makes the slope 52 % smaller." in said("rain the day before")
    assert "Holding water temperature leaves the slope much as it is" in said("water temperature")
    said("rain the day before")
    choose(named(window, "The slope differs along", QComboBox), "differs along rain the day before")
    click(named(window, "Draw slope along", QPushButton))
    assert window.step("line").held_page.along.lines[2].getData()[0] is not None


def test_one_reach_turns_the_decision_and_every_other_way_says_so(open_window, qtbot):
    window = open_window()
    do(window, "Open the third demo: what else could explain it")
    session = window.session
    session.show_tether("k2")
    assert not session.findings.decision.reject
    stage = window.step("line")
    stage.show_view("other-choices")
    qtbot.waitUntil(lambda: stage.ways.outcome is not None, timeout=20_000)
    assert "In all 42 ways the change of gravel with gradient comes out above 0" in str(
        stage.reading().headline
    )
    assert "In the present way 0 lies within the interval." in map(str, stage.reading().sentences)
    flooded = session.table.named("note").cells.tolist().index("after the flood")
    row = int(session.table.row_ids[flooded])
    session.do(changes.set_aside(session.history.study, session.tether, {row}, "after the flood"))
    assert session.findings.decision.reject
    qtbot.waitUntil(lambda: stage.ways.outcome is not None and not stage.ways.work.busy, timeout=20_000)
    said = list(map(str, stage.reading().sentences))
    assert "In the present way 0 lies outside the interval." in said
    assert any(one.startswith("Setting rows aside") and "led from 3.6 to 6.6" in one for one in said)
    assert stage.ways.picture.path.getData()[0].size == 2


def test_every_tether_of_it_is_tied():
    study = what_else_study()
    assert [one.id for one in study.tethers] == ["k1", "k2"]
    assert all(one.x and one.y for one in study.tethers)
