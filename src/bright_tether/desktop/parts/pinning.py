"""Keeping a piece of a step for the write-up."""

from __future__ import annotations

from bright_tether.desktop.session import Session
from bright_tether.steps.catalogue import step_of
from bright_tether.study.pin_changes import put_pin
from bright_tether.study.pins import Part


def pinnable(session: Session) -> frozenset[Part]:
    """Which parts of the step on the stage can be pinned now."""
    findings, parts = session.findings, step_of(session.step).parts
    if not findings.tied:
        return frozenset()
    if findings.refusal is not None:
        return parts & {"reading"}
    return parts if findings.tether.lineups else parts - {"lineup"}


def pin_part(session: Session, view: str, part: Part) -> None:
    """Pin a part of the step on the stage, in the view that it shows."""
    if part not in pinnable(session):
        return
    title = step_of(session.step).title
    session.do(put_pin(session.history.study, part, f"Pin the {part} of {title}", tether=session.tether.id,
                       step=session.step, view=view))  # fmt: skip
    session.tell(f"The {part} of {title} is pinned: it stands last in the write-up (Alt+9).")
