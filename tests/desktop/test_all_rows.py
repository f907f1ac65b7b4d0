"""A table that stays where it is: a share is drawn, every step is walked with it, and Line goes through all rows."""

import re
from contextlib import contextmanager

import numpy as np
import pikepdf
import pyarrow as pa
import pyarrow.parquet as pq
import pytest
from msgspec.structs import replace
from PyQt6.QtWidgets import QLineEdit, QSpinBox, QTableWidget
from scipy import stats

from account.test_page import TODAY
from bright_tether.account.composing import page_of
from bright_tether.account.handing_over import hand_over
from bright_tether.account.markdown import markdown_file
from bright_tether.account.pieces import AllFindings
from bright_tether.claims.all_rows import all_rows_claim
from bright_tether.far.cluster import ClusterEngine
from bright_tether.far.place import Place
from bright_tether.far.share import draw_share, place_of, share_of
from bright_tether.live import all_rows as live
from bright_tether.pictures.press import press_alone
from bright_tether.study.cell_changes import set_cells
from bright_tether.study.changes import change_choice, filter_rows, set_aside
from bright_tether.study.package import open_study, save_study
from bright_tether.study.pin_changes import put_pin
from bright_tether.study.pins import Drawing
from bright_tether.tables.delimited import Trouble, UnreadableFile
from bright_tether.tables.filters import Condition
from bright_tether.words.readings import all_rows as words
from bright_tether.words.readings.rows import share_in_words
from hand import click, named, read

pytest.importorskip("duckdb")
ROWS = 9000
X, Y = "turbidity (NTU)", "load (mg/L)"


@pytest.fixture(scope="module")
def columns():
    draw = np.random.default_rng(12)
    x = draw.normal(50, 10, ROWS)
    y = 20 + 2 * x + draw.normal(0, 5, ROWS)
    y[::40] = np.nan
    return x, y, np.array(["Weir", "Ford", "Mill"])[draw.integers(0, 3, ROWS)]


@pytest.fixture
def folder(tmp_path, columns):
    """The whole table as a folder of two Parquet files."""
    x, y, site = columns
    table = pa.table({X: x, Y: pa.array(y, from_pandas=True), "site": site})
    place = tmp_path / "bottles"
    place.mkdir()
    pq.write_table(table.slice(0, 4000), place / "1.parquet")
    pq.write_table(table.slice(4000), place / "2.parquet")
    return place


@pytest.fixture
def window(open_window, folder, qtbot):
    """A share of 1000 rows, in Line."""
    window = open_window()
    window.opening.open_path(folder)
    qtbot.waitUntil(lambda: "far table" in window.opening.pages and not window.session.busy)
    page = window.opening.pages["far table"]
    qtbot.waitUntil(page.isVisible)
    named(window, "Rows of the share", QSpinBox).setValue(1000)
    named(window, "Seed of the draw", QSpinBox).setValue(7)
    click(page.take)
    qtbot.waitUntil(lambda: window.session.table.rows == 1000 and not window.session.busy)
    window.session.show_step("line")
    window.session.settle()
    return window


def all_of(window, qtbot):
    """The view that goes through all rows, once it has."""
    step = window.step("line")
    step.show_view("all-rows")
    qtbot.waitUntil(lambda: step.all_rows.outcome is not None and not window.session.busy, timeout=30_000)
    window.session.settle()
    return step.all_rows


def headline(window):
    return str(window.step("line").reading().headline)


def test_what_a_table_holds_is_shown_before_a_share_is_drawn(open_window, folder, qtbot):
    window = open_window()
    window.opening.open_path(folder)
    qtbot.waitUntil(
        lambda: "far table" in window.opening.pages and window.opening.pages["far table"].isVisible()
    )
    assert "9000 rows and 3 columns" in read(window, "far table says").replace("\u202f", " ")
    table = named(window, "Columns of the whole table", QTableWidget)
    held = [tuple(table.item(row, at).text() for at in range(2)) for row in range(3)]
    assert held == [(X, "numbers"), (Y, "numbers"), ("site", "texts")]
    assert not window.opening.pages["far table"].tables.isVisible()
    assert not window.opening.pages["far table"].whole.isVisible()  # a folder is not taken in
    click(window.opening.pages["far table"].leave)
    assert window.session.table.rows == 0


