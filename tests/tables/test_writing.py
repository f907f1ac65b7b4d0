"""A file that is written is whole or not there, and stays what it was beside its content."""

import os
import stat
from pathlib import Path

import pytest

from bright_tether.tables.writing import (
    other_names,
    path_text,
    printable,
    put_whole,
    text_path,
    whole_file,
    xml_text,
)


def test_a_failure_half_way_leaves_the_old_file_and_no_litter(tmp_path):
    path = tmp_path / "a.csv"
    put_whole(path, b"old")

    def fail():
        with whole_file(path) as file:
            file.write(b"new")
            raise ValueError("half")

    with pytest.raises(ValueError, match="half"):
        fail()
    assert path.read_bytes() == b"old"
    assert os.listdir(tmp_path) == ["a.csv"]


def test_mode_and_link_stay_and_further_names_are_counted(tmp_path):
    real, link = tmp_path / "real.csv", tmp_path / "link.csv"
    put_whole(real, b"1")
    real.chmod(0o640)
    link.symlink_to(real)
    os.link(real, tmp_path / "second.csv")
    assert other_names(link) == 1
    put_whole(link, b"2")
    assert link.is_symlink()
    assert real.read_bytes() == b"2"
    assert stat.S_IMODE(real.stat().st_mode) == 0o640
    assert (tmp_path / "second.csv").read_bytes() == b"1"


@pytest.mark.skipif(os.geteuid() != 0, reason="only root can give a file away")
def test_the_owner_stays(tmp_path):
    path = tmp_path / "a"
    put_whole(path, b"1")
    os.chown(path, 12345, 12346)
    put_whole(path, b"2")
    assert (path.stat().st_uid, path.stat().st_gid) == (12345, 12346)


def test_what_a_killed_program_left_is_cleared(tmp_path):
    put_whole(tmp_path / "a", b"1")
    with whole_file(tmp_path / "a") as file:
        left = Path(file.name if isinstance(file.name, str) else next(tmp_path.glob(".*.part")))
        mark = left.name.rpartition("-")[0]
    dead, living = tmp_path / f"{mark}-4194305.part", tmp_path / f"{mark}-1.part"
    dead.touch()
    living.touch()
    put_whole(tmp_path / "a", b"2")
    assert not dead.exists()
    assert living.exists()


def test_a_full_device_is_an_error():
    with pytest.raises(OSError, match="No space left"):
        put_whole(Path("/dev/full"), b"1" * 100_000)


def test_names_that_are_not_utf8_come_back(tmp_path):
    odd = Path(os.fsdecode(os.fsencode(tmp_path) + b"/caf\xe9.csv"))
    assert text_path(path_text(odd)) == odd
    assert path_text(odd).isascii()
    assert text_path(path_text(tmp_path / "é.csv")) == tmp_path / "é.csv"
    assert printable(odd.name) == "caf?.csv"
    assert xml_text("a\x01b\ud800c") == "a\ufffdb\ufffdc"
