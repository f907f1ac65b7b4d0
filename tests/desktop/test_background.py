"""What may be long is done off the interface thread: typing stays free, and every end is said."""

import gc
import threading
from datetime import date

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtWidgets import QPushButton

from bright_tether.account.composing import page_of
from bright_tether.account.export import export
from bright_tether.account.tables import export_table
from bright_tether.demo.study import demo_study
from bright_tether.desktop import document as documents
from bright_tether.desktop import session as sessions
from bright_tether.desktop.background import Pool
from bright_tether.desktop.deeds import write_table
from bright_tether.desktop.grid_model import NOTE_ROLE
from bright_tether.study import cell_changes
from bright_tether.study.journal import recover
from bright_tether.study.package import save_study
from bright_tether.study.pin_changes import put_pin
from bright_tether.tables.clock import moments
from bright_tether.tables.read_plan import read_file
from hand import click, named, read


@pytest.fixture
def long(monkeypatch):
    """Every file counts as long, and every table."""
    monkeypatch.setattr(sessions, "IN_PLACE_BYTES", -1)
    monkeypatch.setattr(sessions, "IN_PLACE_ROWS", -1)


@pytest.fixture
def held(monkeypatch):
    """Reading waits until it is let go. threads : who read."""
    gate = threading.Event()
    gate.threads = []

    def slowly(*arguments):
        gate.threads.append(threading.current_thread())
        assert gate.wait(20)
        return read_file(*arguments)

    monkeypatch.setattr(sessions, "read_file", slowly)
    yield gate
    gate.set()


def settled(window, qtbot):
    qtbot.waitUntil(lambda: not window.session.busy, timeout=20_000)


def test_typing_stays_free_while_a_file_is_read_and_nothing_typed_is_lost(
    open_window, csv_file, qtbot, long, held
):
    window = open_window(csv_file("a,b\n1,2\n2,3\n3,5\n", "first.csv"))
    held.set()
    settled(window, qtbot)
    held.clear()
    session = window.session
    session.open_file(csv_file("c,d\n1,2\n2,4\n3,7\n", "second.csv"))
    assert session.busy
    assert "working" in window.head.name.subtitle.text()
    first = session.study.tables[0]
    session.do(cell_changes.set_cells(session.study, first.id, {(0, "c1"): 7.5}))
    assert session.study.tables[0].columns[0].cells[0] == 7.5
    held.set()
    settled(window, qtbot)
    assert [table.name for table in session.study.tables] == ["first", "second"]
    assert session.study.tables[0].columns[0].cells[0] == 7.5
    assert session.findings.line.slope == pytest.approx(2.5)
    assert threading.main_thread() not in held.threads
    assert "working" not in window.head.name.subtitle.text()


def test_a_file_that_cannot_be_read_is_said_whatever_the_error(
    open_window, tmp_path, qtbot, long, monkeypatch
):
    window = open_window("--demo")
    before = window.session.study
    window.session.open_file(tmp_path / "none.csv")
    settled(window, qtbot)
    assert "There is no file “none.csv”" in read(window, "notice text")

    def broken(*arguments):
        raise RuntimeError("of a kind that nobody foresaw")

    monkeypatch.setattr(sessions, "read_file", broken)
    window.session.open_file(tmp_path / "none.csv")
    settled(window, qtbot)
    assert "could not be read (RuntimeError)" in read(window, "notice text")
    assert window.session.study is before


def test_a_study_is_opened_and_every_step_shown_off_the_interface_thread(open_window, tmp_path, qtbot, long):
    window = open_window("--demo")
    settled(window, qtbot)
    save_study(window.session.study, tmp_path / "s.tether")
    window.document.open(tmp_path / "s.tether")
    settled(window, qtbot)
    window.document.wait()
    assert window.document.path == tmp_path / "s.tether"
    for step, said in (
        ("strength", "straight-line relationship"),
        ("doubts", "doubts"),
        ("forecast", "expected"),
    ):
        window.session.show_step(step)
        settled(window, qtbot)
        assert said in (read(window, "headline") + read(window, "sentences"))
    window.session.show_step("line")
    assert window.session.busy
    assert window.panel._headline.text() == "Working it out…"
    click(named(window, "Show other lines", QPushButton))
    settled(window, qtbot)
    assert window.step("line").others.table.rowCount() > 3


def test_a_table_is_written_whole_off_the_interface_thread(open_window, tmp_path, qtbot, long):
    window = open_window("--demo")
    settled(window, qtbot)
    write_table(window, tmp_path / "out.csv")
    settled(window, qtbot)
    assert f"Written: {tmp_path / 'out.csv'}" in read(window, "notice text")
    export_table(window.session.table, tmp_path / "again.csv")
    assert (tmp_path / "out.csv").read_bytes() == (tmp_path / "again.csv").read_bytes()
    write_table(window, tmp_path / "out.none")
    settled(window, qtbot)
    assert "A table can be written as" in read(window, "notice text")
    write_table(window, tmp_path / "no" / "out.csv")
    settled(window, qtbot)
    assert "could not be written" in read(window, "notice text")


