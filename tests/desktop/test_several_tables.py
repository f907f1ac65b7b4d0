"""Several files as one table, and two tables joined, in the window."""

import msgspec
import pytest
from msgspec.structs import replace
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit, QPushButton, QTableWidget

from bright_tether.desktop.parts.joining import JoinPanel
from bright_tether.study import changes
from hand import choose, click, drop_files, named, press, read, write

HEADS = {4: "time,level (m),turb (NTU)"}


@pytest.fixture
def months(tmp_path):
    """Six files by month; one calls a column otherwise, none tells day from month."""
    paths = []
    for month in range(1, 7):
        path = tmp_path / f"Logger {month:02}.csv"
        rows = [f"{day:02}/{month:02}/2021,{1 + day / 10},{20 + day + month}" for day in range(1, 9)]
        path.write_text("\n".join([HEADS.get(month, "time,level (m),turbidity (NTU)"), *rows]) + "\n")
        paths.append(path)
    return paths


@pytest.fixture
def window(open_window):
    """A window with nothing in it."""
    return open_window()


def test_six_files_become_one_table(window, months):
    drop_files(window, *months)
    assert read(window, "stacking title") == "6 tables as one: 48 rows, 5 columns"
    assert "no row of any table tells which" in read(window, "date question")
    assert not named(window, "One table of all", QPushButton).isEnabled()
    click(named(window, "time: day first"))
    assert "is it the same under another name?" in read(window, "column question")
    choose(named(window, "turb (NTU) goes with", QComboBox), "turbidity (NTU)")
    shown = named(window, "Columns of all tables", QTableWidget)
    assert shown.item(3, 3).text() == "turb (NTU) · number"
    assert read(window, "stacking title") == "6 tables as one: 48 rows, 4 columns"
    click(named(window, "One table of all"))
    assert read(window, "size of the table") == "48 rows, 4 columns, made of 6 tables"
    table = window.session.table
    assert table.name == "Logger"
    assert [column.kind for column in table.columns] == ["category", "date", "number", "number"]
    assert table.columns[1].cells[8] == "2021-02-01"
    assert read(window.panel, "headline") == "level explains, turbidity responds."
    window.session.undo()
    assert len(window.session.study.tables) == 1
    assert not window.session.table.rows


def test_a_table_each_is_looked_at_one_by_one(window, months):
    drop_files(window, *months[:2])
    click(named(window, "A table each"))
    assert read(window, "preview title") == "Before “Logger 01.csv” is taken in (1 further file after it)"


def test_a_file_that_cannot_be_read_is_said_beside_those_that_can(window, months, tmp_path):
    broken = tmp_path / "broken.xlsx"
    broken.write_bytes(b"PK\x03\x04 nothing")
    drop_files(window, *months[:2], broken)
    assert "broken.xlsx" in read(window, "stacking says")
    assert read(window, "stacking title").startswith("2 tables as one")


def test_what_comes_from_other_tables_is_changed_there(window, months):
    drop_files(window, *months[:2])
    click(named(window, "time: day first"))
    click(named(window, "One table of all"))
    grid = window.step("gather").grid
    grid.setFocus()
    grid.setCurrentIndex(grid.model().index(0, 2))
    press(grid, Qt.Key.Key_7)
    assert read(window, "notice text") == "level comes from other tables: its cells are changed there."
    grid.deeds.delete_rows(grid.rows_at_hand())
    assert "come from Logger 01 and Logger 02: they are taken out there" in read(window, "notice text")
    assert window.session.table.rows == 16


def test_two_tables_are_joined_by_an_identifier(open_window, csv_file):
    visits = csv_file("site,level (m)\nA,1\nA,2\nB,3\nC,4\nD,5\n", "visits.csv")
    sites = csv_file("place,height (m)\nA,100\nb,210\nC,300\nC,310\n", "sites.csv")
    window = open_window(sites, visits)
    panel = JoinPanel(window.session, window)
    panel.show_by(window.head)
    assert named(window, "identifier there", QComboBox).currentText() == "place"
    assert "2 of 5 rows of visits find their case in sites." in read(window, "join says")
    assert (
        "1 identifier more than once in sites, so which row is meant cannot be told: left blank (C)."
        in read(window, "join says")
    )
    click(named(window, "capitals and small letters are alike", QCheckBox))
    assert "3 of 5 rows" in read(window, "join says")
    click(named(window, "Join them"))
    table = window.session.table
    assert [column.name for column in table.columns] == ["site", "level (m)", "height (m)"]
    assert table.columns[2].cells[:3].tolist() == [100, 100, 210]
    line = named(window, "What one row is", QLineEdit)
    write(line, "one visit")
    press(line, Qt.Key.Key_Return)
    assert window.session.tether.one_row == "one visit"


