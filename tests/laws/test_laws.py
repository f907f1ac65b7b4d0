"""Laws that hold whatever is done: a monkey, kills, and figures that are one in window and command."""

import json
import os
import shutil
import subprocess
import sys
import threading
from concurrent.futures import ThreadPoolExecutor

import pytest

from tests.laws.kills import kill_at_every_step, kill_at_random
from tests.laws.monkey import told
from tests.laws.mutants import (
    LAYERS,
    ROOT,
    Mutant,
    caught,
    changing_nothing,
    map_lines,
    mutants,
    those_running,
)
from tests.laws.mutants import told as told_mutant

#: Moves of the long run, and how many a stream has.
MOVES, STREAM = 100_000, 120


@pytest.mark.parametrize("seed", [21])
def test_the_laws_hold_after_any_stream(seed, tmp_path, qapp):
    line = json.loads(told(seed, 50, tmp_path))
    assert line["fault"] is None, line


@pytest.mark.verify
def test_monkey(capsys, tmp_path):
    streams = MOVES // STREAM
    halves = [(100_000, streams // 2), (200_000, streams - streams // 2), (300_000, streams // 8, "long")]
    lines = []

    def play(first, count, *how):
        for begin in range(first, first + count, 20):
            many = min(20, first + count - begin)
            call = [sys.executable, "-m", "tests.laws.monkey", *map(str, (begin, many, STREAM)), *how]
            ended = subprocess.run(call, capture_output=True, text=True, check=False)
            lines.extend(json.loads(one) for one in ended.stdout.splitlines() if one.startswith("{"))
            if ended.returncode:
                lines.append({"seed": begin, "fault": f"ended by {ended.returncode}: {ended.stderr[-2000:]}"})

    threads = [threading.Thread(target=play, args=half) for half in halves]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    faults = [one for one in lines if one["fault"]]
    with capsys.disabled():
        slowest = max((one.get("slowest", [0, ""]) for one in lines), default=[0, ""])
        print(f"\nmonkey: {len(lines) * STREAM} moves in {len(lines)} streams, {len(faults)} faults, "
              f"slowest move {slowest}")  # fmt: skip
        for one in faults:
            print(json.dumps(one))
    assert not faults


@pytest.fixture
def small_lines(monkeypatch):
    """Every change of a whole column is too long for a line."""
    monkeypatch.setattr("bright_tether.study.journal._LONG_LINE", 1500)
    monkeypatch.setenv("XDG_STATE_HOME", os.environ["XDG_STATE_HOME"])


def test_a_kill_at_any_step_loses_nothing_told(tmp_path, small_lines):
    faults, kills = kill_at_every_step(tmp_path, turns=23, every=9)
    assert kills > 15
    assert not faults
    assert not kill_at_random(tmp_path, 12, seed=3)


@pytest.mark.verify
def test_kills(tmp_path, small_lines, capsys):
    faults, kills = kill_at_every_step(tmp_path, turns=40)
    faults += kill_at_random(tmp_path, 1000, seed=4)
    with capsys.disabled():
        print(f"\nkills: {kills} at every step of the file system, 1000 at random, {len(faults)} faults")
        print("\n".join(faults))
    assert not faults


def test_a_mistake_that_is_put_in_is_noticed(tmp_path):
    assert all(one.before != one.after for one in mutants("core", 5, 1))
    path = ROOT / "src/bright_tether/core/tails.py"
    lines = path.read_text(encoding="utf-8").splitlines(keepends=True)
    at, line = next(
        (at, line) for at, line in enumerate(lines, 1) if "return 2 * float(special.stdtr" in line
    )
    one = Mutant(path, at, line, line.replace("return 2 *", "return 3 *"))
    tests = ("tests/core/test_tails.py",)
    assert caught(one, tmp_path / "spoiled", tests)
    assert not caught(one._replace(after=one.before), tmp_path / "sound", tests)


def test_what_is_said_to_change_nothing_is_there():
    source = ROOT / "src/bright_tether"
    for one in changing_nothing():
        place, change = one.split(": ", 1)
        before = change.split("  ->  ")[0]
        assert before in [
            line.strip() for line in (source / place).read_text(encoding="utf-8").splitlines()
        ], one


@pytest.mark.verify
def test_mutants(tmp_path, capsys):
    """MUTANTS a layer (25), drawn from MUTANTS_SEED; each is shown to the tests that run its line."""
    many, seed = int(os.environ.get("MUTANTS", "25")), int(os.environ.get("MUTANTS_SEED", "7"))
    drawn = [one for layer in LAYERS for one in mutants(layer, many, seed)]
    known = map_lines(tmp_path)

    def notice(at):
        folder = tmp_path / str(at)
        noticed = caught(drawn[at], folder, those_running(drawn[at], known))
        shutil.rmtree(folder, ignore_errors=True)
        return noticed

    with ThreadPoolExecutor(2) as pool:
        noticed = list(pool.map(notice, range(len(drawn))))
    live = [told_mutant(one) for one, seen in zip(drawn, noticed, strict=True) if not seen]
    with capsys.disabled():
        print(f"\nmutants: {len(drawn)} small mistakes, {len(drawn) - len(live)} noticed; not noticed:")
        print("\n".join(live))
    assert len(live) <= 0.05 * len(drawn), "those that change nothing go into changing-nothing.txt, with why"
