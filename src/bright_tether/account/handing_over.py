"""All of a study for somebody else: study, data, account, tables, pictures, script; no path of this machine in it."""

from __future__ import annotations

import os
import shutil
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path, PurePosixPath
from tempfile import mkdtemp

import msgspec

from bright_tether.account.evidence import write_evidence
from bright_tether.account.export import export
from bright_tether.account.page import Page
from bright_tether.account.pieces import AllFindings
from bright_tether.account.press import Press
from bright_tether.far.share import share_of
from bright_tether.study.package import HANDED, save_study
from bright_tether.study.study import Study
from bright_tether.tables.table import Source, Table
from bright_tether.tables.writing import digest_of, printable, text_path, whole_file
from bright_tether.words.handing_over import list_of_files

#: The account in each of these.
_ACCOUNTS = ("account.html", "account.pdf", "account.docx")
_LIST = "READ-ME.txt"
_DATA, _EVIDENCE = "data", "evidence"


class NotEmpty(OSError):
    """A folder that holds something already."""

    def __init__(self) -> None:
        super().__init__(39, "the folder is not empty: name one that is, or a new one")


def hand_over(
    page: Page, study: Study, path: Path, press: Press, *, everything: AllFindings | None = None
) -> tuple[str, ...]:
    """Put everything into a folder, or into one .zip; it is there whole or not at all.

    Returns the names of the data files that could not go along, since they are gone or changed. Raises OSError.
    """
    if path.suffix.lower() != ".zip" and path.exists() and any(path.iterdir()):
        raise NotEmpty
    with _workshop(path) as folder:
        portable, missing = _with_data(study, folder)
        save_study(portable, folder / HANDED, backup=False)
        for name in _ACCOUNTS:
            export(page, study, folder / name, press)
        write_evidence(page, study, folder / _EVIDENCE, everything)
        files = sorted(one.relative_to(folder).as_posix() for one in folder.rglob("*") if one.is_file())
        sums = {name: digest_of(folder / name) or "" for name in files}
        words = list_of_files(study.title, page.written, page.version, sums, missing)
        (folder / _LIST).write_text(words, encoding="utf-8", errors="replace")
        if path.suffix.lower() == ".zip":
            _pack(folder, path)
        else:
            path.mkdir(exist_ok=True)
            for one in sorted(folder.iterdir()):
                os.replace(one, path / one.name)
    return missing


@contextmanager
def _workshop(path: Path) -> Iterator[Path]:
    """A folder beside the place, gone at the end whatever happens: what is half done is never seen."""
    folder = Path(mkdtemp(prefix=".handing-over-", dir=path.absolute().parent))
    try:
        yield folder
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def _with_data(study: Study, folder: Path) -> tuple[Study, tuple[str, ...]]:
    """The study with its sources beside it, and the names of those that are not as they were read."""
    tables, missing, taken = [], [], set[str]()
    for table in study.tables:
        source = table.source
        if (
            source is None or share_of(table) is not None
        ):  # a share is in the study; the whole stays where it is
            tables.append(table)
            continue
        origin = text_path(source.path)
        name = _free(PurePosixPath(printable(origin.name)).name or "table", taken)
        there = _same_file(origin, source)
        if there:
            (folder / _DATA).mkdir(exist_ok=True)
            shutil.copyfile(origin, folder / _DATA / name)
        else:
            missing.append(name)
        tables.append(_pointing(table, f"{_DATA}/{name}"))
    return msgspec.structs.replace(study, tables=tuple(tables)), tuple(missing)


def _pointing(table: Table, path: str) -> Table:
    assert table.source is not None
    return msgspec.structs.replace(table, source=msgspec.structs.replace(table.source, path=path))


def _same_file(path: Path, source: Source) -> bool:
    try:
        return path.is_file() and (not source.digest or digest_of(path) == source.digest)
    except OSError:
        return False


def _free(name: str, taken: set[str]) -> str:
    """A name that no file beside it has, whatever a system makes of capitals."""
    stem, dot, suffix = name.partition(".")
    number, found = 1, name
    while found.lower() in taken:
        number += 1
        found = f"{stem}-{number}{dot}{suffix}"
    taken.add(found.lower())
    return found


def _pack(folder: Path, path: Path) -> None:
    with whole_file(path) as file, zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as package:
        for one in sorted(folder.rglob("*")):
            if one.is_file():
                package.write(one, f"{path.stem}/{one.relative_to(folder).as_posix()}")