def test_a_further_month_goes_under_those_that_are_there(window, months, tmp_path):
    drop_files(window, *months[:4])
    click(named(window, "time: day first"))
    choose(named(window, "turb (NTU) goes with", QComboBox), "turbidity (NTU)")
    click(named(window, "One table of all"))
    session = window.session
    first = int(session.table.row_ids[0])
    session.do(changes.set_aside(session.study, session.tether, {first}, "ice"))
    late = tmp_path / "Logger 07.csv"
    late.write_text(
        "time,level (m),turb (NTU),note\n" + "".join(f"{day}/07/2021,1.{day},30,x\n" for day in range(13, 16))
    )
    drop_files(window, late)
    assert read(window, "stacking title") == "“Logger 07”: 3 rows, 4 columns"
    assert named(window, "Add to the stacked table").text() == "Add to Logger"
    click(named(window, "Add to the stacked table"))
    table = session.table
    assert [column.name for column in table.columns] == [
        "file",
        "time",
        "level (m)",
        "turbidity (NTU)",
        "note",
    ]
    assert table.rows == 35
    assert table.columns[0].cells[-1] == "Logger 07"
    assert table.columns[3].cells[-1] == 30
    assert table.columns[4].cells[0] == ""
    assert [one.row for one in session.tether.asides] == [first]
    grid = window.step("gather").grid.grid
    tip = grid.headerData(34, Qt.Orientation.Vertical, Qt.ItemDataRole.ToolTipRole)
    assert tip == "from Logger 07, row 3"
    session.undo()
    assert session.table.rows == 32


def test_the_files_of_a_made_table_are_looked_at_again(window, months):
    drop_files(window, *months[:2])
    click(named(window, "time: day first"))
    click(named(window, "One table of all"))
    press(window, Qt.Key.Key_F5)
    assert read(window, "notice text") == "2 files looked at: nothing has changed since it was read here."
    months[1].write_text(months[1].read_text() + "09/02/2021,5,50\n")
    press(window, Qt.Key.Key_F5)
    click(named(window, "See what changed"))
    assert "1 row new" in read(window, "reread says")
    click(named(window, "Take the file in as it is now"))
    assert window.session.table.rows == 17


def test_files_keep_to_themselves_where_another_table_came_in_meanwhile(window, months, csv_file):
    drop_files(window, *months[:2])
    click(named(window, "time: day first"))
    before = len(window.session.history.study.tables)
    window.session.open_file(csv_file("a,b\n1,2\n2,3\n4,4\n", "other.csv"))
    click(named(window, "One table of all"))
    study = window.session.history.study
    assert len({one.id for one in study.tables}) == len(study.tables) > before
    assert window.session.table.rows == 16
    assert [column.name for column in window.session.table.columns][1] == "time"


def test_a_stacked_table_that_was_undone_takes_no_more(window, months):
    drop_files(window, *months[:2])
    click(named(window, "time: day first"))
    click(named(window, "One table of all"))
    drop_files(window, months[2])
    click(named(window, "time: day first"))
    window.session.undo()
    click(named(window, "Add to the stacked table"))
    assert read(window, "notice text") == "The table that they were to be added to is no longer there."


def test_a_file_of_a_study_that_kept_no_digest_is_not_said_to_have_changed(window, months):
    drop_files(window, *months[:2])
    click(named(window, "time: day first"))
    click(named(window, "One table of all"))
    history = window.session.history
    older = [
        one if one.source is None
        else msgspec.structs.replace(one, source=msgspec.structs.replace(one.source, digest=""))
        for one in history.study.tables
    ]  # fmt: skip
    window.session.history = replace(
        history, study=msgspec.structs.replace(history.study, tables=tuple(older))
    )
    press(window, Qt.Key.Key_F5)
    assert read(window, "notice text").endswith("has changed since it was read here is not known.")


def test_a_column_that_is_text_in_one_file_is_said(window, tmp_path):
    for name, cells in (("a", "1,2\n2,3\n3,4\n"), ("b", "low,2\nhigh,3\nlow,5\nlow,6\n")):
        (tmp_path / f"{name}.csv").write_text(f"level,y\n{cells}")
    drop_files(window, tmp_path / "a.csv", tmp_path / "b.csv")
    assert "level holds category and number (b): as one column it is text." in read(window, "stacking says")
