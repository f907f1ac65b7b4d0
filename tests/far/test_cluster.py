"""Workers of a cluster go through the parts of a table: the same digits, also where one of them is lost."""

import json
import os
import signal
import socket
import subprocess
import sys
import time
from dataclasses import dataclass

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
import pytest
from msgspec.structs import astuple

from bright_tether.command.parser import run
from bright_tether.core.line.plain import fit_line
from bright_tether.core.pairs import take_pairs
from bright_tether.core.sums.partial import over
from bright_tether.core.sums.summed import summed_pairs
from bright_tether.far.cluster import ClusterEngine
from bright_tether.far.duck import DuckEngine
from bright_tether.far.engine import Stopped
from bright_tether.far.place import Place
from bright_tether.far.question import Question
from bright_tether.tables.delimited import Trouble, UnreadableFile
from bright_tether.tables.filters import Condition
from command.test_engines import apart
from command.test_report_engines import share_study
from command.test_report_engines import told as account_told

pytest.importorskip("duckdb")
pytest.importorskip("distributed")
PARTS, ROWS = 6, 3000


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    draw = np.random.default_rng(9)
    place = tmp_path_factory.mktemp("parts")
    for at in range(PARTS):
        x = draw.normal(10 + at, 2, ROWS)
        y = 3 + x / 2 + draw.normal(0, 1, ROWS)
        y[::31] = np.nan
        site = np.array(["Weir", "Ford", "Mill"])[draw.integers(at % 2, 3, ROWS)]
        table = pa.table({"x": x, "y": pa.array(y, from_pandas=True), "site": site})
        pq.write_table(table, place / f"part {at}.parquet")
    return place


@dataclass
class Cluster:
    address: str
    workers: list


@pytest.fixture
def cluster(tmp_path, monkeypatch):
    """A scheduler and two workers, each a process of its own."""
    monkeypatch.setattr("bright_tether.command.engines.AT_HAND", 0)
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    address = f"tcp://127.0.0.1:{port}"
    common = {"cwd": tmp_path, "stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL,
              "env": {**os.environ, "PYTHONPATH": os.pathsep.join(sys.path)}}  # fmt: skip

    def start(role, *more):
        return subprocess.Popen([sys.executable, "-m", f"distributed.cli.dask_{role}", *more], **common)

    running = [start("scheduler", "--host", "127.0.0.1", "--port", str(port), "--no-dashboard", "--no-show")]
    alone = ("--nthreads", "1", "--no-dashboard", "--no-nanny")
    running += [start("worker", address, *alone) for _ in range(2)]
    yield Cluster(address, running[1:])
    for one in running:
        one.send_signal(signal.SIGKILL)
        one.wait()


@dataclass(frozen=True)
class Slowly:
    """Sums that take a while, so that a worker can be lost in the middle."""

    seconds: float

    def __call__(self, x, y):
        from bright_tether.core.sums.first import FirstSums

        time.sleep(self.seconds)
        return FirstSums(about_x=(10.0, 5), about_y=(8.0, 5))(x, y)


@dataclass(frozen=True)
class Breaking:
    """Sums that no worker comes to an end with."""

    def __call__(self, x, y):
        raise ZeroDivisionError


QUESTIONS = {
    "all": Question(x="x", y="y"),
    "filtered": Question(
        x="x", y="y", conditions=(Condition(column="site", relation="is not", texts=("Ford",)),)
    ),
    "rows set aside": Question(x="x", y="y", rows_aside=(0, 5, ROWS - 1, ROWS, 4 * ROWS + 7)),
}


