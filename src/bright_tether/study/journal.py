"""Work in hand, written down as it is done, so that a kill loses next to nothing.

A journal is a folder: ``base.tether`` (or the name of the saved file it starts from) and ``edits``,
one line of JSON a change. A line is complete when it ends; what a kill cut off is passed over.
"""

from __future__ import annotations

import fcntl
import hashlib
import os
import shutil
import time
from contextlib import suppress
from pathlib import Path

import msgspec

from bright_tether.study.codec import decode_edit, encode_edit
from bright_tether.study.edits import AnyEdit
from bright_tether.study.history import History
from bright_tether.study.package import open_study, save_study
from bright_tether.study.study import Study
from bright_tether.tables.delimited import UnreadableFile

#: An edit longer than this goes into a new base instead of a line.
_LONG_LINE = 4_000_000


class Start(msgspec.Struct, frozen=True):
    """What a journal starts from. saved : the study's own file; digest : of that file as it was."""

    title: str
    saved: str | None
    digest: str | None


def state_folder() -> Path:
    """Where journals and locks live: the user's state folder."""
    home = os.environ.get("XDG_STATE_HOME") or Path.home() / ".local" / "state"
    return Path(home) / "bright-tether"


class Journal:
    """The journal of one open study. Held by a lock, so that a living one is never taken for a wreck."""

    def __init__(self, study: Study, saved: Path | None, folder: Path | None = None) -> None:
        root = (folder or state_folder()) / "journals"
        self.folder = root / f"{time.time_ns():x}-{os.getpid()}"
        self.folder.mkdir(parents=True)
        self._lock = (self.folder / "lock").open("w")
        fcntl.flock(self._lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        self._lines = None
        self._unsynced = False
        self.restart(study, saved)

    def restart(self, study: Study, saved: Path | None) -> None:
        """Start anew from a study just opened, saved, or too much changed for a line."""
        digest = _digest(saved) if saved else None
        if digest is None:
            save_study(study, self.folder / "base.tether")
        start = Start(study.title, str(saved.absolute()) if saved else None, digest)
        fresh = self.folder / "edits.new"
        with fresh.open("wb") as file:
            file.write(msgspec.json.encode(start) + b"\n")
            file.flush()
            os.fsync(file.fileno())
        os.replace(fresh, self.folder / "edits")
        if self._lines:
            self._lines.close()
        self._lines = (self.folder / "edits").open("ab", buffering=0)
        if digest is not None:
            (self.folder / "base.tether").unlink(missing_ok=True)

    def add(self, edit: AnyEdit, study: Study) -> None:
        """Write a change down; an undo is written as the inverse. study : as it is after it."""
        line = encode_edit(edit)
        if len(line) > _LONG_LINE:
            self.restart(study, None)
            return
        self._lines.write(line + b"\n")
        self._unsynced = True

    def sync(self) -> None:
        """Bring what was written down onto the disk; called every few seconds."""
        if self._unsynced:
            self._unsynced = False
            os.fsync(self._lines.fileno())

    def let_go(self) -> None:
        """Leave the journal where it is, for the next start to find."""
        self.sync()
        self._lines.close()
        self._lock.close()

    def close(self) -> None:
        """Throw the journal away: the work is saved, or was given up on purpose."""
        self._lines.close()
        shutil.rmtree(self.folder, ignore_errors=True)
        self._lock.close()


def wrecks(folder: Path | None = None) -> list[Path]:
    """Journals that nobody holds and that hold work, newest first; empty ones are cleared away."""
    found = []
    root = (folder or state_folder()) / "journals"
    for one in sorted(root.iterdir(), reverse=True) if root.is_dir() else []:
        with suppress(OSError), (one / "lock").open("a") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
            if work_in(one) > 0 or ((one / "base.tether").exists() and _worth_keeping(one)):
                found.append(one)
            else:
                shutil.rmtree(one, ignore_errors=True)
    return found


def work_in(folder: Path) -> int:
    """How many changes a journal holds."""
    try:
        lines = (folder / "edits").read_bytes().split(b"\n")
    except OSError:
        return 0
    return max(len(lines) - 2, 0)


def recover(folder: Path) -> tuple[History, Path | None]:
    """The study with its changes made again, and the file it came from. Raises UnreadableFile."""
    content = (folder / "edits").read_bytes()
    first, *lines = content.split(b"\n")[:-1]
    start = msgspec.json.decode(first, type=Start)
    base = folder / "base.tether"
    saved = Path(start.saved) if start.saved else None
    if not base.exists() and saved is not None:
        # The saved file may have been replaced since; its backup is then what the changes belong to.
        choices = (saved, saved.with_name(saved.name + "~"))
        base = next((path for path in choices if _digest(path) == start.digest), saved)
    history = History(open_study(base))
    for line in lines:
        try:
            history = history.after(decode_edit(line))
        except (msgspec.MsgspecError, StopIteration, IndexError, KeyError):
            break
    return history, saved


class Hold:
    """A hold on a study's file, so that a second window notices the first."""

    def __init__(self, path: Path, folder: Path | None = None) -> None:
        root = (folder or state_folder()) / "holds"
        root.mkdir(parents=True, exist_ok=True)
        name = hashlib.sha256(str(path.resolve()).encode()).hexdigest()[:24]
        self._file = (root / name).open("a")
        try:
            fcntl.flock(self._file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            self.ours = True
        except OSError:
            self.ours = False

    def release(self) -> None:
        """Let the file go."""
        self._file.close()


def _worth_keeping(folder: Path) -> bool:
    try:
        return any(table.rows for table in open_study(folder / "base.tether").tables)
    except UnreadableFile:
        return False


def _digest(path: Path) -> str | None:
    try:
        with path.open("rb") as file:
            return hashlib.file_digest(file, "sha256").hexdigest()
    except OSError:
        return None
