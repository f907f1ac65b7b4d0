"""Tables that stay where they are: how long a hundred million pairs take, and how far engines differ."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from bench.ratios import Ratio

#: Pairs, where the disk has room for them; a tenth of them where not, said.
_PAIRS, _GROUP = 100_000_000, 122_880
#: Sums, however small the table is.
_CALL = (sys.executable, "-c", "from bright_tether.command import engines; engines.AT_HAND = 0; "
         "from bright_tether.launcher import main; raise SystemExit(main())", "analyse")  # fmt: skip


def _write(path: Path, pairs: int) -> None:
    import pyarrow as pa
    import pyarrow.parquet as pq

    draw, writer = np.random.default_rng(31), None
    for start in range(0, pairs, 2_000_000):
        x = draw.normal(10, 2, min(2_000_000, pairs - start))
        table = pa.table({"x": x, "y": 3 + x / 2 + draw.normal(0, 1, x.size)})
        writer = writer or pq.ParquetWriter(path, table.schema, compression="none", use_dictionary=False)
        writer.write_table(table, row_group_size=_GROUP)
    assert writer is not None
    writer.close()


def far_hundred_million() -> Ratio:
    """r, the line, HC3 and the checks of all pairs in Parquet, against three aggregates of DuckDB over that file."""
    import shutil

    import duckdb

    folder = Path(tempfile.mkdtemp(dir=Path.cwd()))
    try:
        room = shutil.disk_usage(folder).free
        pairs = _PAIRS if room > 5 * 16 * _PAIRS else _PAIRS // 10
        path = folder / "pairs.parquet"
        _write(path, pairs)
        script = Path(__file__).parent / "far_pass.py"
        told = subprocess.run(
            [sys.executable, script, path], check=True, capture_output=True, text=True
        ).stdout
        ours, peak = map(float, told.split())
        with duckdb.connect(config={"threads": 2}) as held:
            began = time.perf_counter()
            held.execute(
                f"SELECT regr_slope(y, x), regr_intercept(y, x), corr(y, x) FROM read_parquet('{path}')"
            ).fetchall()
            theirs = time.perf_counter() - began
        print(
            f"  {pairs:,} pairs; peak memory {peak:.0f} MB, {peak * 2**20 / (16 * _GROUP):.0f} row groups (aim 20)"
        )
    finally:
        shutil.rmtree(folder)
    return Ratio("far-1e8", ours / theirs, 4.0, ours, theirs)


def far_agree() -> Ratio:
    """The largest relative difference of any figure that both have, in memory and by DuckDB; seconds of the calls."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "pairs.parquet"
        _write(path, 200_000)
        found, spent = [], []
        for engine in ("duckdb", "memory"):
            began = time.perf_counter()
            call = [
                *_CALL,
                path,
                "--x",
                "x",
                "--y",
                "y",
                "--at",
                "8,12",
                "--inverse-at",
                "7",
                "--format",
                "json",
            ]
            told = subprocess.run(
                [*call, "--engine", engine], check=True, capture_output=True, text=True
            ).stdout
            spent.append(time.perf_counter() - began)
            found.append(json.loads(told))
    return Ratio("far-agree", max(_apart(*found)), 1e-12, *spent)


def _apart(one: object, other: object) -> list[float]:
    if isinstance(one, dict) and isinstance(other, dict):
        return [gap for key in one.keys() & other.keys() for gap in _apart(one[key], other[key])]
    if isinstance(one, list) and isinstance(other, list) and len(one) == len(other):
        return [gap for a, b in zip(one, other, strict=True) for gap in _apart(a, b)]
    if isinstance(one, float) and isinstance(other, float):
        return [abs(one - other) / max(abs(one), abs(other), 1e-300)]
    return []
