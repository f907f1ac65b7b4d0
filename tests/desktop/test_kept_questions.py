"""Sums in Gather, the next seed, samples as a table."""

from PyQt6.QtWidgets import QTableWidget

from hand import click, named, read


def test_the_sums_of_a_typed_set_can_be_checked(open_window, short_file):
    window = open_window(short_file)
    click(named(window, "Sums of x and y"))
    table = named(window, "Sums of the pairs", QTableWidget)
    lines = {table.item(row, 0).text(): table.item(row, 1).text() for row in range(table.rowCount())}
    findings = window.session.findings
    x, y = findings.pairs.x, findings.pairs.y
    names = findings.x_column.short, findings.y_column.short
    assert lines["n"] == str(x.size)
    assert float(lines[f"Σ {names[0]}"]) == x.sum()
    assert float(lines[f"Σ {names[0]} · {names[1]}"]) == (x * y).sum()
    assert float(lines[f"population sd of {names[1]} (÷ n)"]) == float(f"{y.std():.12g}")


def test_draw_again_goes_on_with_the_next_seed_and_samples_become_a_table(open_window, short_file, qtbot):
    window = open_window(short_file)
    session = window.session
    session.show_step("rehearse")
    step = window.step("rehearse")
    qtbot.waitUntil(lambda: "samples" in step.outcomes, timeout=10_000)
    first = read(window.panel, "mean")
    assert step.go.text() == "Draw again"
    click(named(window, "Draw samples"))
    assert session.tether.rehearse.seed == 2
    qtbot.waitUntil(lambda: "samples" in step.outcomes and not step.work.busy, timeout=10_000)
    assert read(window.panel, "mean") != first
    step.keep_samples()
    assert session.step == "gather"
    assert [column.name for column in session.table.columns] == [
        "slope of a sample", "intercept of a sample", "r of a sample"]  # fmt: skip
    assert session.table.rows == 2000
    assert session.table.name == "2000 samples, seed 2"
