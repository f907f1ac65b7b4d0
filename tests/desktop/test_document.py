"""The study's file under the window: nothing is lost, and nothing is said before it is true."""

import os
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QPlainTextEdit

from bright_tether.demo.study import demo_study
from bright_tether.study import cell_changes, changes, row_changes
from bright_tether.study.package import open_study, save_study
from bright_tether.study.pin_changes import put_pin
from hand import click, named, press, read, write

CONTROL = Qt.KeyboardModifier.ControlModifier


def cell(window, row, value):
    """Change a cell of the demo's first table."""
    session = window.session
    session.do(cell_changes.set_cells(session.history.study, "t1", {(row, "c3"): value}))


def value_of(study, row):
    return study.tables[0].column("c3").cell(row, row)


@pytest.fixture
def saved(open_window, tmp_path):
    """The window on a study of its own, and the file."""
    path = tmp_path / "mine.tether"
    save_study(demo_study(), path)
    window = open_window(path)
    return window, path


def save(window):
    press(window, Qt.Key.Key_S, CONTROL)
    window.document.wait()


def test_a_new_study_leaves_the_old_file_and_keeps_unsaved_work(saved):
    window, path = saved
    before = path.read_bytes()
    cell(window, 3, 123.0)
    press(window, Qt.Key.Key_N, CONTROL)
    assert window.document.path is None
    assert window.session.table.rows == 0
    assert "is kept" in read(window, "notice text")
    write(window.step("gather").grid, "7")
    window.document.wait()
    assert not window.document.save()
    assert path.read_bytes() == before
    window.document.take_up(window.document.unfinished()[-1][0])
    assert value_of(window.session.study, 3) == 123.0
    assert window.document.path == path
    save(window)
    assert value_of(open_study(path), 3) == 123.0


@pytest.mark.parametrize("way", ["open", "drop", "take up"])
def test_opening_another_study_keeps_unsaved_work(saved, tmp_path, way):
    window, _ = saved
    other = tmp_path / "other.tether"
    save_study(changes.rename_study(demo_study(), "Other").apply(demo_study()), other)
    if way == "take up":
        cell(window, 5, 55.0)
        window.document.new()
    cell_row = 3
    if way == "take up":
        window.session.do(cell_changes.type_block(window.session.study, "t1", 0, 0, [["1", "2"]]))
        window.document.take_up(window.document.unfinished()[0][0])
        assert value_of(window.session.study, 5) == 55.0
    else:
        cell(window, cell_row, 99.0)
        window.opening.open_path(other)
        assert window.session.study.title == "Other"
    assert "is kept" in read(window, "notice text")
    click(named(window, "Take it up again"))
    if way == "take up":
        assert window.session.table.rows == 1
    else:
        assert value_of(window.session.study, 3) == 99.0


def test_any_error_of_the_writer_is_said_and_tried_again(saved, monkeypatch):
    window, path = saved
    with monkeypatch.context() as broken:
        broken.setattr(
            "bright_tether.study.package.write_package",
            lambda *_: (_ for _ in ()).throw(OverflowError("odd")),
        )
        broken.setattr(
            "bright_tether.study.journal.encode_edit", lambda *_: (_ for _ in ()).throw(KeyError("odd"))
        )
        cell(window, 3, 1.0)
        window.document.wait()
        assert "cannot be written down" in read(window, "notice text")
        save(window)
        assert "could not be saved (an error of this program, OverflowError" in read(window, "notice text")
        assert "not saved" in read(window, "subtitle")
        assert window.document.unsaved
        assert window.document.put_at_risk()
        window.document.new()
        assert "so leaving it would lose it" in read(window, "notice text")
        assert window.session.study.tables[0].rows == 71
        window.close()
        assert window.isVisible()
        assert "closing would lose it" in read(window, "notice text")
    cell(window, 4, 2.0)
    window.document.wait()
    assert "written down again" in read(window, "notice text")
    save(window)
    assert "saved " in read(window, "subtitle")
    assert value_of(open_study(path), 3) == 1.0


@pytest.mark.parametrize("typed", ["inf", "1e999", "1_000", "half \ud800 letter"])
def test_odd_texts_in_a_number_column_are_saved_as_they_stand(saved, typed):
    window, path = saved
    session = window.session
    column = session.table.column("c3")
    session.do(cell_changes.set_cells(session.study, "t1", {(3, "c3"): column.read(typed)}))
    save(window)
    assert not window.document.unsaved
    assert value_of(open_study(path), 3) == typed.replace("\ud800", "?")


