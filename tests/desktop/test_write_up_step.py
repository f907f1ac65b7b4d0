"""Write-up in the real window: pins, their order and words, frozen and live; copies and files."""

import re
from datetime import date
from html import unescape

import pytest
from PyQt6.QtCore import QModelIndex, Qt
from PyQt6.QtGui import QGuiApplication, QTextCursor
from PyQt6.QtWidgets import (
    QApplication,
    QCheckBox,
    QComboBox,
    QListWidget,
    QPlainTextEdit,
    QPushButton,
    QTableWidget,
)

from bright_tether.account.composing import page_of
from bright_tether.account.html import html_file
from bright_tether.pictures.output import drawing_of, sized_svg
from bright_tether.study import changes
from bright_tether.study.package import open_study
from bright_tether.study.pin_changes import put_pin
from hand import click, named, press, read, write

ALT = Qt.KeyboardModifier.AltModifier


@pytest.fixture
def window(open_window):
    return open_window("--demo")


def pin(window, step, *parts):
    window.session.show_step(step)
    for part in parts:
        click(named(window, f"Pin the {part}", QPushButton))


def walk_up(window, qtbot):
    """Go to the page and wait until it is set with all its pictures."""
    press(window, Qt.Key.Key_9, ALT)
    step = window.step("write-up")
    settle(step, qtbot)
    return step


def settle(step, qtbot):
    qtbot.waitUntil(
        lambda: not step._later.isActive() and read(step, "page note") != "drawing…", timeout=20_000
    )


def page(step):
    return " ".join(step.page.toPlainText().split())


def shelf(window):
    found = named(window, "Pins in order", QListWidget)
    return [found.item(at).text().split("\n")[0] for at in range(found.count())]


def find_action(window, words):
    deed = next(iter(window.actions_list.found(words)), None)
    assert deed is not None, words
    deed.run()
    QApplication.processEvents()


def test_pins_of_every_step_stand_on_the_page_in_order(window, qtbot):
    for step, parts in {
        "gather": ("reading", "table"), "look": ("reading", "picture"), "strength": ("table", "working"),
        "line": ("reading", "figures", "picture"), "doubts": ("table", "picture"), "forecast": ("table",),
        "rehearse": ("reading", "picture"),
    }.items():  # fmt: skip
        pin(window, step, *parts)
        assert "is pinned" in read(window, "notice text")
    step = walk_up(window, qtbot)
    assert shelf(window)[:4] == ["Gather · reading", "Gather · table", "Look · reading", "Look · picture"]
    told = page(step)
    places = [told.index(words) for words in (
        "Method.", "The columns of numbers", "A tight rising band", "Coefficients", "How r is worked out",
        "sediment = 2.2 + 1.429 · turbidity", "slope 1.429",
            "Is there a bend?",
        "Forecasts", "Over 2000 samples the slope came out", "Rows and exclusions", "probe fouled",
    )]  # fmt: skip
    assert places == sorted(places)
    made = page_of(window.session.study, step.press, today=date.today())
    assert len(made.drawings) == 4
    told = html_file(made, window.session.study)
    assert told.count("<svg") == 4


def test_what_is_pinned_follows_the_study_until_it_is_frozen(window, qtbot):
    pin(window, "line", "figures", "reading")
    step = walk_up(window, qtbot)
    assert "1.429" in page(step)
    named(window, "Pins in order", QListWidget).setCurrentRow(0)
    click(named(window, "Freeze or follow again", QPushButton))
    settle(step, qtbot)
    assert "Nothing in it has changed since." in page(step)
    session = window.session
    rows = {one.row for one in session.tether.asides}
    session.do(changes.take_back(session.history.study, session.tether, rows))
    settle(step, qtbot)
    told = page(step)
    assert "slope: 1.429 then, 1.092 now" in told
    assert "Each extra NTU goes with about 1.09 mg/L more sediment" in told, "the reading is live"
    assert "Changed after results were seen." in told
    click(named(window, "Freeze or follow again", QPushButton))
    settle(step, qtbot)
    assert "then, 1.092 now" not in page(step)
    for _ in range(3):
        session.undo()
    settle(step, qtbot)
    assert "Frozen" not in page(step)


def test_pins_are_moved_dragged_taken_off_and_put_back(window, qtbot):
    pin(window, "line", "reading", "figures", "table")
    walk_up(window, qtbot)
    found = named(window, "Pins in order", QListWidget)
    found.setCurrentRow(0)
    press(found, Qt.Key.Key_Down, ALT)
    assert shelf(window) == ["Line · figures", "Line · reading", "Line · table"]
    click(named(window, "Move the pin down", QPushButton))
    assert shelf(window) == ["Line · figures", "Line · table", "Line · reading"]
    found.model().moveRow(QModelIndex(), 2, QModelIndex(), 0)  # what a drop does
    QApplication.processEvents()
    assert shelf(window) == ["Line · reading", "Line · figures", "Line · table"]
    assert [one.part for one in window.session.study.pins] == ["reading", "figures", "table"]
    found.setCurrentRow(1)
    press(found, Qt.Key.Key_Delete)
    assert shelf(window) == ["Line · reading", "Line · table"]
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert shelf(window) == ["Line · reading", "Line · figures", "Line · table"]


