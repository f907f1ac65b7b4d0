"""A table three times the memory given to the process is walked through every step: ./tether verify walked."""

import os
import shutil
import subprocess
import sys
from pathlib import Path

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
import pytest

from bright_tether.steps.catalogue import IDS

MEGABYTES = 900


@pytest.mark.verify
def test_a_table_three_times_the_memory_is_walked(tmp_path):
    pytest.importorskip("duckdb")
    rows = 3 * (MEGABYTES << 20) // 16
    if shutil.disk_usage(tmp_path).free < 32 * rows:
        pytest.skip("the disk has no room for the table")
    path, draw, writer = tmp_path / "table.parquet", np.random.default_rng(2), None
    for start in range(0, rows, 2_000_000):
        x = draw.normal(10, 2, min(2_000_000, rows - start))
        table = pa.table({"x": x, "y": 3 + x / 2 + draw.normal(0, 1, x.size)})
        writer = writer or pq.ParquetWriter(path, table.schema, compression="none", use_dictionary=False)
        writer.write_table(table, row_group_size=122_880)
    writer.close()
    assert path.stat().st_size > 3 * (MEGABYTES << 20)
    call = [sys.executable, Path(__file__).parent / "walk.py", path, str(MEGABYTES)]
    walked = subprocess.run(call, capture_output=True, text=True, check=False,
                            env={**os.environ, "QT_QPA_PLATFORM": "offscreen", "MALLOC_ARENA_MAX": "2"})  # fmt: skip
    print(walked.stdout)
    assert walked.returncode == 0, walked.stderr
    assert [line.split(":")[0].strip() for line in walked.stdout.splitlines()][: len(IDS)] == list(IDS)
    assert f"Over all {rows:,} pairs".replace(",", "\u202f") in walked.stdout
    path.unlink()
