"""The changes made, in order, and the way back along them."""

from __future__ import annotations

from dataclasses import dataclass, replace

from bright_tether.study.edits import Edit
from bright_tether.study.study import Study


@dataclass(frozen=True, slots=True)
class History:
    """The study as it is, the edits that led here, and those taken back (nearest first)."""

    study: Study
    done: tuple[Edit, ...] = ()
    undone: tuple[Edit, ...] = ()

    def after(self, edit: Edit) -> History:
        """The history with one more edit; what was taken back is gone."""
        return History(edit.apply(self.study), (*self.done, edit), ())

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