def test_the_share_is_rows_of_the_whole_drawn_by_chance(window, columns, folder):
    table = window.session.table
    x, y, site = columns
    assert np.array_equal(table.named(X).cells, x[table.row_ids])
    assert np.array_equal(table.named(Y).cells, y[table.row_ids], equal_nan=True)
    assert table.named("site").cells.tolist() == site[table.row_ids].tolist()
    assert np.all(np.diff(table.row_ids) > 0)
    assert 4000 < table.row_ids.mean() < 5000
    assert (share_of(table).rows, share_of(table).of, share_of(table).seed) == (1000, ROWS, 7)
    again = draw_share(Place(folder), 1000, 7)
    other = draw_share(Place(folder), 1000, 8)
    assert np.array_equal(again.row_ids, table.row_ids)
    assert not np.array_equal(other.row_ids, table.row_ids)
    assert draw_share(Place(folder), 20_000, 1).rows == ROWS
    assert int(table.fresh_row_ids(1)[0]) == ROWS
    assert "a share of 9000 rows, drawn by chance (seed 7)" in shelf(window)


def shelf(window):
    from bright_tether.words.readings.rows import out_of_play

    return " ".join(out_of_play(window.session.findings)).replace("\u202f", " ")


def test_all_rows_stand_beside_the_share(window, columns, qtbot):
    part = all_of(window, qtbot)
    x, y, _ = columns
    there = np.isfinite(y)
    line = stats.linregress(x[there], y[there])
    claim = all_rows_claim(window.session.findings, part.outcome)
    assert claim.n == there.sum()
    assert claim.slope == pytest.approx(line.slope, rel=1e-12)
    half = stats.t.ppf(0.975, claim.n - 2) * line.stderr
    assert claim.interval == pytest.approx((line.slope - half, line.slope + half), rel=1e-12)
    low, high = window.session.findings.line.ci_slope
    assert claim.held == ("holds" if low <= line.slope <= high else "misses")
    said = re.match(
        r"Over all ([\d\u202f]+) pairs load changes by ([\d.]+) mg/L for every extra NTU", headline(window)
    )
    assert said[1].replace("\u202f", "") == str(there.sum())
    assert float(said[2]) == pytest.approx(line.slope, abs=0.001)
    sentences = " ".join(map(str, window.step("line").reading().sentences))
    assert "its interval holds the slope of all rows" in sentences
    r, own = re.search(r"r is ([\d.]+) over all, ([\d.]+) in the share", sentences).groups()
    assert float(r) == pytest.approx(line.rvalue, abs=0.001)
    assert float(own) == pytest.approx(window.session.findings.pearson.r, abs=0.001)
    assert "differs clearly from 0 too" not in sentences  # not so many rows
    shown = re.match(r"load = ([\d.]+) \+ ([\d.]+) · turbidity", read(window, "equation"))
    assert float(shown[2]) == pytest.approx(line.slope, abs=0.001)  # of all rows, where these are shown
    assert float(shown[1]) == pytest.approx(line.intercept, abs=0.02)
    (working,) = window.step("line").workings()
    assert any("8775" in step.how or "8775" in step.result for step in working.steps)
    assert window.step("line").extra is None  # what tells of the share's line
    window.step("line").show_view("line")
    window.session.settle()
    assert window.step("line").extra.isVisible()
    assert shown[0] not in read(window, "equation")
    window.step("line").show_view("all-rows")
    window.session.settle()
    counts = part.outcome.counts
    assert counts.sum() == there.sum()
    across = np.histogram(x[there], bins=live.WIDE)[0]
    assert np.abs(counts.sum(axis=0) - across).max() <= 1  # of a value on an edge
    up = np.histogram(y[there], bins=live.TALL)[0]
    assert np.abs(counts.sum(axis=1) - up).max() <= 1
    drawn = part.picture.bright.getData()
    assert np.allclose(drawn[1], line.intercept + line.slope * drawn[0])
    (left, right), _ = part.picture.main.viewRange()
    assert left < x[there].min() < x[there].max() < right


def closer(part, qtbot, x, y):
    """What is counted once the hand that zooms to these ends rests."""
    view = part.picture.main
    view.setXRange(*x, padding=0)
    view.setYRange(*y, padding=0)
    qtbot.waitUntil(lambda: part.closer.outcome is not None and not part.closer.work.busy, timeout=20_000)
    return part.closer.outcome


