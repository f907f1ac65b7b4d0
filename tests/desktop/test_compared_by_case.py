"""Lines whose rows share cases: what Compare says, shows and works out then."""

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QLineEdit, QPushButton, QSpinBox, QTableWidget

from bright_tether.account.comparison import comparison_record
from bright_tether.study import axes, changes
from bright_tether.tables.filters import Condition
from bright_tether.words import digits as d
from hand import choose, click, named, press, read, write


def seasons():
    """Nine sites, each with visits in two seasons."""
    draw = np.random.default_rng(8)
    lines = ["site,season,turbidity (NTU),sediment (mg/L)"]
    for site in range(9):
        level, height, tilt = draw.normal(40, 12), draw.normal(0, 12), draw.normal(1.4, 0.5)
        for visit in range(4 + site % 3):
            x = level + draw.normal(0, 6)
            y = 20 + height + tilt * x + 0.15 * x * (visit % 2) + draw.normal(0, 2)
            lines.append(f"S{site + 1},{('wet', 'dry')[visit % 2]},{x:.1f},{y:.1f}")
    return "\n".join(lines) + "\n"


def rows_of(table):
    return [[table.item(r, c).text() for c in range(table.columnCount())] for r in range(table.rowCount())]


@pytest.fixture
def window(open_window, csv_file):
    """A window on the seasons, with several rows a case, comparing them."""
    window = open_window(csv_file(seasons(), "seasons.csv"))
    click(named(window, f"Several rows of a case: {read(window, 'likely slip')}"))
    window.session.show_step("compare")
    choose(named(window, "Compare with", QComboBox), "the groups of season")
    return window


def test_cases_in_both_lines_let_the_test_by_case_decide(window):
    comparison = window.session.findings.comparison
    found = comparison.by_case
    assert (comparison.decides, found.cases, found.shared, found.slopes.df) == ("by_case", 9, 9, 8)
    assert found.slopes.se < 0.8 * comparison.slopes.separate.se  # what a site adds to both falls out
    said = read(window, "sentences")
    assert f"(t = {d.figure(found.slopes.t, 3)}, 8 df, {d.p_value(found.slopes.p)})" in said
    assert "9 of 9 cases have rows in both, so their errors go together: the test by case decides." in said
    rungs = f"(slopes F(1, 8) = {d.figure(found.parallel.f, 3)}"
    assert f"By F on errors by case, one line for all is compatible with the data {rungs}" in said
    assert "The two correlations, judged by case, " in said
    assert "Judged by case: differences, rungs, every two groups and correlations." in said
    told = comparison_record(window.session.findings)
    assert (told["decides"], told["by_case"]["slopes"]["df"]) == ("by_case", 8)


def test_tables_and_working_hold_what_is_judged_by_case(window):
    found = window.session.findings.comparison.by_case
    click(named(window, "Show differences", QPushButton))
    rows = {row[0]: row for row in rows_of(named(window, "Differences", QTableWidget))}
    assert rows["slopes, by case"][3] == d.figure(found.slopes.t, 3)
    assert rows["intercepts, by case"][4] == rows["heights, by case"][4] == "8"
    click(named(window, "Show rungs", QPushButton))
    assert rows_of(named(window, "Rungs", QTableWidget))[2][1] == d.figure(found.coincident.f, 4)
    press(window, Qt.Key.Key_W, Qt.KeyboardModifier.ControlModifier)
    assert read(window, "working: cases") == "9, 9"


def test_a_margin_is_judged_by_case_too(window):
    click(named(window, "More entries", QPushButton))
    field = named(window, "Margin of equivalence", QLineEdit)
    field.selectAll()
    write(field, "0.5")
    press(field, Qt.Key.Key_Return)
    assert window.session.findings.comparison.equivalence.basis == "by_case"
    assert "±0.5 mg/L per NTU of each other (by case, p" in read(window, "sentences")


def test_strength_is_judged_by_case_and_shuffles_whole_cases(window, qtbot):
    session = window.session
    session.show_step("strength")
    found = session.findings.by_case
    said = read(window, "sentences")
    ends = d.coefficients(found.pearson.ci, 3)
    assert f"r of all rows is {d.coefficient(session.findings.pearson.r, 3)} ({ends} by case, 95 %)" in said
    assert (
        "9 cases decide: the intervals of r, ρ and τ rest on what each is with one case after another left"
        in said
    )
    ruler = named(window, "Ruler of coefficients")
    assert ruler.rows[0].ci == found.pearson.ci
    assert ruler.rows[2].ci == found.kendall.ci
    named(window, "Shuffles", QSpinBox).setValue(2000)
    with qtbot.waitSignal(window.step("strength").extra.work.done):
        click(named(window, "Shuffle y against x", QPushButton))
    assert "shuffles of whole cases r came" in read(window, "permutation p")
    press(window, Qt.Key.Key_W, Qt.KeyboardModifier.ControlModifier)
    assert read(window, "working: interval by case") == d.coefficients(found.pearson.ci, 7)


def test_columns_looked_at_are_judged_by_case(window, qtbot):
    window.opening.look_at_columns()
    page = window.opening.pages["screening"]
    qtbot.waitUntil(lambda: "looked at" in read(window, "screen says"))
    assert "looked at, judged by case (site): 1 with p ≤ 0.05" in read(window, "screen says")
    assert page.model.lines[0].ci == window.session.findings.by_case.pearson.ci


def test_two_tethers_of_one_table_share_their_cases(window):
    """Wet against dry as tethers of their own come out as the groups do."""
    session = window.session
    of_groups = session.findings.comparison.by_case.slopes
    first = session.tether
    season = session.table.named("season").id
    edit, other = changes.add_tether(session.study, first.table)
    session.do(edit)
    session.do(axes.choose_axes(session.study, session.study.tether(other), x=first.x, y=first.y))
    for tether, kept in ((first.id, "wet"), (other, "dry")):
        wanted = (Condition(column=season, relation="is", texts=(kept,)),)
        session.do(changes.filter_rows(session.study, session.study.tether(tether), wanted))
    session.do(changes.change_choice(session.study, session.study.tether(first.id), "compare", "The other", group=None,
                                     other=other))  # fmt: skip
    session.show_tether(first.id)
    session.show_step("compare")
    comparison = session.findings.comparison
    assert (comparison.source, comparison.decides) == ("tethers", "by_case")
    found = comparison.by_case.slopes
    assert (found.se, found.df) == (pytest.approx(of_groups.se, rel=1e-9), of_groups.df)
    assert "9 of 9 cases have rows in both" in read(window, "sentences")
