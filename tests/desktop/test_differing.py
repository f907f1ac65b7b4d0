"""One study held against another, in the real window."""

from PyQt6.QtWidgets import QPushButton, QTableWidget

from bright_tether.study import changes
from bright_tether.study.package import save_study
from hand import click, named, read


def test_a_study_is_held_against_another_and_both_stay_as_they_are(open_window, tmp_path, qtbot):
    window = open_window("--demo")
    study = window.session.study
    save_study(study, tmp_path / "before.tether")
    tether = study.tethers[0]
    window.session.do(changes.take_back(study, tether, {tether.asides[0].row}))
    held = window.session.study
    window.opening.hold_against(tmp_path / "before.tether")
    qtbot.waitUntil(lambda: window.opening.pages["differing"].isVisible())
    page = window.opening.pages["differing"]
    assert read(page, "differing says") == "What differs: 1 choice."
    table = named(page, "What differs in what was chosen", QTableWidget)
    assert [table.item(0, at).text() for at in range(4)] == [
        "turbidity ⟶ sediment", "row 31", "set aside: “probe fouled”", "in play",
    ]  # fmt: skip
    assert not page.data.isVisible()
    results = named(page, "What comes of it", QTableWidget)
    assert [results.item(row, 2).text() for row in range(2)] == ["64", "65"]
    assert window.session.study is held
    click(named(page, "Back to the study", QPushButton))
    assert not page.isVisible()
    window.opening.hold_against(tmp_path / "none.tether")
    qtbot.waitUntil(lambda: "none.tether" in read(window, "notice text"))
    assert not page.isVisible()
