"""The study in hand: every change made to it, taken back, or held under the hand."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from PyQt6.QtCore import QObject, pyqtSignal

from bright_tether.desktop.background import Pool
from bright_tether.desktop.turns import Done, Turn, Turns
from bright_tether.study.axes import entries_gone
from bright_tether.study.edits import ChangePin, Edit, with_trail
from bright_tether.study.history import History
from bright_tether.study.study import Study
from bright_tether.words.causes import said_of


class Changing(QObject):
    """A study and its changes; what is to follow a change, the session says."""

    noticed = pyqtSignal(str)
    told = pyqtSignal(str)
    changed = pyqtSignal(object)
    #: Something long has begun or ended.
    busy_changed = pyqtSignal()
    #: What is typed but not yet in the study is to be put there now.
    settling = pyqtSignal()
    #: A change was taken back, or made again: in words.
    turned_back = pyqtSignal(str)

    def __init__(self, history: History) -> None:
        super().__init__()
        self.history, self.seen = history, set[str]()
        self._preview: Study | None = None
        #: What the hand asks to see, of a long table made beside the interface: one after the other, always the newest.
        self._asked: tuple[Edit, bool] | None = None
        self._hand = Pool(self)
        #: Whether the change under the hand follows it: the next one comes at once.
        self.moving = False
        #: Changes that take a while, and the way back along them.
        self.turns = Turns(self, lambda: self.history, self.busy_changed.emit)

    @property
    def study(self) -> Study:
        """The study as shown: with the change under the hand, if there is one."""
        return self._preview or self.history.study

    @property
    def previewing(self) -> bool:
        """Whether a change is under the hand."""
        return self._preview is not None

    def do(self, edit: Edit | None, *, typing: bool = False) -> None:
        """Make a change; None changes nothing. typing : one more stroke of the words of a pin."""
        had_preview = self._let_go()
        if edit is not None:
            edit = with_trail(self.history.study, edit, self.seen, _now())
            if typing and isinstance(edit, ChangePin):
                self.history = self.history.typed_on(edit)
            else:
                self.history = self.history.after(edit)
            self.changed.emit(edit)
        if edit is not None or had_preview:
            self._after_change()

    def do_made(
        self,
        make: Callable[[Study], Edit | None],
        then: Callable[[Edit | None], object] = lambda edit: None,
        *,
        small: bool | None = None,
    ) -> None:
        """Make a change that takes as long as the table is long: beside the interface, where it is.

        make : the change, of the study as it is; asked again where something else was changed meanwhile.
        then : told the change, None for none. small : at once; where it is not said, as the table on the stage is.
        """
        seen, when = frozenset(self.seen), _now()
        self._asked = None  # what is shown of it stays until it stands

        def work(before: History) -> Done:
            edit = make(before.study)
            if edit is None:
                return None, before
            edit = with_trail(before.study, edit, seen, when)
            return edit, before.after(edit)

        def take(done: Done) -> None:
            self._stand(done)
            then(done[0])

        self.turns.take(Turn(work, take, self._fail), small=self.in_place if small is None else small)

    def _fail(self, error: Exception) -> None:
        if self._let_go():
            self._after_change()
        gone = isinstance(error, StopIteration)  # no table, column or row of this id
        self.notice(
            "What this was to change is gone by now: nothing was done."
            if gone
            else f"This could not be done: {said_of(error)}"
        )

    def _stand(self, done: Done) -> None:
        """Have a change stand that was made."""
        edit, self.history = done
        had_preview = self._let_go()
        if edit is not None:
            self.changed.emit(edit)
        if edit is not None or had_preview:
            self._after_change()

    def _let_go(self) -> bool:
        """Forget what is under the hand; whether there was something."""
        had_preview = self.previewing
        self._preview, self._asked, self.moving = None, None, False
        return had_preview

    def tie(self, edit: Edit | None) -> None:
        """Tie other columns; what went because it was typed in another unit is said."""
        self.do(edit)
        gone = entries_gone(edit)
        if gone:
            self.tell(f"Typed in another unit, so gone with it: {', '.join(gone)}. Undo brings it back.")

    def preview(self, edit: Edit | None, *, moving: bool = False) -> None:
        """Show a change that is not made yet; None shows the study as it is. moving : whether it follows the hand."""
        self._asked = (edit, moving) if edit else None
        if edit is None or self.in_place:
            self._show_asked(edit.apply(self.history.study) if edit else None)
        elif self._hand.idle:
            self._make_asked()

    def _show_asked(self, study: Study | None) -> None:
        self._preview, self.moving = study, bool(self._asked and self._asked[1])
        self._after_change()

    def _make_asked(self) -> None:
        asked, before = self._asked, self.history.study
        if asked is None:
            return

        def take(study: Study | Exception) -> None:
            there = self.history.study is before
            if isinstance(study, Exception):
                self._fail(study)
            elif self._asked is not None and there:
                self._show_asked(study)
            if self._asked is not asked or not there:  # the hand went on
                self._make_asked()
            self.busy_changed.emit()

        self._hand.submit(lambda: asked[0].apply(before), take)

    def undo(self) -> None:
        """Take the last change back."""
        self.settling.emit()

        def back(history: History) -> Done:
            return (history.done[-1].inverse(), history.back()) if history.done else (None, history)

        self._turn(back, "taken back")

    def redo(self) -> None:
        """Make the change last taken back again."""
        self.settling.emit()

        def forward(history: History) -> Done:
            return (history.undone[0], history.forward()) if history.undone else (None, history)

        self._turn(forward, "made again")

    def _turn(self, make: Callable[[History], Done], words: str) -> None:
        def take(done: Done) -> None:
            edit = done[0]
            if edit is not None:
                self._stand(done)
                self._show_where(edit)
                self.turned_back.emit(f"{words}: {edit.label}")

        def outrun() -> None:
            self.notice(f"Nothing was {words}: something else was changed meanwhile.")

        self.turns.take(Turn(make, take, self._fail, outrun), small=self.in_place)

    def go_back_to(self, length: int) -> None:
        """Undo or redo until this many changes stand."""
        self.settling.emit()  # what is typed is a change more
        done = len(self.history.done)
        for _ in range(done - length):
            self.undo()
        for _ in range(min(length - done, len(self.history.undone))):
            self.redo()

    def notice(self, words: str) -> None:
        """Say what cannot be, or what to look out for."""
        self.noticed.emit(words)

    def tell(self, words: str) -> None:
        """Say what was done."""
        self.told.emit(words)

    @property
    def in_place(self) -> bool:
        """Whether the table on the stage is small: worked out sooner than a thread begins."""
        raise NotImplementedError

    def _after_change(self) -> None:
        raise NotImplementedError

    def _show_where(self, edit: Edit) -> None:
        raise NotImplementedError


def _now() -> str:
    return datetime.now().isoformat("T", "minutes")
