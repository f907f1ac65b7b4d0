"""Handing over: all in one place, nothing of this machine in it, and opened elsewhere it finds its data."""

import hashlib
import shutil
import subprocess
import sys
import zipfile
from pathlib import Path

import msgspec
import pytest

from account.test_page import TODAY
from bright_tether.account.composing import page_of
from bright_tether.account.handing_over import NotEmpty, hand_over
from bright_tether.command import parser
from bright_tether.study.package import is_package, open_study
from bright_tether.study.pins import Pin
from bright_tether.study.study import Study
from bright_tether.study.table_changes import first_tether
from bright_tether.tables.read_plan import guess_plan, read_content
from bright_tether.tables.table import Source
from bright_tether.tables.writing import digest_of, path_text


@pytest.fixture
def study(tmp_path):
    """Two tables of one file name from two folders, and one whose file is gone."""
    tables = []
    for at, folder in enumerate(("north", "south", "gone"), 1):
        path = tmp_path / "secret place" / folder / "levels.csv"
        path.parent.mkdir(parents=True)
        path.write_text(
            "case,stage (m),flow (m3/s)\n" + "".join(f"c{i},{i},{i * at + i % 3}\n" for i in range(1, 9))
        )
        content = path.read_bytes()
        table = read_content(content, path.name, f"t{at}", guess_plan(content, path.name))
        source = Source(
            path=path_text(path), digest=digest_of(path) or "", size=len(content), modified="2026-11-20"
        )
        tables.append(msgspec.structs.replace(table, name=folder, source=source))
    shutil.rmtree(tmp_path / "secret place" / "gone")
    tethers = tuple(first_tether(table, f"k{at}") for at, table in enumerate(tables, 1))
    pins = (
        Pin(id="p1", part="reading", tether="k1", step="line"),
        Pin(id="p2", part="picture", tether="k1", step="line"),
    )
    return Study(title="Levels", tables=tuple(tables), tethers=tethers, pins=pins)


def test_a_zip_holds_all_of_it_and_opens_elsewhere_with_its_data(study, press, tmp_path):
    page = page_of(study, press, today=TODAY)
    out = tmp_path / "out.zip"
    assert hand_over(page, study, out, press) == ("levels-3.csv",)
    assert [one.name for one in tmp_path.iterdir() if "handing" in one.name] == []
    elsewhere = tmp_path / "elsewhere"
    with zipfile.ZipFile(out) as package:
        package.extractall(elsewhere)
    folder = elsewhere / "out"
    names = {one.relative_to(folder).as_posix() for one in folder.rglob("*") if one.is_file()}
    assert names >= {
        "study.tether", "account.html", "account.pdf", "account.docx", "READ-ME.txt", "data/levels.csv",
        "data/levels-2.csv", "evidence/results.json", "evidence/figures.json", "evidence/reproduce.py",
        "evidence/picture-1.svg", "evidence/references.bib", "evidence/pairs-2.csv",
    }  # fmt: skip
    told = (folder / "READ-ME.txt").read_text()
    assert "Not among the data is “levels-3.csv”" in told
    for name in names - {"READ-ME.txt"}:
        assert f"{name}" in told
        assert hashlib.sha256((folder / name).read_bytes()).hexdigest() in told
    shutil.rmtree(tmp_path / "secret place")
    opened = open_study(folder / "study.tether")
    assert [Path(table.source.path).is_file() for table in opened.tables] == [True, True, False]
    assert [digest_of(Path(one.source.path)) == one.source.digest for one in opened.tables[:2]] == [
        True,
        True,
    ]
    assert [len(one.row_ids) for one in opened.tables] == [8, 8, 8]
    run = subprocess.run(
        [sys.executable, folder / "evidence" / "reproduce.py"], capture_output=True, text=True, check=False
    )
    assert "every figure agrees" in run.stdout


def test_nothing_of_this_machine_goes_along(study, press, tmp_path):
    hand_over(page_of(study, press, today=TODAY), study, tmp_path / "folder", press)
    files = [one for one in (tmp_path / "folder").rglob("*") if one.is_file()]
    for path in files:
        parts = [path.read_bytes()]
        if zipfile.is_zipfile(path):
            with zipfile.ZipFile(path) as package:
                parts = [package.read(name) for name in package.namelist()]
        for words in (str(tmp_path), "secret place", str(Path.home()) + "/", Path.cwd().as_posix()):
            assert not any(words.encode() in part for part in parts), (path.name, words)


def test_a_folder_with_something_in_it_is_left_alone(study, press, tmp_path):
    place = tmp_path / "full"
    place.mkdir()
    (place / "mine.txt").write_text("mine")
    page = page_of(study, press, today=TODAY)
    with pytest.raises(NotEmpty, match="not empty"):
        hand_over(page, study, place, press)
    assert [one.name for one in place.iterdir()] == ["mine.txt"]
    with pytest.raises(OSError):
        hand_over(page, study, tmp_path / "nowhere" / "a.zip", press)


def test_what_fails_half_way_leaves_nothing(study, press, tmp_path, monkeypatch):
    from bright_tether.account import handing_over

    def full(*_, **__):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(handing_over, "write_evidence", full)
    before = sorted(one.name for one in tmp_path.iterdir())
    with pytest.raises(OSError, match="No space"):
        hand_over(page_of(study, press, today=TODAY), study, tmp_path / "a.zip", press)
    assert sorted(one.name for one in tmp_path.iterdir()) == before


def test_the_zip_itself_opens_as_the_study_in_it(study, press, tmp_path):
    hand_over(page_of(study, press, today=TODAY), study, tmp_path / "a.zip", press)
    assert is_package(tmp_path / "a.zip")
    assert open_study(tmp_path / "a.zip").title == "Levels"
    # what is named so and is none is refused, as any damaged file is
    from bright_tether.tables.delimited import UnreadableFile

    with zipfile.ZipFile(tmp_path / "b.zip", "w") as package:
        package.writestr("x/study.tether", b"nothing")
    with pytest.raises(UnreadableFile):
        open_study(tmp_path / "b.zip")


def test_the_command_hands_over_and_says_what_stays_behind(study, press, tmp_path, capsys):
    from bright_tether.study.package import save_study

    save_study(study, tmp_path / "levels.tether")
    arguments = ["hand-over", str(tmp_path / "levels.tether"), "-o", str(tmp_path / "b.zip")]
    assert parser.run(arguments, lambda files: 9, lambda: press) == 0
    told = capsys.readouterr()
    assert told.out.strip() == str(tmp_path / "b.zip")
    assert told.err == (
        "bright-tether: “levels-3.csv” is no longer there as it was read: the rows go along in the study.\n"
    )
