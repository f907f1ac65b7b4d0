"""The view Other choices: worked out off the interface thread, looked at, left out, held."""

import dataclasses

import msgspec
import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtWidgets import QComboBox, QLineEdit, QPushButton

from account.test_page import TODAY
from bright_tether.account.composing import page_of
from bright_tether.live.findings import Findings
from bright_tether.study import changes
from bright_tether.study.package import open_study, save_study
from hand import choose, click, named, read


@pytest.fixture
def window(open_window, qtbot):
    """The demo with every other way laid out."""
    window = open_window("--demo")
    window.session.show_step("line")
    window.step("line").show_view("other-choices")
    wait(window, qtbot)
    return window


def part(window):
    return window.step("line").ways


def wait(window, qtbot):
    qtbot.waitUntil(lambda: part(window).outcome is not None and not part(window).work.busy, timeout=20_000)
    window.session.settle()


def said(window):
    """Headline and sentences of the reading on the stage."""
    reading = window.step("line").reading()
    return [str(one) for one in (reading.headline, *reading.sentences)]


def menu_of(window):
    menu = part(window).choose.menu()
    menu.aboutToShow.emit()
    return {one.text(): one for one in menu.actions()}


def test_every_way_is_drawn_with_the_present_one_among_them(window):
    picture = part(window).picture
    assert "61 ways" in picture.accessibleDescription()
    assert picture.dots.x.size == 61
    assert picture.present[0].value() == 55
    assert said(window)[0].startswith("Whichever of 61 ways is taken, sediment rises with turbidity")
    marks = picture.taken.x.size + picture.taken_now.x.size
    assert marks == 4 * 61  # rows, scale, line, errors
    assert picture.taken_now.x.size == 4


def test_every_interval_is_in_view_but_for_a_few_without_end(window):
    picture, found = part(window).picture, part(window).outcome
    ends = [end for one in found.told for end in one.ci]
    low, high = picture.main.viewRange()[1]
    assert low < min(*ends, 0) < max(*ends, 0) < high
    wild = msgspec.structs.replace(found.ways[-1], ci=(found.ways[-1].value - 1e6, 1e6))
    picture.draw(window.session.findings, dataclasses.replace(found, ways=(*found.ways[:-1], wild)))
    assert picture.main.viewRange()[1][1] < 2 * high


def test_a_choice_left_out_is_gone_comes_back_and_can_be_undone(window, qtbot):
    actions = menu_of(window)
    assert not actions["rows in play"].isEnabled()  # what is in force is always looked at
    actions["log turbidity"].setChecked(False)
    wait(window, qtbot)
    assert part(window).outcome.left_out == ("scale=log-x",)
    assert any("Left out by choice: log turbidity." in one for one in said(window))
    assert not menu_of(window)["log turbidity"].isChecked()
    window.session.undo()
    wait(window, qtbot)
    assert len(part(window).outcome.ways) == 61


def test_the_x_between_which_y_is_compared_is_typed(window, qtbot):
    first = named(window, "First x of the change", QLineEdit)
    first.setText("100")
    first.editingFinished.emit()
    wait(window, qtbot)
    assert part(window).outcome.first == 100
    first.setText("low")
    first.editingFinished.emit()
    assert read(window, "way held") == "“low” is no number: the quartile of x stays."
    assert window.session.tether.otherwise.first == 100
    first.setText("")
    first.editingFinished.emit()
    wait(window, qtbot)
    assert window.session.tether.otherwise.first is None


def test_a_way_is_read_where_it_is_clicked(window):
    picture = part(window).picture
    hand = picture.main.getViewBox().hand
    spot = picture.main.getViewBox().mapViewToScene(QPointF(6.1, 50.0))
    assert hand.nearest(spot) == 5
    hand.mark_one(5, Qt.KeyboardModifier.NoModifier)
    way = part(window).outcome.told[5]
    assert read(window, "way held").startswith("6: 82")
    assert "every row · as they are · least squares" in read(window, "way held")
    assert f"n = {way.n}" in read(window, "way held")
    assert picture.held[0].isVisible()
    hand.mark_one(None, Qt.KeyboardModifier.NoModifier)
    assert read(window, "way held") == ""
    assert hand.nearest(picture.main.getViewBox().mapViewToScene(QPointF(-40.0, 0.0))) is None


def test_an_edit_works_them_out_anew_and_a_late_answer_lands_nowhere_else(window, qtbot):
    session = window.session
    session.do(
        changes.set_aside(session.study, session.tether, {int(session.table.row_ids[0])}, "second look")
    )
    wait(window, qtbot)
    assert {one.options.rows for one in part(window).outcome.ways} >= {"every", "after 1", "taken"}
    assert menu_of(window)["without “probe fouled”"].isChecked()
    part(window).refresh()
    session.show_tether("k2")
    wait(window, qtbot)
    assert part(window).outcome is session.findings.other_choices.kept
    assert "discharge rises with stage" in said(window)[0]


def test_where_there_is_no_line_there_are_no_ways(window, qtbot):
    session = window.session
    rows = set(session.table.row_ids.tolist())
    session.do(changes.set_aside(session.study, session.tether, rows, "all of them"))
    session.settle()
    assert part(window).outcome is None
    assert not part(window).isEnabled()
    assert part(window).picture.accessibleDescription() == "no ways to show"


def test_it_is_pinned_written_and_kept(window, qtbot, tmp_path):
    menu_of(window)["log turbidity"].setChecked(False)
    wait(window, qtbot)
    for pinned in ("Pin the reading", "Pin the picture", "Pin the table", "Pin the working"):
        click(named(window, pinned, QPushButton))
    study = window.session.study
    assert [(pin.part, pin.view) for pin in study.pins] == [
        (one, "other-choices") for one in ("reading", "picture", "table", "working")
    ]

    page = page_of(study, window.step("write-up").press, today=TODAY)
    titles = [getattr(block, "title", "") for block in page.blocks]
    assert any("Choices made otherwise" in one for one in titles)
    assert any("Which ways there are" in one for one in titles)
    assert len(page.drawings) == 1
    assert "36 ways" in page.drawings[0].words or "ways from" in page.drawings[0].words
    save_study(study, tmp_path / "s.tether")
    again = open_study(tmp_path / "s.tether")
    assert again.tethers[0].otherwise.left_out == ("scale=log-x",)
    assert Findings(again, again.tethers[0]).other_choices.outcome.left_out == ("scale=log-x",)


def test_coefficients_are_compared_instead_and_back(window, qtbot):
    choose(named(window, "What is compared", QComboBox), "the coefficient")
    wait(window, qtbot)
    assert window.session.tether.otherwise.what == "coefficient"
    told = part(window).outcome.told
    assert f"{len(told)} ways" in part(window).picture.accessibleDescription()
    assert part(window).picture.main.getAxis("left").labelText == "coefficient of correlation"
    assert not part(window).first.isVisible()
    assert {"r (Pearson)", "ρ (Spearman)", "τ (Kendall)", "r, far values bent"} <= set(menu_of(window))
    assert "The coefficient lies between" in said(window)[1]
    menu_of(window)["τ (Kendall)"].setChecked(False)
    wait(window, qtbot)
    assert len(part(window).outcome.told) < len(told)
    window.session.undo()
    window.session.undo()
    wait(window, qtbot)
    assert len(part(window).outcome.ways) == 61
    assert part(window).first.isVisible()
