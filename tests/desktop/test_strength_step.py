"""The step Strength in the real window: ruler, pictures, working, shuffles."""

import json

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QApplication, QLineEdit, QPushButton, QSpinBox, QTableView, QTableWidget

from bright_tether.command.parser import run
from bright_tether.words import digits as d
from hand import click, drag, named, press, read, read_figure, spot_of, write


@pytest.fixture
def window(open_window):
    made = open_window("--demo")
    press(made, Qt.Key.Key_3, Qt.KeyboardModifier.AltModifier)
    return made


def show(window, view):
    click(named(window, f"Show {view}", QPushButton))


def test_screen_and_command_give_the_same_figures(window, capsys, tmp_path):
    from bright_tether.account.tables import export_table

    path = tmp_path / "visits.csv"
    export_table(window.session.table, path)
    call = ["analyse", str(path), "--x", "turbidity (NTU)", "--y", "sediment (mg/L)", "--format", "json"]
    # the command has no rows set aside: bring them back on the screen
    window.session.mark_rows(frozenset(a.row for a in window.session.tether.asides))
    window.drawer.bring_back()
    assert run(call, lambda _: 1) == 0
    told = json.loads(capsys.readouterr().out)["correlation"]
    found = window.session.findings
    assert told["pearson"]["r"] == found.pearson.r
    assert told["spearman"]["rho"] == found.spearman.rho
    assert told["kendall"]["tau_b"] == found.kendall.tau_b
    assert read_figure(window, "r") == d.coefficient(told["pearson"]["r"], 3)
    assert read_figure(window, "τ-b") == d.coefficient(told["kendall"]["tau_b"], 3)
    rows = {row.name: row for row in named(window, "Ruler of coefficients").rows}
    assert rows["Spearman ρ"].value == told["spearman"]["rho"]
    assert rows["Spearman ρ"].critical == told["spearman"]["critical"]
    assert rows["Kendall τ-b"].ci == tuple(told["kendall"]["ci"])


def test_dragging_a_point_moves_the_ruler_as_the_hand_moves(window, qtbot):
    ruler, plot = named(window, "Ruler of coefficients"), named(window, "Products picture")
    before = [row.value for row in ruler.rows]
    row = int(window.session.findings.pairs.at[3])
    window.session.mark_rows(frozenset({row}))
    start = spot_of(plot, row)
    drag(plot, start, start - QPoint(0, 120), let_go=False)
    during = [row.value for row in ruler.rows]
    assert all(a != b for a, b in zip(before, during, strict=True))
    qtbot.waitUntil(lambda: read_figure(window, "r") == d.coefficient(during[0], 3))
    press(plot, Qt.Key.Key_Escape)
    assert [row.value for row in ruler.rows] == before
    assert not window.session.history.done


def test_a_reversed_run_and_ties_are_named_with_their_cost(window):
    window.session.show_tether("k3")
    said = read(window, "sentences")
    assert "From row 6 (R06) to row 10 (R10)" in said
    assert "10 of the 10 broken comparisons" in said
    assert "4 of 105 comparisons are ties" in said
    click(named(window, "Mark the 5 rows that run back", QPushButton))
    assert window.session.mark == frozenset(range(5, 10))


def test_every_pair_opens_the_tether_that_hides_an_offset(window):
    window.session.show_tether("k3")
    show(window, "every pair")
    grid = named(window, "Every pair of columns", QTableWidget)
    assert grid.item(0, 0).text().startswith("+0.903\nn = 15")
    before = len(window.session.study.tethers)
    click(grid.viewport(), grid.visualItemRect(grid.item(1, 0)).center())
    assert len(window.session.study.tethers) == before + 1
    x, y = window.session.findings.x_column, window.session.findings.y_column
    assert (x.short, y.short) == ("surveyor A", "surveyor C")
    assert "chosen among 3 that were looked at" in read(window.panel, "beware")
    assert read_figure(window, "r") == "+1.000"
    assert "lies 2.00 grade above surveyor A in every row: an offset" in read(window, "sentences")
    click(grid.viewport(), grid.visualItemRect(grid.item(0, 0)).center())
    assert window.session.tether_id == "k3"


