"""Kills at random and at every step of the file system: what was told to be written is found again.

A child does the work of an analyst, change by change, saves, takes work up again, and says after each what
stands. The parent ends it, and holds what is on the disk against what was said.
"""

import os
import random
import signal
import time
from pathlib import Path

import numpy as np

from bright_tether.study import cell_changes
from bright_tether.study.history import History
from bright_tether.study.journal import recover, throw_away, wrecks
from bright_tether.study.ledger import Ledger
from bright_tether.study.package import open_study, save_study
from bright_tether.study.study import Study
from bright_tether.study.tether import Tether
from bright_tether.tables.column import Column
from bright_tether.tables.table import Table

ROWS = 40
STEPS = ("open", "write", "fsync", "replace", "rename", "unlink", "link", "mkdir", "ftruncate", "rmdir")


def start():
    """A study whose every later state is known from the number of changes."""
    cells = np.zeros(ROWS)
    columns = (
        Column(id="c1", name="x", kind="number", cells=cells),
        Column(id="c2", name="y", kind="number", cells=np.zeros(ROWS)),
    )
    table = Table(id="t1", name="T", columns=columns, row_ids=np.arange(ROWS))
    return Study(tables=(table,), tethers=(Tether(id="k1", table="t1", x="c1", y="c2"),))


def change(study, turn):
    """Change number turn: one cell, and now and then all of another column."""
    cells = {(turn % ROWS, "c1"): float(turn)}
    if turn % 11 == 0:
        cells |= {(row, "c2"): float(turn) for row in range(ROWS)}
    return cell_changes.set_cells(study, "t1", cells)


def state(turns):
    """Both columns after so many changes."""
    x, y = [0.0] * ROWS, [0.0] * ROWS
    for turn in range(1, turns + 1):
        x[turn % ROWS] = float(turn)
        if turn % 11 == 0:
            y = [float(turn)] * ROWS
    return x, y


def turns_in(study):
    """How many changes stand in a study; None where it is no state there ever was."""
    x, y = (column.cells.tolist() for column in study.tables[0].columns)
    turns = int(max(x))
    return turns if (x, y) == state(turns) else None


def work(folder, say, turns):
    """Change, save, and take up again, in a folder of its own."""
    os.environ["XDG_STATE_HOME"] = str(folder / "state")
    path = folder / "s.tether"
    history = History(start())
    ledger = Ledger(history.study)
    for turn in range(1, turns + 1):
        history = history.after(change(history.study, turn))
        ledger.note(history.done[-1], history.study)
        say(turn)
        if turn % 7 == 0:
            save_study(history.study, path)
            ledger.saved(history.study, path, None)
        if turn % 5 == 0:
            ledger.sync()
        if turn % 9 == 0:
            ledger.leave()
            (found,) = wrecks() or (None,)
            if found is not None:
                made = recover(found)
                history = made.history
                ledger.begin(history.study, made.saved, made.digest, carries=True)
                throw_away(found)
    ledger.leave()


def killed(folder, *, at_step=None, after=None, turns=30):
    """End a child at a step of the file system, or after a time; what it said last, and the steps it made."""
    folder.mkdir(parents=True)
    ears, mouth = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(ears)
        tell, count = os.write, [0]
        if at_step is not None:
            _trap(at_step, count)
        try:
            work(folder, lambda turn: tell(mouth, b"%d\n" % turn), turns)
            tell(mouth, b"steps %d\n" % count[0])
        finally:
            os._exit(0)
    os.close(mouth)
    if after is not None:
        time.sleep(after)
        os.kill(child, signal.SIGKILL)
    said = b""
    while part := os.read(ears, 65536):
        said += part
    os.close(ears)
    os.waitpid(child, 0)
    lines = said.decode().split()
    steps = int(lines[-1]) if "steps" in lines else None
    told = [int(one) for one in (lines[: lines.index("steps")] if "steps" in lines else lines)]
    return told[-1] if told else 0, steps


def _trap(at_step, count):
    """End the process at the step with this number; a write is cut in half first."""
    real = {name: getattr(os, name) for name in STEPS}

    def trapped(name):
        def step(*arguments, **named):
            count[0] += 1
            if count[0] == at_step:
                if name == "write":
                    real["write"](arguments[0], bytes(arguments[1])[: len(arguments[1]) // 2])
                os._exit(9)
            return real[name](*arguments, **named)

        return step

    for name in STEPS:
        setattr(os, name, trapped(name))


def fault(folder, last):
    """What is wrong with what a kill left, or None. last : the change that was told last."""
    os.environ["XDG_STATE_HOME"] = str(folder / "state")
    found = []
    path = folder / "s.tether"
    if path.exists():
        found.append(turns_in(open_study(path)))
    for one in wrecks():
        made = recover(one)
        if made.lost:
            return f"{made.lost} changes lost"
        found.append(turns_in(made.history.study))
    if None in found:
        return "a state that never was"
    if last and max(found, default=0) < last:
        return f"told {last}, found {found}"
    return None


def kill_at_every_step(folder, turns=30, every=1):
    """Faults by step, and how many kills were made."""
    _, steps = killed(folder / "whole", at_step=-1, turns=turns)
    told, kills = [], 0
    for step in range(1, steps + 1, every):
        place = folder / f"step{step}"
        last, _ = killed(place, at_step=step, turns=turns)
        kills += 1
        wrong = fault(place, last)
        told += [f"step {step}: {wrong}"] if wrong else []
    return told, kills


def kill_at_random(folder, count, seed):
    """Faults of kills at random times."""
    draw, told = random.Random(seed), []
    for turn in range(count):
        place = Path(folder) / f"random{turn}"
        last, _ = killed(place, after=draw.uniform(0, 0.12), turns=200)
        wrong = fault(place, last)
        told += [f"kill {turn}: {wrong}"] if wrong else []
    return told