def test_what_is_zoomed_into_is_counted_anew(window, columns, qtbot):
    part = all_of(window, qtbot)
    x, y, _ = columns
    assert part.picture.cells.isVisible()
    assert not part.picture.close_cells.isVisible()
    found = closer(part, qtbot, (45, 50), (110, 125))
    left, right, low, high = found.ends
    assert (left, right, low, high) == pytest.approx((45, 50, 110, 125))
    inside = (x >= left) & (x <= right) & (y >= low) & (y <= high)
    assert found.counts.sum() == inside.sum() > 100
    across = ((x[inside] - left) / (right - left) * live.WIDE).astype(int)
    assert found.counts.sum(axis=0).tolist() == np.bincount(across, minlength=live.WIDE).tolist()
    assert part.picture.close_cells.isVisible()
    assert not part.picture.cells.isVisible()  # it would show through
    part.picture.main.setXRange(60, 65, padding=0)
    assert part.picture.cells.isVisible()  # until it is counted there
    qtbot.waitUntil(
        lambda: part.closer.outcome is not None and part.closer.outcome.ends[0] == pytest.approx(60)
    )
    empty = closer(part, qtbot, (45, 46), (300, 310))
    assert empty.counts.sum() == 0
    part.picture.home()
    qtbot.waitUntil(lambda: not part.picture.close_cells.isVisible())
    assert part.closer.outcome is None


def test_a_zoom_that_is_left_before_the_hand_rests_counts_nothing(window, qtbot):
    part = all_of(window, qtbot)
    part.picture.main.setXRange(45, 50, padding=0)
    window.session.show_step("look")
    qtbot.wait(500)
    assert part.closer.outcome is None
    assert not part.closer.work.busy


def test_what_cannot_be_counted_closer_is_said(window, folder, qtbot):
    part = all_of(window, qtbot)
    folder.rename(folder.with_name("elsewhere"))
    found = closer(part, qtbot, (45, 50), (110, 125))
    assert found.counts is None
    assert "There is no file “bottles”" in read(window, "state of a closer look")
    assert part.picture.cells.isVisible()


def test_filter_and_rows_set_aside_hold_for_all_rows(window, columns, qtbot):
    session = window.session
    x, y, site = columns
    row = int(session.table.row_ids[0])
    column = session.table.named("site").id
    session.do(set_aside(session.history.study, session.tether, {row}, "spilled"))
    condition = Condition(column=column, relation="is", texts=("Ford", "Mill"))
    session.do(filter_rows(session.history.study, session.tether, (condition,)))
    part = all_of(window, qtbot)
    kept = np.isin(site, ["Ford", "Mill"])
    used = kept & np.isfinite(y) & (np.arange(ROWS) != row)
    claim = all_rows_claim(session.findings, part.outcome)
    assert (claim.n, claim.filtered_out) == (used.sum(), (~kept).sum())
    assert claim.set_aside == int(kept[row] and np.isfinite(y[row]))
    assert claim.slope == pytest.approx(stats.linregress(x[used], y[used]).slope, rel=1e-12)
    before = part.outcome
    session.do(
        set_cells(session.history.study, session.table.id, {(int(session.table.row_ids[3]), "c2"): 99.0})
    )
    window.session.settle()
    assert part.outcome is before  # a cell changed here changes nothing of the whole
    assert "1 cell changed here is as the file has it among all rows" in " ".join(
        map(str, window.step("line").reading().beware))  # fmt: skip


def test_groups_are_compared_over_all_rows(window, columns, qtbot):
    session = window.session
    site = session.table.named("site").id
    session.do(change_choice(session.history.study, session.tether, "compare", "Groups", group=site))
    part = all_of(window, qtbot)
    x, y, sites = columns
    found = {group.name: group.line.slope for group in part.outcome.far.comparison.groups}
    for name in ("Weir", "Ford", "Mill"):
        mine = (sites == name) & np.isfinite(y)
        assert found[name] == pytest.approx(stats.linregress(x[mine], y[mine]).slope, rel=1e-12)
    table = named(window, "All rows and the share", QTableWidget)
    shown = {table.item(row, 0).text(): table.item(row, 1).text() for row in range(table.rowCount())}
    assert float(shown["slope, Ford"]) == pytest.approx(found["Ford"], rel=1e-3)
    assert shown["pairs, Ford"] == str(((sites == "Ford") & np.isfinite(y)).sum())
    assert float(shown["slope"]) == pytest.approx(part.outcome.far.line.slope, rel=1e-3)
    assert float(shown["curvature, t"].replace("−", "-")) == pytest.approx(
        part.outcome.far.checks.curvature.t, rel=1e-3
    )
    low, high = map(float, shown["interval of slope, classical errors"].split(" … "))
    assert low < part.outcome.far.line.slope < high


