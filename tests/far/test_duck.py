"""A table gone through where it is gives what it gives in memory."""

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
import pytest

from bright_tether.far import duck
from bright_tether.far.duck import DuckEngine
from bright_tether.far.engine import Stopped
from bright_tether.far.place import Place
from bright_tether.far.question import Question
from bright_tether.tables.clock import Clock
from bright_tether.tables.delimited import Trouble, UnreadableFile
from bright_tether.tables.filters import Condition, kept_rows
from bright_tether.tables.read_plan import read_file

ROWS = 500


@pytest.fixture(scope="module")
def files(tmp_path_factory):
    """The same table as Parquet in two parts, as CSV, and in a DuckDB file; blanks and a word among the numbers."""
    duckdb = pytest.importorskip("duckdb")
    folder = tmp_path_factory.mktemp("far")
    draw = np.random.default_rng(4)
    x = draw.normal(10, 2, ROWS).round(3)
    y = (x + draw.normal(0, 1, ROWS)).round(3)
    x[::41] = np.nan
    y[::53] = np.nan
    site = np.array(["Ford", "Mill race", "the “Weir's”"])[draw.integers(0, 3, ROWS)]
    days = np.datetime64("2021-03-01") + draw.integers(0, 400, ROWS)
    table = pa.table({
        "turbidity (NTU)": pa.array(x, from_pandas=True), 'so-called "load"': pa.array(y, from_pandas=True),
        "site": site, "day": pa.array(days), "bottle": np.arange(1, ROWS + 1),
        "note": pa.array([None if at % 3 == 0 else "seen" if at % 3 == 1 else "odd" for at in range(ROWS)]),
    })  # fmt: skip
    parts = folder / "parts"
    (parts / "later").mkdir(parents=True)
    pq.write_table(table.slice(0, 200), parts / "a.parquet")
    pq.write_table(table.slice(200), parts / "later" / "b.parquet")
    pq.write_table(table, folder / "whole.parquet")
    import pyarrow.csv as csv

    csv.write_csv(table, folder / "whole.csv")
    with duckdb.connect(str(folder / "held.duckdb")) as held:
        held.execute(f"CREATE TABLE bottles AS SELECT * FROM read_parquet('{folder / 'whole.parquet'}')")
    return folder


PLACES = {"parts": ("parts", ""), "parquet": ("whole.parquet", ""), "csv": ("whole.csv", ""),
          "database": ("held.duckdb", "bottles")}  # fmt: skip
X, Y = "turbidity (NTU)", 'so-called "load"'


def engine(files, kind="parquet", **options):
    name, table = PLACES[kind]
    return DuckEngine(Place(files / name, table), **options)


def in_memory(files):
    return read_file(files / "whole.parquet")


@pytest.mark.parametrize("kind", PLACES)
def test_its_columns_are_named_with_what_they_hold(files, kind):
    found = engine(files, kind).columns()
    assert [(one.name, one.kind) for one in found] == [
        (X, "number"), (Y, "number"), ("site", "text"), ("day", "date"), ("bottle", "number"),
        ("note", "text")]  # fmt: skip
    assert engine(files, kind).tables() == (["bottles"] if kind == "database" else [])


CONDITIONS = {
    "is": Condition(column="site", relation="is", texts=("Ford", "the “Weir's”")),
    "is not": Condition(column="site", relation="is not", texts=("Ford",)),
    "has": Condition(column="site", relation="has", texts=("RACE",)),
    "is a number": Condition(column="bottle", relation="is", texts=("3", "17.0", "no number")),
    "is no such number": Condition(column=X, relation="is not", texts=("10.5",)),
    "is not, with blanks": Condition(column="note", relation="is not", texts=("seen",)),
    "is blank": Condition(column="note", relation="is", texts=("",)),
    "between": Condition(column=X, relation="between", low=8.0, high=11.5),
    "from": Condition(column=Y, relation="from", low=9.25),
    "until": Condition(column=Y, relation="until", high=9.25),
    "a month": Condition(column="day", relation="between", texts=("2021-05", "2021-07-03")),
    "from a day": Condition(column="day", relation="from", texts=("2021-11-30",)),
    "until a year": Condition(column="day", relation="until", texts=("2021",)),
}


@pytest.mark.parametrize("kind", PLACES)
@pytest.mark.parametrize("relation", CONDITIONS)
def test_every_row_is_accounted_for_as_in_memory(files, kind, relation):
    condition, table = CONDITIONS[relation], in_memory(files)
    x, y = (table.named(name).cells for name in (X, Y))
    kept = kept_rows((condition,), (table.named(condition.column).cells,))
    there = np.isfinite(x) & np.isfinite(y)
    aside = np.isin(np.arange(1, ROWS + 1), (3, 8, 9, 200))
    numeric = frozenset({condition.column} if table.named(condition.column).numeric else ())
    question = Question(x=X, y=Y, conditions=(condition,), numeric=numeric, rows_aside=(2, 7, 8, 199))
    found = engine(files, kind).overview(question)
    assert 0 < kept.sum() < ROWS
    assert found.counted.rows == ROWS
    assert found.counted.filtered_out == (~kept).sum()
    assert found.counted.missing == (kept & ~there).sum()
    assert found.counted.set_aside == (kept & there & aside).sum()
    used = kept & there & ~aside
    assert (found.extent.n, found.extent.x) == (used.sum(), (x[used].min(), x[used].max()))
    assert found.without == (np.isnan(x).sum(), np.isnan(y).sum())
    (sorted_x,) = (np.sort(one) for one in engine(files, kind).rows(question).gathered(lambda a, _: (a,)))
    assert sorted_x.tolist() == np.sort(x[used]).tolist()