def test_agreement_shows_mean_and_limits(window):
    window.session.show_tether("k7")
    show(window, "agreement")
    plot, told = named(window, "Differences picture"), window.session.findings.agreement
    assert plot.levels[0].value() == told.mean_difference
    assert (plot.levels[1].value(), plot.levels[2].value()) == told.limits
    across, heights = plot.along.getData()
    assert (tuple(across), tuple(heights)) == (told.means, told.at_means)
    window.session.show_tether("k1")
    assert "one unit" in read(window, "agreement note")


def test_comparisons_of_the_clicked_row(window):
    window.session.show_tether("k3")
    show(window, "comparisons")
    plot = named(window, "Comparisons picture")
    assert read(window, "comparisons of one row").startswith(
        "Row 6 (R06) against the others: order kept with 10"
    )
    row = int(window.session.table.row_ids[0])
    click(plot.viewport(), spot_of(plot, row))
    assert read(window, "comparisons of one row").startswith(
        "Row 1 (R01) against the others: order kept with 14"
    )


def test_working_row_by_row_is_stepped_through_and_copied(window):
    window.session.show_tether("k3")
    show(window, "row by row")
    table = named(window, "Working row by row", QTableView)
    model = table.model()
    assert model.rowCount() == 16
    table.setFocus()
    table.selectRow(0)
    press(table, Qt.Key.Key_Down)
    assert window.session.mark == frozenset({1})
    click(named(window, "Copy the table", QPushButton))
    lines = QApplication.clipboard().text().splitlines()
    products = [float(line.split("\t")[-1]) for line in lines[1:-1]]
    assert sum(products) / 14 == pytest.approx(window.session.findings.pearson.r, rel=1e-12)
    click(named(window, "Row by row: τ", QPushButton))
    heads = [model.headerData(i, Qt.Orientation.Horizontal) for i in range(model.columnCount())]
    assert heads[-3:] == ["concordant", "discordant", "tied"]
    sums = [model.data(model.index(15, len(heads) - 3 + i)) for i in range(3)]
    tau = window.session.findings.kendall
    assert sums[:2] == [str(tau.concordant), str(tau.discordant)]
    click(named(window, "Row by row: ρ", QPushButton))
    first = model.data(model.index(0, 4))
    click(named(window, "Highest first", QPushButton))
    assert model.data(model.index(0, 4)) == d.figure(16 - float(first), 7)


def test_critical_values_mark_the_present_cell(window):
    window.session.show_tether("k5")
    show(window, "critical")
    table = named(window, "Critical values", QTableWidget)
    row = next(r for r in range(table.rowCount()) if table.item(r, 0).text() == "6")
    assert table.item(row, 3).text() == f"{window.session.findings.pearson.critical:.4f}"
    assert table.item(row, 3).font().bold()
    assert not table.item(row, 2).font().bold()


def test_shuffles_run_with_a_seed_and_are_forgotten_when_the_pairs_change(window, qtbot):
    shuffle = window.step("strength").extra
    window.session.show_tether("k5")
    named(window, "Shuffles", QSpinBox).setValue(2000)
    named(window, "Seed of the shuffles", QSpinBox).setValue(8)
    with qtbot.waitSignal(shuffle.work.done):
        click(named(window, "Shuffle y against x", QPushButton))
    said = read(window, "permutation p")
    assert "of 2000 shuffles" in said
    assert d.p_value(window.session.findings.permutation(2000, 8).outcome.p) in said
    assert named(window, "Ruler of coefficients").luck.sum() == 2000
    window.session.show_tether("k4")
    assert shuffle.result is None


def test_shuffling_can_be_stopped_and_keeps_what_it_has(window, qtbot):
    named(window, "Shuffles", QSpinBox).setValue(1_000_000)
    go = named(window, "Shuffle y against x", QPushButton)
    shuffle = window.step("strength").extra
    with qtbot.waitSignal(shuffle.work.progressed):
        click(go)
    with qtbot.waitSignal(shuffle.work.done):
        click(go)
    assert 0 < shuffle.result.shuffles < 1_000_000