def test_headings_and_notes_are_written_in_place(window, qtbot, tmp_path):
    pin(window, "line", "reading")
    step = walk_up(window, qtbot)
    click(named(window, "Add a heading", QPushButton))
    field = named(window, "Words of the pin", QPlainTextEdit)
    assert field.hasFocus()
    write(field, "Sediment from turbidity")
    click(named(window, "Add a note", QPushButton))
    write(field, "Checked on paper.")
    named(window, "Pins in order", QListWidget).setFocus()
    settle(step, qtbot)
    assert shelf(window) == ["Line · reading", "Heading: Sediment from turbidity", "Note: Checked on paper."]
    assert "Sediment from turbidity Checked on paper." in page(step)
    assert window.document.save(tmp_path / "s.tether") is not False
    qtbot.waitUntil(lambda: (tmp_path / "s.tether").exists() and not window.document.unsaved)
    assert open_study(tmp_path / "s.tether").pins == window.session.study.pins


def test_the_page_is_written_as_shown_in_every_kind(window, qtbot, tmp_path):
    pin(window, "line", "reading", "picture")
    pin(window, "doubts", "picture")
    pin(window, "strength", "picture")
    step = walk_up(window, qtbot)
    step.press._kept.clear()
    for kind in ("html", "pdf", "docx", "odt", "md"):
        step.write_to(tmp_path / f"account.{kind}")
        qtbot.waitUntil(lambda: not step.writing, timeout=20_000)
        assert (tmp_path / f"account.{kind}").stat().st_size > 1000
        assert f"Written: {tmp_path / 'account'}.{kind}" in read(window, "notice text")
    markup = (tmp_path / "account.html").read_text()
    words = unescape(re.sub(r"<(style|svg).*?</\1>|<[^>]+>", " ", markup, flags=re.S))
    for line in step.page.toPlainText().splitlines():
        words_on_screen = line.replace("\ufffc", "").strip()
        if words_on_screen and words_on_screen not in ("Figures of Line",):
            assert words_on_screen.split(". ")[0][:40] in " ".join(words.split()), words_on_screen
    click(named(window, "With evidence", QCheckBox))
    step.write_to(tmp_path / "more.html")
    qtbot.waitUntil(lambda: not step.writing, timeout=20_000)
    assert (tmp_path / "more-evidence" / "results.json").exists()
    step.write_to(tmp_path / "account.doc")
    qtbot.waitUntil(lambda: not step.writing, timeout=20_000)
    assert "could not be written: A write-up can be written as" in read(window, "notice text")
    step.write_to(tmp_path / "no" / "account.html")
    qtbot.waitUntil(lambda: not step.writing, timeout=20_000)
    assert "could not be written" in read(window, "notice text")


def test_the_style_is_chosen_and_the_page_prints(window, qtbot, tmp_path):
    from PyQt6.QtPdf import QPdfDocument
    from PyQt6.QtPrintSupport import QPrinter

    pin(window, "line", "reading", "table")
    step = walk_up(window, qtbot)
    size = step.page.document().size().height()
    style = named(window, "Style of the page", QComboBox)
    style.setCurrentIndex(style.findText("compact"))
    style.activated.emit(style.currentIndex())
    settle(step, qtbot)
    assert window.session.study.style == "compact"
    assert step.page.document().size().height() < size
    printer = step._printer()
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "print.pdf"))
    step.print_to(printer)
    document = QPdfDocument(None)
    document.load(str(tmp_path / "print.pdf"))
    assert "sediment = 2.2 + 1.429 · turbidity" in document.getAllText(0).text()
    document.close()


def test_an_unpinned_study_is_offered_an_account(window, qtbot):
    step = walk_up(window, qtbot)
    assert read(window, "page note") == "nothing pinned yet: this is proposed"
    assert "this account is proposed from the lines of the study" in page(step)
    assert "surveyor A ⟶ surveyor B" in page(step)
    assert not window.panel.isVisible()
    press(window, Qt.Key.Key_4, ALT)
    assert window.panel.isVisible()


def test_letting_a_tether_go_takes_its_pins_with_it_and_undo_brings_both_back(window, qtbot):
    pin(window, "line", "reading", "figures")
    session = window.session
    step = walk_up(window, qtbot)
    named(window, "Pins in order", QListWidget).setCurrentRow(1)
    click(named(window, "Freeze or follow again", QPushButton))
    before = session.study.pins
    session.do(changes.drop_tether(session.history.study, session.tether))
    settle(step, qtbot)
    assert [one.tether for one in session.study.pins] == [None]
    assert "the tether it came from is gone" in page(step)
    session.undo()
    assert session.study.pins == before


