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


def test_a_truth_is_rehearsed_without_any_data(open_window, qtbot):
    from bright_tether.desktop.parts.stated_truth import StatedTruth

    window = open_window()
    panel = StatedTruth(window.session, window)
    panel.show_by(window.head)
    panel.x_drawn.setCurrentIndex(1)
    panel.x_drawn.activated.emit(1)
    for name, text in {
        "rows": "200",
        "low": "50",
        "high": "-4",
        "seed": "3",
        "slope": "2",
        "sd": "1",
    }.items():
        panel.fields[name].setText(text)
    click(named(window, "Draw them, and rehearse the truth"))
    assert (
        read(window, "truth says") == "x must have an sd above 0, and the sd of the residuals be 0 or more."
    )
    panel.fields["high"].setText("4")
    click(named(window, "Draw them, and rehearse the truth"))
    session = window.session
    x = session.table.columns[0].cells
    assert abs(x.mean() - 50) < 1.5
    assert 3 < x.std() < 5
    assert session.step == "rehearse"
    assert (session.tether.rehearse.source, session.tether.rehearse.slope) == ("truth", 2.0)
    step = window.step("rehearse")
    qtbot.waitUntil(lambda: "samples" in step.outcomes, timeout=10_000)
    assert float(read(window.panel, "truth")) == 2.0