def test_it_can_be_pinned_saved_and_handed_over(window, qtbot, tmp_path):
    session = window.session
    all_of(window, qtbot)
    for part in ("reading", "figures", "table", "picture"):
        session.do(
            put_pin(session.study, part, "Pin it", tether=session.tether.id, step="line", view="all-rows")
        )
    page = page_of(session.study, press_alone(), today=TODAY)
    text = markdown_file(page, session.study, "pictures").replace("\u202f", " ")
    assert "Over all 8775 pairs load changes by" in text
    assert "Data: 1000 rows of the 9000 of “bottles”, drawn by chance \\(seed 7\\)." in text
    assert "| pairs | 8775 |" in text
    drawings = [block for chapter in page.chapters for entry in chapter.entries for block in entry.blocks
                if isinstance(block, Drawing)]  # fmt: skip
    assert drawings
    assert "All rows with their line: 8775 pairs in cells" in drawings[0].words.replace("\u202f", " ")
    assert hand_over(page, session.study, tmp_path / "handed", press_alone()) == ()
    assert not list((tmp_path / "handed").rglob("*.parquet"))
    (paper,) = (tmp_path / "handed").rglob("*.pdf")
    with pikepdf.open(paper) as pdf:
        held = [
            one for one in pdf.objects if isinstance(one, pikepdf.Stream) and one.get("/Subtype") == "/Image"
        ]
    assert {(int(one.Width), int(one.Height)) for one in held} == {(live.WIDE, live.TALL)}
    saved = tmp_path / "kept.tether"
    save_study(session.study, saved)
    table = open_study(saved).tables[0]
    assert share_of(table) == share_of(session.table)
    assert place_of(table) == place_of(session.table)


def test_a_share_that_misses_the_slope_says_how_often_shares_do(window, qtbot):
    part = all_of(window, qtbot)
    findings = window.session.findings
    claim = all_rows_claim(findings, part.outcome)
    low, high = claim.share_interval
    moved = replace(claim, held="misses", level=0.999, share_interval=(low, high))
    assert "where the errors suit the data, at most about 0.1 % of shares do" in str(
        words._of_share(moved, 3)
    )
    assert "about 5 % of shares" in str(words._of_share(replace(moved, level=0.95), 3))
    slope, between = words.slope_in_words(claim.slope, claim.interval, 3)
    digits = len(slope.split(".")[1])
    assert 10.0**-digits < (claim.interval[1] - claim.interval[0]) < 10.0 ** (3 - digits)
    shown = {
        one.name: (one.value, one.beside) for one in words.all_rows_reading(findings, part.outcome).figures
    }
    assert shown["slope of all rows"] == (slope, between)
    assert shown["pairs of all rows"] == ("8775", "of 9000; 225 with a value missing")


def test_a_share_of_two_columns_is_drawn(tmp_path):
    path = tmp_path / "two.parquet"
    pq.write_table(pa.table({"x": np.arange(30.0), "y": np.arange(30.0) ** 2}), path)
    assert [column.name for column in draw_share(Place(path), 10, 1).columns] == ["x", "y"]


def test_a_table_that_is_whole_has_no_such_view(open_window):
    window = open_window("--demo")
    step = window.step("line")
    window.session.show_step("line")
    buttons = {button.text(): button.isVisible() for button in step._choosers.buttons()}
    assert buttons["All rows"] is False
    assert buttons["The line"] is True


def test_what_is_gone_is_said_and_nothing_is_lost(window, folder, qtbot):
    for part in folder.iterdir():
        part.unlink()
    folder.rmdir()
    all_of(window, qtbot)
    assert headline(window) == "There is no file “bottles”: check the name and the folder."
    assert window.session.table.rows == 1000


def test_the_way_through_is_stopped(window, qtbot, monkeypatch):
    asked = []

    def slow(share, place, asked_of, scheduler, progress):
        while progress((1, 2)):
            asked.append(1)
        return live.AllRows(share=share, whole=False)

    monkeypatch.setattr(live, "_make", slow)
    step = window.step("line")
    step.show_view("all-rows")
    qtbot.waitUntil(lambda: len(asked) > 3)
    click(step.all_rows.run.stop)
    qtbot.waitUntil(lambda: not step.all_rows.run.work.busy)
    window.session.settle()
    assert "stopped" in headline(window) or "being gone through" in headline(window)


