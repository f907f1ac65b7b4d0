"""Work in hand, written down as it is done, so that a kill loses next to nothing.

A journal is a folder that its owner alone can read: ``base-N.tether``, the study that generation N starts
from, and ``edits-N``, a line for what it starts from and then one a change, each with a check sum. A
generation counts from when its ``edits-N`` is there, whole; the one before it goes only then. A line that is
cut off or does not meet its sum ends what can be made again, and that is said.
"""

from __future__ import annotations

import fcntl
import hashlib
import os
import re
import shutil
import time
import zlib
from contextlib import suppress
from pathlib import Path
from typing import NamedTuple

import msgspec

from bright_tether.study.codec import decode_edit, encode_edit, weight
from bright_tether.study.edits import Edit
from bright_tether.study.history import History
from bright_tether.study.package import VERSION, read_package, save_study
from bright_tether.study.study import Study
from bright_tether.tables.delimited import file_bytes
from bright_tether.tables.writing import lives, path_text, printable, sync_folder, text_path, whole_file

#: Changes of this many bytes in one line go into a new base instead.
_LONG_LINE = 4_000_000
_EDITS = re.compile(r"edits-(\d+)")


class Start(msgspec.Struct, frozen=True):
    """What a generation starts from.

    saved : the study's own file, as ``path_text`` gives it; digest : of it when it was opened or saved.
    carries : the base itself is work that no file has. version : of the study file, which its edits follow.
    """

    title: str
    saved: str | None
    digest: str | None = None
    carries: bool = False
    version: int = 1


class Recovered(NamedTuple):
    """Work made again. lost : changes that could not be, since the record of them is damaged."""

    history: History
    saved: Path | None
    lost: int
    digest: str | None


def state_folder() -> Path:
    """Where journals and holds live: the user's state folder."""
    home = os.environ.get("XDG_STATE_HOME") or Path.home() / ".local" / "state"
    return Path(home) / "bright-tether"


