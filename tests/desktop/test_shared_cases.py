"""Rows that share a case: asked about once, then told in every step."""

import numpy as np
import pytest
from PyQt6.QtWidgets import QComboBox, QMenu

from bright_tether.tables.cases import repeated_cases
from bright_tether.tables.read_plan import guess_plan, read_content
from hand import click, named, read


def visits(sites=9):
    """Sites of three to six visits each."""
    draw = np.random.default_rng(8)
    lines = ["site,turbidity (NTU),sediment (mg/L)"]
    for site in range(sites):
        level, height = draw.normal(40, 12), draw.normal(0, 12)
        for _ in range(3 + site % 4):
            x = level + draw.normal(0, 5)
            lines.append(
                f"S{site + 1},{x:.1f},{1.5 * level + height + 0.6 * (x - level) + draw.normal(0, 2):.1f}"
            )
    return "\n".join(lines) + "\n"


@pytest.fixture
def window(open_window, csv_file):
    """A window on the visits."""
    return open_window(csv_file(visits(), "visits.csv"))


def test_the_question_is_put_once_and_governs_every_step(window):
    session = window.session
    question = read(window, "likely slip")
    assert question == (
        "site names 9 cases in 39 rows, up to 6 each: are these separate cases, or several rows of one?"
    )
    click(named(window, f"Several rows of a case: {question}"))
    assert not window.step("gather").slips.isVisible()
    assert session.tether.line.errors == "clustered"
    session.show_step("strength")
    said = read(window.panel, "sentences")
    assert "The 39 rows are of 9 cases (site), up to 6 each: r of all rows is" in said
    assert "within cases" in said
    assert "of the means of cases" in said
    session.show_step("line")
    said = read(window.panel, "sentences")
    assert "9 cases decide, so the slope’s test and interval have 8 df." in said
    assert "Within cases, each at its own height, the slope is" in said
    session.show_step("doubts")
    assert (
        "Each of the six checks takes each row for a case of its own: it may promise more than 9 cases can."
        in read(window.panel, "beware")
    )
    session.show_step("forecast")
    window.step("forecast").entries.open()
    box = named(window, "A further row of", QComboBox)
    box.setCurrentIndex(box.findText("S4"))
    box.activated.emit(box.currentIndex())
    said = read(window.panel, "sentences")
    assert "A further row of S4 (6 rows so far) is expected there at" in said
    assert "the interval above is for a new case" in said
    session.undo()
    session.undo()
    assert session.tether.line.errors == "classical"
    session.show_step("gather")
    assert read(window, "likely slip") == question


def test_few_cases_are_said_where_cases_decide(open_window, csv_file):
    window = open_window(csv_file(visits(6), "visits.csv"))
    click(named(window, f"Several rows of a case: {read(window, 'likely slip')}"))
    window.session.show_step("line")
    assert "With only 6 cases (5 df) one case can carry the line." in read(window.panel, "beware")


def test_separate_cases_are_not_asked_about_again(window):
    question = read(window, "likely slip")
    click(named(window, f"Leave: {question}"))
    assert not window.step("gather").slips.isVisible()
    assert window.session.tether.line.errors == "classical"


def test_one_row_a_case_is_a_live_table(window):
    question = read(window, "likely slip")
    session = window.session
    source = session.table.id
    click(named(window, f"One row a case: {question}"))
    menu = named(window, "One row a case", QMenu)
    next(one for one in menu.actions() if one.text().startswith("their mean")).trigger()
    table = session.table
    assert table.name == "visits, one row a site"
    assert table.rows == 9
    assert [column.name for column in table.columns] == ["site", "turbidity (NTU)", "sediment (mg/L)", "rows"]
    assert table.columns[3].cells.tolist() == [3, 4, 5, 6, 3, 4, 5, 6, 3]
    there = session.study.table(source)
    assert table.columns[1].cells[0] == pytest.approx(there.columns[1].cells[:3].mean(), rel=1e-12)
    from bright_tether.study import cell_changes

    session.do(cell_changes.set_cells(session.history.study, source, {(0, "c2"): 1000.0}))
    assert session.table.columns[1].cells[0] == pytest.approx(
        session.study.table(source).columns[1].cells[:3].mean()
    )


@pytest.mark.parametrize(
    ("text", "found"),
    [("site,y\nA,1\nA,2\nB,3\nB,4\nC,4\n", (3, 5, 2)),  # by its name
     ("site,y\nA,1\nB,2\nC,3\nD,4\n", None), ("site,y\nA,1\nA,1\nB,3\nC,4\n", None),  # none twice
     ("rock,y\nA,1\nA,2\nB,3\nC,4\nB,5\n", None),  # groups, not cases
     ("sample id,y\n7,1\n7,2\n7,3\n8,3\n9,4\n", (3, 5, 3)),  # numbers that name
     ("year,y\n2019,1\n2019,2\n2020,3\n2021,4\n", None)],
)  # fmt: skip
def test_columns_that_name_cases(text, found):
    content = text.encode()
    table = read_content(content, "t.csv", "t1", guess_plan(content, "t.csv"))
    told = repeated_cases(table)
    assert (told and (told.cases, told.rows, told.most)) == found
