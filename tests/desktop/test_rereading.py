"""A file that changes: compared before it is taken in, asked where a case cannot be told, found where it moved."""

import pytest
from PyQt6.QtWidgets import QComboBox, QFileDialog, QPushButton, QTableWidget

from bright_tether.study import changes
from bright_tether.study.package import open_study
from hand import choose, click, named, read

LABELLED = "site,x,y\nA,1,2\nB,2,4.5\nC,3,5.5\nD,4,8\nE,5,9\n"
PLAIN = "x,y\n1,2\n2,4.5\n3,5.5\n4,8\n5,9\n"


@pytest.fixture
def on_file(open_window, csv_file):
    """A window on a file with its third row set aside, and the file's path."""

    def make(text):
        path = csv_file(text, "visits.csv")
        window = open_window(path)
        session = window.session
        session.do(changes.set_aside(session.study, session.tether, {2}, "late"))
        return window, path

    return make


def cells(window, name):
    """What a table of figures shows."""
    table = named(window, name, QTableWidget)
    return [
        tuple(table.item(row, at).text() if table.item(row, at) else "" for at in range(table.columnCount()))
        for row in range(table.rowCount())
    ]


def test_what_changed_is_shown_with_the_results_before_it_is_taken_in(on_file):
    window, path = on_file(LABELLED)
    path.write_text("site,x,y\nZ,9,17\nA,1,2\nC,3,5.5\nD,4,8.5\nE,5,9\n")
    window.session.reread()
    assert read(window, "reread title") == "“visits” as its file is now"
    assert named(window, "Cases are told apart by", QComboBox).currentText() == "site"
    assert cells(window, "What the file has otherwise") == [
        ("changed", "D", "y", "8", "8.5"), ("new", "Z", "", "", "Z, 9, 17"), ("gone", "B", "", "B, 2, 4.5", ""),
    ]  # fmt: skip
    before, after = cells(window, "Results before and after")
    assert before[:3] == ("x ⟶ y", "before", "4")
    assert after[1:3] == ("after", "4")
    assert before[3] != after[3]
    assert window.session.table.column("c2").cells[1] == 2  # nothing is changed before it is said
    click(named(window, "Take the file in as it is now"))
    table = window.session.table
    assert table.column("c1").cells.tolist() == ["Z", "A", "C", "D", "E"]
    (aside,) = window.session.tether.asides
    assert table.column("c1").cells[table.places([aside.row])[0]] == "C"
    assert "told apart by site: 1 row new, 1 row gone, 1 cell changed" in read(window, "notice text")
    window.session.undo()
    assert window.session.table.column("c1").cells.tolist() == ["A", "B", "C", "D", "E"]


def test_a_case_that_cannot_be_told_is_asked_for(on_file):
    window, path = on_file(PLAIN)
    path.write_text("x,y\n9,17\n1,2\n2,4.5\n3,5.9\n4,8\n5,9\n")
    window.session.reread()
    assert "cannot be told for sure" in read(window, "reread says")
    assert read(window, "row question") == "Which row of the file is row 3: 3, 5.5?"
    assert not named(window, "Take the file in as it is now", QPushButton).isEnabled()
    choose(named(window, "Now row 3 is", QComboBox), "row 4: 3, 5.9")
    assert cells(window, "What the file has otherwise")[0] == ("changed", "row 3", "y", "5.5", "5.9")
    click(named(window, "Take the file in as it is now"))
    table = window.session.table
    assert table.places([one.row for one in window.session.tether.asides]).tolist() == [3]


def test_the_table_is_left_as_it_was(on_file):
    window, path = on_file(LABELLED)
    path.write_text(LABELLED.replace("C,3,5.5\n", ""))
    window.session.reread()
    click(named(window, "Leave the table as it was"))
    assert window.session.table.rows == 5
    assert window.session.tether.asides


def test_nothing_changed_is_said_and_nothing_shown(on_file):
    window, _ = on_file(LABELLED)
    window.session.reread()
    assert read(window, "notice text") == "“visits” read again: nothing changed."


def test_another_column_can_tell_cases_apart(on_file):
    window, path = on_file(LABELLED)
    path.write_text("site,x,y\nQ,1,2\nR,2,4.5\nS,3,5.5\nT,4,8\nU,5,9\n")
    window.session.reread()
    assert "5 rows new, 5 rows gone" in read(window, "reread says")
    choose(named(window, "Cases are told apart by", QComboBox), "x")
    assert "told apart by x: 5 cells changed" in read(window, "reread says")
    click(named(window, "Take the file in as it is now"))
    assert [one.row for one in window.session.tether.asides] == [2]


def test_a_file_that_moved_is_pointed_to(on_file, monkeypatch, tmp_path):
    window, path = on_file(LABELLED)
    moved = tmp_path / "elsewhere" / "visits 2.csv"
    moved.parent.mkdir()
    path.rename(moved)
    window.session.reread()
    assert "There is no file “visits.csv”" in read(window, "notice text")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(moved), ""))
    click(named(window, "Point to it…"))
    click(named(window, "Take the file in as it is now"))
    assert window.session.table.source.path == str(moved)


def test_a_study_moved_with_its_file_finds_it(on_file, tmp_path):
    window, path = on_file(LABELLED)
    home, away = path.parent / "home", path.parent / "away"
    home.mkdir()
    window.document.save(home / "s.tether")
    window.document.wait()
    away.mkdir()
    path.rename(away / "visits.csv")
    (away / "in").mkdir()
    (home / "s.tether").rename(away / "in" / "s.tether")
    study = open_study(away / "in" / "s.tether")
    assert study.tables[0].source.path == str(away / "visits.csv")


def test_a_changed_source_is_said_when_the_window_comes_back(on_file):
    window, path = on_file(LABELLED)
    window.sources.look()
    assert not window.notice.isVisible()
    path.write_text(LABELLED + "F,6,13\n")
    window.sources.look()
    assert read(window, "notice text") == "“visits.csv” has changed since it was read here."
    click(named(window, "See what changed"))
    assert "1 row new" in read(window, "reread says")
    click(named(window, "Leave the table as it was"))
    window.notice.hide()
    window.sources.look()
    assert not window.notice.isVisible()  # said once


def test_a_table_that_was_undone_while_its_file_stood_there_is_said(on_file):
    window, path = on_file(LABELLED)
    path.write_text(LABELLED + "F,6,13\n")
    window.session.reread()
    while window.session.history.done:
        window.session.undo()
    click(named(window, "Take the file in as it is now"))
    assert read(window, "notice text") == "The table that was read from this file is no longer there."
