"""The bridge between the study and the window: holds study, history and mark, and says what changed."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from pathlib import Path
from typing import Any

import msgspec
from PyQt6 import sip
from PyQt6.QtCore import QObject, pyqtSignal

from bright_tether.core.results import Ints
from bright_tether.desktop.background import Pool, Progress, Work
from bright_tether.desktop.changing import Changing
from bright_tether.desktop.places import place_of
from bright_tether.far.share import read_again, share_of
from bright_tether.far.through import WHERE_IT_IS
from bright_tether.live.findings import Findings, Need
from bright_tether.pictures.counting import counting, stop_counting
from bright_tether.steps.catalogue import step_of
from bright_tether.steps.step import EVERYWHERE
from bright_tether.study import changes, table_changes
from bright_tether.study.edits import Edit
from bright_tether.study.history import History
from bright_tether.study.study import Study, empty_study
from bright_tether.study.tether import Tether
from bright_tether.tables.cells import NumberStyle
from bright_tether.tables.delimited import UnreadableFile
from bright_tether.tables.read_plan import ReadPlan, read_file
from bright_tether.tables.roles import first_pair
from bright_tether.tables.row_ids import NO_ROWS, RowIds
from bright_tether.tables.table import Table
from bright_tether.tables.writing import printable, text_path
from bright_tether.words.causes import unreadable

#: What the stage's picture rests on, and what its words rest on besides.
Needs = tuple[tuple[Need, ...], tuple[Need, ...]]
#: Tables up to this size are worked out in place: faster than a thread's round trip.
IN_PLACE_ROWS = 5_000
#: Files up to this size are read in place.
IN_PLACE_BYTES = 60_000


class Session(Changing):
    """One open study. Views read it and send it edits; it tells them what changed."""

    study_changed = pyqtSignal()
    findings_changed = pyqtSignal()
    #: What the picture on the stage rests on is there; the rest comes with ``findings_changed``.
    picture_ready = pyqtSignal()
    mark_changed = pyqtSignal()
    step_changed = pyqtSignal(str)
    #: A sentence with what can be done about it: words and what they do.
    asked = pyqtSignal(str, object)
    #: A table's id, and its source file as it is now; the id of a table whose file has to be pointed to.
    reread_found = pyqtSignal(str, object)
    moved = pyqtSignal(str)

    def __init__(self, study: Study | None = None, step: str = "gather") -> None:
        super().__init__(History(study or empty_study()))
        self.step, self.walked = step, {step}
        self.mark = NO_ROWS
        #: The rows that there were when the mark was last held against them.
        self._rows_known: Ints | None = None
        self.tether_id = self.history.study.tethers[0].id
        #: What the stage shows, and so needs: whoever puts a step there says it.
        self.needs: Callable[[], Needs] = lambda: (EVERYWHERE, ())
        #: What can be done first in an empty study: words and what they do.
        self.ways_in: Callable[[], dict[str, Callable[[], object]]] = dict
        #: Reads and writes what may be long, in order.
        self.files = Pool(self)
        self.work = Work(self)
        self.work.progressed.connect(self._draw)
        self.work.done.connect(lambda findings, _: self._take(findings))
        #: What a panel asks while it is open: the newest question alone.
        self.trials = Work(self)
        self.trials.done.connect(self._tried)
        for work in (self.work, self.trials):
            work.failed.connect(lambda error: self.noticed.emit(f"This could not be worked out: {error}."))
        #: Who goes through the whole of a table of which the study has a share.
        self.through = WHERE_IT_IS
        self.findings = self._found()
        self._refresh()

    @property
    def tether(self) -> Tether:
        """The tether on the stage."""
        return self.study.tether(self.tether_id)

    @property
    def table(self) -> Table:
        """The table of the tether on the stage."""
        return self.study.table(self.tether.table)

    @property
    def number_style(self) -> NumberStyle:
        """How numbers are typed beside this table: with a comma as decimal mark only where its file had one."""
        source = self.table.source
        return NumberStyle("," if source is not None and source.choices.get("decimal") == "," else ".")

    @property
    def in_place(self) -> bool:
        """Whether the table on the stage is small: worked out sooner than a thread begins."""
        return self.table.rows <= IN_PLACE_ROWS

    def _show_where(self, edit: Edit) -> None:
        """Go where a change shows, if it does not here."""
        place = place_of(edit, self.study, self.tether_id)
        if place.tether and any(one.id == place.tether for one in self.study.tethers):
            self.show_tether(place.tether)
        if place.step and place.step != self.step:
            self.show_step(place.step)

    def take_over(self, history: History, step: str = "gather") -> None:
        """Show another study, with its changes so far."""
        self.turns.drop()
        self._let_go()
        self.history, self.mark = history, NO_ROWS
        self.tether_id = history.study.tethers[0].id
        self.walked = {step}
        # What comes from a file may have been seen before it was saved.
        self.seen = (
            set() if table_changes.is_untouched(history.study) else {one.id for one in history.study.tethers}
        )
        self._after_change()
        self.mark_changed.emit()
        self.show_step(step)

    def show_tether(self, tether_id: str) -> None:
        """Put another tether on the stage."""
        if tether_id == self.tether_id:
            return
        if self.study.tether(tether_id).table != self.tether.table:
            self.mark = NO_ROWS
            self.mark_changed.emit()
        self.tether_id = tether_id
        self.study_changed.emit()
        self._refresh()

    def show_step(self, step: str) -> None:
        """Walk to a step."""
        self.step = step
        self.walked.add(step)
        self._note_seen()
        self.step_changed.emit(step)

    def mark_rows(self, rows: Iterable[int]) -> None:
        """Make these rows the mark of the whole window."""
        if (mark := RowIds(rows)) != self.mark:
            self.mark = mark
            self.mark_changed.emit()

    def open_file(
        self, path: Path, plan: ReadPlan | None = None, then: Callable[[bool], object] = lambda read: None
    ) -> None:
        """Bring a file in as a table with a tether; where it cannot be read, say so and change nothing.

        then : told at the end whether it is in.
        """
        self.bring_in_made(lambda: read_file(path, "t0", plan), then, small=is_small(path))

    def bring_in_made(
        self, make: Callable[[], Table], then: Callable[[bool], object] = lambda there: None, *, small: bool
    ) -> None:
        """Bring in a table that is read or drawn off the interface thread."""

        def make_and_tie() -> tuple[Table, table_changes.XY]:
            table = make()
            _ = [
                one.missing for one in table.columns
            ]  # heads ask for it, and axes for dates as they are read
            return table, first_pair(table.columns)

        def take(found: tuple[Table, table_changes.XY] | Exception) -> None:
            if isinstance(found, Exception):
                self.notice(unreadable_file(found))
                then(False)
                return
            table, tied = found
            # something else may have been brought in while it was made
            self.bring_in(msgspec.structs.replace(table, id=self.history.study.fresh_id("t")), tied)
            then(True)

        self.off(make_and_tie, take, small=small)

    def bring_in(self, table: Table, tied: table_changes.XY | None = None) -> None:
        """Put a table in with a tether, in place of the blank study's where that is untouched.

        tied : the columns to tie, where they were chosen already.
        """
        self.do_and_show(*table_changes.bring_in(self.history.study, table, tied))

    def off(self, work: Callable[[], Any], take: Callable[[Any], object], *, small: bool = False) -> None:
        """Read or write off the interface thread, in order; its value or its error goes to take.

        small : done at once where nothing is waited for.
        """

        def answer(value: Any) -> None:
            take(value)
            self.busy_changed.emit()

        self.files.do(work, answer, small=small)
        self.busy_changed.emit()

    def try_out(
        self,
        make: Callable[[], Any],
        take: Callable[[Any], object],
        panel: QObject,
        *,
        small: bool | None = None,
    ) -> None:
        """Work out what a panel shows, beside the interface for long tables; only the newest answer is taken.

        panel : who asks; where it has gone, nobody is told. small : at once; where it is not said, as the table is.
        """
        if self.in_place if small is None else small:
            self.trials.drop()
            take(make())
        else:
            self.trials.start(lambda progress: make(), (panel, take))

    @staticmethod
    def _tried(value: Any, asked: tuple[QObject, Callable[[Any], object]]) -> None:
        panel, take = asked
        if not sip.isdeleted(panel):
            take(value)

    @property
    def busy(self) -> bool:
        """Whether something is being worked out, counted, read or written."""
        waiting = not (self.files.idle and self.turns.idle and self._hand.idle)
        return self.work.busy or self.trials.busy or waiting or counting()

    def reread(self, table_id: str = "", path: Path | None = None) -> None:
        """Read a table's source file again; what that comes to is shown before anything is changed.

        table_id : of another table than that on the stage. path : where the file is now, where it was moved.
        """
        table = self.history.study.table(table_id or self.table.id)
        if table.source is None:
            return
        place, memory = path or text_path(table.source.path), self.history.study.memory
        if path is None and not place.exists():
            self.offer(
                f"There is no file “{printable(place.name)}” in {printable(str(place.parent))} any more.",
                {"Point to it…": lambda: self.moved.emit(table.id)},
            )
            return

        def take(fresh: Table | Exception) -> None:
            if isinstance(fresh, Exception):
                self.notice(unreadable_file(fresh))
            elif self.history.study.memory is not memory:
                return  # another study is open by now
            elif not any(one.id == table.id for one in self.history.study.tables):
                self.noticed.emit(f"“{table.name}” is gone by now: nothing was changed.")
            else:
                self.reread_found.emit(table.id, fresh)

        self.off(lambda: read_again(table, place), take, small=share_of(table) is None and is_small(place))

    def add_tether(self) -> None:
        """Tie a new tether on the table at hand."""
        self.do_and_show(*changes.add_tether(self.history.study, self.tether.table))

    def do_and_show(self, edit: Edit, tether_id: str) -> None:
        """Make a change that brings a tether, and put that on the stage."""
        other = all(
            one.id != tether_id or one.table != self.table.id for one in edit.apply(self.study).tethers
        )
        self.tether_id = tether_id
        if other:
            self.mark = NO_ROWS
        self.do(edit)
        if other:
            self.mark_changed.emit()

    def close(self) -> None:
        """Leave no thread behind."""
        stop_counting()
        self.files.close()  # first: what it brings may begin work
        self.turns.close()
        self._let_go()
        self._hand.close()
        self.trials.close()
        self.work.close()

    def do_made_and_show(
        self, make: Callable[[Study], tuple[Edit, str]], *, small: bool | None = None
    ) -> None:
        """The same as ``do_made`` makes a change. make : it, and the tether's id."""
        tethers: list[str] = []

        def change(study: Study) -> Edit:
            edit, tether = make(study)
            tethers[:] = [tether]
            return edit

        self.do_made(change, lambda edit: self.show_tether(tethers[0]), small=small)

    def _after_change(self) -> None:
        known = [tether.id for tether in self.study.tethers]
        if self.tether_id not in known:
            self.tether_id = known[-1]
        if self.mark and self.table.row_ids is not self._rows_known:  # less rows that are gone
            self.mark = RowIds(self.table.row_ids[self.table.places(self.mark)])
        self._rows_known = self.table.row_ids
        self.history.study.memory.forget_others({*known, *(table.id for table in self.study.tables)})
        self.study_changed.emit()
        self._refresh()

    def offer(self, words: str, deeds: Mapping[str, Callable[[], object]]) -> None:
        """Say something with what can be done about it."""
        self.asked.emit(words, deeds)

    def settle(self) -> None:
        """Have what is typed put into the study now."""
        self.settling.emit()

    def ask(self) -> None:
        """Have what the stage needs of the present findings made; ``findings_changed`` says when it is there."""
        there = self.findings.study is self.study and self.findings.through == self.through
        self._prepare(self.findings if there else self._found())

    def _refresh(self) -> None:
        self._prepare(self._found())

    def _found(self) -> Findings:
        """What is known of the tether on the stage, nothing of it made yet."""
        return Findings(self.study, self.tether, through=self.through)

    def _prepare(self, findings: Findings) -> None:
        if self.in_place:
            self.work.drop()
            self._take(findings)
            return
        drawn, said = self.needs()

        def prepare(progress: Progress) -> Findings:
            findings.prepare(drawn, cancelled=lambda: not progress(None))
            progress(findings)
            findings.prepare(said, cancelled=lambda: not progress(None))
            return findings

        self.work.start(prepare)

    def _draw(self, findings: Findings) -> None:
        self.findings = findings
        self.picture_ready.emit()

    def _take(self, findings: Findings) -> None:
        self.findings = findings
        self._note_seen()
        self.findings_changed.emit()

    def _note_seen(self) -> None:
        if step_of(self.step).results and self.findings.refusal is None:
            self.seen.add(self.findings.tether.id)


def is_small(path: Path) -> bool:
    """Whether a file, or all files of a folder, are read sooner than a thread begins; none is, too."""
    try:
        files = path.iterdir() if path.is_dir() else (path,)
        return sum(one.stat().st_size for one in files) <= IN_PLACE_BYTES
    except OSError:
        return True


def unreadable_file(error: Exception) -> str:
    if isinstance(error, UnreadableFile):
        return unreadable(error)
    return f"This file could not be read ({type(error).__name__}): the study is as it was."