def test_the_working_decides_both_ways(window):
    press(window, Qt.Key.Key_W, Qt.KeyboardModifier.ControlModifier)
    assert read(window, "working: by p") == "yes"
    assert read(window, "working: by critical value") == "yes"
    assert read(window, "working: concordant") == "1901"
    window.session.do(_rule(window, "decide", "spearman"))
    window.session.do(_rule(window, "alpha", 0.02))
    window.session.show_tether("k5")
    assert "exact p = 0.033" in read(window, "sentences")
    assert "other side of α" in read(window, "sentences")
    assert read(window, "working: by p") == "yes"


def _rule(window, name, value):
    from bright_tether.study import changes

    return changes.change_rule(window.session.history.study, name, value)


def test_a_rule_changed_after_the_result_was_seen_is_said(window):
    window.session.do(_rule(window, "alpha", 0.1))
    assert "Changed after results were seen: α from 0.05 to 0.1" in read(window, "beware")
    press(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert "Changed after" not in window.panel._beware_text.text()


def test_words_for_strength_are_the_analysts_own(window):
    press(window, Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
    field = named(window, "Words for strength", QLineEdit)
    field.selectAll()
    write(field, "0 slack, 0.5 taut")
    window.head.rules.panel.close()
    assert read(window, "headline").startswith(
        "A taut rising straight-line relationship (r = +0.979, p < 0.001)"
    )


def test_a_rule_can_be_this_tethers_own(window):
    press(window, Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
    panel = window.head.rules.panel
    panel.own.setChecked(True)
    panel.alpha.selectAll()
    write(panel.alpha, "0.01")
    assert window.session.findings.rules.alpha == 0.01
    assert window.session.study.rules.alpha is None
    click(named(window, "Significance level α: back to default", QPushButton))
    assert window.session.findings.rules.alpha == 0.05
    panel.close()


@pytest.mark.parametrize(
    ("text", "said"),
    [
        (
            "a,b\n1,2\n2,4\n3,6\n",
            "Every pair lies on one line (r = +1.000): nothing is left over for a test.",
        ),
        ("a,b\n1,5\n2,5\n3,5\n4,5\n", "One of the columns does not vary: nothing can go together with it."),
        ("a,b\n1,1\n1,2\n1,3\n", "No line yet."),
        ("a,b\n1,1\n2,3\n3,1\n", "These data are compatible with no linear relationship (r = 0.000"),
        ("a,b\n1,2\n2,1\n", "No line yet."),
    ],
)
def test_small_and_odd_sets_get_plain_words(open_window, csv_file, text, said):
    window = open_window(csv_file(text))
    for step in ("look", "strength"):
        window.session.show_step(step)
        for view in window.step(step).step.views:
            if step == "strength":
                window.step(step).show_view(view.id)
    assert read(window, "headline").startswith(said)


def test_far_values_are_bent_in_a_view_of_their_own(open_window, qtbot):
    window = open_window("--demo")
    window.session.show_step("strength")
    click(named(window, "Show bent r", QPushButton))
    picture = window.step("strength").bent
    assert picture.isVisible()
    assert picture.cloud.x.size == 64
    assert np.abs(picture.cloud.x).max() == 1
    assert "With what lies far out bent inward, r is +0.9" in read(window, "headline")
    row = int(picture.cloud.row_ids[5])
    window.session.mark_rows(frozenset({row}))
    assert picture.mask().sum() == 1
    click(named(window, "Pin the picture", QPushButton))
    click(named(window, "Pin the table", QPushButton))
    assert [(pin.part, pin.view) for pin in window.session.study.pins] == [
        ("picture", "far-bent"),
        ("table", "far-bent"),
    ]
    window.session.show_step("write-up")
    qtbot.waitUntil(
        lambda: "r with far values bent" in window.step("write-up").page.toPlainText(), timeout=10_000
    )
