"""One call, two ways to go through the table: the same account, but for what needs every row."""

import json

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
import pytest

from bright_tether.command.parser import run

pytest.importorskip("duckdb")


@pytest.fixture(scope="module")
def file(tmp_path_factory):
    draw = np.random.default_rng(6)
    n = 4000
    x = draw.normal(10, 2, n)
    y = 3 + x / 2 + draw.normal(0, 1, n)
    x[::97], y[::89] = np.nan, np.nan
    site = np.array(["Weir", "Ford", "Mill"])[draw.integers(0, 3, n)]
    days = np.datetime64("2021-03-01") + draw.integers(0, 400, n)
    path = tmp_path_factory.mktemp("file") / "bottles.parquet"
    pq.write_table(pa.table({"turbidity (NTU)": pa.array(x, from_pandas=True), "load": pa.array(y, from_pandas=True),
                             "site": site, "day": days}), path)  # fmt: skip
    return path


@pytest.fixture(autouse=True)
def _nothing_taken_in(monkeypatch):
    """As of a table too large for it."""
    monkeypatch.setattr("bright_tether.command.engines.AT_HAND", 0)


@pytest.mark.parametrize("kind", ["one file", "a folder", "a database", "text"])
@pytest.mark.parametrize("engine", [("duckdb",), ("dask", "--scheduler", "tcp://localhost:1")])
def test_a_small_table_gives_all_that_memory_gives(file, tmp_path, capsys, monkeypatch, kind, engine):
    monkeypatch.setattr("bright_tether.command.engines.AT_HAND", 4 * 4000)
    place, table = file, pq.read_table(file)
    if kind == "a folder":
        place = tmp_path / "bottles"
        place.mkdir()
        for at in (0, 1000):
            pq.write_table(table.slice(at, 1000 if at == 0 else None), place / f"{at:04}.parquet")
    elif kind == "a database":
        import duckdb

        place = tmp_path / "bottles.duckdb"
        with duckdb.connect(str(place)) as held:
            held.execute(f"CREATE TABLE bottles AS SELECT * FROM read_parquet('{file}')")
    elif kind == "text":
        import pyarrow.csv as csv

        place = tmp_path / "bottles.csv"
        csv.write_csv(table, place)
    if engine[0] == "dask" and kind in ("a database", "text"):
        return  # no parts for its workers
    more = ("--x", "turbidity", "--y", "load", "--group", "site", "--order", "day", "--rows", "--readings")
    wanted = asked(capsys, file, *more)
    found = asked(capsys, place, *more, "--engine", *engine)
    assert not list(apart(found, wanted))
    monkeypatch.setattr("bright_tether.command.engines.AT_HAND", 4 * 4000 - 1)
    call = ["analyse", str(place), *more, "--engine", *engine]
    assert run(call, lambda _: 1) == 2
    assert "leave out --rows, --readings" in capsys.readouterr().err


def asked(capsys, *arguments):
    code = run(["analyse", *map(str, arguments), "--format", "json"], lambda _: 1)
    said = capsys.readouterr()
    assert code == 0, said.err
    return json.loads(said.out)


def apart(found, wanted, path=""):
    """Every place where two accounts differ by more than the last digits."""
    if isinstance(found, dict) and isinstance(wanted, dict):
        for key in found.keys() | wanted.keys():
            yield from apart(found.get(key), wanted.get(key), f"{path}.{key}")
    elif isinstance(found, list) and isinstance(wanted, list) and len(found) == len(wanted):
        for at, (one, other) in enumerate(zip(found, wanted, strict=True)):
            yield from apart(one, other, f"{path}[{at}]")
    elif isinstance(found, float) and isinstance(wanted, float | int):
        if abs(found - wanted) > 1e-11 * max(abs(found), abs(wanted)):
            yield path, found, wanted
    elif found != wanted:
        yield path, found, wanted


NEEDS_ROWS = (
    ".checks.shapiro_wilk",
    ".checks.anderson_darling",
    ".checks.fences",
    ".theil_sen",
    ".newey_west",
)


def unlike(far, held):
    """Where two accounts differ, but for what needs every row."""
    return [one for one in apart(far, held) if not any(name in one[0] for name in NEEDS_ROWS)]


@pytest.mark.parametrize("more", [
    (), ("--group", "site"), ("--errors", "HC3", "--decide", "slope", "--slope-0", "0.4"),
    ("--decide", "spearman", "--alternative", "greater", "--alpha", "0.01"), ("--group", "site", "--margin", "0.1"),
    ("--mean-of", "3",), ("--order", "day"), ("--order", "load"), ("--order", "site"),
], ids=" ".join)  # fmt: skip
def test_the_account_is_the_same(file, capsys, more):
    call = (file, "--x", "turbidity", "--y", "load", "--at", "8,30", "--inverse-at", "7", *more)
    far, held = asked(capsys, *call, "--engine", "duckdb"), asked(capsys, *call)
    assert not unlike(far, held)
    assert far["checks"]["anderson_darling"]["why"]["a2"] == (
        "it needs every row at once, and here only sums over them are at hand")  # fmt: skip
    assert far["line"]["robust"]["HC3"]["se_slope"] > 0