def test_a_cluster_that_does_not_answer_is_said_beside_its_address(window, qtbot, monkeypatch):
    @contextmanager
    def nobody(self):
        raise UnreadableFile(Trouble.NO_SCHEDULER, self._scheduler)
        yield

    monkeypatch.setattr(ClusterEngine, "_client", nobody)  # what really connects keeps a thread
    part = all_of(window, qtbot)
    field = named(window, "Dask scheduler that goes through all rows", QLineEdit)
    field.setText("nowhere at all")
    field.editingFinished.emit()
    qtbot.waitUntil(lambda: not part.run.work.busy and not window.session.busy, timeout=30_000)
    window.session.settle()
    assert headline(window).startswith("No Dask scheduler answers at “nowhere at all”")
    session = window.session
    piece = put_pin(session.study, "reading", "Pin", tether=session.tether_id, step="line", view="all-rows")
    everything = AllFindings(piece.apply(session.study), session.through)
    page = page_of(everything.study, today=TODAY, everything=everything)
    told = f"{page.chapters[0].method} {page.chapters[0].entries[0].blocks[0]}"
    assert "gone through where they are" not in told
    assert "No Dask scheduler answers at “nowhere at all”" in told  # and nobody else went through them
    field.setText("")
    field.editingFinished.emit()
    all_of(window, qtbot)
    assert headline(window).startswith("Over all")


def test_a_file_can_be_taken_in_whole_all_the_same(open_window, folder, qtbot, monkeypatch):
    from bright_tether.far import place

    monkeypatch.setattr(place, "LARGE", 1000)
    window = open_window()
    window.opening.open_path(folder / "1.parquet")
    qtbot.waitUntil(
        lambda: "far table" in window.opening.pages and window.opening.pages["far table"].isVisible()
    )
    click(window.opening.pages["far table"].whole)
    qtbot.waitUntil(lambda: "preview" in window.opening.pages and window.opening.pages["preview"].isVisible())
    qtbot.waitUntil(lambda: window.opening.pages["preview"].take.isEnabled() and not window.session.busy)
    click(window.opening.pages["preview"].take)
    qtbot.waitUntil(lambda: window.session.table.rows == 4000 and not window.session.busy)
    assert share_of(window.session.table) is None


@pytest.mark.parametrize(
    ("errors", "needs"), [("newey_west", "the order of all rows"), ("clustered", "which case")]
)
def test_errors_that_no_sum_gives_are_stood_for(window, qtbot, errors, needs):
    session = window.session
    site = session.table.named("site").id
    session.do(
        change_choice(session.history.study, session.tether, "line", "Errors", errors=errors, cluster=site)
    )
    all_of(window, qtbot)
    assert "robust (HC3) errors" in headline(window)
    beware = " ".join(map(str, window.step("line").reading().beware))
    assert needs in beware
    assert "may be too small" in beware


def test_a_share_of_all_rows_is_no_share_by_chance(folder):
    from bright_tether.live.findings import Findings
    from bright_tether.study.study import Study
    from bright_tether.study.tether import Tether

    table = draw_share(Place(folder), 20_000, 1)
    tether = Tether(id="k1", table=table.id, x="c1", y="c2", chosen=True)
    findings = Findings(Study(tables=(table,), tethers=(tether,)), tether)
    assert share_in_words(findings) == ["all 9000 rows of a table that stays where it is"]
    found = live.all_rows(findings).outcome
    assert not words.all_rows_reading(findings, found).beware


def test_progress_goes_on_from_one_pass_to_the_next(window):
    told = []
    live.all_rows(window.session.findings).run(lambda one: bool(told.append(one)) or True)
    done = [one for one, _ in told]
    assert done == sorted(done)
    assert {whole for _, whole in told} == {5 * ROWS}
    assert ROWS < done[-1] <= 5 * ROWS


@pytest.mark.parametrize(("counts", "due"), [(8775, True), (8776, False)])
def test_so_many_rows_that_any_slope_differs_from_0_are_told_of(window, qtbot, monkeypatch, counts, due):
    part = all_of(window, qtbot)
    monkeypatch.setattr("bright_tether.claims.all_rows.SIZE_COUNTS", counts)
    assert all_rows_claim(window.session.findings, part.outcome).size_counts is due