class Journal:
    """The journal of one open study. Held by a lock, so that a living one is never taken for a wreck."""

    def __init__(
        self, study: Study, saved: Path | None, folder: Path | None = None, *, digest: str | None = None,
        carries: bool = False,
    ) -> None:  # fmt: skip
        """saved : the study's own file, None for none; digest : of it as it was opened or saved.

        carries : the study is work that no file has; without it the file as it was holds this very study.
        Raises OSError.
        """
        root = (folder or state_folder()) / "journals"
        root.mkdir(parents=True, exist_ok=True, mode=0o700)
        name = f"{time.time_ns():x}-{os.getpid()}"
        fresh = root / f".{name}"
        fresh.mkdir(mode=0o700)
        self._lines = self._lock = -1
        try:
            self._lock = os.open(fresh / "lock", os.O_RDWR | os.O_CREAT, 0o600)
            fcntl.flock(self._lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            self.folder = root / name
            os.rename(fresh, self.folder)
            self._generation, self._saved, self._digest = 0, saved, digest
            self._owed, self._whole, self._unsynced = bytearray(), 0, False
            self._torn = False
            self.restart(study, carries=carries)
        except BaseException:
            shutil.rmtree(fresh, ignore_errors=True)
            self.close()
            raise

    def restart(self, study: Study, *, carries: bool = True) -> None:
        """Begin a generation: too much changed for a line, or what was written is torn. Raises OSError."""
        number = self._generation + 1
        base, edits = self.folder / f"base-{number}.tether", self.folder / f"edits-{number}"
        try:
            if carries or not (self._saved and self._digest and _copied(self._saved, self._digest, base)):
                save_study(study, base, private=True, backup=False, near=False)
            saved = path_text(self._saved) if self._saved else None
            start = Start(printable(study.title), saved, self._digest, carries, VERSION)
            with whole_file(edits, private=True) as file:
                file.write(_line(msgspec.json.encode(start)))
            lines = os.open(edits, os.O_WRONLY | os.O_APPEND)
        except BaseException:
            for one in (edits, base):
                with suppress(OSError):
                    one.unlink(missing_ok=True)
            raise
        if self._lines >= 0:
            os.close(self._lines)
        before, self._generation, self._lines = self._generation, number, lines
        self._owed, self._whole, self._unsynced = bytearray(), edits.stat().st_size, False
        self._torn = False
        for name in (f"edits-{before}", f"base-{before}.tether"):
            with suppress(OSError):
                (self.folder / name).unlink(missing_ok=True)

    @property
    def behind(self) -> bool:
        """Whether a change stands in memory only."""
        return bool(self._owed) or self._torn

    def add(self, edit: Edit, study: Study, *, last: bool = True) -> None:
        """Write a change down; an undo is written as the inverse. study : as it is after it.

        last : whether no other change is waiting to be written; one that is makes a new base for this one too.
        What cannot be written is owed and tried again with the next change. Raises OSError, ValueError.
        """
        if not self._torn and weight(edit) <= _LONG_LINE:
            try:
                self._owed += _line(encode_edit(edit))
            except BaseException:
                self._torn = True
                raise
            if len(self._owed) <= _LONG_LINE:
                self._write()
                return
        self._torn = True
        if last:
            self.restart(study)

    def sync(self) -> None:
        """Bring what was written down, and what is owed, onto the disk; called every few seconds."""
        if self._owed and not self._torn:
            self._write()
        if self._unsynced:
            os.fsync(self._lines)
            self._unsynced = False

    def let_go(self) -> None:
        """Leave the journal where it is, for the next start to find."""
        try:
            self.sync()
        finally:
            self._shut()

    def close(self) -> None:
        """Throw the journal away: the work is saved, or was given up on purpose."""
        throw_away(self.folder)
        self._shut()

    def _write(self) -> None:
        done = 0
        try:
            while done < len(self._owed):
                done += os.write(self._lines, memoryview(self._owed)[done:])
        except OSError:
            try:  # a full disk leaves half a line: what follows must not be joined to it
                os.ftruncate(self._lines, self._whole)
            except OSError:
                self._torn = True
            raise
        self._whole += done
        self._owed = bytearray()
        self._unsynced = True

    def _shut(self) -> None:
        for handle in (self._lines, self._lock):
            if handle >= 0:
                os.close(handle)
        self._lines = self._lock = -1


def wrecks(folder: Path | None = None) -> list[Path]:
    """Journals that nobody holds and that hold work, newest first; empty ones are cleared away.

    One that cannot be looked into is passed over and left where it is.
    """
    found = []
    root = (folder or state_folder()) / "journals"
    try:
        journals = sorted(root.iterdir(), reverse=True)
    except OSError:
        return []
    for one in journals:
        if one.name[:1] == ".":  # not yet a journal, or none any more
            if not lives(one.name.rpartition("-")[2]):
                shutil.rmtree(one, ignore_errors=True)
            continue
        with suppress(OSError), (one / "lock").open("a") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            number = _generation_of(one)
            if number is None:
                throw_away(one)  # killed before its first change
                continue
            start, lines, _ = _told(one / f"edits-{number}")
            if start is None:
                continue
            if lines or start.carries:
                found.append(one)
            else:
                throw_away(one)
    return found


def work_in(folder: Path) -> int:
    """How many changes a journal holds."""
    number = _generation_of(folder)
    return 0 if number is None else len(_told(folder / f"edits-{number}")[1])


def touched(folder: Path) -> float:
    """When a journal was last written to, in seconds since 1970."""
    number = _generation_of(folder)
    try:
        return (folder / f"edits-{number}").stat().st_mtime
    except OSError:
        return time.time()


def recover(folder: Path) -> Recovered:
    """The study with its changes made again, and the file it came from. Raises UnreadableFile, OSError."""
    number = _generation_of(folder)
    start, lines, lost = (None, [], 0) if number is None else _told(folder / f"edits-{number}")
    if start is None:
        raise OSError(5, "the record is damaged")
    saved, base = text_path(start.saved) if start.saved else None, folder / f"base-{number}.tether"
    # a base may be a copy of the file that was saved: what stands near that is seen from there
    study = read_package(file_bytes(base), base.name, saved.parent if saved else None)
    history = History(study)
    for at, line in enumerate(lines):
        try:
            history = history.after(decode_edit(line, start.version))
        except Exception:  # whatever a damaged change does: the ones before it stand
            lost += len(lines) - at
            break
    return Recovered(history, saved, lost, start.digest)


class Hold:
    """A hold on a study's file, so that a second window notices the first.

    Where the state folder cannot be used nothing is noticed, and nothing else suffers.
    """

    def __init__(self, path: Path, folder: Path | None = None) -> None:
        self.path, self._file = path, None
        self.ours = True
        try:
            root = (folder or state_folder()) / "holds"
            root.mkdir(parents=True, exist_ok=True, mode=0o700)
            name = hashlib.sha256(os.fsencode(path.resolve())).hexdigest()[:24]
            self._file = (root / name).open("a")
        except OSError:
            return
        try:
            fcntl.flock(self._file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            self.ours = False

    def release(self) -> None:
        """Let the file go."""
        if self._file is not None:
            self._file.close()


def throw_away(folder: Path) -> None:
    """Give unsaved work up: at once as a whole, so that a kill leaves no half of it to be found."""
    gone = folder.with_name(f".{folder.name.rpartition('-')[0]}-{os.getpid()}")
    try:
        os.rename(folder, gone)
    except OSError:
        return
    shutil.rmtree(gone, ignore_errors=True)
    sync_folder(folder.parent)


def _copied(saved: Path, digest: str, base: Path) -> bool:
    """Whether a file still is what it was and now stands as the base too."""
    try:
        with saved.open("rb") as source, whole_file(base, private=True) as file:
            summed = hashlib.sha256()
            while part := source.read(1 << 20):
                summed.update(part)
                file.write(part)
    except OSError:
        return False
    return summed.hexdigest() == digest


def _line(content: bytes) -> bytes:
    return b"%08x %s\n" % (zlib.crc32(content), content)


def _generation_of(folder: Path) -> int | None:
    """The newest generation that is there."""
    try:
        found = [int(m[1]) for one in folder.iterdir() if (m := _EDITS.fullmatch(one.name))]
    except OSError:
        return None
    return max(found, default=None)


def _told(edits: Path) -> tuple[Start | None, list[bytes], int]:
    """What a generation starts from, its sound changes, and how many after them are damaged.

    A last line without an end was cut off by a kill: it was never told to be written, and counts as nothing.
    """
    try:
        *lines, _ = edits.read_bytes().split(b"\n")
    except OSError:
        return None, [], 0
    sound: list[bytes] = []
    for line in lines:
        content = line[9:]
        if line[:9] != b"%08x " % zlib.crc32(content):
            break
        sound.append(content)
    try:
        start = msgspec.json.decode(sound[0], type=Start)
    except (IndexError, msgspec.MsgspecError):
        return None, [], len(lines)
    return start, sound[1:], len(lines) - len(sound)