def test_a_cluster_gives_the_digits_of_one_machine_and_survives_a_loss(
    folder, cluster, capsys, qapp, tmp_path
):
    engine, here = ClusterEngine(Place(folder), cluster.address), DuckEngine(Place(folder))
    assert engine.count() == here.count() == PARTS * ROWS
    assert engine.columns() == here.columns()
    for name, question in QUESTIONS.items():
        found, wanted = engine.overview(question), here.overview(question)
        assert (found.counted, found.without, found.extent.n, found.extent.x, found.extent.y) == (
            wanted.counted, wanted.without, wanted.extent.n, wanted.extent.x, wanted.extent.y), name  # fmt: skip
        line = fit_line(summed_pairs(engine.rows(question), found.extent, found.counted))
        own = fit_line(summed_pairs(here.rows(question), wanted.extent, wanted.counted))
        assert float(line.slope_exact) == float(own.slope_exact), name
        assert float(line.intercept_exact) == float(own.intercept_exact), name
        assert line.sse == own.sse, name
        assert line.steps.sums.rounded() == pytest.approx(own.steps.sums.rounded(), rel=1e-12), name
        assert (line.steps.changes, line.steps.signs) == (own.steps.changes, own.steps.signs), name
        assert line.second.meats == pytest.approx(own.second.meats, rel=1e-12), name
    nobody = Question(x="x", y="y", conditions=(Condition(column="site", relation="is", texts=("nowhere",)),))
    none = engine.overview(nobody)
    assert (none.extent.n, none.counted.filtered_out) == (0, PARTS * ROWS)
    grouped = Question(x="x", y="y", group="site")
    assert engine.groups(grouped, 60) == here.groups(grouped, 60)
    assert astuple(line.levels) == pytest.approx(astuple(own.levels), rel=1e-12)  # of the last question
    everything = QUESTIONS["all"]
    assert engine.compared(everything, PARTS * ROWS) == here.compared(everything, PARTS * ROWS)
    assert engine.rows(Question(x="x", y="y", order="y")).along(Slowly(0)) is None

    whole = here.rows(QUESTIONS["all"]).gathered(lambda x, y: (x, y))
    told = []

    def lose_one(done):
        told.append(done)
        if done == ROWS and cluster.workers[0].poll() is None:
            cluster.workers[0].send_signal(signal.SIGKILL)
        return True

    losing = ClusterEngine(Place(folder), cluster.address, progress=lose_one)
    slow = Slowly(0.3)
    found = losing.rows(QUESTIONS["all"]).total(slow)
    wanted = over(*whole, slow)
    assert sorted(set(told) - {0}) == [ROWS * part for part in range(1, PARTS + 1)]
    for at in range(6):
        assert float(found.exactly(at)) == float(wanted.exactly(at)), at
    assert cluster.workers[0].wait(timeout=10) != 0
    with pytest.raises(Stopped):  # while a worker is at it
        ClusterEngine(Place(folder), cluster.address, progress=lambda done: False).rows(
            QUESTIONS["all"]
        ).total(Slowly(2.0))
    with pytest.raises(UnreadableFile) as lost:
        engine.rows(QUESTIONS["all"]).total(Breaking())
    assert lost.value.trouble is Trouble.WORKERS_LOST
    pairs = take_pairs(*whole)
    assert float(fit_line(pairs).slope_exact) == pytest.approx(float(line_of(engine).slope_exact), rel=1e-13)
    found = [
        account(folder, capsys, *engine) for engine in (("dask", "--scheduler", cluster.address), ("duckdb",))
    ]
    assert not list(apart(*found))
    study = share_study(folder, tmp_path / "s.tether")
    dask, duck = (
        account_told(study, tmp_path, *engine)
        for engine in (("dask", "--scheduler", cluster.address), ("duckdb",))
    )
    assert dask == duck


def account(folder, capsys, *engine):
    call = [
        "analyse",
        str(folder),
        "--x",
        "x",
        "--y",
        "y",
        "--group",
        "site",
        "--at",
        "12",
        "--format",
        "json",
    ]
    assert run([*call, "--engine", *engine], lambda _: 1) == 0
    return json.loads(capsys.readouterr().out)


def line_of(engine):
    found = engine.overview(QUESTIONS["all"])
    return fit_line(summed_pairs(engine.rows(QUESTIONS["all"]), found.extent, found.counted))


def test_what_keeps_a_cluster_from_it_is_said(folder, tmp_path):
    (tmp_path / "pairs.csv").write_text("x,y\n1,2\n2,3\n3,5\n")
    with pytest.raises(UnreadableFile) as found:
        ClusterEngine(Place(tmp_path / "pairs.csv"), "tcp://127.0.0.1:1")
    assert found.value.trouble is Trouble.NOT_IN_PARTS
    with pytest.raises(UnreadableFile) as found:
        ClusterEngine(Place(folder), "nowhere at all").overview(QUESTIONS["all"])
    assert found.value.trouble is Trouble.NO_SCHEDULER
