"""The changes made, in order, and the way back along them."""

from __future__ import annotations

import msgspec
from msgspec.structs import replace

from bright_tether.study.edits import ChangePin, Edit
from bright_tether.study.study import Study


class History(msgspec.Struct, frozen=True):
    """The study as it is, the edits that led here, and those taken back (nearest first)."""

    study: Study
    done: tuple[Edit, ...] = ()
    undone: tuple[Edit, ...] = ()

    def after(self, edit: Edit) -> History:
        """The history with one more edit; what was taken back is gone."""
        return History(edit.apply(self.study), (*self.done, edit), ())

    def typed_on(self, edit: ChangePin) -> History:
        """The history with one more stroke of a pin's words: what is typed in one go is one change."""
        last = self.done[-1] if self.done else None
        if not (isinstance(last, ChangePin) and last.label == edit.label and last.after is edit.before):
            return self.after(edit)
        whole = ChangePin(label=edit.label, before=last.before, after=edit.after)
        return History(edit.apply(self.study), (*self.done[:-1], whole), ())

    def back(self) -> History:
        """The history with the last edit taken back; itself where there is none."""
        if not self.done:
            return self
        edit = self.done[-1]
        study = edit.inverse().apply(self.study)
        return replace(self, study=study, done=self.done[:-1], undone=(edit, *self.undone))

    def forward(self) -> History:
        """The history with the edit last taken back made again; itself where there is none."""
        if not self.undone:
            return self
        edit, *rest = self.undone
        return History(edit.apply(self.study), (*self.done, edit), tuple(rest))