def test_a_pdf_is_set_off_the_interface_thread_and_reads_as_one_set_on_it(
    open_window, tmp_path, qtbot, monkeypatch
):
    from bright_tether.account import paged

    window, threads, plain = open_window("--demo"), [], paged.pdf_of
    monkeypatch.setattr(
        paged, "pdf_of", lambda *held: (threads.append(threading.current_thread()), plain(*held))[1]
    )
    for part in ("reading", "picture"):
        window.session.do(put_pin(window.session.study, part, "Pin it", tether="k1", step="line"))
    window.session.show_step("write-up")
    settled(window, qtbot)
    stage = window.step("write-up")
    stage.write_to(tmp_path / "a.pdf")
    qtbot.waitUntil(lambda: not stage.writing, timeout=60_000)
    assert threads
    assert threading.main_thread() not in threads

    def words(name):
        document = QPdfDocument(None)
        document.load(str(tmp_path / name))
        return [document.getAllText(at).text() for at in range(document.pageCount())]

    shown = page_of(window.session.study, stage.press, today=date.today())
    export(shown, window.session.study, tmp_path / "b.pdf", stage.press)
    assert "1.353 and 1.505" in " ".join(words("a.pdf"))
    assert words("a.pdf") == words("b.pdf")


def test_work_in_a_pool_keeps_its_order_and_goes_on_after_an_error(qtbot):
    pool, got = Pool(), []
    pool.do(lambda: "first", got.append, small=True)
    assert got == ["first"], "what is small is done at once where nothing waits"
    gate = threading.Event()
    pool.submit(lambda: gate.wait(20) and 1 / 0, got.append)
    pool.do(lambda: "last", got.append, small=True)
    assert got == ["first"], "and waits its turn where something does"
    gate.set()
    pool.wait()
    assert [type(one).__name__ for one in got] == ["str", "ZeroDivisionError", "str"]
    pool.close()
    assert not [one for one in threading.enumerate() if one.name.startswith("pool")]


def test_unsaved_work_is_taken_up_off_the_interface_thread(open_window, tmp_path, qtbot, long, monkeypatch):
    window, readers = open_window("--demo"), []

    def recovered(folder):
        readers.append(threading.current_thread())
        return recover(folder)

    monkeypatch.setattr(documents, "recover", recovered)
    settled(window, qtbot)
    session = window.session
    session.do(cell_changes.set_cells(session.study, "t1", {(3, "c3"): 7.5}))
    window.document.new()
    window.document.wait()
    window.document.take_up(window.document.unfinished()[0][0])
    assert session.busy
    settled(window, qtbot)
    assert session.study.tables[0].column("c3").cell(3, 3) == 7.5
    assert threading.main_thread() not in readers
    window.document.take_up(tmp_path / "nothing")
    settled(window, qtbot)
    assert "cannot be read any more" in read(window, "notice text")
    assert session.study.tables[0].column("c3").cell(3, 3) == 7.5


def test_closing_while_a_study_is_opened_loses_nothing_and_leaves_no_thread(
    open_window, tmp_path, qtbot, long
):
    save_study(demo_study(), tmp_path / "s.tether")
    window = open_window("--demo")
    settled(window, qtbot)
    session = window.session
    session.do(cell_changes.set_cells(session.study, "t1", {(3, "c3"): 7.5}))
    window.document.open(tmp_path / "s.tether")
    window.close()
    assert not [one for one in threading.enumerate() if one is not threading.main_thread()]
    later = open_window()
    settled(later, qtbot)
    assert [recover(folder).history.study.tables[0].column("c3").cell(3, 3)
            for folder, _ in later.document.unfinished()] == [7.5]  # fmt: skip


def test_a_long_column_of_dates_is_read_beside_the_window(open_window, csv_file, qtbot, long, monkeypatch):
    threads = []

    def watched(cells):
        threads.append(threading.current_thread())
        return moments(cells)

    window = open_window()
    monkeypatch.setattr("bright_tether.tables.column.moments", watched)
    window.session.open_file(
        csv_file("day,a,b\n2021-03-04,1,2\n,2,3\n2021-03-08,3,5\n2021-03-09,4,6\n", "days.csv")
    )
    head = named(window, "Table").grid
    qtbot.waitUntil(lambda: not window.session.busy and head.headerData(0, Qt.Orientation.Horizontal, NOTE_ROLE)
                    == "date · 1 missing")  # fmt: skip
    assert threads
    assert threading.main_thread() not in threads


def test_what_goes_in_circles_is_collected_on_the_interface_thread_alone(open_window, qtbot):
    """Widgets and items of a picture that was let go hold each other: in another thread, ending them is a crash."""
    window = open_window()
    seen = []

    def note(phase, told):
        seen.append(threading.current_thread())

    def litter():
        for _ in range(20_000):
            circle = []
            circle.append(circle)

    gc.collect()
    gc.callbacks.append(note)
    try:
        window.session.files.submit(litter, lambda value: None)
        window.session.files.wait()
        assert not seen
        qtbot.waitUntil(lambda: bool(seen), timeout=5_000)
        assert set(seen) == {threading.main_thread()}
    finally:
        gc.callbacks.remove(note)
    assert gc.get_count()[0] < 20_000
    window.close()
    assert gc.isenabled()
