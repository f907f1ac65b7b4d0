"""The account of a share of a large table is the same, whoever goes through the whole of it."""

import msgspec
import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
import pytest

from bright_tether.far.place import Place
from bright_tether.far.share import draw_share
from bright_tether.study import changes
from bright_tether.study.package import save_study
from bright_tether.study.pin_changes import put_pin
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from command.test_report import call

pytest.importorskip("duckdb")
PIECES = (("reading", "line"), ("reading", "all-rows"), ("figures", "all-rows"), ("table", "all-rows"),
          ("picture", "all-rows"))  # fmt: skip
#: What the method says of who went through the rows.
WHO = {
    "duckdb": "All rows were gone through where they are, by DuckDB.",
    "dask": "All rows were gone through where they are, by the workers of a Dask cluster.",
    "memory": "The pairs of all rows were taken into memory and gone through there.",
}


def share_study(place, path, rows=500, **tether):
    """A study of a share of x and y in Parquet files, with pieces about all rows, saved; its path."""
    table = draw_share(Place(place), rows, 1)
    x, y = (table.named(name).id for name in "xy")
    tied = Tether(id="k1", table=table.id, x=x, y=y, chosen=True)
    study = Study(tables=(table,), tethers=(msgspec.structs.replace(tied, **tether),))
    for part, view in PIECES:
        study = put_pin(study, part, "Pin", tether="k1", step="line", view=view).apply(study)
    study = changes.set_aside(study, study.tethers[0], set(table.row_ids[:3].tolist()), "fouled").apply(study)
    save_study(study, path)
    return path


def told(study, folder, engine, *more):
    """What the account says and draws, but for who went through the rows."""
    path = folder / f"{engine}.md"
    assert call(study, "-o", path, "--engine", engine, *more) == 0
    words = path.read_text(encoding="utf-8")
    assert WHO[engine] in words
    pictures = [one.read_text(encoding="utf-8") for one in sorted((folder / f"{engine}-pictures").iterdir())]
    assert len(pictures) == 1
    return words.replace(WHO[engine], "").replace(f"{engine}-pictures", "pictures"), pictures


@pytest.mark.parametrize("order", [None, "when"])
def test_the_account_is_the_same_from_memory_and_where_the_table_is(qapp, tmp_path, capsys, order):
    draw = np.random.default_rng(3)
    x = draw.normal(10, 2, 4000).round(1)
    y = (3 + x / 2 + np.cumsum(draw.normal(0, 0.3, 4000))).round(2)
    pq.write_table(pa.table({"x": x, "y": y, "when": draw.permutation(4000)}), tmp_path / "pairs.parquet")
    study = share_study(tmp_path / "pairs.parquet", tmp_path / "s.tether")
    if order:
        from bright_tether.study.package import open_study

        opened = open_study(study)
        column = opened.tables[0].named(order).id
        edit = changes.change_choice(opened, opened.tethers[0], "line", "Order", order=column)
        save_study(edit.apply(opened), study)
    here, there = (told(study, tmp_path, engine) for engine in ("duckdb", "memory"))
    assert here == there
    assert "Over all 3997 pairs" in here[0]
    assert "Durbin–Watson" in here[0]


def test_a_cluster_needs_its_address(tmp_path, capsys):
    assert call("demo", "-o", tmp_path / "a.md", "--engine", "dask") == 2
    assert capsys.readouterr().err == (
        "bright-tether: --engine dask needs --scheduler ADDRESS: where the scheduler of the cluster listens.\n"
    )