def test_figures_and_tables_are_copied_as_text_and_as_html(window):
    clipboard = QGuiApplication.clipboard()
    window.session.show_step("line")
    find_action(window, "copy the figures")
    assert "slope\t1.429\t1.353\t1.505" in clipboard.text()
    assert ">1.429</td>" in clipboard.mimeData().html()
    click(named(window, "Show variation", QPushButton))
    find_action(window, "copy the table")
    assert clipboard.text().splitlines()[0] == "source\tsum of squares\tdf\tmean square\tF\tp"
    click(named(window, "Show errors", QPushButton))
    table = named(window, "Errors side by side", QTableWidget)
    table.setFocus()
    press(table, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    assert clipboard.text().startswith("errors\tse of slope")
    assert '<th scope="col">se of slope</th>' in clipboard.mimeData().html()


def test_a_picture_is_copied_as_pixels_and_as_vectors(window):
    window.session.show_step("line")
    QApplication.processEvents()
    find_action(window, "copy the picture")
    data = QGuiApplication.clipboard().mimeData()
    assert data.hasImage()
    assert b"<svg" in bytes(data.data("image/svg+xml"))


def test_every_picture_on_the_stage_can_be_drawn_as_vectors(window, qtbot):
    session = window.session
    group = session.table.named("station").id
    session.do(
        changes.change_choice(session.history.study, session.tether, "compare", "by station", group=group)
    )
    for step in ("look", "strength", "line", "compare", "forecast", "rehearse"):
        session.show_step(step)
        QApplication.processEvents()
        drawing = drawing_of(window.step(step).picture)
        assert drawing.svg.count("<path") + drawing.svg.count("<polyline") > 10, step
        assert 'width="120mm"' in sized_svg(drawing, 120, 80)
    qtbot.waitUntil(lambda: not window.step("rehearse").work.busy)


def test_the_panel_names_what_can_be_pinned(window, csv_file):
    window.session.show_step("gather")
    shown = [b.text() for b in window.panel._pins.values() if not b.isHidden()]
    assert shown == ["reading", "figures", "table"]
    window.session.show_step("doubts")
    assert window.panel._pins["lineup"].isHidden()
    window.step("doubts").try_lineup()
    click(window.step("doubts").lineup.cells[0])
    assert not window.panel._pins["lineup"].isHidden()
    click(named(window, "Pin the lineup", QPushButton))
    window.session.show_step("write-up")
    window.step("write-up").set_page()
    assert "Lineup: the real picture was picked in" in page(window.step("write-up"))


def test_what_is_open_stays_open_while_pictures_are_drawn(window, qtbot):
    pin(window, "line", "picture")
    pin(window, "doubts", "picture")
    window.session.show_step("write-up")
    window.head.rules.open()
    panel = named(window, "Ground rules panel")
    settle(window.step("write-up"), qtbot)
    assert panel.isVisible()
    panel.close()
    window.find_action()
    window.session.do(changes.change_rule(window.session.study, "digits", 4))
    settle(window.step("write-up"), qtbot)
    assert window.finder.isVisible()


def test_words_refer_to_a_figure_by_its_number_and_follow_it(window, qtbot):
    window.session.show_step("write-up")
    stage = window.step("write-up")
    for part in ("picture", "figures"):
        window.session.do(put_pin(window.session.study, part, "Pin it", tether="k1", step="line"))
    settle(stage, qtbot)
    stage.pins.add("note")
    stage.pins.words.setPlainText("As  seen in ")
    stage.pins.words.moveCursor(QTextCursor.MoveOperation.End)
    menu = stage.pins.refer.menu()
    assert [one.text().split(":")[0] for one in menu.actions()] == ["Figure 1", "Table 1"]
    menu.actions()[0].trigger()
    stage.pins.keep_words()
    settle(stage, qtbot)
    assert [one.text for one in window.session.study.pins if one.part == "note"] == ["As  seen in [[p1]]"]
    assert "As  seen in Figure 1" in stage.page.toPlainText().replace("\xa0", " ")
    window.session.do(put_pin(window.session.study, "picture", "Pin it", tether="k2", step="line", at=0))
    settle(stage, qtbot)
    assert "As  seen in Figure 2" in stage.page.toPlainText().replace("\xa0", " ")


def test_all_is_handed_over_off_the_interface_thread_and_said(window, tmp_path, qtbot):
    window.session.do(put_pin(window.session.study, "reading", "Pin it", tether="k1", step="line"))
    window.session.show_step("write-up")
    stage = window.step("write-up")
    stage.hand_over_to(tmp_path / "all.zip")
    qtbot.waitUntil(lambda: not stage.writing, timeout=60_000)
    assert "Handed over: " in read(window, "notice text")
    assert open_study(tmp_path / "all.zip").title == window.session.study.title
    stage.hand_over_to(tmp_path / "nowhere" / "all.zip")
    qtbot.waitUntil(lambda: not stage.writing, timeout=60_000)
    assert "could not be written" in read(window, "notice text")