def test_a_folder_and_a_file_that_are_not_utf8(open_window, tmp_path):
    folder = Path(os.fsdecode(os.fsencode(tmp_path) + b"/\xe9t\xe9"))
    folder.mkdir()
    path = Path(os.fsdecode(os.fsencode(folder) + b"/caf\xe9.tether"))
    table = Path(os.fsdecode(os.fsencode(folder) + b"/d\xe9bit.csv"))
    table.write_text("x,y\n1,2\n2,4\n3,7\n")
    window = open_window(table)
    assert window.session.table.name == "d?bit"
    window.document.save(path)
    window.document.wait()
    assert path.exists()
    window.session.do(row_changes.add_rows(window.session.study, window.session.table.id, 1))
    save(window)
    assert open_study(path).tables[0].rows == 4
    press(window, Qt.Key.Key_F5)
    assert "read again" in read(window, "notice text")


def test_a_failed_save_under_another_name_changes_neither_name_nor_journal(saved, tmp_path):
    window, path = saved
    cell(window, 3, 1.0)
    window.document.save(tmp_path / "nowhere" / "x.tether")
    window.document.wait()
    assert window.document.path == path
    assert "could not be saved" in read(window, "notice text")
    save(window)
    assert value_of(open_study(path), 3) == 1.0


def test_a_file_that_somebody_else_changed_is_not_saved_over_unasked(saved):
    window, path = saved
    theirs = changes.rename_study(demo_study(), "Theirs").apply(demo_study())
    save_study(theirs, path)
    cell(window, 3, 1.0)
    save(window)
    assert "was changed by something else" in read(window, "notice text")
    assert open_study(path).title == "Theirs"
    assert window.document.unsaved
    click(named(window, "Save over it"))
    window.document.wait()
    assert value_of(open_study(path), 3) == 1.0
    os.utime(path)
    cell(window, 3, 2.0)
    save(window)
    assert value_of(open_study(path), 3) == 2.0


def test_work_taken_up_again_asks_too(saved, open_window):
    window, path = saved
    cell(window, 3, 1.0)
    window.document.wait()
    window.close()
    save_study(changes.rename_study(demo_study(), "Theirs").apply(demo_study()), path)
    later = open_window()
    later.offer_unfinished()
    click(named(later, "Take it up again"))
    assert value_of(later.session.study, 3) == 1.0
    save(later)
    assert "was changed by something else" in read(later, "notice text")
    assert open_study(path).title == "Theirs"


def test_a_file_that_is_gone_is_there_again_and_that_is_said(saved):
    window, path = saved
    path.unlink()
    cell(window, 3, 1.0)
    save(window)
    assert "it is there again" in read(window, "notice text")
    assert value_of(open_study(path), 3) == 1.0


def test_further_names_of_the_file_are_said(saved, tmp_path):
    window, path = saved
    os.link(path, tmp_path / "second.tether")
    cell(window, 3, 1.0)
    save(window)
    assert "1 further name on disk" in read(window, "notice text")


def test_an_unusable_state_folder_leaves_saving_possible(saved, tmp_path, monkeypatch):
    window, path = saved
    (tmp_path / "file").touch()
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "file"))
    cell(window, 3, 1.0)
    window.document.wait()
    assert "cannot be written down (Not a directory): save it now" in read(window, "notice text")
    save(window)
    assert value_of(open_study(path), 3) == 1.0
    window.document.save(tmp_path / "other")
    window.document.wait()
    assert open_study(tmp_path / "other.tether").tables


def test_what_is_typed_in_the_write_up_is_in_the_study_the_journal_and_the_page(saved, open_window, qtbot):
    window, path = saved
    session = window.session
    session.do(put_pin(session.study, "note", "Add", text="Note"))
    press(window, Qt.Key.Key_9, Qt.KeyboardModifier.AltModifier)
    pins = window.step("write-up").pins
    pins.list.setCurrentRow(0)
    words = named(window, "Words of the pin", QPlainTextEdit)
    words.setFocus()
    words.selectAll()
    done = len(session.history.done)
    write(words, "Gauged by hand")
    save(window)
    assert open_study(path).pins[0].text == "Gauged by hand"
    write(words, " in rain")
    qtbot.waitUntil(lambda: session.study.pins[0].text == "Gauged by hand in rain")
    qtbot.waitUntil(lambda: "Gauged by hand in rain" in window.step("write-up").page.toPlainText())
    assert len(session.history.done) == done + 1
    write(words, " and wind")
    window.close()
    later = open_window()
    later.offer_unfinished()
    click(named(later, "Take it up again"))
    assert later.session.study.pins[0].text == "Gauged by hand in rain and wind"
    later.session.undo()


def test_the_name_field_left_open_is_taken_before_saving(saved):
    window, path = saved
    window.rename_study()
    field = named(window, "Study title")
    field.selectAll()
    write(field, "Spring")
    window.document.save()
    window.document.wait()
    assert open_study(path).title == "Spring"
