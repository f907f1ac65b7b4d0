"""An analyst's project on the second study of the Tarrow, as it is read in the window: months, a join, repeated sites,
visits that grow, and a search."""

import shutil
from importlib.resources import files

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QComboBox, QFileDialog, QLineEdit, QTableView, QTableWidget

from bright_tether.demo.loggers import loggers_study
from bright_tether.demo.make_loggers import files as made_files
from bright_tether.demo.make_loggers import write_files
from bright_tether.desktop.parts.joining import JoinPanel
from bright_tether.desktop.parts.work_out import WorkOut
from bright_tether.live.findings import Findings
from bright_tether.study import changes
from hand import choose, click, drop_files, named, press, read, write


@pytest.fixture
def folder(tmp_path):
    """The files of the second demo, as a person has them."""
    place = tmp_path / "tarrow"
    place.mkdir()
    write_files(place)
    return place


def do(window, words):
    """Run an action from the list of all of them."""
    next(deed for deed in window.actions_list.found(words) if deed.words == words).run()
    QApplication.processEvents()


def stacked(window, folder):
    """Six months as one table."""
    drop_files(window, *sorted(folder.glob("tarrow_level_*.csv")))
    choose(named(window, "murk (NTU) goes with", QComboBox), "turbidity (NTU)")
    click(named(window, "One table of all"))


def test_the_files_are_those_that_are_made():
    for name, rows in made_files().items():
        text = files("bright_tether.demo").joinpath(name).read_text(encoding="utf-8")
        assert text == "".join(",".join(row) + "\n" for row in rows)


def test_months_become_one_table_in_time(open_window, folder):
    window = open_window()
    drop_files(window, *sorted(folder.glob("tarrow_level_*.csv")))
    assert read(window, "stacking title") == "6 tables as one: 700 rows, 5 columns"
    assert "where “turbidity (NTU)” is missing: is it the same under another name?" in read(
        window, "column question"
    )
    choose(named(window, "murk (NTU) goes with", QComboBox), "turbidity (NTU)")
    click(named(window, "One table of all"))
    session = window.session
    assert session.table.columns[1].cells[0] == "2022-01-01 00:00"  # told by days above 12
    session.show_step("look")
    said = read(window.panel, "sentences")
    assert "By time the rows run from 2022-01-01 to 2022-06-30 18:00, 698 of 699 steps 6 hours long" in said
    assert "with a gap from 2022-03-08 18:00 to 2022-03-15" in said


def test_a_lag_by_the_clock_leaves_the_gap_blank(open_window, folder):
    window = open_window()
    stacked(window, folder)
    panel = WorkOut(window.session, window)
    panel.show_by(window.head)
    panel.text.setText('earlier("level", time, "6 hours")')
    panel.name.setText("level before (m)")
    panel.add()
    table = window.session.table
    level, before, time = (
        table.named("level").cells,
        table.named("level before").cells,
        table.named("time").cells,
    )
    after_gap = time.tolist().index("2022-03-15 00:00")
    assert before[1] == level[0]
    assert before[after_gap] != before[after_gap]  # not the row before, which is six days old
    assert before[after_gap + 1] == level[after_gap]


def test_a_forecast_at_a_date(open_window, folder):
    window = open_window()
    stacked(window, folder)
    from bright_tether.study import axes

    session = window.session
    session.tie(axes.choose_axes(session.history.study, session.tether, x="c2", y="c3"))
    session.show_step("forecast")
    field = named(window, "Forecast at x", QLineEdit)
    field.selectAll()
    write(field, "2022-07-15")
    press(field, Qt.Key.Key_Return)
    assert read(window.panel, "headline").startswith("At 2022-07-15, level is expected at")
    assert "2022-07-15 lies" in read(window.panel, "sentences")  # beyond what was measured
    assert "(2022-01-01 to 2022-06-30)" in read(window.panel, "sentences")


def test_the_station_list_is_joined(open_window, folder):
    window = open_window(folder / "tarrow_stations.csv", folder / "tarrow_samples.csv")
    panel = JoinPanel(window.session, window)
    panel.show_by(window.head)
    assert named(window, "identifier here", QComboBox).currentText() == "station"
    said = read(window, "join says")
    assert "of 54 rows of tarrow_samples find their case in tarrow_stations" in said
    assert "1 identifier not in tarrow_stations (Bridge)." in said
    assert (
        "1 identifier more than once in tarrow_stations, so which row is meant cannot be told: left blank (Mill)."
        in said
    )
    assert "1 identifier in tarrow_stations alone, and not taken (Source)." in said
    click(named(window, "Join them"))
    heights = dict(
        zip(
            window.session.table.named("station").cells,
            window.session.table.named("height").cells,
            strict=True,
        )
    )
    assert heights["Weir"] == 212
    assert heights["Mill"] != heights["Mill"]


def test_sites_that_were_sampled_again_are_asked_about(open_window, folder):
    window = open_window(folder / "tarrow_samples.csv")
    question = read(window, "likely slip")
    assert question.startswith("site names 12 cases in 54 rows, up to 6 each")
    click(named(window, f"Several rows of a case: {question}"))
    window.session.show_step("line")
    said = read(window.panel, "sentences")
    assert "12 cases decide, so the slope’s test and interval have 11 df." in said
    assert "Within cases, each at its own height, the slope is 0." in said


def test_visits_that_grow_keep_their_exclusions(open_window, folder):
    place = folder / "visits.csv"
    shutil.copy(folder / "tarrow_round_1.csv", place)
    window = open_window(place)
    session = window.session
    session.do(changes.set_aside(session.study, session.tether, {2, 3}, "ice"))  # V07, V08
    shutil.copy(folder / "tarrow_round_2.csv", place)
    window.sources.look()
    assert read(window, "notice text") == "“visits.csv” has changed since it was read here."
    click(named(window, "See what changed"))
    assert "told apart by visit: 8 rows new, 1 row gone, 1 set aside here" in read(window, "reread says")
    table = named(window, "What the file has otherwise", QTableWidget)
    assert [table.item(0, at).text() for at in range(5)][:3] == ["changed", "V10", "discharge"]
    click(named(window, "Take the file in as it is now"))
    kept = session.table.places([one.row for one in session.tether.asides])
    assert [session.table.columns[0].cells[at] for at in kept] == ["V08"]


def test_what_goes_with_sediment_is_told_with_how_many_were_looked_at(open_window, folder, qtbot):
    window = open_window(folder / "tarrow_samples.csv")
    window.session.show_step("look")
    click(named(window, "What goes with y?"))
    qtbot.waitUntil(lambda: not window.opening.pages["screening"]._work.busy, timeout=10_000)
    assert read(window, "screen says").startswith("2 columns against sediment looked at")
    model = named(window, "Columns looked at", QTableView).model()
    assert {model.index(row, 1).data() for row in range(2)} == {"turbidity", "date"}


def test_the_second_demo_opens_and_its_files_can_be_had(open_window, tmp_path, monkeypatch):
    window = open_window()
    do(window, "Open the second demo: files that keep coming")
    assert window.session.study.title == "Tarrow, files that keep coming"
    assert read(window, "size of the table") == "700 rows, 4 columns, made of 6 tables"
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(tmp_path))
    do(window, "Put the second demo’s files into a folder…")
    assert (tmp_path / "tarrow_level_2022_04.csv").exists()
    assert "10 files" in read(window, "notice text")


def test_every_tether_of_the_second_demo_has_its_line():
    study = loggers_study()
    for tether in study.tethers:
        findings = Findings(study, tether)
        assert findings.refusal is None
        assert abs(findings.pearson.r) > 0.8
