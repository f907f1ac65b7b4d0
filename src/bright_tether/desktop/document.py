"""The study's file: opened, saved and journalled off the interface thread."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from contextlib import suppress
from datetime import datetime
from functools import partial
from pathlib import Path

import msgspec
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from bright_tether.desktop.background import Pool
from bright_tether.desktop.recent import remember_recent
from bright_tether.desktop.session import Session, is_small, unreadable_file
from bright_tether.desktop.turns import Turn
from bright_tether.study.edits import Edit
from bright_tether.study.history import History
from bright_tether.study.journal import Hold, Recovered, recover, throw_away, touched, work_in, wrecks
from bright_tether.study.ledger import Ledger
from bright_tether.study.package import read_package, save_study
from bright_tether.study.study import Study, empty_study
from bright_tether.tables.delimited import file_bytes
from bright_tether.tables.writing import digest_of, other_names, printable
from bright_tether.words import digits as d
from bright_tether.words.causes import unwritten
from bright_tether.words.document import How, SaveState

_SYNC_EVERY = 2000  # milliseconds: what a power loss may cost
SUFFIX = ".tether"
KEPT = "The unsaved work on “{}” is kept: “Take up unsaved work” in the list of actions brings it back."


class Saved(msgspec.Struct, frozen=True, kw_only=True):
    """How a save ended. changed : somebody else changed the file, and it was left as it is."""

    study: Study
    path: Path
    digest: str | None = None
    changed: bool = False
    was_gone: bool = False
    names: int = 0
    error: Exception | None = None


class Document(QObject):
    """Where the open study lives on disk, and what of it is not saved yet.

    Writing happens in one worker, in order; every error comes back as a value and is said, and what failed
    is tried again at the next change. ``wait`` returns when all of it is done and answered.
    """

    state_changed = pyqtSignal()
    #: A study was opened from its file.
    opened = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._session = session
        self.path: Path | None = None
        self._digest: str | None = None
        self._hold: Hold | None = None
        self._ledger = Ledger(session.history.study)
        self._saving: tuple[Path, Hold | None] | None = None
        self._trouble = ""
        self.saved_study: Study | None = session.history.study
        self.state = SaveState("fresh")
        self._writer = Pool(self)
        #: How many changes were given to it.
        self._noted = 0
        self._written = False
        session.changed.connect(self._write_down)
        self._timer = QTimer(self)
        # with nothing written down yet there is no writer to wake
        self._timer.timeout.connect(
            lambda: self._later(self._ledger.sync, self._written_down) if self._written else None
        )
        self._timer.start(_SYNC_EVERY)

    @property
    def unsaved(self) -> bool:
        """Whether there is work that the file does not hold."""
        return self._session.history.study is not self.saved_study

    def new(self) -> None:
        """Start a blank study, with no file; unsaved work on the one at hand is kept, and that is said."""
        self.start(empty_study())

    def start(self, study: Study, then: Callable[[], object] = lambda: None) -> None:
        """Start a study with no file in place of the one at hand, as ``new`` does. then : told when it is there."""
        self._part_with(lambda: self._start(History(study), None, None, "fresh"), then)

    def open(self, path: Path) -> None:
        """Open a study; where it cannot be, say so and keep the open one untouched."""

        def read() -> tuple[Study, str]:
            content = file_bytes(path)
            return read_package(content, path.name, path.absolute().parent), hashlib.sha256(
                content
            ).hexdigest()

        def take(found: tuple[Study, str] | Exception) -> None:
            if isinstance(found, Exception):
                self._session.notice(unreadable_file(found))
                return
            study, digest = found
            self._part_with(lambda: self._start(History(study), path, digest, "opened"), self.opened.emit)

        self._session.off(read, take, small=is_small(path))

    def save(self, path: Path | None = None, *, anyway: bool = False) -> bool:
        """Begin to save, here or under another name; False where there is no name yet, or it is in use.

        The head says when it is on disk. anyway : also where somebody else changed the file.
        """
        self._session.settle()
        pending = self._saving[0] if self._saving else None
        path = path or pending or self.path
        if path is None:
            return False
        if not self._session.turns.idle:  # what is under way was asked for before this
            self._after_turns(partial(self.save, path, anyway=anyway))
            return True
        if path.suffix != SUFFIX:
            path = path.with_name(path.name + SUFFIX)
        elsewhere = path not in (self.path, pending)
        hold = self._saving[1] if self._saving and path == pending else self._hold
        if elsewhere:
            hold = Hold(path)
        if elsewhere and hold is not None and not hold.ours:
            self._session.notice(
                f"“{printable(path.name)}” is open in another window: save under another name."
            )
            hold.release()
            return False
        study = self._session.history.study
        known = self._digest if path == self.path and not anyway else None
        self._saving, self.state = (path, hold), SaveState("saving")
        self._later(
            lambda: _save(study, path, known, self._ledger), lambda end: self._end_save(end, path, hold)
        )
        self.state_changed.emit()
        return True

    def unfinished(self) -> list[tuple[Path, str]]:
        """Work that was never saved, each with a sentence about it, newest first."""
        return [
            (folder, f"Work from {datetime.fromtimestamp(touched(folder)):%H:%M on %-d %B} was not saved "
             f"({d.count(max(work_in(folder), 1), 'change')}).")
            for folder in wrecks()
        ]  # fmt: skip

    def take_up(self, folder: Path) -> None:
        """Go on with work that was never saved."""

        def take(found: Recovered | Exception) -> None:
            if isinstance(found, Exception):
                self._session.notice(
                    "This unsaved work cannot be read any more; the open study is as it was. "
                    f"What is left of it stands in {printable(str(folder))}."
                )
            else:
                self._part_with(lambda: self._go_on(found, folder))

        self._session.off(lambda: recover(folder), take, small=is_small(folder))

    def put_at_risk(self) -> bool:
        """Bring all that can be onto the disk; whether unsaved work still stands in memory only."""
        self._later(self._ledger.sync, self._written_down)
        self.wait()
        return self.unsaved and self._ledger.behind

    def wait(self) -> None:
        """Until everything is written, and what came of it is answered."""
        self._writer.wait()

    def close(self) -> None:
        """Stop; unsaved work stays in its journal and is offered at the next start."""
        self._timer.stop()
        self._session.settle()
        self._writer.close()
        with suppress(OSError):
            self._ledger.leave() if self.unsaved else self._ledger.drop()
        self._release()

    def _part_with(
        self, go: Callable[[], None], then: Callable[[], object] = lambda: None, *, anyway: bool = False
    ) -> None:
        """Leave the study at hand for another; asks first where its unsaved work is in memory only.

        What is still being written down, or changed, of a long table is waited for beside the window.
        """
        session, small = self._session, self._session.in_place
        session.settle()
        again = partial(self._part_with, go, then, anyway=anyway)
        if not session.turns.idle:
            self._after_turns(again)
            return
        if not (small or self._writer.idle):
            session.tell("What was changed is written down first.")
            self._later(lambda: None, lambda _: again())
            return
        at_risk, title = self.put_at_risk(), printable(session.history.study.title)
        if at_risk and not anyway:
            session.offer(
                f"The unsaved work on “{title}” cannot be written down ({self._trouble}), "
                "so leaving it would lose it.",
                {"Leave it all the same": lambda: self._part_with(go, then, anyway=True)},
            )
            return
        kept = self.unsaved and not at_risk
        go()
        if kept:  # told once the journal is let go: the newest is the one just left
            self._later(lambda: wrecks()[:1], lambda left: self._say_kept(title, left))
            if small and session.in_place:
                self.wait()
        self.state_changed.emit()
        then()

    def _after_turns(self, go: Callable[[], object]) -> None:
        """Do this when the changes under way stand."""
        turn = Turn(lambda history: (None, history), lambda _: go(), lambda error: None)
        self._session.turns.take(turn, small=False)

    def _say_kept(self, title: str, left: object) -> None:
        folder = left[0] if isinstance(left, list) and left else None
        deeds = {"Take it up again": lambda: self.take_up(folder)} if folder else {}
        self._session.offer(KEPT.format(title), deeds)

    def _go_on(self, recovered: Recovered, folder: Path) -> None:
        self._start(recovered.history, recovered.saved, recovered.digest or "", "taken up", carries=True)
        # only once it stands in a journal of its own
        self._later(lambda: None if self._ledger.behind else throw_away(folder), lambda error: None)
        if recovered.lost:
            self._session.notice(
                f"The last {d.count(recovered.lost, 'change')} could not be made again: "
                "the record is damaged from there on."
            )
        elif recovered.saved is not None and not recovered.saved.exists():
            name = printable(recovered.saved.name)
            self._session.notice(f"“{name}” is no longer where it was: saving puts it there again.")

    def _start(
        self, history: History, path: Path | None, digest: str | None, how: How, *, carries: bool = False
    ) -> None:
        unsaved, hold = self.unsaved, self._hold
        if path is None or path != self.path:
            hold = Hold(path) if path else None
        if hold is not None and not hold.ours:
            self._session.notice(
                f"“{printable(hold.path.name)}” is open in another window too: this is a copy, save it under "
                "another name."
            )
            hold.release()
            path, hold, digest, how = None, None, None, "fresh"
        if hold is not self._hold:
            self._release()
        self.path, self._hold, self._digest, self.state = path, hold, digest, SaveState(how)
        study = history.study
        self.saved_study = None if carries else study

        def begin() -> None:
            if not unsaved:
                self._ledger.drop()
            self._ledger.begin(study, path, digest, carries=carries)
            if path is not None:
                remember_recent(path)

        self._later(begin, self._written_down)
        self._session.take_over(history)

    def _write_down(self, edit: Edit) -> None:
        study = self._session.history.study
        self._noted += 1
        number = self._noted
        self._later(lambda: self._ledger.note(edit, study, last=number == self._noted), self._written_down)
        self.state_changed.emit()

    def _written_down(self, error: object) -> None:
        """Say once what keeps work in hand from being written down, and when it is again."""
        said = unwritten(error) if isinstance(error, Exception) else ""
        if said and said != self._trouble:
            self._session.notice(
                f"Work in hand cannot be written down ({said}): save it now; every change tries again."
            )
        elif self._ledger.behind:
            return
        elif self._trouble and not said:
            self._session.tell("Work in hand is written down again.")
        self._trouble = said

    def _end_save(self, end: object, path: Path, hold: Hold | None) -> None:
        session, name = self._session, printable(path.name)
        self._saving = None
        if not isinstance(end, Saved) or end.error is not None or end.changed:
            self.state = SaveState("failed")
            if hold is not None and hold is not self._hold:
                hold.release()
            if isinstance(end, Saved) and end.changed:
                session.offer(
                    f"“{name}” was changed by something else since it was opened here: it was left as it is.",
                    {"Save over it": lambda: self.save(path, anyway=True)},
                )
            else:
                error = end.error if isinstance(end, Saved) else end
                said = unwritten(error)
                session.notice(f"“{name}” could not be saved ({said}): nothing was changed on disk.")
        else:
            if hold is not self._hold:
                self._release()
            if path != self.path:
                session.tell(f"Saved: {printable(str(path))}.")
            self.path, self._hold, self._digest = path, hold, end.digest
            self.saved_study = end.study
            self.state = SaveState("saved", datetime.now())
            self._trouble = ""
            if end.was_gone:
                session.tell(f"“{name}” was no longer where it was: it is there again.")
            elif end.names:
                session.tell(
                    f"“{name}” had {d.count(end.names, 'further name')} on disk (hard links): "
                    "what stands under them is as it was before."
                )
        self.state_changed.emit()

    def _later(self, work: Callable[[], object], answer: Callable[[object], None]) -> None:
        """Do this in the worker; its value, or its error, goes to answer in the interface thread."""
        self._written = True
        self._writer.submit(work, answer)

    def _release(self) -> None:
        if self._hold is not None:
            self._hold.release()
            self._hold = None


def _save(study: Study, path: Path, known: str | None, ledger: Ledger) -> Saved:
    """Save in the worker. known : the digest that the file should have, None where it may be anything."""
    there = path.exists()
    if known is not None and there and digest_of(path) != known:
        return Saved(study=study, path=path, changed=True)
    names = other_names(path)
    try:
        save_study(study, path)
    except Exception as error:
        return Saved(study=study, path=path, error=error)
    digest = digest_of(path)
    with suppress(OSError):
        ledger.saved(study, path, digest)
    remember_recent(path)
    return Saved(study=study, path=path, digest=digest, was_gone=known is not None and not there, names=names)