@pytest.mark.parametrize("kind", PLACES)
@pytest.mark.parametrize("beside", [(), ("note",)])
def test_every_row_is_accounted_for_where_none_is_filtered_out_either(files, kind, beside):
    table = in_memory(files)
    x, y = (table.named(name).cells for name in (X, Y))
    used = np.isfinite(x) & np.isfinite(y)
    for name in beside:
        used &= table.named(name).cells != ""
    found = engine(files, kind).overview(Question(x=X, y=Y, beside=beside))
    counted = found.counted
    assert 0 < used.sum() < ROWS
    assert (counted.rows, counted.missing, counted.set_aside, counted.filtered_out) == (
        ROWS, (~used).sum(), 0, 0)  # fmt: skip
    assert found.without == (np.isnan(x).sum(), np.isnan(y).sum())
    assert (found.extent.n, found.extent.x, found.extent.y) == (
        used.sum(), (x[used].min(), x[used].max()), (y[used].min(), y[used].max()))  # fmt: skip
    whole = engine(files, kind).overview(Question(x=X, y=X))
    assert whole.counted.missing == whole.without[0] == np.isnan(x).sum()


def test_groups_come_as_they_first_appear(files):
    table = in_memory(files)
    there = np.isfinite(table.named(X).cells) & np.isfinite(table.named(Y).cells)
    question = Question(x=X, y=Y, group="site", beside=("site",))
    assert engine(files).groups(question, 60) == list(
        dict.fromkeys(table.named("site").cells[there].tolist())
    )
    assert len(engine(files).groups(question, 1)) == 2


def test_a_date_is_measured_by_its_clock(files):
    clock = Clock("weeks", "2021-03-01")
    question = Question(x="day", y=Y, clock=clock)
    (x,) = engine(files).rows(question).gathered(lambda a, _: (a,))
    assert x.min() == 0
    assert np.allclose(x * 7, np.round(x * 7), atol=1e-12)
    first, last, whole = engine(files).moments("day")
    assert whole
    assert last - first <= 400 * 86400


def test_work_that_nobody_waits_for_is_given_up(files):
    question = Question(x=X, y=Y)
    told = []
    rows = engine(files, progress=lambda done: bool(told.append(done))).rows(question)
    with pytest.raises(Stopped):
        rows.gathered(lambda a, _: (a,))
    assert told


@pytest.mark.parametrize(("name", "trouble"), [
    ("nowhere.parquet", Trouble.NOT_FOUND), ("study.tether", Trouble.NOT_FAR), ("empty", Trouble.DIRECTORY),
    ("cut.parquet", Trouble.DAMAGED),
])  # fmt: skip
def test_what_cannot_be_gone_through_says_so(tmp_path, name, trouble):
    pytest.importorskip("duckdb")
    (tmp_path / "study.tether").write_bytes(b"x")
    (tmp_path / "empty").mkdir()
    (tmp_path / "cut.parquet").write_bytes(b"PAR1 and no more")
    with pytest.raises(UnreadableFile) as found:
        DuckEngine(Place(tmp_path / name)).columns()
    assert found.value.trouble is trouble


@pytest.mark.parametrize(("limit", "says"), [(800 << 20, "100MB"), (64 << 20, "64MB"), (10**13, "953MB")])
def test_it_takes_a_part_of_what_the_process_may(limit, says, monkeypatch):
    monkeypatch.setattr(duck.os, "sysconf", lambda name: 4096 if name == "SC_PAGE_SIZE" else 10**9)
    monkeypatch.setattr(duck.resource, "getrlimit", lambda which: (limit, limit))
    assert duck.memory_for_it() == says
    monkeypatch.setattr(duck.resource, "getrlimit", lambda which: (duck.resource.RLIM_INFINITY,) * 2)
    assert duck.memory_for_it() == "953MB"


def test_progress_tells_the_rows_that_are_done(files):
    told = []
    rows = engine(files, progress=lambda done: bool(told.append(done)) or True).rows(Question(x=X, y=Y))
    rows.gathered(lambda a, _: (a,))
    assert told[-1] == engine(files).overview(Question(x=X, y=Y)).extent.n


@pytest.mark.parametrize(("x", "y"), [("y", "x"), ("kept", "out"), ("there", "played"), ("x", "place")])
def test_columns_may_be_called_as_its_own_questions_are(tmp_path, x, y):
    pytest.importorskip("duckdb")
    names = ("x", "y", "kept", "there", "out", "played", "place")
    columns = {name: np.arange(6.0) * (at + 1) + 10 * at for at, name in enumerate(names)}
    columns[y][2] = np.nan
    pq.write_table(pa.table(columns), tmp_path / "own.parquet")
    found, question = DuckEngine(Place(tmp_path / "own.parquet")), Question(x=x, y=y)
    told = found.overview(question)
    there = np.isfinite(columns[y])
    assert (told.extent.n, told.counted.missing, told.without) == (5, 1, (0, 1))
    assert told.extent.x == (columns[x][there].min(), columns[x][there].max())
    assert told.extent.y == (np.nanmin(columns[y]), np.nanmax(columns[y]))
    pairs = found.taken_in(question)
    assert np.array_equal(pairs[0], columns[x][there])
    assert np.array_equal(pairs[1], columns[y][there])
