"""Work in hand: what was written down is found again, whatever happened on the way."""

import os
import stat

import msgspec
import numpy as np
import pytest
from tests.study.members import members

from bright_tether.demo.study import demo_study
from bright_tether.study import cell_changes, changes, row_changes, table_changes
from bright_tether.study import journal as journal_module
from bright_tether.study.codec import decode_edit, encode_edit, weight
from bright_tether.study.history import History
from bright_tether.study.journal import Hold, Journal, recover, throw_away, work_in, wrecks
from bright_tether.study.ledger import Ledger
from bright_tether.study.package import save_study
from bright_tether.tables.writing import digest_of


def changed(history, value, row=4):
    return history.after(cell_changes.set_cells(history.study, "t1", {(row, "c4"): value}))


def written(folder, values=(1.0, 2.0, 3.0)):
    """A journal with one change a value, and the history behind it."""
    history = History(demo_study())
    journal = Journal(history.study, None, folder)
    for value in values:
        history = changed(history, value)
        journal.add(history.done[-1], history.study)
    return journal, history


def value_in(folder):
    return float(recover(folder).history.study.tables[0].columns[3].cells[4])


def test_a_line_cut_off_is_passed_over(tmp_path):
    journal, history = written(tmp_path)
    journal.add(history.done[-1].inverse(), history.back().study)
    edits = journal.folder / "edits-1"
    whole = edits.read_bytes()
    for cut in range(whole.index(b"\n") + 1, len(whole), 17):
        edits.write_bytes(whole[:cut])
        made = recover(journal.folder)
        assert len(made.history.done) == whole[:cut].count(b"\n") - 1
        assert (made.saved, made.lost) == (None, 0)
    edits.write_bytes(whole)
    assert value_in(journal.folder) == 2.0
    journal.close()


def test_a_flipped_bit_ends_what_is_made_again_and_is_counted(tmp_path):
    journal, _ = written(tmp_path)
    edits = journal.folder / "edits-1"
    whole = edits.read_bytes()
    second = [at for at, byte in enumerate(whole) if byte == 10][1]
    broken = bytearray(whole)
    broken[second + 30] ^= 4
    edits.write_bytes(broken)
    made = recover(journal.folder)
    assert (len(made.history.done), made.lost) == (1, 2)
    journal.close()


def test_a_held_journal_is_no_wreck_and_a_closed_one_is_gone(tmp_path):
    journal, _ = written(tmp_path, (1.0,))
    assert work_in(journal.folder) == 1
    assert wrecks(tmp_path) == []
    journal.close()
    assert not journal.folder.exists()
    assert work_in(journal.folder) == 0


def test_a_long_change_begins_a_generation_and_leaves_the_old_one_until_it_is_there(tmp_path, monkeypatch):
    monkeypatch.setattr("bright_tether.study.journal._LONG_LINE", 2000)
    journal, history = written(tmp_path)
    cells = {(row, "c4"): float(row) for row in range(60)}
    long = cell_changes.set_cells(history.study, "t1", cells)
    with monkeypatch.context() as full:
        full.setattr(
            "bright_tether.study.journal.save_study",
            lambda *_, **__: (_ for _ in ()).throw(OSError(28, "full")),
        )
        with pytest.raises(OSError, match="full"):
            journal.add(long, long.apply(history.study))
    assert (value_in(journal.folder), journal.behind) == (3.0, True)
    after = changed(history.after(long), 9.0)
    journal.add(after.done[-1], after.study)
    assert not journal.behind
    made = recover(journal.folder)
    assert made.history.study.tables[0].columns[3].cells[[4, 5]].tolist() == [9.0, 5.0]
    assert sorted(one.name for one in journal.folder.iterdir()) == ["base-2.tether", "edits-2", "lock"]
    journal.let_go()
    assert wrecks(tmp_path) == [journal.folder]


def test_long_changes_that_wait_make_one_base(tmp_path, monkeypatch):
    monkeypatch.setattr("bright_tether.study.journal._LONG_LINE", 2000)
    made, save = [], save_study
    monkeypatch.setattr(
        "bright_tether.study.journal.save_study", lambda *given, **how: (made.append(1), save(*given, **how))
    )
    journal, history = written(tmp_path)
    made.clear()
    long = cell_changes.set_cells(history.study, "t1", {(row, "c4"): float(row) for row in range(60)})
    history = history.after(long)
    journal.add(long, history.study, last=False)
    assert (journal.behind, made) == (True, [])
    history = changed(history, 9.0)
    journal.add(history.done[-1], history.study)
    assert (journal.behind, made) == (False, [1])
    there = recover(journal.folder).history.study.tables[0].columns[3].cells
    assert there[[4, 5]].tolist() == [9.0, 5.0]
    journal.close()


def test_a_full_disk_loses_no_change_once_there_is_room_again(tmp_path, monkeypatch):
    journal, history = written(tmp_path)
    real, room = os.write, [40]

    def write(handle, data):
        if handle != journal._lines:
            return real(handle, data)
        if not room[0]:
            raise OSError(28, "No space left on device")
        part = bytes(data)[: room[0]]
        room[0] -= len(part)
        return real(handle, part)

    monkeypatch.setattr(os, "write", write)
    for value in (4.0, 5.0):
        history = changed(history, value)
        with pytest.raises(OSError, match="No space"):
            journal.add(history.done[-1], history.study)
        assert value_in(journal.folder) == 3.0
    room[0] = 10**9
    history = changed(history, 6.0)
    journal.add(history.done[-1], history.study)
    made = recover(journal.folder)
    assert (len(made.history.done), made.lost) == (6, 0)
    assert members(made.history.study) == members(history.study)
    journal.close()


