"""What a step says of itself; everybody who shows, pins, lists or writes a step reads it here."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import msgspec

from bright_tether.live.findings import Findings, Need
from bright_tether.study.declared import Given, Task
from bright_tether.study.pins import Grid, Part
from bright_tether.words.reading import Reading, Working

#: Needed by the head, the shelf and the drawer, whatever step is on the stage.
EVERYWHERE: tuple[Given[Any], ...] = (
    Findings.points, Findings.drawable, Findings.x_summary, Findings.y_summary, Findings.line, Findings.errors,
    Findings.rows, Findings.pearson, Findings.decision,
)  # fmt: skip
#: What the claims that steps share are made from: decision, story, clumps, doubts in force.
CLAIMED: tuple[Need, ...] = (
    Findings.coefficients, Findings.case_story, Findings.by_case, Findings.within_groups, Findings.clumps,
    Findings.within_clumps, Findings.gaps, Findings.doubts, Findings.resting, Findings.signs_without,
    Findings.signs_in_groups, Findings.recurring, Findings.without_carried, lambda findings: findings.left_free,
)  # fmt: skip


def no_grids(findings: Findings) -> tuple[Grid, ...]:
    """No table of its own."""
    return ()


def always(findings: Findings) -> bool:
    """A view that is there for every table."""
    return True


def as_it_is(findings: Findings, reading: Reading) -> Reading:
    """The same reading on a page as on the screen."""
    return reading


class View(msgspec.Struct, frozen=True, kw_only=True):
    """One view of a step. id : kept in files, never changed. title : as it is read.

    grids : its tables, Refusal where there is no line. needs : results that it draws beside those of its step.
    run : its long run, where it has one. offered : for which tables there is the view.
    """

    id: str
    title: str
    grids: Callable[[Findings], tuple[Grid, ...]] = no_grids
    needs: tuple[Need, ...] = ()
    run: Callable[[Findings], Task[Any]] | None = None
    offered: Callable[[Findings], bool] = always


class Step(msgspec.Struct, frozen=True, kw_only=True):
    """One step. id : kept in files, never changed; the modules of its stage and its pictures are called by it.

    gist : what it is for, in a sentence. views : the first is shown at first. reading : of a view, with what there
    is of its long run.
    workings : what stands behind the figures, None where nothing does. drawn : results that the pictures of all views
    show. needs : results that their sentences and figures rest on besides.
    parts : what can be pinned once there is a line. results : whether it shows what a later change would be
    held against. claims : whether it says what all steps share. lined : whether its picture needs a line.
    written : its reading as it stands on a page. proposed : parts that a write-up starts with where nothing is pinned.
    """

    id: str
    title: str
    gist: str
    views: tuple[View, ...] = (View(id="", title=""),)
    reading: Callable[[Findings, str, Any], Reading]
    workings: Callable[[Findings, str], tuple[Working, ...]] | None = None
    drawn: tuple[Need, ...] = ()
    needs: tuple[Need, ...] = ()
    parts: frozenset[Part] = frozenset({"reading", "figures", "table", "picture", "working"})
    results: bool = True
    claims: bool = True
    lined: bool = True
    written: Callable[[Findings, Reading], Reading] = as_it_is
    proposed: tuple[Part, ...] = ()

    def view(self, view_id: str) -> View:
        """The view with this id, else the first."""
        return next((view for view in self.views if view.id == view_id), self.views[0])

    def views_of(self, findings: Findings) -> tuple[View, ...]:
        """The views there are for a table."""
        return tuple(view for view in self.views if view.offered(findings))

    def title_of(self, view_id: str) -> str:
        """What a view is called; the first goes without."""
        view = self.view(view_id)
        return "" if view is self.views[0] else view.title

    def drawn_needs(self, view_id: str) -> tuple[Need, ...]:
        """What has to be there before the picture or the table of a view is shown."""
        return (*EVERYWHERE, *self.drawn, *self.view(view_id).needs)

    @property
    def said_needs(self) -> tuple[Need, ...]:
        """What has to be there besides before it is read what a view says."""
        return (*(CLAIMED if self.claims else ()), *self.needs)

    def all_needs(self, view_id: str) -> tuple[Need, ...]:
        """What has to be there before a view is shown and read."""
        return (*self.drawn_needs(view_id), *self.said_needs)

    def reading_of(self, findings: Findings, view_id: str) -> Reading:
        """The reading with the whole of its long run, made now where nobody made it before. Raises Refusal."""
        view = self.view(view_id)
        run = view.run if view.offered(findings) else None
        lined = findings.refusal is None and not findings.plain.exact
        return self.reading(findings, view_id, run(findings).outcome if run is not None and lined else None)
