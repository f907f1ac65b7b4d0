"""The session between the study and the window, without a widget."""

import pytest

from bright_tether.demo.study import demo_study
from bright_tether.desktop.grid import block_of
from bright_tether.desktop.session import Session
from bright_tether.study import cell_changes, changes, row_changes


@pytest.fixture
def session(qtbot):
    made = Session(demo_study(), step="line")
    yield made
    made.close()


def test_a_preview_is_shown_and_gone_again(session):
    before = session.findings.line.slope
    edit = cell_changes.set_cells(session.study, "t1", {(3, "c4"): 900.0})
    session.preview(edit)
    assert session.findings.line.slope != before
    assert session.study is not session.history.study
    session.preview(None)
    assert session.findings.line.slope == before
    session.preview(edit)
    session.do(None)
    assert session.findings.line.slope == before
    assert not session.history.done


def test_signals_say_what_changed_once(session, qtbot):
    told = []
    session.study_changed.connect(lambda: told.append("study"))
    session.findings_changed.connect(lambda: told.append("findings"))
    session.mark_changed.connect(lambda: told.append("mark"))
    session.mark_rows(frozenset({3}))
    session.mark_rows(frozenset({3}))
    session.do(changes.change_rule(session.study, "digits", 5))
    session.undo()
    session.undo()
    assert told == ["mark", "study", "findings", "study", "findings"]


def test_a_mark_loses_rows_that_are_gone(session):
    session.mark_rows(frozenset({3, 4}))
    session.do(row_changes.delete_rows(session.study, "t1", [3]))
    assert session.mark == {4}


def test_a_tether_that_is_gone_leaves_the_stage(session):
    session.show_tether("k3")
    session.do(changes.drop_tether(session.study, session.tether))
    assert session.tether_id in [tether.id for tether in session.study.tethers]
    session.undo()
    assert len(session.study.tethers) == 7


def test_going_back_along_the_list(session):
    for digits in (4, 5, 6):
        session.do(changes.change_rule(session.study, "digits", digits))
    session.go_back_to(1)
    assert session.findings.rules.digits == 4
    session.go_back_to(3)
    assert session.findings.rules.digits == 6
    session.go_back_to(0)
    assert session.findings.rules.digits == 3


BLOCKS = {
    "1\t2\n3\t4\n": [["1", "2"], ["3", "4"]],
    "1,5\n2,5": [["1,5"], ["2,5"]],
    "a,b\n1,2": [["a", "b"], ["1", "2"]],
    "1;2\r\n3;4\r\n": [["1", "2"], ["3", "4"]],
    "7": [["7"]],
    "": [],
    '"a\tb"\t2': [["a\tb", "2"]],
}


@pytest.mark.parametrize("text", BLOCKS)
def test_blocks_from_the_clipboard(text):
    assert block_of(text) == BLOCKS[text]
