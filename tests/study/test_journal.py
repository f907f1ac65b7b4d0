"""A kill at any instant costs next to nothing."""

import io
import os
import random
import signal
import subprocess
import sys
import textwrap
import time
import zipfile

import msgspec
import pytest

from bright_tether.demo.study import demo_study
from bright_tether.study import changes
from bright_tether.study.codec import decode_edit, encode_edit
from bright_tether.study.history import History
from bright_tether.study.journal import Hold, Journal, recover, work_in, wrecks
from bright_tether.study.package import open_study, save_study, write_package

WRITER = """
import sys
from pathlib import Path
from bright_tether.demo.study import demo_study
from bright_tether.study import changes
from bright_tether.study.history import History
from bright_tether.study.journal import Journal
from bright_tether.study.package import save_study

folder, path = Path(sys.argv[1]), Path(sys.argv[2])
history = History(demo_study())
journal = Journal(history.study, None, folder)
print("ready", flush=True)
for turn in range(10**6):
    edit = changes.set_cells(history.study, "t1", {(turn % 71, "c3"): float(turn)})
    history = history.after(edit)
    journal.add(edit, history.study)
    print(turn, flush=True)
    if turn % 7 == 6:
        save_study(history.study, path)
        journal.restart(history.study, path)
        print("saved", turn, flush=True)
"""


def killed_writer(folder, path, after):
    process = subprocess.Popen(
        [sys.executable, "-c", textwrap.dedent(WRITER), folder, path], stdout=subprocess.PIPE, text=True
    )
    process.stdout.readline()
    time.sleep(after)
    os.kill(process.pid, signal.SIGKILL)
    said = [line for line in process.stdout.read().split("\n") if line]
    process.stdout.close()
    process.wait()
    return int(said[-1].split()[-1]) if said else -1


def check(folder, path, last):
    if path.exists():
        open_study(path)
    found = wrecks(folder)
    if last < 0:
        return
    saved = path.exists() and open_study(path).tables[0].columns[2].cells[last % 71] >= last
    if not found:
        assert saved
        return
    history, _ = recover(found[0])
    assert history.study.tables[0].columns[2].cells[last % 71] >= last


def kills(count, folder, seed=1):
    wait = random.Random(seed)
    for turn in range(count):
        place = folder / str(turn)
        place.mkdir()
        check(place, place / "s.tether", killed_writer(place, place / "s.tether", wait.uniform(0, 0.25)))


def test_nothing_told_is_lost_by_a_kill(tmp_path):
    kills(12, tmp_path)


@pytest.mark.verify
def test_nothing_told_is_lost_by_hundreds_of_kills(tmp_path):
    kills(400, tmp_path, seed=2)


def test_a_line_cut_off_is_passed_over(tmp_path):
    study = demo_study()
    journal = Journal(study, None, tmp_path)
    history = History(study)
    for value in (1.0, 2.0, 3.0):
        edit = changes.set_cells(history.study, "t1", {(4, "c4"): value})
        history = history.after(edit)
        journal.add(edit, history.study)
    journal.add(history.done[-1].inverse(), history.back().study)
    whole = (journal.folder / "edits").read_bytes()
    for cut in range(whole.index(b"\n") + 1, len(whole), 17):
        (journal.folder / "edits").write_bytes(whole[:cut])
        history, saved = recover(journal.folder)
        assert len(history.done) == whole[:cut].count(b"\n") - 1
        assert saved is None
    (journal.folder / "edits").write_bytes(whole)
    history, _ = recover(journal.folder)
    assert history.study.tables[0].columns[3].cells[4] == 2.0
    journal.close()


def test_a_held_journal_is_no_wreck_and_a_closed_one_is_gone(tmp_path):
    journal = Journal(demo_study(), None, tmp_path)
    journal.add(changes.rename_study(demo_study(), "B"), demo_study())
    assert work_in(journal.folder) == 1
    assert wrecks(tmp_path) == []
    journal.close()
    assert not journal.folder.exists()


def test_changes_on_a_saved_study_are_found_even_after_it_was_replaced(tmp_path):
    path, study = tmp_path / "s.tether", demo_study()
    save_study(study, path)
    journal = Journal(study, path, tmp_path)
    assert not (journal.folder / "base.tether").exists()
    journal.add(changes.set_cells(study, "t1", {(0, "c4"): 5.0}), study)
    save_study(changes.rename_study(study, "Newer").apply(study), path)
    history, saved = recover(journal.folder)
    assert history.study.title == study.title
    assert history.study.tables[0].columns[3].cells[0] == 5.0
    assert saved == path
    journal.close()


def members(study):
    file = io.BytesIO()
    write_package(study, file)
    with zipfile.ZipFile(file) as package:
        return {name: package.read(name) for name in package.namelist()}


def test_every_edit_survives_its_line():
    study = demo_study()
    tether = study.tethers[0]
    edits = [
        changes.set_cells(study, "t1", {(0, "c3"): 1.5, (1, "c2"): "Ford", (2, "c3"): None}),
        changes.delete_rows(study, "t1", [1, 2, 3]),
        changes.add_rows(study, "t1", 2),
        changes.type_block(study, "t1", 70, 7, [["a", "1"], ["b", "2"]]),
        changes.set_aside(study, tether, {5}, "late"),
        changes.change_rule(study, "alpha", 0.01),
        changes.rename_column(study, "t1", "c3", "murk"),
        changes.drop_tether(study, tether),
        changes.bring_in(study, msgspec.structs.replace(study.tables[0], id="t99"))[0],
    ]
    for edit in edits:
        again = decode_edit(encode_edit(edit))
        one, two = edit.apply(study), again.apply(study)
        assert members(one) == members(two)
        assert again.label == edit.label


def test_a_second_window_notices_the_first(tmp_path):
    path = tmp_path / "s.tether"
    first = Hold(path, tmp_path)
    second = Hold(path, tmp_path)
    assert (first.ours, second.ours) == (True, False)
    second.release()
    first.release()
    third = Hold(path, tmp_path)
    assert third.ours
    third.release()