def test_a_change_that_cannot_be_written_as_a_line_begins_anew_with_the_next(tmp_path, monkeypatch):
    journal, history = written(tmp_path)
    with monkeypatch.context() as broken:
        broken.setattr(
            "bright_tether.study.journal.encode_edit", lambda _: (_ for _ in ()).throw(OverflowError())
        )
        history = changed(history, 4.0)
        with pytest.raises(OverflowError):
            journal.add(history.done[-1], history.study)
    assert journal.behind
    history = changed(history, 5.0, row=5)
    journal.add(history.done[-1], history.study)
    assert members(recover(journal.folder).history.study) == members(history.study)
    journal.close()


def test_what_is_killed_before_its_first_line_stops_nobody(tmp_path):
    journal, _ = written(tmp_path, ())
    (journal.folder / "edits-1").unlink()
    journal._shut()
    (tmp_path / "journals" / "notes").mkdir()
    assert wrecks(tmp_path) == []
    assert not journal.folder.exists()


def test_journals_are_for_their_owner_alone(tmp_path):
    journal, _ = written(tmp_path)
    modes = {
        one.name: stat.S_IMODE(one.stat().st_mode) for one in (journal.folder, *journal.folder.iterdir())
    }
    assert not any(mode & 0o077 for mode in modes.values()), modes
    journal.close()


def test_the_base_is_the_study_itself_whatever_became_of_its_file(tmp_path):
    path, study = tmp_path / "s.tether", demo_study()
    save_study(study, path)
    digest = digest_of(path)
    for spoil in (lambda: None, lambda: path.write_bytes(b"other"), path.unlink):
        spoil()
        journal = Journal(study, path, tmp_path, digest=digest)
        history = changed(History(study), 5.0)
        journal.add(history.done[-1], history.study)
        made = recover(journal.folder)
        assert members(made.history.study) == members(history.study)
        assert (made.saved, made.digest) == (path, digest)
        journal.close()


def test_every_edit_survives_its_line():
    study = demo_study()
    tether = study.tethers[0]
    edits = [
        cell_changes.set_cells(study, "t1", {(0, "c3"): 1.5, (1, "c2"): "Ford", (2, "c3"): None}),
        row_changes.delete_rows(study, "t1", [1, 2, 3]),
        row_changes.add_rows(study, "t1", 2),
        cell_changes.type_block(study, "t1", 70, 7, [["a", "1"], ["b", "2"]]),
        changes.set_aside(study, tether, {5}, "late"),
        changes.set_aside(study, tether, {5}, "half a \ud800 letter"),
        changes.change_rule(study, "alpha", 0.01),
        changes.rename_column(study, "t1", "c3", "murk"),
        changes.drop_tether(study, tether),
        table_changes.bring_in(study, msgspec.structs.replace(study.tables[0], id="t99"))[0],
    ]
    for edit in edits:
        again = decode_edit(encode_edit(edit), 2)
        assert members(edit.apply(study)) == members(again.apply(study))
        assert again.label == edit.label.replace("\ud800", "?")


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


def test_a_state_folder_that_cannot_be_used_holds_nothing_up(tmp_path, monkeypatch):
    (tmp_path / "state").write_text("a file stands there")
    assert Hold(tmp_path / "s.tether", tmp_path / "state").ours
    assert wrecks(tmp_path / "state") == []
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    history = History(demo_study())
    ledger = Ledger(history.study)
    history = changed(history, 1.0)
    with pytest.raises(OSError, match="Not a directory"):
        ledger.note(history.done[-1], history.study)
    assert ledger.behind
    (tmp_path / "state").unlink()
    history = changed(history, 2.0)
    ledger.note(history.done[-1], history.study)
    assert not ledger.behind
    ledger.leave()
    (found,) = wrecks()
    assert members(recover(found).history.study) == members(history.study)
    throw_away(found)
    assert wrecks() == []


def test_a_source_near_the_study_is_found_again_after_a_crash(tmp_path, csv_file):
    from bright_tether.study import changes, table_changes
    from bright_tether.study.journal import recover
    from bright_tether.study.ledger import Ledger
    from bright_tether.study.package import open_study, save_study
    from bright_tether.study.study import Study
    from bright_tether.tables.read_plan import read_file
    from bright_tether.tables.writing import digest_of

    table = read_file(csv_file("x,y\n1,2\n2,4\n3,7\n"))
    study = Study(tables=(table,), tethers=(table_changes.first_tether(table, "k1"),))
    place = tmp_path / "s.tether"
    save_study(study, place)
    study = open_study(place)
    for carries in (False, True):
        ledger = Ledger(study)
        ledger.begin(study, place, digest_of(place), carries=carries)
        edit = changes.rename_study(study, "again")
        ledger.note(edit, edit.apply(study))
        found = recover(ledger._journal.folder).history.study
        assert found.tables[0].source.path == table.source.path
        ledger.drop()


def test_an_edit_is_weighed_without_being_written():
    assert weight(np.zeros(30)) == 320  # eight bytes a number, four letters for three bytes
    assert weight(np.array(["a"] * 30, object)) == 120
    assert weight((np.zeros(3), np.zeros(6))) == 32 + 64
    assert weight(("a", "b")) == 0


def test_a_change_that_cannot_be_read_loses_itself_and_those_behind_it(tmp_path, monkeypatch):
    journal, _ = written(tmp_path, (1.0, 2.0, 3.0, 4.0))
    left = iter([True, False])

    def once(line, version, real=journal_module.decode_edit):
        if not next(left):
            raise ValueError
        return real(line, version)

    monkeypatch.setattr(journal_module, "decode_edit", once)
    made = recover(journal.folder)
    assert (len(made.history.done), made.lost) == (1, 3)
    journal.close()
