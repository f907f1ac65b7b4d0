"""The files that tables were read from: whether they have changed since, said once each time they do."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QObject

from bright_tether.desktop.session import Session
from bright_tether.tables.made import sources_of
from bright_tether.tables.table import Table
from bright_tether.tables.writing import digest_of, printable, text_path
from bright_tether.words import digits as d

#: Size and time of a file, by which most looks end.
_Stamp = tuple[int, int]


class Sources(QObject):
    """Looks when a study is opened and when the window comes back to the front."""

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._session = session
        #: Of each path the stamp and the digest it was last seen with.
        self._seen: dict[str, tuple[_Stamp, str]] = {}
        self._said: set[tuple[str, str]] = set()
        self._unchanged: set[str] = set()

    def look(self) -> None:
        """Look at every source that has another stamp than when it was last looked at."""
        for table in self._session.history.study.tables:
            if table.source is not None and table.source.digest:
                self._look_at(table)

    def has_file(self) -> bool:
        """Whether the table at hand, or one that it is made of, was read from a file."""
        return bool(self._of_table())

    def read_again(self) -> None:
        """Read the file of the table at hand again; of a made table, say which of its files have changed."""
        session = self._session
        if session.table.source is not None:
            session.reread()
            return
        tables = self._of_table()
        self._said -= {
            said for said in self._said if said[0] in {one.source.path for one in tables if one.source}
        }
        self._unchanged = {one.id for one in tables}
        for table in tables:
            self._look_at(table)
        if len(self._unchanged) == len(tables) and not session.busy:
            files = d.count(len(tables), "file")
            session.tell(f"{files} looked at: nothing has changed since it was read here.")

    def _of_table(self) -> list[Table]:
        table, study = self._session.table, self._session.history.study
        wanted = {table.id, *sources_of(table.recipe)}
        return [one for one in study.tables if one.id in wanted and one.source is not None]

    def _look_at(self, table: Table) -> None:
        source = table.source
        assert source is not None
        path = text_path(source.path)
        try:
            found = path.stat()
        except OSError:  # gone, or out of reach for now: said when it is read again
            return
        stamp = (found.st_size, found.st_mtime_ns)
        seen = self._seen.get(source.path)
        if seen is not None and seen[0] == stamp:
            self._tell(table, seen[1])
            return

        def take(digest: str | Exception | None) -> None:
            if isinstance(digest, str):
                self._seen[source.path] = (stamp, digest)
                self._tell(table, digest)

        self._session.off(lambda: digest_of(path), take, small=found.st_size < 2_000_000)

    def _tell(self, table: Table, digest: str) -> None:
        session, source = self._session, table.source
        held = {one.id: one for one in session.history.study.tables}.get(table.id)
        if source is None or held is None or held.source is None or digest == held.source.digest:
            return
        known = held.source.digest != ""  # a study saved by an earlier version says nothing of it
        if (source.path, digest) in self._said:
            return
        self._said.add((source.path, digest))
        self._unchanged.discard(table.id)
        name = printable(text_path(source.path).name)
        session.offer(
            f"“{name}” has changed since it was read here."
            if known
            else f"Whether “{name}” has changed since it was read here is not known.",
            {"See what changed": partial(session.reread, table.id)},
        )
