"""The journal of whatever study is open: begun at its first change, thrown away once a file holds it all."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from bright_tether.study.edits import Edit
from bright_tether.study.journal import Journal
from bright_tether.study.study import Study


class Ledger:
    """Every call is made from one thread, in the order of the work. All may raise OSError, ValueError.

    What could not be written is owed: the next change tries again, or begins the journal anew.
    """

    def __init__(self, study: Study) -> None:
        self._journal: Journal | None = None
        self._base = study
        self._file: Path | None = None
        self._digest: str | None = None
        self._owed = False

    @property
    def behind(self) -> bool:
        """Whether work stands in memory only."""
        return self._owed or (self._journal is not None and self._journal.behind)

    def begin(self, study: Study, file: Path | None, digest: str | None, *, carries: bool = False) -> None:
        """Another study is open. file : its own, which held it with this digest. The journal at hand is left.

        carries : it is work that no file has, so it is written down at once.
        """
        try:
            self.leave()
        finally:
            self._base, self._file, self._digest, self._owed = study, file, digest, carries
            if carries:
                self._journal = Journal(study, file, digest=digest, carries=True)
                self._owed = False

    def note(self, edit: Edit, study: Study, *, last: bool = True) -> None:
        """Write a change down. study : as it is after it. last : whether no other one is waiting."""
        owed, self._owed = self._owed, True
        if self._journal is None:
            if owed:  # earlier changes could not be written: what they led to is the base
                self._journal = Journal(study, self._file, digest=self._digest, carries=True)
                self._owed = False
                return
            self._journal = Journal(self._base, self._file, digest=self._digest)
        self._journal.add(edit, study, last=last)
        self._owed = False

    def sync(self) -> None:
        """Bring everything onto the disk."""
        if self._journal is not None:
            self._journal.sync()

    def saved(self, study: Study, file: Path, digest: str | None) -> None:
        """A file holds this study: what was written down until now is no longer needed."""
        self._base, self._file, self._digest = study, file, digest
        self.drop()

    def leave(self) -> None:
        """Leave the journal for a later start to find."""
        self._let_go(Journal.let_go)

    def drop(self) -> None:
        """Throw the journal away."""
        self._owed = False
        self._let_go(Journal.close)

    def _let_go(self, end: Callable[[Journal], None]) -> None:
        journal, self._journal = self._journal, None
        if journal is not None:
            end(journal)
