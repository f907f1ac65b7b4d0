"""The study's file: opened, saved and journalled off the interface thread."""

from __future__ import annotations

import queue
import threading
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

import msgspec
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from bright_tether.desktop.session import Session
from bright_tether.study.history import History
from bright_tether.study.journal import Hold, Journal, recover, state_folder, work_in, wrecks
from bright_tether.study.package import open_study, save_study
from bright_tether.study.study import Study
from bright_tether.tables.delimited import UnreadableFile
from bright_tether.words import digits as d
from bright_tether.words.causes import unreadable

_SYNC_EVERY = 2000  # milliseconds: what a power loss may cost
_MOST_RECENT = 8
SUFFIX = ".tether"


class Document(QObject):
    """Where the open study lives on disk, and what of it is not saved yet.

    Writing happens in one worker, in order; ``wait`` returns when all of it is done.
    """

    state_changed = pyqtSignal()
    _told = pyqtSignal(object)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._session = session
        self.path: Path | None = None
        self._hold: Hold | None = None
        self._journal: Journal | None = None
        self._base = session.history.study
        self.saved_study = session.history.study
        self.said = "not saved yet"
        self._work: queue.Queue[Callable[[], None] | None] = queue.Queue()
        self._worker: threading.Thread | None = None
        session.changed.connect(self._write_down)
        self._told.connect(self._tell)
        self._timer = QTimer(self)
        self._timer.timeout.connect(lambda: self._journal and self._later(self._journal.sync))
        self._timer.start(_SYNC_EVERY)

    @property
    def unsaved(self) -> bool:
        """Whether there is work that the file does not hold."""
        return self._session.history.study is not self.saved_study

    def open(self, path: Path) -> bool:
        """Open a study; where it cannot be, say so and keep the open one untouched."""
        try:
            study = open_study(path)
        except UnreadableFile as found:
            self._session.noticed.emit(unreadable(found))
            return False
        self._start_from(History(study), path)
        self.saved_study = study
        if self.path:
            self.said = "opened"
            remember_recent(path)
        self.state_changed.emit()
        return True

    def save(self, path: Path | None = None) -> bool:
        """Save, here or under another name; False where there is no name yet."""
        path = path or self.path
        if path is None:
            return False
        if path.suffix != SUFFIX:
            path = path.with_name(path.name + SUFFIX)
        if path != self.path:
            hold = Hold(path)
            if not hold.ours:
                self._session.noticed.emit(
                    f"“{path.name}” is open in another window: save under another name."
                )
                hold.release()
                return False
            self._let_go()
            self.path, self._hold = path, hold
        study = self._session.history.study
        self.said = "saving…"
        self._later(lambda: self._save_now(study, path))
        self.state_changed.emit()
        return True

    def unfinished(self) -> list[tuple[Path, str]]:
        """Work that was never saved, each with a sentence about it."""
        found = []
        for folder in wrecks():
            when = datetime.fromtimestamp((folder / "edits").stat().st_mtime)
            work = d.count(work_in(folder), "change")
            found.append((folder, f"Work from {when:%H:%M on %-d %B} was not saved ({work})."))
        return found

    def take_up(self, folder: Path) -> None:
        """Go on with work that was never saved."""
        try:
            history, path = recover(folder)
        except (UnreadableFile, OSError, msgspec.MsgspecError):
            self._session.noticed.emit(
                "This unsaved work cannot be read any more; the open study is as it was."
            )
            return
        self._start_from(history, path)
        self.saved_study = None
        self.said = "taken up again, not saved yet"
        throw_away(folder)
        self._later(lambda: self._begin_journal(history.study))
        self.state_changed.emit()

    def wait(self) -> None:
        """Until everything is written."""
        self._work.join()

    def close(self) -> None:
        """Stop; unsaved work stays in its journal and is offered at the next start."""
        self._timer.stop()
        unsaved = self.unsaved
        journal = self._journal
        if self._worker is not None:
            self._work.put(None)
            self._worker.join()
            journal = self._journal
        if journal is not None:
            journal.let_go() if unsaved else journal.close()
        self._let_go()

    def _start_from(self, history: History, path: Path | None) -> None:
        hold = Hold(path) if path else None
        if hold is not None and not hold.ours and path != self.path:
            said = f"“{path.name}” is open in another window too: this is a copy, save it under another name."
            self._session.noticed.emit(said)
            hold.release()
            path, hold = None, None
        self._drop_journal()
        self._let_go()
        self.path, self._hold = path, hold
        self._base = history.study
        self._session.take_over(history)

    def _write_down(self, edit: object) -> None:
        base, study = self._base, self._session.history.study

        def write() -> None:
            if self._journal is None:
                self._begin_journal(base)
            self._journal.add(edit, study)

        self._later(write)
        self.state_changed.emit()

    def _begin_journal(self, study: Study) -> None:
        at_rest = self.path if study is self.saved_study and self.path and self.path.exists() else None
        self._journal = Journal(study, at_rest)

    def _drop_journal(self) -> None:
        def drop() -> None:
            if self._journal is not None:
                self._journal.close()
                self._journal = None

        self._later(drop)
        self.wait()

    def _save_now(self, study: Study, path: Path) -> None:
        try:
            save_study(study, path)
        except OSError as error:
            self._told.emit(
                f"“{path.name}” could not be saved ({error.strerror}): nothing was changed on disk."
            )
            return
        self.saved_study = self._base = study
        if self._journal is not None:
            self._journal.restart(study, path)
        self.said = f"saved {datetime.now():%H:%M}"
        remember_recent(path)
        self._told.emit(None)

    def _tell(self, trouble: str | None) -> None:
        if trouble:
            self.said = "not saved"
            self._session.noticed.emit(trouble)
        self.state_changed.emit()

    def _later(self, work: Callable[[], None]) -> None:
        if self._worker is None:
            self._worker = threading.Thread(target=self._run, name="writer", daemon=True)
            self._worker.start()
        self._work.put(work)

    def _run(self) -> None:
        while (work := self._work.get()) is not None:
            try:
                work()
            except OSError as error:
                self._told.emit(f"Work in hand cannot be written down ({error.strerror}): save it now.")
            finally:
                self._work.task_done()
        self._work.task_done()

    def _let_go(self) -> None:
        if self._hold is not None:
            self._hold.release()
            self._hold = None


def throw_away(folder: Path) -> None:
    """Give unsaved work up."""
    import shutil

    shutil.rmtree(folder, ignore_errors=True)


def recent_studies() -> list[Path]:
    """Studies opened or saved lately that are still there, newest first."""
    try:
        told = msgspec.json.decode((state_folder() / "recent.json").read_bytes(), type=list[str])
    except (OSError, msgspec.MsgspecError):
        return []
    return [path for path in map(Path, told) if path.exists()]


def remember_recent(path: Path) -> None:
    """Put a study at the head of the recent ones."""
    told = [str(path.absolute())]
    told += [str(one) for one in recent_studies() if str(one) not in told]
    state_folder().mkdir(parents=True, exist_ok=True)
    (state_folder() / "recent.json").write_bytes(msgspec.json.encode(told[:_MOST_RECENT]))