def test_a_date_is_x(file, capsys):
    call = (file, "--x", "day", "--y", "load", "--per", "weeks", "--at", "2021-05-03")
    far, held = asked(capsys, *call, "--engine", "duckdb"), asked(capsys, *call)
    assert not unlike(far, held)
    assert far["x"]["since"] == "2021-03-01"


@pytest.mark.parametrize(("more", "says"), [
    (("--rows",), "leave out --rows"), (("--with", "day"), "leave out --with"),
    (("--errors", "newey_west"), "leave out --errors"), (("--group", "nobody"), "There is no column “nobody”"),
    (("--per", "weeks"), "--per and --since go with a date as x"),
])  # fmt: skip
def test_what_it_cannot_do_is_said_in_one_line(file, capsys, more, says):
    code = run(
        ["analyse", str(file), "--x", "turbidity", "--y", "load", "--engine", "duckdb", *more], lambda _: 1
    )
    said = capsys.readouterr()
    assert code == 2
    assert says in said.err
    assert said.err.count("\n") == 1


def test_a_column_of_words_is_refused(file, capsys):
    assert run(["analyse", str(file), "--x", "site", "--y", "load", "--engine", "duckdb"], lambda _: 1) == 2
    assert "“site” holds no numbers" in capsys.readouterr().err


def test_text_tells_what_is_a_sum(file, capsys):
    call = ["analyse", str(file), "--x", "turbidity", "--y", "load", "--engine", "duckdb"]
    assert run([*call, "--group", "site", "--at", "8", "--inverse-at", "7"], lambda _: 1) == 0
    said = capsys.readouterr().out
    held = asked(capsys, file, "--x", "turbidity", "--y", "load")
    assert f"{held['correlation']['pearson']['r']:.4f}" in said
    assert "\nShapiro–Wilk and Anderson–Darling need every row at once" in said
    assert f"τ                            {held['correlation']['kendall']['tau_b']:.4f}" in said
    assert "slope, Weir" in said
    assert "Forecast of load" in said
    assert "Which turbidity gives this load" in said


def test_ranks_that_take_too_much_room_leave_the_rest(file, capsys, monkeypatch):
    from bright_tether.core.sums.summed import SummedPairs
    from bright_tether.far.duck import DuckEngine
    from bright_tether.tables.delimited import Trouble, UnreadableFile

    def short(*_):
        raise UnreadableFile(Trouble.MEMORY_SHORT, "bottles")

    monkeypatch.setattr(SummedPairs, "with_ranks", short)
    each = DuckEngine.each
    monkeypatch.setattr(
        DuckEngine, "each",
        lambda self, select, *of, **how: short() if "ORDER BY" in select else each(self, select, *of, **how),
    )  # fmt: skip
    far = asked(capsys, file, "--x", "turbidity", "--y", "load", "--engine", "duckdb", "--order", "day")
    for name in ("durbin_watson", "runs", "lack_of_fit"):
        assert all("every row at once" in why for why in far["checks"][name]["why"].values()), name
    assert "spread_ratio" in far["checks"]["why"]
    assert far["checks"]["white"]["lm"] is not None
    assert far["correlation"]["spearman"]["rho"] is None
    assert "every row at once" in far["correlation"]["spearman"]["why"]["rho"]
    assert "every row at once" in far["correlation"]["kendall"]["why"]["tau_b"]
    assert far["correlation"]["pearson"]["r"] is not None


def test_a_share_of_rows_can_do_all_that_memory_can(file, capsys):
    call = (file, "--x", "turbidity", "--y", "load", "--engine", "duckdb", "--share", "1000", "--seed", "3")
    found = asked(capsys, *call, "--rows", "--readings")
    assert found["pairs"]["rows"] == 1000
    assert "These rows are a share of 4000 rows, drawn by chance (seed 3)." in found["notes"]
    assert len(found["rows"]) == found["pairs"]["n"]
    assert found["checks"]["durbin_watson"]["d"] > 1
    assert asked(capsys, *call)["line"] == found["line"]
    assert asked(capsys, *call[:-1], "4")["line"] != found["line"]
    assert run(["analyse", *map(str, call)], lambda _: 1) == 0
    assert capsys.readouterr().out.startswith(
        "These rows are a share of 4000 rows, drawn by chance (seed 3)."
    )
    assert run(["analyse", str(file), "--x", "turbidity", "--y", "load", "--share", "10"], lambda _: 1) == 2
    assert "--share goes with --engine duckdb" in capsys.readouterr().err


def test_a_table_of_a_database_is_named_where_there_are_several(tmp_path, capsys):
    import duckdb

    path = tmp_path / "held.duckdb"
    with duckdb.connect(str(path)) as held:
        held.execute("CREATE TABLE one AS SELECT range AS x, 2 * range + random() AS y FROM range(50)")
    call = (path, "--x", "x", "--y", "y", "--engine", "duckdb")
    assert asked(capsys, *call)["pairs"]["n"] == 50
    with duckdb.connect(str(path)) as held:
        held.execute("CREATE TABLE two AS SELECT * FROM one LIMIT 20")
    assert run(["analyse", *map(str, call)], lambda _: 1) == 2
    assert "Say which table with --table: “held.duckdb” has one, two." in capsys.readouterr().err
    assert asked(capsys, *call, "--table", "two")["pairs"]["n"] == 20
